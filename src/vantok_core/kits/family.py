"""What a family of kits must tell: its data, its checks, how it goes on the vehicle, how it is set and how it scores.

A family is one module in `families/`, listed in `registry`; nothing else in the program decides on a family by name.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, ClassVar, Generic, Literal, TypeVar

from pydantic import BaseModel, ConfigDict

from vantok_core.base.say import Quantity, Say
from vantok_core.facts import Job, Kit
from vantok_core.model import JobModel
from vantok_core.physics.stance.report import StateReport
from vantok_core.physics.vehicle import AXLE_CORNERS, AxleName, Element, Vehicle

Status = Literal["pass", "fail", "measure"]
Pair = tuple[float, float]
Setting = Mapping[str, Pair]
"""Each setting of a family by name, left and right, SI."""
KIT_ELEMENT = "kit"


class Data(BaseModel):
    """Base of a family's own data: an unknown field is an error, not a silent loss."""

    model_config = ConfigDict(extra="forbid", frozen=True)


DataType = TypeVar("DataType", bound=Data)


@dataclass(frozen=True, slots=True, kw_only=True)
class FitCheck:
    """One check: what, how it stands, and why."""

    key: str
    words: str
    status: Status
    why: Say


@dataclass(frozen=True, slots=True, kw_only=True)
class SettingField:
    """One thing a family is set by on either side: its name, ending in its unit, words, kind of quantity, and how an instruction
    to set it begins and ends (“set … left”, “fit … of spacer left”)."""

    name: str
    words: str
    kind: str
    order: str = "set {left} left and {right} right"


@dataclass(frozen=True, slots=True, kw_only=True)
class Span:
    """From where to where a setting goes, and in what steps (SI)."""

    low: float
    high: float
    step: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Solved:
    """A setting found for a wanted height, each side by name (SI), with what it means in words."""

    setting: Setting
    notes: tuple[Say, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Shown:
    """A line of a kit's page or of a setting's table: label and quantities."""

    label: str
    values: tuple[Quantity, ...]


class Family(ABC, Generic[DataType]):
    """A family of kits. `key` in files; `words` of one and `many` of several; its `data`; what it is `settings` by."""

    key: ClassVar[str]
    words: ClassVar[str]
    many: ClassVar[str]
    data: type[DataType]
    settings: ClassVar[tuple[SettingField, ...]]
    sealed: ClassVar[bool] = False
    """Whether what is set in one state is carried, shut in, to the others."""
    stands: ClassVar[str]
    """What tells how it stands in a state: its pressure, its gap, its force."""
    at_setting: ClassVar[str]
    """The usual caution where it is set; `{low}` and `{high}` stand for its limits."""
    care: ClassVar[tuple[str, ...]]
    """What the customer must know of it."""
    range_served: ClassVar[float]
    """How wide a range of loads one fitting serves by another setting, 0 to 1."""

    def of(self, kit: Kit) -> DataType:
        """Return a kit's own data. Raises pydantic's ValidationError where it is not this family's."""
        found: DataType | None = kit.read.get(self.key)
        if found is None:
            found = kit.read[self.key] = self.data.model_validate(kit.own)
        return found

    @abstractmethod
    def checks(self, job: Job, kit: Kit) -> list[FitCheck]:
        """Return the family's own fit checks on a vehicle."""

    @abstractmethod
    def element(self, job: Job, kit: Kit, setting: Setting, state: str | None, place: float | None) -> Element:
        """Return the kit as an element at a setting (empty: its lowest); state: where it is set; place: m from the centre line."""

    @abstractmethod
    def spans(self, kit: Kit) -> Mapping[str, Span]:
        """Return how far each setting of a kit goes."""

    @abstractmethod
    def solve(self, model: JobModel, kit: Kit, start: Vehicle, state: str, drop: Pair) -> Solved:
        """Return the setting, kept within the kit's limits and what the part can be set to, that brings a state to rear drops left and right.

        start: the vehicle with the kit on; drop: left, right, m. Where none gets there, the one that comes nearest, and that is said.
        """

    @abstractmethod
    def sought(self, model: JobModel, kit: Kit, start: Vehicle, state: str, drop: Pair) -> Setting:
        """Return the setting for rear drops left and right (m), kept within the kit's limits. Raises VantokError where none gets there."""

    @abstractmethod
    def shown(self, kit: Kit) -> list[Shown]:
        """Return the kit's own data, a line each, for its page."""

    @abstractmethod
    def highest_force(self, kit: Kit) -> float:
        """Return the largest force in a kit's published data (N), one side."""

    @abstractmethod
    def scaled(self, kit: Kit, strength: float) -> Kit:
        """Return a kit so many times as strong as its data says."""

    @abstractmethod
    def gap_score(self, gaps: list[float]) -> float:
        """Return how well stop gaps left under load (m; none read off the model: empty) suit the family, 0 to 1."""

    def emptied(self, kit: Kit, empty: StateReport) -> list[Say]:
        """Return what unloading does to what was set loaded; nothing unless the family says otherwise."""
        return []

    def made_of(self, kit: Kit, name: str, value: float) -> tuple[float, ...]:
        """Return the pieces that make up a setting (SI); the value itself unless the family stacks pieces."""
        return (value,)

    def table(self, kit: Kit) -> tuple[list[str], list[list[Quantity]]] | None:
        """Return the published table, headings and rows, for the kit's page; None without one."""
        return None


def empty_reading(job: Job, axle: AxleName, datum: str) -> Pair | None:
    """Return an axle's left and right reading (m) in the empty state on a datum, None unless both exist."""
    if job.empty is None:
        return None
    pair = [job.read(job.empty.key, corner, datum) for corner in AXLE_CORNERS[axle]]
    return (pair[0].value_m, pair[1].value_m) if pair[0] and pair[1] else None


def read_elsewhere(job: Job, kit: Kit, datum: str) -> str:
    """Return that a height was read in another state than the empty one, or on one side only, and so does not answer the check."""
    corners = AXLE_CORNERS[kit.axle]
    names = [s.name for s in job.states if any(job.read(s.key, c, datum) for c in corners)]
    return f"Read in {', '.join(names)}, which does not answer it on both sides of the empty vehicle. " if names else ""


def held(value: float, low: float, high: float) -> float:
    """Return a value kept between low and high, all in one unit (SI)."""
    return min(max(value, low), high)


def quantities(kind: Any, *values: float) -> tuple[Quantity, ...]:
    """Return values (SI) of one kind as quantities to show."""
    return tuple(Quantity(v, kind) for v in values)
