"""The playground: a vehicle as it is in life, loaded by hand; what axles, heights, lamps, stops and roll do answers at once. And questions on it.

Source: method sections 2 and 4.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from vantok_core.base.errors import InputError
from vantok_core.base.num import G
from vantok_core.base.say import Quantity, Say
from vantok_core.facts import Job
from vantok_core.facts.classes import BODIES
from vantok_core.kits.fit import with_kit
from vantok_core.physics.effects import headlamp_rise
from vantok_core.physics.stance.report import StateReport, report
from vantok_core.physics.stance.states import solve_states
from vantok_core.physics.vehicle import CORNERS, Item, LoadState, Tongue, Vehicle
from vantok_core.practice.life import KINDS, Drawn, bellows, drawn

VEHICLES: Mapping[str, str] = {
    "pickup": "a pickup on leaves",
    "heavy": "a heavy pickup, two stages",
    "coil": "a pickup on coils",
    "estate": "an estate car",
    "van": "a van",
    "tall": "a high-roof van",
    "coach": "a motor coach",
}
"""What stands on the playground, in the order of the kinds it is drawn of."""
SEATS = 0.45
"""Where people sit: share of the wheelbase."""
BEND = 0.3
"""Of a bend, its side acceleration as a share of g."""
OVERHANG = 1.15
"""Behind the rear axle the ball, m."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Handle:
    """What is dragged: words, kind of figure, from, to, step and start (SI)."""

    words: str
    kind: str
    low: float
    high: float
    step: float
    start: float


HANDLES: Mapping[str, Handle] = {
    "load": Handle(words="load", kind="mass", low=0.0, high=900.0, step=10.0, start=250.0),
    "at": Handle(words="where it stands, of the wheelbase", kind="percent", low=0.3, high=1.4, step=0.01, start=0.95),
    "side": Handle(words="to the left", kind="length", low=-0.7, high=0.7, step=0.02, start=0.0),
    "tongue": Handle(words="tongue", kind="mass", low=0.0, high=350.0, step=5.0, start=0.0),
    "people": Handle(words="people", kind="count", low=0.0, high=6.0, step=1.0, start=2.0),
    "pressure": Handle(words="pressure in the bags", kind="pressure", low=0.0, high=600e3, step=10e3, start=0.0),
}
"""What can be dragged."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Answers:
    """What the vehicle answers. axles: front and rear, kg; heights: ground to arch by corner, m; front_lost: share; beam: rise at ten metres, m; gap: least
    left at the rear stops, m; lean: rad; roll: how much further it leans in a bend of three tenths of g, rad; over: what is over its rating."""

    axles: tuple[float, float]
    heights: Mapping[str, float]
    rear_sag: float
    front_rise: float
    front_lost: float
    beam: float
    gap: float
    lean: float
    roll: float
    over: tuple[str, ...]


@lru_cache(maxsize=16)
def stands(key: str) -> Drawn:
    """Return the vehicle of the playground. Raises InputError for one that is not there."""
    if key not in VEHICLES:
        raise InputError("vehicle", key, f"there are {', '.join(VEHICLES)}")
    return drawn(np.random.default_rng(31 + list(VEHICLES).index(key)), KINDS[list(VEHICLES).index(key)])


def pushed(told: Mapping[str, float]) -> dict[str, float]:
    """Return each handle's figure (SI) kept within its bounds; at its start where nothing is told."""
    return {name: min(max(told.get(name, one.start), one.low), one.high) for name, one in HANDLES.items()}


@lru_cache(maxsize=256)
def _solved(key: str, told: tuple[float, ...]) -> tuple[StateReport, StateReport, StateReport]:
    one, figures = stands(key), dict(zip(HANDLES, told, strict=True))
    base = one.truth.wheelbase
    items = (
        Item(mass=figures["load"], station=figures["at"] * base, lateral=figures["side"], name="load"),
        Item(mass=75.0 * figures["people"], station=SEATS * base, name="people"),
    )
    tongue = Tongue(mass=figures["tongue"], overhang=OVERHANG) if figures["tongue"] else None
    bend = (*items, *_bend(one, sum(float(i.mass) for i in items)))
    states = [
        LoadState(name="empty"),
        LoadState(name="now", items=items, tongue=tongue),
        LoadState(name="bend", items=bend, tongue=tongue),
    ]
    vehicle = _with_air(one, figures["pressure"])
    solved = solve_states(vehicle, states, check_limits=False)
    plain = solve_states(one.truth, states[:1], check_limits=False)
    return report(one.truth, plain["empty"]), report(vehicle, solved["now"]), report(vehicle, solved["bend"])


def _bend(one: Drawn, on_board: float) -> tuple[Item, Item]:
    """Return the couple of a bend, as a mass put on one side and taken off the other; on_board: kg.

    Formula: `m_s a_y h_a`, h_a the usual arm of its body; roll centres left out. Source: method section 6.
    """
    truth = one.truth
    sprung = float(truth.weight) / G + on_board - 2.0 * (truth.front.unsprung + truth.rear.unsprung)
    mass = 0.5 * sprung * BEND * BODIES[one.kind.body].roll_arm
    return Item(mass=mass, station=truth.wheelbase / 2, lateral=-1.0), Item(
        mass=-mass, station=truth.wheelbase / 2, lateral=1.0
    )


