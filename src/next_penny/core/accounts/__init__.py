"""Rules that read balances: cards and lines, savings, sweeps."""
