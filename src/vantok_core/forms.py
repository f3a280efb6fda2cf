"""Elements, vehicles and load states as they stand in a file, checked field by field, and turned into core objects."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Any, Literal, TypeVar

from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from vantok_core.elements.air import AirSpring, Area, AreaTable, LinearArea, Volume
from vantok_core.elements.curve import Curve, force_curve
from vantok_core.elements.laws import AddedLeaf, Helper, Law, Stop
from vantok_core.errors import FileFormatError, IncompatibleSpringError, InputError
from vantok_core.loads.levers import group_centre
from vantok_core.num import P_ATM
from vantok_core.vehicle import (
    AntiRollBar,
    Axle,
    AxleName,
    CoilBlock,
    Element,
    Item,
    Lamp,
    LoadState,
    MainSpring,
    Overturning,
    Replacement,
    Shackle,
    SpringChange,
    Tongue,
    TorsionBarAdjuster,
    Vehicle,
)

Positive = Annotated[float, Field(gt=0.0, allow_inf_nan=False)]
NotNegative = Annotated[float, Field(ge=0.0, allow_inf_nan=False)]
Finite = Annotated[float, Field(allow_inf_nan=False)]
Pair = Finite | tuple[Finite, Finite]
MOST_NEAR = 0.3
"""The nearest two axles of a group stand to one another, m."""
MAIN_LAWS = ("coil", "torsion_bar", "leaf", "two_stage_leaf", "parabolic", "parabolic_leaf")


class Form(BaseModel):
    """Base of all forms: an unknown field is an error, not a silent loss."""

    model_config = ConfigDict(extra="forbid", frozen=True)


FormType = TypeVar("FormType", bound=BaseModel)


def read_form(kind: type[FormType], data: object, place: str) -> FormType:
    """Return the checked form. Raises FileFormatError naming the first faulty field and its place."""
    try:
        return kind.model_validate(data)
    except ValidationError as error:
        first = error.errors()[0]
        path = ".".join(str(part) for part in first["loc"])
        more = len(error.errors()) - 1
        tail = f" (and {more} more)" if more else ""
        raise FileFormatError(f"{place}.{path}" if path else place, f"{first['msg']}{tail}") from error


@dataclass(frozen=True, slots=True)
class Fault:
    """A figure that cannot be, with its place (like `states.loaded.rear_kg`) and what is wrong with it."""

    place: str
    what: str


def read_what_holds(kind: type[FormType], data: dict[str, Any], place: str) -> tuple[FormType | None, list[Fault]]:
    """Return the form of whatever in `data` can be, and the faults of what cannot and was left out as unknown.

    None where what remains makes no form at all. For records that are there already and must be shown whatever they hold.
    """
    left, faults = dict(data), list[Fault]()
    for _ in range(len(data) + 2):
        try:
            return kind.model_validate(left), faults
        except ValidationError as error:
            named = {str(e["loc"][0]): e for e in error.errors() if e["loc"]}
            if not named:  # parts that contradict one another: only what the form cannot do without is kept
                faults.append(Fault(place, error.errors()[0]["msg"].removeprefix("Value error, ")))
                needed = {n: left[n] for n, f in kind.model_fields.items() if f.is_required() and n in left}
                if needed == left:
                    return None, faults
                left = needed
                continue
            if not named.keys() <= left.keys():
                return None, faults or [Fault(f"{place}.{name}", "is missing") for name in named]
            for name, e in named.items():
                faults.append(Fault(f"{place}.{name}", e["msg"].removeprefix("Value error, ")))
                del left[name]
    return None, faults


class ChangeForm(Form):
    """One change made to a main spring."""

    law: Literal["coil_block", "shackle", "replacement", "torsion_bar_adjuster"]
    N: Positive | None = None
    n: Positive | None = None
    k_i: NotNegative | None = None
    z_fit: Finite = 0.0
    k_s: Positive | None = None
    k: Positive | None = None
    c_ref: Finite | None = None
    k2: NotNegative = 0.0
    z2: Finite = 0.0
    w: Positive = 0.003
    shift: Finite | None = None

    def build(self) -> SpringChange:
        """Return the core's change; raises InputError for a figure that is missing."""
        if self.law == "coil_block":
            active, blocked = _needed(self.N, "N"), _needed(self.n, "n")
            return CoilBlock(active=active, blocked=blocked, insert_rate=self.k_i, z_fit=self.z_fit)
        if self.law == "shackle":
            return Shackle(k_s=_needed(self.k_s, "k_s"))
        if self.law == "replacement":
            return Replacement(
                k=_needed(self.k, "k"), c_ref=_needed(self.c_ref, "c_ref"), k2=self.k2, z2=self.z2, width=self.w
            )
        return TorsionBarAdjuster(shift=_needed(self.shift, "shift"))


