"""What a leak test says, with the time still to wait, and the clearances that are asked for anew when a part or its setting changes.

Source: method section 25.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from math import ceil
from typing import Literal

from vantok_core.base.errors import InputError
from vantok_core.base.say import Quantity, Say
from vantok_core.benches.tight import ALLOWED, Tight, first_look, tight
from vantok_core.facts import Job
from vantok_core.facts.proving import Clearance, LeakTest
from vantok_core.judge.grounds.thresholds import GAUGE_STEP
from vantok_core.kits.registry import family_of

WHERE = {
    "rest": "at rest",
    "bump": "in bump",
    "droop": "hanging",
    "left_lock": "at left lock",
    "right_lock": "at right lock",
}
WHAT = {
    "frame_tyre": "frame to tyre",
    "insert_perch": "insert to perch",
    "tyre_bar": "tyre to bar",
    "lines": "lines and hoses",
    "reservoir": "reservoir",
    "exhaust": "exhaust",
}
ASKED = {
    "air": (("frame_tyre", "rest"), ("frame_tyre", "bump"), ("lines", "bump"), ("lines", "droop"), ("exhaust", "rest")),
    "stop": (("insert_perch", "rest"), ("lines", "bump")),
    "bar": (("tyre_bar", "left_lock"), ("tyre_bar", "right_lock"), ("lines", "droop")),
    "damper": (("reservoir", "bump"), ("reservoir", "left_lock"), ("reservoir", "right_lock")),
    "stabilizer": (("lines", "left_lock"), ("lines", "right_lock")),
}
"""What is looked at for each kind of work of a family."""
NEVER = ("frame_tyre", "tyre_bar", "lines")
"""What nobody overrules where it touches: a tyre, and what belongs to steering or brake. At either lock nothing is overruled."""
USUAL = (("frame_tyre", "rest"), ("lines", "bump"), ("lines", "droop"))


@dataclass(frozen=True, slots=True, kw_only=True)
class LeakSaid:
    """A test as it stands: the figures once it is read again, the sentence, its tone, and the seconds still to wait before a reading is worth it (None: it is
    told)."""

    test: LeakTest
    found: Tight | None
    said: Say
    tone: Literal["level", "act", "limit"]
    wait: float | None = None


def leak_said(test: LeakTest, now: datetime) -> LeakSaid:
    """Return what a leak test says now; bubbles are a fault whatever the gauge reads."""
    found = figures_of(test)
    if test.bubbles:
        said = Say("Bubbles: {where}. Let the air out first, then mend it, and test anew.", {"where": test.bubbles})
        return LeakSaid(test=test, found=found, said=said, tone="limit")
    if test.p2_pa is None:
        return _waiting(test, now)
    if found is None:
        text = "The two readings lie at one moment, or out of order: nothing can be said of them."
        return LeakSaid(test=test, found=None, said=Say(text), tone="act")
    told = spoken(found, _seconds(test.began, datetime.fromisoformat(test.ended)))
    wait = None if found.again is None else max(found.again - _seconds(test.began, now), 0.0)
    return LeakSaid(test=test, found=found, said=told, tone=TONES[found.verdict], wait=wait)


def spoken(found: Tight, seconds: float, allowed: float = ALLOWED) -> Say:
    """Return in words what two readings, seconds apart, say of a bag that may lose so much (allowed: Pa a day)."""
    figures = {
        "lost": Quantity(found.lost, "pressure"),
        "loss": Quantity(found.loss_per_day, "pressure"),
        "most": Quantity(max(found.band[1], 0.0), "pressure"),
        "allowed": Quantity(allowed, "pressure"),
    }
    day = Say(" ({loss} a day)", figures) if found.day_told else ""
    so_far = (
        Say("it may lose up to {most} a day, and {allowed} is allowed", figures)
        if found.day_told
        else "the two readings are too near each other"
    )
    text = {
        "gained": "It gained: a reading or a temperature is wrong. Read both again.",
        "tight": "Tight: it loses less than {most} a day at the same temperature; {allowed} is allowed.",
        "leaks": "It lost {lost} in {span}{day}, the weather taken off: a leak. Find it before it leaves.",
        "not yet": "Not told yet: {so_far}. Read again {again} after it began.",
        "at most": "After three days it still may lose {most} a day, more than the {allowed} allowed: taken for a leak until it is found.",
    }[found.verdict]
    spans = {"span": _span(seconds), "again": _span(found.again or 0.0)}
    return Say(text, {**figures, **spans, "day": day, "so_far": so_far})


TONES: dict[str, Literal["level", "act", "limit"]] = {
    "gained": "act",
    "tight": "level",
    "leaks": "limit",
    "not yet": "act",
    "at most": "limit",
}
LEAKS = ("leaks", "at most")
"""The words of a test that found a leak, or must be taken to have."""


def _waiting(test: LeakTest, now: datetime) -> LeakSaid:
    """Return how long a test still waits before a tight bag can be told."""
    wait = max(first_look(test.p1_pa, GAUGE_STEP) - _seconds(test.began, now), 0.0)
    told = Say("Long enough: read pressure and temperature again.")
    if wait:
        told = Say(
            "Wait: a tight bag can be told in {span}. Read it again then, cold; a leak that is plain may show sooner.",
            {"span": _span(wait)},
        )
    soap = "" if test.soaped else " Soap the whole bag and every fitting meanwhile."
    said = Say("{told}{soap}", {"told": told, "soap": soap})
    return LeakSaid(test=test, found=None, said=said, tone="act", wait=wait)


def _span(seconds: float) -> str:
    """Return a time in words: minutes up to two hours, then whole hours, no less than what is asked to be waited."""
    hours = seconds / 3600.0
    return f"{ceil(seconds / 60.0)} min" if hours < 2.0 else f"{ceil(hours)} h"


def figures_of(test: LeakTest) -> Tight | None:
    """Return what a test's two readings say; None until it ended, or where they cannot be. Its temperatures are typed from feel."""
    if test.p2_pa is None or test.kelvin_2 is None or not test.ended:
        return None
    try:
        seconds = _seconds(test.began, datetime.fromisoformat(test.ended))
        return tight(test.p1_pa, test.p2_pa, seconds, GAUGE_STEP, "felt", (test.kelvin_1, test.kelvin_2))
    except (InputError, ValueError, TypeError):
        return None


