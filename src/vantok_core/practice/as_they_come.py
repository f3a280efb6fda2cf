"""Simulated jobs as they come in, to see whether their wider bands hold: a load nobody weighed, a vehicle never empty, a kit already on.

Each vehicle is drawn from life and read as a technician would; what its springs are read to carry, or where it will stand, is
held against the truth.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from math import exp, hypot

import numpy as np

from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.num import G
from vantok_core.facts import Job, JobState, JobVehicle
from vantok_core.facts.kinds import MADE_KNOWN, UNKNOWN_MAKE
from vantok_core.loads.unweighed import USUAL_SHARE, plate_axle_load
from vantok_core.model import build_model
from vantok_core.model.prior import prior_traits
from vantok_core.physics.elements.air import AirSpring, LinearArea, Volume
from vantok_core.physics.elements.laws import Law, Scaled
from vantok_core.physics.settings import Setting, at_setting
from vantok_core.physics.stance.states import solve_states
from vantok_core.physics.vehicle import AXLES, AxleName, Element, Item, LoadState, Vehicle
from vantok_core.practice.life import SOLID, STEPS, drawn, mean_error
from vantok_core.rates.calibrate import estimate
from vantok_core.rates.class_rate import SPREAD
from vantok_core.rates.estimate import Estimate
from vantok_core.rates.off_springs import axle_gain, gain_band, margin_off, prior_sigma, unknown_load
from vantok_core.rates.places import Place, place_drop
from vantok_core.rates.problem import EstimationProblem, HeightReading, UncertainLoad
from vantok_core.rates.traits import Trait

HEIGHT = {"front": 0.87, "rear": 0.95}
REAR = Place("rear", "ground")
FRONT_OF, REAR_OF = "owner's:front", "owner's:rear"


@dataclass(frozen=True, slots=True, kw_only=True)
class _Job:
    """A vehicle as the class takes it to be and as it is, the loads told with their sigmas, and its states as told and as they are."""

    facts: JobVehicle
    prior: Vehicle
    truth: Vehicle
    loads: Mapping[str, UncertainLoad]
    told: Sequence[LoadState]
    true: Sequence[LoadState]
    strengths: Mapping[str, float]
    traits: tuple[Trait, ...]

    def estimated(self, rng: np.random.Generator, read: Sequence[str]) -> Estimate:
        """Return what the tape teaches of some of its states, read on both axles."""
        solved = solve_states(self.truth, list(self.true), check_limits=False)
        readings = []
        for state in read:
            for axle in AXLES:
                place, sigma = Place(axle, "ground"), self.sigma(axle)
                value = HEIGHT[axle] - float(place_drop(solved[state], place)) + float(rng.normal(0.0, sigma))
                readings.append(HeightReading(state=state, place=place, value=round(value, 4), sigma=sigma))
        return estimate(
            EstimationProblem(
                vehicle=self.prior,
                states=list(self.told),
                readings=readings,
                loads=self.loads,
                sigma_ln=dict.fromkeys(AXLES, SPREAD),
                strengths=self.strengths,
                traits=self.traits,
            )
        )

    def stands(self, state: str) -> float:
        """Return the true height at the rear (m)."""
        return HEIGHT["rear"] - float(
            place_drop(solve_states(self.truth, list(self.true), check_limits=False)[state], REAR)
        )

    def sigma(self, axle: AxleName) -> float:
        """Return the sigma of an axle's height as read (m)."""
        return mean_error(self.truth.axle(axle).spring.kind, STEPS[0])

    @property
    def length(self) -> float:
        """The wheelbase (m)."""
        return float(self.prior.wheelbase)


@dataclass(frozen=True, slots=True, kw_only=True)
class Coverage:
    """How often the band held, its mean half width, and that of the class alone."""

    count: int
    share: float
    mean_band: float
    mean_prior_band: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Trial:
    """One figure against the truth: miss, half width of its 90 % band, and half width without any reading (kg or m)."""

    miss: float
    band: float
    prior_band: float


def coverage(trials: Sequence[Trial]) -> Coverage:
    """Return how often the bands held, and how wide they were."""
    return Coverage(
        count=len(trials),
        share=float(np.mean([abs(t.miss) <= t.band for t in trials])),
        mean_band=float(np.mean([t.band for t in trials])),
        mean_prior_band=float(np.mean([t.prior_band for t in trials])),
    )


