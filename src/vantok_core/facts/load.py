"""What it carries and tows: load states, as weighed or as planned."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from vantok_core.facts.declared import Of, Told
from vantok_core.facts.kinds import (
    MOST_ITEMS,
    Along,
    Aside,
    Carried,
    Facts,
    Gain,
    Key,
    Kilograms,
    Line,
    Metres,
    Name,
    PositiveMetres,
    Rating,
    Sentence,
)
from vantok_core.facts.sums import TrailerBalance, tank_mass, trailer_tongue


class PlannedChange(Facts):
    """Something planned for later on top of a state: a mass at its place (nought: none), and by how much the tyres' radius grows."""

    key: Key
    name: Line
    state: Key
    mass_kg: Kilograms = 0.0
    station_m: Metres = 0.0
    lateral_m: Aside = 0.0
    larger_tyre_m: Annotated[float, Field(ge=-0.2, le=0.2, allow_inf_nan=False), Of("length")] = 0.0


class EmptyLoad(Facts):
    """What the axles of a vehicle that is never empty carry empty, and who says so: its papers, an earlier visit."""

    front_kg: Rating
    rear_kg: Rating
    source: Line


ZoneUse = Literal["seats", "floor", "locker", "roof", "rack"]


class LoadZone(Facts):
    """A part of the vehicle where load can go: from and to a station behind the front axle, from its right to its left edge (lateral,
    left positive), its floor's height above ground, and what it is rated for, if known."""

    key: Key
    words: Line
    use: ZoneUse = "floor"
    start: Metres
    end: Metres
    right: Metres
    left: Metres
    height_m: Annotated[float, Field(ge=0.0, le=6.0, allow_inf_nan=False), Of("length")] | None = None
    rating_kg: Rating | None = None

    @model_validator(mode="after")
    def _spans(self) -> LoadZone:
        if not (self.end > self.start and self.left > self.right):
            raise ValueError(f"the zone “{self.words}” ends before it begins")
        return self

    @property
    def where(self) -> str:
        """The zone as a place in a sentence: on the floor, in the bed."""
        on = self.use in ("roof", "rack") or (self.use == "floor" and self.words != "bed")
        return f"{'on' if on else 'in'} the {self.words}"

    def holds(self, station: float, lateral: float) -> bool:
        """Tell whether a place (m) is in it, a hand's breadth at its sides allowed."""
        return self.start - 1e-9 <= station <= self.end + 1e-9 and self.right - 0.15 <= lateral <= self.left + 0.15


class Tank(Facts):
    """A tank: capacity in litres, how full (0-1), what is in it (kg per litre), where."""

    name: Name
    capacity_l: Annotated[float, Field(gt=0.0, le=20_000.0, allow_inf_nan=False), Of("volume", low=1.0)]
    fill: Annotated[float, Field(ge=0.0, le=1.0, allow_inf_nan=False), Of("percent")]
    kg_per_l: Annotated[float, Field(ge=0.1, le=3.0, allow_inf_nan=False)] = 1.0
    station_m: Along
    lateral_m: Aside = 0.0


class People(Facts):
    """People in a row of seats: how many, the mass of each, where."""

    count: Annotated[int, Field(ge=1, le=60)]
    mass_kg: Annotated[float, Field(gt=0.0, le=250.0, allow_inf_nan=False), Of("mass")] = 75.0
    station_m: Along
    lateral_m: Aside = 0.0


class LoadItem(Facts):
    """Something carried: mass, station behind the front axle, lateral place to the left, height above ground if known; movable: marked as
    a thing that can be moved, which what is built in cannot."""

    name: Name
    mass_kg: Carried
    station_m: Along
    lateral_m: Aside = 0.0
    height_m: Annotated[float, Field(ge=0.0, le=6.0, allow_inf_nan=False), Of("length")] | None = None
    movable: bool = False


class TrailerItem(Facts):
    """Something on the trailer, the empty trailer itself being one: mass, distance behind the ball."""

    name: Name
    mass_kg: Carried
    behind_ball_m: Annotated[Metres, Of("length", low=-2.0, high=25.0)]


class Condition(Facts):
    """How the vehicle stood as a state was read: fuel and water, 0 to 1; people aboard; tyre pressures by corner (Pa gauge); temperature (K); on what it stood;
    odometer (km); settled: rolled and bounced before it was read; by whom, when (ISO 8601)."""

    fuel: Annotated[float, Field(ge=0.0, le=1.0), Of("percent")] | None = None
    water: Annotated[float, Field(ge=0.0, le=1.0), Of("percent")] | None = None
    people: Annotated[int, Field(ge=0, le=100)] | None = None
    tyres_pa: Annotated[
        dict[Literal["FL", "FR", "RL", "RR"], Annotated[float, Field(ge=0.0, le=2e6), Of("pressure")]],
        Field(max_length=4),
    ] = {}
    kelvin: Annotated[float, Field(ge=200.0, le=350.0), Of("temperature")] | None = None
    ground: Line = ""
    settled: bool = False
    odometer_km: Annotated[float, Field(ge=0.0, le=3e6), Of("travel")] | None = None
    by: Name = ""
    at: Annotated[str, Field(max_length=40)] = ""


