"""A ride as the page's animation takes it: the road, the vehicle's outline, and of each configuration its motion in whole numbers."""

from __future__ import annotations

import base64
from collections.abc import Sequence
from typing import Any

import numpy as np

from vantok.drawing.bodies import outline
from vantok_core.base.num import FloatArray
from vantok_core.facts import JobVehicle
from vantok_core.facts.classes import BODIES
from vantok_core.judge.ride.ready import SEAT_NAME, Over
from vantok_core.judge.ride.told import Driven
from vantok_core.physics.elements.laws import Stop
from vantok_core.road.simulate import Run

EVERY = 0.02
"""Time between the pictures that are sent (s); the page draws between them."""
FULL = 32_000.0
ROAD_STEP = 0.05
WHEEL = 0.36
"""Radius of a wheel as drawn, m."""


def film(vehicle: JobVehicle, driven: Sequence[Driven], over: Over) -> dict[str, Any]:
    """Return all that the animation needs of a piece; configurations that could not be driven are left out of it."""
    runs = [(one, one.run) for one in driven if one.run is not None]
    if not runs:
        return {}
    first = runs[0][1]
    body, windows = outline(vehicle)
    style, own = BODIES[vehicle.body], first.ridden.vehicle
    return {
        "every": EVERY,
        "speed": over.speed,
        "base": own.wheelbase,
        "tracks": [own.front.track, own.rear.track],
        "wheel": WHEEL,
        "body": body,
        "windows": windows,
        "width": style.width,
        "roof": style.roof,
        "road": _road(first),
        "shown": [_configuration(one, run) for one, run in runs],
    }


def _road(run: Run) -> dict[str, Any]:
    """Return the road's height (m) from behind the vehicle's start to ahead of its end, both tracks."""
    begin, end = -2.0 * run.ridden.wheelbase, run.set.speed * run.set.duration + 2.0 * run.ridden.wheelbase
    along = np.arange(begin, end, ROAD_STEP)
    left, right = run.set.road.left_right(along, run.ridden.apart)
    return {"from": begin, "step": ROAD_STEP, "left": _packed(left), "right": _packed(right)}


def _configuration(one: Driven, run: Run) -> dict[str, Any]:
    """Return one configuration's motion: body and wheels for the pictures, traces for the curves; how low it stands at rest (m)."""
    pick = slice(None, None, round(EVERY * run.set.sample_rate))
    x, body = run.x[pick], run.ridden.body
    traces: list[tuple[str, str, FloatArray]] = []
    if any(p.name == SEAT_NAME for p in run.set.points):
        traces.append(("seat", "acceleration", _at(run, SEAT_NAME)[pick]))
    traces.append(("rear", "length", -run.trace(run.x, run.ridden.wheelbase, 0.0)[pick]))
    if (gap := _gap(run)) is not None:
        traces.append(("gap", "length", gap[pick]))
    traces.append(("tyre", "force", np.min(run.tyres[pick], axis=1)))
    traces.append(("roll", "angle", x[:, 2]))
    return {
        "words": one.configuration.words,
        "centre": [body.station, body.lateral],
        "stands": [0.5 * (run.ridden.z0[0] + run.ridden.z0[1]), 0.5 * (run.ridden.z0[2] + run.ridden.z0[3])],
        "places": [_packed(x[:, n]) for n in range(x.shape[1])],
        "traces": {name: {"kind": kind, **_packed(values)} for name, kind, values in traces},
    }


def _at(run: Run, name: str) -> FloatArray:
    point = next(p for p in run.set.points if p.name == name)
    return run.trace(run.acc, point.station, point.lateral)


def _gap(run: Run) -> FloatArray | None:
    """Return what is left to the rear's bump stops (m), of the nearer side; None where it has none."""
    z = run.travel(2), run.travel(3)
    found = [
        law.gap - c
        for line in run.ridden.axles[1].lines
        if line.name == "rear bump stops"
        for law, c in zip((line.left, line.right), line.compressions(*z), strict=True)
        if isinstance(law, Stop)
    ]
    return np.minimum.reduce([np.asarray(one) for one in found]) if found else None


def _packed(values: FloatArray) -> dict[str, Any]:
    """Return figures as whole numbers of two bytes and their scale."""
    most = float(np.max(np.abs(values))) or 1.0
    scale = most / FULL
    return {"scale": scale, "data": base64.b64encode(np.round(values / scale).astype("<i2").tobytes()).decode("ascii")}
