"""Simulated vehicles as they are in life: drawn from the distributions of the method, never from what the program takes its classes to be.

Each is weighed, read by tape empty and with one load, and asked about another; a kit is fitted and read again. A band that says
nine in ten must hold nine in ten of those, and a right job end inside. Source: method sections 21 and 22.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import exp, hypot, log, pi
from typing import Literal

import numpy as np

from vantok_core.base.figure import NINE_IN_TEN, Figure
from vantok_core.base.num import G
from vantok_core.facts import Fitting, Job, JobReading, JobState, JobVehicle, Kit, LoadItem
from vantok_core.facts.classes import FACTORY_STOP, SPRINGS, TYRES
from vantok_core.judge.prove.proving import prove
from vantok_core.kits.fit import with_kit
from vantok_core.kits.registry import read_kit
from vantok_core.model import JobModel, build_model, mean_sigma, reading_own_sigma, unsprung_mass
from vantok_core.physics.elements.curve import force_curve
from vantok_core.physics.elements.laws import Stop
from vantok_core.physics.stance.report import report
from vantok_core.physics.stance.states import solve_states
from vantok_core.physics.vehicle import (
    AXLE_CORNERS,
    AXLES,
    CORNERS,
    Axle,
    AxleName,
    Element,
    Item,
    LoadState,
    MainSpring,
    Vehicle,
)
from vantok_core.rates.places import Place

Fault = Literal["", "corner", "rear", "front"]
Phase = Literal["before", "after"]
TAPE, KIT_SPREAD = 0.002, 0.07
"""How a tape is set at its mark (m, one sigma); spread of a kit's force about its maker's data (ln-sigma)."""
FRICTION = {
    "leaf": (0.0025, 0.0015),
    "parabolic": (0.0025, 0.0015),
    "coil": (0.001, 0.0007),
    "torsion_bar": (0.001, 0.0007),
}
"""What an axle's friction leaves in its heights, m, one sigma: alike on both sides, and at each corner, by spring law."""
RATES, TYRE_RATES = 0.39, 0.12
CONTACT, RATIO = (0.055, 0.018, 0.005), (1.6, 0.35)
"""Where a second stage meets below the empty height (mean, sigma, least: m); both stages' rate over the first's (median, ln-sigma)."""
STOPS = (0.070, 0.020, 0.005)
EMPTY_SIDES, LOADS_SIDE = 0.03, 0.06
"""Left-right difference of an empty axle (share of its load), and where a load stands across (share of the track), one sigma."""
HEIGHTS = {"FL": 0.87, "FR": 0.87, "RL": 0.95, "RR": 0.95}
STEPS = (0.001, 0.0254 / 16)
PRESSURES = (1e5, 2e5, 4e5, 7e5)


@dataclass(frozen=True, slots=True, kw_only=True)
class Kind:
    """A kind of vehicle on the road: body, springs behind, tyres, ratings from and to (kg), wheelbase from and to (m), ride frequency behind at rated load
    (Hz), share of them whose rear springs have a second stage."""

    body: Literal["pickup", "van", "high_roof_van", "wagon", "box_truck", "coach"]
    rear: str
    tyres: Literal["car", "light_truck", "medium_duty"]
    front_kg: tuple[float, float]
    rear_kg: tuple[float, float]
    base: tuple[float, float]
    hz: float
    two_stage: float = 0.0


