"""The pressure card of a job: what each payload and tongue asks of the bags that are on, limits first; what weather and height above the sea do to it.

Source: method sections 10 and 11.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import floor

from vantok_core.base.errors import InputError
from vantok_core.base.num import P_ATM, G
from vantok_core.base.say import Quantity, Say, Worded
from vantok_core.base.units import System
from vantok_core.benches.air import air_at
from vantok_core.facts import Fitting, Job
from vantok_core.judge.set.thresholds import AIR_COLD, AIR_HOT, AIR_USUAL, PASS_HEIGHT
from vantok_core.kits.family import KIT_ELEMENT
from vantok_core.kits.fit import fitted_vehicle, set_in
from vantok_core.kits.pressure_card import CardAsked, Cell, cargo_station, pressure_card
from vantok_core.kits.registry import family_of
from vantok_core.kits.target import target_drop, target_state
from vantok_core.loads.plan import ratings_of
from vantok_core.model import JobModel
from vantok_core.physics.elements.air import pressure_at_temperature

ROWS, COLUMNS = 8, 6
"""Payloads and tongues of a card, at most."""
STEPS = {"metric": (10_000.0, 50.0), "us": (6_894.757, 45.359237)}
"""What a driver's gauge and scale are read to: Pa (0.1 bar, 1 psi), kg (50 kg, 100 lb)."""
SHORT = {"gross": "gross", "front_axle": "front axle or tyres", "rear_axle": "rear axle or tyres", "hitch": "hitch"}


@dataclass(frozen=True, slots=True, kw_only=True)
class JobCard:
    """A card: payloads and tongues (kg), its cells, a row for each payload; where the payload lies (m); its target; how the kit is set now and for
    what load; the bag's own least; ratings nobody knows, which it does not hold anything against; what weather and height do."""

    payloads: tuple[float, ...]
    tongues: tuple[float, ...]
    cells: tuple[tuple[Cell, ...], ...]
    station: float
    target: Say
    as_set: Say
    least: Quantity
    not_known: tuple[str, ...]
    weather: tuple[Say, ...]


def job_card(model: JobModel, fitting: Fitting, units: System = "metric") -> JobCard:
    """Return the pressure card of the kit in hand, in the driver's steps.

    Arguments: units: the driver's system. Raises InputError for a kit that holds no air, no cargo to tell where payload lies, or a rating that
    leaves no payload.
    """
    job, kit = model.job, fitting.kit
    if not family_of(kit).sealed:
        raise InputError("kit", kit.name, "it holds no air: it is set once, not for each load")
    (gauge, mass_step), field = STEPS[units], family_of(kit).settings[0]
    vehicle = fitted_vehicle(model, fitting)
    target = target_drop(model, target_state(model))
    limits, unknown = _limits(job)
    empty = float(sum(vehicle.front.ref_load) + sum(vehicle.rear.ref_load)) / G
    room = limits.get("gross", limits.get("rear_axle", 0.0) * 2.0) - empty
    if room < mass_step:
        raise InputError(
            "payload",
            room,
            "what the plate allows leaves no payload to make a card for: read the ratings off the plate first",
        )
    payloads = _steps(room, ROWS, mass_step)
    tongues = (
        _steps(limits.get("hitch", 0.0), COLUMNS, mass_step) if job.vehicle.hitch_overhang_m is not None else (0.0,)
    )
    asked = CardAsked(
        element=KIT_ELEMENT,
        target=target.drop,
        gauge_step=gauge,
        payload_station=_station(model),
        overhang=job.vehicle.hitch_overhang_m or 0.0,
        limits=limits,
    )
    cells = pressure_card(vehicle, asked, payloads, tongues)
    return JobCard(
        payloads=payloads,
        tongues=tongues,
        cells=tuple(tuple(row) for row in cells),
        station=asked.payload_station,
        target=target.reason,
        as_set=_as_set(model, fitting, field.name),
        least=Quantity(family_of(kit).spans(kit)[field.name].low, field.kind),
        not_known=unknown,
        weather=_weather(cells),
    )


def _as_set(model: JobModel, fitting: Fitting, name: str) -> Say:
    """Return how the kit is set now, and for which load: that is what the shop proves; the card's cells are for the driver's own loads."""
    pair, state = fitting.setting.get(name), model.job.state(set_in(model, fitting))
    if pair is None or state is None:
        return Say("It is not set yet.")
    values = {"left": Quantity(pair[0], "pressure"), "right": Quantity(pair[1], "pressure")}
    sides = "{left}" if pair[0] == pair[1] else "{left} left, {right} right"
    set_to: dict[str, Worded] = {"state": state.name, "sides": Say(sides, values)}
    return Say("Set now for “{state}”, cold: {sides}, to the nearest step.", set_to)


def _limits(job: Job) -> tuple[dict[str, float], tuple[str, ...]]:
    """Return the ratings that are known (kg), an axle's or its tyres' whichever is less, and the names of those that are not."""
    rated = ratings_of(job, job.states[0])
    both = {
        "gross": [rated.gross],
        "front_axle": [rated.front_axle, rated.front_tyres],
        "rear_axle": [rated.rear_axle, rated.rear_tyres],
        "hitch": [rated.hitch],
    }
    known = {key: min(told) for key, values in both.items() if (told := [v for v in values if v is not None])}
    return known, tuple(SHORT[key] for key in SHORT if key not in known)


def _station(model: JobModel) -> float:
    """Return where payload lies: the middle of all cargo of the loaded states, each thing once. Raises InputError without any."""
    seen = {
        item.name: (float(item.mass), float(item.station))
        for state in model.states.values()
        for item in state.items
        if float(item.mass) > 0.0
    }
    return cargo_station(list(seen.values()))


def _steps(most: float, count: int, step: float) -> tuple[float, ...]:
    """Return nought and even steps up to the most (kg), each a whole number of the driver's steps."""
    whole = floor(most / step + 1e-9)
    each = max(-(-whole // (count - 1)), 1)
    return tuple(step * n for n in range(0, whole + 1, each))


def _weather(cells: Sequence[Sequence[Cell]]) -> tuple[Say, ...]:
    """Return what temperature and height do to a pressure of the card, told on its middle one."""
    found = sorted(p for row in cells for cell in row if cell.pressure for p in cell.pressure)
    if not found:
        return ()
    middle = found[len(found) // 2]
    cold, hot = (pressure_at_temperature(middle, AIR_USUAL, k, P_ATM) - middle for k in (AIR_COLD, AIR_HOT))
    values = {"p": Quantity(middle, "pressure"), "cold": Quantity(-cold, "pressure"), "hot": Quantity(hot, "pressure")}
    up = {"up": Quantity(P_ATM - air_at(PASS_HEIGHT), "pressure"), "high": Quantity(PASS_HEIGHT, "distance")}
    return (
        Say(
            "Set at 20 °C (68 °F), {p} reads {cold} less at 0 °C (32 °F) and {hot} more at 40 °C (104 °F): set it as the gauge reads, cold, before the drive.",
            values,
        ),
        Say(
            "At {high} above where it was set the gauge reads {up} more at the same height, and lifts by that: let it down there, up again below.",
            up,
        ),
    )


def can_have(fitting: Fitting | None) -> bool:
    """Tell whether a kit has a pressure card."""
    return fitting is not None and family_of(fitting.kit).sealed
