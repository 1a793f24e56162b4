"""What happened against what was expected."""
