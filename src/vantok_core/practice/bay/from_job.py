"""A case made of a real job: names gone, its calibrated model the truth.

Source: method section 19.
"""

from __future__ import annotations

from typing import cast

from vantok_core.base.errors import InputError
from vantok_core.facts import Complaint, Job, JobState, LoadItem
from vantok_core.facts.classes import BODIES
from vantok_core.model import JobModel
from vantok_core.physics.elements.laws import Stop
from vantok_core.physics.vehicle import CORNERS, AxleName
from vantok_core.practice.bay.case import CAUSES, DEEDS, Case, Deed, Hidden, HiddenAxle, HiddenFault, HiddenLoad

USUAL_RATINGS = ("front_axle_kg", "rear_axle_kg", "gross_kg", "hitch_kg", "towed_kg")


def case_from(model: JobModel, *, code: str, title: str, cause: str, deed: str) -> Case:
    """Return the case of a calibrated job. Raises InputError for a job that lacks what a case needs: a complaint, an empty and a loaded state, an
    empty height at each corner."""
    job = model.job
    empty, loaded = _fit_for(model, cause, deed)
    vehicle = job.vehicle
    ratings = {name: float(value) for name in USUAL_RATINGS if (value := getattr(vehicle, name)) is not None}
    faults = tuple(
        HiddenFault(area=one.area, grade=one.grade, words=_found(one.note))
        for one in job.inspection
        if one.grade in ("fault", "watch")
    )
    return Case(
        code=code,
        title=title,
        level=2,
        skills=("measure", "weigh", "diagnose"),
        told=_told(job, empty, loaded),
        hidden=Hidden(
            wheelbase_m=model.vehicle.wheelbase,
            overhang_m=vehicle.hitch_overhang_m or OVERHANG,
            front=_axle(model, "front"),
            rear=_axle(model, "rear"),
            stands_m=_stands(model, empty.key),
            loads=tuple(_load(model, s.key) for s in loaded),
            faults=faults,
            ratings=ratings,
        ),
        causes=(cause,),
        deeds=(cast("Deed", deed),),
        look=tuple(one.area for one in faults),
        lesson="As it was on the vehicle this case is made of.",
        seed=sum(code.encode()),
    )


OVERHANG = 1.15
"""Behind the rear axle a ball usually sits, m."""


def _fit_for(model: JobModel, cause: str, deed: str) -> tuple[JobState, list[JobState]]:
    """Return the empty state of a job and those it is used in. Raises InputError for a job no case can be made of."""
    job = model.job
    if cause not in CAUSES or deed not in DEEDS:
        raise InputError("cause", cause or "nothing", "choose what was behind it, and what was right to do")
    if not job.complaints:
        raise InputError("complaint", "nothing", "a case begins with a complaint")
    loaded = [s for s in job.states if not s.empty and not s.past and s.key in model.states]
    if job.empty is None or not loaded:
        raise InputError("states", "one", "a case needs the vehicle empty, and as it is used")
    return job.empty, loaded


def _told(job: Job, empty: JobState, loaded: list[JobState]) -> Job:
    """Return the job as the case's trainee finds it: no names, no plate, nothing weighed, nothing read."""
    gone = {name: None for name in (*USUAL_RATINGS, "front_rate_n_per_m", "rear_rate_n_per_m")}
    bare = job.vehicle.model_copy(
        update=gone | {"label": "", "plate": "", "vin": "", "defaults": (), "points": (), "own": {}}
    )
    return Job(
        vehicle=bare,
        states=tuple(s.model_copy(update=UNWEIGHED) for s in (empty, *loaded)),
        complaints=tuple(
            Complaint(code=c.code, speed_mps=c.speed_mps, road=c.road, load=c.load) for c in job.complaints
        ),
    )


UNWEIGHED = {"front_kg": None, "rear_kg": None, "corners_kg": None, "weighed_gain_kg": None, "condition": None}


def _found(note: str) -> str:
    """Return what is found, without names: a note of the shop's own may carry some."""
    return "Not as it should be: what the shop found there." if note else "Not as it should be."


def _stands(model: JobModel, empty: str) -> tuple[float, float, float, float]:
    """Return the empty height at each corner: as read, else as is usual for the body. Raises InputError where hardly any is known."""
    read = {c: model.job.read(empty, c, "ground_arch") for c in CORNERS}
    if not any(read.values()):
        raise InputError("heights", "none", "the empty vehicle was never read from ground to arch")
    low, high = BODIES[model.job.vehicle.body].arch
    beside = {"FL": "FR", "FR": "FL", "RL": "RR", "RR": "RL"}
    found = [one.value_m if (one := read[c] or read[beside[c]]) else (low + high) / 2 for c in CORNERS]
    return found[0], found[1], found[2], found[3]


def _axle(model: JobModel, name: AxleName) -> HiddenAxle:
    own = model.vehicle.axle(name)
    stop = next((e.left for e in own.elements if isinstance(e.left, Stop)), None)
    return HiddenAxle(
        solid=own.solid,
        track_m=own.track,
        unsprung_kg=own.unsprung,
        tyre_rate_n_per_m=float(own.tyre_rate),
        ref_load_n=(float(own.ref_load[0]), float(own.ref_load[1])),
        law=own.spring.kind,  # type: ignore[arg-type] # one of those there are
        rate_n_per_m=float(own.spring.k),
        second_n_per_m=max(float(own.spring.k2), 0.0),
        contact_m=max(float(own.spring.z2), 0.0),
        place_m=own.spring.y,
        gap_m=min(max(float(stop.gap), 0.0), 0.3) if stop is not None else 0.07,
    )


def _load(model: JobModel, key: str) -> HiddenLoad:
    """Return what a state truly carries by the model: what its axles gained, as masses over them and what hangs on."""
    state = model.states[key]
    items = tuple(
        LoadItem(
            name=one.name or f"load {n}",
            mass_kg=max(float(one.mass), 0.0),
            station_m=float(one.station),
            lateral_m=float(one.lateral),
        )
        for n, one in enumerate(state.items, 1)
        if float(one.mass) > 0.0
    )
    return HiddenLoad(state=key, items=items, tongue_kg=float(state.tongue.mass) if state.tongue else 0.0)
