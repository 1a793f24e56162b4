"""The forecast: every account's balance, day by day, and what it means for the household."""
