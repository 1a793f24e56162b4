"""What accounts do by themselves, over many paths of the forecast at once: each amount is a column of them."""
