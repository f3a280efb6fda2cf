"""Days as pages and forms write them, within a shop's life: a day at the calendar's own end has no day before or after it."""

from __future__ import annotations

from datetime import date
from typing import Any

from django import forms
from django.core.exceptions import ValidationError

FIRST_YEAR, LAST_YEAR = 1990, 2150
"""The years that a shop's days lie in."""


def day_of(text: str) -> date | None:
    """Return a day of a text like 2027-03-31; None for none, and for what is no day of a shop."""
    try:
        found = date.fromisoformat(text.strip()[:10])
    except ValueError:
        return None
    return found if FIRST_YEAR <= found.year <= LAST_YEAR else None


class DayField(forms.DateField):
    """A day of a form, as the browser's own calendar gives it."""

    def __init__(self, **kwargs: Any) -> None:
        super().__init__(widget=forms.DateInput(format="%Y-%m-%d", attrs={"type": "date"}), **kwargs)

    def prepare_value(self, value: Any) -> Any:
        """Show a stored day as the calendar takes it."""
        return value.isoformat() if isinstance(value, date) else value

    def to_python(self, value: Any) -> date | None:
        """Return the day, None for none."""
        if value in self.empty_values or isinstance(value, date):
            return value or None
        found = day_of(str(value))
        if found is None:
            raise ValidationError(f"“{str(value)[:40]}” is no day of a shop’s life: choose it in the calendar.")
        return found
