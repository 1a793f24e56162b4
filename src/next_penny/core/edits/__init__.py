"""What a person means by an edit, what settles, and what forbids a change."""
