"""Target, choice, setting."""
