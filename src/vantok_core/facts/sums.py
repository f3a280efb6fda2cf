"""What facts add up to by themselves: a tank's mass, a trailer's balance, the centre of a group of axles (method sections 1 and 2)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from vantok_core.base.errors import InputError


def tank_mass(capacity: float, fill: float, density: float = 1.0) -> float:
    """Return the mass in a tank.

    Formula: capacity times fill times density. Arguments: capacity: litres; fill: 0 to 1; density: kg per litre (water 1.0,
    diesel about 0.84, petrol about 0.75). Result: kg. Raises InputError for a tank that is overfilled or has no size.
    """
    if not (capacity > 0.0 and density > 0.0):
        raise InputError("tank", capacity, "capacity and density must be above zero")
    if not 0.0 <= fill <= 1.0:
        raise InputError("fill", fill, "a tank is between empty (0) and full (1)")
    return capacity * fill * density


@dataclass(frozen=True, slots=True, kw_only=True)
class TrailerBalance:
    """Tongue mass (kg), trailer's total mass (kg), and the tongue's share of it."""

    tongue: float
    total: float
    share: float


def trailer_tongue(axle_distance: float, items: Sequence[tuple[float, float]]) -> TrailerBalance:
    """Return the tongue mass of a trailer from its items, the empty trailer being one of them.

    Formula: `T = sum m_i (d - x_i) / d`. Arguments: axle_distance d: m from ball to axle; items: (mass kg, x m behind
    the ball). Result: kg, kg, share. Raises InputError without mass or distance. Source: method section 2.
    """
    if not axle_distance > 0.0:
        raise InputError("d", axle_distance, "the ball to trailer axle distance must be above zero")
    total = sum(m for m, _ in items)
    if not total > 0.0 or any(m < 0.0 for m, _ in items):
        raise InputError("items", total, "a trailer needs items with a mass above zero")
    tongue = sum(m * (axle_distance - x) / axle_distance for m, x in items)
    return TrailerBalance(tongue=tongue, total=total, share=tongue / total)


def group_centre(stations: Sequence[float], loads: Sequence[float]) -> float:
    """Return the load centre of a rear group, the wheelbase that the method uses.

    Formula: `sum F_i s_i / sum F_i`. Arguments: stations: m; loads: N, not negative. Result: m. Raises InputError.
    Source: method section 1.
    """
    total = sum(loads)
    if len(stations) != len(loads) or not loads or min(loads) < 0.0 or not total > 0.0:
        raise InputError("rear group", list(loads), "each axle of the group needs a station and a load, not all zero")
    return sum(f * s for f, s in zip(loads, stations, strict=True)) / total
