"""What is recorded: sums, postings, registers; one moment of a household with its cache."""
