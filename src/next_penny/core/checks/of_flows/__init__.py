"""What is wrong with flows: their dates, their amounts, and what they name."""
