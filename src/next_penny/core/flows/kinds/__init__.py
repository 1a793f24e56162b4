"""The kinds of makers: each answers for the movements of one flow."""
