"""Accounts and registers; the household's file, in and out."""
