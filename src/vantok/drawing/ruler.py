"""Options on one height scale: for each an unladen and a loaded mark with its band, the target a line through all of them."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from math import ceil, floor

from django.utils.safestring import SafeString

from vantok.drawing.svg import INK, LEVEL, LIMIT, LINE, MUTED, TAPE, drawing, tag, text
from vantok_core.base.figure import Figure
from vantok_core.base.units import System, figure, show

WIDTH, ROW, HEAD = 560.0, 34.0, 30.0
SIDE = 26.0
"""Room left and right of the scale, so that no mark and no figure is cut."""
INCH = 0.0254
STEPS = {
    "metric": (0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5),
    "us": tuple(INCH * n for n in (0.125, 0.25, 0.5, 1, 2, 4, 8)),
}
MOST_TICKS = 9


@dataclass(frozen=True, slots=True, kw_only=True)
class Marks:
    """An option on the scale: its loaded and its unladen height with their bands (m; unladen None: as it is), and whether it is met."""

    loaded: Figure
    unladen: Figure
    met: bool


@dataclass(frozen=True, slots=True)
class Scale:
    """A height scale from low to high (m), a tick every step; signed: heights from the reference instead of from the ground."""

    low: float
    high: float
    step: float
    signed: bool

    def x(self, height: float) -> float:
        """Return where a height (m) stands."""
        return SIDE + (WIDTH - 2 * SIDE) * (height - self.low) / (self.high - self.low)

    @property
    def ticks(self) -> list[float]:
        """The heights (m) that are marked."""
        return [
            self.step * n for n in range(ceil(self.low / self.step - 1e-9), floor(self.high / self.step + 1e-9) + 1)
        ]


def scale_of(rows: Iterable[Marks], target: float, units: System, *, signed: bool) -> Scale:
    """Return the scale that all marks and the target (m) fit on."""
    ends = [target]
    for row in rows:
        ends += [row.loaded.value - row.loaded.band, row.loaded.value + row.loaded.band]
        ends += [row.unladen.value - row.unladen.band, row.unladen.value + row.unladen.band]
    low, high = min(ends), max(ends)
    step = next((s for s in STEPS[units] if (high - low) / s <= MOST_TICKS), STEPS[units][-1])
    low, high = step * floor(low / step), step * ceil(high / step)
    return Scale(low, high if high > low else low + step, step, signed)


def head_svg(scale: Scale, target: float, units: System) -> SafeString:
    """Return the scale with its figures, and the target (m) on it."""
    said, parts = show("length", target, units, signed=scale.signed), []
    parts.append(tag("title", f"Rear height, target {said}"))
    for tick in scale.ticks:
        words = f"{'+' if scale.signed and tick > 0 else ''}{figure('length', tick, units)}"
        parts.append(text(scale.x(tick), 15, words, size=15, fill=MUTED))
        parts.append(tag("line", x1=scale.x(tick), x2=scale.x(tick), y1=20, y2=HEAD, stroke=MUTED, stroke_width=1.5))
    parts.append(tag("rect", x=scale.x(target) - 2.5, y=18, width=5, height=HEAD - 18, fill=TAPE))
    return _svg(parts, HEAD, f"Scale; the target is {said}")


def row_svg(marks: Marks, scale: Scale, target: float, units: System) -> SafeString:
    """Return an option's row: a ring where it stands unladen, a disc where it stands loaded, each in its band; the target (m) as a line."""
    y = ROW / 2
    loaded, unladen = scale.x(marks.loaded.value), scale.x(marks.unladen.value)
    parts: list[object] = [
        tag("line", x1=SIDE, x2=WIDTH - SIDE, y1=y, y2=y, stroke=LINE, stroke_width=1),
        tag("rect", x=scale.x(target) - 2.5, y=0, width=5, height=ROW, fill=TAPE),
        *_band(marks.unladen, scale, y, MUTED),
        *_band(marks.loaded, scale, y, LEVEL if marks.met else INK),
        tag("line", x1=loaded, x2=unladen, y1=y, y2=y, stroke=INK, stroke_width=2, stroke_dasharray="2 4"),
        tag("circle", cx=unladen, cy=y, r=6, fill="#fffdf6", stroke=INK, stroke_width=2.5),
        tag("circle", cx=loaded, cy=y, r=7, fill=INK),
    ]
    return _svg(parts, ROW, label(marks, units, signed=scale.signed))


def _band(one: Figure, scale: Scale, y: float, fill: str) -> list[object]:
    if one.band <= 0.0:
        return []
    low, high = scale.x(one.value - one.band), scale.x(one.value + one.band)
    return [tag("rect", x=low, y=y - 8, width=high - low, height=16, rx=3, fill=fill, fill_opacity="0.28")]


def label(marks: Marks, units: System, *, signed: bool) -> str:
    """Return an option's marks in words."""

    def told(one: Figure) -> str:
        value = show("length", one.value, units, signed=signed)
        return f"{value} ± {show('length', one.band, units)}" if one.band > 0.0 else value

    return f"Rear loaded {told(marks.loaded)}, unladen {told(marks.unladen)}"


CARRIES = {"main": INK, "second stage": "#6b6248"}
OTHERS = ("#3c6f2c", "#9a6b00", "#6b4a8c")


def carries_svg(parts: Sequence[tuple[str, float]], words: str) -> SafeString:
    """Return a bar of who carries how much: (name, share) in order; words: the bar in a sentence."""
    drawn: list[object] = []
    x, others = 0.0, 0
    for name, share in parts:
        fill = CARRIES.get(name) or (LIMIT if name.endswith("stops") else OTHERS[others % len(OTHERS)])
        others += name not in CARRIES and not name.endswith("stops")
        wide = 240.0 * max(share, 0.0)
        drawn.append(
            tag(
                "rect",
                tag("title", f"{name} {100 * share:.0f} %"),
                x=x,
                y=0,
                width=max(wide - 1.5, 0.0),
                height=14,
                fill=fill,
            )
        )
        x += wide
    return drawing(words, *drawn, viewBox="0 0 240 14", class_="carries")


def _svg(parts: Iterable[object], tall: float, words: str) -> SafeString:
    return drawing(words, *parts, viewBox=f"0 0 {WIDTH:.0f} {tall:.0f}", class_="on-ruler")
