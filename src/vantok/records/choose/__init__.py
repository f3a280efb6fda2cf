"""Choosing and setting a kit."""
