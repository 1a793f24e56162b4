"""The household's file while it is open: how it is opened, whether it is still itself, whether its rows are right."""
