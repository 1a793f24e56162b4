"""The terms of the parts of an account, as records."""
