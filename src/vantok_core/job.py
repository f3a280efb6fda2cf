"""A job as facts: the vehicle, its load states, its readings, what was chosen and set. Also the job file's shape.

Everything optional is unknown when absent; nothing unknown is ever taken as zero. All figures SI; each name ends in its unit.
One definition serves the core's input, the job file and the web application's export.
"""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from functools import cached_property
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, model_validator

from vantok_core.catalogue import Kit
from vantok_core.classes import SPRINGS
from vantok_core.forms import ChangeForm, ElementForm, GroupForm
from vantok_core.loads.contents import tank_mass
from vantok_core.loads.levers import TrailerBalance, group_centre, trailer_tongue
from vantok_core.loads.limits import LOAD_INDEX


def _shown(text: str) -> str:
    """Refuse what no page or file can show: half characters, and control characters other than line breaks and tabs."""
    if any(0xD800 <= ord(c) <= 0xDFFF or (ord(c) < 0x20 and c not in "\n\t\r") or ord(c) == 0x7F for c in text):
        raise ValueError("it has characters that cannot be shown")
    return text


def one_line(text: str) -> str:
    """Refuse a text of more than one line, or with characters that cannot be shown."""
    if "\n" in text or "\r" in text:
        raise ValueError("it must be one line")
    return _shown(text)


def _known_spring(key: str) -> str:
    if key not in SPRINGS:
        raise ValueError(f"“{key}” is no suspension this program knows; known are {', '.join(SPRINGS)}")
    return key


def _known_index(index: int) -> int:
    if index not in LOAD_INDEX:
        raise ValueError(f"a load index lies between {min(LOAD_INDEX)} and {max(LOAD_INDEX)}")
    return index


Metres = Annotated[float, Field(ge=-30.0, le=30.0, allow_inf_nan=False)]
PositiveMetres = Annotated[float, Field(ge=0.1, le=30.0, allow_inf_nan=False)]
"""A wheelbase, a track, a trailer's lever: nothing on the road is shorter than a hand."""
Overhang = Annotated[float, Field(ge=0.0, le=30.0, allow_inf_nan=False)]
Kilograms = Annotated[float, Field(ge=0.0, le=60_000.0, allow_inf_nan=False)]
Gain = Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)]
Rating = Annotated[float, Field(gt=0.0, le=60_000.0, allow_inf_nan=False)]
"""What a plate allows: a rating of nought is none."""
RateInNewtons = Annotated[float, Field(ge=1000.0, le=1e7, allow_inf_nan=False)]
Spring = Annotated[str, AfterValidator(_known_spring)]
LoadIndex = Annotated[int, AfterValidator(_known_index)]
Key = Annotated[str, Field(pattern=r"^[A-Za-z0-9_-]{1,30}$")]
Line = Annotated[str, Field(max_length=40), AfterValidator(one_line)]
Name = Annotated[str, Field(max_length=120), AfterValidator(one_line)]
Sentence = Annotated[str, Field(max_length=200), AfterValidator(_shown)]
Words = Annotated[str, Field(max_length=5000), AfterValidator(_shown)]
MOST_ITEMS = 1000
"""Things one load state carries, at most."""
MOST_STATES = 200
MOST_READINGS = 20_000
Datum = Literal["ground_arch", "hub_arch", "ground_hitch", "ground_point", "stop_gap", "pad_to_pad", "bracket"]
PointKey = Annotated[str, Field(pattern=r"^[A-Za-z0-9][A-Za-z0-9_-]{0,29}$")]
CORNER_PLACES = ("FL", "RL", "RR", "FR")
"""Corners in the order one walks round the vehicle."""
DegreesPerMetre = Annotated[float, Field(ge=-300.0, le=300.0, allow_inf_nan=False)]
HitchKind = Literal["ball", "gooseneck", "pin"]
Phase = Literal["before", "after"]
School = Literal["empty_height", "share_of_sag", "level", "keep_rake", "headlamp"]
AxleKey = Literal["front", "rear"]


class Facts(BaseModel):
    """Base: frozen, and no unknown field passes unseen."""

    model_config = ConfigDict(extra="forbid", frozen=True)


