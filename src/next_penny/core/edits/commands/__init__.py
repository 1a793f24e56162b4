"""What a person means to change, as records, and what each of them makes of a household."""