def _drawn(
    rng: np.random.Generator, front_share: float, rear_share: float
) -> tuple[JobVehicle, Vehicle, Vehicle, tuple[Trait, ...]]:
    """Return a drawn vehicle, of the class's springs and of its own, and what of it nobody read; shares: of its ratings that stand on the axles in the
    reference."""
    one = drawn(rng, SOLID[int(rng.integers(len(SOLID)))])
    facts = one.job.vehicle
    front, rear = front_share * (facts.front_axle_kg or 0.0), rear_share * (facts.rear_axle_kg or 0.0)
    job = Job(
        vehicle=facts, states=(JobState(key="reference", name="Reference", empty=True, front_kg=front, rear_kg=rear),)
    )
    ahead, behind = (
        replace(one.truth.axle(a), ref_load=(0.5 * G * kg,) * 2) for a, kg in zip(AXLES, (front, rear), strict=True)
    )
    prior = build_model(job).prior
    return facts, prior, replace(one.truth, front=ahead, rear=behind), prior_traits(job, prior)


def _known(rng: np.random.Generator, name: str, length: float, low: float, high: float) -> tuple[UncertainLoad, Item]:
    """Return a load as its owner tells it and as it is."""
    mass = float(rng.uniform(low, high))
    sigma = max(0.06 * mass, 2.0)
    true = Item(name=name, mass=mass + float(rng.normal(0.0, sigma)), station=float(rng.uniform(0.75, 1.12)) * length)
    return UncertainLoad(mass=mass, sigma=sigma), true


def _owners(
    rng: np.random.Generator, facts: JobVehicle, length: float
) -> tuple[dict[str, UncertainLoad], tuple[Item, ...]]:
    """Return a load nobody weighed: two unknowns at the axles, and what it is."""
    sigmas = [prior_sigma(rating, None) for rating in (facts.front_axle_kg, facts.rear_axle_kg)]
    unknown = dict(zip((FRONT_OF, REAR_OF), unknown_load(*sigmas), strict=True))
    mass, back = float(rng.uniform(80, 600)), float(rng.uniform(0.5, 1.1))
    return unknown, (
        Item(name=FRONT_OF, mass=mass * (1 - back), station=0.0),
        Item(name=REAR_OF, mass=mass * back, station=length),
    )


def _as_told(true: Sequence[LoadState], loads: Mapping[str, UncertainLoad]) -> list[LoadState]:
    return [replace(s, items=tuple(replace(i, mass=loads[i.name].mass) for i in s.items)) for s in true]


def _against(truth: float, value: float, band: tuple[float, float], prior_band: float) -> Trial:
    """Return a trial of a band that need not lie evenly about its value: the half towards the truth counts."""
    half = band[1] - value if truth > value else value - band[0]
    return Trial(miss=truth - value, band=half, prior_band=prior_band)


def unweighed(rng: np.random.Generator) -> Trial:
    """Return what the rear springs are read to carry of a load nobody weighed, held against what it is (kg); for half the vehicles a
    load of known mass was read too."""
    facts, prior, truth, traits = _drawn(rng, 0.75, 0.52)
    length = float(prior.wheelbase)
    loads, owners = _owners(rng, facts, length)
    loads["load"], load = _known(rng, "load", length, 120, 450)
    true = [
        LoadState(name="reference"),
        LoadState(name="known", items=(load,)),
        LoadState(name="owner's", items=owners),
    ]
    job = _Job(
        facts=facts,
        prior=prior,
        truth=truth,
        loads=loads,
        told=_as_told(true, loads),
        true=true,
        strengths={},
        traits=traits,
    )
    found = job.estimated(rng, ["reference", "known", "owner's"] if rng.random() < 0.5 else ["reference", "owner's"])
    gain, sigma, _ = axle_gain(found, {REAR_OF: 1.0})
    return _against(float(owners[1].mass), gain, gain_band(gain, sigma), NINE_IN_TEN * loads[REAR_OF].sigma)


