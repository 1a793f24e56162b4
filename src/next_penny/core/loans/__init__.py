"""Loans: terms, schedules, the annual percentage rate, what is owed on a day, and what would change it."""
