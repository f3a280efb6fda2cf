"""What wheel pads carry beyond the plan of a load.

Source: least squares (textbook) over the solved vehicle.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import hypot, sqrt

import numpy as np

from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.num import G
from vantok_core.facts import Job, JobState
from vantok_core.model.build import build_model
from vantok_core.model.calibrated import JobModel
from vantok_core.physics.stance.report import report
from vantok_core.physics.stance.states import solve_states
from vantok_core.physics.vehicle import CORNERS, Item

PAD = 3.0
"""A wheel pad's own sigma (kg), where nobody says (setting)."""
PROBE = 10.0
"""Mass (kg) put on the model to learn what a place does to the four pads."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Unlisted:
    """What the pads carry beyond the plan: its mass and sigma (kg), where its middle is (m behind the front axle, m left; None: not told apart from none),
    with their sigmas (m), and by how much the pads miss it at most (kg)."""

    mass: float
    sigma: float
    station: tuple[float, float] | None
    lateral: tuple[float, float] | None
    misfit: float


def unlisted(job: Job, state: JobState) -> Unlisted | None:
    """Return the load and place that the pads of a state show beyond its plan; None unless it and the empty vehicle stood on four pads.

    Formula: `r = J (m, m x, m y)` over the four pads by least squares, `J` what a kilogram, a kilogram metre along and across do to them on the solved
    vehicle. Result: kg and m. Raises VantokError where it cannot be solved. Source: least squares, own derivation.
    """
    if state.empty or state.corners_kg is None or job.empty is None or job.empty.corners_kg is None:
        return None
    bare = state.model_copy(
        update={"corners_kg": None, "front_kg": None, "rear_kg": None, "weighed_gain_kg": None, "more": False}
    )
    planned = job.model_copy(
        update={
            "states": tuple(bare if s.key == state.key else s for s in job.states),
            "readings": tuple(r for r in job.readings if r.datum == "stop_gap"),
        }
    )
    model = build_model(planned)
    now = _pads(model, state.key, ())
    base = model.vehicle.wheelbase
    columns = [
        (_pads(model, state.key, (Item(mass=PROBE, station=x, lateral=y, name="probe"),)) - now) / PROBE
        for x, y in ((0.0, 0.0), (base, 0.0), (0.0, 1.0))
    ]
    effect = np.column_stack([columns[0], (columns[1] - columns[0]) / base, columns[2] - columns[0]])
    over = np.array(state.corners_kg) - now
    found, *_ = np.linalg.lstsq(effect, over, rcond=None)
    spread = np.linalg.inv(effect.T @ effect) * PAD**2
    kg, along, across = (float(v) for v in found)
    sigma, misfit = sqrt(float(spread[0, 0])), float(np.max(np.abs(over - effect @ found)))
    if abs(kg) <= NINE_IN_TEN * sigma:
        station = lateral = None
    else:
        station = along / kg, hypot(sqrt(float(spread[1, 1])), along / kg * sigma) / abs(kg)
        lateral = across / kg, hypot(sqrt(float(spread[2, 2])), across / kg * sigma) / abs(kg)
    return Unlisted(
        mass=kg,
        sigma=sigma,
        station=station,
        lateral=lateral,
        misfit=misfit,
    )


def _pads(model: JobModel, key: str, more: tuple[Item, ...]) -> np.ndarray:
    """Return what stands on the four pads (kg) in a state with more on it."""
    states = dict(model.states)
    states[key] = replace(states[key], items=(*states[key].items, *more))
    solved = solve_states(model.vehicle, list(states.values()), check_limits=False)[key]
    loads = report(model.vehicle, solved).load
    return np.array([float(loads[c]) / G for c in CORNERS])
