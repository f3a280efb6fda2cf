"""A figure of an aim on its own ruler: its band, its middle, what is wanted, and where the vehicle stands now."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from django.utils.safestring import SafeString

from vantok.drawing.svg import INK, LEVEL, LINE, MUTED, TAPE, drawing, tag, text
from vantok_core.base.units import Kind, System, show
from vantok_core.judge.choose.by_aims import Ruled

WIDTH, TALL, EDGE = 240.0, 40.0, 10.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Ends:
    """The ends of a ruler (SI), where nothing is changed (now; None: not told), and whether figures are told with their sign."""

    low: float
    high: float
    now: float | None
    signed: bool = False

    def x(self, value: float) -> float:
        """Return where a value (SI) stands, held to the ends."""
        return EDGE + (WIDTH - 2.0 * EDGE) * (min(max(value, self.low), self.high) - self.low) / (self.high - self.low)


def ends_of(rows: Iterable[Ruled], now: float | None) -> Ends:
    """Return the ends that all figures of one aim fit between, with a tenth to spare."""
    rows = list(rows)
    told = [v for one in rows for v in (one.low, one.high, one.wanted, now) if v is not None]
    low, high = min(told), max(told)
    spare = 0.1 * (high - low) or max(0.1 * abs(high), 1e-3)
    return Ends(low=low - spare, high=high + spare, now=now, signed=rows[0].kind == "length" and low < 0.0)


def ratio_svg(one: Ruled, ends: Ends, units: System) -> SafeString:
    """Return a figure on its ruler: a band and a disc, the line wanted (yellow), a grey line where it stands now."""
    band = ends.x(one.low), ends.x(one.high)
    parts: list[object] = [
        tag("line", x1=EDGE, x2=WIDTH - EDGE, y1=16, y2=16, stroke=LINE, stroke_width=2),
        *_mark(ends.now, ends, "now", MUTED, 2.0),
        *_mark(one.wanted, ends, "aim", TAPE, 5.0),
        tag("rect", x=band[0], y=11, width=max(band[1] - band[0], 2.0), height=10, fill=_fill(one), opacity=0.5),
        tag("circle", cx=ends.x(one.value), cy=16, r=6, fill=INK),
    ]
    return drawing(_said(one, ends, units), *parts, viewBox=f"0 0 {WIDTH:.0f} {TALL:.0f}", width=WIDTH)


def _mark(at: float | None, ends: Ends, words: str, fill: str, wide: float) -> list[object]:
    if at is None:
        return []
    x = ends.x(at)
    return [
        tag("rect", x=x - wide / 2, y=5, width=wide, height=22, fill=fill),
        text(x, 39, words, size=12, fill=MUTED),
    ]


def _fill(one: Ruled) -> str:
    """Return green for a figure that is surely what is wanted."""
    if one.wanted is None:
        return MUTED
    low, high = one.low - one.wanted, one.high - one.wanted
    sure = max(abs(low), abs(high)) <= one.within if one.within else high <= 0.0 if one.at_most else low >= 0.0
    return LEVEL if sure else MUTED


def _said(one: Ruled, ends: Ends, units: System) -> str:
    def told(value: float, kind: Kind = one.kind) -> str:
        return show(kind, value, units, signed=ends.signed)

    words = f"{told(one.value)}, {told(one.low)} to {told(one.high)}"
    return words if one.wanted is None else f"{words}; aimed at {told(one.wanted)}"
