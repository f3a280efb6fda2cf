"""What a job lacks, and what that blocks; whether a load is known. Unknown is never nought.

Source: method sections 2 to 4.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

from vantok_core.errors import InputError
from vantok_core.job import Job, JobState
from vantok_core.plan import scale_loads


class NotReadyError(InputError):
    """The job lacks what a model needs; `missing` lists it."""

    def __init__(self, missing: list[Missing]) -> None:
        names = ", ".join(m.what for m in missing)
        super().__init__("job", "a job without " + names, "that is needed before anything can be worked out")
        self.missing = missing


@dataclass(frozen=True, slots=True)
class Missing:
    """Something not known yet: what it is, what it blocks, the stage where it is entered; hard when nothing works without."""

    what: str
    blocks: str
    stage: str
    hard: bool = False


def missing(job: Job) -> list[Missing]:
    """Return what the job lacks, in the order of the work."""
    v = job.vehicle
    found = []
    hard = {
        "wheelbase": v.base_m, "front suspension": v.front_spring, "rear suspension": v.rear_spring,
        "tyre class": v.tyres,
    }  # fmt: skip
    found += [
        Missing(w, "all loads, rates and predictions", "vehicle", True) for w, value in hard.items() if value is None
    ]
    ratings = {
        "gross rating": v.gross_kg, "front axle rating": v.front_axle_kg, "rear axle rating": v.rear_axle_kg,
    }  # fmt: skip
    found += [
        Missing(w, "its margin; typical rates are rougher without it", "vehicle")
        for w, x in ratings.items()
        if x is None
    ]
    hitched = any(s.hitched for s in job.states)
    if hitched:
        towing = {"hitch overhang": v.hitch_overhang_m, "hitch rating": v.hitch_kg, "towed rating": v.towed_kg}
        found += [Missing(w, "the tongue's lever and hitch margins", "vehicle") for w, x in towing.items() if x is None]
    if job.empty is None:
        found.append(Missing("an empty state", "sag, rates and every comparison", "weigh", True))
    elif scale_loads(job.empty) is None:
        found.append(
            Missing("empty axle loads", "margins, ride frequency and bands (taken from the class meanwhile)", "weigh")
        )
    for state in job.loaded:
        gap = load_gap(job, state)
        if gap:
            found.append(Missing(gap.what, f"the rates, margins and predictions of “{state.name}”", "weigh"))
    return found


class LoadGap(NamedTuple):
    """What is lacking before a state's load is known, and what would tell it."""

    what: str
    cure: str


def load_gap(job: Job, state: JobState) -> LoadGap | None:
    """Return what is lacking before a state's load is known against the empty vehicle's; None when it is known.

    Unknown is never nought: a state weighed beside an empty vehicle that was not, a trailer whose tongue nobody read and a
    tongue of unknown lever are not known. Source: method section 2.
    """
    weighed = scale_loads(state) is not None
    if state.empty or (weighed and job.empty is not None and scale_loads(job.empty) is not None):
        return None
    if state.hitched and not state.tongue:
        return LoadGap(f"the tongue load of “{state.name}”", "Read the tongue, or list what is on the trailer.")
    if state.tongue and job.vehicle.hitch_overhang_m is None:
        what = f"the hitch overhang, the lever of the tongue of “{state.name}”"
        return LoadGap(what, "Measure from the rear axle to the ball.")
    if state.contents or state.tongue:
        return None
    if weighed:
        what = f"the empty axle loads, without which the weighed “{state.name}” tells no gain"
        return LoadGap(what, "Weigh the empty vehicle.")
    return LoadGap(f"the load of “{state.name}”", "Weigh it, or list what is on it.")


def has_load(job: Job, state: JobState) -> bool:
    """Tell whether what a state carries is known against the empty vehicle."""
    return load_gap(job, state) is None
