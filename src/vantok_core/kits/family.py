"""What a family of kits must tell: its data, its checks, how it goes on the vehicle, how it is set and how it scores.

A family is one module in `families/`, listed in `registry`; nothing else in the program decides on a family by name.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any, ClassVar, Generic, TypeVar

from pydantic import BaseModel, ConfigDict

from vantok_core.base.say import Quantity, Say
from vantok_core.facts import Job, JobState, Kit
from vantok_core.kits.checks import FitCheck
from vantok_core.kits.curves import Typed
from vantok_core.model import JobModel
from vantok_core.physics.stance.report import StateReport
from vantok_core.physics.stance.states import solve_states
from vantok_core.physics.vehicle import AXLES, Axle, AxleName, Element, SpringChange, Vehicle
from vantok_core.rates.places import Place, place_drop
from vantok_core.rates.traits import STOPS

Pair = tuple[float, float]
Setting = Mapping[str, Pair]
"""Each setting of a family by name, left and right, SI."""
At = Callable[[Setting], Vehicle]
"""The vehicle with a kit on at a setting (empty: its lowest)."""
KIT_ELEMENT = "kit"


class Data(BaseModel):
    """Base of a family's own data: an unknown field is an error, not a silent loss."""

    model_config = ConfigDict(extra="forbid", frozen=True)


DataType = TypeVar("DataType", bound=Data)


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


OF_HEIGHT = ("height", "rake", "beam", "lean", "travel", "clearance")
"""The aims of a job that a tape proves."""


class Family(ABC, Generic[DataType]):
    """A family of kits. `key` in files; `words` of one and `many` of several; its `data`; what it is `settings` by."""

    key: ClassVar[str]
    words: ClassVar[str]
    many: ClassVar[str]
    data: type[DataType]
    settings: ClassVar[tuple[SettingField, ...]]
    answers: ClassVar[tuple[str, ...]] = OF_HEIGHT
    """Which aims of a job it answers, by their keys (`aims.aim`)."""
    lifts: ClassVar[bool] = True
    """Whether it changes heights at all: one that does not is taken for something else, and never ranked by them."""
    gives_back: ClassVar[bool] = False
    """Whether it moves load between the axles instead of pressing a spring: it is then set with the load, not on Set."""
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
    drawn: ClassVar[str]
    """As what it is drawn, on the shelf and in its place on the axle."""
    work: ClassVar[str]
    """What kind of work it is, which says when it is fitted among others (`kits.cost`)."""
    typed: ClassVar[Mapping[str, Typed]] = {}
    """Its data that are typed row by row, by field: curves and tables."""
    bench: ClassVar[str] = ""
    """The bench that measures and sets it, empty where its setting comes from heights alone."""
    both_sides: ClassVar[bool] = True
    """Whether it is fitted on either side, so that the second side goes quicker."""
    debates: ClassVar[tuple[str, ...]]
    """On which questions that the trade argues about it takes a side (`kits.schools`)."""

    @property
    def for_height(self) -> bool:
        """Whether it is made to change heights, and so proved by the tape."""
        return bool(set(self.answers) & set(OF_HEIGHT))

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
    def fitted(self, job: Job, kit: Kit, axle: Axle, setting: Setting, state: str | None) -> Axle:
        """Return its axle with the kit on at a setting (empty: its lowest); state: where it is set."""

    @abstractmethod
    def spans(self, kit: Kit) -> Mapping[str, Span]:
        """Return how far each setting of a kit goes."""

    def construction(self, kit: Kit) -> str:
        """Return how a kit is built and where it goes, by its own data: which card, label and care are its (`procedure.templates`)."""
        return self.key

    def set_by(self, kit: Kit) -> tuple[SettingField, ...]:
        """Return what a kit is set by: of what its family is, that which this one has a span of."""
        spans = self.spans(kit)
        return tuple(field for field in self.settings if field.name in spans)

    @abstractmethod
    def solve(self, model: JobModel, kit: Kit, at: At, state: str, drop: Pair) -> Solved:
        """Return the setting, kept within the kit's limits and what the part can be set to, that brings a state to rear drops left and right.

        at: the vehicle with the kit on at a setting; drop: left, right, m. Where none gets there, the one that comes nearest, and that is said.
        """

    @abstractmethod
    def sought(self, model: JobModel, kit: Kit, at: At, state: str, drop: Pair) -> Setting:
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

    def does(self, model: JobModel, kit: Kit, setting: Setting, state: str) -> list[Say]:
        """Return what a kit does besides heights, in words; nothing unless the family says otherwise."""
        return []

    def shift(self, job: Job, kit: Kit, state: JobState) -> tuple[float, float, float] | None:
        """Return what a kit that moves load puts on the front, the rear and the trailer's axle (kg) in a state; None where it is not known."""
        return None

    def gave(self, job: Job, kit: Kit, state: JobState) -> list[Say]:
        """Return what such a kit gives back, in words."""
        return []

    def damping(self, kit: Kit, setting: Setting) -> float | None:
        """Return the damping rate of one of its dampers over a cycle at the usual speed (N s/m); None where it damps nothing."""
        return None

    def alike(self, kit: Kit) -> str:
        """Return why both sides take one setting; empty where each takes its own."""
        return ""

    def emptied(self, kit: Kit, empty: StateReport) -> list[Say]:
        """Return what unloading does to what was set loaded; nothing unless the family says otherwise."""
        return []

    def made_of(self, kit: Kit, name: str, value: float) -> tuple[float, ...]:
        """Return the pieces that make up a setting (SI); the value itself unless the family stacks pieces."""
        return (value,)

    def table(self, kit: Kit) -> tuple[list[str], list[list[Quantity]]] | None:
        """Return the published table, headings and rows, for the kit's page; None without one."""
        return None


