"""Drawings and quantities on the page."""
