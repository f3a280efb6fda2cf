"""Days as pages and forms write them, within a shop's life: a day at the calendar's own end has no day before or after it."""

from __future__ import annotations

from datetime import date

FIRST_YEAR, LAST_YEAR = 1990, 2150
"""The years that a shop's days lie in."""


def day_of(text: str) -> date | None:
    """Return a day of a text like 2027-03-31; None for none, and for what is no day of a shop."""
    try:
        found = date.fromisoformat(text.strip()[:10])
    except ValueError:
        return None
    return found if FIRST_YEAR <= found.year <= LAST_YEAR else None
