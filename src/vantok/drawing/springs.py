"""Each kind of main spring as a small picture, to be chosen by: the same shapes as in the close-up, at a scale of their own."""

from __future__ import annotations

from functools import cache

from django.utils.safestring import SafeString

from vantok.drawing.axle_parts import Place, draw_spring
from vantok.drawing.svg import INK, MUTED, tag
from vantok_core.facts.classes import SPRINGS

WIDE, TALL = 120.0, 74.0
RAIL = 0.2
"""Frame above the axle's centre, m."""


@cache
def spring_svg(kind: str) -> SafeString:
    """Return a kind of spring between frame and wheel; nothing but frame and wheel where its kind is not known."""
    place = Place(middle=WIDE / 2, way=1.0, axle=54.0, along=92.0, up=190.0, rail=RAIL)
    top = place.at(0.0, RAIL)[1] - 5.0
    solid = kind in SPRINGS and SPRINGS[kind].solid
    return tag(
        "svg",
        tag("rect", x=2.0, y=top, width=WIDE - 4.0, height=6.0, fill=MUTED),
        *draw_spring(kind, place, replaced=False),
        tag("circle", cx=WIDE / 2, cy=54.0, r=15.0, fill="none", stroke=MUTED, stroke_width=3.0),
        tag("circle", cx=WIDE / 2, cy=54.0, r=6.0 if solid else 3.0, fill=INK),
        viewBox=f"0 0 {WIDE:.0f} {TALL:.0f}",
        aria_hidden="true",
        class_="spring",
    )


def springs() -> dict[str, SafeString]:
    """Return the picture of every kind of spring by its key."""
    return {kind: spring_svg(kind) for kind in SPRINGS}
