"""What proves the work beside the tape: leaks, clearances, drives before and after, changes one at a time, settings that suited a road."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from vantok_core.facts.declared import Of, Told
from vantok_core.facts.kinds import Facts, Key, Name, Pascals, Sentence

Kelvin = Annotated[float, Field(ge=200.0, le=350.0, allow_inf_nan=False), Of("temperature")]
Stamp = Annotated[str, Field(max_length=40)]
Mark = Annotated[str, Field(max_length=80)]
"""A kit and its setting in one line, as a reading has it."""
Moment = Literal["before", "after"]
Rater = Literal["owner", "technician"]


class LeakTest(Facts):
    """A bag, or both on one line, pressed up and read again, its height held. p1_pa, p2_pa: gauge; kelvin_1, kelvin_2; began, ended: when (ISO 8601);
    soaped: whole bag
    and fittings; bubbles: where, empty for none."""

    key: Key
    side: Literal["left", "right", "both"]
    p1_pa: Annotated[float, Field(gt=0.0, le=3e6, allow_inf_nan=False), Of("pressure")]
    kelvin_1: Kelvin
    began: Stamp
    by: Name = ""
    soaped: bool = False
    bubbles: Sentence = ""
    p2_pa: Pascals | None = None
    kelvin_2: Kelvin | None = None
    ended: Stamp = ""
    ended_by: Name = ""


class Clearance(Facts):
    """A place where parts might meet, looked at: where it is looked at, how, what was found; left_m: what is left, chalk or clay squeezed to that; mark:
    the kit
    and setting it was looked at with, since another one asks for it again; overruled: why it goes on although it touches, by a lead."""

    what: Literal["frame_tyre", "insert_perch", "tyre_bar", "lines", "reservoir", "exhaust"]
    where: Literal["rest", "bump", "droop", "left_lock", "right_lock"]
    moment: Moment = "after"
    how: Literal["", "hand", "wheels_off", "engine"] = ""
    found: Literal["clear", "touches", "witnessed"]
    left_m: Annotated[float, Field(ge=0.0, le=1.0, allow_inf_nan=False), Of("length")] | None = None
    note: Sentence = ""
    overruled: Sentence = ""
    mark: Mark = ""
    by: Name = ""
    at: Stamp = ""


Graded = Literal["fine", "marginal", "poor", "upgrade"]


class Drive(Facts):
    """A drive over a course at a fixed speed (km/h) and load (key of a state; empty: as it stood), graded by category; rater: owner or technician; told:
    from memory, not
    driven for this sheet; felt: felt words; expected: what was expected of the work, noted before it; foreseen: how the model expected each category to go,
    as it was then."""

    key: Key
    moment: Moment
    rater: Rater
    course: Annotated[str, Field(pattern=r"^[a-z_]{1,20}$")]
    speed_kmh: Annotated[float, Field(gt=0.0, le=200.0, allow_inf_nan=False), Of("speed", 1.0 / 3.6)] | None = None
    state: Annotated[str, Field(pattern=r"^[A-Za-z0-9_-]{0,30}$")] = ""
    grades: Annotated[dict[Annotated[str, Field(pattern=r"^[a-z_]{1,20}$")], Graded], Field(max_length=40)] = {}
    felt: Annotated[tuple[Annotated[str, Field(pattern=r"^[a-z_]{1,20}$")], ...], Field(max_length=20)] = ()
    words: Sentence = ""
    expected: Sentence = ""
    foreseen: Annotated[
        dict[Annotated[str, Field(pattern=r"^[a-z_]{1,20}$")], Literal["better", "worse", "same"]], Field(max_length=40)
    ] = {}
    told: bool = False
    mark: Mark = ""
    by: Name = ""
    at: Stamp = ""

    @model_validator(mode="after")
    def _says_something(self) -> Drive:
        if not (self.grades or self.felt or self.words):
            raise ValueError("a drive without a grade or a word says nothing")
        return self


class Loop(Facts):
    """One change at a time: what was changed and why, from which kit and setting to which, how it went, whether it stayed."""

    key: Key
    what: Annotated[str, Field(min_length=1, max_length=200)]
    why: Sentence = ""
    mark_before: Mark = ""
    mark_after: Mark = ""
    outcome: Literal["", "better", "worse", "same"] = ""
    basis: Literal["", "read", "driven", "told"] = ""
    stays: Literal["", "kept", "put_back"] = ""
    by: Name = ""
    at: Stamp = ""

    @model_validator(mode="after")
    def _rests_on_something(self) -> Loop:
        if self.outcome and not self.basis:
            raise ValueError("say what better or worse rests on: read, driven or told")
        return self


class Remembered(Facts):
    """A setting that suited a kind of road, with the words that went with it."""

    road: Literal["highway", "town", "rough"]
    mark: Mark
    words: Sentence = ""
    by: Name = ""
    at: Stamp = ""


class BenchNote(Facts):
    """What a bench answered for the job: which, its sentences, the address that opens it as it was, and whom it was handed to besides the report."""

    bench: Annotated[str, Field(pattern=r"^[a-z_]{1,20}$")]
    said: Annotated[str, Field(min_length=1, max_length=1500)]
    link: Annotated[str, Field(pattern=r"^/benches/[^\s<>\"']{1,1900}$")]
    to: Literal["report", "kit", "card", "quote", "weigh"] = "report"
    by: Name = ""
    at: Stamp = ""


class RoadLog(Facts):
    """A road as a phone or logger had it: over which course at what speed (km/h), the state's key, samples a second, how long (s), weighted r.m.s. of its
    five-second pieces and the greatest figure (m/s2), jolts; gaps and flat tops of the trace; file: what it was called; mark: the kit and setting it was
    driven with."""

    key: Key
    moment: Moment
    course: Annotated[str, Field(pattern=r"^[a-z_]{1,20}$")]
    speed_kmh: Annotated[float, Field(gt=0.0, le=200.0, allow_inf_nan=False), Of("speed", 1.0 / 3.6)]
    state: Annotated[str, Field(pattern=r"^[A-Za-z0-9_-]{0,30}$")] = ""
    rate: Annotated[float, Field(gt=0.0, le=1e5, allow_inf_nan=False)]
    seconds: Annotated[float, Field(gt=0.0, le=1e5, allow_inf_nan=False)]
    pieces: Annotated[
        tuple[Annotated[float, Field(gt=0.0, le=200.0, allow_inf_nan=False)], ...], Field(min_length=1, max_length=2000)
    ]
    peak: Annotated[float, Field(ge=0.0, le=2000.0, allow_inf_nan=False)]
    jolts: Annotated[int, Field(ge=0, le=1_000_000)]
    gaps: Annotated[int, Field(ge=0, le=1_000_000)] = 0
    flat: Annotated[int, Field(ge=0, le=1_000_000)] = 0
    file: Name = ""
    mark: Mark = ""
    by: Name = ""
    at: Stamp = ""


class RideLine(Facts):
    """One configuration of a ride that is kept: its name, and how the body over the rear axle moved up, m, at even times."""

    name: Name
    rear_m: Annotated[
        tuple[Annotated[float, Field(ge=-5.0, le=5.0, allow_inf_nan=False), Of("length")], ...],
        Field(min_length=2, max_length=200),
    ]


class RideKept(Facts):
    """A ride by the model, kept for the report: over which piece, at what speed (km/h), the state's name, how long (s), the sentence as it was told, and the
    configurations."""

    key: Key
    piece: Annotated[str, Field(pattern=r"^[a-z_]{1,20}$")]
    speed_kmh: Annotated[float, Field(gt=0.0, le=200.0, allow_inf_nan=False), Of("speed", 1.0 / 3.6)]
    state: Name = ""
    seconds: Annotated[float, Field(gt=0.0, le=600.0, allow_inf_nan=False)]
    said: Annotated[str, Field(min_length=1, max_length=1500)]
    lines: Annotated[tuple[RideLine, ...], Field(min_length=1, max_length=4)]
    by: Name = ""
    at: Stamp = ""


class Proving(Facts):
    """All of it, each in the order it was done."""

    leaks: Annotated[tuple[LeakTest, ...], Field(max_length=60), Told("leak test", right="cure", page="prove")] = ()
    clearances: Annotated[
        tuple[Clearance, ...], Field(max_length=120), Told("clearance", right="cure", page="prove")
    ] = ()
    drives: Annotated[tuple[Drive, ...], Field(max_length=60), Told("drive", right="set", page="prove")] = ()
    loops: Annotated[tuple[Loop, ...], Field(max_length=60), Told("one change", right="set", page="prove")] = ()
    benches: Annotated[
        tuple[BenchNote, ...], Field(max_length=40), Told("bench answer", right="set", page="prove")
    ] = ()
    logs: Annotated[tuple[RoadLog, ...], Field(max_length=20), Told("logged road", right="measure", page="traces")] = ()
    rides: Annotated[
        tuple[RideKept, ...], Field(max_length=12), Told("ride by the model", right="set", page="road")
    ] = ()
    roads: Annotated[
        tuple[Remembered, ...], Field(max_length=30), Told("setting by road", right="set", page="prove")
    ] = ()
