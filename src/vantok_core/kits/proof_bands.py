"""How far apart read and predicted heights may lie: the joint covariance of all readings taken with a kit on.

Own derivation from method section 3: every height with a kit is linear in a few independent errors (the estimate's unknowns, the
kit's strength, the scatter of the readings that told the left/right differences, its own reading), so the covariance of all
misses is known, and with it the band of each, of a mean of two, and of all of them together.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import chdtri

from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.num import FloatArray
from vantok_core.facts import Job, JobReading
from vantok_core.kits.family import KIT_ELEMENT
from vantok_core.model import AXLE_DATUM, JobModel, alike_sigma, corner_sigma
from vantok_core.physics.vehicle import AXLES, AxleName, Vehicle
from vantok_core.rates.places import Place, place_drop

UNREAD = 0.003
"""A reading's own sigma (m) until it is taken."""
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


def bands(model: JobModel, cells: Sequence[Cell], datum: str, vehicle: Vehicle, weaker: Vehicle) -> Bands:
    """Return the bands of predicted cells.

    Arguments: datum: arch datum of the cells; vehicle: with the kit on; weaker: with a kit a sigma weaker. Source: own derivation, see the module.
    """
    place = {axle: Place(axle, AXLE_DATUM[datum]) for axle in AXLES}
    stood, sunk = (
        np.array([place_drop(solved[c.state], Place(c.corner, AXLE_DATUM[datum])) for c in cells])
        for solved in (model.solved(vehicle), model.solved(weaker))
    )
    kit = stood - sunk
    side = model.side_errors([(c.state, c.corner) for c in cells], datum, vehicle)
    found = model.estimate.joint([(c.state, place[c.axle]) for c in cells], vehicle) + side @ side.T
    if (
        KIT_ELEMENT not in model.estimate.strength
    ):  # else what is left unknown of its strength is one of the estimate's unknowns
        found += np.outer(kit, kit)
    return Bands(cells=tuple(cells), covariance=found + _of_tape(model.job, cells), model=found, kit=kit)


def _of_tape(job: Job, cells: Sequence[Cell]) -> FloatArray:
    """Return the covariance of the readings' own errors (m^2): what an axle's friction moves both its sides by is shared in one state."""
    own = [corner_sigma(job, c.read) if c.read else UNREAD for c in cells]
    alike = [alike_sigma(job, c.read) if c.read else 0.0 for c in cells]
    shared = np.array([[(a.state, a.axle) == (b.state, b.axle) for b in cells] for a in cells])
    return np.asarray(np.diag(np.square(own)) + np.outer(alike, alike) * shared)
