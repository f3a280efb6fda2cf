"""The yaw bench: how a trailer's swing dies away over speed, and what its nose, the load's place, the overhang and the hitch do to it.

Source: `road/plane.py`; method section 15. No promise about a real trailer: slow down, load forward, have it looked at.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np

from vantok_core.base.errors import InputError
from vantok_core.base.say import Quantity, length, mass
from vantok_core.facts import Job
from vantok_core.judge.benches.bench import (
    Answer,
    Ask,
    Bench,
    Cell,
    Chart,
    Draft,
    Known,
    Points,
    Question,
    Values,
    maybe,
    number,
)
from vantok_core.judge.benches.thresholds import (
    FASTEST,
    FRONT_SHARE,
    LEAST_FRONT,
    MOST_FRONT,
    SLOWEST,
    SWING_STAYS,
    SWING_WATCHED,
    THINGS_SPREAD,
    TYRES_SOFT,
)
from vantok_core.loads.nose import nose_word, window_words
from vantok_core.loads.trailer_beam import WINDOWS
from vantok_core.model import JobModel
from vantok_core.road.plane import Car, Towed, Train

STEPS = 71
CURVES = {
    "as entered": (1.0, 1.0),
    "tyres that hold less": (TYRES_SOFT, 1.0),
    "things at both ends": (1.0, THINGS_SPREAD),
}


def _answer(values: Values) -> Answer:
    draft = Draft()
    draft.axes = ("speed", "percent")
    train = _train(values)
    trailer, speed = train.trailer, number(values, "speed")
    window = WINDOWS["ball"]
    share = trailer.nose / trailer.m
    draft.row("Trailer in all", mass(trailer.m))
    draft.row("Nose, of it", mass(trailer.nose))
    draft.row("Share on the nose", Quantity(share, "percent"))
    draft.row("Its mass lies behind the coupling", length(trailer.centre))
    if nose_word(share, window) == "light":  # load and nose come before any figure of damping
        draft.say(
            "Only {p} of the trailer is on its nose (usual: {window}): load forward first.",
            "limit",
            p=Quantity(share, "percent"),
            window=window_words(window),
        )
    _at_speed(draft, train, speed)
    varied = {name: _varied(train, *factors) for name, factors in CURVES.items()}
    draft.curves.update({words: _curve(one) for words, one in varied.items()})
    rows = tuple(
        (words, *(_cell(one.falls_to(damping)) for damping in (SWING_WATCHED, SWING_STAYS)))
        for words, one in varied.items()
    )
    draft.charts.append(Chart(words="Where its damping falls", heads=("", "to 0.10 at", "to none at"), rows=rows))
    turns = train.diverges()
    if turns is not None:
        draft.say("From {v} the car itself turns unstable.", "limit", v=Quantity(turns, "speed"))
    draft.note(
        "Tyres and how the mass is spread are usual figures: the curves beside show what less grip and things at both ends do."
    )
    draft.note(
        "The legal speed and the trailer's own come first. Where it sways: off the throttle, straight ahead, no braking till it has calmed."
    )
    return draft.done(
        lever=trailer.lever,
        load_at=number(values, "load_at"),
        body=number(values, "body"),
        overhang=number(values, "overhang"),
        nose=trailer.nose,
        load=number(values, "load"),
        centre=trailer.centre,
        speed=speed,
    )


def _at_speed(draft: Draft, train: Train, speed: float) -> None:
    """Say how the swing dies away at the speed asked about, and what softer tyres or spread load would leave."""
    worst = min((_varied(train, *factors).at(speed).damping or 1.0) for factors in CURVES.values())
    found = train.at(speed)
    v = Quantity(speed, "speed")
    if found.damping is None:
        draft.say("At {v} nothing swings.", v=v)
    elif found.damping <= SWING_STAYS:
        draft.say("At {v} a swing grows by itself: slower, load forward.", "limit", v=v)
    elif worst <= SWING_STAYS:
        draft.say(
            "At {v} a swing dies away by these figures; with less grip, or things at both ends, it grows.", "act", v=v
        )
    elif worst < SWING_WATCHED:
        draft.say("At {v} a swing dies away slowly, or may: little is to spare.", "act", v=v)
    else:
        draft.say("At {v} a swing dies away, also with less grip and with things at both ends.", v=v)
    if found.damping is not None and found.frequency is not None:
        draft.row("Damping at that speed", f"{found.damping:.2f}")
        draft.row("It swings at", Quantity(found.frequency, "frequency"))


def _cell(speed: float | None) -> Cell:
    return "never" if speed is None else Quantity(speed, "speed")


def _train(values: Values) -> Train:
    """Return car and trailer as entered. Raises InputError for a trailer of no length or mass, a load off it, or a nose that lifts."""
    base, car_mass = number(values, "wheelbase"), number(values, "car")
    share = maybe(values, "front") or FRONT_SHARE
    if not LEAST_FRONT <= share <= MOST_FRONT:
        raise InputError("front", share, "a share between a fifth and four fifths")
    empty, nose_0, load = number(values, "empty"), number(values, "nose"), number(values, "load")
    lever, at, body = number(values, "lever"), number(values, "load_at"), number(values, "body")
    for name, value in (("lever", lever), ("empty", empty)):
        if value <= 0.0:
            raise InputError(name, value, "more than nought")
    if not 0.0 <= at <= lever + body / 2.0:
        raise InputError("load_at", at, "it lies between the coupling and the trailer's end")
    whole, nose = empty + load, nose_0 + load * (1.0 - at / lever)
    if nose <= 0.0:
        raise InputError("load_at", at, "the nose lifts: nothing holds the coupling down")
    centre = lever * (1.0 - nose / whole)
    own = lever * (1.0 - nose_0 / empty)
    inertia = empty * (body**2 / 12.0 + (own - centre) ** 2) + load * (at - centre) ** 2
    car = Car(m=car_mass, a=base * (1.0 - share), b=base * share)
    trailer = Towed(m=whole, lever=lever, nose=nose, inertia=inertia)
    return Train(
        car=car, trailer=trailer, hitch=car.b + number(values, "overhang"), damper=maybe(values, "damper") or 0.0
    )


def _varied(train: Train, grip: float, spread: float) -> Train:
    """Return the same with tyres that hold so many times as much, and the trailer's inertia so many times as great."""
    car, trailer = train.car, train.trailer
    c_f, c_r = car.stiff(trailer.nose, train.hitch)
    return replace(
        train,
        car=replace(car, c_f=grip * c_f, c_r=grip * c_r),
        trailer=replace(trailer, c_t=grip * trailer.stiff, inertia=spread * trailer.inertia),
    )


