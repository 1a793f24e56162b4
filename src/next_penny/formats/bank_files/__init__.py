"""Files from a bank: OFX, camt.053 and CSV, read into what they say (docs/rules.md, Lines from a bank)."""
