"""Settings solved from the model: pressures for wanted heights, gaps and spacers, rounded as a gauge shows them.

Source: method section 5. Targets are drops from the reference state, so "back to its empty height" is zero.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import partial
from math import ceil, floor
from typing import Any

import numpy as np
from scipy.optimize import brentq, root

from vantok_core.base.errors import InputError, NoEquilibriumError, VantokError
from vantok_core.base.num import FloatArray, Real
from vantok_core.physics.elements.air import AirSpring
from vantok_core.physics.elements.laws import Helper, Stop
from vantok_core.physics.stance.states import solve_states
from vantok_core.physics.vehicle import AXLES, AxleName, Element, LoadState, Replacement, TorsionBarAdjuster, Vehicle
from vantok_core.rates.places import Place, place_drop

LOW_PRESSURE, HIGH_PRESSURE = 0.0, 1.5e6
"""Widest pressures searched, Pa gauge; an element's own limits are checked afterwards."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Setting:
    """A setting left and right, exact and as it can be set (Pa or m), and the vehicle with the latter on it."""

    exact: tuple[float, float]
    rounded: tuple[float, float]
    vehicle: Vehicle


def find_element(vehicle: Vehicle, name: str) -> tuple[AxleName, Element]:
    """Return an element and its axle by name. Raises InputError when there is none."""
    for axle in AXLES:
        for element in vehicle.axle(axle).elements:
            if element.name == name:
                return axle, element
    raise InputError("element", name, "the vehicle has no element of that name")


def with_element(vehicle: Vehicle, changed: Element) -> Vehicle:
    """Return the vehicle with the element of that name replaced."""
    axle_name, _ = find_element(vehicle, changed.name)
    axle = vehicle.axle(axle_name)
    elements = tuple(changed if e.name == changed.name else e for e in axle.elements)
    axle = replace(axle, elements=elements)
    return replace(vehicle, front=axle) if axle_name == "front" else replace(vehicle, rear=axle)


def with_pressures(vehicle: Vehicle, name: str, left: Real, right: Real) -> Vehicle:
    """Return the vehicle with an air element's set pressures, left and right (Pa gauge)."""
    _, element = find_element(vehicle, name)
    laws = [
        replace(law, p_set=p) if isinstance(law, AirSpring) else law
        for law, p in ((element.left, left), (element.right, right))
    ]
    return with_element(vehicle, replace(element, left=laws[0], right=laws[1]))


def with_gaps(vehicle: Vehicle, name: str, left: Real, right: Real) -> Vehicle:
    """Return the vehicle with a stop's or insert's gaps, left and right, in the reference state (m)."""
    _, element = find_element(vehicle, name)
    laws = [
        replace(law, gap=g) if isinstance(law, Stop) else law
        for law, g in ((element.left, left), (element.right, right))
    ]
    return with_element(vehicle, replace(element, left=laws[0], right=laws[1]))


def set_pressures(
    vehicle: Vehicle,
    states: Sequence[LoadState],
    *,
    element: str,
    state: str,
    target: tuple[float, float],
    datum: str = "ground",
    gauge_step: float = 0.0,
) -> Setting:
    """Return the pressures that bring an axle's corners to target drops in a state.

    Arguments: element: name of the air element; state: where the valves are shut; target: drop left, right (m), for a tee
    only their mean counts; datum: ground or hub; gauge_step: Pa, zero for no rounding. Result: Setting, Pa gauge.
    Raises InputError when no pressure reaches the target, and the static solve's errors. Source: method section 5.
    """
    _, part = find_element(vehicle, element)
    at_state = [s for s in states if s.name == state]
    apply: Callable[[float, float], Vehicle] = lambda left, right: with_pressures(vehicle, element, left, right)  # noqa: E731
    if part.teed:
        exact = _one_for_mean(vehicle, at_state, element, target, datum, apply, (LOW_PRESSURE, HIGH_PRESSURE))
    else:
        exact = solve_sides(vehicle, at_state, element, target, datum, apply, (LOW_PRESSURE, HIGH_PRESSURE))
    rounded = exact
    if gauge_step > 0.0:
        rounded = (gauge_step * round(exact[0] / gauge_step), gauge_step * round(exact[1] / gauge_step))
    return Setting(exact=exact, rounded=rounded, vehicle=apply(*rounded))


