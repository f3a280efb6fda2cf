"""A vehicle's heights over its visits: one line an axle and state, with the kit or without."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, datetime

from django.utils.safestring import SafeString

from vantok.drawing.svg import INK, LINE, MUTED, PAPER, drawing, tag, text
from vantok_core.base.units import System, figure, show, unit_name

WIDTH, TALL = 1180.0, 300.0
LEFT, RIGHT, TOP, FOOT = 76.0, 300.0, 18.0, 44.0
LOOKS = (
    (INK, None, "circle"),
    ("#9a6b00", "8 5", "square"),
    ("#3c6f2c", "3 4", "circle"),
    ("#6b4a8c", "10 4 2 4", "square"),
)
"""Colour, dashes and mark of the lines in turn: told apart without colour too; the next ones have hollow marks."""

Line = tuple[str, Sequence[tuple[datetime, float]]]


def history_svg(lines: Sequence[Line], units: System) -> SafeString:
    """Return the plot of named lines of (when, height m), in the reader's units; a single visit is a row of marks."""
    days = [(when.date(), value) for _, line in lines for when, value in line]
    first, last = min(day for day, _ in days), max(day for day, _ in days)
    low, high = min(v for _, v in days) - 0.01, max(v for _, v in days) + 0.01
    span = max((last - first).days, 1)

    def at(day: date, value: float) -> tuple[float, float]:
        x = LEFT + 20.0 + (WIDTH - LEFT - RIGHT - 40.0) * ((day - first).days / span if last > first else 0.5)
        return x, TOP + (TALL - TOP - FOOT) * (high - value) / (high - low)

    parts: list[object] = [tag("title", "Heights over the visits"), *_axes(low, high, units)]
    for n, (name, line) in enumerate(lines):
        places = [(*at(when.date(), value), show("length", value, units)) for when, value in line]
        parts += [*_line(n, places), *_key(n, name)]
    for day in sorted({d for d, _ in days}):
        parts.append(text(at(day, low)[0], TALL - 16, f"{day:%d %b %Y}", size=16, fill=MUTED))
    return drawing(
        "Heights over the visits; the table below has the same figures",
        *parts,
        viewBox=f"0 0 {WIDTH:.0f} {TALL:.0f}",
        class_="stance",
    )


def _line(n: int, places: Sequence[tuple[float, float, str]]) -> list[object]:
    """Return a line with its marks, each at its place with its figure."""
    colour, dashes, _ = LOOKS[n % len(LOOKS)]
    parts: list[object] = []
    if len(places) > 1:
        joined = " ".join(f"{x:.1f},{y:.1f}" for x, y, _ in places)
        parts.append(
            tag("polyline", points=joined, fill="none", stroke=colour, stroke_width=2.5, stroke_dasharray=dashes)
        )
    return parts + [_mark(n, x, y, said) for x, y, said in places]


def _mark(n: int, x: float, y: float, said: str = "") -> SafeString:
    """Return the mark of a line, alike in the plot and beside it; hollow once the looks come round again."""
    colour, _, shape = LOOKS[n % len(LOOKS)]
    look = {"fill": colour if n < len(LOOKS) else PAPER, "stroke": colour, "stroke_width": 2}
    told = [tag("title", said)] if said else []
    if shape == "circle":
        return tag("circle", *told, cx=x, cy=y, r=5, **look)
    return tag("rect", *told, x=x - 5, y=y - 5, width=10, height=10, **look)


def _key(n: int, name: str) -> list[object]:
    """Return a line's entry beside the plot."""
    colour, dashes, _ = LOOKS[n % len(LOOKS)]
    x, y = WIDTH - RIGHT, TOP + 20.0 + 26.0 * n
    shown = name if len(name) < 34 else name[:33] + "…"
    return [
        tag("line", x1=x + 14, x2=x + 50, y1=y - 6, y2=y - 6, stroke=colour, stroke_width=3, stroke_dasharray=dashes),
        _mark(n, x + 32, y - 6),
        text(x + 58, y, shown, size=17, anchor="start"),
    ]


def _axes(low: float, high: float, units: System) -> list[object]:
    parts: list[object] = [text(LEFT - 8, TOP + 2, unit_name("length", units), size=16, anchor="end", fill=MUTED)]
    for n in range(5):
        value = low + (high - low) * n / 4
        y = TOP + (TALL - TOP - FOOT) * (high - value) / (high - low)
        parts.append(tag("line", x1=LEFT, y1=y, x2=WIDTH - RIGHT, y2=y, stroke=LINE, stroke_width=1))
        parts.append(
            text(
                LEFT - 8, y + 16 if n == 4 else y + 5, figure("length", value, units), size=17, anchor="end", fill=MUTED
            )
        )
    return parts
