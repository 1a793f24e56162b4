"""What a household has and plans, as records, one file a subject."""
