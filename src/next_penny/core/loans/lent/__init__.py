"""Money lent: a loan from the other side, with or without a schedule (docs/rules.md, Money lent)."""
