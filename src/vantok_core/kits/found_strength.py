"""How strong a kit was read to be: what it lifted beside what its sheet said, its own strength and the spring's rate told apart as far as they can be.

Source: method section 26.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import exp, hypot

import numpy as np

from vantok_core.base.errors import InputError
from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.kits.odds import EDGE, TOLERANCE

OF_DATA = {"maker": 0.07, "like": 0.5}
"""Sigma of ln q by whose data a kit's are (settings)."""
STEPS, NEAR = 60, 1e-14


@dataclass(frozen=True, slots=True, kw_only=True)
class Spring:
    """The spring beside a kit: rate at the wheel, N/m a side, and its ln-sigma; and the kit's own: the force its sheet says at the height before (N a side at
    the wheel), how that falls as the body rises (N/m), the ln-sigma of its strength."""

    k: float
    sigma_ln_k: float
    force: float
    kit_rate: float
    sigma_ln_q: float

    def lift(self, q: float, k: float) -> float:
        """Return what a kit lifts (m) that is q times as strong as its sheet says, on a spring of rate k (N/m)."""
        return q * self.force / (k + q * self.kit_rate)


@dataclass(frozen=True, slots=True, kw_only=True)
class Found:
    """What heights before and after say: the lift read and predicted with their sigmas (m), the strength and the rate that fit best with their ln-sigmas, and
    the strength that the readings alone say, without what was known before (None: they do not say)."""

    lift: float
    sigma_lift: float
    predicted: float
    sigma_predicted: float
    q: float
    k: float
    sigma_ln_q: float
    sigma_ln_k: float
    q_alone: float | None
    sigma_alone: float | None

    @property
    def misfit(self) -> float:
        """How far the lift lies from the prediction, in bands."""
        return (self.lift - self.predicted) / (NINE_IN_TEN * hypot(self.sigma_lift, self.sigma_predicted))

    @property
    def held(self) -> bool:
        """Whether the prediction held."""
        return abs(self.misfit) <= 1.0

    @property
    def band(self) -> tuple[float, float]:
        """The 90 % band of the strength."""
        return self.q * exp(-NINE_IN_TEN * self.sigma_ln_q), self.q * exp(NINE_IN_TEN * self.sigma_ln_q)


def found_strength(spring: Spring, before: tuple[float, float], after: tuple[float, float]) -> Found:
    """Return what a height before and one after, on one datum, say of a kit. before, after: m, each with its sigma. Raises InputError for a rate or a force not
    above nought, a sigma below it, and readings without any error."""
    if (
        not (spring.k > 0.0 and spring.force > 0.0)
        or min(spring.sigma_ln_k, spring.kit_rate) < 0.0
        or not spring.sigma_ln_q > 0.0
    ):
        raise InputError("kit", (spring.k, spring.force), "a rate and a force above nought are needed")
    lift, sigma = after[0] - before[0], hypot(before[1], after[1])
    if not sigma > 0.0:
        raise InputError("sigma", sigma, "a tape has an error")
    predicted = spring.lift(1.0, spring.k)
    gain = predicted * spring.k / (spring.k + spring.kit_rate)
    q, k, spread = _best(spring, lift, sigma)
    alone = (
        spring.k * lift / (spring.force - spring.kit_rate * lift)
        if lift > 0.0 and spring.kit_rate * lift < spring.force
        else None
    )
    sigma_alone = None
    if alone is not None:
        sigma_alone = hypot(spring.force / (spring.force - spring.kit_rate * lift) * sigma / lift, spring.sigma_ln_k)
    return Found(
        lift=lift,
        sigma_lift=sigma,
        predicted=predicted,
        sigma_predicted=gain * hypot(spring.sigma_ln_q, spring.sigma_ln_k),
        q=q,
        k=k,
        sigma_ln_q=spread[0],
        sigma_ln_k=spread[1],
        q_alone=alone,
        sigma_alone=sigma_alone,
    )


def _best(spring: Spring, lift: float, sigma: float) -> tuple[float, float, tuple[float, float]]:
    """Return strength, rate and their ln-sigmas at the least of the sum of squares, by Gauss and Newton on the logarithms."""
    known = spring.sigma_ln_k == 0.0
    x = np.zeros(2)
    inverse = np.eye(2)
    for _ in range(STEPS):
        q, k = exp(x[0]), spring.k * exp(x[1])
        h = spring.lift(q, k)
        slope = h * k / (k + q * spring.kit_rate)  # of ln q; of ln k the same, downwards
        rows = [
            [slope / sigma, -slope / sigma],
            [1.0 / spring.sigma_ln_q, 0.0],
            [0.0, 1.0 if known else 1.0 / spring.sigma_ln_k],
        ]
        left = [(h - lift) / sigma, x[0] / spring.sigma_ln_q, x[1] if known else x[1] / spring.sigma_ln_k]
        if known:
            rows[0][1] = 0.0
        jacobian = np.array(rows)
        inverse = np.linalg.inv(jacobian.T @ jacobian)
        step = -inverse @ jacobian.T @ np.array(left)
        x += step
        if float(np.max(np.abs(step))) < NEAR:
            break
    return (
        exp(x[0]),
        spring.k * exp(x[1]),
        (float(np.sqrt(inverse[0, 0])), 0.0 if known else float(np.sqrt(inverse[1, 1]))),
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Aimed:
    """The height after held against the aim: by how much it misses (m), whether it is met, and the force a side by its sheet (N) that a kit as strong as it was
    found takes to meet it."""

    miss: float
    met: bool
    force_needed: float


def aimed(
    spring: Spring, found: Found, before: float, after: float, target: float, tolerance: float = TOLERANCE
) -> Aimed:
    """Return how the height after stands to its target (before, after, target, tolerance: m).

    Raises InputError for an aim at or under where it stood before. Source: method section 26.
    """
    wanted = target - before
    if not wanted > 0.0:
        raise InputError("target", target, "it must lie above where it stood before")
    miss = after - target
    force = wanted * (found.k + found.q * spring.kit_rate) / found.q
    return Aimed(miss=miss, met=abs(miss) <= tolerance + EDGE, force_needed=force)


def ln_sigma(data: str) -> float:
    """Return the sigma of ln q by whose data a kit's are. Raises InputError for another word."""
    if data not in OF_DATA:
        raise InputError("data", data, f"one of {', '.join(OF_DATA)}")
    return OF_DATA[data]
