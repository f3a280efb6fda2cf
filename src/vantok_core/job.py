"""A job as facts: the vehicle, its load states, its readings, what was chosen and set. Also the job file's shape.

Everything optional is unknown when absent; nothing unknown is ever taken as zero. All figures SI; each name ends in its unit.
One definition serves the core's input, the job file and the web application's export.
"""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from vantok_core.catalogue import Kit
from vantok_core.forms import ChangeForm, ElementForm, GroupForm
from vantok_core.loads.contents import tank_mass
from vantok_core.loads.levers import TrailerBalance, group_centre, trailer_tongue

Metres = Annotated[float, Field(ge=-30.0, le=30.0, allow_inf_nan=False)]
PositiveMetres = Annotated[float, Field(gt=0.0, le=30.0, allow_inf_nan=False)]
Kilograms = Annotated[float, Field(ge=0.0, le=60_000.0, allow_inf_nan=False)]
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
    name: str
    station_m: Metres
    lateral_m: Metres = 0.0


class JobVehicle(Facts):
    """What is known of the vehicle.

    Tyre indices: load index of one tyre, the dual one for twin wheels; they count where no tyre limit is given in kg.
    tag_axle_kg: rating of the last axle of a rear group. Camber and toe gains: degrees per metre of hub sag.
    """

    label: str = ""
    body: Literal["pickup", "van", "high_roof_van", "wagon", "box_truck", "coach", "caravan", "camper_trailer"] = (
        "pickup"
    )
    wheelbase_m: PositiveMetres | None = None
    hitch_overhang_m: Metres | None = None
    rear_overhang_m: PositiveMetres | None = None
    track_front_m: PositiveMetres | None = None
    track_rear_m: PositiveMetres | None = None
    front_spring: str | None = None
    rear_spring: str | None = None
    tyres: Literal["car", "light_truck", "medium_duty"] | None = None
    dual_rear: bool = False
    gross_kg: Kilograms | None = None
    front_axle_kg: Kilograms | None = None
    rear_axle_kg: Kilograms | None = None
    front_tyres_kg: Kilograms | None = None
    rear_tyres_kg: Kilograms | None = None
    hitch_kg: Kilograms | None = None
    towed_kg: Kilograms | None = None
    combination_kg: Kilograms | None = None
    hitch_kind: HitchKind = "ball"
    front_tyre_index: int | None = None
    rear_tyre_index: int | None = None
    rear_dual_index: int | None = None
    tag_axle_kg: Kilograms | None = None
    front_camber_gain: DegreesPerMetre | None = None
    rear_camber_gain: DegreesPerMetre | None = None
    front_toe_gain: DegreesPerMetre | None = None
    rear_toe_gain: DegreesPerMetre | None = None
    points: tuple[NamedPoint, ...] = ()
    front_rate_n_per_m: Annotated[float, Field(gt=0.0)] | None = None
    rear_rate_n_per_m: Annotated[float, Field(gt=0.0)] | None = None
    rear_group: GroupForm | None = None
    front_elements: tuple[ElementForm, ...] = ()
    rear_elements: tuple[ElementForm, ...] = ()
    front_changes: tuple[ChangeForm, ...] = ()
    rear_changes: tuple[ChangeForm, ...] = ()

    @property
    def base_m(self) -> float | None:
        """The wheelbase, to the load centre of the rear group where there is one."""
        if self.rear_group is not None:
            return group_centre(self.rear_group.stations, self.rear_group.loads)
        return self.wheelbase_m


class Tank(Facts):
    """A tank: capacity in litres, how full (0-1), what is in it (kg per litre), where."""

    name: str
    capacity_l: Annotated[float, Field(gt=0.0, le=20_000.0)]
    fill: Annotated[float, Field(ge=0.0, le=1.0)]
    kg_per_l: Annotated[float, Field(gt=0.0, le=3.0)] = 1.0
    station_m: Metres
    lateral_m: Metres = 0.0


class People(Facts):
    """People in a row of seats: how many, the mass of each, where."""

    count: Annotated[int, Field(ge=1, le=60)]
    mass_kg: Annotated[float, Field(gt=0.0, le=250.0)] = 75.0
    station_m: Metres
    lateral_m: Metres = 0.0


class LoadItem(Facts):
    """Something carried: mass, station behind the front axle, lateral place to the left, height above ground if known."""

    name: str
    mass_kg: Kilograms
    station_m: Metres
    lateral_m: Metres = 0.0
    height_m: Annotated[float, Field(ge=0.0, le=6.0)] | None = None


class TrailerItem(Facts):
    """Something on the trailer, the empty trailer itself being one: mass, distance behind the ball."""

    name: str
    mass_kg: Kilograms
    behind_ball_m: Metres


