"""Next Penny: a household's money, projected day by day."""

__version__ = "0.1.0"
