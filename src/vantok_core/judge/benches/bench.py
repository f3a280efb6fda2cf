"""What a bench is: what it asks for, what it answers, and what it takes from a job."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Literal

from vantok_core.base.errors import InputError
from vantok_core.base.say import Quantity, Say
from vantok_core.facts import Job
from vantok_core.model import JobModel

Tone = Literal["level", "act", "limit"]
Values = Mapping[str, float | str | tuple[float, ...]]


@dataclass(frozen=True, slots=True, kw_only=True)
class Ask:
    """A field: name, words, kind of quantity (or `choice`, `list`: lengths with commas between), what stands in it at first (SI), the answers of a choice;
    needed: whether nothing can be said without it."""

    name: str
    words: str
    kind: str
    first: float | str | tuple[float, ...] | None = None
    choices: tuple[tuple[str, str], ...] = ()
    needed: bool = True
    help: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Row:
    """A figure of the working: its words, and the quantity or a word."""

    words: str
    value: Quantity | str


@dataclass(frozen=True, slots=True, kw_only=True)
class Answer:
    """What a bench answers: the sentences, their tone, its figures, what to know besides, and what its drawing is made of (SI)."""

    said: tuple[Say, ...]
    tone: Tone
    rows: tuple[Row, ...]
    notes: tuple[str, ...] = ()
    drawn: Mapping[str, float] = field(default_factory=dict)


class Draft:
    """An answer in the making: what is said, its figures, and the gravest tone so far."""

    def __init__(self) -> None:
        self.rows: list[Row] = []
        self.said: list[Say] = []
        self.notes: list[str] = []
        self.tone: Tone = "level"

    def row(self, words: str, value: Quantity | str) -> None:
        """Add a figure of the working."""
        self.rows.append(Row(words=words, value=value))

    def say(self, text: str, tone: Tone = "level", **values: Quantity) -> None:
        """Add a sentence with its figures; a graver tone than before is taken over."""
        self.said.append(Say(text, values))
        self.tone = max(self.tone, tone, key=TONES.index)

    def note(self, text: str) -> None:
        """Add what is to be known besides, whatever the figures."""
        self.notes.append(text)

    def done(self, **drawn: float) -> Answer:
        """Return the answer, with what its drawing is made of (SI)."""
        return Answer(
            said=tuple(self.said), tone=self.tone, rows=tuple(self.rows), notes=tuple(self.notes), drawn=drawn
        )


TONES: tuple[Tone, ...] = ("level", "act", "limit")


@dataclass(frozen=True, slots=True, kw_only=True)
class Bench:
    """A bench: its key, words and question; its fields; how it answers (raises InputError naming the field); what a job knows of its fields, with where
    from."""

    key: str
    words: str
    question: str
    asks: tuple[Ask, ...]
    answer: Callable[[Values], Answer]
    of_job: Callable[[Job, JobModel | None], Mapping[str, tuple[float | str, str]]]


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


def nothing_of_job(job: Job, model: JobModel | None) -> Mapping[str, tuple[float | str, str]]:
    """Return nothing: a bench that no job knows anything of."""
    return {}
