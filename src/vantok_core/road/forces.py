"""Every spring, bar and damper of a vehicle as a row of one table: force against its own travel or speed, read off all at once.

A force is looked up between two points of a fine grid, straight; rates, kinks at nought and the static state lie on grid points. Source: method section 7.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from vantok_core.base.num import FloatArray
from vantok_core.physics.elements.air import AirSpring, teed_pair
from vantok_core.physics.elements.laws import Law
from vantok_core.physics.stance.assembly import AxleLines, Line
from vantok_core.physics.vehicle import Axle
from vantok_core.road.ride_set import Damper

TRAVEL, FINE = 0.35, 2.5e-5
"""How far either way of where it stands an element is tabled (m), and how finely (m)."""
SPEED, FINE_SPEED = 6.0, 1e-3
"""The same of a damper, m/s. Past either end a force goes on straight."""
PAIR_STEP, PAIR_HALF = 2e-3, 100
PAIR_SIDE = 2 * PAIR_HALF + 1
"""Of two bags on one line: steps of either's compression (m), and how many either way of where they stand."""
Row = tuple[int, float, float]
"""An axle (0 front, 1 rear), and the parts of its left and right wheel's travel that an element sees."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Element:
    """A row: what it sees, its force (N) at the points of its grid, the grid's step (m or m/s), its middle (where it stands), and whether it goes by speed."""

    sees: Row
    force: FloatArray
    step: float
    middle: float
    damps: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Teed:
    """A pair of bags on one line, and the two rows that stand for it; table: what both press more than where they stand (N), by the left's compression from
    there and the right's, on one even grid."""

    rows: tuple[int, int]
    table: FloatArray

    def press(self, left: FloatArray, right: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Return what both press more than where they stand (N), at compressions left and right from there (m), straight between four points."""
        place = np.stack((left, right)) / PAIR_STEP + PAIR_HALF
        step = np.minimum(np.fmax(place, 0.0), 2.0 * PAIR_HALF - 1.0).astype(np.intp)
        part = place - step
        at = step[0] * PAIR_SIDE + step[1]
        across = part[1][:, None]
        near = self.table[at] + across * (self.table[at + 1] - self.table[at])
        at += PAIR_SIDE
        far = self.table[at] + across * (self.table[at + 1] - self.table[at])
        found = near + part[0][:, None] * (far - near)
        return found[:, 0], found[:, 1]


@dataclass(frozen=True, slots=True, kw_only=True)
class Forces:
    """A vehicle's elements and teed pairs, as it stands in one state."""

    elements: tuple[Element, ...]
    teed: tuple[Teed, ...]


def forces(
    axles: Sequence[AxleLines], z0: Sequence[float], fitted: Sequence[tuple[Axle, Damper]], fine: float = FINE
) -> Forces:
    """Return a vehicle's forces.

    Arguments: axles: front, rear, bags shut; z0: travel of the four wheels where it stands, m; fitted: each axle with its damper; fine: step of a spring's
    table, m.
    """
    rows: list[Element] = []
    teed: list[Teed] = []
    for a, lines in enumerate(axles):
        z = z0[2 * a], z0[2 * a + 1]
        rows.append(_bar(a, lines))
        for line in lines.lines:
            bags = line.left, line.right
            if line.teed and isinstance(bags[0], AirSpring) and isinstance(bags[1], AirSpring):
                teed.append(_teed((bags[0], bags[1]), line, z, len(rows)))
                rows += [_still(a, line, side) for side in (0, 1)]
            else:
                rows += _line(a, line, z, fine)
        rows += _dampers(a, *fitted[a])
    return Forces(elements=tuple(rows), teed=tuple(teed))


def _grid(middle: float, reach: float, step: float) -> FloatArray:
    count = round(reach / step)
    return middle + step * np.arange(-count, count + 1)


def _element(sees: Row, law: Law, middle: float, fine: float) -> Element:
    """Return a spring's row; its force is told from where it stands."""
    grid = _grid(middle, TRAVEL, fine)
    with np.errstate(all="ignore"):  # far beyond its travel a law may have no figure; nobody who gets there is answered
        force = np.array(np.broadcast_to(np.asarray(law.at(grid)[0]), grid.shape))
    return Element(sees=sees, force=force - force[len(force) // 2], step=fine, middle=middle)


def _bar(a: int, lines: AxleLines) -> Element:
    track = 2.0 * float(lines.half_track)
    rate = float(lines.bar) / (track * track)
    ends = np.array([-1.0, 0.0, 1.0])
    return Element(sees=(a, 1.0, -1.0), force=rate * ends, step=1.0, middle=0.0)


def _line(a: int, line: Line, z: tuple[float, float], fine: float) -> list[Element]:
    near, far = float(line.near), float(line.far)
    at = line.compressions(*z)
    found = []
    for law, sees, middle in zip((line.left, line.right), ((a, near, far), (a, far, near)), at, strict=True):
        if law is not None:
            found.append(_element(sees, law, float(middle), fine))
    return found


def _still(a: int, line: Line, side: int) -> Element:
    near, far = float(line.near), float(line.far)
    return Element(sees=(a, far, near) if side else (a, near, far), force=np.zeros(3), step=1.0, middle=0.0)


def _teed(bags: tuple[AirSpring, AirSpring], line: Line, z: tuple[float, float], row: int) -> Teed:
    moved = PAIR_STEP * np.arange(-PAIR_HALF, PAIR_HALF + 1)
    c_l, c_r = (float(c) for c in line.compressions(*z))
    with np.errstate(all="ignore"):  # far beyond their travel bags have no figure; nobody who gets there is answered
        pressed = teed_pair(*bags, c_l + np.repeat(moved, PAIR_SIDE), c_r + np.tile(moved, PAIR_SIDE))[:2]
    table = np.stack([np.asarray(one, dtype=float) for one in pressed], axis=1)
    return Teed(rows=(row, row + 1), table=table - table[len(table) // 2])


def _dampers(a: int, axle: Axle, damper: Damper) -> list[Element]:
    """Return a damper a side, in the parts of the wheels' speeds it sees."""
    near, far = damper.parts(axle)
    reach, step = (1.0, 1.0) if damper.plain else (SPEED, FINE_SPEED)
    force = damper.force(_grid(0.0, reach, step))
    return [
        Element(sees=sees, force=force, step=step, middle=0.0, damps=True) for sees in ((a, near, far), (a, far, near))
    ]


@dataclass(frozen=True, slots=True, kw_only=True)
class Lookup:
    """The rows of several vehicles as one table: values in one line, where each row begins, its last step, steps per metre and its middle step."""

    values: FloatArray
    begins: NDArray[np.intp]
    last: FloatArray
    per: FloatArray
    middle: FloatArray

    def at(self, travel: FloatArray) -> FloatArray:
        """Return the forces (N) at travels or speeds from where each row stands (m, m/s), one row a vehicle; no figure where there is none (a run that
        grew beyond all bounds)."""
        place = travel * self.per + self.middle
        step = np.minimum(np.fmax(place, 0.0), self.last).astype(np.intp)
        part = place - step
        step += self.begins
        low = self.values.take(step)
        step += 1
        found: FloatArray = low + part * (self.values.take(step) - low)
        return found


def lookup(told: Sequence[Forces]) -> Lookup:
    """Return one table of several vehicles' rows; a vehicle told twice is held once, one with fewer rows is filled up with rows that carry nothing."""
    rows = max(len(one.elements) for one in told)
    values: list[FloatArray] = [np.zeros(3)]
    at: dict[int, int] = {}
    where, count = 3, len(told)
    begins = np.zeros((count, rows), dtype=np.intp)
    last, per, middle = np.ones((count, rows)), np.ones((count, rows)), np.ones((count, rows))
    for n, one in enumerate(told):
        for e, element in enumerate(one.elements):
            if id(element) not in at:
                at[id(element)] = where
                values.append(element.force)
                where += len(element.force)
            size = len(element.force)
            begins[n, e], last[n, e] = at[id(element)], size - 2
            per[n, e], middle[n, e] = 1.0 / element.step, size // 2
    return Lookup(values=np.concatenate(values), begins=begins, last=last, per=per, middle=middle)
