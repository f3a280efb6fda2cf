"""A vehicle as small as a line of a list: its body as it stands, wheels on the ground; dashed outline where nobody knows how it stands."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

from django.utils.safestring import SafeString

from vantok.drawing.bodies import DEFAULT_LENGTH, outline
from vantok.drawing.stance import TIMES
from vantok.drawing.svg import INK, LINE, MUTED, polygon, tag
from vantok_core.facts import JobVehicle

WIDE, TALL = 132.0, 54.0
GROUND = 50.0
WHEEL = 0.36
"""A wheel's radius as drawn, m."""


OUTLINED = ("body", "wheelbase_m", "rear_overhang_m", "hitch_overhang_m")
"""What a vehicle's outline takes of its record."""


def outline_of(vehicle: Any) -> tuple[Any, ...]:
    """Return what a record's vehicle tells of its outline."""
    return tuple(getattr(vehicle, name) for name in OUTLINED)


@lru_cache(maxsize=2048)
def small_svg(told: tuple[Any, ...], stands: tuple[float, ...]) -> SafeString:
    """Return the vehicle of an outline; stands: how far front and rear are down from empty, m, drawn three times as large."""
    vehicle = JobVehicle(**dict(zip(OUTLINED, told, strict=True)))
    shape, _ = outline(vehicle)
    length = vehicle.wheelbase_m or DEFAULT_LENGTH
    low, high = min(x for x, _ in shape), max(x for x, _ in shape)
    scale = min((WIDE - 6.0) / (high - low), (GROUND - 4.0) / (max(y for _, y in shape) + 0.1))
    left = (WIDE - scale * (high - low)) / 2
    front, rear = (TIMES[1] * drop for drop in stands or (0.0, 0.0))

    def at(x: float, y: float) -> tuple[float, float]:
        drop = front + (rear - front) * x / length
        return left + (x - low) * scale, GROUND - (y - drop) * scale

    look = {"stroke": INK, "stroke_width": 1.6} if stands else {"stroke": MUTED, "stroke_dasharray": "4 3"}
    wheels = [
        tag("circle", cx=left + (x - low) * scale, cy=GROUND - WHEEL * scale, r=WHEEL * scale, fill="#2c3a33")
        for x in (0.0, length)
    ]
    return tag(
        "svg",
        tag("line", x1=0, y1=GROUND, x2=WIDE, y2=GROUND, stroke=LINE),
        polygon((at(x, y) for x, y in shape), fill="#e9e2cf" if stands else "none", **look),
        *wheels,
        viewBox=f"0 0 {WIDE:.0f} {TALL:.0f}",
        aria_hidden="true",
        class_="small-stance",
    )
