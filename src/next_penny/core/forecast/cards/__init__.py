"""Cards and lines as they stand, their statements, and other ways of paying them."""
