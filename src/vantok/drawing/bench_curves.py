"""Curves of a bench: a damper's bump over its rebound, an insert's force, a stabilizer's reserve; points that were typed are handles."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from django.utils.safestring import SafeString

from vantok.drawing.svg import INK, LIMIT, LINE, MUTED, TAPE, drawing, tag, text
from vantok_core.base.units import UNITS, System, figure, unit_name
from vantok_core.judge.benches.bench import Answer, Ask, Bench

WIDE, TALL, LEFT, RIGHT, FOOT, TOP = 640.0, 250.0, 62.0, 626.0, 214.0, 16.0
COLOURS = {
    "bump": INK,
    "rebound": "#8a5a12",
    "bump_hard": MUTED,
    "rebound_hard": "#b98a3e",
    "reserve": INK,
    "curve": INK,
    "as entered": INK,
    "tyres that hold less": LIMIT,
    "things at both ends": "#8a5a12",
}


Line = tuple[str, Sequence[tuple[float, float]]]
"""A curve's name and its points, in the units of its field."""


MOST_TOLD = 8
"""Points of a curve that are told as figures."""


def curves_svg(answer: Answer, bench: Bench, units: System) -> SafeString:
    """Return the curves of an answer on one pair of axes; nothing without any."""
    curves = answer.curves
    asks = {ask.name: ask for ask in bench.asks if ask.kind == "points"}
    axes = answer.axes or next((asks[name].axes for name in curves if name in asks), ("length", "length"))
    per = [_per(axis, units) for axis in axes]
    lines = [(name, [(x / per[0], y / per[1]) for x, y in points]) for name, points in curves.items() if points]
    if not lines:
        return SafeString("")
    page = _Page.around(lines)
    heads = [_unit(axis, units) for axis in axes]
    parts = [*page.axes(heads)]
    if asked := answer.drawn.get(axes[0]):
        parts.append(page.mark(asked / per[0]))
    for n, line in enumerate(lines):
        parts += _whole(page, line, n) if answer.axes is not None else _typed(page, line, asks)
    return drawing(
        "Curves; the round points of what was typed move it",
        *parts,
        figures=_rows(lines, heads),
        viewBox=f"0 0 {WIDE:.0f} {TALL:.0f}",
        role="group",
        class_="bench-drawing",
    )


