"""The air bench: a leak told apart from weather, what height above the sea does, one line or two, how long a line must be.

Source: method section 11.
"""

from __future__ import annotations

from collections.abc import Mapping

from vantok_core.base.num import P_ATM
from vantok_core.base.say import Quantity, length
from vantok_core.benches.air import air_line, leak, pressure_at, tee
from vantok_core.facts import Job
from vantok_core.judge.benches.bench import Answer, Ask, Bench, Draft, Tone, Values, maybe, nothing_of_job, number
from vantok_core.model import JobModel

HOUR, ZERO, USUAL = 3600.0, 273.15, 20.0
DIFFERENCE = 30_000.0
"""Between two bags in a bend, Pa (setting)."""
WORDS: dict[str, tuple[str, Tone]] = {
    "not told": ("nothing the gauge could tell, wait longer", "act"), "gained": ("it gained, a reading or a temperature is wrong", "act"), "fine": ("fine",
    "level"),
    "watch": ("watch it", "act"), "fault": ("a leak, find it", "limit"),
}  # fmt: skip
ROLL = 0.5
"""A sway of a vehicle takes about so long (s): a tee that evens out quicker holds no roll (setting)."""


def _answer(values: Values) -> Answer:
    draft, pressure = Draft(), number(values, "pressure")
    _leak(draft, values, pressure)
    if (high := maybe(values, "high")) is not None:
        there = Quantity(pressure_at(high, pressure), "pressure")
        draft.row("Up there it reads", there)
        draft.say(
            "At {high} above the sea the gauge reads {p} with the bag at the same height.",
            high=Quantity(high, "distance"),
            p=there,
        )
    bore, line, litres = (maybe(values, name) for name in ("bore", "line", "litres"))
    if bore is not None and line is not None and litres is not None:
        tau = tee(litres / 1000.0, bore, line, pressure + P_ATM, difference=DIFFERENCE).tau
        draft.row("Bags on a tee even out in", f"{tau:.2f} s")
        holds = (
            "slower than a sway, they hold some roll"
            if tau > ROLL
            else "quicker than a sway, they hold no roll; two lines do"
        )
        draft.say(f"On a tee the bags even out in {tau:.2f} s: {holds}.")
    route, travel = maybe(values, "route"), maybe(values, "travel")
    if route is not None and travel is not None:
        run = air_line(route, travel, hot=maybe(values, "hot") or 0.0)
        draft.row("Line to cut", length(run.length))
        draft.say(f"Cut {{length}} of line and take {run.ties} ties.", length=length(run.length))
    if not draft.said:
        draft.say("Enter a second reading, a height above the sea, a tee, or a route: each answers by itself.", "act")
    return draft.done(pressure=pressure)


def _leak(draft: Draft, values: Values, pressure: float) -> None:
    """Say what a second reading tells; pressure: of the first (Pa)."""
    later, hours = maybe(values, "later"), maybe(values, "hours")
    if later is None or hours is None:
        return
    warm, cold = (ZERO + (USUAL if (told := maybe(values, name)) is None else told) for name in ("warm", "cold"))
    found = leak(pressure, warm, later, cold, hours * HOUR)
    draft.row("As if at the first temperature", Quantity(found.p2_corrected, "pressure"))
    word, tone = WORDS[found.verdict]
    draft.say(
        f"{{loss}} a day at one temperature, {found.share_per_day:.1%}: {word}.",
        tone,
        loss=Quantity(found.loss_per_day, "pressure"),
    )


def _of_job(job: Job, model: JobModel | None) -> Mapping[str, tuple[float | str, str]]:
    pair = job.fitting.setting.get("pressure_pa") if job.fitting is not None else None
    return {"pressure": (pair[0], "the left bag as set")} if pair else nothing_of_job(job, model)


BENCH = Bench(
    key="air", words="Air", question="Is it a leak or the weather, one line or two, and how long a line?",
    asks=(
        Ask(name="pressure", words="Pressure, first reading", kind="pressure", first=250_000.0), Ask(name="later", words="Second reading", kind="pressure",
        needed=False), Ask(name="hours", words="Hours between", kind="count", needed=False),
        Ask(name="warm", words="°C at the first", kind="count", needed=False), Ask(name="cold", words="°C at the second", kind="count", needed=False),
        Ask(name="high", words="Height above the sea, metres", kind="distance", needed=False),
        Ask(name="bore", words="Tee: bore of the line", kind="length", needed=False), Ask(name="line", words="Tee: line between the bags", kind="length",
        needed=False), Ask(name="litres", words="Tee: air of one bag, litres", kind="count", needed=False),
        Ask(name="route", words="Route, valve to bag", kind="length", needed=False), Ask(name="travel", words="Axle's full travel there", kind="length",
        needed=False), Ask(name="hot", words="of the route beside something hot", kind="length", needed=False),
    ),
    answer=_answer, of_job=_of_job,
)  # fmt: skip
