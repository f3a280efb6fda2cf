"""What stands in tanks and what brakes do to the axles (method section 2; Gillespie, Fundamentals of Vehicle Dynamics)."""

from __future__ import annotations

from vantok_core.errors import InputError
from vantok_core.num import G


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


def front_braking_share(
    front: float, rear: float, deceleration: float, centre_height: float, wheelbase: float
) -> float:
    """Return the share of the weight that the front axle carries while braking.

    Formula: static share `F_f / (F_f + F_r)` plus `a h / (g L)`. Arguments: front, rear: static axle loads, N;
    deceleration a: m/s2; centre_height h, wheelbase L: m. Result: share. Raises InputError for loads not above zero or a
    vehicle that would stand on its nose. Source: Gillespie, chapter 3.
    """
    total = front + rear
    if not (total > 0.0 and wheelbase > 0.0) or front < 0.0 or rear < 0.0:
        raise InputError("axle loads", (front, rear), "they cannot be negative, and their sum must be above zero")
    share = front / total + deceleration * centre_height / (G * wheelbase)
    if share > 1.0:
        raise InputError("deceleration", deceleration, "the rear wheels would leave the ground")
    return share
