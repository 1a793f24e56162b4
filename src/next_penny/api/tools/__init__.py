"""Calculators without a household, and the lists that forms choose from."""
