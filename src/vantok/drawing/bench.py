"""Drawings of the benches, to scale, with handles that move the fields they belong to."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from math import cos, pi, sin

from django.utils.safestring import SafeString

from vantok.drawing.svg import INK, LIMIT, LINE, MUTED, TAPE, tag, text
from vantok_core.base.units import UNITS, System, figure, unit_name

WIDE, TALL = 640.0, 320.0
Drawn = Mapping[str, float]
WORDS = "Drawing to scale; its round handles move the fields"


def bench_svg(key: str, drawn: Drawn, units: System) -> SafeString:
    """Return a bench's drawing; empty for one that has none."""
    draw = DRAWINGS.get(key)
    if draw is None:
        return SafeString("")
    return tag(
        "svg",
        *draw(drawn, units),
        viewBox=f"0 0 {WIDE:.0f} {TALL:.0f}",
        role="group",
        class_="bench-drawing",
        aria_label="Drawing to scale; its round handles move the fields",
    )


def _line(
    points: Sequence[tuple[float, float]], *, width: float = 4.0, colour: str = INK, dashes: str | None = None
) -> SafeString:
    joined = " ".join(f"{x:.1f},{y:.1f}" for x, y in points)
    return tag(
        "polyline",
        points=joined,
        fill="none",
        stroke=colour,
        stroke_width=width,
        stroke_linecap="round",
        stroke_linejoin="round",
        stroke_dasharray=dashes,
    )


def _dot(x: float, y: float, r: float = 8.0, fill: str = "#fffdf6") -> SafeString:
    return tag("circle", cx=x, cy=y, r=r, fill=fill, stroke=INK, stroke_width=2.5)


Move = tuple[str, float, float]
"""A field that a handle moves, its value (m), and the drawing's units per metre that way."""


def _handle(
    name: str, at: tuple[float, float], units: System, words: str, x: Move | None = None, y: Move | None = None
) -> SafeString:
    """Return a handle at a place, and what it moves along the drawing and down it."""
    per_unit = UNITS["length"][unit_name("length", units)]
    told: dict[str, object] = {}
    moves = [(way, move) for way, move in (("x", x), ("y", y)) if move is not None]
    for way, (field, value, per_metre) in moves:
        told |= {
            f"data_{way}": field,
            f"data_{way}_value": f"{value / per_unit:.4f}",
            f"data_{way}_per": f"{per_metre * per_unit:.4f}",
        }
    return tag(
        "circle", cx=at[0], cy=at[1], r=13.0, class_="handle", tabindex=0, role="slider", data_handle=name, fill=TAPE, stroke=INK, stroke_width=3,
        aria_label=words, aria_valuenow=f"{moves[0][1][1] / per_unit:.1f}", **told,
    )  # fmt: skip


def _told(value: float, units: System) -> str:
    return f"{figure('length', value, units)} {unit_name('length', units)}"


def _damper(d: Drawn, units: System) -> list[SafeString]:
    """Return the damper from the side: at ride height whole, at bump and droop dashed."""
    scale = 0.78 * TALL / max(d["up"] + d["droop"], d["open"], 0.2)
    x0, y0 = WIDE * 0.45, TALL - 30.0 - d["droop"] * scale
    top = (x0 - d["along"] * scale, y0 - d["up"] * scale)
    ways = [(d["bump"], "bump"), (-d["droop"], "droop")]
    ghosts = [_line([(x0, y0 - z * scale), top], width=3, colour=LINE, dashes="7 6") for z, _ in ways]
    named = [text(x0 + 20, y0 - z * scale + 5, words, size=15, anchor="start", fill=MUTED) for z, words in ways]
    shut = [
        text(WIDE - 12, 24 + 20 * n, f"{words} {_told(d[key], units)}", size=15, anchor="end", fill=MUTED)
        for n, (key, words) in enumerate((("closed", "shut"), ("open", "open")))
    ]
    return [
        _line([(x0, y0 + d["droop"] * scale), (x0, y0 - d["bump"] * scale)], width=2, colour=MUTED), *ghosts, _line([(x0, y0), top],
        width=9), *named, *shut, _dot(x0, y0),
        _handle("upper", top, units, "Upper mount: arrows move it", x=("along", d["along"], -scale), y=("up", d["up"], -scale)),
        _handle("bump", (x0, y0 - d["bump"] * scale), units, "Wheel up", y=("bump", d["bump"], -scale)),
        _handle("droop", (x0, y0 + d["droop"] * scale), units, "Wheel down", y=("droop", d["droop"], scale)),
    ]  # fmt: skip


