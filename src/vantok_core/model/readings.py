"""The readings as the estimate takes them: means of an axle with their own sigma, the hitch, named points.

Source: method sections 2 to 4.
"""

from __future__ import annotations

from collections.abc import Collection
from math import hypot

from vantok_core.classes import (
    SPRINGS,
)
from vantok_core.job import Job, JobReading
from vantok_core.rates.estimate import (
    HeightReading,
    Place,
)
from vantok_core.readings.tape import reading_sigma
from vantok_core.vehicle import (
    AXLE_CORNERS,
    AXLES,
)

AXLE_DATUM = {"ground_arch": "ground", "hub_arch": "hub"}
"""The core's datum of each arch datum."""


def reading_own_sigma(job: Job, reading: JobReading) -> float:
    """Return a reading's own sigma (m): its tape step and how its axle settles."""
    v = job.vehicle
    kind = v.front_spring if reading.place in ("FL", "FR") else v.rear_spring
    settle = SPRINGS[kind].settle if kind in SPRINGS else 0.003
    return reading_sigma(reading.resolution_m, settle)


def mean_readings(job: Job, states: Collection[str], with_kit: bool) -> list[HeightReading]:
    """Return the axle-mean height readings of the given states (and the hitch), those with a kit only when it is known."""
    found: list[HeightReading] = []
    for phase in ("before", "after") if with_kit else ("before",):
        for state in job.states:
            if state.key not in states:
                continue
            for datum, core_datum in (("ground_arch", "ground"), ("hub_arch", "hub")):
                for axle in AXLES:
                    pair = [job.at(state.key, corner, datum, phase) for corner in AXLE_CORNERS[axle]]
                    both = [r for r in pair if r is not None]
                    if len(both) == 2:
                        sigma = hypot(*(reading_own_sigma(job, r) for r in both)) / 2
                        mean = sum(r.value_m for r in both) / 2
                        place = Place(axle, core_datum)
                        found.append(
                            HeightReading(
                                state=state.key, place=place, value=mean, sigma=sigma, with_kit=phase == "after"
                            )
                        )
            for key, place in body_points(job).items():
                one = job.at(state.key, key, "ground_hitch" if key == "hitch" else "ground_point", phase)
                if one is not None:
                    sigma = reading_own_sigma(job, one)
                    found.append(
                        HeightReading(
                            state=state.key, place=place, value=one.value_m, sigma=sigma, with_kit=phase == "after"
                        )
                    )
    return found


def body_points(job: Job) -> dict[str, Place]:
    """Return the body's points read above ground away from the arches, by key: the hitch and the vehicle's named points."""
    v = job.vehicle
    found = {p.key: Place("point", p.key, p.station_m, p.lateral_m) for p in v.points}
    if v.base_m is not None and v.hitch_overhang_m is not None:
        found["hitch"] = Place("point", "hitch", v.base_m + v.hitch_overhang_m)
    return found
