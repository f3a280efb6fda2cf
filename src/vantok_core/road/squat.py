"""How a vehicle squats as it is driven off: the load that goes to the rear, solved like a state.

Source: method section 15; anti-squat is left out.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from vantok_core.base.errors import InputError
from vantok_core.base.num import G
from vantok_core.physics.stance.report import StateReport, report
from vantok_core.physics.stance.states import solve_states
from vantok_core.physics.vehicle import Item, LoadState, Vehicle

SQUAT = "squat"


@dataclass(frozen=True, slots=True, kw_only=True)
class Squat:
    """What goes from the front axle to the rear (N), and how the vehicle stands before and with it."""

    load_moved: float
    before: StateReport
    squatting: StateReport


def squat(vehicle: Vehicle, states: Sequence[LoadState], state: str, mass: float, a_x: float, height: float) -> Squat:
    """Return how a state squats.

    Formula: `m a_x h / L` goes to the rear axle. Arguments: state: its name; mass m: kg; a_x: forward, m/s2; height h: of the mass centre, m. Raises
    InputError for a state that is not there, a mass or height not above nought, and the static solve's errors. Source: method section 15.
    """
    named = next((one for one in states if one.name == state), None)
    if named is None or not (mass > 0.0 and height > 0.0):
        raise InputError("state", state, "a state that is there, mass and height above nought, are needed")
    moved = mass * a_x * height / vehicle.wheelbase
    pair = (
        Item(mass=moved / G, station=vehicle.wheelbase, name="to the rear"),
        Item(mass=-moved / G, station=0.0, name="off the front"),
    )
    squatting = replace(named, name=SQUAT, items=(*named.items, *pair))
    solved = solve_states(vehicle, [*states, squatting])
    return Squat(
        load_moved=moved,
        before=report(vehicle, solved[state]),
        squatting=report(vehicle, solved[SQUAT]),
    )