class NamedPoint(Facts):
    """A point of the body that a tape is used on, besides arches and hitch: its station and lateral place."""

    key: PointKey
    name: Line
    station_m: Metres
    lateral_m: Metres = 0.0


class JobVehicle(Facts):
    """What is known of the vehicle.

    Tyre indices: load index of one tyre, the dual one for twin wheels; they count where no tyre limit is given in kg.
    tag_axle_kg: rating of the last axle of a rear group. Camber and toe gains: degrees per metre of hub sag.
    """

    label: Name = ""
    body: Literal["pickup", "van", "high_roof_van", "wagon", "box_truck", "coach", "caravan", "camper_trailer"] = (
        "pickup"
    )
    wheelbase_m: PositiveMetres | None = None
    hitch_overhang_m: Metres | None = None
    rear_overhang_m: Overhang | None = None
    track_front_m: PositiveMetres | None = None
    track_rear_m: PositiveMetres | None = None
    front_spring: Spring | None = None
    rear_spring: Spring | None = None
    tyres: Literal["car", "light_truck", "medium_duty"] | None = None
    dual_rear: bool = False
    gross_kg: Rating | None = None
    front_axle_kg: Rating | None = None
    rear_axle_kg: Rating | None = None
    front_tyres_kg: Rating | None = None
    rear_tyres_kg: Rating | None = None
    hitch_kg: Rating | None = None
    towed_kg: Rating | None = None
    combination_kg: Rating | None = None
    hitch_kind: HitchKind = "ball"
    front_tyre_index: LoadIndex | None = None
    rear_tyre_index: LoadIndex | None = None
    rear_dual_index: LoadIndex | None = None
    tag_axle_kg: Rating | None = None
    front_camber_gain: DegreesPerMetre | None = None
    rear_camber_gain: DegreesPerMetre | None = None
    front_toe_gain: DegreesPerMetre | None = None
    rear_toe_gain: DegreesPerMetre | None = None
    points: Annotated[tuple[NamedPoint, ...], Field(max_length=60)] = ()
    front_rate_n_per_m: RateInNewtons | None = None
    rear_rate_n_per_m: RateInNewtons | None = None
    rear_group: GroupForm | None = None
    front_elements: Annotated[tuple[ElementForm, ...], Field(max_length=24)] = ()
    rear_elements: Annotated[tuple[ElementForm, ...], Field(max_length=24)] = ()
    front_changes: Annotated[tuple[ChangeForm, ...], Field(max_length=24)] = ()
    rear_changes: Annotated[tuple[ChangeForm, ...], Field(max_length=24)] = ()

    @model_validator(mode="after")
    def _group_behind(self) -> JobVehicle:
        if (
            self.rear_group is not None
            and not 0.1 <= group_centre(self.rear_group.stations, self.rear_group.loads) <= 30.0
        ):
            raise ValueError("rear_group: its load centre must lie behind the front axle")
        return self

    @property
    def base_m(self) -> float | None:
        """The wheelbase, to the load centre of the rear group where there is one."""
        if self.rear_group is not None:
            return group_centre(self.rear_group.stations, self.rear_group.loads)
        return self.wheelbase_m


class Tank(Facts):
    """A tank: capacity in litres, how full (0-1), what is in it (kg per litre), where."""

    name: Name
    capacity_l: Annotated[float, Field(gt=0.0, le=20_000.0, allow_inf_nan=False)]
    fill: Annotated[float, Field(ge=0.0, le=1.0, allow_inf_nan=False)]
    kg_per_l: Annotated[float, Field(gt=0.0, le=3.0, allow_inf_nan=False)] = 1.0
    station_m: Metres
    lateral_m: Metres = 0.0


class People(Facts):
    """People in a row of seats: how many, the mass of each, where."""

    count: Annotated[int, Field(ge=1, le=60)]
    mass_kg: Annotated[float, Field(gt=0.0, le=250.0, allow_inf_nan=False)] = 75.0
    station_m: Metres
    lateral_m: Metres = 0.0


class LoadItem(Facts):
    """Something carried: mass, station behind the front axle, lateral place to the left, height above ground if known."""

    name: Name
    mass_kg: Kilograms
    station_m: Metres
    lateral_m: Metres = 0.0
    height_m: Annotated[float, Field(ge=0.0, le=6.0, allow_inf_nan=False)] | None = None


