"""A temperature as people write it, always with its unit: 18 C, 64 °F, 291 K. A bare figure is asked about: 20 is warm in one unit, frost in the other."""

from __future__ import annotations

import re
from typing import Any

from django import forms
from django.core.exceptions import ValidationError

from vantok.fields.quantity import QuickText
from vantok_core.base.units import System, parse, show

LOWEST, HIGHEST = 220.0, 340.0
"""What a shop, a yard or a bag can be at, K."""
_TEXT = re.compile(r"(?P<figure>[-−]?\d+(?:[.,]\d+)?)\s*°?\s*(?P<unit>[CFKcfk])?")


class TemperatureField(forms.CharField):
    """Text to kelvin; empty is unknown (None)."""

    widget = QuickText

    def __init__(self, **kwargs: Any) -> None:
        kwargs.setdefault("required", False)
        super().__init__(max_length=20, **kwargs)
        self.widget.attrs |= {"class": "form-control tape", "autocomplete": "off", "placeholder": "18 C or 64 F"}

    def clean(self, value: Any) -> float | None:
        """Return kelvin, or None when empty."""
        text = super().clean(value)
        if not text:
            return None
        match = _TEXT.fullmatch(text.strip())
        if match is None:
            raise ValidationError(f"“{text}” does not read as a temperature: write it like 18 C or 64 F.")
        if match["unit"] is None:
            raise ValidationError(f"“{text}”: is that °C or °F? Write the unit with it.")
        kelvin = parse("temperature", f"{match['figure']} {match['unit']}", "metric").value
        if not LOWEST <= kelvin <= HIGHEST:
            raise ValidationError(f"“{text}” is no temperature of a shop or a yard; look at the unit.")
        return kelvin


def shown(kelvin: float, system: System) -> str:
    """Return a temperature (K) as the reader has it."""
    return show("temperature", kelvin, system)
