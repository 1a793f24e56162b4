"""The household's file: SQLite through sqlite3, plain SQL, one module per subject."""
