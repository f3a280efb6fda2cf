"""A job as facts: the vehicle, its load states, its readings, what was chosen and set. Also the job file's shape.

Everything optional is unknown when absent; nothing unknown is ever taken as zero. All figures SI; each name ends in its unit.
One definition serves the core's input, the job file and the web application's export.
"""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from vantok_core.base.names import ARCHES, AXLES_WHOLE, WALK
from vantok_core.facts.declared import Of, Told
from vantok_core.facts.fitting import AlreadyOn, Fitting, Target, ToFollow
from vantok_core.facts.inspection import Aligned, Complaint, Inspected, TreadRead
from vantok_core.facts.kinds import (
    AND,
    MOST_PARTS,
    MOST_READINGS,
    MOST_STATES,
    AimKey,
    Criterion,
    Facts,
    Key,
    Line,
    Name,
    Room,
    Sentence,
    TrailerKind,
    Wish,
    Words,
)
from vantok_core.facts.learnt import ClassLearnt
from vantok_core.facts.load import EmptyLoad, JobState, PlannedChange
from vantok_core.facts.proving import Proving
from vantok_core.facts.quote import HOUR, Money, QuoteSheet, Share
from vantok_core.facts.reading import JobReading, PhoneLevel, Pushed
from vantok_core.facts.signed import Signed
from vantok_core.facts.vehicle import JobVehicle