class TableForm(Form):
    """A maker's load table: F (N), a row per height (m), a column per gauge pressure (Pa)."""

    h: tuple[Finite, ...]
    p: tuple[Finite, ...]
    F: tuple[tuple[Finite, ...], ...]


class AreaForm(Form):
    """Mean effective area: A0 (m2) at h0 (m) and its slope dA_dh (m)."""

    A0: Positive
    dA_dh: Finite = 0.0
    h0: Finite


class VolumeForm(Form):
    """Air volume: V0 (m3) at h0 (m), or the maker's heights h (m) and volumes V (m3)."""

    V0: Positive | None = None
    h0: Finite | None = None
    h: tuple[Finite, ...] | None = None
    V: tuple[Positive, ...] | None = None

    def build(self) -> Volume:
        """Return the core's volume."""
        if self.h is not None and self.V is not None:
            return Volume(curve=Curve(tuple(zip(self.h, self.V, strict=True))))
        return Volume(v0=_needed(self.V0, "V0"), h0=_needed(self.h0, "h0"))


class ElementForm(Form):
    """One spring, stop, helper, air spring or bar of an axle, one of each side unless `sides` says which."""

    law: str
    name: str | None = None
    role: Literal["main"] | None = None
    fitted: Literal["reference", "kit"] | None = None
    sides: Literal["both", "left", "right"] = "both"
    i: Positive = 1.0
    y: Finite | None = None
    k: Positive | NotNegative | None = None
    k2: NotNegative = 0.0
    z2: Finite = 0.0
    w: Positive = 0.003
    parabolic: bool = False
    mods: tuple[ChangeForm, ...] = ()
    gap: Pair | None = None
    points: tuple[tuple[Finite, Finite], ...] | None = None
    preload: Pair = 0.0
    arch: Finite | None = None
    h_ref: Positive | None = None
    table: TableForm | None = None
    area: AreaForm | None = None
    volume: VolumeForm | None = None
    p_set: Pair | None = None
    set_state: str | None = None
    p_min: NotNegative | None = None
    p_max: Positive | None = None
    p_atm: Positive = P_ATM
    teed: bool = False
    K: NotNegative | None = None

    def main(self, name: str) -> MainSpring:
        """Return it as the axle's main spring."""
        parabolic = self.parabolic or self.law.startswith("parabolic")
        return MainSpring(
            name=name, kind="parabolic" if parabolic else self.law, k=_needed(self.k, f"{name} k"), k2=self.k2,
            z2=self.z2, width=self.w, ratio=self.i, y=self.y, changes=tuple(c.build() for c in self.mods),
        )  # fmt: skip

    def element(self, name: str) -> Element:
        """Return it as a helper, stop or air spring."""
        left, right = (self._law(name, side) for side in (0, 1))
        return Element(
            name=name, left=None if self.sides == "right" else left, right=None if self.sides == "left" else right,
            ratio=self.i, y=self.y, fitted=self.fitted or "kit", teed=self.teed, set_state=self.set_state,
            p_min=self.p_min, p_max=self.p_max,
        )  # fmt: skip

    def bar(self, name: str) -> AntiRollBar:
        """Return it as an anti-roll bar."""
        return AntiRollBar(name=name, stiffness=_needed(self.K, f"{name} K"), fitted=self.fitted or "reference")

    def _law(self, name: str, side: int) -> Law:
        if self.law in ("stop", "insert"):
            points = _needed(self.points, f"{name} points")
            return Stop(gap=_of_side(self.gap, f"{name} gap", side), curve=force_curve(points))
        if self.law in ("helper_leaf", "coil_assist"):
            return Helper(preload=_of_side(self.preload, f"{name} preload", side), k=_needed(self.k, f"{name} k"))
        if self.law == "add_a_leaf":
            return AddedLeaf(k=_needed(self.k, f"{name} k"), arch=_needed(self.arch, f"{name} arch"))
        if self.law == "air":
            return self._air(name, side)
        raise InputError(f"{name} law", self.law, "that is not a law this program knows")

    def _air(self, name: str, side: int) -> AirSpring:
        area: Area
        if self.table is not None:
            area = AreaTable.from_loads(list(self.table.h), list(self.table.p), [list(row) for row in self.table.F])
        elif self.area is not None:
            area = LinearArea(a0=self.area.A0, slope=self.area.dA_dh, h0=self.area.h0)
        else:
            raise InputError(f"{name} table", None, "an air spring needs a load table or an area")
        p_set, h_ref = _of_side(self.p_set, f"{name} p_set", side), _needed(self.h_ref, f"{name} h_ref")
        if p_set < 0.0:
            raise InputError(f"{name} p_set", p_set, "a gauge pressure cannot be negative")
        volume = (
            self.volume.build()
            if self.volume
            else Volume(v0=float(area.at(h_ref, p_set)[0]) * h_ref, h0=h_ref, assumed=True)
        )
        return AirSpring(h_ref=h_ref, area=area, volume=volume, p_set=p_set, p_atm=self.p_atm)


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
        main = next(e.main(name) for name, e in named if e.role == "main")
        bars, others = sort_elements(axle, main.kind, [pair for pair in named if pair[1].role != "main"])
        return Axle(
            solid=self.type == "solid", track=self.track, unsprung=self.unsprung,
            tyre_rate=self.tyre_rate * self.tyres_per_corner, ref_load=self.ref_load, spring=main, elements=others,
            bars=bars,
        )  # fmt: skip


