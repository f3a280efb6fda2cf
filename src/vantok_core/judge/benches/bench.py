"""What a bench is: what it asks for, what it answers, and what it takes from a job."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass, field
from typing import Literal

from vantok_core.base.errors import InputError
from vantok_core.base.say import Quantity, Say, Worded
from vantok_core.base.units import MOST, System
from vantok_core.facts import Job
from vantok_core.model import JobModel

Tone = Literal["level", "act", "limit"]
Points = tuple[tuple[float, float], ...]
Values = Mapping[str, float | str | tuple[float, ...] | Points]
"""What was entered, by field (SI)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Ask:
    """A field: name, words, kind of quantity (or `choice`, `list`: lengths with commas between, `points`: pairs like `100: 300, 200: 500`), what stands
    in it at first (SI), the answers of a choice; needed: whether nothing can be said without it; axes: of points, what each of a pair is;
    only: a choice, and its answers with which it is asked (empty: always); most: of a count, the largest there is; of a list or points, how many;
    signed: whether it may lie under nought."""

    name: str
    words: str
    kind: str
    first: float | str | tuple[float, ...] | Points | None = None
    choices: tuple[tuple[str, str], ...] = ()
    needed: bool = True
    axes: tuple[str, str] = ("length", "force")
    only: tuple[str, ...] = ()
    most: float = 60.0
    signed: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Row:
    """A figure of the working: its words, and the quantity or what is said of it."""

    words: str
    value: Quantity | Say


Cell = Quantity | str


@dataclass(frozen=True, slots=True, kw_only=True)
class Chart:
    """A table of the answer: its words, the heads of its columns, its rows; chosen: the row that is best, from nought."""

    words: str
    heads: tuple[str, ...]
    rows: tuple[tuple[Cell, ...], ...]
    chosen: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Answer:
    """What a bench answers: the sentences, their tone, its figures, its tables, what to know besides, what its drawing is made of (SI), the curves in it
    with the kinds of their axes (None: those of the field they were typed in), and the setting it gives a kit, by name (SI)."""

    said: tuple[Say, ...]
    tone: Tone
    rows: tuple[Row, ...]
    notes: tuple[str, ...] = ()
    drawn: Mapping[str, float] = field(default_factory=dict)
    charts: tuple[Chart, ...] = ()
    curves: Mapping[str, Points] = field(default_factory=dict)
    axes: tuple[str, str] | None = None
    gives: Mapping[str, float] = field(default_factory=dict)


class Draft:
    """An answer in the making: what is said, its figures, and the gravest tone so far."""

    def __init__(self) -> None:
        self.rows: list[Row] = []
        self.said: list[Say] = []
        self.notes: list[str] = []
        self.tone: Tone = "level"
        self.charts: list[Chart] = []
        self.curves: dict[str, Points] = {}
        self.axes: tuple[str, str] | None = None
        self.gives: dict[str, float] = {}

    def row(self, words: str, value: Quantity | Say | str) -> None:
        """Add a figure of the working."""
        self.rows.append(Row(words=words, value=Say(value) if isinstance(value, str) else value))

    def say(self, text: str, tone: Tone = "level", **values: Worded) -> None:
        """Add a sentence with its figures; a graver tone than before is taken over."""
        self.said.append(Say(text, values))
        self.tone = max(self.tone, tone, key=TONES.index)

    def note(self, text: str) -> None:
        """Add what is to be known besides, whatever the figures."""
        self.notes.append(text)

    def done(self, **drawn: float) -> Answer:
        """Return the answer, with what its drawing is made of (SI)."""
        return Answer(
            said=tuple(self.said),
            tone=self.tone,
            rows=tuple(self.rows),
            notes=tuple(self.notes),
            drawn=drawn,
            charts=tuple(self.charts),
            curves=self.curves,
            axes=self.axes,
            gives=self.gives,
        )


Known = Mapping[str, tuple[float | str | tuple[float, ...] | Points, str]]
"""What a job knows of a bench's fields (SI), each with where from."""