class TrailerItem(Facts):
    """Something on the trailer, the empty trailer itself being one: mass, distance behind the ball."""

    name: Name
    mass_kg: Kilograms
    behind_ball_m: Metres


class JobState(Facts):
    """A load state: scale readings where there are some, else items and tongue added to the empty vehicle.

    Scale figures are what stands on the axle, trailer's tongue included when hitched; tag_kg is the part of rear_kg on the
    tag axle. tongue_kg and trailer_kg are readings; nought with trailer items means: work it out from them. trailer_axle_m:
    ball to trailer axle; restored: share of the front axle's loss that a weight-distributing hitch gives back.
    weighed_at, changed_at: when the scale figures were read, and when what is carried was last changed; weighed_gain_kg: what
    the plan made of front and rear gain when the scale was read, so that a change since can be added to the scale's figures.
    past: a load that is no longer aboard, kept for the heights read under it (see `plan.by_load`); no limit is held against it.
    """

    key: Key
    name: Name
    empty: bool = False
    front_kg: Kilograms | None = None
    rear_kg: Kilograms | None = None
    corners_kg: tuple[Kilograms, Kilograms, Kilograms, Kilograms] | None = None
    items: Annotated[tuple[LoadItem, ...], Field(max_length=MOST_ITEMS)] = ()
    tanks: Annotated[tuple[Tank, ...], Field(max_length=MOST_ITEMS)] = ()
    people: Annotated[tuple[People, ...], Field(max_length=MOST_ITEMS)] = ()
    tongue_kg: Kilograms = 0.0
    trailer_kg: Kilograms = 0.0
    trailer_axle_m: PositiveMetres | None = None
    restored: Annotated[float, Field(ge=0.0, le=1.0)] = 0.0
    trailer_items: Annotated[tuple[TrailerItem, ...], Field(max_length=MOST_ITEMS)] = ()
    trailer_axle_rating_kg: Rating | None = None
    trailer_tyres_kg: Rating | None = None
    trailer_scale_kg: Kilograms | None = None
    tag_kg: Kilograms | None = None
    weighed_at: datetime | None = None
    changed_at: datetime | None = None
    weighed_gain_kg: tuple[Gain, Gain] | None = None
    conditions: Sentence = ""
    past: bool = False

    @model_validator(mode="after")
    def _empty_is_empty(self) -> JobState:
        towing = self.tongue_kg or self.trailer_kg or self.trailer_items
        if self.empty and (self.items or self.tanks or self.people or towing):
            raise ValueError("the empty state carries no items and no trailer")
        if self.restored and self.trailer_axle_m is None:
            raise ValueError("a weight-distributing hitch needs trailer_axle_m")
        if self.tag_kg is not None and self.rear_kg is not None and self.tag_kg > self.rear_kg:
            raise ValueError("tag_kg is a part of rear_kg and cannot be more than it")
        return self

    @property
    def balance(self) -> TrailerBalance | None:
        """The trailer's tongue and mass from its items, None without items or without the place of its axle."""
        if not self.trailer_axle_m or not sum(i.mass_kg for i in self.trailer_items):
            return None
        return trailer_tongue(self.trailer_axle_m, [(i.mass_kg, i.behind_ball_m) for i in self.trailer_items])

    @property
    def tongue(self) -> float:
        """Tongue load in kg: as read, else from the trailer's items, else nought."""
        return self.tongue_kg or (self.balance.tongue if self.balance else 0.0)

    @property
    def trailer(self) -> float:
        """The trailer's mass in kg: as read, else from its items, else nought."""
        return self.trailer_kg or sum(i.mass_kg for i in self.trailer_items)

    @property
    def hitched(self) -> bool:
        """Whether a trailer hangs on it."""
        return bool(self.tongue or self.trailer)

    @property
    def contents(self) -> tuple[LoadItem, ...]:
        """Everything carried, tanks and people included, as items."""
        tanks = (
            LoadItem(
                name=t.name,
                mass_kg=tank_mass(t.capacity_l, t.fill, t.kg_per_l),
                station_m=t.station_m,
                lateral_m=t.lateral_m,
            )
            for t in self.tanks
        )
        people = (
            LoadItem(
                name=f"{p.count} people", mass_kg=p.count * p.mass_kg, station_m=p.station_m, lateral_m=p.lateral_m
            )
            for p in self.people
        )
        return (*self.items, *tanks, *people)


