"""What is due, and working through it."""
