"""Load states: scales, items, tongue, limits."""
