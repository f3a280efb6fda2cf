"""Kits: what is on the shelf, whether it fits, what it would do, how it compares (method section 5)."""
