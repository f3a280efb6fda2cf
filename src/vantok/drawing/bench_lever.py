"""The tongue bench's drawing: the trailer as a lever from ball to axle, with what it is weighed by."""

from __future__ import annotations

from django.utils.safestring import SafeString

from vantok.drawing.axle_parts import PART, SOFT
from vantok.drawing.bench_curves import told
from vantok.drawing.bench_shapes import TALL, WIDE, Drawn, dot, handle, line
from vantok.drawing.svg import INK, LIMIT, LINE, MUTED, tag, text
from vantok_core.base.units import System, show

GROUND, FRAME = TALL - 46.0, 150.0
USUAL = 4.0
"""How far the axle is drawn from the ball while that is not known (m)."""


def tongue(d: Drawn, units: System) -> list[SafeString]:
    """Return the trailer's frame as a lever, the board with its scale under it, or the mass behind the axle; arms to scale."""
    ball, room = (200.0, 0.5) if d["board"] else (70.0, 0.62)
    length = d["axle"] or USUAL
    scale = room * WIDE / max(length + d["behind"], 1.0)
    axle = ball + length * scale
    held = ball + d["held"] * scale
    end = max(axle + d["behind"] * scale, axle + 40.0) + 30.0
    under = _stack(d, units, axle, scale) if d["stack"] else _board(d, units, held) if d["board"] else _scale(held)
    wheel = [
        tag("circle", cx=axle, cy=GROUND - 40, r=40, fill="#2c3a33"),
        tag("circle", cx=axle, cy=GROUND - 40, r=18, fill="#dcd6c4"),
    ]
    axle_handle = (
        handle("axle", (axle, FRAME - 26), units, "Ball to trailer axle", x=("axle", d["axle"], scale))
        if d["axle"]
        else SafeString("")
    )
    return [
        line([(20, GROUND), (WIDE - 20, GROUND)], width=2, colour=MUTED),
        line([(ball, FRAME), (end, FRAME)], width=10),
        *wheel,
        dot(ball, FRAME, 10),
        *under,
        line([(ball, FRAME - 26), (axle, FRAME - 26)], width=2, colour=MUTED),
        text(
            (ball + axle) / 2,
            FRAME - 34,
            told(d["axle"], units) if d["axle"] else "to the axle: not entered",
            size=16,
            fill=MUTED,
        ),
        text(
            ball,
            FRAME - 70,
            show("mass", d["tongue"], units) if d["tongue"] else "not weighed",
            size=26,
            font_weight=600,
        ),
        line([(ball, FRAME - 60), (ball, FRAME - 16)], width=4, colour=LIMIT),
        axle_handle,
    ]


def _scale(held: float) -> list[SafeString]:
    return [line([(held, FRAME), (held, GROUND - 20)], width=6, colour=MUTED), _pad(held)]


def _pad(x: float) -> SafeString:
    return tag("rect", x=x - 26, y=GROUND - 20, width=52, height=18, rx=4, fill=SOFT, stroke=PART, stroke_width=3)


def _board(d: Drawn, units: System, held: float) -> list[SafeString]:
    """Return the board under the tongue, to its own scale: fixed end, tongue, scale."""
    per = 190.0 / max(d["to_scale"], 0.1)
    at, far, y = held, held + (d["to_scale"] - d["to_tongue"]) * per, GROUND - 30
    left = held - d["to_tongue"] * per
    return [
        line([(held, FRAME), (at, y)], width=6, colour=MUTED),
        line([(left, y), (far, y)], width=9, colour=PART),
        line([(left, y + 6), (left, GROUND)], width=8, colour=INK),
        _pad(far),
        text(left, GROUND + 20, "fixed", size=15, fill=MUTED),
        text(far, GROUND + 20, f"scale {told(d['to_scale'], units)}", size=15, fill=MUTED),
        handle("to_tongue", (at, y), units, "Fixed end to tongue", x=("to_tongue", d["to_tongue"], per)),
    ]


def _stack(d: Drawn, units: System, axle: float, scale: float) -> list[SafeString]:
    """Return the mass behind the axle, its middle where it stands, and the stand that waits under the tail."""
    x = axle + d["behind"] * scale
    pieces = [
        tag("rect", x=x - 26, y=FRAME - 24 - 20 * n, width=52, height=18, fill=SOFT, stroke=PART, stroke_width=2)
        for n in range(3)
    ]
    return [
        *pieces,
        line([(x + 20, FRAME + 24), (x + 20, GROUND)], width=8, colour=LINE),
        text(x + 20, GROUND + 20, "stand, clear of it", size=15, fill=MUTED),
        text(x, FRAME - 96, told(d["behind"], units), size=16, fill=MUTED),
        handle("behind", (x, FRAME - 80), units, "Stack's middle behind the axle", x=("behind", d["behind"], scale)),
    ]
