"""Vehicles and load states as they stand in a file, checked field by field and turned into physics."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from vantok_core.base.check import Form, read_form
from vantok_core.facts.parts import ElementForm, Finite, GroupForm, NotNegative, Positive
from vantok_core.facts.sums import group_centre
from vantok_core.model.parts import main_spring, needed, sort_elements
from vantok_core.physics.vehicle import Axle, AxleName, Item, Lamp, LoadState, Overturning, Tongue, Vehicle


class AxleForm(Form):
    """One axle; rates per tyre, masses per corner, loads left and right in the reference state."""

    type: Literal["solid", "independent"]
    track: Positive
    unsprung: NotNegative
    tyre_rate: Positive
    tyres_per_corner: Annotated[int, Field(ge=1, le=4)] = 1
    ref_load: tuple[NotNegative, NotNegative]
    elements: tuple[ElementForm, ...]

    @model_validator(mode="after")
    def _one_main(self) -> AxleForm:
        if sum(e.role == "main" for e in self.elements) != 1:
            raise ValueError("each axle needs exactly one element with role main")
        return self

    def build(self, axle: AxleName) -> Axle:
        """Return the core's axle. Raises IncompatibleSpringError for a leaf added to a parabolic spring."""
        named = [(e.name or f"{axle}-{e.law}-{i}", e) for i, e in enumerate(self.elements)]
        main = next(main_spring(e, name) for name, e in named if e.role == "main")
        bars, others = sort_elements(axle, main.kind, [pair for pair in named if pair[1].role != "main"])
        return Axle(
            solid=self.type == "solid",
            track=self.track,
            unsprung=self.unsprung,
            tyre_rate=self.tyre_rate * self.tyres_per_corner,
            ref_load=self.ref_load,
            spring=main,
            elements=others,
            bars=bars,
        )


class LampForm(Form):
    """Headlamp station s (m) and judging distance D (m)."""

    s: Finite
    D: Positive = 10.0


class PointForm(Form):
    """A named point of the body: its station s and lateral place y, m."""

    name: str
    s: Finite
    y: Finite = 0.0


class VehicleForm(Form):
    """The vehicle; `wheelbase` or a `rear_group` whose load centre gives it."""

    wheelbase: Positive | None = None
    rear_group: GroupForm | None = None
    front: AxleForm
    rear: AxleForm
    lamp: LampForm | None = None
    points: tuple[PointForm, ...] = ()

    def build(self) -> Vehicle:
        """Return the core's vehicle."""
        if self.rear_group is not None:
            wheelbase = group_centre(self.rear_group.stations, self.rear_group.loads)
        else:
            wheelbase = needed(self.wheelbase, "wheelbase")
        lamp = Lamp(station=self.lamp.s, distance=self.lamp.D) if self.lamp else None
        return Vehicle(wheelbase=wheelbase, front=self.front.build("front"), rear=self.rear.build("rear"), lamp=lamp)


class ItemForm(Form):
    """An item: m kg, s m behind the front axle, y m to the left."""

    m: Finite
    s: Finite
    y: Finite = 0.0
    name: str = ""
    sigma: NotNegative | None = None


class TongueForm(Form):
    """A tongue: m kg at o m behind the rear axle, or at station s; d m and M N m with spring bars."""

    m: NotNegative
    o: Finite | None = None
    s: Finite | None = None
    d: Positive | None = None
    M: NotNegative = 0.0

    def build(self, wheelbase: float) -> Tongue:
        """Return the core's tongue."""
        overhang = self.o if self.o is not None else needed(self.s, "tongue o or s") - wheelbase
        return Tongue(mass=self.m, overhang=overhang, bar_moment=self.M, axle_distance=self.d)


class OverturningForm(Form):
    """Sprung mass m_s (kg) on the arm h_a (m)."""

    m_s: Positive
    h_a: Finite


class StateForm(Form):
    """A load state."""

    name: str
    loads: tuple[ItemForm, ...] = ()
    tongue: TongueForm | None = None
    temperature_ratio: Positive = 1.0
    overturning: OverturningForm | None = None

    def build(self, wheelbase: float) -> LoadState:
        """Return the core's state."""
        over = self.overturning
        return LoadState(
            name=self.name,
            items=tuple(Item(mass=i.m, station=i.s, lateral=i.y, name=i.name) for i in self.loads),
            tongue=self.tongue.build(wheelbase) if self.tongue else None,
            temperature_ratio=self.temperature_ratio,
            overturning=Overturning(sprung_mass=over.m_s, arm=over.h_a) if over else None,
        )


def read_vehicle(data: Any, place: str = "vehicle") -> Vehicle:
    """Return the vehicle of a file. Raises FileFormatError, InputError or IncompatibleSpringError."""
    return read_form(VehicleForm, data, place).build()


def read_states(data: Any, wheelbase: float, place: str = "states") -> list[LoadState]:
    """Return the load states of a file."""
    return [read_form(StateForm, one, f"{place}[{i}]").build(wheelbase) for i, one in enumerate(data)]