class JobReading(Facts):
    """One height as read: where, on which datum, in which state, before or after the kit, how, by whom and when.

    place: a corner, "hitch", or the key of one of the vehicle's points. value_m: the height with the floor's slope taken
    out; floor_m: what was taken off the tape's own figure for it. friction_m: half the difference of a pressed and a lifted
    reading, whose mean value_m is. setting: how the kit was set when it was read (a fitting's mark; empty: as it is now); twice:
    whether it was doubted and then read the same again. under_kg: what the load was known to add at front and rear when it was
    read, by under_basis (plan, scale, scale with what was moved since, none: not known then; empty: not noted).
    """

    state: Key
    phase: Phase = "before"
    datum: Datum
    place: PointKey
    value_m: Annotated[float, Field(ge=-0.05, le=5.0, allow_inf_nan=False)]
    resolution_m: Annotated[float, Field(ge=1e-5, le=0.05, allow_inf_nan=False)] = 0.001
    floor_m: Annotated[float, Field(ge=-0.3, le=0.3, allow_inf_nan=False)] = 0.0
    friction_m: Annotated[float, Field(ge=0.0, le=0.2, allow_inf_nan=False)] | None = None
    instrument: Annotated[Line, Field(max_length=10)] = ""
    note: Sentence = ""
    text: Line = ""
    unit: Annotated[Line, Field(max_length=4)] = ""
    by: Name = ""
    at: datetime | None = None
    setting: Annotated[Line, Field(max_length=80)] = ""
    twice: bool = False
    under_kg: tuple[Gain, Gain] | None = None
    under_basis: Literal["", "none", "plan", "scale", "moved"] = ""


Room = Annotated[float, Field(ge=0.0, le=1.0, allow_inf_nan=False)]
Pressure = Annotated[float, Field(ge=0.0, le=5e6, allow_inf_nan=False)]


class Target(Facts):
    """What height is wanted: the school, its figure (share 0-1, or a length), and the reason told."""

    school: School = "share_of_sag"
    share: Annotated[float, Field(ge=0.0, le=1.0, allow_inf_nan=False)] = 0.7
    rake_m: Metres = 0.0
    beam_m: Metres = 0.0
    state: Annotated[str, Field(pattern=r"^[A-Za-z0-9_-]{0,30}$")] = ""
    reason: Sentence = ""


class Fitting(Facts):
    """The kit chosen and how it is set: pressures (Pa gauge) or gaps and spacers (m), left and right.

    ruled_out: causes of a missed height that were looked into and found not to be it.
    """

    kit: Kit
    pressure_pa: tuple[Pressure, Pressure] | None = None
    gap_m: tuple[Metres, Metres] | None = None
    spacer_m: tuple[Metres, Metres] | None = None
    state: Annotated[str, Field(pattern=r"^[A-Za-z0-9_-]{0,30}$")] = ""
    done: bool = False
    ruled_out: Annotated[tuple[Annotated[str, Field(pattern=r"^[a-z_]{1,20}$")], ...], Field(max_length=20)] = ()

    @property
    def mark(self) -> str:
        """The kit and its setting in one line, by which a reading says what it was read at."""
        if self.pressure_pa is not None:
            told = f"p{self.pressure_pa[0]:.0f},{self.pressure_pa[1]:.0f}"
        elif self.spacer_m is not None:
            told = f"s{self.spacer_m[0] * 1e4:.0f},{self.spacer_m[1] * 1e4:.0f}"
        elif self.gap_m is not None:
            told = f"g{self.gap_m[0] * 1e4:.0f},{self.gap_m[1] * 1e4:.0f}"
        else:
            told = "unset"
        return f"{self.kit.code[:40]} {told}"


class Inspected(Facts):
    """One area of the inspection: its grade, a note, and the reason when a fault is overruled."""

    area: Annotated[str, Field(pattern=r"^[a-z_]{1,20}$")]
    grade: Literal["fine", "watch", "fault", "wish"]
    note: Sentence = ""
    overruled: Sentence = ""


