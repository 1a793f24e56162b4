"""How sure a forecast is: the same forecast along many paths, each with what varies drawn anew (docs/rules.md)."""
