"""Two criteria of the choice against each other: those that no other option beats are discs, the others rings."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, floor

from django.utils.safestring import SafeString

from vantok.drawing.ruler import STEPS
from vantok.drawing.svg import INK, LINE, MUTED, TAPE, drawing, tag, text
from vantok_core.base.units import System, show
from vantok_core.kits.tradeoff import Criterion

WIDTH, TALL = 1120.0, 400.0
LEFT, RIGHT, TOP, FOOT = 110.0, 300.0, 44.0, 60.0
MOST_TICKS = 7
APART = 17.0
"""Least distance between two names beside their marks."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Dot:
    """An option: its name, its two values (SI), whether no other beats it, and whether it is the one recommended."""

    name: str
    x: float
    y: float
    unbeaten: bool
    best: bool


def against_svg(dots: Sequence[Dot], across: Criterion, up: Criterion, units: System) -> SafeString:
    """Return the plot; better is to the left and down where less is better, else to the right and up."""
    x_ticks = ticks([d.x for d in dots], across.kind, units)
    y_ticks = ticks([d.y for d in dots], up.kind, units)
    x_low, x_high, y_low, y_high = x_ticks[0], x_ticks[-1], y_ticks[0], y_ticks[-1]

    def at(x: float, y: float) -> tuple[float, float]:
        left = LEFT + (WIDTH - LEFT - RIGHT) * (x - x_low) / (x_high - x_low)
        return left, TOP + (TALL - TOP - FOOT) * (y_high - y) / (y_high - y_low)

    parts: list[object] = [tag("title", f"{up.words} against {across.words}")]
    for y in y_ticks:
        level = at(x_low, y)[1]
        parts.append(tag("line", x1=LEFT, x2=WIDTH - RIGHT, y1=level, y2=level, stroke=LINE, stroke_width=1))
        parts.append(text(LEFT - 10, level + 5, _told(up.kind, y, units), size=16, anchor="end", fill=MUTED))
    parts += [
        text(at(x, y_low)[0], TALL - FOOT + 22, _told(across.kind, x, units), size=16, fill=MUTED) for x in x_ticks
    ]
    parts.append(text((LEFT + WIDTH - RIGHT) / 2, TALL - 10, f"{across.words} {_way(across)}", size=18))
    parts.append(text(LEFT - 10, TOP - 24, f"{up.words} {_way(up)}", size=18, anchor="start"))
    used: list[float] = []
    for dot in sorted(dots, key=lambda d: (at(d.x, d.y)[1], d.name)):
        x, y = at(dot.x, dot.y)
        level = _free(used, y)
        used.append(level)
        if dot.best:
            parts.append(tag("circle", cx=x, cy=y, r=12, fill=TAPE))
        fill = INK if dot.unbeaten else "#fffdf6"
        parts.append(tag("circle", tag("title", dot.name), cx=x, cy=y, r=7, fill=fill, stroke=INK, stroke_width=2.5))
        parts.append(tag("line", x1=x + 9, y1=y, x2=WIDTH - RIGHT + 8, y2=level, stroke=LINE, stroke_width=1))
        shown = dot.name if len(dot.name) < 36 else dot.name[:35] + "…"
        parts.append(
            text(WIDTH - RIGHT + 12, level + 5, shown, size=17, anchor="start", fill=INK if dot.unbeaten else MUTED)
        )
    return drawing(
        f"{up.words} against {across.words}; the table below has the same figures",
        *parts,
        viewBox=f"0 0 {WIDTH:.0f} {TALL:.0f}",
        class_="stance",
    )


def ticks(values: Sequence[float], kind: str, units: System) -> list[float]:
    """Return round figures (SI) that hold all values, the first and the last beyond them or on them; from nought where that is near."""
    low, high = min(values), max(values)
    if 0.0 <= low < 0.6 * high:
        low = 0.0
    if high - low < 1e-9:
        low, high = low - 0.5 * (abs(low) or 1.0), high + 0.5 * (abs(high) or 1.0)
    steps = STEPS[units] if kind == "length" else [m * 10.0**n for n in range(-3, 6) for m in (1, 2, 5)]
    step = next((one for one in steps if (high - low) / one <= MOST_TICKS), steps[-1])
    step *= max(ceil((high - low) / step / MOST_TICKS), 1)  # further than any usual figure
    return [step * n for n in range(floor(low / step + 1e-9), ceil(high / step - 1e-9) + 1)]


def _free(used: Sequence[float], wanted: float) -> float:
    """Return the level at or under a wanted one at which no name stands yet."""
    level = wanted
    while any(abs(level - other) < APART for other in used):
        level += 1.0
    return level


def _told(kind: str, value: float, units: System) -> str:
    if kind == "money":
        return f"{value:.0f}"
    return f"{value:.1f} h" if kind == "hours" else show(kind, value, units)


def _way(one: Criterion) -> str:
    return "(less is better)" if one.low_is_better else "(more is better)"
