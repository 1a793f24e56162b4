"""The plan document, one file a subject (docs/plan-format.md)."""
