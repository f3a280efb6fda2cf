"""Settings solved from the model: pressures for wanted heights, gaps and spacers, rounded as a gauge shows them.

Source: method section 5. Targets are drops from the reference state, so "back to its empty height" is zero.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import cache
from typing import Any

import numpy as np
from scipy.optimize import brentq, root

from vantok_core.elements.air import AirSpring
from vantok_core.elements.laws import Stop
from vantok_core.errors import InputError, NoEquilibriumError, VantokError
from vantok_core.num import FloatArray, Real
from vantok_core.rates.estimate import Place, place_drop
from vantok_core.stance.states import solve_states
from vantok_core.vehicle import AXLES, AxleName, Element, LoadState, Vehicle

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
    """Return the vehicle with an air element's set pressures (Pa gauge)."""
    _, element = find_element(vehicle, name)
    laws = [
        replace(law, p_set=p) if isinstance(law, AirSpring) else law
        for law, p in ((element.left, left), (element.right, right))
    ]
    return with_element(vehicle, replace(element, left=laws[0], right=laws[1]))


def with_gaps(vehicle: Vehicle, name: str, left: Real, right: Real) -> Vehicle:
    """Return the vehicle with a stop's or insert's gaps in the reference state (m)."""
    _, element = find_element(vehicle, name)
    laws = [
        replace(law, gap=g) if isinstance(law, Stop) else law
        for law, g in ((element.left, left), (element.right, right))
    ]
    return with_element(vehicle, replace(element, left=laws[0], right=laws[1]))


def set_pressures(
    vehicle: Vehicle, states: Sequence[LoadState], *, element: str, state: str, target: tuple[float, float],
    datum: str = "ground", gauge_step: float = 0.0,
) -> Setting:  # fmt: skip
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
        exact = _two_for_two(vehicle, at_state, element, target, datum, apply, (LOW_PRESSURE, HIGH_PRESSURE))
    rounded = exact
    if gauge_step > 0.0:
        rounded = (gauge_step * round(exact[0] / gauge_step), gauge_step * round(exact[1] / gauge_step))
    return Setting(exact=exact, rounded=rounded, vehicle=apply(*rounded))


def set_gaps(
    vehicle: Vehicle, states: Sequence[LoadState], *, element: str, state: str, target: tuple[float, float],
    datum: str = "ground",
) -> Setting:  # fmt: skip
    """Return the reference-state gaps (m) of a stop or insert that hold an axle's corners to target drops in a state.

    Arguments and errors as `set_pressures`. The spacer is the fitted gap less this gap.
    """
    at_state = [s for s in states if s.name == state]
    apply: Callable[[float, float], Vehicle] = lambda left, right: with_gaps(vehicle, element, left, right)  # noqa: E731
    exact = _two_for_two(vehicle, at_state, element, target, datum, apply, (-0.15, 0.25))
    return Setting(exact=exact, rounded=exact, vehicle=apply(*exact))


def _drops(vehicle: Vehicle, states: Sequence[LoadState], axle: AxleName, datum: str) -> FloatArray:
    if not states:
        raise InputError("set state", "nothing", "the state in which it is set must be one of the states")
    solved = solve_states(vehicle, states, check_limits=False)[states[0].name]
    left, right = ("FL", "FR") if axle == "front" else ("RL", "RR")
    found: FloatArray = np.array(
        [place_drop(solved, Place(left, datum)), place_drop(solved, Place(right, datum))], dtype=float
    )
    return found


def _one_for_mean(
    vehicle: Vehicle, states: Sequence[LoadState], element: str, target: tuple[float, float], datum: str,
    apply: Callable[[float, float], Vehicle], bounds: tuple[float, float],
) -> tuple[float, float]:  # fmt: skip
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
    raise InputError(
        "target", "this height", "no setting of this part reaches it; the part is too weak or too strong for it"
    )


AHEAD = 13
"""Settings tried at once, as one batch, to start the search near its end."""


def _start(
    vehicle: Vehicle, states: Sequence[LoadState], element: str, target: tuple[float, float], datum: str,
    apply: Callable[[Any, Any], Vehicle], bounds: tuple[float, float],
) -> tuple[float, float] | None:  # fmt: skip
    """Return a pair of equal settings near the one that meets the mean target; None where a batch cannot tell."""
    axle, _ = find_element(vehicle, element)
    tried = np.linspace(*bounds, AHEAD)
    try:
        found = np.mean(_drops(apply(tried, tried), states, axle, datum), axis=0) - 0.5 * (target[0] + target[1])
    except VantokError:
        return None  # one of them lifts a wheel: the careful search finds its way
    crossing = np.flatnonzero(found[:-1] * found[1:] <= 0.0)
    if not len(crossing):
        return None
    n = int(crossing[0])
    step = found[n] - found[n + 1]
    value = float(tried[n] + (tried[n + 1] - tried[n]) * (found[n] / step if step else 0.0))
    return value, value


def _two_for_two(
    vehicle: Vehicle, states: Sequence[LoadState], element: str, target: tuple[float, float], datum: str,
    apply: Callable[[float, float], Vehicle], bounds: tuple[float, float],
) -> tuple[float, float]:  # fmt: skip
    """Return the two settings that meet two targets, started from the one that meets their mean."""
    near = _start(vehicle, states, element, target, datum, apply, bounds)
    start = near or _one_for_mean(vehicle, states, element, target, datum, apply, bounds)
    axle, _ = find_element(vehicle, element)
    span = bounds[1] - bounds[0]

    @cache
    def missed(left: float, right: float) -> FloatArray:
        return np.asarray(_drops(apply(left, right), states, axle, datum) - np.array(target))

    def miss(x: FloatArray) -> FloatArray:
        left, right = (float(v) for v in np.clip(bounds[0] + x * span, *bounds))
        return missed(left, right)

    first = np.array([(s - bounds[0]) / span for s in start])
    if np.max(np.abs(miss(first))) < 1e-9:
        return start
    found = root(miss, first, method="hybr", options={"xtol": 1e-7, "eps": 1e-6})
    if near is not None and np.max(np.abs(found.fun)) > 1e-6:
        careful = _one_for_mean(vehicle, states, element, target, datum, apply, bounds)
        found = root(
            miss, [(s - bounds[0]) / span for s in careful], method="hybr", options={"xtol": 1e-12, "eps": 1e-6}
        )
    if np.max(np.abs(found.fun)) > 1e-6:
        raise InputError("target", target, "no pair of settings brings both sides there; ask for their mean")
    if np.min(found.x) < 0.0 or np.max(found.x) > 1.0:
        raise NoEquilibriumError(states[0].name, "the setting lies outside what can be set.", field=element)
    return float(bounds[0] + found.x[0] * span), float(bounds[0] + found.x[1] * span)
