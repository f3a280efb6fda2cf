"""A run of a case: what was done, act by act, what was said, and the job as it stands at the end.

Source: method section 19.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from vantok_core.facts import Job
from vantok_core.facts.kinds import Facts, Key, Sentence
from vantok_core.practice.bay.case import Case, Deed

ActKind = Literal[
    "ask",
    "plate",
    "load",
    "settle",
    "turn",
    "tape",
    "hang",
    "weigh",
    "tongue",
    "look",
    "drive",
    "log",
    "repair",
    "fit",
    "say",
]
MINUTES: Mapping[ActKind, float] = {
    "ask": 2.0,
    "plate": 3.0,
    "load": 10.0,
    "settle": 2.0,
    "turn": 6.0,
    "tape": 4.0,
    "hang": 12.0,
    "weigh": 15.0,
    "tongue": 8.0,
    "look": 4.0,
    "drive": 15.0,
    "log": 10.0,
    "repair": 0.0,
    "fit": 0.0,
    "say": 1.0,
}
"""What each act takes, minutes; a repair and a kit take their own hours."""
EVIDENCE: tuple[ActKind, ...] = ("tape", "weigh", "tongue", "look", "hang", "drive", "plate")
"""Acts that tell something of the vehicle."""
REPAIR_HOURS = 2.5


class Act(Facts):
    """One act: its kind; state: in which load, by key; what: the datum, area, question, course or kit it is about;
    minutes it took; phase: before or after a kit went on."""

    kind: ActKind
    state: Annotated[str, Field(max_length=30)] = ""
    what: Annotated[str, Field(max_length=60)] = ""
    minutes: Annotated[float, Field(ge=0.0, le=10_000.0)] = 0.0
    phase: Literal["before", "after"] = "before"


class Said(Facts):
    """What the trainee found: the cause, what is to be done, and a sentence of their own; seen: whether the judgement had been shown before."""

    cause: Key
    deed: Deed
    words: Sentence = ""
    seen: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Standing:
    """How the vehicle stands in the bay now: its load, whether it was rolled and bounced since it was last loaded, turned round, or a kit went on (how many
    times it came to rest before: epoch), turned: nose out of the bay."""

    state: str
    epoch: int = 0
    settled: bool = False
    turned: bool = False


def standing_after(case: Case, acts: Sequence[Act]) -> Standing:
    """Return how the vehicle stands after some acts; it comes empty."""
    empty = case.told.empty
    now = Standing(state=empty.key if empty else case.told.states[0].key)
    for act in acts:
        epoch = now.epoch + 1
        if act.kind == "load":
            now = Standing(state=act.what, epoch=epoch, turned=now.turned)
        elif act.kind == "turn":
            now = Standing(state=now.state, epoch=epoch, turned=not now.turned)
        elif act.kind in ("fit", "hang", "repair"):
            now = Standing(state=now.state, epoch=epoch, turned=now.turned)
        elif act.kind in ("settle", "drive"):
            now = Standing(state=now.state, epoch=epoch, settled=True, turned=now.turned)
    return now


@dataclass(frozen=True, slots=True, kw_only=True)
class Run:
    """A run as it is handed in."""

    case: Case
    acts: tuple[Act, ...]
    job: Job
    said: Said | None = None

    def did(self, kind: ActKind, what: str = "", *, state: str = "", phase: str = "") -> bool:
        """Tell whether something was done (what, state, phase: empty for any)."""
        return any(self._is(act, kind, what, state, phase) for act in self.acts)

    @staticmethod
    def _is(act: Act, kind: ActKind, what: str, state: str, phase: str) -> bool:
        return (
            act.kind == kind
            and (not what or act.what == what)
            and (not state or act.state == state)
            and (not phase or act.phase == phase)
        )

    @property
    def minutes(self) -> float:
        """What it took, minutes."""
        return sum(act.minutes for act in self.acts)

    @property
    def cured(self) -> frozenset[str]:
        """The areas that were repaired."""
        return frozenset(act.what for act in self.acts if act.kind == "repair")

    @property
    def on(self) -> tuple[str, ...]:
        """The kits that went on, by code."""
        return tuple(act.what for act in self.acts if act.kind == "fit")
