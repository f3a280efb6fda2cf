"""A kit's curve or table, drawn: a line a pressure, a click, or one."""

from __future__ import annotations

from collections.abc import Sequence

from django.utils.safestring import SafeString

from vantok.drawing.against import ticks
from vantok.drawing.svg import INK, LINE, MUTED, drawing, tag, text
from vantok_core.base.units import System, show
from vantok_core.kits.curves import Curve

WIDTH, TALL = 560.0, 300.0
LEFT, RIGHT, TOP, FOOT = 92.0, 34.0, 16.0, 46.0
LOOKS = ((INK, None), ("#3c6f2c", "8 4"), ("#9a6b00", "3 4"), ("#6b4a8c", "10 4 2 4"))


def curve_svg(lines: Sequence[Curve], columns: Sequence[tuple[str, str]], units: System) -> SafeString:
    """Return the plot of a kit's curves in the reader's units, with the words of its axes."""
    points = [p for line in lines for p in line.points]
    (x_words, x_kind), (y_words, y_kind) = (
        (("number", "count"), columns[0]) if len(columns) == 1 else (columns[0], columns[-1])
    )
    x_ticks, y_ticks = (ticks([p[i] for p in points], kind, units) for i, kind in ((0, x_kind), (1, y_kind)))

    def at(x: float, y: float) -> tuple[float, float]:
        return (
            LEFT + (WIDTH - LEFT - RIGHT) * (x - x_ticks[0]) / (x_ticks[-1] - x_ticks[0]),
            TALL - FOOT - (TALL - TOP - FOOT) * (y - y_ticks[0]) / (y_ticks[-1] - y_ticks[0]),
        )

    parts: list[object] = [tag("title", f"{y_words} over {x_words}")]
    for y in y_ticks:
        level = at(x_ticks[0], y)[1]
        parts.append(tag("line", x1=LEFT, x2=WIDTH - RIGHT, y1=level, y2=level, stroke=LINE, stroke_width=1))
        parts.append(text(LEFT - 8, level + 5, _told(y_kind, y, units), size=15, anchor="end", fill=MUTED))
    parts += [
        text(at(x, y_ticks[0])[0], TALL - FOOT + 20, _told(x_kind, x, units), size=15, fill=MUTED) for x in x_ticks
    ]
    parts.append(text((LEFT + WIDTH - RIGHT) / 2, TALL - 6, f"{y_words} over {x_words}", size=16))
    for n, line in enumerate(lines):
        colour, dashes = LOOKS[n % len(LOOKS)]
        joined = " ".join(f"{x:.1f},{y:.1f}" for x, y in (at(*p) for p in line.points))
        parts.append(
            tag("polyline", points=joined, fill="none", stroke=colour, stroke_width=2.5, stroke_dasharray=dashes)
        )
        parts += [tag("circle", cx=x, cy=y, r=3.5, fill=colour) for x, y in (at(*p) for p in line.points)]
    return drawing(
        f"{y_words} over {x_words}; the table has the same figures",
        *parts,
        viewBox=f"0 0 {WIDTH:.0f} {TALL:.0f}",
        class_="curve",
    )


def _told(kind: str, value: float, units: System) -> str:
    return f"{value:g}" if kind == "count" else show(kind, value, units)
