"""What every part needs: who may ask, passwords, limits, errors, and one moment of the household for each request."""