def set_gaps(
    vehicle: Vehicle,
    states: Sequence[LoadState],
    *,
    element: str,
    state: str,
    target: tuple[float, float],
    datum: str = "ground",
) -> Setting:
    """Return the reference-state gaps (m) of a stop or insert that hold an axle's corners to target drops in a state.

    Arguments and errors as `set_pressures`. The spacer is the fitted gap less this gap.
    """
    at_state = [s for s in states if s.name == state]
    apply: Callable[[float, float], Vehicle] = lambda left, right: with_gaps(vehicle, element, left, right)  # noqa: E731
    exact = solve_sides(vehicle, at_state, element, target, datum, apply, (-0.15, 0.25))
    return Setting(exact=exact, rounded=exact, vehicle=apply(*exact))


def with_preload(vehicle: Vehicle, name: str, preload: Real) -> Vehicle:
    """Return the vehicle with a helper's preload alike on both sides (N)."""
    _, part = find_element(vehicle, name)
    laws = [replace(law, preload=preload) if isinstance(law, Helper) else law for law in (part.left, part.right)]
    return with_element(vehicle, replace(part, left=laws[0], right=laws[1]))


def mean_drop(vehicle: Vehicle, states: Sequence[LoadState], element: str, state: str, datum: str = "ground") -> float:
    """Return the mean drop (m) of an element's axle in a state."""
    axle, _ = find_element(vehicle, element)
    return float(np.mean(_drops(vehicle, [s for s in states if s.name == state], axle, datum)))


def side_drops(vehicle: Vehicle, state: LoadState, element: str, datum: str = "ground") -> tuple[float, float]:
    """Return the drops (m) left and right of an element's axle in a state."""
    axle, _ = find_element(vehicle, element)
    left, right = _drops(vehicle, [state], axle, datum)
    return float(left), float(right)


def turns_for(preload: float, per_turn: float, step: float, most: float) -> dict[str, float]:
    """Return the turns that make a preload, and as they can be set.

    Arguments: preload: N; per_turn: N a turn; step, most: turns. Raises InputError for more turns than there are. Source: method
    section 10.
    """
    if not (per_turn > 0.0 and step > 0.0):
        raise InputError("per_turn", per_turn, "a turn and its step must be above zero")
    turns = preload / per_turn
    if turns > most:
        raise InputError("turns", turns, f"there are {most:g} turns at most")
    return {"turns": turns, "turns_set": step * round(turns / step)}


@dataclass(frozen=True, slots=True, kw_only=True)
class One:
    """A setting alike on both sides that meets an axle's mean target exactly (SI), and the vehicle with it."""

    value: float
    vehicle: Vehicle


def set_preload(
    vehicle: Vehicle, states: Sequence[LoadState], *, element: str, state: str, target: float, datum: str = "ground"
) -> One:
    """Return the preload (N, alike on both sides) of a helper leaf or coil assist that brings its axle's mean to a target drop (m).

    Raises InputError where the spring alone already stands higher (a preload below zero), or none gets there. Source: method
    section 10.
    """
    at = partial(with_preload, vehicle, element)
    axle, _ = find_element(vehicle, element)
    value = _mean_met(at, [s for s in states if s.name == state], axle, target, datum, MOST_PRELOAD)
    if value < 0.0:
        raise InputError("preload", value, "the spring alone already stands higher")
    return One(value=value, vehicle=at(value))


def set_spring(
    vehicle: Vehicle,
    states: Sequence[LoadState],
    *,
    axle: AxleName,
    change: Replacement | TorsionBarAdjuster,
    state: str,
    target: float,
    bounds: tuple[float, float],
    datum: str = "ground",
) -> One:
    """Return `c_ref` of a replacement spring or the shift of a torsion bar (m, at the element) for an axle's mean target drop (m).

    bounds: lowest and highest, m. Raises InputError where it lies outside them or none gets there. Source: method section 10.
    """
    own = vehicle.axle(axle)

    def at(value: Real) -> Vehicle:
        made = replace(change, c_ref=value) if isinstance(change, Replacement) else replace(change, shift=value)
        changed = replace(own, spring=replace(own.spring, changes=(*own.spring.changes, made)))
        return replace(vehicle, front=changed) if axle == "front" else replace(vehicle, rear=changed)

    value = _mean_met(at, [s for s in states if s.name == state], axle, target, datum, bounds)
    return One(value=value, vehicle=at(value))


@dataclass(frozen=True, slots=True, kw_only=True)
class PressureRange:
    """The pressures (Pa gauge, both sides alike) between which a target is met, and whether the part's own limits cut them."""

    low: float
    high: float
    low_is_minimum: bool
    high_is_maximum: bool

    def rounded(self, step: float) -> tuple[float, float]:
        """Return the range rounded inwards to a gauge's step (Pa). Raises InputError where no step lies inside."""
        low, high = step * ceil(self.low / step - 1e-9), step * floor(self.high / step + 1e-9)
        if low > high:
            raise InputError("gauge step", step, "no step of the gauge lies inside the range")
        return low, high


