"""How sure a ride is: the same two configurations over the same piece, again and again with what is not known drawn anew, both alike.

Source: method section 15: springs, dampers, how heavy it is to pitch and to roll, how high its mass stands.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from vantok_core.base.errors import VantokError
from vantok_core.base.num import FloatArray
from vantok_core.judge.ride.figured import FIGURES, Figured
from vantok_core.judge.ride.ready import Configuration, Over, run_of, usual_dampers
from vantok_core.judge.ride.thresholds import ARM_SIGMA, COARSE, DAMPER_SIGMA, FINE, INERTIA_SIGMA, TESTED_SIGMA
from vantok_core.model import JobModel, prior_sigma
from vantok_core.physics.stance.states import SolvedState, solve_states
from vantok_core.physics.vehicle import AXLES, Axle, AxleName, Vehicle
from vantok_core.road.course import PIECES
from vantok_core.road.figures import RideResult, figures
from vantok_core.road.ride_set import Damper, ForceCurve, RideSet
from vantok_core.road.simulate import Ridden, drive_all, ridden

COUNT, SEED = 32, 15


@dataclass(frozen=True, slots=True, kw_only=True)
class Banded:
    """Of a figure: the 90 % band of its ratio to the first (low, high; None where it has none), and the shares of draws in which it is less and in which it
    is more."""

    low: float | None
    high: float | None
    less: float
    more: float


def ride_odds(model: JobModel, first: Configuration, second: Configuration, over: Over) -> Mapping[str, Banded]:
    """Return how sure the second configuration's figures are against the first's, by figure; empty where too few draws can be driven."""
    rng = np.random.default_rng(SEED)
    lanes: list[tuple[Ridden, RideSet]] = []
    for _ in range(COUNT):
        drawn = _drawn(model, rng)
        try:
            lanes += [_lane(model, one, over, drawn) for one in (first, second)]
        except VantokError:
            lanes = lanes[: len(lanes) // 2 * 2]  # a vehicle that could not stand is none
    if len(lanes) < COUNT:
        return {}
    runs = drive_all(lanes, longest=COARSE)
    pairs = [
        (figures(a), figures(b))
        for a, b in zip(runs[::2], runs[1::2], strict=True)
        if a.fell is None and b.fell is None
    ]
    told = {one.key: _banded(one, pairs) for one in FIGURES if one.on(PIECES[over.piece])}
    return {key: one for key, one in told.items() if one is not None}


def _drawn(model: JobModel, rng: np.random.Generator) -> Mapping[str, float]:
    """Return factors on what is not known of the vehicle."""
    rates = (
        model.estimate.covariance[:2, :2]
        if model.estimate is not None
        else np.diag([s**2 for s in prior_sigma(model.job).values()])
    )
    springs = rng.multivariate_normal(np.zeros(2), rates)
    found = {f"{axle} spring": float(np.exp(springs[n])) for n, axle in enumerate(AXLES)}
    for axle in AXLES:
        tested = any(p.axle == axle and p.phase == "before" for p in model.job.pushes)
        found[f"{axle} damper"] = float(np.exp((TESTED_SIGMA if tested else DAMPER_SIGMA) * rng.standard_normal()))
    for name, sigma in (("arm", ARM_SIGMA), ("pitch", INERTIA_SIGMA), ("roll", INERTIA_SIGMA)):
        found[name] = float(np.exp(sigma * rng.standard_normal()))
    return found


def _lane(model: JobModel, one: Configuration, over: Over, drawn: Mapping[str, float]) -> tuple[Ridden, RideSet]:
    own = {axle: _scaled(damper, drawn[f"{axle} damper"]) for axle, damper in usual_dampers(model).items()}
    run = run_of(model, over, {**own, **one.dampers})
    run = replace(run, arm=run.arm * drawn["arm"])
    vehicle = _with_springs(one.vehicle, drawn)
    states = list((one.states or model.states).values())
    solved = solve_states(vehicle, states, check_limits=False, near=_near(model, one))[over.state]
    made = ridden(vehicle, solved, run, fine=FINE)
    body = replace(made.body, pitch=made.body.pitch * drawn["pitch"], roll=made.body.roll * drawn["roll"])
    return replace(made, body=body), run


def _near(model: JobModel, one: Configuration) -> Mapping[str, SolvedState] | None:
    return model.solved(one.vehicle) if one.states is None else None


def _scaled(damper: Damper, factor: float) -> Damper:
    bump, rebound = (v if isinstance(v, ForceCurve) else v * factor for v in (damper.bump, damper.rebound))
    return replace(damper, bump=bump, rebound=rebound)


def _with_springs(vehicle: Vehicle, drawn: Mapping[str, float]) -> Vehicle:
    """Return a vehicle with its main springs drawn, each as it stands in the reference."""

    def axle(name: AxleName) -> Axle:
        own = vehicle.axle(name)
        factor = drawn[f"{name} spring"]
        return replace(own, spring=replace(own.spring, k=own.spring.k * factor, k2=own.spring.k2 * factor))

    return replace(vehicle, front=axle("front"), rear=axle("rear"))


def _banded(one: Figured, pairs: list[tuple[RideResult, RideResult]]) -> Banded | None:
    """Return how sure a figure is, by its pairs; None where it is not told."""
    told = [(one.of(a), one.of(b)) for a, b in pairs]
    both: FloatArray = np.array([(a, b) for a, b in told if a is not None and b is not None])
    if not len(both):
        return None
    less, more = (float(np.mean(side)) for side in (both[:, 1] < both[:, 0], both[:, 1] > both[:, 0]))
    if not one.share or np.min(np.abs(both[:, 0])) < 1e-9:
        return Banded(low=None, high=None, less=less, more=more)
    low, high = np.quantile(both[:, 1] / both[:, 0], (0.05, 0.95))
    return Banded(low=float(low), high=float(high), less=less, more=more)
