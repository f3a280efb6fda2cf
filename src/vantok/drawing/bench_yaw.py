"""The yaw bench's drawing: car and trailer from above, the load that is placed as a handle, where the trailer's mass lies."""

from __future__ import annotations

from django.utils.safestring import SafeString

from vantok.drawing.axle_parts import PART, SOFT
from vantok.drawing.bench_curves import told
from vantok.drawing.bench_shapes import TALL, WIDE, Drawn, dot, handle, line
from vantok.drawing.svg import INK, LIMIT, MUTED, tag, text
from vantok_core.base.units import System, show

MIDDLE = TALL * 0.5
CAR = 2.6
"""How much of the car is drawn ahead of its rear axle, m."""


def yaw(d: Drawn, units: System) -> list[SafeString]:
    """Return the rig from above, to scale along; dragged is the load, and the ball by the overhang."""
    lever = d["lever"] or 4.0
    long = CAR + d["overhang"] + lever + max(d["body"] * 0.5, 0.5)
    scale = (WIDE - 60.0) / long
    rear = 30.0 + CAR * scale
    ball = rear + d["overhang"] * scale
    axle = ball + lever * scale
    centre, load = ball + d["centre"] * scale, ball + d["load_at"] * scale
    front, end = axle - d["body"] * scale * 0.5, axle + d["body"] * scale * 0.5
    wheels = [
        line([(x, MIDDLE + way * 58 - 16), (x, MIDDLE + way * 58 + 16)], width=12)
        for x in (rear, axle)
        for way in (-1, 1)
    ]
    return [
        tag(
            "rect",
            x=30,
            y=MIDDLE - 46,
            width=rear + d["overhang"] * scale * 0.6 - 30,
            height=92,
            rx=10,
            fill="#e9e2cf",
            stroke=INK,
            stroke_width=3,
        ),
        line([(ball, MIDDLE), (max(front, ball + 8), MIDDLE)], width=7),
        tag(
            "rect", x=front, y=MIDDLE - 54, width=end - front, height=108, rx=8, fill=SOFT, stroke=PART, stroke_width=3
        ),
        *wheels,
        dot(ball, MIDDLE, 9),
        line([(centre, MIDDLE - 70), (centre, MIDDLE + 70)], width=2, colour=LIMIT, dashes="6 5"),
        text(centre, MIDDLE + 88, "its mass", size=15, fill=LIMIT),
        tag("rect", x=load - 20, y=MIDDLE - 20, width=40, height=40, rx=4, fill="#f5c518", stroke=INK, stroke_width=2),
        text(
            load, MIDDLE - 30, f"{show('mass', d['load'], units)}, {told(d['load_at'], units)} behind the ball", size=15
        ),
        text(ball, MIDDLE - 64, f"{show('mass', d['nose'], units)} on the nose", size=16, font_weight=600),
        text(30, TALL - 8, "front", size=15, anchor="start", fill=MUTED),
        handle("load_at", (load, MIDDLE + 34), units, "The load, behind the ball", x=("load_at", d["load_at"], scale)),
    ]