class Job(Facts):
    """The whole job. words: the customer's own; no_baseline: why the empty vehicle was never read, where it no longer can be.

    never_empty: the reference is the vehicle as it stands, whatever is on board: nobody will see it empty.
    empty_load: what it would carry empty, where that is known: how it would stand is then estimated.
    planned: changes to come later, told at once and judged by nothing else.
    assessment: nothing is fitted: the job ends in its report and offer. already: a kit that was on when it came, as the heights before any work were read.
    weights: what each criterion of the choice counts on this job; those not named as usual.
    earlier: kits fitted before the one in hand and still on, in order, set as they were left; fitting: the one in hand;
    hour_price: of an hour's work in this shop; noses: what a trailer should carry on its nose in this shop, least and most, as shares of its mass;
    to_follow: kits agreed to go on after it, one after the other. quote: what was offered, and what the customer said.
    proving: leaks, clearances, drives, changes one at a time. tread: of each tyre across it; levels, pushes: off a phone;
    aligned, aligned_after: the alignment bench before and after.
    sources: where something taken was had from, by its key; meant: which way an instruction that can be read two ways was read, by its key.
    class_learnt: what the shop had learnt of its class from its own closed jobs when it was decided on.
    space_left_m, space_right_m: frame to tyre sidewall with its bulge, where a kit goes; lines: whether brake and fuel lines and the
    exhaust stand clear of it (empty: not looked at).
    """

    format: Literal["vantok-job"] = "vantok-job"
    version: Literal[20] = 20
    number: Annotated[str, Field(max_length=20, pattern=r"^[\w\-./ ]*$")] = ""
    customer: Name = ""
    complaints: Annotated[
        tuple[Complaint, ...], Field(max_length=30), Told("complaints", right="listen", page="listen")
    ] = ()
    words: Annotated[Words, Told("in the customer's words", right="listen", page="listen")] = ""
    use: Annotated[
        tuple[Annotated[str, Field(pattern=r"^[a-z_]{1,30}$")], ...],
        Field(max_length=30),
        Told("use", right="listen", page="listen"),
    ] = ()
    wishes: Annotated[tuple[Wish, ...], Field(max_length=20), Told("wishes", right="listen", page="listen")] = ()
    aims: Annotated[dict[AimKey, bool], Told("what the job is for", right="listen", page="listen")] = {}
    assessment: Annotated[bool, Told("assessment only: nothing is fitted", right="listen", page="listen")] = False
    odometer_km: Annotated[
        Annotated[float, Field(ge=0.0, le=5e6, allow_inf_nan=False), Of("travel")] | None,
        Told("odometer", "listen", "listen"),
    ] = None
    notes: Annotated[Words, Told("faults and wear to cure first", right="listen", page="listen")] = ""
    later: Annotated[Sentence, Told("what will be added later", right="listen", page="listen")] = ""
    inspection: Annotated[
        tuple[Inspected, ...], Field(max_length=60), Told("inspection", right="inspect", page="inspect", part=True)
    ] = ()
    space_left_m: Annotated[Room | None, Told("space to the tyre, left", page="choose")] = None
    space_right_m: Annotated[Room | None, Told("space to the tyre, right", page="choose")] = None
    lines: Annotated[Literal["", "clear", "close"], Told("lines and exhaust", page="choose")] = ""
    no_baseline: Annotated[Sentence, Told("no empty baseline, because", right="choose", page="choose")] = ""
    never_empty: Annotated[bool, Told("never empty: judged as it stands", page="measure")] = False
    empty_load: Annotated[EmptyLoad | None, Told("what it carries empty", page="measure")] = None
    planned: Annotated[tuple[PlannedChange, ...], Field(max_length=12), Told("planned for later", page="diagnose")] = ()
    vehicle: Annotated[JobVehicle, Told("vehicle", part=True)] = JobVehicle()
    states: Annotated[
        tuple[JobState, ...], Field(max_length=MOST_STATES), Told("load states", page="scales", part=True)
    ] = ()
    readings: Annotated[
        tuple[JobReading, ...], Field(max_length=MOST_READINGS), Told("readings", page="measure", part=True)
    ] = ()
    target: Annotated[Target, Told("target", right="choose", page="choose", part=True)] = Target()
    roll_wanted: Annotated[
        Annotated[float, Field(ge=0.3, le=1.0, allow_inf_nan=False), Of("percent")],
        Told("roll wanted, of what it is now", right="choose", page="choose"),
    ] = 0.8
    weights: Annotated[
        dict[Criterion, Annotated[float, Field(ge=0.0, le=1.0, allow_inf_nan=False), Of("percent")]],
        Told("what counts in the choice", right="choose", page="choose"),
    ] = {}
    already: Annotated[AlreadyOn | None, Told("on already when it came", page="measure")] = None
    earlier: Annotated[tuple[Fitting, ...], Field(max_length=MOST_PARTS - 1)] = ()
    fitting: Annotated[Fitting | None, Told("the setting", right="choose", page="set", part=True)] = None
    hour_price: Money = HOUR
    noses: dict[TrailerKind, tuple[Share, Share]] = {}
    to_follow: Annotated[
        tuple[ToFollow, ...], Field(max_length=MOST_PARTS), Told("kits to follow", right="choose", page="choose")
    ] = ()
    quote: Annotated[QuoteSheet | None, Told("quote", right="quote", page="quote")] = None
    proving: Annotated[Proving, Told("leaks, clearances, drives and changes", right="set", page="prove", part=True)] = (
        Proving()
    )
    tread: Annotated[tuple[TreadRead, ...], Field(max_length=4), Told("a tyre's tread", page="tyres")] = ()
    levels: Annotated[tuple[PhoneLevel, ...], Field(max_length=40), Told("level by phone", page="by-phone")] = ()
    pushes: Annotated[tuple[Pushed, ...], Field(max_length=40), Told("push test", page="by-phone")] = ()
    aligned: Annotated[Aligned | None, Told("alignment sheet", page="tyres")] = None
    aligned_after: Annotated[Aligned | None, Told("alignment sheet after", page="tyres")] = None
    signed: Annotated[
        tuple[Signed, ...], Field(max_length=20), Told("what the customer signed for", right="answer", page="sign")
    ] = ()
    class_learnt: Annotated[
        tuple[ClassLearnt, ...],
        Field(max_length=2),
        Told("what the shop had learnt of its class", right="choose", page="assumptions"),
    ] = ()
    sources: Annotated[dict[Key, Sentence], Field(max_length=60), Told("sources", page="assumptions")] = {}
    meant: Annotated[
        dict[Key, Line], Field(max_length=20), Told("what was meant", right="choose", page="assumptions")
    ] = {}

    @model_validator(mode="after")
    def _states_named_once(self) -> Job:
        keys = [s.key for s in self.states]
        if len(set(keys)) != len(keys):
            raise ValueError("each state needs a key of its own")
        if sum(s.empty for s in self.states) > 1:
            raise ValueError("only one state is the empty one")
        for words, told in (
            ("inspection", [one.area for one in self.inspection]),
            ("complaints", [c.code for c in self.complaints]),
            ("vehicle.points", [p.key for p in self.vehicle.points]),
            ("tread", [t.place for t in self.tread]),
        ):
            if len(set(told)) != len(told):
                raise ValueError(f"{words}: each may stand there once")
        return self

    @model_validator(mode="after")
    def _read_where_it_can_be(self) -> Job:
        keys = {s.key for s in self.states}
        places = {"ground_hitch": {"hitch"}, "ground_point": {p.key for p in self.vehicle.points}}
        for i, reading in enumerate(self.readings):
            if reading.state not in keys:
                raise ValueError(f"readings.{i}.state: there is no state “{reading.state}”")
            over = {*WALK, *AXLES_WHOLE} if reading.datum in ARCHES else set(WALK)
            if reading.place not in places.get(reading.datum, over):
                raise ValueError(f"readings.{i}.place: {reading.datum} is not read at “{reading.place}”")
        return self

    @model_validator(mode="after")
    def _last_in_hand(self) -> Job:
        if self.earlier and self.fitting is None:
            raise ValueError("earlier: the last kit fitted is the one in hand, and belongs under fitting")
        return self

    @property
    def empty(self) -> JobState | None:
        """The empty state."""
        return next((s for s in self.states if s.empty), None)

    @property
    def judged(self) -> list[JobState]:
        """The states that are judged and may be wanted at a height: with load, and a vehicle that is never empty as it stands."""
        return [s for s in self.states if not s.past and (self.never_empty or not s.empty)]

    @property
    def loaded(self) -> list[JobState]:
        """The states with load, in order."""
        return [s for s in self.states if not s.empty and not s.past]

    @property
    def carried(self) -> list[JobState]:
        """The states with load, those kept for heights read under a load of then included."""
        return [s for s in self.states if not s.empty]

    def model_copy(self, *, update: Mapping[str, Any] | None = None, deep: bool = False) -> Job:
        """Return a copy with some facts changed; what was looked up in the old one is not carried over."""
        copied = super().model_copy(update=update, deep=deep)
        for name in ("_by_key", "_by_cell", "before_this"):
            copied.__dict__.pop(name, None)
        return copied

    @cached_property
    def _by_key(self) -> dict[str, JobState]:
        return {s.key: s for s in self.states}

    @cached_property
    def _by_cell(self) -> dict[tuple[str, str, str, str], JobReading]:
        count = len(self.parts)
        other = [
            r
            for r in self.readings
            if not self._is_now(r) and (r.phase != "after" or r.setting.count(AND) + 1 == count)
        ]
        now = [r for r in self.readings if self._is_now(r)]
        return {(r.state, r.place, r.datum, r.phase): r for r in (*other, *now)}

    def _is_now(self, reading: JobReading) -> bool:
        """Tell whether a height was read with just the kits that are on (or off) now, set as they are now."""
        return not reading.setting or reading.setting == self.mark_of(reading.phase)

    def mark_of(self, phase: str) -> str:
        """Return the mark of a height read now in a phase: the kits on and how set, or how the one that was on when it came is let down."""
        if phase == "off":
            return self.already.off_mark if self.already else ""
        return self.mark if phase == "after" else ""

    @property
    def parts(self) -> tuple[Fitting, ...]:
        """The kits on the vehicle in the order they went on, the one in hand last."""
        return self.earlier if self.fitting is None else (*self.earlier, self.fitting)

    @property
    def mark(self) -> str:
        """All kits on and their settings in one line, by which a reading says what it was read at; empty without any."""
        return AND.join(part.mark for part in self.parts)

    def as_of(self, count: int) -> Job:
        """Return the job with its first so many kits on (1 and more), the last of them in hand, and what was read with just those."""
        return self.model_copy(update={"earlier": self.parts[: count - 1], "fitting": self.parts[count - 1]})

    @cached_property
    def before_this(self) -> Job | None:
        """The job as it stood before the kit in hand went on, where others were on already."""
        return self.as_of(len(self.earlier)) if self.earlier else None

    def stood(self, state: str, place: str, datum: str) -> JobReading | None:
        """Return what a cell read just before the kit in hand: with the earlier ones as they were left, else before any work."""
        if self.before_this is not None:
            return self.before_this.at(state, place, datum, "after")
        return self.read(state, place, datum)

    def read_over(self, state: str, axle: str, datum: str) -> bool:
        """Tell whether the body was read over an axle before any kit: on both sides, or once without a side."""
        sides = ("FL", "FR") if axle == "front" else ("RL", "RR")
        return self.read(state, axle, datum) is not None or all(self.read(state, side, datum) for side in sides)

    def state(self, key: str) -> JobState | None:
        """Return a state by key."""
        return self._by_key.get(key)

    def at(self, state: str, place: str, datum: str, phase: str) -> JobReading | None:
        """Return the last reading of a cell, one with kits on (or off) only where it was read with just these, set as they are now."""
        found = self.read(state, place, datum, phase)
        return found if found is None or self._is_now(found) else None

    def read(self, state: str, place: str, datum: str, phase: str = "before") -> JobReading | None:
        """Return the last reading of a cell: one read at the settings of now before one read at others with as many kits on."""
        return self._by_cell.get((state, place, datum, phase))
