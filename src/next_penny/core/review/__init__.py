"""What happened, held against what should have: statements, mistakes in the books, years."""
