"""What height is wanted, what kit is on for it, and how that is set."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from datetime import date
from typing import Annotated, Literal

from pydantic import Field, field_validator, model_validator

from vantok_core.facts.declared import Of
from vantok_core.facts.kinds import Facts, Line, Metres, Name, Pascals, School, Sentence
from vantok_core.facts.kit import Kit

Torque = Annotated[float, Field(gt=0.0, le=5000.0, allow_inf_nan=False), Of("torque")]


class CardMark(Facts):
    """A step of a kit's card as it was left: done, skipped or overruled (a gate) with its reason, or stopped, with what is missing from the box; each: how
    each of its fasteners was tightened, by name: to a torque (N m) or by feel; reached, torque_nm: the same as marks told it before, once for all of
    them; figure, said: what was written down at it (SI, as its fact has it, or in words); by
    whom and when (ISO 8601)."""

    key: Annotated[str, Field(pattern=r"^[a-z0-9-]{1,40}$")]
    state: Literal["done", "skipped", "overruled", "stopped"] = "done"
    each: Annotated[dict[Name, Torque | Literal["feel"]], Field(max_length=12)] = {}
    reached: Literal["", "torque", "feel"] = ""
    torque_nm: Torque | None = None
    figure: Annotated[float, Field(ge=-1e8, le=1e8, allow_inf_nan=False)] | None = None
    said: Sentence = ""
    missing: Annotated[tuple[Name, ...], Field(max_length=80)] = ()
    note: Sentence = ""
    by: Name = ""
    at: Annotated[str, Field(max_length=40)] = ""


class Learnt(Facts):
    """What a card of this kit taught on a vehicle of this kind, kept for the next one: a step of the shop's own that goes in after another (its key), a note at
    one, why it was left out there, that it is better done after another (after: that one's key), or what fought there, with what was tried and the minutes
    it took (of: the fastener, to be looked at again). by whom and when (ISO 8601 date)."""

    what: Literal["step", "note", "left_out", "moved", "fought"]
    key: Annotated[str, Field(pattern=r"^[a-z0-9-]{1,40}$")]
    words: Annotated[str, Field(min_length=1, max_length=300)]
    after: Annotated[str, Field(pattern=r"^[a-z0-9-]{0,40}$")] = ""
    of: Line = ""
    minutes: Annotated[float, Field(ge=0.0, le=2000.0, allow_inf_nan=False)] | None = None
    by: Name = ""
    at: Annotated[str, Field(max_length=40)] = ""


class Target(Facts):
    """What height is wanted: the school, its figure (share 0-1, or a length), and the reason told.

    length_m: what it is raised by, the height stated, or the least stop gap, as the school has it; length_right_m: of the right side
    where it is to differ, length_m then being the left's; source: who states the height;
    front_raise_m: what the front is to be raised by, for a kit of the front; contact: how an insert is to stand unladen, with a gap or in
    contact (empty: as the height asks).
    """

    school: School = "share_of_sag"
    share: Annotated[float, Field(ge=0.0, le=1.0, allow_inf_nan=False), Of("percent")] = 0.7
    rake_m: Metres = 0.0
    beam_m: Metres = 0.0
    front_raise_m: Metres | None = None
    contact: Literal["", "gap", "contact"] = ""
    length_m: Metres | None = None
    length_right_m: Metres | None = None
    source: Sentence = ""
    state: Annotated[str, Field(pattern=r"^[A-Za-z0-9_-]{0,30}$")] = ""
    reason: Sentence = ""


Named = Annotated[str, Field(pattern=r"^[a-z][a-z_]{0,29}$")]
Figure = Annotated[float, Field(ge=-1e8, le=1e8, allow_inf_nan=False)]
TENTHS_OF_A_MILLIMETRE = 1e4


class AlreadyOn(Facts):
    """A kit that was on the vehicle when it came: what it is called, its data where the shelf has them, how it was set when the heights were
    read as it came, and how when it was read off (nothing: taken off); its condition as looked at; found_pa: left and right pressure as found, of any make
    (Pa gauge)."""

    what: Annotated[str, Field(min_length=1, max_length=120)]
    kit: Kit | None = None
    setting: Annotated[dict[Named, tuple[Figure, Figure]], Field(max_length=12)] = {}
    off: Annotated[dict[Named, tuple[Figure, Figure]], Field(max_length=12)] = {}
    condition: Literal["", "sound", "worn", "perished"] = ""
    found_pa: tuple[Pascals, Pascals] | None = None

    @model_validator(mode="after")
    def _two_settings(self) -> AlreadyOn:
        if self.setting and self.setting == self.off:
            raise ValueError("off is the same setting as on: a pair at one setting tells nothing")
        return self

    @property
    def off_mark(self) -> str:
        """How it is set when it is read off, in one line."""
        return marked(self.off) or "off"


class AsSet(Facts):
    """How a setting was made on the vehicle: by whom, when (ISO 8601), with which gauge or tape, at what temperature (K)."""

    gauge: Line = ""
    kelvin: Annotated[float, Field(ge=200.0, le=350.0, allow_inf_nan=False), Of("temperature")] | None = None
    by: Name = ""
    at: Annotated[str, Field(max_length=40)] = ""


Day = Annotated[str, Field(pattern=r"^\d{4}-\d{2}-\d{2}$")]


class Ordered(Facts):
    """That a kit was ordered: the day, the day it is promised for (ISO 8601 dates; None: nobody told one), by what number or from whom, and by whom."""

    on: Day
    expected: Day | None = None
    of: Line = ""
    by: Name = ""

    @field_validator("on", "expected")
    @classmethod
    def _a_day_there_is(cls, day: str | None) -> str | None:
        if day is not None:
            date.fromisoformat(day)
        return day

    @property
    def promised(self) -> str:
        """For when it is promised, in words; empty where nobody told."""
        if self.expected is None:
            return ""
        day = date.fromisoformat(self.expected)
        return f"{day.day} {day:%B}"

    @property
    def told(self) -> str:
        """In words: for when it is promised, by what number or from whom."""
        return ", ".join(filter(None, (self.promised, self.of))) or "yes"


class Fitting(Facts):
    """The kit on the job and how it is set: each of its family's settings by name, left and right, in SI as its name ends.

    ruled_out: causes of a missed height that were looked into and found not to be it; card: the steps of its card as they were left;
    learnt: what the shop had learnt of this kit on vehicles of this kind when it was chosen, and on this one; as_set: who set it, when, with what;
    overruled: checks of its fit that a lead overruled, by key, with the reason; ordered: that it was ordered, and for when it is promised.
    """

    kit: Kit
    setting: Annotated[dict[Named, tuple[Figure, Figure]], Field(max_length=12)] = {}
    state: Annotated[str, Field(pattern=r"^[A-Za-z0-9_-]{0,30}$")] = ""
    done: bool = False
    ruled_out: Annotated[tuple[Annotated[str, Field(pattern=r"^[a-z_]{1,20}$")], ...], Field(max_length=20)] = ()
    card: Annotated[tuple[CardMark, ...], Field(max_length=200)] = ()
    learnt: Annotated[tuple[Learnt, ...], Field(max_length=60)] = ()
    as_set: AsSet | None = None
    ordered: Ordered | None = None
    overruled: Annotated[
        dict[Annotated[str, Field(pattern=r"^[a-z0-9_-]{1,40}$")], Sentence], Field(max_length=40)
    ] = {}

    @property
    def mark(self) -> str:
        """The kit and its setting in one line, by which a reading says what it was read at: lengths to a tenth of a millimetre,
        pressures to a pascal, everything else to a hundredth."""
        return f"{self.kit.code[:40]} {marked(self.setting) or 'unset'}"[:80]

    def at_mark(self, mark: str, names: Sequence[str]) -> Fitting | None:
        """Return the kit at the setting that a mark of it tells; None where it is not this kit's, or tells none.

        names: what its family is set by, each with a letter of its own to begin with.
        """
        code, _, told = mark.partition(" ")
        setting = read_mark(told, names) if code == self.kit.code[:40] else None
        return self.model_copy(update={"setting": setting}) if setting else None


def read_mark(told: str, names: Sequence[str]) -> dict[str, tuple[float, float]] | None:
    """Return the setting that a line of `marked` tells; None where it tells none. names: what it may be set by."""
    named, setting = {name[0]: name for name in names}, {}
    for one in told.split(" "):
        if not _TOLD.fullmatch(one) or one[0] not in named:
            return None
        name = named[one[0]]
        unit = 1.0 / TENTHS_OF_A_MILLIMETRE if name.endswith("_m") else 1.0
        left, right = (unit * float(value) for value in one[1:].split(","))
        setting[name] = (left, right)
    return setting


_TOLD = re.compile(r"[a-z]-?\d+(\.\d+)?,-?\d+(\.\d+)?")


def marked(setting: Mapping[str, tuple[float, float]]) -> str:
    """Return a setting in one line; empty without one."""
    return " ".join(_marked(name, *pair) for name, pair in sorted(setting.items()))


def _marked(name: str, left: float, right: float) -> str:
    if name.endswith("_m"):
        left, right = left * TENTHS_OF_A_MILLIMETRE, right * TENTHS_OF_A_MILLIMETRE
    exact = ".0f" if name.endswith(("_m", "_pa")) else ".2f"
    return f"{name[0]}{left:{exact}},{right:{exact}}"


class ToFollow(Facts):
    """A kit of the shelf that is agreed to go on later, by code and name."""

    code: Annotated[str, Field(pattern=r"^[A-Za-z0-9_-]{1,40}$")]
    name: Name
