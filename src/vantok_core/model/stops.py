"""Whether stops whose gaps nobody read may touch in a state.

Source: method section 21.
"""

from __future__ import annotations

from math import erf, hypot, sqrt

from vantok_core.model.calibrated import JobModel
from vantok_core.physics.elements.laws import Stop
from vantok_core.physics.vehicle import AXLES, AxleName
from vantok_core.rates.places import Place
from vantok_core.rates.traits import GAP_SIGMA, UNREAD_STOPS

MAY_TOUCH = 0.05
"""The chance of touching from which the gap is asked for."""


def may_touch(model: JobModel, state: str) -> tuple[AxleName, ...]:
    """Return the axles whose unread stops touch in a state with a chance worth asking for their gap."""
    return tuple(axle for axle in AXLES if _chance(model, state, axle) > MAY_TOUCH)


def _chance(model: JobModel, state: str, axle: AxleName) -> float:
    gap = _usual_gap(model, axle)
    if gap is None:
        return 0.0
    drop = model.estimate.drop(state, Place(axle, "hub"))
    return 0.5 * (1.0 + erf((drop.value - gap) / hypot(GAP_SIGMA, drop.sigma) / sqrt(2.0)))


def _usual_gap(model: JobModel, axle: AxleName) -> float | None:
    """Return what an axle's unread stop gaps usually are in the reference state (m); None where they were read."""
    for trait in model.estimate.problem.traits:
        if not trait.stops or trait.axle != axle:
            continue
        for element in trait.on(model.prior, 0.0, model.prior).axle(axle).elements:
            if element.name == f"{axle} {UNREAD_STOPS}" and isinstance(element.left, Stop):
                return float(element.left.gap)
    return None
