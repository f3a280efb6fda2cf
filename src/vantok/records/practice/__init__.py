"""The practice bay's records."""
