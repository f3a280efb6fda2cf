"""Outlines of the body styles, to scale: (station, height) in metres, front to the left, and their windows."""

from __future__ import annotations

from collections.abc import Callable

from vantok_core.facts import JobVehicle
from vantok_core.facts.classes import BODIES
from vantok_core.loads.places import footprint

Outline = list[tuple[float, float]]
Drawn = tuple[Outline, list[Outline]]
DEFAULT_LENGTH = 3.4
"""Wheelbase drawn until it is known, m."""


def _pickup(a: float, b: float, top: float, length: float) -> Drawn:
    c = 0.62 * length
    shape = [
        (a, 0.52),
        (a, 0.98),
        (a + 0.18, 1.06),
        (-0.05, 1.16),
        (0.50, top - 0.06),
        (0.72, top),
        (c - 0.18, top),
        (c, 1.24),
        (b, 1.24),
        (b, 0.56),
    ]
    return shape, [
        [(0.12, 1.18), (0.60, top - 0.10), (1.20, top - 0.10), (1.20, 1.18)],
        [(1.28, 1.18), (1.28, top - 0.10), (c - 0.26, top - 0.10), (c - 0.12, 1.18)],
    ]


def _wagon(a: float, b: float, top: float, length: float) -> Drawn:
    shape = [
        (a, 0.42),
        (a, 0.78),
        (a + 0.15, 0.86),
        (-0.02, 0.98),
        (0.75, top - 0.05),
        (1.1, top),
        (b - 0.45, top - 0.03),
        (b - 0.06, 0.98),
        (b, 0.86),
        (b, 0.44),
    ]
    return shape, [
        [(0.22, 0.99), (0.84, top - 0.11), (1.5, top - 0.08), (1.5, 0.99)],
        [(1.58, 0.99), (1.58, top - 0.08), (b - 0.55, top - 0.11), (b - 0.25, 0.99)],
    ]


def _box_truck(a: float, b: float, top: float, length: float) -> Drawn:
    shape = [
        (a, 0.55),
        (a, 1.25),
        (a + 0.2, 1.42),
        (-0.35, 2.25),
        (0.0, 2.32),
        (0.62, 2.32),
        (0.62, top),
        (b, top),
        (b, 0.95),
        (0.9, 0.95),
        (0.9, 0.55),
    ]
    return shape, [[(-0.52, 1.45), (-0.26, 2.15), (0.45, 2.15), (0.45, 1.45)]]


def _coach(a: float, b: float, top: float, length: float) -> Drawn:
    shape = [(a, 0.52), (a, 1.3), (a + 0.12, top - 0.25), (a + 0.4, top), (b - 0.1, top), (b, top - 0.15), (b, 0.56)]
    wide = (b - a - 1.6) / 4
    panes = [
        [(x, 1.55), (x, 2.35), (x + wide - 0.25, 2.35), (x + wide - 0.25, 1.55)]
        for x in (a + 1.3 + wide * n for n in range(4))
    ]
    return shape, [[(a + 0.10, 1.35), (a + 0.2, top - 0.5), (a + 0.95, top - 0.5), (a + 0.95, 1.35)], *panes]


def _van(a: float, b: float, top: float, length: float) -> Drawn:
    shape = [
        (a, 0.48),
        (a, 1.02),
        (a + 0.12, 1.12),
        (-0.42, 1.30),
        (0.28, top - 0.08),
        (0.62, top),
        (b - 0.05, top),
        (b, top - 0.10),
        (b, 0.52),
    ]
    high = top >= 2.3
    return shape, [
        [(-0.12, 1.32), (0.24, 1.95) if high else (0.34, top - 0.22), (1.0, 1.95 if high else top - 0.22), (1.0, 1.32)]
    ]


def _caravan(a: float, b: float, top: float, length: float) -> Drawn:
    shape = [
        (a, 0.55),
        (a - 0.05, 1.15),
        (a + 0.10, 1.75),
        (a + 0.45, top - 0.12),
        (a + 0.85, top),
        (b - 0.35, top),
        (b, top - 0.35),
        (b, 0.55),
    ]
    panes = [[(x, 1.35), (x, 1.95), (x + 0.75, 1.95), (x + 0.75, 1.35)] for x in (a + 0.55, b - 1.25)]
    return shape, panes


def _camper_trailer(a: float, b: float, top: float, length: float) -> Drawn:
    shape = [(a, 0.60), (a, 1.05), (a + 0.25, top - 0.1), (a + 0.55, top), (b - 0.15, top), (b, top - 0.25), (b, 0.60)]
    return shape, [[(a + 0.25, 0.80), (a + 0.25, 1.15), (a + 0.95, 1.15), (a + 0.95, 0.80)]]


SHAPES: dict[str, Callable[[float, float, float, float], Drawn]] = {
    "pickup": _pickup,
    "wagon": _wagon,
    "box_truck": _box_truck,
    "coach": _coach,
    "van": _van,
    "high_roof_van": _van,
    "caravan": _caravan,
    "camper_trailer": _camper_trailer,
}


def outline(vehicle: JobVehicle) -> Drawn:
    """Return the body's outline and its windows, (station, height) in m, front to the left."""
    length = vehicle.wheelbase_m or DEFAULT_LENGTH
    place = footprint(vehicle.body, length, vehicle.rear_overhang_m, vehicle.hitch_overhang_m)
    return SHAPES[vehicle.body](place.nose, place.tail, BODIES[vehicle.body].roof, length)
