"""A signature as it was drawn."""

from __future__ import annotations

from django.utils.safestring import SafeString

from vantok.drawing.svg import INK, drawing, tag
from vantok_core.facts.signed import TALL, WIDE, Signed


def signature_svg(signed: Signed) -> SafeString:
    """Return the strokes of a signature."""
    lines = [
        tag(
            "polyline",
            points=" ".join(f"{x},{y}" for x, y in (*stroke, stroke[-1])),
            fill="none",
            stroke=INK,
            stroke_width=6,
            stroke_linecap="round",
            stroke_linejoin="round",
        )
        for stroke in signed.strokes
    ]
    return drawing(f"Signature of {signed.name}", *lines, viewBox=f"0 0 {WIDE} {TALL}", class_="signature")
