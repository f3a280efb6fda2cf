"""The readings as the estimate takes them: means of an axle with their own sigma, the hitch, named points.

Source: method sections 2 to 4.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence
from math import hypot

from vantok_core.facts import Job, JobReading
from vantok_core.facts.classes import LEAF_FRICTION, SPRINGS
from vantok_core.physics.vehicle import AXLE_CORNERS, AXLES
from vantok_core.rates.places import Place
from vantok_core.rates.problem import HeightReading
from vantok_core.readings.tape import reading_sigma, repeated

AXLE_DATUM = {"ground_arch": "ground", "hub_arch": "hub", "rim_arch": "rim"}
"""The core's datum of each arch datum."""


NO_SIDE = 0.006
"""How far a height whose side nobody noted may stand off its axle's mean, one sigma (m, setting): half of a usual lean."""
TAPE_SIGMA = 0.002
"""How a tape is set at its mark, one sigma, m (method section 21)."""
SETTLED = 0.5
"""What of its friction a vehicle keeps that was rolled and bounced before it was read (method section 21)."""
UNSETTLED = 3.0
"""How many times as far a reading that is not settled may stand off (setting)."""


def _friction(job: Job, reading: JobReading) -> tuple[float, float]:
    """Return what friction leaves in a reading (m, one sigma): alike on its axle, and at its corner. Pressed and lifted, its middle was found; rolled and
    bounced, half is left; lifted since it
    was rolled, or drifting, it may stand anywhere in thrice that. Source: method section 21."""
    v = job.vehicle
    kind = v.front_spring if reading.place in ("FL", "FR", "front") else v.rear_spring
    alike, own = SPRINGS[kind].friction if kind in SPRINGS else LEAF_FRICTION
    if reading.friction_m is not None and not reading.unsettled:
        return 0.0, 0.0
    state = job.state(reading.state)
    settled = state is not None and state.condition is not None and state.condition.settled
    times = UNSETTLED if reading.unsettled else SETTLED if settled else 1.0
    return times * alike, times * own


def corner_sigma(job: Job, reading: JobReading) -> float:
    """Return a reading's sigma (m) against another of its own axle in the same state: how the tape was set, its step, the corner's own friction; of several
    readings what they tell by themselves."""
    if not reading.unsettled and len(reading.repeats_m) > 1:
        return repeated(reading.repeats_m, reading.resolution_m).sigma
    return hypot(TAPE_SIGMA, reading_sigma(reading.resolution_m, _friction(job, reading)[1]))


def reading_own_sigma(job: Job, reading: JobReading) -> float:
    """Return a reading's whole sigma (m): beside its own what an axle's friction moves both sides by."""
    return hypot(corner_sigma(job, reading), alike_sigma(job, reading))


def alike_sigma(job: Job, reading: JobReading) -> float:
    """Return the part of a reading's sigma (m) that the other side of its axle shares in the same state."""
    repeated_settled = not reading.unsettled and len(reading.repeats_m) > 1
    return 0.0 if repeated_settled else _friction(job, reading)[0]


def mean_sigma(job: Job, readings: Sequence[JobReading]) -> float:
    """Return the sigma of the mean of an axle's readings in one state (m)."""
    own = hypot(*(corner_sigma(job, r) for r in readings)) / len(readings)
    return hypot(own, max(alike_sigma(job, r) for r in readings))


def mean_readings(job: Job, states: Collection[str], on: Sequence[Job] = ()) -> list[HeightReading]:
    """Return the axle-mean height readings of the given states (and the hitch), before any kit, then with kits on as each of `on` has them."""
    found: list[HeightReading] = []
    for count, read in enumerate((job, *on)):
        for state in job.states:
            if state.key in states:
                found += [*_axle_means(read, state.key, count), *_point_readings(read, state.key, count)]
    return found


def _axle_means(job: Job, state: str, kits: int) -> list[HeightReading]:
    """Return the means of the axles read on both sides, on each arch datum; else a height whose side nobody noted, wider."""
    found, phase = [], "after" if kits else "before"
    for datum, core_datum in AXLE_DATUM.items():
        for axle in AXLES:
            left, right = (job.at(state, corner, datum, phase) for corner in AXLE_CORNERS[axle])
            whole = job.at(state, axle, datum, phase)
            if (left is None or right is None) and whole is not None:
                sigma = hypot(reading_own_sigma(job, whole), NO_SIDE)
                found.append(
                    HeightReading(
                        state=state, place=Place(axle, core_datum), value=whole.value_m, sigma=sigma, kits=kits
                    )
                )
            elif left is not None and right is not None:
                sigma = mean_sigma(job, (left, right))
                mean, place = (left.value_m + right.value_m) / 2, Place(axle, core_datum)
                found.append(HeightReading(state=state, place=place, value=mean, sigma=sigma, kits=kits))
    return found


def _point_readings(job: Job, state: str, kits: int) -> list[HeightReading]:
    """Return the readings of the hitch and of named points."""
    found, phase = [], "after" if kits else "before"
    for key, place in body_points(job).items():
        one = job.at(state, key, "ground_hitch" if key == "hitch" else "ground_point", phase)
        if one is not None:
            sigma = reading_own_sigma(job, one)
            found.append(HeightReading(state=state, place=place, value=one.value_m, sigma=sigma, kits=kits))
    return found


def body_points(job: Job) -> dict[str, Place]:
    """Return the body's points read above ground away from the arches, by key: the hitch and the vehicle's named points."""
    v = job.vehicle
    found = {p.key: Place("point", p.key, p.station_m, p.lateral_m) for p in v.points}
    if v.base_m is not None and v.hitch_overhang_m is not None:
        found["hitch"] = Place("point", "hitch", v.base_m + v.hitch_overhang_m)
    return found
