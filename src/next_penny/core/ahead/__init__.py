"""Questions that run the forecast again or read it otherwise: months, remedies, can we afford it, net worth."""
