"""Form fields that read sums and plain numbers as people write them: `1 200.50`, `1200,5`, `€ 480`; empty is unknown, never nought."""

from __future__ import annotations

import re
from typing import Any

from django import forms
from django.core.exceptions import ValidationError

from vantok.fields.quantity import QuickText

PLAIN = re.compile(r"\d+(\.\d+)?")
SIGNS = re.compile(r"[^\d.,\-]+")


class NumberField(forms.CharField):
    """Text to a number from nought to a most, and back."""

    widget = QuickText
    rounded = True

    def __init__(self, *, most: float, **kwargs: Any) -> None:
        self.most = most
        kwargs.setdefault("required", False)
        super().__init__(max_length=24, **kwargs)
        self.widget.attrs |= {"class": "form-control tape", "autocomplete": "off", "inputmode": "decimal"}

    def prepare_value(self, value: Any) -> Any:
        """Return a number as it is typed."""
        return f"{value:.3f}".rstrip("0").rstrip(".") if isinstance(value, (int, float)) else value

    def clean(self, value: Any) -> Any:
        """Return the number, None for an empty field; refuse words, and what is over the most."""
        text = (value or "").strip()
        if not text:
            return super().clean("") or None
        bare = SIGNS.sub("", text)
        if re.search(r"[^\W\d_]{4,}", text) or not bare:
            raise ValidationError("Write it in figures.")
        if "," in bare and "." not in bare:
            bare = bare.replace(",", ".") if re.fullmatch(r"\d+,\d{1,2}", bare) else bare.replace(",", "")
        bare = bare.replace(",", "")
        if not PLAIN.fullmatch(bare):
            raise ValidationError("Write it in figures, not below nought.")
        if float(bare) > self.most:
            raise ValidationError(f"It is over {self.most:,.0f}: look again.")
        return float(bare)
