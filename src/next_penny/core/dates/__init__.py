"""Civil dates: what repeats, when banks are open, and how a rule reads as a sentence."""
