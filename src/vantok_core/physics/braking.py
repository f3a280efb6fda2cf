"""What brakes do to the axles (Gillespie, Fundamentals of Vehicle Dynamics)."""

from __future__ import annotations

from vantok_core.base.errors import InputError
from vantok_core.base.num import G


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
