"""The calibrated vehicle: facts and physics brought together.

    >>> from vantok_core.facts.job import Job, JobVehicle
    >>> [lack.what for lack in missing(Job(vehicle=JobVehicle(wheelbase_m=3.5))) if lack.hard]
    ['front suspension', 'rear suspension', 'tyre class', 'an empty state']

In the order of the work: `missing` (what is lacking), `prior` (the class's vehicle), `states` and `readings` (facts as the estimate
takes them), `side` (what lies to one side), `build` (calibration), `calibrated` (the result), `expected` (what it says of the next reading).
"""

from vantok_core.model.build import build_model
from vantok_core.model.calibrated import JobModel, same_basis
from vantok_core.model.expected import derived_height, expected_height, spring_travel
from vantok_core.model.missing import Missing, NotReadyError, has_load, load_gap, missing, off_springs
from vantok_core.model.prior import learnt_of, prior_sigma, prior_vehicle, rear_class, unsprung_mass
from vantok_core.model.readings import (
    AXLE_DATUM,
    TAPE_SIGMA,
    alike_sigma,
    body_points,
    corner_sigma,
    mean_sigma,
    reading_own_sigma,
)

__all__ = [
    "AXLE_DATUM",
    "TAPE_SIGMA",
    "JobModel",
    "Missing",
    "NotReadyError",
    "alike_sigma",
    "body_points",
    "build_model",
    "corner_sigma",
    "derived_height",
    "expected_height",
    "has_load",
    "learnt_of",
    "load_gap",
    "mean_sigma",
    "missing",
    "off_springs",
    "prior_sigma",
    "prior_vehicle",
    "reading_own_sigma",
    "rear_class",
    "same_basis",
    "spring_travel",
    "unsprung_mass",
]