def _with_air(one: Drawn, pressure: float) -> Vehicle:
    if pressure <= 0.0 or not one.truth.rear.solid:
        return one.truth
    job = Job(vehicle=one.job.vehicle, states=one.job.states)
    return with_kit(job, one.truth, bellows(), {"pressure_pa": (max(pressure, 35e3),) * 2}, state="now")


def answered(key: str, told: Mapping[str, float]) -> Answers:
    """Return what a vehicle answers to its handles (SI). Raises InputError for one that is not there, StateError for what cannot stand."""
    figures = pushed(told)
    empty, now, bend = _solved(key, tuple(figures[name] for name in HANDLES))
    one = stands(key)
    on = {c: float(now.load[c]) / G for c in CORNERS}
    stop = one.truth.rear.elements[0].left
    gap = float(getattr(stop, "gap", 0.0))
    style = BODIES[one.kind.body]
    axles = (on["FL"] + on["FR"], on["RL"] + on["RR"])
    vehicle = one.job.vehicle
    ratings = (("front axle", axles[0], vehicle.front_axle_kg), ("rear axle", axles[1], vehicle.rear_axle_kg))
    return Answers(
        axles=axles,
        heights={c: one.stands[c] - float(now.ground_drop[c]) + float(empty.ground_drop[c]) for c in CORNERS},
        rear_sag=float(now.d_r),
        front_rise=-float(now.d_f),
        front_lost=float(now.front_share_lost),
        beam=float(headlamp_rise(now.d_f, now.d_r, one.truth.wheelbase, style.lamp)),
        gap=max(gap - max(float(now.hub_drop["RL"]), float(now.hub_drop["RR"])), 0.0),
        lean=float(now.phi),
        roll=abs(float(bend.phi) - float(now.phi)),
        over=tuple(name for name, load, rated in ratings if rated is not None and load > rated),
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Question:
    """A question on the playground: its words, handles it is asked at (SI), the vehicle, the kind of figure, how near counts (a
    share of the answer, and SI at least)."""

    words: Say
    vehicle: str
    told: Mapping[str, float]
    asks: str
    kind: str
    share: float = 0.2
    least: float = 0.0


ASKS: Mapping[str, tuple[str, str, float]] = {
    "front_lost": ("How much of its load does the front axle lose?", "percent", 0.02),
    "rear_sag": ("By how much does the rear go down?", "length", 0.006),
    "beam": ("By how much does the beam rise at ten metres?", "length", 0.03),
    "gap": ("How far are the rear stops?", "length", 0.008),
    "rear": ("What does the rear axle carry?", "mass", 25.0),
}
"""What is asked: its words, kind of figure, and how near always counts (SI)."""


WORTH: Mapping[str, float] = {"front_lost": 0.02, "rear_sag": 0.012, "beam": 0.03, "gap": 0.012, "rear": 0.0}
"""An answer is worth asking from here on (SI)."""


def question(seed: int) -> Question:
    """Return a question by its seed: one whose answer is worth asking for."""
    rng = np.random.default_rng([seed, 7])
    while True:
        found = _question(rng)
        if answer_of(found) >= WORTH[found.asks]:
            return found


def _question(rng: np.random.Generator) -> Question:
    vehicle = str(rng.choice([k for k in VEHICLES if k != "coach"]))
    asks = str(rng.choice(list(ASKS)))
    told = {name: one.start for name, one in HANDLES.items()} | {
        "load": float(rng.integers(10, 45) * 10),
        "at": round(float(rng.uniform(0.7, 1.25)), 2),
        "tongue": float(rng.choice([0, 0, 60, 90, 120])),
        "people": float(rng.integers(2, 4)),
    }
    words, kind, least = ASKS[asks]
    values = {
        "load": Quantity(told["load"], "mass"),
        "at": Quantity(told["at"], "percent"),
        "tongue": Quantity(told["tongue"], "mass"),
        "people": Quantity(told["people"], "count"),
    }
    ball = Say(", {tongue} on the ball", values) if told["tongue"] else ""
    called = VEHICLES[vehicle]
    said = Say(
        "{vehicle}: {load} at {at} of the wheelbase, {people} people in front{ball}. {words}",
        {**values, "vehicle": called[:1].upper() + called[1:], "ball": ball, "words": words},
    )
    return Question(words=said, vehicle=vehicle, told=told, asks=asks, kind=kind, least=least)


def answer_of(one: Question) -> float:
    """Return the answer to a question, SI."""
    found = answered(one.vehicle, one.told)
    return found.axles[1] if one.asks == "rear" else float(getattr(found, one.asks))


def near_enough(one: Question, guess: float) -> bool:
    """Tell whether a guess (SI) is within a question's tolerance."""
    true = answer_of(one)
    return abs(guess - true) <= max(one.share * abs(true), one.least)
