"""What stands in for a scale and an empty vehicle that nobody will ever see (method section 8)."""

from __future__ import annotations

from vantok_core.base.errors import InputError
from vantok_core.facts import Job
from vantok_core.facts.classes import SCALE_SIGMA
from vantok_core.loads.plan import scale_loads
from vantok_core.physics.vehicle import AxleName

USUAL_SHARE, SHARE_SIGMA = 0.9, 0.1
"""An axle nobody weighed carries this share of its rating, give or take (one sigma); said beside every figure made from it."""


def plate_axle_load(rating: float) -> tuple[float, float]:
    """Return the load that stands in for an axle nobody weighed, and its sigma.

    Formula: 0.9 of the rating, sigma 0.1 of it. Arguments: rating: kg. Result: kg, kg. Raises InputError for a rating not above
    zero. Source: method section 8.
    """
    if not rating > 0.0:
        raise InputError("rating", rating, "a rating must be above zero")
    return USUAL_SHARE * rating, SHARE_SIGMA * rating


def gap_when_touching(free_length: float, present_length: float) -> float:
    """Return the gap of a stop that is touched where it was measured: what it is pressed by, negative.

    Arguments: free_length, present_length: m. Result: m. Raises InputError for a stop longer than it is free: then it does not touch.
    Source: method section 8.
    """
    if not 0.0 < present_length <= free_length:
        raise InputError("present length", present_length, "a touched stop is no longer than it is free")
    return present_length - free_length


def reference_load(job: Job) -> dict[AxleName, tuple[float, float]] | None:
    """Return what stands on both axles in the reference state, each with its sigma (kg, kg); None where it was not weighed.

    Off the scale where there is one. A vehicle that is never empty stands in the share of its ratings usual for such ones until it is
    weighed. Source: method section 8.
    """
    if job.empty is not None and (scale := scale_loads(job.empty)) is not None:
        return {"front": (scale[0], SCALE_SIGMA), "rear": (scale[1], SCALE_SIGMA)}
    front, rear = job.vehicle.front_axle_kg, job.vehicle.rear_axle_kg
    if job.never_empty and front is not None and rear is not None:
        return {"front": plate_axle_load(front), "rear": plate_axle_load(rear)}
    return None
