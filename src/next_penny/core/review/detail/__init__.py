"""What is behind the sums of a review: the flows and entries of a row, and what was different from the plan."""
