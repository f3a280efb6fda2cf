"""Quantities, sentences and icons on the page, in the reader's units."""

from __future__ import annotations

from functools import cache
from typing import Any

from django import template
from django.conf import settings
from django.utils.safestring import SafeString, mark_safe

from vantok_core.say import Quantity, Say, Verdict
from vantok_core.units import figure, show

register = template.Library()


@register.simple_tag(takes_context=True)
def q(context: dict[str, Any], value: float | str | None, kind: str, signed: str = "") -> str:
    """Show an SI value in the reader's units; unknown is a dash."""
    return "–" if value in (None, "") else show(kind, float(value or 0.0), context["units"], signed=bool(signed))


@register.simple_tag(takes_context=True)
def minus(context: dict[str, Any], value: float, kind: str) -> str:
    """Show the size of a negative SI value, its sense being said in words beside it."""
    return show(kind, -float(value), context["units"])


@register.simple_tag(takes_context=True)
def bare(context: dict[str, Any], value: float, kind: str) -> str:
    """Show an SI value's figure in the reader's units, its unit standing elsewhere."""
    return figure(kind, float(value), context["units"])


@register.simple_tag(takes_context=True)
def say(context: dict[str, Any], what: Say | Verdict | Quantity) -> str:
    """Show a sentence, verdict or quantity in the reader's units."""
    return what.in_units(context["units"])


@cache
def _icon(name: str) -> str:
    path = settings.ROOT / "src" / "vantok" / "static" / "vendor" / "icons" / f"{name}.svg"
    return path.read_text(encoding="utf-8").replace("<svg ", '<svg aria-hidden="true" focusable="false" ', 1)


@register.simple_tag
def icon(name: str) -> SafeString:
    """Put a vendored icon into the page."""
    return mark_safe(_icon(name))  # noqa: S308 - a file of this program's own


@register.filter
def key(mapping: dict[str, Any], name: str) -> Any:
    """Return a mapping's entry, or nothing."""
    return mapping.get(name) if mapping else None
