"""What the unknowns may be, as weighed draws: where a second stage may have met or not, or a stop, no bell curve about one value tells it.

Half the draws are of the prior, half of the estimate's branches made wider; each is weighed by prior and readings over how readily it was drawn. The reference
heights, whose prior is flat, are left out of the draws and followed exactly. Source: method section 21 (draws near a kink); importance sampling.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from vantok_core.base.num import FloatArray
from vantok_core.physics.vehicle import AXLES, Vehicle
from vantok_core.rates.places import Place
from vantok_core.rates.problem import EstimationProblem

COUNT, SEED = 2000, 20
"""How many are drawn, and their seed: the same sheet gives the same bands."""
ENOUGH = 60.0
"""How many equal draws the weighed ones must be worth (`1 / sum w^2`) to be used."""
LEAST = 1e-6
"""A branch that counts for less is not drawn from."""
WIDER = 2.0
"""How much wider than found the branches' covariance is drawn."""
Bell = tuple[float, FloatArray, FloatArray]
"""A share, a mean and a covariance."""
Stood = Mapping[tuple[str, Place], FloatArray]
"""How far places in states have come down (m), at each draw."""


@dataclass(frozen=True, kw_only=True)
class Lived:
    """Draws of the unknowns (rows of ln k, m, sigmas; reference heights at their best for each), how much each counts, what is left unknown of each
    place's reference height (m2) beside them, and how the states that were read stand at them (m), with each vehicle they were read on."""

    problem: EstimationProblem
    rows: FloatArray
    weights: FloatArray
    own: FloatArray
    stood: Sequence[tuple[Vehicle, Stood]]

    def about(
        self, heights: Sequence[float], wanted: Sequence[tuple[str, Place]], vehicle: Vehicle | None
    ) -> FloatArray:
        """Return the covariance (m2) about some foretold heights (m) at some places in some states. Raises StateError where a draw cannot stand so."""
        columns = [self.problem.places.index(place) for _, place in wanted]
        known = next((at for one, at in self.stood if one is (vehicle or self.problem.vehicle)), {})
        if not known.keys() >= set(wanted):
            known = dict(zip(wanted, self.problem.all_at(self.rows, wanted, vehicle), strict=True))
        stood = self.rows[:, 2:].T[columns] - np.reshape([known[one] for one in wanted], (len(wanted), len(self.rows)))
        off = stood - np.array(heights)[:, None]
        same = np.equal.outer(columns, columns)
        return np.asarray((off * self.weights) @ off.T + np.where(same, self.own[columns], 0.0))


def lived(problem: EstimationProblem, branches: Sequence[Bell]) -> Lived | None:
    """Return draws of what the unknowns may be, by an estimate's branches; None where too few of them agree with the readings to tell by.

    Raises StateError where a vehicle drawn cannot be solved.
    """
    start, first = problem.start(), 2 + len(problem.places)
    sought = np.r_[0:2, first : len(start)]
    spread = np.array([*(problem.sigma_ln[axle] for axle in AXLES), *np.ones(len(start) - first)])
    prior: Bell = (0.5, start[sought], np.diag(spread**2))
    bells = [prior]
    for weight, at, covariance in branches:
        if weight > LEAST:
            bells.append((0.5 * weight, at[sought], WIDER * covariance[np.ix_(sought, sought)]))
    drawn = _drawn(bells)
    rows = np.tile(start, (len(drawn), 1))
    rows[:, sought] = drawn
    told = _ln_density(prior, drawn) - np.logaddexp.reduce([_ln_density(bell, drawn) for bell in bells], axis=0)
    stood, own = _stood(problem, rows), np.empty(len(problem.places))
    for i, place in enumerate(problem.places):
        read = [r for r in problem.readings if r.place == place]
        meant = np.array([r.value + stood[r.kits][1][r.state, place] for r in read])
        sure = np.array([1.0 / r.sigma**2 for r in read])
        rows[:, 2 + i] = sure @ meant / sure.sum()
        told -= 0.5 * sure @ (meant - rows[:, 2 + i]) ** 2
        own[i] = 1.0 / sure.sum()
    weights = np.exp(told - told.max())
    weights /= weights.sum()
    enough = 1.0 / float(weights @ weights) >= ENOUGH
    return Lived(problem=problem, rows=rows, weights=weights, own=own, stood=stood) if enough else None


def _stood(problem: EstimationProblem, rows: FloatArray) -> list[tuple[Vehicle, Stood]]:
    """Return with each vehicle that was read how far every place of the states read on it has come down (m) at each draw."""
    found: list[tuple[Vehicle, Stood]] = []
    for kits, vehicle in enumerate((problem.vehicle, *problem.fitted)):
        states = dict.fromkeys(r.state for r in problem.readings if r.kits == kits)
        wanted = [(state, place) for state in states for place in problem.places]
        drops = problem.all_at(rows, wanted, vehicle)
        found.append((vehicle, dict(zip(wanted, drops, strict=True))))
    return found


def _drawn(bells: Sequence[Bell]) -> FloatArray:
    """Return draws of several bell curves, each by its share."""
    rng = np.random.default_rng(SEED)
    shares = rng.multinomial(COUNT, np.array([share for share, _, _ in bells]) / sum(share for share, _, _ in bells))
    return np.concatenate(
        [
            rng.multivariate_normal(mean, covariance, size=n, method="cholesky")
            for n, (_, mean, covariance) in zip(shares, bells, strict=True)
        ]
    )


def _ln_density(bell: Bell, rows: FloatArray) -> FloatArray:
    """Return the logarithm of a bell curve's density at some rows, by its share, but for what all have alike."""
    share, mean, covariance = bell
    root = np.linalg.cholesky(covariance)
    away = np.linalg.solve(root, (rows - mean).T)
    return np.asarray(np.log(share) - 0.5 * np.sum(away**2, axis=0) - np.sum(np.log(np.diag(root))))
