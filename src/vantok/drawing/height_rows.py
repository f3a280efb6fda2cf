"""Heights of four corners on one scale: as they truly are, as they were read, as they were foreseen."""

from __future__ import annotations

from collections.abc import Sequence

from django.utils.safestring import SafeString

from vantok.drawing.svg import INK, LEVEL, LINE, MUTED, TAPE, drawing, tag, text
from vantok_core.base.names import CORNERS
from vantok_core.base.units import System, show
from vantok_core.practice.bay.debrief import Height

WIDE, ROW, LEFT, RIGHT = 760.0, 54.0, 170.0, 730.0
SPREAD = 0.05
"""The least span of the scale, m."""


def _told(one: Height, units: System) -> tuple[str, ...]:
    """Return a corner's heights in words, those that there are."""
    told = (("true", one.true), ("read", one.read), ("foreseen", one.foreseen))
    return tuple(f"{words} {show('length', value, units)}" for words, value in told if value is not None)


def heights_svg(before: Sequence[Height], after: Sequence[Height], units: System) -> SafeString:
    """Return a row a corner, before the work and after it: a bar where it truly stands, a ring where it was read, a tick where it was foreseen."""
    rows = [("", one) for one in before] + [("with the kit", one) for one in after]
    told = [v for _, one in rows for v in (one.true, one.read, one.foreseen) if v is not None]
    low, high = min(told), max(told)
    middle, half = (low + high) / 2, max((high - low) / 2 * 1.15, SPREAD / 2)
    scale = (RIGHT - LEFT) / (2 * half)

    def at(value: float) -> float:
        return LEFT + (value - middle + half) * scale

    parts: list[object] = []
    for n, (kit, one) in enumerate(rows):
        y = 44.0 + n * ROW
        parts += [
            text(8, y + 6, CORNERS[one.place].words, size=20, anchor="start"),
            text(8, y + 24, kit, size=14, anchor="start", fill=MUTED),
            tag("line", x1=LEFT, y1=y, x2=RIGHT, y2=y, stroke=LINE, stroke_width=1.5),
            tag("rect", x=at(one.true) - 4, y=y - 15, width=8, height=30, fill=INK),
            text(at(one.true), y + 33, show("length", one.true, units), size=15),
        ]
        if one.read is not None:
            parts.append(tag("circle", cx=at(one.read), cy=y, r=9, fill="none", stroke=LEVEL, stroke_width=4))
        if one.foreseen is not None:
            x = at(one.foreseen)
            parts.append(
                tag("path", d=f"M {x:.1f} {y - 4:.1f} l -8 -14 l 16 0 z", fill=TAPE, stroke=INK, stroke_width=1.2)
            )
    return drawing(
        "Heights as they are, as read, as foreseen",
        tag("rect", x=LEFT, y=4, width=8, height=16, fill=INK),
        text(LEFT + 16, 18, "true", size=16, anchor="start"),
        tag("circle", cx=LEFT + 90, cy=12, r=7, fill="none", stroke=LEVEL, stroke_width=4),
        text(LEFT + 104, 18, "as you read it", size=16, anchor="start"),
        tag("path", d=f"M {LEFT + 230} 20 l -8 -14 l 16 0 z", fill=TAPE, stroke=INK, stroke_width=1.2),
        text(LEFT + 246, 18, "as foreseen from your readings", size=16, anchor="start"),
        *parts,
        figures=[(f"{CORNERS[one.place].words} {kit}".strip(), *_told(one, units)) for kit, one in rows],
        viewBox=f"0 0 {WIDE:.0f} {44 + len(rows) * ROW:.0f}",
        class_="heights-rows",
    )
