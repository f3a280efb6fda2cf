"""What a leak test says, with the time still to wait, and the clearances that are asked for anew when a part or its setting changes.

Source: method section 11.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from vantok_core.base.errors import InputError
from vantok_core.base.say import Quantity, Say
from vantok_core.benches.air import DAY, FINE, GAUGE_ERROR, Leak, leak
from vantok_core.facts import Job
from vantok_core.facts.proving import Clearance, LeakTest
from vantok_core.kits.registry import family_of

WORKING = 0.5
"""A test under this share of the bag's greatest pressure is told less surely (setting)."""
WHERE = {
    "rest": "at rest",
    "bump": "in bump",
    "droop": "hanging",
    "left_lock": "at left lock",
    "right_lock": "at right lock",
}
WHAT = {
    "frame_tyre": "frame to tyre", "insert_perch": "insert to perch", "tyre_bar": "tyre to bar", "lines": "lines and hoses", "reservoir": "reservoir",
    "exhaust": "exhaust",
}  # fmt: skip
ASKED = {
    "air": (("frame_tyre", "rest"), ("frame_tyre", "bump"), ("lines", "bump"), ("lines", "droop"), ("exhaust", "rest")),
    "stop": (("insert_perch", "rest"), ("lines", "bump")), "bar": (("tyre_bar", "left_lock"), ("tyre_bar", "right_lock"), ("lines", "droop")),
    "damper": (("reservoir", "bump"), ("reservoir", "left_lock"), ("reservoir", "right_lock")), "stabilizer": (("lines", "left_lock"), ("lines", "right_lock")),
}  # fmt: skip
"""What is looked at for each kind of work of a family."""
USUAL = (("frame_tyre", "rest"), ("lines", "bump"), ("lines", "droop"))


@dataclass(frozen=True, slots=True, kw_only=True)
class LeakSaid:
    """A test as it stands: the figures once it is read again, the sentence, its tone, and the seconds still to wait before a fine bag can be told from a
    tight one (None: it is read)."""

    test: LeakTest
    found: Leak | None
    said: Say
    tone: Literal["level", "act", "limit"]
    wait: float | None = None


def leak_said(test: LeakTest, now: datetime) -> LeakSaid:
    """Return what a leak test says now; bubbles are a fault whatever the gauge reads."""
    found = figures_of(test)
    if test.bubbles:
        text = f"Bubbles: {test.bubbles}. Let the air out first, then mend it, and test anew.".replace(
            "{", "("
        ).replace("}", ")")
        return LeakSaid(test=test, found=found, said=Say(text), tone="limit")
    if test.p2_pa is None:
        return _waiting(test, now)
    if found is None:
        text = "The two readings lie at one moment, or out of order: nothing can be said of them."
        return LeakSaid(test=test, found=None, said=Say(text), tone="act")
    values = {
        "loss": Quantity(found.loss_per_day, "pressure"), "share": Quantity(found.share_per_day, "percent"),
        "least": Quantity(found.least_loss_per_day, "pressure"),
    }  # fmt: skip
    word, tone = WORDS[found.verdict]
    return LeakSaid(test=test, found=found, said=Say(word, values), tone=tone)


def _waiting(test: LeakTest, now: datetime) -> LeakSaid:
    """Return how long a test still waits before a fine bag can be told from a tight one."""
    wait = max(GAUGE_ERROR / (FINE * test.p1_pa) * DAY - _seconds(test.began, now), 0.0)
    text = "Long enough: read pressure and temperature again."
    if wait:
        text = (
            "Wait: a loss that is still fine can be told in {hours} h. Read it again then, cold, and look next morning."
        )
    soap = "" if test.soaped else " Soap the whole bag and every fitting meanwhile."
    return LeakSaid(
        test=test, found=None, said=Say(text + soap, {"hours": Quantity(wait / 3600.0, "ratio")}), tone="act", wait=wait
    )


WORDS: dict[str, tuple[str, Literal["level", "act", "limit"]]] = {
    "not told": ("Nothing lost that the gauge could tell ({least} a day); wait longer, or look tomorrow.", "act"),
    "gained": ("It gained: a reading or a temperature is wrong. Read both again.", "act"),
    "fine": ("It loses {loss} a day at the same temperature ({share}): fine.", "level"),
    "watch": ("It loses {loss} a day at the same temperature ({share}): watch it, soap again, and look next week.", "act"),
    "fault": ("It loses {loss} a day at the same temperature ({share}): a leak. Find it before it leaves.", "limit"),
}  # fmt: skip


def figures_of(test: LeakTest) -> Leak | None:
    """Return what a test's two readings say; None until it ended, or where they cannot be."""
    if test.p2_pa is None or test.kelvin_2 is None or not test.ended:
        return None
    try:
        return leak(
            test.p1_pa,
            test.kelvin_1,
            test.p2_pa,
            test.kelvin_2,
            _seconds(test.began, datetime.fromisoformat(test.ended)),
        )
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
    touching = [one.words for one in clearances_asked(job) if one.stands is not None and one.stands.found == "touches"]
    found = [Say(f"Touches: {', '.join(touching)}. Cure it before any drive, and look again.")] if touching else []
    for side in leaking_sides(job.proving.leaks):
        who = "The bags leak" if side == "both" else f"The {side} bag leaks"
        found.append(Say(f"{who}: find it before it leaves, and test it again to the end."))
    return tuple(found)


def leaking_sides(tests: Sequence[LeakTest]) -> list[str]:
    """Return the sides (left, right, both on one line) whose last test that told anything found a leak; one just begun tells nothing yet."""
    leaks: dict[str, bool] = {}
    for test in tests:
        figures = figures_of(test)
        if test.bubbles or (figures is not None and figures.verdict == "fault"):
            leaks[test.side] = True
        elif figures is not None and figures.verdict not in ("gained",):
            covered = ("left", "right", "both") if test.side == "both" else (test.side,)
            leaks |= dict.fromkeys(covered, False)
    if leaks.get("both") and leaks.get("left") is False and leaks.get("right") is False:
        leaks["both"] = False  # each side by itself was tight since
    return [side for side, leaking in leaks.items() if leaking]


def still_open(job: Job) -> tuple[Say, ...]:
    """Return what was begun and not ended: leak tests not read again, clearances to be looked at anew."""
    waiting = [test.side for test in _last_of_each(job.proving.leaks) if test.p2_pa is None]
    found = [Say(f"The leak test ({side}) was not read again.") for side in waiting]
    anew = [one.words for one in clearances_asked(job) if one.anew]
    return (
        *found,
        *((Say(f"To be looked at again with the setting as it is now: {', '.join(anew)}."),) if anew else ()),
    )


def _last_of_each(tests: Sequence[LeakTest]) -> list[LeakTest]:
    """Return the last test of each side."""
    return list({test.side: test for test in tests}.values())
