"""What the benches' drawings are made of: lines, joints, and handles that move the fields they belong to."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from django.utils.safestring import SafeString

from vantok.drawing.svg import INK, TAPE, tag
from vantok_core.base.units import UNITS, System, unit_name

WIDE, TALL = 640.0, 320.0
Drawn = Mapping[str, float]


def line(
    points: Sequence[tuple[float, float]], *, width: float = 4.0, colour: str = INK, dashes: str | None = None
) -> SafeString:
    """Return a line through points."""
    joined = " ".join(f"{x:.1f},{y:.1f}" for x, y in points)
    return tag(
        "polyline",
        points=joined,
        fill="none",
        stroke=colour,
        stroke_width=width,
        stroke_linecap="round",
        stroke_linejoin="round",
        stroke_dasharray=dashes,
    )


def dot(x: float, y: float, r: float = 8.0, fill: str = "#fffdf6") -> SafeString:
    """Return a joint."""
    return tag("circle", cx=x, cy=y, r=r, fill=fill, stroke=INK, stroke_width=2.5)


Move = tuple[str, float, float]
"""A field that a handle moves, its value (m), and the drawing's units per metre that way."""


def handle(
    name: str, at: tuple[float, float], units: System, words: str, x: Move | None = None, y: Move | None = None
) -> SafeString:
    """Return a handle at a place, and what it moves along the drawing and down it."""
    per_unit = UNITS["length"][unit_name("length", units)]
    told: dict[str, object] = {}
    moves = [(way, move) for way, move in (("x", x), ("y", y)) if move is not None]
    for way, (field, value, per_metre) in moves:
        told |= {
            f"data_{way}": field,
            f"data_{way}_value": f"{value / per_unit:.4f}",
            f"data_{way}_per": f"{per_metre * per_unit:.4f}",
        }
    return tag(
        "circle",
        cx=at[0],
        cy=at[1],
        r=13.0,
        class_="handle",
        tabindex=0,
        role="slider",
        data_handle=name,
        fill=TAPE,
        stroke=INK,
        stroke_width=3,
        aria_label=words,
        aria_valuenow=f"{moves[0][1][1] / per_unit:.1f}",
        **told,
    )
