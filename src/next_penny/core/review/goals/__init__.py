"""Goals: how far each has come, and in words."""
