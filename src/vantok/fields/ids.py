"""Ids as they come in from outside: anything that is none finds nothing, and breaks nothing."""

from __future__ import annotations

MOST_DIGITS = 18
"""An id is a 64-bit number."""


def identity(text: str | None) -> int:
    """Return the id a text names, 0 (which nothing has) for any other text."""
    return int(text) if text and text.isdecimal() and len(text) <= MOST_DIGITS else 0
