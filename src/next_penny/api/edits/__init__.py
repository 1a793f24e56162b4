"""Changes, their undoing, and what-ifs."""
