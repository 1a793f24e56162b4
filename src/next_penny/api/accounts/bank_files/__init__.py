"""Files from a bank: looked at, taken in, and what of them waits for a decision."""