Answer = Literal["", "cured", "better", "same", "left"]
"""What became of a complaint: cured, better, no better, or left as it is by agreement; empty: not answered yet."""


class Complaint(Facts):
    """A complaint from the list, and what became of it."""

    code: Annotated[str, Field(pattern=r"^[a-z_]{1,30}$")]
    answer: Answer = ""


class Job(Facts):
    """The whole job. words: the customer's own; no_baseline: why the empty vehicle was never read, where it no longer can be.

    space_left_m, space_right_m: frame to tyre sidewall with its bulge, where a kit goes; lines: whether brake and fuel lines and the
    exhaust stand clear of it (empty: not looked at).
    """

    format: Literal["vantok-job"] = "vantok-job"
    version: Literal[5] = 5
    number: Annotated[str, Field(max_length=20, pattern=r"^[\w\-./ ]*$")] = ""
    customer: Name = ""
    complaints: Annotated[tuple[Complaint, ...], Field(max_length=30)] = ()
    words: Words = ""
    use: Annotated[tuple[Annotated[str, Field(pattern=r"^[a-z_]{1,30}$")], ...], Field(max_length=30)] = ()
    notes: Words = ""
    later: Sentence = ""
    inspection: Annotated[tuple[Inspected, ...], Field(max_length=60)] = ()
    space_left_m: Room | None = None
    space_right_m: Room | None = None
    lines: Literal["", "clear", "close"] = ""
    no_baseline: Sentence = ""
    vehicle: JobVehicle = JobVehicle()
    states: Annotated[tuple[JobState, ...], Field(max_length=MOST_STATES)] = ()
    readings: Annotated[tuple[JobReading, ...], Field(max_length=MOST_READINGS)] = ()
    target: Target = Target()
    fitting: Fitting | None = None

    @model_validator(mode="after")
    def _states_named_once(self) -> Job:
        keys = [s.key for s in self.states]
        if len(set(keys)) != len(keys):
            raise ValueError("each state needs a key of its own")
        if sum(s.empty for s in self.states) > 1:
            raise ValueError("only one state is the empty one")
        for words, told in (
            ("inspection", [one.area for one in self.inspection]), ("complaints", [c.code for c in self.complaints]),
            ("vehicle.points", [p.key for p in self.vehicle.points]),
        ):  # fmt: skip
            if len(set(told)) != len(told):
                raise ValueError(f"{words}: each may stand there once")
        places = {"ground_hitch": {"hitch"}, "ground_point": {p.key for p in self.vehicle.points}}
        for i, reading in enumerate(self.readings):
            if reading.state not in keys:
                raise ValueError(f"readings.{i}.state: there is no state “{reading.state}”")
            if reading.place not in places.get(reading.datum, set(CORNER_PLACES)):
                raise ValueError(f"readings.{i}.place: {reading.datum} is not read at “{reading.place}”")
        return self

    @property
    def empty(self) -> JobState | None:
        """The empty state."""
        return next((s for s in self.states if s.empty), None)

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
        for name in ("_by_key", "_by_cell"):
            copied.__dict__.pop(name, None)
        return copied

    @cached_property
    def _by_key(self) -> dict[str, JobState]:
        return {s.key: s for s in self.states}

    @cached_property
    def _by_cell(self) -> dict[tuple[str, str, str, str], JobReading]:
        return {(r.state, r.place, r.datum, r.phase): r for r in self.readings}

    def state(self, key: str) -> JobState | None:
        """Return a state by key."""
        return self._by_key.get(key)

    def at(self, state: str, place: str, datum: str, phase: str) -> JobReading | None:
        """Return the last reading of a cell, one with the kit on only where it was read at the setting the kit has now."""
        found = self.read(state, place, datum, phase)
        if found is None or phase == "before" or not found.setting:
            return found
        return found if self.fitting is not None and found.setting == self.fitting.mark else None

    def read(self, state: str, place: str, datum: str, phase: str = "before") -> JobReading | None:
        """Return the last reading of a cell."""
        return self._by_cell.get((state, place, datum, phase))
