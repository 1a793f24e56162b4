"""Accounts that act by themselves: cards and lines, savings interest, sweeps."""
