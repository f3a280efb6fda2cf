"""How far apart read and predicted heights may lie: the joint covariance of all readings taken with a kit on.

Own derivation from method section 3: every height with a kit is linear in a few independent errors (the estimate's unknowns, the
kit's strength, the scatter of the readings that told the left/right differences, its own reading), so the covariance of all
misses is known, and with it the band of each, of a mean of two, and of all of them together.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import hypot

import numpy as np
from scipy.special import chdtri

from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.num import FloatArray, G
from vantok_core.facts import Job, JobReading
from vantok_core.kits.family import KIT_ELEMENT
from vantok_core.model import AXLE_DATUM, JobModel, reading_own_sigma, side_effect
from vantok_core.physics.vehicle import AXLE_CORNERS, AXLES, AxleName, Vehicle
from vantok_core.rates.places import Place

KIT_SIGMA = 0.05
"""Sigma of a kit's force about its published data (share); a pair off the shelf."""
UNREAD = 0.003
"""A reading's own sigma (m) until it is taken."""
OFF_CENTRE = 0.10
"""How far off the middle a load may lie (one sigma, m) whose side nobody read."""
JOINT = 0.90
"""Share of right jobs that the joint band holds."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Cell:
    """A height with the kit on: state, corner, predicted height (m), the reading if taken."""

    state: str
    corner: str
    predicted: float
    read: JobReading | None

    @property
    def axle(self) -> AxleName:
        """Its axle."""
        return "front" if self.corner[0] == "F" else "rear"


@dataclass(frozen=True, kw_only=True)
class Bands:
    """The covariance (m^2) of all cells' misses, reading scatter included, and of the predictions alone; kit: what a kit a sigma
    weaker does to each cell (m)."""

    cells: tuple[Cell, ...]
    covariance: FloatArray
    model: FloatArray
    kit: FloatArray

    def sigma(self, i: int) -> float:
        """Return the model's own sigma of a cell (m)."""
        return float(np.sqrt(self.model[i, i]))

    def band(self, i: int) -> float:
        """Return the joint 90 % half width of a cell and its reading (m)."""
        return NINE_IN_TEN * float(np.sqrt(self.covariance[i, i]))

    @property
    def judged(self) -> list[int]:
        """The cells that were read."""
        return [i for i, cell in enumerate(self.cells) if cell.read is not None]

    def misses(self) -> FloatArray:
        """Return read less predicted of the cells read (m)."""
        return np.array([c.read.value_m - c.predicted for c in self.cells if c.read is not None])

    @property
    def inside(self) -> bool | None:
        """Whether all cells read lie together in the joint 90 % band; None while none is read.

        Formula: `e^T S^-1 e` at most the 90 % point of chi-square with as many degrees of freedom as readings.
        """
        at = self.judged
        if not at:
            return None
        misses = self.misses()
        distance = float(misses @ np.linalg.solve(self.covariance[np.ix_(at, at)], misses))
        return distance <= float(chdtri(len(at), 1.0 - JOINT))

    def mean(self, state: str, axle: AxleName) -> tuple[float, float] | None:
        """Return the mean miss of an axle in a state and its joint 90 % half width (m), None unless both sides were read."""
        at = [i for i in self.judged if (self.cells[i].state, self.cells[i].axle) == (state, axle)]
        if len(at) != 2:
            return None
        misses = [c.read.value_m - c.predicted for c in (self.cells[i] for i in at) if c.read is not None]
        return 0.5 * sum(misses), NINE_IN_TEN * 0.5 * float(np.sqrt(self.covariance[np.ix_(at, at)].sum()))

    def explains(self, pattern: FloatArray) -> float:
        """Return by how much one cause with this pattern over the cells read (m for one unit of it) lessens `e^T S^-1 e`."""
        at = self.judged
        inverse = np.linalg.inv(self.covariance[np.ix_(at, at)])
        size = float(pattern @ inverse @ pattern)
        return float(pattern @ inverse @ self.misses()) ** 2 / size if size > 0.0 else 0.0


