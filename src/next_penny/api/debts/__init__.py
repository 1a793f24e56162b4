"""Loans, cards, the way out of debt, and what lenders say."""