class JobState(Facts):
    """A load state: scale readings where there are some, else items and tongue added to the empty vehicle.

    Scale figures are what stands on the axle, trailer's tongue included when hitched; tag_kg is the part of rear_kg on the
    tag axle. tongue_kg and trailer_kg are readings; nought with trailer items means: work it out from them. trailer_axle_m:
    ball to trailer axle; trailer_level_m: height of its coupling at which it stands level, loaded as it travels;
    restored: share of the front axle's loss that a weight-distributing hitch gives back.
    weighed_at, changed_at: when the scale figures were read, and when what is carried was last changed; weighed_gain_kg: what
    the plan made of front and rear gain when the scale was read, so that a change since can be added to the scale's figures.
    more: more is on board than is listed, and nobody knows how much.
    same_as: the key of another state with the same unlisted load on board, so that the heights of both tell it.
    past: a load that is no longer aboard, kept for the heights read under it (see `plan.by_load`); no limit is held against it.
    """

    key: Key
    name: Annotated[Name, Told("state", page="weigh")]
    empty: Annotated[bool, Told("empty", page="weigh")] = False
    front_kg: Annotated[Kilograms | None, Told("front axle, scale", page="scales")] = None
    rear_kg: Annotated[Kilograms | None, Told("rear axle, scale", page="scales")] = None
    corners_kg: Annotated[
        tuple[Kilograms, Kilograms, Kilograms, Kilograms] | None, Told("wheel pads", page="scales", part=True)
    ] = None
    items: Annotated[tuple[LoadItem, ...], Field(max_length=MOST_ITEMS), Told("items", page="weigh", part=True)] = ()
    tanks: Annotated[tuple[Tank, ...], Field(max_length=MOST_ITEMS), Told("tanks", page="weigh", part=True)] = ()
    people: Annotated[tuple[People, ...], Field(max_length=MOST_ITEMS), Told("people", page="weigh", part=True)] = ()
    tongue_kg: Annotated[Kilograms, Told("tongue load", page="trailer")] = 0.0
    trailer_kg: Annotated[Kilograms, Told("trailer mass", page="trailer")] = 0.0
    trailer_axle_m: Annotated[
        PositiveMetres | None, Of("length", low=0.5, high=20.0), Told("ball to trailer axle", page="trailer")
    ] = None
    trailer_level_m: Annotated[
        PositiveMetres | None, Of("length", high=2.0), Told("coupling height where it stands level", page="trailer")
    ] = None
    restored: Annotated[
        float, Field(ge=0.0, le=1.0), Of("percent"), Told("front load given back by spring bars", page="trailer")
    ] = 0.0
    trailer_items: Annotated[
        tuple[TrailerItem, ...], Field(max_length=MOST_ITEMS), Told("on the trailer", page="trailer", part=True)
    ] = ()
    trailer_axle_rating_kg: Annotated[Rating | None, Told("trailer axle rating", "rate", "trailer")] = None
    trailer_tyres_kg: Annotated[Rating | None, Told("trailer tyres' limit", "rate", "trailer")] = None
    trailer_scale_kg: Annotated[Kilograms | None, Told("trailer wheels, scale", page="trailer")] = None
    tag_kg: Annotated[Kilograms | None, Told("of the rear, on the tag axle", page="scales")] = None
    weighed_at: Annotated[datetime | None, Told("scale ticket of", page="scales")] = None
    changed_at: Annotated[datetime | None, Told("load last changed", page="weigh")] = None
    weighed_gain_kg: Annotated[tuple[Gain, Gain] | None, Told("what the plan made then", page="scales")] = None
    conditions: Annotated[Sentence, Told("fuel, water, people, pressures", page="scales")] = ""
    condition: Annotated[Condition | None, Told("how it stood when it was read", page="condition")] = None
    more: Annotated[bool, Told("more is on board than is listed", page="weigh")] = False
    same_as: Annotated[
        str, Field(pattern=r"^[A-Za-z0-9_-]{0,30}$"), Told("what is not listed is the same as in", page="weigh")
    ] = ""
    past: bool = False

    @model_validator(mode="before")
    @classmethod
    def _shared_is_more(cls, told: Any) -> Any:
        """Take a load shared with another state as more than is listed here."""
        shared = isinstance(told, dict) and told.get("same_as") and not told.get("empty")
        return {**told, "more": True} if shared else told

    @model_validator(mode="after")
    def _empty_is_empty(self) -> JobState:
        towing = self.tongue_kg or self.trailer_kg or self.trailer_items
        if self.empty and (self.items or self.tanks or self.people or towing or self.more):
            raise ValueError("the empty state carries no items and no trailer")
        if self.restored and self.trailer_axle_m is None:
            raise ValueError("a weight-distributing hitch needs trailer_axle_m")
        if self.tag_kg is not None and self.rear_kg is not None and self.tag_kg > self.rear_kg:
            raise ValueError("tag_kg is a part of rear_kg and cannot be more than it")
        return self

    @property
    def half_weighed(self) -> bool:
        """Whether one axle was weighed and the other not."""
        return self.corners_kg is None and (self.front_kg is None) != (self.rear_kg is None)

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
