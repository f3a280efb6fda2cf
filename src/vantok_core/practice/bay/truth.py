"""A case's vehicle as it truly is, and what it truly reads, weighs and allows; nothing here is shown before a run is handed in.

Source: method sections 2, 4, 19 and 21.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from vantok_core.base.num import G
from vantok_core.facts import Fitting, Job, JobReading, JobState
from vantok_core.facts.classes import FACTORY_STOP
from vantok_core.kits.family import KIT_ELEMENT
from vantok_core.kits.fit import with_kit
from vantok_core.kits.registry import family_of
from vantok_core.model import JobModel, build_model
from vantok_core.physics.elements.curve import force_curve
from vantok_core.physics.elements.laws import Stop
from vantok_core.physics.stance.report import StateReport, report
from vantok_core.physics.stance.states import solve_states
from vantok_core.physics.vehicle import (
    CORNERS,
    Axle,
    AxleName,
    Element,
    Item,
    LoadState,
    MainSpring,
    Tongue,
    Vehicle,
)
from vantok_core.practice.bay.case import Case, HiddenAxle

RIM, HITCH = 0.215, 0.46
"""The rim's edge over the hub, and the empty vehicle's hitch above the ground, m."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Now:
    """How a case's vehicle stands: which kits are on, in order, and which areas have been cured."""

    parts: tuple[Fitting, ...] = ()
    cured: frozenset[str] = frozenset()


def bare(case: Case) -> Vehicle:
    """Return the vehicle as it came, but for a kit that was on."""
    hidden = case.hidden
    return Vehicle(wheelbase=hidden.wheelbase_m, front=_axle(hidden.front, "front"), rear=_axle(hidden.rear, "rear"))


def _axle(one: HiddenAxle, name: AxleName) -> Axle:
    stop = Stop(gap=one.gap_m, curve=force_curve(FACTORY_STOP))
    return Axle(
        solid=one.solid,
        track=one.track_m,
        unsprung=one.unsprung_kg,
        tyre_rate=one.tyre_rate_n_per_m,
        ref_load=one.ref_load_n,
        spring=MainSpring(
            name=f"{name} springs",
            kind=one.law,
            k=one.rate_n_per_m,
            k2=one.second_n_per_m,
            z2=one.contact_m,
            y=one.place_m,
        ),
        elements=(Element(name=f"{name} bump stops", left=stop, right=stop, y=one.place_m, fitted="reference"),),
    )


def standing(case: Case, now: Now) -> Vehicle:
    """Return the vehicle as it stands: what was on when it came, then each kit fitted since, as strong as they truly are."""
    hidden, vehicle = case.hidden, bare(case)
    came = (Fitting(kit=hidden.on, setting=hidden.on_setting, state="empty", done=True),) if hidden.on else ()
    for n, part in enumerate((*came, *now.parts)):
        kit = family_of(part.kit).scaled(part.kit, hidden.strength)
        state = part.state if part.state in {s.key for s in case.told.states} else case.judged
        vehicle = _named(with_kit(referred(case), vehicle, kit, part.setting, state=state), f"{KIT_ELEMENT} {n + 1}")
    return vehicle


def _named(vehicle: Vehicle, name: str) -> Vehicle:
    """Return a vehicle with what was just put on it under a name of its own, so that another kit can follow."""

    def axle(one: Axle) -> Axle:
        elements = tuple(replace(e, name=name) if e.name == KIT_ELEMENT else e for e in one.elements)
        bars = tuple(replace(b, name=name) if b.name == KIT_ELEMENT else b for b in one.bars)
        return replace(one, elements=elements, bars=bars)

    return replace(vehicle, front=axle(vehicle.front), rear=axle(vehicle.rear))


def referred(case: Case) -> Job:
    """Return the job as it came in, with what the empty vehicle truly reads: where a kit's reference heights come from."""
    hidden, empty = case.hidden, _empty(case).key
    gaps = {"F": hidden.front.gap_m, "R": hidden.rear.gap_m}
    read = [("ground_arch", c, hidden.stands_m[i]) for i, c in enumerate(CORNERS)]
    read += [("stop_gap", c, gaps[c[0]]) for c in CORNERS]
    read += [("pad_to_pad", c, hidden.pads_m) for c in ("RL", "RR") if hidden.rear.solid]
    readings = (JobReading(state=empty, datum=d, place=c, value_m=v, resolution_m=0.0005) for d, c, v in read)  # type: ignore[arg-type]
    return case.told.model_copy(update={"readings": tuple(readings)})


def _empty(case: Case) -> JobState:
    found = case.told.empty
    assert found is not None  # a case has one
    return found


def load_states(case: Case) -> dict[str, LoadState]:
    """Return every state as it is truly loaded."""
    hidden = {load.state: load for load in case.hidden.loads}
    found = {}
    for state in case.told.states:
        load = hidden.get(state.key)
        items = load.items if load else ()
        found[state.key] = LoadState(
            name=state.key,
            items=tuple(
                Item(mass=one.mass_kg, station=one.station_m, lateral=one.lateral_m, name=one.name) for one in items
            ),
            tongue=Tongue(mass=load.tongue_kg, overhang=case.hidden.overhang_m) if load and load.tongue_kg else None,
        )
    return found


