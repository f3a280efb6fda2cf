"""Predicted against read over the years: a point a height, how far it was missed, in its band or out of it."""

from __future__ import annotations

from collections.abc import Sequence

from django.utils.safestring import SafeString

from vantok.drawing.svg import INK, LEVEL, LIMIT, LINE, MUTED, drawing, tag, text
from vantok_core.base.units import System, show
from vantok_core.upkeep.foretold import Miss

WIDE, TALL, LEFT, TOP, LOW = 1100.0, 250.0, 90.0, 16.0, 210.0
LEAST, MOST_POINTS = 0.02, 1000
"""The least span of the scale either way (m); of more points the latest are drawn."""


def foretold_svg(told: Sequence[Miss], units: System) -> SafeString:
    """Return the plot; above the line it stood higher than foretold."""
    shown = list(told)[-MOST_POINTS:]
    first, last = shown[0].at.toordinal(), max(shown[-1].at.toordinal(), shown[0].at.toordinal() + 1)
    span = max(LEAST, *(abs(one.miss) for one in shown)) * 1.1

    def x(one: Miss) -> float:
        return LEFT + 8 + (WIDE - LEFT - 20) * (one.at.toordinal() - first) / (last - first)

    def y(value: float) -> float:
        return (TOP + LOW) / 2 - value / span * (LOW - TOP) / 2

    step = span / 2
    lines = [tag("line", x1=LEFT, y1=y(v), x2=WIDE, y2=y(v), stroke=LINE, stroke_width=1) for v in (-step, 0.0, step)]
    marks = [
        text(LEFT - 8, y(v) + 5, show("length", v, units, signed=True), size=16, anchor="end")
        for v in (-step, 0.0, step)
    ]
    points = [
        tag("circle", cx=x(one), cy=y(one.miss), r=4, fill=LEVEL)
        if one.inside
        else tag("path", d=f"M {x(one):.1f} {y(one.miss) - 6:.1f} l 6 11 l -12 0 z", fill=LIMIT)
        for one in shown
    ]
    ends = [
        text(LEFT + 8, TALL - 8, f"{shown[0].at:%-d %b %Y}", size=16, anchor="start", fill=MUTED),
        text(WIDE, TALL - 8, f"{shown[-1].at:%-d %b %Y}", size=16, anchor="end", fill=MUTED),
        tag("circle", cx=WIDE / 2 - 150, cy=TALL - 13, r=5, fill=LEVEL),
        text(WIDE / 2 - 138, TALL - 8, "inside its band", size=16, anchor="start", fill=INK),
        tag("path", d=f"M {WIDE / 2 + 10:.0f} {TALL - 19:.0f} l 6 11 l -12 0 z", fill=LIMIT),
        text(WIDE / 2 + 22, TALL - 8, "outside", size=16, anchor="start", fill=INK),
    ]
    return drawing(
        f"{'the last ' if len(told) > len(shown) else ''}{len(shown)} heights, read less foretold, by the day their job was closed",
        *lines,
        *marks,
        *points,
        *ends,
        figures=[
            (
                f"{one.at:%-d %b %Y}",
                show("length", one.miss, units, signed=True),
                "inside its band" if one.inside else "outside",
            )
            for one in shown
        ],
        viewBox=f"0 0 {WIDE:.0f} {TALL:.0f}",
        class_="foretold",
    )