def pressure_range(
    vehicle: Vehicle,
    states: Sequence[LoadState],
    *,
    element: str,
    state: str,
    target: float,
    tolerance: float,
    datum: str = "ground",
) -> PressureRange:
    """Return the pressures that leave an axle's mean within a tolerance (m) of its target drop (m).

    Raises InputError where the part is too strong even at its minimum or too weak even at its maximum: that is an answer, not a
    range. Source: method section 10.
    """
    axle, part = find_element(vehicle, element)
    at_state = [s for s in states if s.name == state]
    least, most = part.p_min or LOW_PRESSURE, part.p_max or HIGH_PRESSURE
    at = partial(_both_at, vehicle, element)
    lowest, highest = (float(np.mean(_drops(at(p), at_state, axle, datum))) for p in (most, least))
    if highest < target - tolerance:
        raise InputError(element, least, "it is too strong even at its minimum")
    if lowest > target + tolerance:
        raise InputError(element, most, "it is too weak even at its maximum")
    low_cut, high_cut = highest <= target + tolerance, lowest >= target - tolerance
    low = least if low_cut else _mean_met(at, at_state, axle, target + tolerance, datum, (least, most))
    high = most if high_cut else _mean_met(at, at_state, axle, target - tolerance, datum, (least, most))
    return PressureRange(low=low, high=high, low_is_minimum=low_cut, high_is_maximum=high_cut)


def _both_at(vehicle: Vehicle, element: str, pressure: Real) -> Vehicle:
    return with_pressures(vehicle, element, pressure, pressure)


MOST_PRELOAD = (-1e5, 2e5)
"""Preloads searched, N."""


def _mean_met(
    at: Callable[[Real], Vehicle],
    states: Sequence[LoadState],
    axle: AxleName,
    target: float,
    datum: str,
    bounds: tuple[float, float],
) -> float:
    """Return the one setting within bounds that meets an axle's mean target. Raises InputError where none does."""

    def miss(value: float) -> float:
        return float(np.mean(_drops(at(value), states, axle, datum))) - target

    low, high = _both_reachable(miss, bounds)
    return float(brentq(miss, low, high, xtol=1e-12 * (bounds[1] - bounds[0]), rtol=1e-13))


def _both_reachable(miss: Callable[[float], float], bounds: tuple[float, float]) -> tuple[float, float]:
    """Return bounds between which the miss changes sign, either brought in where it cannot be solved."""
    found = []
    middle = 0.0 if bounds[0] < 0.0 < bounds[1] else 0.5 * (bounds[0] + bounds[1])
    for end in bounds:
        tried = end
        for _ in range(30):
            try:
                found.append((tried, miss(tried)))
                break
            except VantokError:
                tried = 0.5 * (tried + middle)
    if len(found) < 2 or found[0][1] * found[1][1] > 0.0:
        raise InputError("target", "this height", "no setting of this part within its range reaches it")
    return found[0][0], found[1][0]


def _drops(vehicle: Vehicle, states: Sequence[LoadState], axle: AxleName, datum: str) -> FloatArray:
    if not states:
        raise InputError("set state", "nothing", "the state in which it is set must be one of the states")
    solved = solve_states(vehicle, states, check_limits=False)[states[0].name]
    corners = ("FL", "FR") if axle == "front" else ("RL", "RR")
    return np.asarray([place_drop(solved, Place(corner, datum)) for corner in corners], dtype=float)


def _one_for_mean(
    vehicle: Vehicle,
    states: Sequence[LoadState],
    element: str,
    target: tuple[float, float],
    datum: str,
    apply: Callable[[float, float], Vehicle],
    bounds: tuple[float, float],
) -> tuple[float, float]:
    """Return the one setting that meets the mean target."""
    axle, _ = find_element(vehicle, element)
    wanted = 0.5 * (target[0] + target[1])

    def miss(value: float) -> float:
        return float(np.mean(_drops(apply(value, value), states, axle, datum))) - wanted

    low, high = _reachable(miss, bounds)
    value = float(brentq(miss, low, high, xtol=1e-9 * (bounds[1] - bounds[0]), rtol=1e-13))
    return value, value


def _reachable(miss: Callable[[float], float], bounds: tuple[float, float]) -> tuple[float, float]:
    """Return bounds between which the miss changes sign; the upper is brought in where a wheel would lift."""
    low, high = bounds
    at_low = miss(low)
    for _ in range(24):
        try:
            at_high = miss(high)
        except VantokError:
            high = 0.5 * (low + high)
            continue
        if at_low * at_high <= 0.0:
            return low, high
        break
    raise InputError("target", "this height", UNREACHED)


