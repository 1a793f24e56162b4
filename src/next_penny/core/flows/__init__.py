"""Flows: the occurrences that a plan expects, with their dates and amounts."""