def sort_elements(
    axle: AxleName, kind: str, named: Sequence[tuple[str, ElementForm]]
) -> tuple[tuple[AntiRollBar, ...], tuple[Element, ...]]:
    """Return an axle's bars and other elements. Raises IncompatibleSpringError for a leaf added to a parabolic spring."""
    if kind == "parabolic" and any(e.law == "add_a_leaf" for _, e in named):
        raise IncompatibleSpringError(
            f"{axle} axle: a tapered (parabolic) leaf takes no added leaf; replace the spring, fit a helper, or have a pack made.",
            field=f"{axle}.elements",
        )
    bars = tuple(e.bar(name) for name, e in named if e.law == "anti_roll_bar")
    return bars, tuple(e.element(name) for name, e in named if e.law != "anti_roll_bar")


class LampForm(Form):
    """Headlamp station s (m) and judging distance D (m)."""

    s: Finite
    D: Positive = 10.0


class GroupForm(Form):
    """A rear group's axle stations (m) and loads (N)."""

    stations: tuple[Finite, ...]
    loads: tuple[NotNegative, ...]

    @model_validator(mode="after")
    def _can_be(self) -> GroupForm:
        if len(self.stations) != len(self.loads) or not sum(self.loads) > 0.0:
            raise ValueError("each axle of the group needs a station and a load, not all nought")
        if any(b - a < MOST_NEAR for a, b in itertools.pairwise(self.stations)):
            raise ValueError("the axles of the group must stand one behind another")
        return self


class VehicleForm(Form):
    """The vehicle; `wheelbase` or a `rear_group` whose load centre gives it."""

    wheelbase: Positive | None = None
    rear_group: GroupForm | None = None
    front: AxleForm
    rear: AxleForm
    lamp: LampForm | None = None

    def build(self) -> Vehicle:
        """Return the core's vehicle."""
        if self.rear_group is not None:
            wheelbase = group_centre(self.rear_group.stations, self.rear_group.loads)
        else:
            wheelbase = _needed(self.wheelbase, "wheelbase")
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
        overhang = self.o if self.o is not None else _needed(self.s, "tongue o or s") - wheelbase
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


Value = TypeVar("Value")


def _needed(value: Value | None, field: str) -> Value:
    if value is None:
        raise InputError(field, "nothing", "it is needed here")
    return value


def _of_side(value: float | tuple[float, float] | None, field: str, side: int) -> float:
    if value is None:
        raise InputError(field, "nothing", "it is needed here")
    return float(value[side]) if isinstance(value, tuple) else float(value)


def read_vehicle(data: Any, place: str = "vehicle") -> Vehicle:
    """Return the vehicle of a file. Raises FileFormatError, InputError or IncompatibleSpringError."""
    return read_form(VehicleForm, data, place).build()


def read_states(data: Any, wheelbase: float, place: str = "states") -> list[LoadState]:
    """Return the load states of a file."""
    return [read_form(StateForm, one, f"{place}[{i}]").build(wheelbase) for i, one in enumerate(data)]