def _seconds(began: str, then: datetime) -> float:
    """Return the seconds since a test began; nought where that does not read."""
    try:
        return max((then - datetime.fromisoformat(began)).total_seconds(), 0.0)
    except (ValueError, TypeError):
        return 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Asked:
    """A clearance that is asked for: what and where, and the last that was found with the kit as it is set now, or why it is asked anew.

    stands: the last that was found at all, which counts until it is looked at again.
    """

    what: str
    where: str
    last: Clearance | None
    anew: bool
    stands: Clearance | None = None

    @property
    def words(self) -> str:
        """What it is called."""
        return f"{WHAT[self.what]}, {WHERE[self.where]}"

    @property
    def touches(self) -> bool:
        """Whether it was found touching, and was not looked at again since."""
        return self.stands is not None and self.stands.found == "touches"

    @property
    def final(self) -> bool:
        """Whether nobody overrules it where it touches: a tyre, a line, and whatever touches as the wheels are turned."""
        return self.what in NEVER or self.where in ("left_lock", "right_lock")

    @property
    def stops(self) -> bool:
        """Whether it stops card and drive: it touches, and no lead overruled it with a reason."""
        return self.touches and (self.final or self.stands is None or not self.stands.overruled)


def clearances_asked(job: Job) -> tuple[Asked, ...]:
    """Return what is to be looked at for the kits that are on; one looked at with another part or setting is asked for anew."""
    wanted = dict.fromkeys(pair for part in job.parts for pair in ASKED.get(family_of(part.kit).work, USUAL))
    mark = job.fitting.mark if job.fitting else ""
    rows = []
    for what, where in wanted:
        done = [c for c in job.proving.clearances if (c.what, c.where, c.moment) == (what, where, "after")]
        last = done[-1] if done else None
        rows.append(
            Asked(
                what=what,
                where=where,
                last=last if last and last.mark == mark else None,
                anew=last is not None and last.mark != mark,
                stands=last,
            )
        )
    return tuple(rows)


def stopping(job: Job) -> tuple[Say, ...]:
    """Return what stops a vehicle from leaving: parts found touching, bags found leaking. Another setting clears neither: what was found stands until
    the same place is looked at again, the same bag tested again to the end."""
    touching = [one.words for one in clearances_asked(job) if one.stops]
    found = (
        [Say("Touches: {touching}. Cure it before any drive, and look again.", {"touching": ", ".join(touching)})]
        if touching
        else []
    )
    for side in leaking_sides(job.proving.leaks):
        who = "The bags leak" if side == "both" else f"The {side} bag leaks"
        found.append(Say("{who}: find it before it leaves, and test it again to the end.", {"who": who}))
    return tuple(found)


def leaking_sides(tests: Sequence[LeakTest]) -> list[str]:
    """Return the sides (left, right, both on one line) whose last test that told anything found a leak; one just begun tells nothing yet."""
    leaks: dict[str, bool] = {}
    for test in tests:
        figures = figures_of(test)
        if test.bubbles or (figures is not None and figures.verdict in LEAKS):
            leaks[test.side] = True
        elif figures is not None and figures.verdict == "tight":
            covered = ("left", "right", "both") if test.side == "both" else (test.side,)
            leaks |= dict.fromkeys(covered, False)
    if leaks.get("both") and leaks.get("left") is False and leaks.get("right") is False:
        leaks["both"] = False  # each side by itself was tight since
    return [side for side, leaking in leaks.items() if leaking]


def still_open(job: Job) -> tuple[Say, ...]:
    """Return what was begun and not ended: leak tests not read again, clearances to be looked at anew."""
    last = [(test, figures_of(test)) for test in _last_of_each(job.proving.leaks) if not test.bubbles]
    found = [
        Say("The leak test ({side}) was not read again.", {"side": test.side}) for test, _ in last if test.p2_pa is None
    ]
    found += [
        Say("The leak test ({side}) could not tell yet: read it again.", {"side": test.side})
        for test, figures in last
        if figures is not None and figures.verdict in ("not yet", "gained")
    ]
    anew = [one.words for one in clearances_asked(job) if one.anew]
    return (
        *found,
        *(
            (Say("To be looked at again with the setting as it is now: {anew}.", {"anew": "; ".join(anew)}),)
            if anew
            else ()
        ),
    )


def _last_of_each(tests: Sequence[LeakTest]) -> list[LeakTest]:
    """Return the last test of each side."""
    return list({test.side: test for test in tests}.values())
