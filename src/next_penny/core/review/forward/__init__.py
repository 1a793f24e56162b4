"""From what is behind to what is ahead: amounts that would have fitted, and the end of a year."""
