"""What a debt is to the way out: a loan, a card or line, or one that has no terms yet."""
