"""The search for the estimate: from readings to the rates, loads and reference heights that fit them best; where a kink is in doubt, on either side of it.

Source: method section 3.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from vantok_core.base.errors import StateError
from vantok_core.base.num import FloatArray
from vantok_core.physics.vehicle import AXLES
from vantok_core.rates.estimate import Branch, Estimate
from vantok_core.rates.problem import EstimationProblem
from vantok_core.rates.search import Asked, Both, Sought, least_squares, side_by_side

NODES = (-1.6, 0.0, 1.6)
"""Where a kink is tried, in sigmas of its prior."""
BETWEEN = 0.5
"""How far from a node a kink tried there may lie, one sigma, in the same."""


def estimate(problem: EstimationProblem, near: Estimate | None = None) -> Estimate:
    """Return rates, loads and reference heights that fit readings and priors best, with their covariance.

    near: an estimate of nearly the same readings, from which the search starts; the end is the same, found sooner. Where a trait's kink can lie to either side
    of what was read, it is tried at several places, each weighed by how well it fits (Laplace: `exp(-chi2 / 2) sqrt(det C)` by its prior), and the bands go
    over all of them.

    Raises InputError for a bad reading or load, StateError from the static solve.
    Source: method section 3; covariance from the inverse of `J^T J`, priors' rows included; branches: own derivation.
    """
    column = problem.kinked
    if column is None:
        return _searched(problem, (np.zeros_like(problem.start()),), near)[0]
    nodes = [node * np.eye(len(problem.start()))[column] for node in NODES]
    tried = list(zip(_searched(problem, nodes, near), nodes, strict=True))
    weights = []
    for found, at in tried:
        found.covariance[column, :] = found.covariance[:, column] = 0.0
        found.covariance[column, column] = BETWEEN**2
        weights.append(-0.5 * (found.chi2 + at[column] ** 2) + 0.5 * float(np.linalg.slogdet(found.covariance)[1]))
    shares = np.exp(np.array(weights) - max(weights))
    branches = tuple(
        Branch(weight=float(w), at=at, found=found) for w, (found, at) in zip(shares / shares.sum(), tried, strict=True)
    )
    likeliest = max(branches, key=lambda b: b.weight)
    whole = replace(likeliest.found, best=likeliest.found.best + likeliest.at, problem=problem)
    spread = np.zeros_like(whole.covariance)
    for branch in branches:
        off = branch.found.best + branch.at - whole.best
        spread += branch.weight * (branch.found.covariance + np.outer(off, off))
    sigma = np.sqrt(np.diag(spread))
    return replace(
        whole,
        branches=branches,
        settled=all(one.found.settled for one in branches),
        covariance=spread,
        sigma_ln={"front": float(sigma[0]), "rear": float(sigma[1])},
        correlation=float(spread[0, 1] / (sigma[0] * sigma[1])),
        loads_sigma=_sigmas(problem, spread),
    )


def _searched(problem: EstimationProblem, nodes: Sequence[FloatArray], near: Estimate | None) -> list[Estimate]:
    """Return the estimate at each node: what is taken as known there, in sigmas of each unknown. The searches go side by side."""
    start = problem.start()
    places = len(problem.places)
    scale = np.array([1.0, 1.0, *(0.01 for _ in range(places)), *(1.0 for _ in range(len(start) - 2 - places))])
    close = [b.found for b in near.branches] if near is not None and len(near.branches) == len(nodes) else [near]
    begun = [start if one is None else _from(problem, one, start) for one in close]
    known = nodes if problem.kinked is not None else ()

    def solve(asked: Asked) -> dict[int, Both | StateError]:
        told: dict[int, Both | StateError] = {}
        try:
            return dict(
                zip(
                    asked,
                    problem.residuals([*asked.values()], [known[n] for n in asked] if len(known) else ()),
                    strict=True,
                )
            )
        except StateError as error:
            if len(asked) == 1:
                return dict.fromkeys(asked, error)
        for n, x in asked.items():
            told |= solve({n: x})
        return told

    searches = [least_squares(begun[n % len(begun)], scale) for n in range(len(nodes))]
    ends = side_by_side(searches, solve)
    told = (
        problem.residuals([end.x for end in ends], known, wide=True) if problem.traits else [end.told for end in ends]
    )
    return [_estimated(_knowing(problem, node), end, *both) for node, end, both in zip(nodes, ends, told, strict=True)]


def _knowing(problem: EstimationProblem, node: FloatArray) -> EstimationProblem:
    """Return a problem with its kink taken as known where a node has it."""
    column = problem.kinked
    if column is None:
        return problem
    traits, n = list(problem.traits), column - problem.first_trait
    fixed = traits[n].fixed
    assert fixed is not None
    traits[n] = fixed(traits[n].axle, float(node[column]))
    return replace(problem, traits=traits)


def _estimated(problem: EstimationProblem, sought: Sought, residuals: FloatArray, jacobian: FloatArray) -> Estimate:
    """Return the estimate of one branch."""
    x = sought.x
    covariance = np.linalg.inv(jacobian.T @ jacobian)
    sigma = np.sqrt(np.diag(covariance))
    places, first = problem.places, 2 + len(problem.places)
    at_best = problem.at_unknowns(problem.vehicle, x)
    stated: dict[str, float] = {name: load.mass for name, load in problem.loads.items()}
    found_masses = problem.masses(x[first:], [state.name for state in problem.states])
    masses = stated | {name: float(mass) for name, mass in found_masses.items()}
    return Estimate(
        vehicle=at_best,
        k={axle: float(at_best.axle(axle).spring.k) for axle in AXLES},
        sigma_ln={"front": float(sigma[0]), "rear": float(sigma[1])},
        correlation=float(covariance[0, 1] / (sigma[0] * sigma[1])),
        loads=masses,
        loads_sigma=_sigmas(problem, covariance),
        strength={name: float(a) for name, a in problem.strength(x).items()},
        strength_sigma={
            name: problem.strengths[name] * float(sigma[problem.first_kit + i]) for i, name in enumerate(problem.kits)
        },
        heights={place: float(x[2 + i]) for i, place in enumerate(places)},
        chi2=float(residuals @ residuals),
        misfits=tuple((-residuals[: len(problem.readings)]).tolist()),
        problem=problem,
        covariance=covariance,
        best=x,
        settled=sought.settled,
    )


def _sigmas(problem: EstimationProblem, covariance: FloatArray) -> dict[str, float]:
    """Return every load's sigma (kg) by name, from the covariance of all unknowns."""
    names, of = list(problem.loads), slice(problem.first_load, problem.first_kit)
    found = np.diag(problem.load_covariance(names, covariance[of, of]))
    return dict(zip(names, np.sqrt(np.maximum(found, 0.0)).tolist(), strict=True))


def _from(problem: EstimationProblem, near: Estimate, start: FloatArray) -> FloatArray:
    """Return the unknowns at another estimate's values, as far as it has them."""
    x = start.copy()
    x[:2] = near.best[:2]
    for i, place in enumerate(problem.places):
        x[2 + i] = near.heights.get(place, x[2 + i])
    if len(near.problem.directions) == len(problem.directions):
        here, there = 2 + len(problem.places), 2 + len(near.problem.places)
        x[here : problem.first_kit] = near.best[there : near.problem.first_kit]
    known = {trait.name: near.best[near.problem.first_trait + i] for i, trait in enumerate(near.problem.traits)}
    x[problem.first_trait :] = [known.get(trait.name, 0.0) for trait in problem.traits]
    if problem.kinked is not None:
        x[problem.kinked] = 0.0
    return x