def reports(case: Case, now: Now = Now(), only: Iterable[str] = ()) -> dict[str, StateReport]:
    """Return how the vehicle stands in each state (only: in those, by key)."""
    vehicle, states = standing(case, now), load_states(case)
    solved = solve_states(vehicle, list(states.values()), check_limits=False)
    return {key: report(vehicle, solved[key]) for key in (tuple(only) or states)}


def heights(case: Case, told: StateReport, datum: str, now: Now) -> dict[str, float]:
    """Return what a tape without error would read on a plane floor, by place (m): nothing where the datum cannot be read on it."""
    hidden = case.hidden
    lifted = {c: sum(f.lifts_m[i] for f in hidden.faults if f.area in now.cured) for i, c in enumerate(CORNERS)}
    arch = {c: hidden.stands_m[i] + lifted[c] - float(told.ground_drop[c]) for i, c in enumerate(CORNERS)}
    over_hub = {
        c: hidden.stands_m[i] + lifted[c] - hidden.hub_m - float(told.hub_drop[c]) for i, c in enumerate(CORNERS)
    }
    gaps = {"F": hidden.front.gap_m, "R": hidden.rear.gap_m}
    behind = hidden.wheelbase_m + hidden.overhang_m
    found = {
        "ground_arch": arch,
        "hub_arch": over_hub,
        "rim_arch": {c: h - RIM for c, h in over_hub.items()},
        "stop_gap": {c: max(gaps[c[0]] - float(told.hub_drop[c]), 0.0) for c in CORNERS},
        "pad_to_pad": {c: hidden.pads_m - float(told.hub_drop[c]) for c in ("RL", "RR") if hidden.rear.solid},
        "ground_hitch": {"hitch": HITCH - float(told.drop_at(hidden.wheelbase_m, behind))},
    }
    return found.get(datum, {})


def wheel_loads(told: StateReport) -> dict[str, float]:
    """Return what each wheel stands on the ground with, kg."""
    return {c: float(told.load[c]) / G for c in CORNERS}


def known_job(case: Case) -> Job:
    """Return the job as it would stand if everything were known: plates, loads by the scale, heights, gaps, springs and faults."""
    told = reports(case)
    readings = tuple(
        JobReading(state=state, datum="ground_arch", place=place, value_m=round(value, 4), resolution_m=0.0005)
        for state, one in told.items()
        for place, value in heights(case, one, "ground_arch", Now()).items()
    )
    hidden = case.hidden
    vehicle = case.told.vehicle.model_copy(
        update={
            **hidden.ratings,
            "defaults": (),
            "front_rate_n_per_m": hidden.front.rate_n_per_m,
            "rear_rate_n_per_m": hidden.rear.rate_n_per_m,
            "rear_droop_m": hidden.droop_m,
        }
    )
    return case.told.model_copy(
        update={
            "vehicle": vehicle,
            "states": tuple(_weighed(case, state, told[state.key]) for state in case.told.states),
            "readings": (*readings, *(r for r in referred(case).readings if r.datum != "ground_arch")),
            "space_left_m": 0.06,
            "space_right_m": 0.06,
            "lines": "clear",
        }
    )


def _weighed(case: Case, state: JobState, told: StateReport) -> JobState:
    load = next((one for one in case.hidden.loads if one.state == state.key), None)
    on = wheel_loads(told)
    return state.model_copy(
        update={
            "corners_kg": tuple(round(on[c], 1) for c in CORNERS),
            "front_kg": None,
            "rear_kg": None,
            "items": load.items if load else (),
            "tongue_kg": load.tongue_kg if load else 0.0,
        }
    )


def known_model(case: Case) -> JobModel:
    """Return the calibrated model of the job with everything known."""
    return build_model(known_job(case))


def over_limits(case: Case) -> dict[str, float]:
    """Return by how much axles and hitch are truly over their plates in the judged state, kg by rating; nothing where all hold."""
    on = wheel_loads(reports(case, only=(case.judged,))[case.judged])
    tongue = next((one.tongue_kg for one in case.hidden.loads if one.state == case.judged), 0.0)
    loads = {
        "front_axle_kg": on["FL"] + on["FR"],
        "rear_axle_kg": on["RL"] + on["RR"],
        "gross_kg": sum(on.values()),
        "hitch_kg": tongue,
    }
    ratings = case.hidden.ratings
    return {key: load - ratings[key] for key, load in loads.items() if key in ratings and load > ratings[key] + 1.0}


def now_of(job: Job, cured: Iterable[str] = (), on: Sequence[str] | None = None) -> Now:
    """Return how a case's vehicle stands by its job: its kits that are on (on: their codes; None: all of it), what was cured."""
    parts = tuple(part for part in job.parts if on is None or part.kit.code in on)
    return Now(parts=parts, cured=frozenset(cured))
