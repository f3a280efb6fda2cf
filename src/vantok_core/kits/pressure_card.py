"""The pressure card: for each payload and tongue the least pressures that hold the height, limits first (method section 10)."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from math import ceil

from scipy.optimize import brentq

from vantok_core.base.errors import InputError, VantokError
from vantok_core.base.num import G
from vantok_core.kits.setting import find_element, set_pressures, side_drops, with_pressures
from vantok_core.physics.levers import resultant
from vantok_core.physics.vehicle import Item, LoadState, Tongue, Vehicle

LIMITS = ("gross", "front_axle", "rear_axle", "hitch")
"""In the order they are told."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Cell:
    """One cell: limits passed, else whether a needed pressure lies above the maximum, else needed and set pressures (Pa), which sides
    stand at the minimum, and the drops (m) with what is set."""

    over: tuple[str, ...] = ()
    beyond: bool = False
    needed: tuple[float, float] | None = None
    pressure: tuple[float, float] | None = None
    floor: tuple[bool, bool] = (False, False)
    drop: tuple[float, float] | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class CardAsked:
    """What a card is made for: the air element, the drop not to be exceeded at each side (m), the gauge's step (Pa), where payload and
    ball are (m), and limits in kg (any of `LIMITS`)."""

    element: str
    target: float
    gauge_step: float
    payload_station: float
    overhang: float
    payload_lateral: float = 0.0
    datum: str = "ground"
    limits: Mapping[str, float]

    def __post_init__(self) -> None:
        unknown = set(self.limits) - set(LIMITS)
        if unknown or not self.gauge_step > 0.0:
            raise InputError(
                "card", sorted(unknown) or self.gauge_step, "limits must be known ones, the gauge's step above zero"
            )


def cargo_station(loads: Sequence[tuple[float, float]]) -> float:
    """Return the station (m) of all cargo: `sum m s / sum m` over (mass kg, station m). Raises InputError without any: ask."""
    total = sum(m for m, _ in loads)
    if not total > 0.0:
        raise InputError("cargo", total, "there is none to tell where payload goes; say it")
    return sum(m * s for m, s in loads) / total


def pressure_card(
    vehicle: Vehicle, asked: CardAsked, payloads: Sequence[float], tongues: Sequence[float]
) -> list[list[Cell]]:
    """Return the card's cells, a row for each of the payloads (kg), a column for each of the tongues (kg). Each cell is its own set state.

    Raises InputError where the element is no air spring with limits. Source: method section 10.
    """
    _, part = find_element(vehicle, asked.element)
    if part.p_min is None or part.p_max is None:
        raise InputError(asked.element, None, "a card needs the part's lowest and highest pressure")
    return [[_cell(vehicle, asked, payload, tongue) for tongue in tongues] for payload in payloads]


def _cell(vehicle: Vehicle, asked: CardAsked, payload: float, tongue: float) -> Cell:
    item = Item(mass=payload, station=asked.payload_station, lateral=asked.payload_lateral)
    state = LoadState(
        name="card", items=(item,), tongue=Tongue(mass=tongue, overhang=asked.overhang) if tongue else None
    )
    over = _over(vehicle, asked, state, tongue)
    if over:
        return Cell(over=over)
    _, part = find_element(vehicle, asked.element)
    assert part.p_min is not None and part.p_max is not None
    held = with_element_held(vehicle, asked.element)
    needed = _needed(held, asked, state, (part.p_min, part.p_max))
    if needed is None:
        return Cell(beyond=True)
    floor = (needed[0] <= part.p_min * (1.0 + 1e-9), needed[1] <= part.p_min * (1.0 + 1e-9))
    left, right = (min(asked.gauge_step * ceil(p / asked.gauge_step - 1e-9), part.p_max) for p in needed)
    drop = side_drops(with_pressures(held, asked.element, left, right), state, asked.element, asked.datum)
    return Cell(needed=needed, pressure=(left, right), floor=floor, drop=drop)


def with_element_held(vehicle: Vehicle, name: str) -> Vehicle:
    """Return the vehicle with an air element's pressure held in whatever state is solved."""
    axle_name, _ = find_element(vehicle, name)
    axle = vehicle.axle(axle_name)
    elements = tuple(replace(e, set_state=None) if e.name == name else e for e in axle.elements)
    changed = replace(axle, elements=elements)
    return replace(vehicle, front=changed) if axle_name == "front" else replace(vehicle, rear=changed)


def _over(vehicle: Vehicle, asked: CardAsked, state: LoadState, tongue: float) -> tuple[str, ...]:
    """Return the limits passed, from statics, whatever the pressure."""
    load = resultant(vehicle, state)
    rear = load.pitch / vehicle.wheelbase
    reference = {"front": sum(vehicle.front.ref_load), "rear": sum(vehicle.rear.ref_load)}
    on = {
        "gross": (reference["front"] + reference["rear"] + load.force) / G,
        "front_axle": (reference["front"] + load.force - rear) / G,
        "rear_axle": (reference["rear"] + rear) / G,
        "hitch": tongue,
    }
    return tuple(name for name in LIMITS if name in asked.limits and float(on[name]) > asked.limits[name])


def _needed(
    vehicle: Vehicle, asked: CardAsked, state: LoadState, limits: tuple[float, float]
) -> tuple[float, float] | None:
    """Return the least pressures at which no side stands lower than the target; None where one lies above the maximum."""
    low, high = limits

    def drops(left: float, right: float) -> tuple[float, float]:
        found = side_drops(with_pressures(vehicle, asked.element, left, right), state, asked.element, asked.datum)
        if find_element(vehicle, asked.element)[1].teed:
            return (0.5 * sum(found),) * 2
        return found

    at_least = drops(low, low)
    if max(at_least) <= asked.target:
        return low, low
    try:
        exact = set_pressures(
            vehicle, [state], element=asked.element, state=state.name, target=(asked.target,) * 2, datum=asked.datum
        ).exact
    except VantokError:
        exact = None
    if exact is not None and min(exact) >= low:
        return None if max(exact) > high * (1.0 + 1e-9) else exact
    # One side needs less than the minimum: it stays there, and the other is solved for its own side.
    worse = 0 if at_least[0] > at_least[1] else 1
    one = _alone(drops, worse, asked.target, low, high)
    return None if one is None else ((one, low) if worse == 0 else (low, one))


def _alone(
    drops: Callable[[float, float], tuple[float, float]], side: int, target: float, low: float, high: float
) -> float | None:
    """Return one side's pressure for its own target with the other at the minimum; None where it lies above the maximum."""

    def miss(pressure: float) -> float:
        return drops(*((pressure, low) if side == 0 else (low, pressure)))[side] - target

    if miss(high) > 0.0:
        return None
    return float(brentq(miss, low, high, xtol=1e-6, rtol=1e-13))