def bands(
    model: JobModel, cells: Sequence[Cell], datum: str, vehicle: Vehicle, weaker: Mapping[tuple[str, str], float]
) -> Bands:
    """Return the bands of predicted cells.

    Arguments: datum: arch datum of the cells; vehicle: with the kit on; weaker: predicted height (m) by state and corner with a
    kit a sigma weaker. Source: own derivation, see the module.
    """
    place = {axle: Place(axle, AXLE_DATUM[datum]) for axle in AXLES}
    slopes = np.zeros((len(cells), len(model.estimate.best)))
    for i, cell in enumerate(cells):
        slopes[i] = model.estimate.height_slope(cell.state, place[cell.axle], vehicle)
    kit = np.array([weaker[c.state, c.corner] - c.predicted for c in cells])
    side = _side_errors(model, cells, datum, vehicle)
    found = slopes @ model.estimate.covariance @ slopes.T + side @ side.T
    if (
        KIT_ELEMENT not in model.estimate.strength
    ):  # else what is left unknown of its strength is one of the estimate's unknowns
        found += np.outer(kit, kit)
    own = [reading_own_sigma(model.job, c.read) if c.read else UNREAD for c in cells]
    return Bands(cells=tuple(cells), covariance=found + np.diag(np.square(own)), model=found, kit=kit)


def _side_errors(model: JobModel, cells: Sequence[Cell], datum: str, vehicle: Vehicle) -> FloatArray:
    """Return what one sigma of each left/right difference read does to each cell (m): a column for each such difference.

    A side adds half its empty difference, and half of what the load's inferred side couple does there with the kit on; the couple
    was told by the differences in that state and empty, on both axles.
    """
    assert model.job.empty is not None
    empty, states = model.job.empty.key, list(dict.fromkeys(c.state for c in cells))
    columns = [(empty, axle) for axle in AXLES] + [(s, axle) for s in states if s != empty for axle in AXLES]
    found = np.zeros((len(cells), len(columns) + len(states)))
    for n, state in enumerate(states):
        with_kit = side_effect(model, state, datum, vehicle)
        weight = _weights(model, state, datum)
        for i, cell in enumerate(cells):
            if cell.state != state:
                continue
            half = 0.5 if cell.corner[1] == "L" else -0.5
            found[i, columns.index((empty, cell.axle))] += half * _difference_sigma(model.job, empty, cell.axle, datum)
            if state == empty:
                continue
            for axle, w in weight.items():
                moved = half * with_kit[cell.axle] * w
                found[i, columns.index((empty, axle))] -= moved * _difference_sigma(model.job, empty, axle, datum)
                found[i, columns.index((state, axle))] += moved * _difference_sigma(model.job, state, axle, datum)
            if not weight:
                found[i, len(columns) + n] = half * with_kit[cell.axle] * _unread_couple(model, state)
    return found


def _weights(model: JobModel, state: str, datum: str) -> dict[AxleName, float]:
    """Return how the side couple of a state (N m) follows from each axle's left/right difference there (m); empty where no couple
    was inferred from heights."""
    if state not in model.side:
        return {}
    plain = side_effect(model, state, datum, model.vehicle)
    assert model.job.empty is not None
    told: dict[AxleName, float] = {}
    for axle in AXLES:
        sigmas = [_difference_sigma(model.job, key, axle, datum) for key in (model.job.empty.key, state)]
        if all(model.job.read(k, c, datum) for k in (model.job.empty.key, state) for c in AXLE_CORNERS[axle]):
            told[axle] = plain[axle] / hypot(*sigmas) ** 2
    bottom = sum(w * plain[axle] for axle, w in told.items())
    return {axle: w / bottom for axle, w in told.items()} if bottom else {}


def _unread_couple(model: JobModel, state: str) -> float:
    """Return the sigma of a side couple (N m) that nothing told; nought where pads or the empty state tell it."""
    told = model.job.state(state)
    if told is None or told.empty or told.corners_kg is not None:
        return 0.0
    gained = sum(abs(float(item.mass)) for item in model.states[state].items)
    return gained * G * OFF_CENTRE


def _difference_sigma(job: Job, state: str, axle: AxleName, datum: str) -> float:
    """Return the sigma of an axle's left less right as read in a state (m)."""
    read = [job.read(state, corner, datum) for corner in AXLE_CORNERS[axle]]
    return hypot(*(reading_own_sigma(job, r) if r else UNREAD for r in read))