def never_empty(rng: np.random.Generator) -> Trial:
    """Return what the rear axle of a vehicle that is never empty, nor ever weighed, carries with a further load nobody weighed, held
    against what it does (kg). A load of known mass was put on and read."""
    facts, prior, truth, traits = _drawn(rng, USUAL_SHARE, USUAL_SHARE)
    length, rating = float(prior.wheelbase), float(facts.rear_axle_kg or 0.0)
    stands = {
        axle: float(rng.normal(*plate_axle_load(float(told or 0.0))))
        for axle, told in zip(AXLES, (facts.front_axle_kg, rating), strict=True)
    }
    front, rear = (replace(truth.axle(a), ref_load=(0.5 * G * stands[a],) * 2) for a in AXLES)
    loads, owners = _owners(rng, facts, length)
    loads["load"], load = _known(rng, "load", length, 150, 300)
    true = [
        LoadState(name="reference"),
        LoadState(name="known", items=(load,)),
        LoadState(name="owner's", items=owners),
    ]
    job = _Job(
        facts=facts,
        prior=prior,
        truth=replace(truth, front=front, rear=rear),
        loads=loads,
        told=_as_told(true, loads),
        true=true,
        strengths={},
        traits=traits,
    )
    found = job.estimated(rng, ["reference", "known", "owner's"])
    (reference, doubt), (gain, sigma, _) = plate_axle_load(rating), axle_gain(found, {REAR_OF: 1.0})
    told = margin_off(reference, doubt, gain, sigma, rating)
    without = NINE_IN_TEN * hypot(doubt, loads[REAR_OF].sigma)
    return _against(stands["rear"] + float(owners[1].mass), told.load, told.band, without)


def kit_on(rng: np.random.Generator) -> Trial:
    """Return where a vehicle with bags already on will stand at a pressure nobody has tried, held against the tape (m); the bags were
    read on and off under one load, half of them without their maker's data."""
    facts, prior, truth, traits = _drawn(rng, 0.75, 0.52)
    spread = MADE_KNOWN if rng.random() < 0.5 else UNKNOWN_MAKE
    strong = exp(float(rng.normal(0.0, spread)))
    area = LinearArea(a0=0.0116, slope=-0.028, h0=0.165)
    bag = AirSpring(h_ref=0.165, area=area, volume=Volume(v0=0.0019, h0=0.165), p_set=0.0)
    read_at, wanted = (float(p) for p in rng.uniform(1e5, 4e5, 2))
    settings: dict[str, Setting] = {"reference": "off", "off": "off", "on": {"p": read_at}, "wanted": {"p": wanted}}
    told_load, load = _known(rng, "load", float(prior.wheelbase), 150, 450)
    loads = {"load": told_load}

    def with_bags(vehicle: Vehicle, factor: float) -> Vehicle:
        law = _so_strong(at_setting(bag, "off", "bags"), factor)
        bags = Element(name="bags", left=law, right=law, ratio=1.0, fitted="reference")
        return replace(vehicle, rear=replace(vehicle.rear, elements=(*vehicle.rear.elements, bags)))

    def states(factor: float) -> list[LoadState]:
        found = []
        for name, setting in settings.items():
            law = _so_strong(at_setting(bag, setting, "bags"), factor)
            found.append(LoadState(name=name, items=() if name == "reference" else (load,), laws={"bags": (law, law)}))
        return found

    job = _Job(
        facts=facts,
        prior=with_bags(prior, 1.0),
        truth=with_bags(truth, strong),
        loads=loads,
        told=_as_told(states(1.0), loads),
        true=states(strong),
        strengths={"bags": spread},
        traits=traits,
    )
    alone = job.estimated(rng, ["reference"]).height("wanted", REAR)
    found = job.estimated(rng, ["reference", "off", "on"]).height("wanted", REAR)
    sigma = job.sigma("rear")
    read = job.stands("wanted") + float(rng.normal(0.0, sigma))
    half = NINE_IN_TEN * hypot(found.sigma, sigma)
    return Trial(miss=read - found.value, band=half, prior_band=NINE_IN_TEN * hypot(alone.sigma, sigma))


def _so_strong(law: Law | None, factor: float) -> Law:
    assert law is not None
    return Scaled(law=law, factor=factor)


KINDS: dict[str, Callable[[np.random.Generator], Trial]] = {
    "a load nobody weighed": unweighed,
    "never empty": never_empty,
    "a kit already on": kit_on,
}
"""The three kinds of job that do not fit "empty weighed, loaded weighed"."""

UNITS = {"a load nobody weighed": ("kg", 1.0), "never empty": ("kg", 1.0), "a kit already on": ("mm", 1000.0)}
"""What each kind's bands are shown in, and how many of it make one of theirs."""
