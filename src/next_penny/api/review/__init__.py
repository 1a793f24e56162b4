"""What happened, by year."""
