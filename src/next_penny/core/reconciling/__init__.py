"""Whether the books agree with the bank, and what would explain it where they do not."""