FRONT_HZ = 1.3
KINDS = (
    Kind(
        body="pickup",
        rear="leaf_solid",
        tyres="light_truck",
        front_kg=(1350, 1800),
        rear_kg=(1500, 2100),
        base=(3.0, 3.9),
        hz=1.15,
        two_stage=0.3,
    ),
    Kind(
        body="pickup",
        rear="two_stage_leaf_solid",
        tyres="light_truck",
        front_kg=(1700, 2300),
        rear_kg=(2200, 2900),
        base=(3.5, 4.2),
        hz=1.15,
        two_stage=1.0,
    ),
    Kind(
        body="pickup",
        rear="coil_solid",
        tyres="light_truck",
        front_kg=(1350, 1700),
        rear_kg=(1500, 1900),
        base=(3.0, 3.7),
        hz=1.25,
    ),
    Kind(
        body="wagon",
        rear="coil_independent",
        tyres="light_truck",
        front_kg=(1200, 1500),
        rear_kg=(1400, 1800),
        base=(2.7, 3.0),
        hz=1.25,
    ),
    Kind(
        body="van",
        rear="parabolic_solid",
        tyres="light_truck",
        front_kg=(1450, 1800),
        rear_kg=(1500, 2000),
        base=(3.0, 3.6),
        hz=1.3,
    ),
    Kind(
        body="high_roof_van",
        rear="parabolic_solid",
        tyres="light_truck",
        front_kg=(1650, 2000),
        rear_kg=(1900, 2400),
        base=(3.5, 4.1),
        hz=1.3,
    ),
    Kind(
        body="coach",
        rear="leaf_solid",
        tyres="medium_duty",
        front_kg=(2800, 3600),
        rear_kg=(4800, 6000),
        base=(4.2, 5.0),
        hz=1.4,
        two_stage=0.3,
    ),
)
SOLID = tuple(kind for kind in KINDS if SPRINGS[kind.rear].solid)
"""Those that a bellows beside the spring fits."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Held:
    """A figure foretold with a band and then read: what it is, read less foretold and half the band (m)."""

    what: str
    miss: float
    band: float

    @property
    def inside(self) -> bool:
        """Whether the band held."""
        return abs(self.miss) <= self.band


@dataclass(frozen=True, slots=True, kw_only=True)
class Drawn:
    """A vehicle as it is: its kind, the job its technician begins with, the truth, the true states by name, how its corners
    stand empty (m), the tape's step (m)."""

    kind: Kind
    job: Job
    truth: Vehicle
    states: Mapping[str, LoadState]
    stands: Mapping[str, float]
    step: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Lived:
    """A simulated job: its spring behind, the figures foretold and read; of one with a kit the planted fault (empty: none), whether its proof ended inside, and
    whether what it named was the fault."""

    spring: str
    held: tuple[Held, ...]
    fault: Fault = ""
    inside: bool | None = None
    named: bool = False


def lives(rng: np.random.Generator, count: int, fault: Fault | None = None) -> list[Lived]:
    """Return `count` simulated jobs of every kind in turn; fault: planted in each proof (empty: none); None: no kit goes on."""
    kinds = KINDS if fault is None else SOLID
    return [lived(rng, kinds[n % len(kinds)], fault) for n in range(count)]


def lived(rng: np.random.Generator, kind: Kind, fault: Fault | None = None) -> Lived:
    """Return one job of a kind, from the measuring sheet to the proof."""
    one = drawn(rng, kind)
    readings = [*tape(rng, one, one.truth, ("empty", "seen"), "before"), *_gaps(rng, one)]
    job = one.job.model_copy(update={"readings": tuple(readings)})
    if fault is not None:
        return _proved(rng, one, job, fault)
    model = build_model(job)
    later = tape(rng, one, one.truth, ("unseen",), "before")
    return Lived(spring=kind.rear, held=_held(model, "unseen", later, model.heights("unseen", "ground_arch")))


def drawn(rng: np.random.Generator, kind: Kind) -> Drawn:
    """Return a vehicle of a kind as it is in life, weighed empty and with two loads told."""
    rated = {"front": rng.uniform(*kind.front_kg), "rear": rng.uniform(*kind.rear_kg)}
    empty = {"front": rated["front"] * rng.uniform(0.65, 0.85), "rear": rated["rear"] * rng.uniform(0.42, 0.62)}
    base, track = float(rng.uniform(*kind.base)), 1.7
    loads = {
        name: LoadItem(
            name=name,
            mass_kg=float(rng.uniform(*span)) * rated["rear"],
            station_m=float(rng.uniform(0.75, 1.12)) * base,
        )
        for name, span in (("seen", (0.08, 0.28)), ("unseen", (0.10, 0.34)))
    }
    job = Job(
        vehicle=JobVehicle(
            body=kind.body,
            wheelbase_m=base,
            hitch_overhang_m=1.15,
            track_front_m=track,
            track_rear_m=track,
            front_spring="coil_independent",
            rear_spring=kind.rear,
            tyres=kind.tyres,
            gross_kg=0.95 * sum(rated.values()),
            front_axle_kg=rated["front"],
            rear_axle_kg=rated["rear"],
        ),
        states=(
            JobState(key="empty", name="Empty", empty=True, front_kg=empty["front"], rear_kg=empty["rear"]),
            *(JobState(key=name, name=name.capitalize(), items=(item,)) for name, item in loads.items()),
        ),
    )
    front = _axle(rng, job, "front", kind, rated["front"], empty["front"])
    rear = _axle(rng, job, "rear", kind, rated["rear"], empty["rear"])
    states = {"empty": LoadState(name="empty")}
    for name, item in loads.items():
        mass = item.mass_kg + float(rng.normal(0.0, max(0.06 * item.mass_kg, 2.0)))
        at = item.station_m / base
        couple = hypot(*(LOADS_SIDE * track * mass * part for part in (1.0 - at, at)))
        states[name] = LoadState(
            name=name,
            items=(Item(mass=mass, station=item.station_m, lateral=float(rng.normal(0.0, couple)) / mass, name=name),),
        )
    stands = {c: h + float(rng.normal(0.0, 0.004)) for c, h in HEIGHTS.items()}
    truth = Vehicle(wheelbase=base, front=front, rear=rear)
    return Drawn(kind=kind, job=job, truth=truth, states=states, stands=stands, step=float(rng.choice(STEPS)))


