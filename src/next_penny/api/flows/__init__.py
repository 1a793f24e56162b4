"""What repeats or is planned, allowances, categories, and flows seen in recorded money."""
