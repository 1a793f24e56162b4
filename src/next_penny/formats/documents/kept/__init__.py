"""Goals, the way out of debt, what-ifs and statement checks in the plan document."""
