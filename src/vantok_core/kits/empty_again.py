"""How a vehicle that is never empty would stand empty, where its empty load is known: solved, and called an estimate.

Source: method-2 section 8.
"""

from __future__ import annotations

from math import hypot

from vantok_core.base.errors import InputError
from vantok_core.base.figure import NINE_IN_TEN, Figure
from vantok_core.base.units import both
from vantok_core.loads.unweighed import reference_load
from vantok_core.model import JobModel
from vantok_core.physics.stance.report import report
from vantok_core.physics.stance.states import solve_states
from vantok_core.physics.vehicle import AXLES, Item, LoadState

NAME = "estimated empty"


def estimated_empty(model: JobModel) -> Figure | None:
    """Return the empty vehicle's mean rear ground drop from as it stands (m, negative: higher), with its sigma; None where it is not known.

    Formula: the reference state with the difference of both axles' loads taken off, solved; sigma from the reference's load and the
    rear's rate. Raises InputError for an empty vehicle surely heavier than as it stands. Source: method-2 section 8.
    """
    told, reference = model.job.empty_load, reference_load(model.job)
    if not model.job.never_empty or told is None or reference is None:
        return None
    off = {axle: kg - reference[axle][0] for axle, kg in zip(AXLES, (told.front_kg, told.rear_kg), strict=True)}
    for axle in AXLES:
        if off[axle] > 2.0 * NINE_IN_TEN * reference[axle][1]:
            raise InputError(
                "empty load",
                both("mass", reference[axle][0] + off[axle]),
                f"it is more than stands on the {axle} axle with everything on board",
            )
    drop = _drop(model, off["front"], off["rear"])
    felt = [
        reference[axle][1] * (_drop(model, off["front"] + (axle == "front"), off["rear"] + (axle == "rear")) - drop)
        for axle in AXLES
    ]
    rate = float(model.estimate.covariance[1, 1]) ** 0.5 * drop
    return Figure(value=drop, sigma=hypot(*felt, rate))


def _drop(model: JobModel, front: float, rear: float) -> float:
    """Return the rear drop (m) with so much more (kg) on each axle than in the reference state."""
    items = (Item(mass=front, station=0.0, name="front"), Item(mass=rear, station=model.vehicle.wheelbase, name="rear"))
    states = [*model.states.values(), LoadState(name=NAME, items=items)]
    return float(report(model.vehicle, solve_states(model.vehicle, states, check_limits=False)[NAME]).d_r)
