"""Where a height is read, and how far that place has come down in a solved state.

Source: method sections 1 and 3.
"""

from __future__ import annotations

from dataclasses import dataclass

from vantok_core.base.errors import InputError
from vantok_core.base.num import Real
from vantok_core.physics.stance.newton import AxleStance
from vantok_core.physics.stance.states import SolvedState
from vantok_core.physics.vehicle import AXLES, AxleName

ON_WHEEL = ("hub", "rim")
"""Datums that ride on the wheel: the tyre's squash is not in them."""


@dataclass(frozen=True, slots=True)
class Place:
    """Where a height is read: at "front" or "rear" (axle mean), a corner (FL ...), or "point" at station and lateral, m.

    datum: ground, hub, or any name of its own; all but those on the wheel (`ON_WHEEL`) include tyre squash. Raises InputError for one of them away
    from the wheels.
    """

    at: str
    datum: str
    station: float = 0.0
    lateral: float = 0.0

    def __post_init__(self) -> None:
        if self.at not in ("front", "rear", "FL", "FR", "RL", "RR", "point"):
            raise InputError("place", self.at, "it must be front, rear, a corner or a point")
        if self.at == "point" and self.datum in ON_WHEEL:
            raise InputError("datum", self.datum, "a point away from the wheels has no hub to read from")


def place_drop(solved: SolvedState, place: Place) -> Real:
    """Return the drop (m) of a place in a solved state, on its datum."""
    if place.at == "point":
        at = solved.at
        return at.u + place.station * at.theta - at.phi * place.lateral
    axle_name: AxleName = "front" if place.at[0].lower() == "f" else "rear"
    stance: AxleStance = solved.axle(axle_name)[1]
    left, right = stance.z if place.datum in ON_WHEEL else stance.d
    if place.at in AXLES:
        return 0.5 * (left + right)
    return left if place.at.endswith("L") else right