def _over(rng: np.random.Generator, mean: float, sigma: float, least: float) -> float:
    """Return a draw of a normal figure that cannot be under its least."""
    while True:
        if (found := float(rng.normal(mean, sigma))) >= least:
            return found


def _axle(rng: np.random.Generator, job: Job, name: AxleName, kind: Kind, rated: float, empty: float) -> Axle:
    spring = SPRINGS["coil_independent" if name == "front" else kind.rear]
    unsprung = unsprung_mass(job, name)
    hz = FRONT_HZ if name == "front" else kind.hz
    at_work = (rated / 2 - unsprung) * (2 * pi * hz) ** 2 * exp(float(rng.normal(0.0, RATES)))
    ratio, contact = 1.0, 0.0
    if name == "rear" and rng.random() < kind.two_stage:
        ratio = exp(_over(rng, log(RATIO[0]), RATIO[1], 0.0))
        contact = _over(rng, *CONTACT)
    place = spring.place * 0.85 if spring.solid else None
    gap = _over(rng, *STOPS)
    stop = Stop(gap=gap, curve=force_curve(FACTORY_STOP))
    across = float(rng.normal(0.0, EMPTY_SIDES)) * empty * G / 2
    return Axle(
        solid=spring.solid,
        track=1.7,
        unsprung=unsprung,
        tyre_rate=TYRES[kind.tyres].rate * exp(float(rng.normal(0.0, TYRE_RATES))),
        ref_load=(empty * G / 2 + across, empty * G / 2 - across),
        spring=MainSpring(
            name=f"{name} springs",
            kind=spring.law,
            k=at_work / ratio,
            k2=at_work * (1.0 - 1.0 / ratio),
            z2=contact,
            y=place,
        ),
        elements=(Element(name=f"{name} bump stops", left=stop, right=stop, y=place, fitted="reference"),),
    )


def tape(
    rng: np.random.Generator, one: Drawn, vehicle: Vehicle, states: Sequence[str], phase: Phase
) -> list[JobReading]:
    """Return the four corners in some states as a tape reads them: friction alike on an axle and of each corner, the tape's own setting and step."""
    solved, found = solve_states(vehicle, list(one.states.values()), check_limits=False), []
    for state in states:
        drops = report(vehicle, solved[state]).ground_drop
        for axle in AXLES:
            law = vehicle.axle(axle).spring.kind
            alike = float(rng.normal(0.0, FRICTION[law][0]))
            for corner in AXLE_CORNERS[axle]:
                value = (
                    one.stands[corner]
                    - float(drops[corner])
                    + alike
                    + float(rng.normal(0.0, hypot(FRICTION[law][1], TAPE)))
                )
                value = round(value / one.step) * one.step
                found.append(
                    JobReading(
                        state=state,
                        datum="ground_arch",
                        place=corner,
                        phase=phase,
                        value_m=value,
                        resolution_m=one.step,
                    )
                )
    return found


def read_sheet(rng: np.random.Generator, kind: Kind, *, wrong: bool) -> Job:
    """Return a job of a kind with its empty and one loaded row read; wrong: one figure of the loaded row off by 25 to 60 mm, as by a datum or a column."""
    one = drawn(rng, kind)
    readings = tape(rng, one, one.truth, ("empty", "seen"), "before")
    if wrong:
        n = 4 + int(rng.integers(4))
        off = float(rng.choice([-1.0, 1.0]) * rng.uniform(0.025, 0.060))
        readings[n] = readings[n].model_copy(update={"value_m": readings[n].value_m + off})
    return one.job.model_copy(update={"readings": tuple(readings)})


def mean_error(law: str, step: float) -> float:
    """Return the sigma of the mean of an axle's two readings (m), by its spring's law and the tape's step (m)."""
    alike, own = FRICTION[law]
    return hypot(alike, hypot(own, TAPE, step / 12**0.5) / 2**0.5)