class ElementFamily(Family[DataType]):
    """A family that stands beside the spring as an element of its own."""

    @abstractmethod
    def element(self, job: Job, kit: Kit, setting: Setting, state: str | None, place: float | None) -> Element:
        """Return the kit as an element at a setting (empty: its lowest); state: where it is set; place: m from the centre line."""

    def fitted(self, job: Job, kit: Kit, axle: Axle, setting: Setting, state: str | None) -> Axle:
        """Return its axle with the element on, in the stops' place where it replaces them."""
        kept = tuple(e for e in axle.elements if not (kit.replaces_stop and e.name.endswith(STOPS)))
        place = None if not axle.solid else kit.place * axle.track / 2
        return replace(axle, elements=(*kept, self.element(job, kit, setting, state, place)))


class AlikeFamily(Family[DataType]):
    """A family set alike on both sides, step by step: the step whose height comes nearest is looked for."""

    step_notes: ClassVar[tuple[str, str]] = (
        "The target asks for more than its most; the most is shown.",
        "The target asks for less than its least; the least is shown.",
    )
    """What is said where the target lies past either end."""

    def solve(self, model: JobModel, kit: Kit, at: At, state: str, drop: Pair) -> Solved:
        """Return the step that comes nearest to the mean of drops left and right (m), and what is said where the target lies past its ends."""
        spans = self.spans(kit)
        if not spans:
            return Solved(setting={})
        ((name, span),) = spans.items()
        found = nearest_step(model, kit.axle, span, lambda value: at({name: (value, value)}), state, drop)
        notes = [Say(self.step_notes[0])] if found.past > 0 else [Say(self.step_notes[1])] if found.past < 0 else []
        return Solved(setting={name: (found.value, found.value)}, notes=tuple(notes))

    def sought(self, model: JobModel, kit: Kit, at: At, state: str, drop: Pair) -> Setting:
        """Return the step that comes nearest to the mean of drops left and right (m). Raises VantokError where a step cannot be solved."""
        return self.solve(model, kit, at, state, drop).setting

    def gap_score(self, gaps: list[float]) -> float:
        """Return how free of the stops the vehicle stands (gaps: m): 30 mm and more is full marks."""
        return 1.0 if not gaps else held(min(gaps) / 0.03, 0.0, 1.0)


