"""The air bench: a leak told apart from weather, what height above the sea does, one line or two, how long a line must be.

Source: method section 11.
"""

from __future__ import annotations

from math import pi

from vantok_core.base.errors import InputError
from vantok_core.base.num import P_ATM
from vantok_core.base.say import Quantity, length
from vantok_core.base.units import both
from vantok_core.benches.air import air_line, pressure_at, tee
from vantok_core.benches.tight import USUAL, Temperature, tight
from vantok_core.facts import Job
from vantok_core.judge.benches.bench import (
    Answer,
    Ask,
    Bench,
    Chart,
    Draft,
    Known,
    Question,
    Values,
    maybe,
    nothing_of_job,
    number,
)
from vantok_core.judge.benches.thresholds import BAGS_APART, SWAY_TIME
from vantok_core.judge.grounds.leaking import TONES, spoken
from vantok_core.judge.grounds.thresholds import GAUGE_STEP
from vantok_core.kits.registry import family_of
from vantok_core.model import JobModel
from vantok_core.physics.elements.air import BUMP


def _answer(values: Values) -> Answer:
    draft, pressure = Draft(), number(values, "pressure")
    drawn = _bag(draft, values, pressure)
    _leak(draft, values, pressure)
    if (high := maybe(values, "high")) is not None:
        try:
            there = Quantity(pressure_at(high, pressure), "pressure")
        except InputError as error:
            raise InputError("high", high, error.expected) from error  # a bag's own height is called so too
        draft.row("Up there it reads", there)
        draft.say(
            "At {high} above the sea the gauge reads {p} with the bag at the same height.",
            high=Quantity(high, "distance"),
            p=there,
        )
    bore, line, litres = (maybe(values, name) for name in ("bore", "line", "litres"))
    if bore is not None and line is not None and litres is not None:
        tau = tee(litres / 1000.0, bore, line, pressure + P_ATM, difference=BAGS_APART).tau
        draft.row("Bags on a tee even out in", f"{tau:.2f} s")
        holds = (
            "slower than a sway, they hold some roll"
            if tau > SWAY_TIME
            else "quicker than a sway, they hold no roll; two lines do"
        )
        draft.say("On a tee the bags even out in {tau} s: {holds}.", tau=f"{tau:.2f}", holds=holds)
    route, travel = maybe(values, "route"), maybe(values, "travel")
    if route is not None and travel is not None:
        run = air_line(route, travel, hot=maybe(values, "hot") or 0.0)
        draft.row("Line to cut", length(run.length))
        draft.say("Cut {length} of line and take {ties} ties.", length=length(run.length), ties=run.ties)
    if not draft.said:
        draft.say("Enter what is asked for: it is answered as it is typed.", "act")
    return draft.done(pressure=pressure, **drawn)


def _bag(draft: Draft, values: Values, pressure: float) -> dict[str, float]:
    """Say what a bag presses with, as it stands and pressed further with its valve shut, where its size is entered."""
    across, high, pressed = maybe(values, "across"), maybe(values, "height"), maybe(values, "pressed") or 0.0
    if across is None or high is None:
        return {"across": 0.13, "height": 0.17, "pressed": 0.0, "known": 0.0}
    if across <= 0.0 or high <= 0.0:
        raise InputError(
            "height" if high <= 0.0 else "across", min(across, high), "a bag is wider and higher than nought"
        )
    if not pressed < high:
        raise InputError("pressed", pressed, "it cannot be pressed further than it is high")
    area = 0.25 * pi * across**2
    then = (pressure + P_ATM) * (high / (high - pressed)) ** BUMP - P_ATM
    force, more = Quantity(area * pressure, "force"), Quantity(area * then, "force")
    draft.row("It presses with", force)
    draft.say("At {h} and {p} one bag presses with {f}.", h=length(high), p=Quantity(pressure, "pressure"), f=force)
    if pressed:
        draft.row("Pressed further, valve shut", more)
        draft.say(
            "Pressed {x} further with the valve shut it reads {p} and presses with {f}.",
            x=length(pressed),
            p=Quantity(then, "pressure"),
            f=more,
        )
    draft.note("Its area is taken as alike at every height: the maker's table comes before it.")
    return {"across": across, "height": high, "pressed": pressed, "known": 1.0}


