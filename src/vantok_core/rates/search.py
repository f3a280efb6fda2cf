"""The search for the unknowns that fit best: least squares, step by step, kinks and states that cannot be solved allowed for; several go side by side, so
that one solve serves a step of each.

Source: method section 3.
"""

from __future__ import annotations

from collections.abc import Callable, Generator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.linalg import cho_factor, cho_solve

from vantok_core.base.errors import StateError
from vantok_core.base.num import FloatArray

Both = tuple[FloatArray, FloatArray]
"""Weighted residuals and their Jacobian."""

POOR, GOOD, LEAST = 0.25, 0.75, 1e-3
"""Shares of the fall that a step promised, under which the next is shorter, and over which it is longer; the least damping but none."""
SETTLED, TELLS_NOTHING, NO_BETTER, CREEPS, PATIENCE, DAMPED_OUT = 1e-6, 1e-7, 1e-10, 2e-3, 4, 1e10
"""The search ends when no unknown moves by more than the first as a share of its scale, or a plain step promises a fall of less than the second (then no
unknown lies further than 3 parts in 10,000 of its sigma from its best), or the sum of squares falls by less than the third as a share; a fall under the
fourth, so many times in turn, is creeping along a kink, where what is left to gain tells nothing (readings that fit worse than their sigmas say have
sigmas larger in fact: the fall is held against the mean square); damping beyond which no step helps."""
MOST_TRIED = 48
"""How often the vehicle may be solved anew in one search. Of sheets of vehicles as in life nine in ten settle in 8, all of 350 drawn did; heights
that contradict each other by 10 cm would take over a hundred."""


class _EnoughError(Exception):
    """The search has tried as often as it may."""


@dataclass(frozen=True, slots=True)
class Sought:
    """Where a search ended (x: the unknowns, SI), what was found there, and whether it had settled, or had tried as often as it may."""

    x: FloatArray
    told: Both
    settled: bool


Asked = Mapping[int, FloatArray]
"""Unknowns of some searches, each by its place among them."""
Search = Generator[FloatArray, Both, Sought]
"""A search: it gives unknowns, and is sent what is found there, or a StateError where they cannot be solved."""


def side_by_side(searches: Sequence[Search], solve: Callable[[Asked], Mapping[int, Both | StateError]]) -> list[Sought]:
    """Return where each search ends, solving a step of all that go on at once. Raises StateError where one can go nowhere."""
    asked, ended = {n: next(search) for n, search in enumerate(searches)}, dict[int, Sought]()
    while asked:
        for n, told in solve(asked).items():
            try:
                asked[n] = searches[n].throw(told) if isinstance(told, StateError) else searches[n].send(told)
            except StopIteration as end:
                ended[n] = end.value
                del asked[n]
    return [ended[n] for n in range(len(searches))]


def least_squares(start: FloatArray, scale: FloatArray) -> Search:
    """Search for the unknowns that make the sum of squares least, from residuals and their Jacobian; start, scale: of each unknown, in its own unit (SI).

    Formula: Levenberg and Marquardt's on the normal equations, `(J^T J + d diag(J^T J)) step = -J^T r`. Every unknown but a
    reference height has a prior, and every height a reading, so `J^T J` is well conditioned once scaled; its factors cost a fraction of
    the singular values of J. Every step makes the sum smaller, so that what stands when the tries are used up is the best so far. Raises what the solve
    raises where no shorter step helps.
    """
    left = MOST_TRIED

    def tried(x: FloatArray) -> Generator[FloatArray, Both, Both]:
        nonlocal left
        if left == 0:
            raise _EnoughError
        left -= 1
        return (yield x)

    x, damping, crept = start, 0.0, 0
    residuals, jacobian = yield from tried(x)
    while True:
        slope = jacobian * scale
        normal, gradient = slope.T @ slope, slope.T @ residuals
        before = float(residuals @ residuals)
        try:
            taken = yield from _downhill(tried, x, scale, normal, gradient, before, damping)
        except _EnoughError:
            return Sought(x, (residuals, jacobian), settled=False)
        if taken is None:
            return Sought(x, (residuals, jacobian), settled=True)
        step, (residuals, jacobian), damping = taken
        x = np.asarray(x + step * scale)
        fell = before - float(residuals @ residuals)
        crept = crept + 1 if fell <= CREEPS * max(1.0, before / len(residuals)) else 0
        if fell <= NO_BETTER * before or crept >= PATIENCE:
            return Sought(x, (residuals, jacobian), settled=True)
        promised = _promised(step, normal, gradient)
        # Readings far from what the model can do make plain steps overshoot from side to side: then shorter ones.
        if fell < POOR * promised:
            damping = max(4.0 * damping, 0.25)
        elif fell > GOOD * promised:
            damping = 0.1 * damping if damping > LEAST else 0.0


def _promised(step: FloatArray, normal: FloatArray, gradient: FloatArray) -> float:
    """Return by how much a step would make the sum of squares fall, were the residuals straight lines."""
    return -float(step @ (2.0 * gradient + normal @ step))


def _downhill(
    tried: Callable[[FloatArray], Generator[FloatArray, Both, Both]],
    x: FloatArray,
    scale: FloatArray,
    normal: FloatArray,
    gradient: FloatArray,
    before: float,
    damping: float,
) -> Generator[FloatArray, Both, tuple[FloatArray, Both, float] | None]:
    """Find the first step that does not raise the sum of squares, what stands there and its damping; None where the search has settled.

    A step into what cannot be solved is shortened like any other that does not help. Raises StateError where only such are left.
    """
    while True:
        step = np.asarray(cho_solve(cho_factor(normal + damping * np.diag(np.diag(normal))), -gradient))
        if float(np.max(np.abs(step))) < SETTLED:
            return None
        if damping == 0.0 and _promised(step, normal, gradient) < TELLS_NOTHING:
            return None
        try:
            told = yield from tried(np.asarray(x + step * scale))
            if float(told[0] @ told[0]) <= before:
                return step, told, damping
        except StateError:
            if damping > DAMPED_OUT:
                raise
        if damping > DAMPED_OUT:
            return None
        damping = max(10.0 * damping, LEAST)
