"""What the customer wants of a kit besides the height: each a check of its own, so that a kit that breaks one is out, with the reason.

A wish nobody can answer for a kit is "to measure", never kept.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping

from vantok_core.base.say import Quantity, Say, length
from vantok_core.facts import Job, Kit
from vantok_core.facts.kinds import Wish
from vantok_core.kits.checks import FitCheck, Status
from vantok_core.physics.stance.report import StateReport

WISHES: Mapping[Wish, str] = {
    "no_drilling": "no drilling",
    "one_day": "done in a day",
    "no_upkeep": "nothing to maintain",
    "cheap": "cheap",
    "reversible": "comes off without a trace",
    "empty_ride": "empty ride unchanged",
}
DAY = 8.0
"""Hours of work in a day, both sides together."""
CHEAP = 600.0
"""What counts as cheap, fitted (the shop's currency)."""
RISE, STIFFER = 0.010, 0.10
"""An empty ride counts as unchanged within this rise (m) and this share of its frequency."""


def wish_checks(job: Job, kit: Kit) -> list[FitCheck]:
    """Return a check for each of the job's wishes that the kit's own data answers; the empty ride is told by `empty_ride_kept`."""
    return [_check(wish, *ANSWERS[wish](job, kit)) for wish in job.wishes if wish in ANSWERS]


def _check(wish: Wish, status: Status, why: Say) -> FitCheck:
    return FitCheck(key=wish, words=f"wish: {WISHES[wish]}", status=status, why=why)


Answer = tuple[Status, Say]


def _drilling(job: Job, kit: Kit) -> Answer:
    if kit.drilling is None:
        return "measure", Say("Whether frame or axle is drilled is not in its data: ask the maker.")
    return ("fail", Say("Frame or axle is drilled for it.")) if kit.drilling else ("pass", Say("Nothing is drilled."))


def _reversible(job: Job, kit: Kit) -> Answer:
    if kit.reversible is None:
        return "measure", Say("Whether it comes off without a trace is not in its data: ask the maker.")
    return ("pass", Say("It comes off without a trace.")) if kit.reversible else ("fail", Say("It leaves its traces."))


def _day(job: Job, kit: Kit) -> Answer:
    hours = {"h": Quantity(kit.hours, "count")}
    return "fail" if kit.hours > DAY else "pass", Say("It takes {h} hours.", hours)


def _upkeep(job: Job, kit: Kit) -> Answer:
    if kit.upkeep_per_year > 0.0:
        return "fail", Say("It is to be looked after every year.")
    return "pass", Say("It asks for nothing.")


def _cheap(job: Job, kit: Kit) -> Answer:
    fitted = kit.price + job.hour_price * kit.hours
    values = {"fitted": Quantity(fitted, "count"), "most": Quantity(CHEAP, "count")}
    return "fail" if fitted > CHEAP else "pass", Say("About {fitted} fitted; {most} counts as cheap.", values)


ANSWERS: Mapping[Wish, Callable[[Job, Kit], Answer]] = {
    "no_drilling": _drilling,
    "one_day": _day,
    "no_upkeep": _upkeep,
    "cheap": _cheap,
    "reversible": _reversible,
}


def empty_ride_kept(job: Job, empty: StateReport, plain: StateReport) -> list[FitCheck]:
    """Return whether the empty ride stays as it was with a kit on, where that is wished and the vehicle is ever empty."""
    if "empty_ride" not in job.wishes or job.never_empty:
        return []
    rise = float(plain.d_r - empty.d_r)
    stiffer = float(empty.ride_frequency["RL"]) / float(plain.ride_frequency["RL"]) - 1.0
    kept = abs(rise) <= RISE and abs(stiffer) <= STIFFER
    values = {"rise": length(rise, signed=True), "stiffer": Quantity(stiffer, "percent", signed=True)}
    why = Say("Empty its rear moves {rise}, its ride frequency {stiffer}.", values)
    return [_check("empty_ride", "pass" if kept else "fail", why)]