def nothing_of_kit(job: Job, model: JobModel) -> tuple[Chart, ...]:
    """Return nothing: a bench that has nothing of its own to tell of a kit."""
    return ()


TONES: tuple[Tone, ...] = ("level", "act", "limit")


@dataclass(frozen=True, slots=True, kw_only=True)
class Question:
    """One question a bench answers: its key, in words, and the fields that ask it."""

    key: str
    words: str
    asks: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Bench:
    """A bench: its key and words; its questions, a page each; its fields; how it works an answer out; what a job knows of its fields, with where from;
    what it tells of the job's own kit besides; places: the field at which something the arithmetic refuses is said."""

    key: str
    words: str
    questions: tuple[Question, ...]
    asks: tuple[Ask, ...]
    works: Callable[[Values], Answer]
    of_job: Callable[[Job, JobModel | None], Known]
    of_kit: Callable[[Job, JobModel], tuple[Chart, ...]] = nothing_of_kit
    places: Mapping[str, str] = field(default_factory=dict)

    def question(self, key: str, told: Collection[str] = ()) -> Question:
        """Return the question of a key; without one the first that asks for what is told, by field's name, else the first of all."""
        named = next((one for one in self.questions if one.key == key), None)
        most = max(self.questions, key=lambda one: len(set(told) & set(one.asks)))
        return named or most

    def answer(self, values: Values) -> Answer:
        """Return the answer to what was entered (SI by field). Raises InputError naming the field, as where a choice is none of those offered."""
        for ask in self.asks:
            if ask.kind == "choice" and values.get(ask.name, "") not in ("", *dict(ask.choices)):
                raise InputError(ask.name, values[ask.name], "choose one of those offered")
            _bounded(ask, values.get(ask.name))
        return self.works(values)


def _bounded(ask: Ask, value: object) -> None:
    """Raise InputError for a count, a span or a table past what is declared of its field."""
    if isinstance(value, tuple) and len(value) > ask.most:
        raise InputError(ask.name, len(value), f"{ask.most:.0f} are the most here")
    if isinstance(value, (int, float)):
        most = ask.most if ask.kind == "count" else MOST.get(ask.kind, ask.most)
        if not abs(value) <= most:
            raise InputError(
                ask.name,
                value,
                f"{most:g} is the most here" if ask.kind == "count" else "that is more than any vehicle has",
            )


def refused(bench: Bench, error: InputError, system: System) -> tuple[str, str]:
    """Return the field at which an error is said (empty: at none), and its sentence in the reader's units, without what was handed between the functions."""
    names, what = {one.name for one in bench.asks}, error.field or ""
    place = what if what in names else bench.places.get(what, "")
    return place, error.in_units(system)


def number(values: Values, name: str) -> float:
    """Return a figure that was entered (SI). Raises InputError where it was not."""
    value = values.get(name)
    if not isinstance(value, (int, float)):
        raise InputError(name, value, "it is needed here")
    return float(value)


def maybe(values: Values, name: str) -> float | None:
    """Return a figure (SI), None where it was not entered."""
    value = values.get(name)
    return float(value) if isinstance(value, (int, float)) else None


def nothing_of_job(job: Job, model: JobModel | None) -> Known:
    """Return nothing: a bench that no job knows anything of."""
    return {}


def points(values: Values, name: str) -> Points:
    """Return points that were entered (SI), none where none were."""
    value = values.get(name)
    return value if isinstance(value, tuple) and value and isinstance(value[0], tuple) else ()


def lengths(values: Values, name: str) -> tuple[float, ...]:
    """Return lengths that were entered (m), none where none were."""
    value = values.get(name)
    return value if isinstance(value, tuple) and value and not isinstance(value[0], tuple) else ()


def chosen(values: Values, name: str) -> str:
    """Return the answer of a choice, empty where none was made."""
    value = values.get(name)
    return value if isinstance(value, str) else ""
