"""Findings as marks on a view, numbered as in the list beside it: each over its place, with a line down to it."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from vantok.drawing.rear import MIDDLES
from vantok.drawing.side import GROUND, Side
from vantok.drawing.svg import CARD, INK, LIMIT, TAPE, tag, text
from vantok_core.base.say import Finding, Spot

TOP, R = 15.0, 12.0
FILLS = {"limit": (LIMIT, "#ffffff"), "act": (TAPE, INK)}


def finding_marks(place: Callable[[Spot], tuple[float, float]], findings: Sequence[Finding]) -> list[object]:
    """Return a mark for each finding that has a place on the page (`place`), its number as it stands in the list; no mark upon another."""
    placed = sorted((*place(one.at), n, one.tone) for n, one in enumerate(findings, 1) if one.at)
    lines: list[object] = []
    marks: list[object] = []
    free = R
    for x, y, n, tone in placed:
        at = max(x, free)
        free = at + 2.2 * R
        face, on = FILLS.get(tone, (CARD, INK))
        lines.append(tag("line", x1=at, x2=x, y1=TOP, y2=y, stroke=INK, stroke_width=1.2, stroke_dasharray="3 3"))
        marks.append(tag("circle", cx=at, cy=TOP, r=R, fill=face, stroke=INK, stroke_width=1.5))
        marks.append(text(at, TOP + 6.0, str(n), size=17, fill=on, font_weight=600))
    return [*lines, *marks]


def from_behind(at: Spot) -> tuple[float, float]:
    """Return where a place stands on the page of the view from behind: at its end of the vehicle, under the body."""
    return MIDDLES["rear" if at in ("rear", "tail") else "front"], GROUND - 24.0


def from_side(side: Side, at: Spot) -> tuple[float, float]:
    """Return where a place stands on the page of the side view."""
    xs = [x for x, _ in side.shape]
    station, height = {
        "front": (0.62, 0.55),
        "rear": (side.length + 0.62, 0.55),
        "nose": (min(xs) + 0.25, 0.85),
        "tail": (max(xs) - 0.08, 0.62),
        "lamps": (min(xs) + 0.05, 0.72),
    }[at]
    return side.at(station, height)
