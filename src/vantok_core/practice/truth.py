"""Simulated vehicles whose true springs are known, to see whether the stated bands hold what they promise.

Each vehicle is drawn from the class prior, loaded and read as a technician would; then an unseen load state is
predicted and compared with the truth read by the same tape.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import exp, hypot

import numpy as np

from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.facts import Job, JobReading, JobState, JobVehicle, LoadItem
from vantok_core.model import build_model
from vantok_core.physics.stance.report import report
from vantok_core.physics.stance.states import solve_states
from vantok_core.physics.vehicle import Item, LoadState, Vehicle
from vantok_core.rates.places import Place
from vantok_core.readings.tape import SETTLE_SIGMA, reading_sigma

RESOLUTION = 0.001


@dataclass(frozen=True, slots=True, kw_only=True)
class Trial:
    """One prediction against the truth: miss, the joint 90 % half width, and half width without any reading, all m."""

    miss: float
    band: float
    prior_band: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Coverage:
    """How often the band held, its mean half width (m), and that of the class alone."""

    count: int
    share: float
    mean_band: float
    mean_prior_band: float


def simulate(rng: np.random.Generator, count: int) -> list[Trial]:
    """Return trials on `count` simulated vehicles."""
    return [_trial(rng) for _ in range(count)]


def coverage(trials: list[Trial]) -> Coverage:
    """Return how often the bands held, and how wide they were."""
    held = [abs(t.miss) <= t.band for t in trials]
    return Coverage(
        count=len(trials),
        share=float(np.mean(held)),
        mean_band=float(np.mean([t.band for t in trials])),
        mean_prior_band=float(np.mean([t.prior_band for t in trials])),
    )


def drawn_vehicle(rng: np.random.Generator) -> JobVehicle:
    """Return a pickup's facts with one of the usual rear springs."""
    spring = str(rng.choice(["leaf_solid", "parabolic_solid", "coil_solid", "two_stage_leaf_solid"]))
    front, rear = rng.uniform(1350, 1750), rng.uniform(1500, 2100)
    return JobVehicle(
        body="pickup", wheelbase_m=float(rng.uniform(2.9, 4.0)), hitch_overhang_m=float(rng.uniform(0.9, 1.35)),
        track_front_m=1.7, track_rear_m=1.7, front_spring="coil_independent", rear_spring=spring, tyres="light_truck",
        gross_kg=float(front + rear), front_axle_kg=float(front), rear_axle_kg=float(rear),
    )  # fmt: skip


def _item(rng: np.random.Generator, name: str, wheelbase: float, low: float, high: float) -> LoadItem:
    return LoadItem(
        name=name, mass_kg=float(rng.uniform(low, high)), station_m=float(rng.uniform(0.75, 1.12) * wheelbase)
    )


def _trial(rng: np.random.Generator) -> Trial:
    facts = drawn_vehicle(rng)
    assert facts.wheelbase_m is not None
    empty = JobState(
        key="empty",
        name="Empty",
        empty=True,
        front_kg=0.75 * (facts.front_axle_kg or 0),
        rear_kg=0.52 * (facts.rear_axle_kg or 0),
    )
    states = (
        empty,
        JobState(key="seen", name="Seen", items=(_item(rng, "load", facts.wheelbase_m, 120, 450),)),
        JobState(key="unseen", name="Unseen", items=(_item(rng, "other", facts.wheelbase_m, 150, 600),)),
    )
    bare = Job(vehicle=facts, states=states)
    prior = build_model(bare)
    truth, true_states = _truth(rng, prior.prior, bare)
    kind = "coil" if facts.rear_spring == "coil_solid" else "leaf"
    readings = _read(rng, truth, true_states, kind)
    model = build_model(bare.model_copy(update={"readings": tuple(readings)}))
    place = Place("rear", "ground")
    predicted = model.estimate.height("unseen", place)
    sigma = mean_sigma(kind)
    solved = report(truth, solve_states(truth, true_states, check_limits=False)["unseen"])
    read = 0.95 - float(solved.d_r) + float(rng.normal(0.0, sigma))
    without = model.estimate.problem.sigma_ln["rear"] * float(solved.d_r)
    return Trial(
        miss=read - predicted.value, band=NINE_IN_TEN * hypot(predicted.sigma, sigma),
        prior_band=NINE_IN_TEN * hypot(without, sigma),
    )  # fmt: skip


def mean_sigma(kind: str) -> float:
    """Return the sigma of the mean of two sides' readings (m)."""
    return reading_sigma(RESOLUTION, SETTLE_SIGMA[kind]) / 2**0.5


def true_rates(rng: np.random.Generator, prior: Vehicle) -> Vehicle:
    """Return a vehicle whose spring rates are drawn about the class's, with the class's own spread."""
    front, rear = (
        replace(axle, spring=replace(axle.spring, k=axle.spring.k * f, k2=axle.spring.k2 * f))
        for axle, f in ((prior.front, exp(rng.normal(0, 0.25))), (prior.rear, exp(rng.normal(0, 0.25))))
    )
    return replace(prior, front=front, rear=rear)


def _truth(rng: np.random.Generator, prior: Vehicle, job: Job) -> tuple[Vehicle, list[LoadState]]:
    """Return the vehicle as it truly is and the loads as they truly weigh, drawn from what the model takes them to be."""
    true = true_rates(rng, prior)
    found = []
    for state in job.states:
        items = tuple(
            Item(mass=i.mass_kg + float(rng.normal(0.0, max(0.06 * i.mass_kg, 2.0))), station=i.station_m, name=i.name)
            for i in state.items
        )
        found.append(LoadState(name=state.key, items=items))
    return true, found


def _read(rng: np.random.Generator, truth: Vehicle, states: list[LoadState], kind: str) -> list[JobReading]:
    """Return the readings of the empty and the seen state, each with its own scatter, to the millimetre."""
    solved = solve_states(truth, states, check_limits=False)
    found = []
    for key in ("empty", "seen"):
        drops = report(truth, solved[key]).ground_drop
        for corner, height in (("FL", 0.87), ("FR", 0.87), ("RL", 0.95), ("RR", 0.95)):
            settle = SETTLE_SIGMA["coil"] if corner[0] == "F" else SETTLE_SIGMA[kind]
            value = height - float(drops[corner]) + float(rng.normal(0.0, settle))
            place = corner
            found.append(
                JobReading(
                    state=key, datum="ground_arch", place=place, value_m=round(value, 3), resolution_m=RESOLUTION
                )
            )
    return found
