"""The way out of debt: which debt first, how long, what it saves, and what the household can spare for it."""
