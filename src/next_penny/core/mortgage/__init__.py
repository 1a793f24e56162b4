"""Loans against what their lenders say: statement checks, escrow, payments recorded whole, years."""