class SpringFamily(AlikeFamily[DataType]):
    """A family that changes the main spring itself."""

    @abstractmethod
    def change(self, job: Job, kit: Kit, setting: Setting) -> SpringChange:
        """Return what it does to the spring at a setting (empty: its least)."""

    def fitted(self, job: Job, kit: Kit, axle: Axle, setting: Setting, state: str | None) -> Axle:
        """Return its axle with the spring changed, after what was done to it before."""
        spring, change = axle.spring, self.change(job, kit, setting)
        right = None if spring.changes_right is None else (*spring.changes_right, change)
        return replace(axle, spring=replace(spring, changes=(*spring.changes, change), changes_right=right))


class StillFamily(AlikeFamily[DataType]):
    """A family that changes no height: bars, dampers, stabilizers."""

    lifts = False

    def fitted(self, job: Job, kit: Kit, axle: Axle, setting: Setting, state: str | None) -> Axle:
        """Return its axle, which stands as it stood."""
        return axle

    def solve(self, model: JobModel, kit: Kit, at: At, state: str, drop: Pair) -> Solved:
        """Return its least setting: no height asks for another."""
        return Solved(setting=least(self.spans(kit)))

    def highest_force(self, kit: Kit) -> float:
        """Return nought: it carries nothing."""
        return 0.0

    def scaled(self, kit: Kit, strength: float) -> Kit:
        """Return the kit: no height rests on its strength."""
        return kit


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """The step that comes nearest, its setting (SI), and whether the target lies past the most (1) or the least (-1)."""

    value: float
    past: int


def nearest_step(
    model: JobModel, axle: AxleName, span: Span, at: Callable[[float], Vehicle], state: str, drop: Pair
) -> Step:
    """Return the step of a span whose mean height of an axle comes nearest to a target (drop: left, right, m); more of it lifts.

    Found by halving the steps, each solved on the static model. Raises VantokError where a step cannot be solved. Source: method
    section 10.
    """
    wanted, steps, last = (
        0.5 * (drop[0] + drop[1]),
        list(model.states.values()),
        round((span.high - span.low) / span.step),
    )
    known: dict[int, float] = {}

    def over(n: int) -> float:
        """Return how far the axle still stands below the target at a step (m)."""
        if n not in known:
            solved = solve_states(at(span.low + n * span.step), steps, check_limits=False)[state]
            known[n] = float(place_drop(solved, Place(axle, "ground"))) - wanted
        return known[n]

    low, high = 0, last
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (middle, high) if over(middle) > 0.0 else (low, middle)
    best = min((low, high), key=lambda n: abs(over(n)))
    past = 1 if best == last and over(last) > 0.5 * abs(over(last) - over(max(last - 1, 0))) + PAST else 0
    if best == 0 and over(0) < -PAST:
        past = -1
    return Step(value=span.low + best * span.step, past=past)


PAST = 0.002
"""How far a target may lie past the last step (m) before that is said."""


def least(kit_spans: Mapping[str, Span]) -> dict[str, Pair]:
    """Return the least of everything a kit is set by, both sides alike (SI)."""
    return {name: (span.low, span.low) for name, span in kit_spans.items()}


def named(vehicle: Vehicle, name: str) -> Vehicle:
    """Return the vehicle with the kit last put on it called by a name."""

    def called(element: Element) -> Element:
        return replace(element, name=name) if element.name == KIT_ELEMENT else element

    front, rear = (replace(vehicle.axle(a), elements=tuple(called(e) for e in vehicle.axle(a).elements)) for a in AXLES)
    return replace(vehicle, front=front, rear=rear)


def held(value: float, low: float, high: float) -> float:
    """Return a value kept between low and high, all in one unit (SI)."""
    return min(max(value, low), high)


def quantities(kind: Any, *values: float) -> tuple[Quantity, ...]:
    """Return values (SI) of one kind as quantities to show."""
    return tuple(Quantity(v, kind) for v in values)
