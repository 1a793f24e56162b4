"""Lines from a bank: which of them are known, and what the rest is (docs/rules.md, Lines from a bank)."""