def _gaps(rng: np.random.Generator, one: Drawn) -> list[JobReading]:
    """Return the rear stop gaps as read empty, by half of the technicians."""
    law = one.truth.rear.elements[0].left
    assert isinstance(law, Stop)
    if rng.random() < 0.5:
        return []
    return [
        JobReading(
            state="empty", datum="stop_gap", place=c, value_m=max(float(law.gap) + float(rng.normal(0.0, TAPE)), 0.0)
        )
        for c in ("RL", "RR")
    ]


def _held(model: JobModel, state: str, later: Sequence[JobReading], found: Mapping[str, Figure]) -> tuple[Held, ...]:
    """Return how axle means and corners of a state were foretold against how they read."""
    held, read = [], {r.place: r for r in later}
    for corner in CORNERS:
        sigma = hypot(found[corner].sigma, reading_own_sigma(model.job, read[corner]))
        held.append(
            Held(what=f"{corner[0]} corner", miss=read[corner].value_m - found[corner].value, band=NINE_IN_TEN * sigma)
        )
    for axle in AXLES:
        mean = model.estimate.height(state, Place(axle, "ground"))
        corners = AXLE_CORNERS[axle]
        miss = sum(read[c].value_m for c in corners) / 2 - mean.value
        held.append(
            Held(
                what=f"{axle} axle",
                miss=miss,
                band=NINE_IN_TEN * hypot(mean.sigma, mean_sigma(model.job, [read[c] for c in corners])),
            )
        )
    return tuple(held)


def bellows(strength: float = 1.0) -> Kit:
    """Return the simulated kit, so many times as strong as its data (a ratio)."""
    areas = [a * strength for a in (0.0128, 0.0116, 0.0094)]
    data: dict[str, object] = {
        "code": "SIM",
        "name": "Simulated bellows",
        "maker": "Nobody",
        "family": "air_spring",
        "springs": ["leaf_solid"],
        "price": 1,
        "hours": 1,
        "p_min_pa": 35e3,
        "p_max_pa": 690e3,
        "heights_m": [0.09, 0.15, 0.21],
        "pressures_pa": list(PRESSURES),
        "loads_n": [[p * a for p in PRESSURES] for a in areas],
        "volume_m3": 0.0019,
        "volume_at_m": 0.165,
        "pad_min_m": 0.1,
        "pad_max_m": 0.22,
    }
    return read_kit(data)


def _proved(rng: np.random.Generator, one: Drawn, job: Job, fault: Fault) -> Lived:
    """Return the job with a kit fitted, set and read again in every state, a fault planted in it or none."""
    kit, set_at = bellows(), float(rng.uniform(1.5e5, 4e5))
    pads = tuple(JobReading(state="empty", datum="pad_to_pad", place=c, value_m=0.165) for c in ("RL", "RR"))
    job = job.model_copy(update={"readings": (*job.readings, *pads)})
    leaked = rng.uniform(0.3, 0.5) if fault == "rear" else 1.0
    really = bellows(exp(float(rng.normal(0.0, KIT_SPREAD))))
    fitted = with_kit(job, one.truth, really, {"pressure_pa": (set_at * leaked,) * 2}, state="unseen")
    after, corner = planted(rng, tape(rng, one, fitted, tuple(one.states), "after"), fault)
    fitting = Fitting(kit=kit, setting={"pressure_pa": (set_at, set_at)}, state="unseen", done=True)
    proof = prove(build_model(job.model_copy(update={"readings": (*job.readings, *after), "fitting": fitting})))
    assert proof is not None and proof.inside is not None
    held = [
        Held(what=f"{row.corner[0]} corner, kit on", miss=row.miss or 0.0, band=NINE_IN_TEN * row.predicted.sigma)
        for rows in proof.rows.values()
        for row in rows
    ]
    suspect = proof.suspect
    named = suspect is not None and suspect.named == fault and suspect.corner == corner
    return Lived(spring=one.kind.rear, held=tuple(held), fault=fault, inside=proof.inside, named=named)


def planted(rng: np.random.Generator, readings: list[JobReading], fault: Fault) -> tuple[list[JobReading], str]:
    """Return the readings with the fault in them, and the corner it sits at (empty: none)."""
    off = float(rng.choice([-1.0, 1.0]) * rng.uniform(0.025, 0.045))
    if fault == "corner":
        n = int(rng.integers(len(readings)))
        changed = readings[n].model_copy(update={"value_m": readings[n].value_m + off})
        return [changed if i == n else r for i, r in enumerate(readings)], readings[n].place
    if fault == "front":
        moved = [
            r.model_copy(update={"value_m": r.value_m + abs(off)}) if r.state == "unseen" and r.place[0] == "F" else r
            for r in readings
        ]
        return moved, ""
    return readings, ""