UNREACHED = "no setting of this part reaches it; the part is too weak or too strong for it"
NEARLY = 2e-4
"""A drop this near to its target (m) is on it, to a tenth of a micrometre, after one more step of Newton's."""
MOST_NEWTON = 12
AHEAD = 13
"""Settings tried from the lowest up, to start the search near its end."""


def _start(
    vehicle: Vehicle,
    states: Sequence[LoadState],
    element: str,
    target: tuple[float, float],
    datum: str,
    apply: Callable[[Any, Any], Vehicle],
    bounds: tuple[float, float],
) -> tuple[float, float] | None:
    """Return a pair of equal settings near the one that meets the mean target; None where one tried lifts a wheel. Raises InputError where none is past."""
    axle, _ = find_element(vehicle, element)
    wanted, before = 0.5 * (target[0] + target[1]), None
    for value in np.linspace(*bounds, AHEAD).tolist():
        try:
            miss = float(np.mean(_drops(apply(value, value), states, axle, datum))) - wanted
        except VantokError:
            return None  # it lifts a wheel: the careful search finds its way
        if before is not None and before[1] * miss <= 0.0:
            step = before[1] - miss
            near = before[0] + (value - before[0]) * (before[1] / step if step else 0.0)
            return near, near
        before = value, miss
    raise InputError("target", "this height", UNREACHED)


def solve_sides(
    vehicle: Vehicle,
    states: Sequence[LoadState],
    element: str,
    target: tuple[float, float],
    datum: str,
    apply: Callable[[Any, Any], Vehicle],
    bounds: tuple[float, float],
) -> tuple[float, float]:
    """Return the two settings that meet two targets, started from the one that meets their mean.

    Arguments: element: its name; target: drops left, right (m); apply: two settings to the vehicle at them (floats or rows of
    them); bounds: lowest and highest setting (SI). Raises InputError where none gets there, NoEquilibriumError where the one that
    does lies outside the bounds. Source: method section 5.
    """
    axle, _ = find_element(vehicle, element)

    def miss(left: float, right: float) -> FloatArray:
        return np.asarray(_drops(apply(left, right), states, axle, datum) - np.array(target))

    near = _start(vehicle, states, element, target, datum, apply, bounds)
    found = _newton(miss, near, bounds[1] - bounds[0]) if near is not None else None
    if found is None:
        start = _one_for_mean(vehicle, states, element, target, datum, apply, bounds)
        found = _searched(miss, start, bounds)
    if min(found) < bounds[0] or max(found) > bounds[1]:
        raise NoEquilibriumError(states[0].name, "the setting lies outside what can be set.", field=element)
    return found


Miss = Callable[[float, float], FloatArray]
"""What two settings leave left and right, m."""


def _newton(miss: Miss, start: tuple[float, float], span: float) -> tuple[float, float] | None:
    """Return the two settings by Newton's method, each slope from a step of its setting; None where it does not end.

    Three solves in floats cost a third of one batch of three.
    """
    step, left, right = 1e-6 * span, *start
    for _ in range(MOST_NEWTON):
        try:
            found = miss(left, right)
            slope = np.column_stack([miss(left + step, right) - found, miss(left, right + step) - found]) / step
        except VantokError:
            return None  # one of them lifts a wheel: the careful search finds its way
        if not abs(np.linalg.det(slope)) * span**2 > 1e-12:
            return None  # nothing moves: a stop out of reach, a bag out of its table
        off_left, off_right = np.linalg.solve(slope, found).tolist()
        left, right = left - off_left, right - off_right
        if np.max(np.abs(found)) < NEARLY:  # this step's error is the square of the last one's
            return left, right
    return None


def _searched(miss: Miss, start: tuple[float, float], bounds: tuple[float, float]) -> tuple[float, float]:
    """Return the two settings by a careful search, kept within the bounds while it tries. Raises InputError where there are none."""
    span = bounds[1] - bounds[0]

    def scaled(x: FloatArray) -> FloatArray:
        left, right = (float(v) for v in np.clip(bounds[0] + x * span, *bounds))
        return miss(left, right)

    first = [(s - bounds[0]) / span for s in start]
    found = root(scaled, first, method="hybr", options={"xtol": 1e-12, "eps": 1e-6})
    if np.max(np.abs(found.fun)) > 1e-6:
        raise InputError("target", "both sides", "no pair of settings brings both sides there; ask for their mean")
    return float(bounds[0] + found.x[0] * span), float(bounds[0] + found.x[1] * span)
