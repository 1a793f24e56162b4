"""Plain SQL, one module a subject."""
