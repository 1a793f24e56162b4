"""What a household keeps beside its plan, as data: goals, the way out of debt, what-ifs, statement checks."""