class JobState(Facts):
    """A load state: scale readings where there are some, else items and tongue added to the empty vehicle.

    Scale figures are what stands on the axle, trailer's tongue included when hitched; tag_kg is the part of rear_kg on the
    tag axle. tongue_kg and trailer_kg are readings; nought with trailer items means: work it out from them. trailer_axle_m:
    ball to trailer axle; restored: share of the front axle's loss that a weight-distributing hitch gives back.
    weighed_at, changed_at: when the scale figures were read, and when what is carried was last changed; weighed_gain_kg: what
    the plan made of front and rear gain when the scale was read, so that a change since can be added to the scale's figures.
    """

    key: str
    name: str
    empty: bool = False
    front_kg: Kilograms | None = None
    rear_kg: Kilograms | None = None
    corners_kg: tuple[Kilograms, Kilograms, Kilograms, Kilograms] | None = None
    items: tuple[LoadItem, ...] = ()
    tanks: tuple[Tank, ...] = ()
    people: tuple[People, ...] = ()
    tongue_kg: Kilograms = 0.0
    trailer_kg: Kilograms = 0.0
    trailer_axle_m: PositiveMetres | None = None
    restored: Annotated[float, Field(ge=0.0, le=1.0)] = 0.0
    trailer_items: tuple[TrailerItem, ...] = ()
    trailer_axle_rating_kg: Kilograms | None = None
    trailer_tyres_kg: Kilograms | None = None
    trailer_scale_kg: Kilograms | None = None
    tag_kg: Kilograms | None = None
    weighed_at: datetime | None = None
    changed_at: datetime | None = None
    weighed_gain_kg: tuple[float, float] | None = None
    conditions: str = ""

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
    reading, whose mean value_m is.
    """

    state: str
    phase: Phase = "before"
    datum: Datum
    place: PointKey
    value_m: Annotated[float, Field(ge=-0.05, le=5.0, allow_inf_nan=False)]
    resolution_m: Annotated[float, Field(gt=0.0, le=0.05)] = 0.001
    floor_m: Annotated[float, Field(ge=-0.3, le=0.3)] = 0.0
    friction_m: Annotated[float, Field(ge=0.0, le=0.2)] | None = None
    instrument: str = ""
    note: str = ""
    text: str = ""
    by: str = ""
    at: datetime | None = None


class Target(Facts):
    """What height is wanted: the school, its figure (share 0-1, or a length), and the reason told."""

    school: School = "share_of_sag"
    share: Annotated[float, Field(ge=0.0, le=1.0)] = 0.7
    rake_m: Metres = 0.0
    beam_m: Metres = 0.0
    state: str = ""
    reason: str = ""


class Fitting(Facts):
    """The kit chosen and how it is set: pressures (Pa gauge) or gaps and spacers (m), left and right."""

    kit: Kit
    pressure_pa: tuple[float, float] | None = None
    gap_m: tuple[float, float] | None = None
    spacer_m: tuple[float, float] | None = None
    state: str = ""
    done: bool = False


class Inspected(Facts):
    """One area of the inspection: its grade, a note, and the reason when a fault is overruled."""

    area: str
    grade: Literal["fine", "watch", "fault", "wish"]
    note: str = ""
    overruled: str = ""


class Complaint(Facts):
    """A complaint from the list, and the customer's own words."""

    code: str
    words: str = ""


class Job(Facts):
    """The whole job. no_baseline: why the empty vehicle was never read, where it no longer can be."""

    format: Literal["vantok-job"] = "vantok-job"
    version: Literal[3] = 3
    number: str = ""
    customer: str = ""
    complaints: tuple[Complaint, ...] = ()
    use: tuple[str, ...] = ()
    notes: str = ""
    later: str = ""
    inspection: tuple[Inspected, ...] = ()
    no_baseline: str = ""
    vehicle: JobVehicle = JobVehicle()
    states: tuple[JobState, ...] = ()
    readings: tuple[JobReading, ...] = ()
    target: Target = Target()
    fitting: Fitting | None = None

    @model_validator(mode="after")
    def _states_named_once(self) -> Job:
        keys = [s.key for s in self.states]
        if len(set(keys)) != len(keys):
            raise ValueError("each state needs a key of its own")
        if sum(s.empty for s in self.states) > 1:
            raise ValueError("only one state is the empty one")
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
        return [s for s in self.states if not s.empty]

    def state(self, key: str) -> JobState | None:
        """Return a state by key."""
        return next((s for s in self.states if s.key == key), None)

    def read(self, state: str, place: str, datum: str, phase: str = "before") -> JobReading | None:
        """Return the last reading of a cell."""
        found = [r for r in self.readings if (r.state, r.place, r.datum, r.phase) == (state, place, datum, phase)]
        return found[-1] if found else None
