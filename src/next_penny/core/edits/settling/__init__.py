"""What is due, and settling it."""
