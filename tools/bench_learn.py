"""Parts of the bench that ask what learning does: bands of the twentieth vehicle of a class, learnt against class; ten thousand closed jobs looked at."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import replace
from datetime import date, timedelta
from math import exp

import numpy as np

from vantok_core.facts.learnt import ClassLearnt
from vantok_core.model import build_model
from vantok_core.physics.vehicle import AXLE_CORNERS, Vehicle
from vantok_core.practice.life import KINDS, drawn, tape
from vantok_core.upkeep.foretold import Miss, by, drift, held, worst
from vantok_core.upkeep.lessons import Lesson, learn, outliers

SHOPS, EACH = 40, 19
"""Shops, each with a lean of its own in its springs, and vehicles of the class each has seen before."""
LEAN = (-0.25, 0.1)
"""How the springs of a shop's vehicles of a class lie against the class: ln, mean and sigma over shops."""
Row = Callable[..., None]


def twentieth() -> tuple[list[float], list[float], list[float], list[float]]:
    """Return share inside (nought or one) and half width of the band (m) of the rear's height under a load nobody read yet, by class and as learnt."""
    rng = np.random.default_rng(20)
    found: tuple[list[float], list[float], list[float], list[float]] = ([], [], [], [])
    for _ in range(SHOPS):
        lean = float(rng.normal(*LEAN))
        seen = [Lesson(kind="rate", key="", value=float(rng.normal(lean, 0.3)), sigma=0.1) for _ in range(EACH)]
        taught = learn(seen)
        one = drawn(rng, KINDS[2])
        factor = (
            exp(float(rng.normal(lean, 0.3)))
            * float(build_model(one.job).prior.rear.spring.k)
            / float(one.truth.rear.spring.k)
        )
        spring = one.truth.rear.spring
        truth = _with(one.truth, float(spring.k) * factor)
        read = tape(rng, one, truth, ("empty", "unseen"), "before")
        job = one.job.model_copy(update={"readings": tuple(r for r in read if r.state == "empty")})
        learnt = (ClassLearnt(axle="rear", factor=taught.factor, sigma_ln=taught.sigma_ln, n=EACH),)
        for n, had in enumerate(((), learnt)):
            told = build_model(job.model_copy(update={"class_learnt": had})).heights("unseen", "ground_arch")
            rear = AXLE_CORNERS["rear"]
            miss = (
                sum(r.value_m for r in read if r.state == "unseen" and r.place in rear) / 2
                - sum(told[c].value for c in rear) / 2
            )
            band = sum(told[c].band for c in rear) / 2
            found[2 * n].append(float(abs(miss) <= band))
            found[2 * n + 1].append(band)
    return found


def _with(vehicle: Vehicle, k: float) -> Vehicle:
    """Return a vehicle with another rear rate (k: N/m)."""
    return replace(vehicle, rear=replace(vehicle.rear, spring=replace(vehicle.rear.spring, k=k)))


def learning(row: Row) -> None:
    """Print what learning does to the next estimate, and how long ten thousand closed jobs take to be looked at."""
    inside, wide, own_inside, own_wide = (float(np.mean(one)) for one in twentieth())
    both = f"{inside:.0%} by class, {own_inside:.0%} as learnt"
    row("20th of a class: heights inside, of 90 %", "85 to 97 %", both, met=own_inside >= 0.85)
    narrower = f"{1000 * own_wide:.0f} mm against {1000 * wide:.0f} mm"
    row("20th of a class: half of the band, as learnt against class", "less", narrower, met=own_wide < wide)
    rng = np.random.default_rng(1)
    lessons = [
        Lesson(kind="rate", key="", value=float(rng.normal(0, 0.3)), sigma=0.1, vehicle=str(n)) for n in range(10_000)
    ]
    rows = [
        Miss(
            miss=float(rng.normal(0, 0.005)),
            band=0.008,
            job=str(n // 4),
            kit=str(n % 40),
            klass=str(n % 60),
            at=date(2023, 1, 1) + timedelta(days=n // 40),
        )
        for n in range(40_000)
    ]
    began = time.perf_counter()
    learn(lessons)
    outliers(lessons)
    for told in (held(rows), by(rows, lambda r: r.kit), by(rows, lambda r: r.klass), drift(rows), worst(rows)):
        assert told
    took = time.perf_counter() - began
    row("10,000 closed jobs looked at", "seconds", f"{took:.1f} s", met=took < 5.0)