def _rows(lines: Sequence[Line], axes: Sequence[str]) -> list[tuple[str, ...]]:
    """Return each curve in a row: its name and its points, some of them where there are many."""
    return [
        (name, *(f"{x:.4g} {axes[0]}: {y:.4g} {axes[1]}" for x, y in points[:: max(len(points) // MOST_TOLD, 1)]))
        for name, points in lines
    ]


def _whole(page: _Page, line: Line, n: int) -> list[SafeString]:
    """Return a curve that was worked out over its whole length: its name under those before it, and no dots."""
    return page.line(line, TOP + 14.0 + 18.0 * n)


def _typed(page: _Page, line: Line, asks: Mapping[str, Ask]) -> list[SafeString]:
    """Return a curve with its points: handles where they were typed."""
    words = asks[line[0]].words if line[0] in asks else ""
    return [*page.line(line), *(page.point(line[0], n, p, words) for n, p in enumerate(line[1]))]


@dataclass(frozen=True, slots=True, kw_only=True)
class _Page:
    """The axes: least and most along and up, in the fields' units; whether what is along goes below nought."""

    low: tuple[float, float]
    high: tuple[float, float]
    signed: bool

    @classmethod
    def around(cls, lines: Sequence[Line]) -> _Page:
        """Return axes that hold every curve, nought among it."""
        xs, ys = ([p[n] for _, points in lines for p in points] for n in (0, 1))
        signed = min(xs) < 0.0
        return cls(
            low=(min(xs) if signed else 0.0, min(*ys, 0.0)), high=(max(xs), max(*ys, 0.0) * 1.08 or 1.0), signed=signed
        )

    @property
    def scale(self) -> tuple[float, float]:
        """Page units per unit along and up."""
        return (RIGHT - LEFT) / max(self.high[0] - self.low[0], 1e-9), (FOOT - TOP) / max(
            self.high[1] - self.low[1], 1e-9
        )

    def at(self, x: float, y: float) -> tuple[float, float]:
        """Return where a point stands on the page."""
        return LEFT + (x - self.low[0]) * self.scale[0], FOOT - (y - self.low[1]) * self.scale[1]

    def axes(self, units: Sequence[str]) -> list[SafeString]:
        """Return both axes with their units and largest figures."""
        nought = self.at(self.low[0], 0.0)[1]
        return [
            tag("line", x1=LEFT, y1=nought, x2=RIGHT, y2=nought, stroke=LINE, stroke_width=2),
            tag("line", x1=LEFT, y1=TOP, x2=LEFT, y2=FOOT, stroke=LINE, stroke_width=2),
            text(RIGHT, FOOT + 30, f"{_short(self.high[0])} {units[0]}", size=16, anchor="end", fill=MUTED),
            text(LEFT - 6, TOP + 8, _short(self.high[1] / 1.08), size=16, anchor="end", fill=MUTED),
            text(8, FOOT + 30, units[1], size=16, anchor="start", fill=MUTED),
        ]

    def mark(self, x: float) -> SafeString:
        """Return what is asked about, as a line across."""
        (along, _), top = self.at(x, 0.0), TOP
        return tag("line", x1=along, y1=top, x2=along, y2=FOOT, stroke=TAPE, stroke_width=4)

    def line(self, line: Line, named_at: float | None = None) -> list[SafeString]:
        """Return a curve with its name at its end, or where several end together at a height of the page."""
        name, points = line
        begun = [*points] if self.signed or named_at else [(0.0, 0.0), *points]
        placed, colour = [self.at(*p) for p in begun], COLOURS.get(name, INK)
        joined = " ".join(f"{x:.1f},{y:.1f}" for x, y in placed)
        return [
            tag("polyline", points=joined, fill="none", stroke=colour, stroke_width=3.5, stroke_linejoin="round"),
            text(
                placed[-1][0] - 8,
                named_at or placed[-1][1] - 8,
                name.replace("_", ", "),
                size=15,
                anchor="end",
                fill=colour,
            ),
        ]

    def point(self, name: str, n: int, value: tuple[float, float], words: str) -> SafeString:
        """Return a point: a handle where it was typed (words: of its field), else a dot, red where nothing is left."""
        x, y = self.at(*value)
        if not words:
            return tag("circle", cx=x, cy=y, r=4, fill=LIMIT if value[1] <= 0.0 else INK)
        along, up = self.scale
        return tag(
            "circle",
            cx=x,
            cy=y,
            r=10.0,
            class_="handle",
            tabindex=0,
            role="slider",
            data_handle=f"{name}-{n}",
            data_points=name,
            data_index=n,
            data_x_value=f"{value[0]:.8g}",
            data_y_value=f"{value[1]:.8g}",
            data_x_per=f"{along:.8g}",
            data_y_per=f"{-up:.8g}",
            fill=TAPE,
            stroke=INK,
            stroke_width=2.5,
            aria_label=f"{words}, point {n + 1}",
            aria_valuenow=f"{value[1]:.3f}",
            aria_valuetext=f"{value[0]:.3g}: {value[1]:.4g}",
        )


def _short(value: float) -> str:
    return f"{value:.0f}" if abs(value) >= 100.0 else f"{value:.3g}"


def _per(axis: str, units: System) -> float:
    return UNITS[axis][unit_name(axis, units)]


def _unit(axis: str, units: System) -> str:
    return unit_name(axis, units)


def told(value: float, units: System) -> str:
    """Return a length as it stands beside a drawing."""
    return f"{figure('length', value, units)} {unit_name('length', units)}"
