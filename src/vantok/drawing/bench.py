"""Drawings of the benches, to scale, with handles that move the fields they belong to."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable
from math import cos, pi, sin

from django.utils.safestring import SafeString

from vantok.drawing import bench_parts
from vantok.drawing.bench_curves import curves_svg, told
from vantok.drawing.bench_lever import tongue
from vantok.drawing.bench_shapes import TALL, WIDE, Drawn, dot, handle, line
from vantok.drawing.bench_yaw import yaw
from vantok.drawing.svg import INK, LIMIT, LINE, MUTED, drawing, text
from vantok_core.base.units import System

WORDS = "Drawing to scale; its round handles move the fields"


def bench_svg(key: str, drawn: Drawn, units: System) -> SafeString:
    """Return a bench's drawing of what is known (nought for what is not); empty for one that has none, or where nothing can be drawn of it."""
    draw = DRAWINGS.get(key)
    if draw is None:
        return SafeString("")
    try:
        shapes = draw(defaultdict(float, drawn), units)
    except (ZeroDivisionError, ValueError, OverflowError):
        return SafeString("")  # the page says at the field what cannot be
    return drawing(WORDS, *shapes, viewBox=f"0 0 {WIDE:.0f} {TALL:.0f}", role="group", class_="bench-drawing")


def _damper(d: Drawn, units: System) -> list[SafeString]:
    """Return the damper from the side: at ride height whole, at bump and droop dashed."""
    scale = 0.78 * TALL / max(d["up"] + d["droop"], d["open"], 0.2)
    x0, y0 = WIDE * 0.45, TALL - 30.0 - d["droop"] * scale
    top = (x0 - d["along"] * scale, y0 - d["up"] * scale)
    ways = [(d["bump"], "bump"), (-d["droop"], "droop")]
    ghosts = [line([(x0, y0 - z * scale), top], width=3, colour=LINE, dashes="7 6") for z, _ in ways]
    named = [text(x0 + 20, y0 - z * scale + 5, words, size=15, anchor="start", fill=MUTED) for z, words in ways]
    shut = [
        text(WIDE - 12, 24 + 20 * n, f"{words} {told(d[key], units)}", size=15, anchor="end", fill=MUTED)
        for n, (key, words) in enumerate((("closed", "shut"), ("open", "open")))
    ]
    return [
        line([(x0, y0 + d["droop"] * scale), (x0, y0 - d["bump"] * scale)], width=2, colour=MUTED),
        *ghosts,
        line([(x0, y0), top], width=9),
        *named,
        *shut,
        dot(x0, y0),
        handle(
            "upper",
            top,
            units,
            "Upper mount: arrows move it",
            x=("along", d["along"], -scale),
            y=("up", d["up"], -scale),
        ),
        handle("bump", (x0, y0 - d["bump"] * scale), units, "Wheel up", y=("bump", d["bump"], -scale)),
        handle("droop", (x0, y0 + d["droop"] * scale), units, "Wheel down", y=("droop", d["droop"], scale)),
    ]


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
        line([(20, ground), (WIDE - 20, ground)], width=2, colour=LINE),
        line(swing, width=2, colour=LINE, dashes="6 6"),
        line(travel, width=2, colour=MUTED),
        line([pivot, end], width=10, colour=MUTED),
        line([end, mount], width=6),
        dot(*pivot),
        text(pivot[0], pivot[1] - 18, "bar on the frame", size=15, fill=MUTED),
        handle("arm", end, units, "Arm's end", x=("arm", d["arm"], scale)),
        handle(
            "link",
            mount,
            units,
            "Link on the axle",
            x=("link_at", d["link_at"], scale),
            y=("link_height", d["link_height"], -scale),
        ),
    ]


def _leaf(d: Drawn, units: System) -> list[SafeString]:
    """Return the pack free and under its load, eyes on one line."""
    scale = 0.84 * WIDE / (d["front"] + d["rear"])
    x0, eyes = 0.08 * WIDE, TALL - 70.0

    def curve(arch: float) -> list[tuple[float, float]]:
        a, c = d["front"], d["rear"]
        return [
            (x0 + s * scale, eyes - arch * scale * (1.0 - ((s - a) / (a if s < a else c)) ** 2))
            for s in (n * (a + c) / 40 for n in range(41))
        ]

    free, loaded = curve(d["arch"]), curve(d["loaded"])
    under = [
        line([(x, y + 9 * n) for x, y in loaded[4 * n : 41 - 4 * n]], width=5)
        for n in range(1, min(int(d["leaves"]), 5))
    ]
    clamp = x0 + d["front"] * scale
    return [
        line([(x0, eyes), (x0 + (d["front"] + d["rear"]) * scale, eyes)], width=2, colour=LINE, dashes="6 6"),
        line(free, width=3, colour=LINE, dashes="8 6"),
        line(loaded, width=6, colour=LIMIT if d["loaded"] < 0.0 else INK),
        *under,
        dot(x0, eyes),
        dot(x0 + (d["front"] + d["rear"]) * scale, eyes),
        text(
            clamp,
            30,
            f"free {told(d['arch'], units)}, under its load {told(d['loaded'], units)}"
            if d["known"]
            else "its free arch: not measured",
            size=17,
            fill=MUTED,
        ),
        handle("arch", (clamp, eyes - d["arch"] * scale), units, "Free arch", y=("arch", d["arch"], -scale)),
        handle("front", (x0 + 18, eyes + 34), units, "Clamp to front eye", x=("front", d["front"], -scale)),
        handle(
            "rear",
            (x0 + (d["front"] + d["rear"]) * scale - 18, eyes + 34),
            units,
            "Clamp to rear eye",
            x=("rear", d["rear"], scale),
        ),
    ]


def _stabilizer(d: Drawn, units: System) -> list[SafeString]:
    """Return the stabilizer in plan: the link's way from lock to lock, the unit between it and the frame."""
    scale = 0.62 * WIDE / max(d["across"] + d["lock"], 0.2)
    x0, y0 = 0.22 * WIDE, TALL * 0.55
    frame = (x0 + d["across"] * scale, y0 - d["along"] * scale)
    ways = [x0 - d["lock"] * scale, x0 + d["lock"] * scale]
    return [
        line([(ways[0], y0), (ways[1], y0)], width=3, colour=MUTED),
        *(line([(x, y0), frame], width=3, colour=LINE, dashes="7 6") for x in ways),
        line([(x0, y0), frame], width=9),
        dot(x0, y0),
        text(x0, y0 + 34, "link, lock to lock", size=15, fill=MUTED),
        text(frame[0], frame[1] - 22, "on the frame", size=15, fill=MUTED),
        text(
            WIDE - 12,
            24,
            f"shut {told(d['closed'], units)}, open {told(d['open'], units)}",
            size=15,
            anchor="end",
            fill=MUTED,
        ),
        handle(
            "frame",
            frame,
            units,
            "Frame mount: arrows move it",
            x=("across", d["across"], scale),
            y=("along", d["along"], -scale),
        ),
        handle("lock", (ways[1], y0), units, "Link at lock", x=("lock", d["lock"], scale)),
    ]


__all__ = ["bench_svg", "curves_svg"]

DRAWINGS: dict[str, Callable[[Drawn, System], list[SafeString]]] = {
    "damper": _damper,
    "bar": _bar,
    "leaf": _leaf,
    "stabilizer": _stabilizer,
    "air": bench_parts.air,
    "insert": bench_parts.insert,
    "tyre": bench_parts.tyre,
    "tongue": tongue,
    "yaw": yaw,
    "thread": bench_parts.thread,
}
