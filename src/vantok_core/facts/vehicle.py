"""What is known of the vehicle."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Literal, NamedTuple

from pydantic import Field, ValidationInfo, field_validator, model_validator

from vantok_core.base.units import Kind
from vantok_core.facts.declared import Of, Told
from vantok_core.facts.hanging import HangingKind
from vantok_core.facts.kinds import (
    DegreesPerMetre,
    Facts,
    HitchKind,
    Line,
    LoadIndex,
    Metres,
    Name,
    Overhang,
    PointKey,
    PositiveMetres,
    Pressure,
    RateInNewtons,
    Rating,
    Room,
    Sentence,
    Spring,
)
from vantok_core.facts.load import LoadZone
from vantok_core.facts.parts import ChangeForm, ElementForm, GroupForm
from vantok_core.facts.sizes import SIZES, SizeName, Steering, StopNuts
from vantok_core.facts.sums import group_centre


class NamedPoint(Facts):
    """A point of the body that a tape is used on, besides arches and hitch: its station and lateral place."""

    key: PointKey
    name: Line
    station_m: Metres
    lateral_m: Metres = 0.0


OwnName = Literal["tyre-front", "tyre-rear", "unsprung-front", "unsprung-rear", "place-front", "place-rear"]


class OwnFigure(NamedTuple):
    """A figure that may stand in place of a class's: of what kind, and between which bounds (SI)."""

    kind: Kind
    low: float
    high: float


OWN: Mapping[str, OwnFigure] = {
    f"{name}-{axle}": figure
    for name, figure in (
        ("tyre", OwnFigure("rate", 5e4, 3e6)),
        ("unsprung", OwnFigure("mass", 3.0, 900.0)),
        ("place", OwnFigure("length", 0.05, 1.3)),
    )
    for axle in ("front", "rear")
}
"""By name: a wheel's tyre rate, a corner's unsprung mass, a spring from the middle."""
FactName = Annotated[str, Field(pattern=r"^[a-z][a-z0-9_]{0,29}$")]
EquipmentKind = Literal[
    "stops",
    "bar_front",
    "bar_rear",
    "stabilizer",
    "second_stage",
    "helper",
    "bags",
    "insert",
    "dampers",
    "tyres",
    "lift",
    "packers",
]
Body = Literal["pickup", "van", "high_roof_van", "wagon", "box_truck", "coach", "caravan", "camper_trailer"]
Fitted = Literal["none", "factory", "later", "perished", "missing"]


class Equipment(Facts):
    """One thing of the suspension as looked for: there from the factory or fitted later, perished, missing where there should be one, or none."""

    kind: EquipmentKind | HangingKind
    fitted: Fitted
    note: Sentence = ""


LEAST_KG = {
    "gross_kg": 300.0,
    "combination_kg": 300.0,
    **dict.fromkeys(("front_axle_kg", "rear_axle_kg", "tag_axle_kg", "front_tyres_kg", "rear_tyres_kg"), 100.0),
    **dict.fromkeys(("front_wheel_kg", "rear_wheel_kg", "towed_kg"), 50.0),
    "hitch_kg": 5.0,
}
"""The least that a plate or a wall of anything on the road says, kg: under it a unit was mistaken."""


