"""What a job lacks, and what that blocks; whether a load is known. Unknown is never nought.

Source: method sections 2 to 4.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

from vantok_core.base.errors import InputError
from vantok_core.base.names import ARCHES
from vantok_core.facts import Job, JobState
from vantok_core.facts.classes import BODIES
from vantok_core.loads.plan import scale_loads
from vantok_core.loads.unweighed import reference_load
from vantok_core.physics.vehicle import AxleName


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
        "wheelbase": v.base_m,
        "front suspension": v.front_spring,
        "rear suspension": v.rear_spring,
        "tyre class": v.tyres,
    }
    found += [
        Missing(w, "all loads, rates and predictions", "vehicle", True) for w, value in hard.items() if value is None
    ]
    ratings = {
        "gross rating": v.gross_kg,
        "front axle rating": v.front_axle_kg,
        "rear axle rating": v.rear_axle_kg,
    }
    found += [
        Missing(w, "its margin; typical rates are rougher without it", "vehicle")
        for w, x in ratings.items()
        if x is None
    ]
    if v.defaults:
        found.append(
            Missing(
                "which of the starting vehicle’s figures are this one’s", "every limit a default stands for", "vehicle"
            )
        )
    hitched = any(s.hitched for s in job.states)
    if hitched:
        towing = {"hitch overhang": v.hitch_overhang_m, "hitch rating": v.hitch_kg, "towed rating": v.towed_kg}
        found += [Missing(w, "the tongue's lever and hitch margins", "vehicle") for w, x in towing.items() if x is None]
    found += _of_reference(job)
    for state in job.loaded:
        gap = load_gap(job, state)
        if gap:
            blocks = "margins" if off_springs(job, state) else "rates, margins and predictions"
            found.append(Missing(gap.what, f"the {blocks} of “{state.name}”", "weigh"))
    return found


def _of_reference(job: Job) -> list[Missing]:
    """Return what is lacking of the reference: the empty vehicle, or one that is never empty as it stands."""
    if job.empty is None:
        return [Missing("an empty state", "sag, rates and every comparison", "weigh", True)]
    if scale_loads(job.empty) is not None:
        return []
    if not job.never_empty:
        blocks = "margins, ride frequency and bands (taken from the class meanwhile)"
        return [Missing("empty axle loads", blocks, "weigh")]
    if reference_load(job) is None:
        what = "both axle ratings off the plate, or the axle loads as it stands"
        return [Missing(what, "all loads, rates and predictions", "vehicle", True)]
    return [Missing("the axle loads as it stands", "margins and bands (guessed from the ratings meanwhile)", "weigh")]


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
    if state.tongue or state.hitched:
        return _tongue_gap(job, state) or _rest_gap(state)
    if state.contents or state.more:
        return _rest_gap(state)
    if weighed:
        what = f"the empty axle loads, without which the weighed “{state.name}” tells no gain"
        return LoadGap(what, "Weigh the empty vehicle.")
    return LoadGap(f"the load of “{state.name}”", "Weigh it, or list what is on it.")


def _tongue_gap(job: Job, state: JobState) -> LoadGap | None:
    if not state.tongue:
        return LoadGap(f"the tongue load of “{state.name}”", "Read the tongue, or list what is on the trailer.")
    if job.vehicle.hitch_overhang_m is None:
        what = f"the hitch overhang, the lever of the tongue of “{state.name}”"
        return LoadGap(what, "Measure from the rear axle to the ball.")
    return None


def _rest_gap(state: JobState) -> LoadGap | None:
    return LoadGap(f"what else is on board in “{state.name}”", "Weigh it, or list the rest.") if state.more else None


def off_springs(job: Job, state: JobState) -> bool:
    """Tell whether a load nobody knows can be read off the springs: its heights and the reference's, and how much there could be.

    Source: method section 8.
    """
    if state.past or load_gap(job, state) is None or not all(gain_scale(job, axle) for axle in _sprung_axles(job)):
        return False
    return all(_read_in_both(job, state, axle) for axle in _sprung_axles(job))


def _sprung_axles(job: Job) -> tuple[AxleName, ...]:
    return ("rear",) if BODIES[job.vehicle.body].trailer else ("front", "rear")


def gain_scale(job: Job, axle: AxleName) -> float | None:
    """Return what the size of an axle's unknown gain is guessed from (kg): its rating, else its reference load."""
    rating = job.vehicle.front_axle_kg if axle == "front" else job.vehicle.rear_axle_kg
    loads = scale_loads(job.empty) if job.empty else None
    return rating or (loads[0 if axle == "front" else 1] if loads else None)


def _read_in_both(job: Job, state: JobState, axle: AxleName) -> bool:
    keys = (job.empty.key, state.key) if job.empty else ()
    return bool(keys) and any(all(job.read_over(key, axle, datum) for key in keys) for datum in ARCHES)


def has_load(job: Job, state: JobState) -> bool:
    """Tell whether what a state carries is known against the empty vehicle."""
    return load_gap(job, state) is None
