"""Rates learned from tape readings, with honest bands: maximum a posteriori on the static model.

Unknowns: ln of the front and rear spring rate (a second stage goes with its first), one reference height per place and
datum (flat prior), and every load whose mass is uncertain. Heights come from the same static solve as every screen.
Source: method section 3.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass, field
from functools import cached_property
from math import sqrt

import numpy as np

from vantok_core.base.errors import InputError, StateError
from vantok_core.base.figure import Figure
from vantok_core.base.kept import LastFew
from vantok_core.base.num import FloatArray
from vantok_core.physics.stance.states import SolvedState
from vantok_core.physics.vehicle import AXLES, AxleName, Vehicle
from vantok_core.rates.lived import Lived, lived
from vantok_core.rates.places import Place
from vantok_core.rates.problem import EstimationProblem, HeightReading

JUDGEABLE = 1e-6
"""Least share of a reading's variance that others must leave free for it to be judged."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Suspect:
    """A reading with its misfit over its own standard deviation, and the change (m) that would make it agree best."""

    reading: HeightReading
    standardised: float
    closing: float


@dataclass(frozen=True, kw_only=True)
class Estimate:
    """What the readings taught.

    vehicle: with its rates at their best values; k: N/m by axle; sigma_ln: sigma of ln k by axle; correlation of the two;
    loads: kg, best values by name; loads_sigma: kg; heights: m by place; chi2: minimised sum, priors included;
    misfits: (read - predicted) over sigma, reading by reading; settled: whether the search had, or had tried as often as it may (this is the best
    so far then, and nothing rests on it); strength, strength_sigma: a kit's factor on its force and sigma of its
    ln, by element; branches: the same with a kink on this side or that of what was read, where one is in doubt: bands go over all of them.
    """

    vehicle: Vehicle
    k: dict[AxleName, float]
    sigma_ln: dict[AxleName, float]
    correlation: float
    loads: dict[str, float]
    loads_sigma: dict[str, float]
    heights: dict[Place, float]
    chi2: float
    misfits: tuple[float, ...]
    problem: EstimationProblem
    covariance: FloatArray
    best: FloatArray
    settled: bool = True
    strength: Mapping[str, float] = field(default_factory=dict)
    strength_sigma: Mapping[str, float] = field(default_factory=dict)
    branches: tuple[Branch, ...] = ()
    kept: LastFew[Vehicle, dict[str, dict[Place, list[tuple[float, FloatArray]]]]] = field(
        default_factory=LastFew, init=False, repr=False, compare=False
    )

    def suspects(self) -> list[Suspect]:
        """Return the readings by how badly they fit, worst first, each with the change that would make it agree best.

        A misfit is judged against its own standard deviation, `sigma sqrt(1 - h)`, h the reading's leverage with the
        priors counted in; a reading nothing else speaks to cannot be judged and is left out.
        """
        _, jacobian = self.problem.residuals([self.best], wide=True)[0]
        rows = jacobian[: len(self.problem.readings)]
        leverage = np.sum((rows @ self.covariance) * rows, axis=1)
        found = []
        for reading, misfit, h in zip(self.problem.readings, self.misfits, leverage, strict=True):
            free = 1.0 - float(h)
            if free > JUDGEABLE:
                closing = -misfit * reading.sigma / free
                found.append(Suspect(reading=reading, standardised=misfit / sqrt(free), closing=closing))
        return sorted(found, key=lambda s: -abs(s.standardised))

    @cached_property
    def points(self) -> tuple[tuple[float, FloatArray, FloatArray], ...]:
        """Where the unknowns may lie: by how much each counts, their values there, and their covariance about them; one point without branches."""
        if not self.branches:
            return ((1.0, self.best, self.covariance),)
        return tuple((b.weight, b.found.best + b.at, b.found.covariance) for b in self.branches)

    @cached_property
    def _likeliest(self) -> int:
        return max(range(len(self.points)), key=lambda n: self.points[n][0])

    def height(self, state: str, place: Place, vehicle: Vehicle | None = None) -> Figure:
        """Return the height at a place; raises InputError where no reading ever gave that place a reference."""
        return self._figures([[(*one, 0.0)] for one in self._heights(state, place, vehicle)])[0]

    def _heights(self, state: str, place: Place, vehicle: Vehicle | None) -> list[tuple[float, FloatArray]]:
        """Return a height (m) and its slope in each unknown, at every point. Raises InputError as `height`."""
        column = self._column(place)
        row = np.zeros(len(self.best))
        row[column] = 1.0
        drops = self._drop(state, place, vehicle)
        return [
            (float(x[column]) - drop, row - slope) for (_, x, _), (drop, slope) in zip(self.points, drops, strict=True)
        ]

    def _column(self, place: Place) -> int:
        if place not in self.heights:
            raise InputError("place", f"{place.at} {place.datum}", "no reading gives this place a reference height")
        return 2 + list(self.heights).index(place)

    def height_slope(self, state: str, place: Place, vehicle: Vehicle | None = None) -> FloatArray:
        """Return the slope of a height (m) in each unknown, in the covariance's order. Raises InputError as `height`."""
        return self._heights(state, place, vehicle)[self._likeliest][1]

    def joint(self, wanted: Sequence[tuple[str, Place]], vehicle: Vehicle | None = None) -> FloatArray:
        """Return the covariance (m2) of heights at some places in some states. Raises InputError as `height`."""
        told = [self._heights(state, place, vehicle) for state, place in wanted]
        here = np.array([one[self._likeliest][0] for one in told])
        drawn = self._by_draws(here.tolist(), wanted, vehicle)
        if drawn is not None:
            return drawn
        found = np.zeros((len(wanted), len(wanted)))
        for n, (weight, x, covariance) in enumerate(self.points):
            slopes = np.array([one[n][1] for one in told]).reshape(len(wanted), len(x))
            off = np.array([one[n][0] for one in told]) - here
            found += weight * (slopes @ covariance @ slopes.T + np.outer(off, off))
        return found

    def _by_draws(
        self, heights: Sequence[float], wanted: Sequence[tuple[str, Place]], vehicle: Vehicle | None
    ) -> FloatArray | None:
        """Return the covariance (m2) of heights by draws; None where there are none, or one of them cannot stand with this vehicle: the slopes tell it then."""
        try:
            return None if self._lived is None else self._lived.about(heights, wanted, vehicle)
        except StateError:
            return None

    @cached_property
    def _lived(self) -> Lived | None:
        """The unknowns as draws, where something of the vehicle nobody has read; None else, and where draws cannot tell."""
        if not self.problem.traits or not self.settled:
            return None
        try:
            return lived(self.problem, self.points)
        except StateError:
            return None

    def load_covariance(self, names: Sequence[str]) -> FloatArray:
        """Return the covariance of some loads by name (kg2)."""
        of = slice(self.problem.first_load, self.problem.first_kit)
        return self.problem.load_covariance(names, self.covariance[of, of])

    def draws(self, count: int, seed: int) -> FloatArray:
        """Return draws of all unknowns about their best values (rows of ln k, m, sigmas), the same for one seed."""
        rng = np.random.default_rng(seed)
        if not self.branches:
            return rng.multivariate_normal(self.best, self.covariance, size=count, method="cholesky")
        shares = rng.multinomial(count, [branch.weight for branch in self.branches])
        parts = [
            b.found.draws(int(n), seed + i) + b.at for i, (b, n) in enumerate(zip(self.branches, shares, strict=True))
        ]
        return np.asarray(rng.permutation(np.concatenate(parts)))

    def drop_slope(self, state: str, place: Place, vehicle: Vehicle | None = None) -> FloatArray:
        """Return the slope of a drop (m) in each unknown, in the covariance's order."""
        return self._drop(state, place, vehicle)[self._likeliest][1]

    def drop(self, state: str, place: Place, vehicle: Vehicle | None = None) -> Figure:
        """Return the drop from the reference; `vehicle` may be the same one with a kit fitted."""
        return self._figures([[(*one, 0.0)] for one in self._drop(state, place, vehicle)])[0]

    def drops_with(
        self,
        states: Sequence[str],
        place: Place,
        vehicle: Vehicle,
        strengths: Mapping[str, float],
        near: Mapping[str, SolvedState] | None = None,
    ) -> list[Figure]:
        """Return the drops from the reference in some states with elements on that nobody has read yet: their strength (by name, sigma of
        ln a) is one more thing that is not known; near: the states solved at the best values, to begin from."""
        return self._figures(self._with(states, place, vehicle, strengths, near))

    def heights_with(
        self,
        states: Sequence[str],
        place: Place,
        vehicle: Vehicle,
        strengths: Mapping[str, float],
        near: Mapping[str, SolvedState] | None = None,
    ) -> list[Figure]:
        """Return the heights in some states, likewise. Raises InputError where no reading ever gave that place a reference."""
        column = self._column(place)
        row = np.zeros(len(self.best))
        row[column] = 1.0
        drops = self._with(states, place, vehicle, strengths, near)
        return self._figures(
            [
                [(float(x[column]) - value, row - slope, own) for value, slope, own in told]
                for (_, x, _), told in zip(self.points, drops, strict=True)
            ]
        )

    def _figures(self, told: Sequence[Sequence[tuple[float, FloatArray, float]]]) -> list[Figure]:
        """Return figures as the likeliest point has them, with their sigma over all points; told: of each point its value, slope and further sigma."""
        here = told[self._likeliest]
        variance = [0.0] * len(here)
        for (weight, _, covariance), at in zip(self.points, told, strict=True):
            for n, (value, slope, own) in enumerate(at):
                square = max(float(slope @ covariance @ slope), 0.0) + own**2
                variance[n] += weight * (square + (value - here[n][0]) ** 2)
        return [Figure(value=one[0], sigma=sqrt(square)) for one, square in zip(here, variance, strict=True)]

    def _with(
        self,
        states: Sequence[str],
        place: Place,
        vehicle: Vehicle,
        strengths: Mapping[str, float],
        near: Mapping[str, SolvedState] | None = None,
    ) -> list[list[tuple[float, FloatArray, float]]]:
        """Return a place's drop in some states at every point, its slope in the unknowns, and the sigma that elements nobody has read add."""
        xs = [x for _, x, _ in self.points]
        wanted = [(state, place) for state in states]
        found = self.problem.drops_of_strength(xs, wanted, vehicle, strengths, near, kinks=not self.branches)
        return [
            [
                (float(d.values[0]), slope, own)
                for (d, own), slope in zip(at, self.problem.gradients(x, [d for d, _ in at]), strict=True)
            ]
            for x, at in zip(xs, found, strict=True)
        ]

    def _drop(self, state: str, place: Place, vehicle: Vehicle | None) -> list[tuple[float, FloatArray]]:
        """Return a drop and its gradient at every point; a state's places are worked out together, once for each of the last few vehicles."""
        known = self._known(vehicle)
        if state not in known:
            wanted = [(state, p) for p in ALWAYS]
            known[state] = dict(zip(ALWAYS, self._drops(wanted, vehicle), strict=True))
        if place not in known[state]:
            known[state][place] = self._drops([(state, place)], vehicle)[0]
        return known[state][place]

    def _known(self, vehicle: Vehicle | None) -> dict[str, dict[Place, list[tuple[float, FloatArray]]]]:
        used = vehicle or self.problem.vehicle
        known = self.kept.get(used)
        return self.kept.put(used, {}) if known is None else known

    def together(self, states: Sequence[str], vehicle: Vehicle | None = None) -> None:
        """Work out the drops of all these states in one, as they will be asked for: cheaper than each for itself. Where one of them cannot be
        solved, each is left to be asked for itself."""
        known = self._known(vehicle)
        wanted = [(state, place) for state in states if state not in known for place in ALWAYS]
        with suppress(StateError):
            for (state, place), drop in zip(wanted, self._drops(wanted, vehicle), strict=True):
                known.setdefault(state, {})[place] = drop

    def _drops(
        self, wanted: Sequence[tuple[str, Place]], vehicle: Vehicle | None
    ) -> list[list[tuple[float, FloatArray]]]:
        """Return drops and gradients, place by place at every point."""
        xs = [x for _, x, _ in self.points]
        found = self.problem.drops(xs, wanted, vehicle, kinks=not self.branches)
        slopes = [self.problem.gradients(x, at) for x, at in zip(xs, found, strict=True)]
        return [
            [(float(at[n].values[0]), slope[n]) for at, slope in zip(found, slopes, strict=True)]
            for n in range(len(wanted))
        ]


@dataclass(frozen=True, slots=True, kw_only=True)
class Branch:
    """An estimate with a kink taken as known: how likely it is against the others, and where it has the kink, as so many sigmas of each unknown."""

    weight: float
    at: FloatArray
    found: Estimate


ALWAYS = tuple(Place(at, datum) for at in AXLES for datum in ("ground", "hub"))
"""Places that one solve of a state serves together."""