def _bar(d: Drawn, units: System) -> list[SafeString]:
    """Return the bar's arm and link from the side, the arm's end over the travel."""
    scale = min(0.6 * WIDE / max(d["link_at"], d["arm"], 0.1), 0.7 * TALL / max(d["pivot"], 0.1))
    x0, ground = WIDE * 0.2, TALL - 24.0
    pivot, end = (x0, ground - d["pivot"] * scale), (x0 + d["arm"] * scale, ground - d["pivot"] * scale)
    mount = (x0 + d["link_at"] * scale, ground - d["link_height"] * scale)
    swing = [
        (x0 + d["arm"] * scale * cos(a), pivot[1] - d["arm"] * scale * sin(a))
        for a in (n * pi / 180 for n in range(-35, 36, 5))
    ]
    travel = [(mount[0], mount[1] + d["droop"] * scale), (mount[0], mount[1] - d["bump"] * scale)]
    return [
        _line([(20, ground), (WIDE - 20, ground)], width=2, colour=LINE), _line(swing, width=2, colour=LINE, dashes="6 6"), _line(travel, width=2,
        colour=MUTED),
        _line([pivot, end], width=10, colour=MUTED), _line([end, mount], width=6), _dot(*pivot),
        text(pivot[0], pivot[1] - 18, "bar on the frame", size=15, fill=MUTED),
        _handle("arm", end, units, "Arm's end", x=("arm", d["arm"], scale)),
        _handle("link", mount, units, "Link on the axle", x=("link_at", d["link_at"], scale), y=("link_height", d["link_height"], -scale)),
    ]  # fmt: skip


def _leaf(d: Drawn, units: System) -> list[SafeString]:
    """Return the pack free and under its load, eyes on one line."""
    scale = 0.84 * WIDE / (d["front"] + d["rear"])
    x0, eyes = 0.08 * WIDE, TALL - 70.0

    def curve(arch: float) -> list[tuple[float, float]]:
        a, c = d["front"], d["rear"]
        return [
            (x0 + s * scale, eyes - arch * scale * (1.0 - ((s - a) / (a if s < a else c)) ** 2))
            for s in (n * (a + c) / 40 for n in range(41))
        ]  # fmt: skip

    free, loaded = curve(d["arch"]), curve(d["loaded"])
    under = [
        _line([(x, y + 9 * n) for x, y in loaded[4 * n : 41 - 4 * n]], width=5)
        for n in range(1, min(int(d["leaves"]), 5))
    ]
    clamp = x0 + d["front"] * scale
    return [
        _line([(x0, eyes), (x0 + (d["front"] + d["rear"]) * scale, eyes)], width=2, colour=LINE, dashes="6 6"), _line(free, width=3, colour=LINE, dashes="8 6"),
        _line(loaded, width=6, colour=LIMIT if d["loaded"] < 0.0 else INK), *under, _dot(x0, eyes), _dot(x0 + (d["front"] + d["rear"]) * scale, eyes),
        text(clamp, 30, f"free {_told(d['arch'], units)}, under its load {_told(d['loaded'], units)}", size=17, fill=MUTED),
        _handle("arch", (clamp, eyes - d["arch"] * scale), units, "Free arch", y=("arch", d["arch"], -scale)),
        _handle("front", (x0 + 18, eyes + 34), units, "Clamp to front eye", x=("front", d["front"], -scale)),
        _handle("rear", (x0 + (d["front"] + d["rear"]) * scale - 18, eyes + 34), units, "Clamp to rear eye", x=("rear", d["rear"], scale)),
    ]  # fmt: skip


def _stabilizer(d: Drawn, units: System) -> list[SafeString]:
    """Return the stabilizer in plan: the link's way from lock to lock, the unit between it and the frame."""
    scale = 0.62 * WIDE / max(d["across"] + d["lock"], 0.2)
    x0, y0 = 0.22 * WIDE, TALL * 0.55
    frame = (x0 + d["across"] * scale, y0 - d["along"] * scale)
    ways = [x0 - d["lock"] * scale, x0 + d["lock"] * scale]
    return [
        _line([(ways[0], y0), (ways[1], y0)], width=3, colour=MUTED), *(_line([(x, y0), frame], width=3, colour=LINE, dashes="7 6") for x in ways),
        _line([(x0, y0), frame], width=9), _dot(x0, y0), text(x0, y0 + 34, "link, lock to lock", size=15, fill=MUTED),
        text(frame[0], frame[1] - 22, "on the frame", size=15, fill=MUTED),
        text(WIDE - 12, 24, f"shut {_told(d['closed'], units)}, open {_told(d['open'], units)}", size=15, anchor="end", fill=MUTED),
        _handle("frame", frame, units, "Frame mount: arrows move it", x=("across", d["across"], scale), y=("along", d["along"], -scale)),
        _handle("lock", (ways[1], y0), units, "Link at lock", x=("lock", d["lock"], scale)),
    ]  # fmt: skip


DRAWINGS: dict[str, Callable[[Drawn, System], list[SafeString]]] = {
    "damper": _damper,
    "bar": _bar,
    "leaf": _leaf,
    "stabilizer": _stabilizer,
}