def _tabled(job: Job, model: JobModel) -> tuple[Chart, ...]:
    """Return the force of one of the job's own bags by height and pressure, as its maker's table has it."""
    own = job.fitting.kit.own if job.fitting is not None and family_of(job.fitting.kit).sealed else None
    if own is None:
        return ()
    heights, pressures, loads = own["heights_m"], own["pressures_pa"], own["loads_n"]
    rows = tuple((length(h), *(Quantity(f, "force") for f in row)) for h, row in zip(heights, loads, strict=True))
    assert job.fitting is not None
    heads = ("High", *(both("pressure", p) for p in pressures))
    return (Chart(words=f"{job.fitting.kit.name}: force of one, by height and pressure", heads=heads, rows=rows),)


def _leak(draft: Draft, values: Values, pressure: float) -> None:
    """Say what a second reading tells; pressure: of the first (Pa)."""
    later, hours = maybe(values, "later"), maybe(values, "hours")
    if later is None or hours is None:
        return
    warm, cold = (USUAL if (told := maybe(values, name)) is None else told for name in ("warm", "cold"))
    felt: Temperature = "none" if maybe(values, "warm") is None or maybe(values, "cold") is None else "felt"
    found = tight(pressure, later, hours * 3600.0, GAUGE_STEP, felt, (warm, cold))
    draft.row("Lost, the weather taken off", Quantity(found.lost, "pressure"))
    words = spoken(found, hours * 3600.0)
    draft.say("{words}", TONES[found.verdict], words=words)


def _of_job(job: Job, model: JobModel | None) -> Known:
    pair = job.fitting.setting.get("pressure_pa") if job.fitting is not None else None
    return {"pressure": (pair[0], "the left bag as set")} if pair else nothing_of_job(job, model)


BENCH = Bench(
    key="air",
    words="Air",
    questions=(
        Question(
            key="leak",
            words="Is it a leak or the weather?",
            asks=(
                "pressure",
                "later",
                "hours",
                "warm",
                "cold",
            ),
        ),
        Question(
            key="force",
            words="What does one bag press with?",
            asks=(
                "pressure",
                "across",
                "height",
                "pressed",
            ),
        ),
        Question(
            key="tee",
            words="One line or two?",
            asks=(
                "pressure",
                "bore",
                "line",
                "litres",
            ),
        ),
        Question(
            key="route",
            words="How long a line?",
            asks=(
                "route",
                "travel",
                "hot",
            ),
        ),
        Question(
            key="high",
            words="What does height above the sea do?",
            asks=(
                "pressure",
                "high",
            ),
        ),
    ),
    asks=(
        Ask(name="pressure", words="Pressure, first reading", kind="pressure", first=250_000.0),
        Ask(name="across", words="Bag's effective diameter", kind="length", needed=False),
        Ask(name="height", words="Bag's height, plates", kind="length", needed=False),
        Ask(name="pressed", words="pressed further, valve shut", kind="length", needed=False),
        Ask(name="later", words="Second reading", kind="pressure", needed=False),
        Ask(name="hours", words="Hours between", kind="count", most=10000.0, needed=False),
        Ask(name="warm", words="Temperature at the first", kind="temperature", needed=False),
        Ask(name="cold", words="Temperature at the second", kind="temperature", needed=False),
        Ask(name="high", words="Height above the sea, metres", kind="distance", needed=False),
        Ask(name="bore", words="Tee: bore of the line", kind="length", needed=False),
        Ask(name="line", words="Tee: line between the bags", kind="length", needed=False),
        Ask(name="litres", words="Tee: air of one bag, litres", kind="count", most=200.0, needed=False),
        Ask(name="route", words="Route, valve to bag", kind="length", needed=False),
        Ask(name="travel", words="Axle's full travel there", kind="length", needed=False),
        Ask(name="hot", words="of the route beside something hot", kind="length", needed=False),
    ),
    works=_answer,
    of_job=_of_job,
    of_kit=_tabled,
    places={
        "p_1": "pressure",
        "p1": "pressure",
        "time": "hours",
        "seconds": "hours",
        "temperature": "warm",
        "height": "high",
        "tee": "bore",
        "line": "bore",
        "p2": "later",
        "share": "hours",
        "difference": "pressure",
    },
)
