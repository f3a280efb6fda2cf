"""Bringing the load plan to what the scale says, with as little change as the figures' own uncertainty allows.

Source: method section 2 ("the reading rules"); constrained weighted least squares (textbook: the posterior mean of the
masses given two axle sums).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from vantok_core.base.errors import InputError
from vantok_core.facts import Job, JobState, LoadItem
from vantok_core.facts.classes import PLAN_LEAST, PLAN_SHARE, SCALE_SIGMA
from vantok_core.loads.plan import reach, state_load
from vantok_core.physics.levers import item_lever

MOST = 0.25
"""No listed mass is changed by more than this share; what is left over is an item that nobody listed."""
UNLISTED = "not on the list"
WORTH_KG = 10.0
"""What is left over below this is the scale's own step, kg."""


@dataclass(frozen=True, slots=True, kw_only=True)
class PlanAdjustment:
    """New masses (kg) by place in `state.items`, the item nobody listed (None when none is needed), and what still differs
    at front and rear (kg, scale less plan)."""

    masses: dict[int, float]
    unlisted: LoadItem | None
    left_front: float
    left_rear: float


def adjust_plan(job: Job, state: JobState) -> PlanAdjustment:
    """Return the plan's masses adjusted so that its axle loads come to the scale's.

    Formula: `m' = m + S A^T (A S A^T + R)^-1 r`, S the items' variances (6 %, at least 2 kg), A their levers, R the scale's
    variance, r scale less plan; each mass within a quarter of what was listed. The rest becomes one item at the place its
    levers tell, kept on the vehicle. Raises InputError without a scale reading beside a plan.
    """
    load, length, place = state_load(job, state), job.vehicle.base_m, reach(job)
    if load.short_front is None or load.short_rear is None or length is None or place is None:
        raise InputError("adjust", state.name, "it needs this state's scale figures, a plan, and the empty axle loads")
    short = np.array([load.short_front, load.short_rear])
    masses = np.array([i.mass_kg for i in state.items])
    levers = np.array(
        [[float(s.front), float(s.rear)] for s in (item_lever(1.0, i.station_m, length) for i in state.items)]
    )
    levers = levers.reshape(-1, 2).T
    change = np.zeros(len(masses))
    if len(masses):
        variance = np.diag(np.maximum(PLAN_SHARE * masses, PLAN_LEAST) ** 2)
        spread = levers @ variance @ levers.T + np.eye(2) * 2.0 * SCALE_SIGMA**2
        change = np.clip(variance @ levers.T @ np.linalg.solve(spread, short), -MOST * masses, MOST * masses)
    changed = {i: round(float(m)) for i, m in enumerate(masses + change) if round(float(m)) != round(masses[i])}
    done = np.array([changed.get(i, m) - m for i, m in enumerate(masses)])
    left = short - (levers @ done if len(masses) else 0.0)
    unlisted = _unlisted(float(left[0]), float(left[1]), length, max(place.nose, 0.0), place.tail)
    if unlisted is not None:
        own = item_lever(unlisted.mass_kg, unlisted.station_m, length)
        left = left - np.array([float(own.front), float(own.rear)])
    return PlanAdjustment(
        masses={i: float(m) for i, m in changed.items()},
        unlisted=unlisted,
        left_front=float(left[0]),
        left_rear=float(left[1]),
    )


def _unlisted(front: float, rear: float, length: float, first: float, last: float) -> LoadItem | None:
    """Return the item that what is left over makes (kg at its station), None for less than the scale's step or a lack."""
    total = front + rear
    if total < WORTH_KG:
        return None
    station = min(max(length * rear / total, first), last)
    return LoadItem(name=UNLISTED, mass_kg=float(round(total)), station_m=round(station, 2))
