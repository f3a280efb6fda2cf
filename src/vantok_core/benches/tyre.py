"""Tyres and brakes at the bench: the pressure a load needs, squash, and which axle locks first.

Source: method section 13.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from vantok_core.base.errors import InputError
from vantok_core.base.say import Quantity, Say

FRONT_BRAKES = 0.65
"""Front share of the brake force where nobody has said (default, flagged)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class TyrePressure:
    """The pressure a load needs (Pa), whether that is the maker's least, whether it was estimated, and how far the tyre squashes (m, None: rate not known)."""

    pressure: float
    at_minimum: bool
    estimated: bool
    squash: float | None


def tyre_pressure(
    load: float,
    *,
    table: Sequence[tuple[float, float]] = (),
    most_load: float = 0.0,
    most_pressure: float = 0.0,
    least: float = 0.0,
    rate: float | None = None,
) -> TyrePressure:
    """Return the pressure one tyre needs under a load.

    Formula: the maker's table (pressure, load), straight lines between, under the first row its pressure; else `p_max (W / W_max)^1.25`; never under the
    least. Arguments: load, most_load: N; most_pressure, least: Pa; rate: N/m. Raises InputError for a table that does not rise, a load above its
    last row or above
    the tyre's, figures not above nought. Source: method section 13.
    """
    if load < 0.0 or (rate is not None and rate <= 0.0):
        raise InputError("load", (load, rate), "a load is not below nought, a tyre's rate above it")
    found = _by_table(load, table) if table else _by_most(load, most_load, most_pressure)
    return TyrePressure(
        pressure=max(found, least),
        at_minimum=found < least,
        estimated=not table,
        squash=None if rate is None else load / rate,
    )


def _by_table(load: float, table: Sequence[tuple[float, float]]) -> float:
    if any(b[0] <= a[0] or b[1] <= a[1] for a, b in itertools.pairwise(table)):
        raise InputError("table", list(table), "pressures and loads must rise row by row")
    if load > table[-1][1]:
        raise InputError(
            "load",
            load,
            Say("the table ends at {most}: no pressure carries more", {"most": Quantity(table[-1][1], "force")}),
        )
    if load <= table[0][1]:
        return table[0][0]
    (p0, w0), (p1, w1) = next(pair for pair in itertools.pairwise(table) if load <= pair[1][1])
    return p0 + (p1 - p0) * (load - w0) / (w1 - w0)


def _by_most(load: float, most_load: float, most_pressure: float) -> float:
    if min(most_load, most_pressure) <= 0.0:
        raise InputError(
            "tyre", (most_load, most_pressure), "its greatest load and pressure stand on its wall: both above nought"
        )
    if load > most_load:
        raise InputError(
            "load",
            load,
            Say("the tyre carries {most} at most: no pressure carries more", {"most": Quantity(most_load, "force")}),
        )
    return float(most_pressure * (load / most_load) ** 1.25)


@dataclass(frozen=True, slots=True, kw_only=True)
class BrakeBalance:
    """Deceleration (g) at which front and rear lock on that grip (None: never), the smaller, which locks first; share of the weight that comes on the front at
    it, and that in N (None: weight not known)."""

    z_front: float | None
    z_rear: float | None
    z: float
    first: Literal["front", "rear"]
    transfer_share: float
    front_gain: float | None


def brake_balance(
    grip: float,
    rear_share: float,
    height: float,
    wheelbase: float,
    *,
    front_brakes: float = FRONT_BRAKES,
    weight: float | None = None,
) -> BrakeBalance:
    """Return which axle locks first; an estimate of balance, not of stopping distance.

    Formula: `z_f = mu (1 - psi) / (beta - mu h / L)`, `z_r = mu psi / (1 - beta + mu h / L)`; a denominator not above nought never locks. Arguments: grip,
    rear_share,
    front_brakes: ratios; height of the centre of mass, wheelbase: m; weight: N. Raises InputError for shares outside 0 to 1, sizes not above nought.
    Source: method section 13.
    """
    if not (0.0 < rear_share < 1.0 and 0.0 < front_brakes < 1.0):
        raise InputError("share", (rear_share, front_brakes), "shares lie between 0 and 1")
    if min(grip, height, wheelbase) <= 0.0:
        raise InputError("size", (grip, height, wheelbase), "grip, height and wheelbase must be above nought")
    moved = grip * height / wheelbase
    ahead, behind = front_brakes - moved, 1.0 - front_brakes + moved
    z_front = grip * (1.0 - rear_share) / ahead if ahead > 0.0 else None
    z_rear = grip * rear_share / behind if behind > 0.0 else None
    known = [z for z in (z_front, z_rear) if z is not None]
    z = min(known)
    share = z * height / wheelbase
    return BrakeBalance(
        z_front=z_front,
        z_rear=z_rear,
        z=z,
        first="front" if z_front == z else "rear",
        transfer_share=share,
        front_gain=None if weight is None else weight * share,
    )
