"""A still of a ride: how the body over the rear axle moves on one piece, each configuration a line, for paper."""

from __future__ import annotations

from django.utils.safestring import SafeString

from vantok.drawing.svg import INK, LINE, MUTED, PAPER, drawing, tag, text
from vantok_core.base.units import System, show
from vantok_core.facts.proving import RideKept

WIDE, HIGH, EDGE = 640.0, 170.0, 14.0
COLOURS, DASHES = (INK, "#3c6f2c", "#8a5a00", "#1f5f8b"), (None, "9 4", "3 3", "11 3 2 3")
"""As the page has its configurations, told apart on grey paper too."""


FURTHEST = (("lowest", min), ("highest", max))


def still_svg(kept: RideKept, units: System) -> SafeString:
    """Return the still: movement of the rear up and down, over time, to one scale."""
    most = max(*(abs(v) for line in kept.lines for v in line.rear_m), 1e-3)
    middle, tall = HIGH / 2.0, HIGH / 2.0 - EDGE
    parts: list[object] = [tag("rect", x=0, y=0, width=WIDE, height=HIGH, fill=PAPER)]
    parts.append(tag("line", x1=0, y1=middle, x2=WIDE, y2=middle, stroke=LINE, stroke_width=1))
    for n, line in enumerate(kept.lines):
        count = max(len(line.rear_m) - 1, 1)
        points = " ".join(f"{WIDE * k / count:.1f},{middle - tall * v / most:.1f}" for k, v in enumerate(line.rear_m))
        parts.append(
            tag("polyline", points=points, fill="none", stroke=COLOURS[n], stroke_width=2.2, stroke_dasharray=DASHES[n])
        )
        x, y = WIDE - 8.0, EDGE + 4.0 + 15.0 * n
        parts.append(text(x, y, line.name, size=14, anchor="end", fill=COLOURS[n]))
    span = f"rear, up and down: ± {show('length', most, units)} over {kept.seconds:.0f} s"
    parts.append(text(6.0, HIGH - 5.0, span, size=14, anchor="start", fill=MUTED))
    figures = [
        (line.name, *(f"{words} {show('length', find(line.rear_m), units, signed=True)}" for words, find in FURTHEST))
        for line in kept.lines
    ]
    return drawing(kept.said, *parts, figures=figures, viewBox=f"0 0 {WIDE:.0f} {HIGH:.0f}", class_="ride-still")
