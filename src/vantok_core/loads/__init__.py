"""Loads, levers, hitches, trailers and limits (method section 2)."""
