"""What is known of the vehicle."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Literal

from pydantic import Field, ValidationInfo, field_validator, model_validator

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
OWN: Mapping[str, tuple[float, float]] = {"tyre": (5e4, 3e6), "unsprung": (3.0, 900.0), "place": (0.05, 1.3)}
"""What may stand in place of a class's figure, between which bounds: a wheel's tyre rate (N/m), a corner's unsprung mass (kg), a spring from the middle (m)."""
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
Fitted = Literal["none", "factory", "later", "perished", "missing"]


class Equipment(Facts):
    """One thing of the suspension as looked for: there from the factory or fitted later, perished, missing where there should be one, or none."""

    kind: EquipmentKind
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

    label: Name = ""
    body: Literal["pickup", "van", "high_roof_van", "wagon", "box_truck", "coach", "caravan", "camper_trailer"] = (
        "pickup"
    )
    wheelbase_m: PositiveMetres | None = None
    hitch_overhang_m: Metres | None = None
    front_overhang_m: Overhang | None = None
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
    front_tyre_most_pa: Pressure | None = None
    rear_tyre_most_pa: Pressure | None = None
    front_wheel_kg: Rating | None = None
    rear_wheel_kg: Rating | None = None
    tag_axle_kg: Rating | None = None
    front_camber_gain: DegreesPerMetre | None = None
    rear_camber_gain: DegreesPerMetre | None = None
    front_toe_gain: DegreesPerMetre | None = None
    rear_toe_gain: DegreesPerMetre | None = None
    front_droop_m: Room | None = None
    rear_droop_m: Room | None = None
    year: Annotated[int, Field(ge=1900, le=2100)] | None = None
    variant: Line = ""
    plate: Line = ""
    vin: Line = ""
    equipment: Annotated[tuple[Equipment, ...], Field(max_length=20)] = ()
    defaults: Annotated[tuple[FactName, ...], Field(max_length=40)] = ()
    zones: Annotated[tuple[LoadZone, ...], Field(max_length=16)] = ()
    sizes: Annotated[dict[SizeName, float], Field(max_length=20)] = {}
    steering: Steering = ""
    stop_nuts: StopNuts = ""
    hardware: Annotated[dict[Name, bool], Field(max_length=60)] = {}
    own: Annotated[dict[OwnName, float], Field(max_length=6)] = {}
    points: Annotated[tuple[NamedPoint, ...], Field(max_length=60)] = ()
    front_rate_n_per_m: RateInNewtons | None = None
    rear_rate_n_per_m: RateInNewtons | None = None
    rear_group: GroupForm | None = None
    front_elements: Annotated[tuple[ElementForm, ...], Field(max_length=24)] = ()
    rear_elements: Annotated[tuple[ElementForm, ...], Field(max_length=24)] = ()
    front_changes: Annotated[tuple[ChangeForm, ...], Field(max_length=24)] = ()
    rear_changes: Annotated[tuple[ChangeForm, ...], Field(max_length=24)] = ()

    @field_validator(*LEAST_KG)
    @classmethod
    def _of_a_plate(cls, value: float | None, info: ValidationInfo) -> float | None:
        """Raise ValueError for a rating that no plate says."""
        if value is not None and value < LEAST_KG[str(info.field_name)]:
            raise ValueError(f"{value:.3g} kg is less than any plate says: look at its unit, and write it again")
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
            low, high = OWN[name.split("-")[0]]
            if not low <= value <= high:
                raise ValueError(f"own.{name}: it lies between {low:g} and {high:g}")
        return self

    @property
    def base_m(self) -> float | None:
        """The wheelbase, to the load centre of the rear group where there is one."""
        if self.rear_group is not None:
            return group_centre(self.rear_group.stations, self.rear_group.loads)
        return self.wheelbase_m
