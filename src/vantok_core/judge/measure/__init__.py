"""The measuring sheet: checks of a cell and of the whole, doubts, conditions, the phone."""
