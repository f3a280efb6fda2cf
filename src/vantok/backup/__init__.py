"""Backing the shop up and bringing it back."""