class JobVehicle(Facts):
    """What is known of the vehicle.

    Tyre indices: load index of one tyre, the dual one for twin wheels; they count where no tyre limit is given in kg.
    tyre_most_pa: greatest pressure off its wall; wheel_kg: what one wheel (rim) may carry.
    tag_axle_kg: rating of the last axle of a rear group. Camber and toe gains: degrees per metre of hub sag. Droops: how far the wheels
    hang below where they stand empty (or as it stands). defaults: names of facts that a starting vehicle gave, to be replaced: no limit is
    held against such a rating. zones: where load can go, as edited; none: as usual for the body style.
    sizes: what kits ask for, by name (see `facts.sizes`), SI; steering: box or rack, stop_nuts: the captive nuts of the
    bump stops; empty: nobody looked. own: figures in place of the class's (see `OWN`).
    hardware: whether it has what a variant of a kit asks for, by the kit's line, as looked at.
    """

    label: Annotated[Name, Told("vehicle")] = ""
    body: Annotated[Body, Told("body style")] = "pickup"
    wheelbase_m: Annotated[PositiveMetres | None, Of("length", low=1.0), Told("wheelbase")] = None
    hitch_overhang_m: Annotated[Metres | None, Of("length", low=-5.0), Told("hitch overhang")] = None
    front_overhang_m: Annotated[Overhang | None, Told("front overhang", page="coach")] = None
    rear_overhang_m: Annotated[Overhang | None, Told("rear overhang")] = None
    over_all_m: Annotated[PositiveMetres | None, Told("height over all")] = None
    track_front_m: Annotated[PositiveMetres | None, Of("length", low=0.5), Told("front track")] = None
    track_rear_m: Annotated[PositiveMetres | None, Of("length", low=0.5), Told("rear track")] = None
    front_spring: Annotated[Spring | None, Told("front suspension")] = None
    rear_spring: Annotated[Spring | None, Told("rear suspension")] = None
    tyres: Annotated[Literal["car", "light_truck", "medium_duty"] | None, Told("tyre class")] = None
    dual_rear: Annotated[bool, Told("dual rear wheels")] = False
    gross_kg: Annotated[Rating | None, Told("gross vehicle rating", "rate")] = None
    front_axle_kg: Annotated[Rating | None, Told("front axle rating", "rate")] = None
    rear_axle_kg: Annotated[Rating | None, Told("rear axle rating", "rate")] = None
    front_tyres_kg: Annotated[Rating | None, Told("front tyres' limit", "rate")] = None
    rear_tyres_kg: Annotated[Rating | None, Told("rear tyres' limit", "rate")] = None
    hitch_kg: Annotated[Rating | None, Told("hitch vertical rating", "rate")] = None
    towed_kg: Annotated[Rating | None, Told("towed rating", "rate")] = None
    combination_kg: Annotated[Rating | None, Told("combination rating", "rate")] = None
    hitch_kind: Annotated[HitchKind, Told("hitch")] = "ball"
    front_tyre_index: Annotated[LoadIndex | None, Told("front tyres' load index", right="rate")] = None
    rear_tyre_index: Annotated[LoadIndex | None, Told("rear tyres' load index, single", right="rate")] = None
    rear_dual_index: Annotated[LoadIndex | None, Told("rear tyres' load index, dual", right="rate")] = None
    front_tyre_most_pa: Annotated[Pressure | None, Told("front tyres' highest pressure", "rate", "tyres")] = None
    rear_tyre_most_pa: Annotated[Pressure | None, Told("rear tyres' highest pressure", "rate", "tyres")] = None
    front_wheel_kg: Annotated[Rating | None, Told("front wheel rating", "rate", "tyres")] = None
    rear_wheel_kg: Annotated[Rating | None, Told("rear wheel rating", "rate", "tyres")] = None
    tag_axle_kg: Annotated[Rating | None, Told("tag axle rating", "rate")] = None
    front_camber_gain: Annotated[DegreesPerMetre | None, Told("front camber gain")] = None
    rear_camber_gain: Annotated[DegreesPerMetre | None, Told("rear camber gain")] = None
    front_toe_gain: Annotated[DegreesPerMetre | None, Told("front toe gain")] = None
    rear_toe_gain: Annotated[DegreesPerMetre | None, Told("rear toe gain")] = None
    front_droop_m: Annotated[Room | None, Told("front droop")] = None
    rear_droop_m: Annotated[Room | None, Told("rear droop")] = None
    year: Annotated[Annotated[int, Field(ge=1900, le=2100)] | None, Told("year")] = None
    variant: Annotated[Line, Told("variant")] = ""
    plate: Annotated[Line, Told("registration")] = ""
    vin: Annotated[Line, Told("VIN")] = ""
    equipment: Annotated[tuple[Equipment, ...], Field(max_length=30), Told("what is fitted")] = ()
    defaults: Annotated[
        tuple[FactName, ...], Field(max_length=40), Told("given by a starting vehicle", right="rate")
    ] = ()
    zones: Annotated[tuple[LoadZone, ...], Field(max_length=16), Told("zones", right="rate", page="zones")] = ()
    sizes: Annotated[dict[SizeName, float], Field(max_length=20), Told("sizes", page="choose")] = {}
    steering: Annotated[Steering, Told("steering", page="choose")] = ""
    stop_nuts: Annotated[StopNuts, Told("captive nuts of the stops", page="choose")] = ""
    hardware: Annotated[dict[Name, bool], Field(max_length=60), Told("what variants ask for", page="choose")] = {}
    own: Annotated[
        dict[OwnName, float], Field(max_length=6), Told("own figures", right="rate", page="assumptions")
    ] = {}
    points: Annotated[tuple[NamedPoint, ...], Field(max_length=60), Told("named points")] = ()
    front_rate_n_per_m: Annotated[RateInNewtons | None, Told("front wheel rate")] = None
    rear_rate_n_per_m: Annotated[RateInNewtons | None, Told("rear wheel rate")] = None
    rear_group: Annotated[GroupForm | None, Told("rear axle group", right="rate", page="coach")] = None
    front_elements: Annotated[
        tuple[ElementForm, ...], Field(max_length=24), Told("what else is on the front", right="rate")
    ] = ()
    rear_elements: Annotated[
        tuple[ElementForm, ...], Field(max_length=24), Told("what else is on the rear", right="rate")
    ] = ()
    front_changes: Annotated[
        tuple[ChangeForm, ...], Field(max_length=24), Told("what was done to the front springs", right="rate")
    ] = ()
    rear_changes: Annotated[
        tuple[ChangeForm, ...], Field(max_length=24), Told("what was done to the rear springs", right="rate")
    ] = ()

    @field_validator(*LEAST_KG)
    @classmethod
    def _of_a_plate(cls, value: float | None, info: ValidationInfo) -> float | None:
        """Raise ValueError for a rating that no plate says."""
        if value is not None and value < LEAST_KG[str(info.field_name)]:
            raise ValueError("is less than any plate says: look at its unit, and write it again")
        return value

    @model_validator(mode="after")
    def _group_behind(self) -> JobVehicle:
        if (
            self.rear_group is not None
            and not 0.1 <= group_centre(self.rear_group.stations, self.rear_group.loads) <= 30.0
        ):
            raise ValueError("rear_group: its load centre must lie behind the front axle")
        return self

    @model_validator(mode="after")
    def _sizes_that_can_be(self) -> JobVehicle:
        for name, value in self.sizes.items():
            size = SIZES[name]
            if not size.low <= value <= size.high:
                raise ValueError(f"sizes.{name}: it lies between {size.low:g} and {size.high:g}")
        return self

    @model_validator(mode="after")
    def _own_that_can_be(self) -> JobVehicle:
        for name, value in self.own.items():
            own = OWN[name]
            if not own.low <= value <= own.high:
                raise ValueError(f"own.{name}: it lies between {own.low:g} and {own.high:g}")
        return self

    @property
    def fitted(self) -> dict[str, Fitted]:
        """What the census answered, by thing."""
        return {one.kind: one.fitted for one in self.equipment}

    @property
    def base_m(self) -> float | None:
        """The wheelbase, to the load centre of the rear group where there is one."""
        if self.rear_group is not None:
            return group_centre(self.rear_group.stations, self.rear_group.loads)
        return self.wheelbase_m