def _curve(train: Train) -> Points:
    """Return damping over speed (m/s), where a pair swings."""
    found = ((float(u), train.at(float(u)).damping) for u in np.linspace(SLOWEST, FASTEST, STEPS))
    return tuple((u, d) for u, d in found if d is not None)


def _of_job(job: Job, model: JobModel | None) -> Known:
    found: dict[str, Any] = {}
    for name, value, where in (
        ("wheelbase", job.vehicle.base_m, "the vehicle's wheelbase"),
        ("overhang", job.vehicle.hitch_overhang_m, "the vehicle"),
    ):
        if value is not None:
            found[name] = (value, where)
    state = max((one for one in job.states if one.hitched), key=lambda one: one.trailer, default=None)
    if state is None:
        return found
    where = f"the trailer in “{state.name}”"
    if state.front_kg is not None and state.rear_kg is not None and state.tongue is not None:
        found["car"] = (state.front_kg + state.rear_kg - state.tongue, f"the scales in “{state.name}”, less its tongue")
    if state.trailer:
        found |= {"empty": (state.trailer, where), "load": (0.0, where)}
    if state.trailer_axle_m:
        found["lever"] = (state.trailer_axle_m, where)
    if state.tongue:
        found["nose"] = (state.tongue, where)
    return found


BENCH = Bench(
    key="yaw",
    words="Trailer in yaw",
    questions=(
        Question(
            key="load",
            words="What does its load do to the swing?",
            asks=(
                "load",
                "load_at",
                "nose",
                "speed",
                "damper",
                "empty",
            ),
        ),
        Question(
            key="pair",
            words="At what speed does this pair no longer settle?",
            asks=(
                "car",
                "wheelbase",
                "front",
                "overhang",
                "lever",
                "body",
            ),
        ),
    ),
    asks=(
        Ask(name="car", words="Car, as it tows", kind="mass", first=2200.0),
        Ask(name="wheelbase", words="Its wheelbase", kind="length", first=3.2),
        Ask(name="front", words="Of it on the front axle", kind="percent", first=FRONT_SHARE, needed=False),
        Ask(name="overhang", words="Rear axle to ball", kind="length", first=1.1),
        Ask(name="empty", words="Trailer without that load", kind="mass", first=1200.0),
        Ask(name="nose", words="Its nose without that load", kind="mass", first=130.0),
        Ask(name="lever", words="Ball to trailer axle", kind="length", first=4.0),
        Ask(name="body", words="Length of its body", kind="length", first=5.6),
        Ask(name="load", words="Load to place", kind="mass", first=200.0),
        Ask(name="load_at", words="The load, behind the ball", kind="length", first=3.6),
        Ask(name="damper", words="Friction at the hitch", kind="torque", first=None, needed=False),
        Ask(name="speed", words="Asked about at", kind="speed", first=90.0 / 3.6),
    ),
    works=_answer,
    of_job=_of_job,
    places={"car": "car", "trailer": "empty", "u": "speed"},
)
