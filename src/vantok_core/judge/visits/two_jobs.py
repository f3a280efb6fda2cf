"""Two jobs, or two versions of one, side by side: what was known, loaded, read and set, and what of it differs beyond its bands.

Source: method sections 1 (readings on one datum only) and 3 (bands).
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from math import hypot

from pydantic import BaseModel

from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.names import AXLES_WHOLE, DATUMS, PLACES
from vantok_core.base.say import Quantity, length, mass
from vantok_core.facts import Fitting, Job, JobReading, JobState
from vantok_core.facts.classes import BODIES, SPRINGS, TYRES
from vantok_core.facts.declared import declared, figures
from vantok_core.facts.vehicle import JobVehicle
from vantok_core.judge.visits.thresholds import LOAD_WORTH
from vantok_core.kits.registry import family_of
from vantok_core.loads.plan import state_load
from vantok_core.model import reading_own_sigma

Side = Quantity | str | None
WORDS = {key: one.words for classes in (BODIES, SPRINGS, TYRES) for key, one in classes.items()}
PHASES = {"before": "as it came", "after": "with the kit", "off": "taken off"}


@dataclass(frozen=True, slots=True, kw_only=True)
class Pair:
    """One line: its words, either side (None: not known there), the difference (None: none that can be told), and whether it is one."""

    words: str
    left: Side
    right: Side
    change: Quantity | None = None
    differs: bool = False

    @property
    def sides(self) -> tuple[Side, Side]:
        """Both sides."""
        return self.left, self.right


@dataclass(frozen=True, slots=True, kw_only=True)
class Section:
    """Lines of a kind; lacking: what a side without one is called."""

    words: str
    rows: tuple[Pair, ...]
    lacking: str = "not known"


def side_by_side(one: Job, other: Job) -> tuple[Section, ...]:
    """Return both, section by section; a section without lines is left out. A height's difference inside both tapes' band is not called one."""
    found = (
        Section(words="The vehicle", rows=tuple(_vehicle(one.vehicle, other.vehicle))),
        Section(words="Loads on the axles", rows=tuple(_loads(one, other))),
        Section(words="Heights", rows=tuple(_heights(one, other))),
        Section(words="Kits and settings", rows=tuple(_kits(one, other)), lacking="none"),
        Section(words="Complaints", rows=tuple(_complaints(one, other)), lacking="not complained of"),
    )
    return tuple(section for section in found if section.rows)


def _vehicle(one: JobVehicle, other: JobVehicle) -> Iterator[Pair]:
    """Yield the facts that are not alike; what both do not know is none."""
    for name, told in declared(JobVehicle).items():
        left, right = getattr(one, name), getattr(other, name)
        if left == right or any(isinstance(value, (tuple, dict, BaseModel)) for value in (left, right)):
            continue
        sides = _side(name, left), _side(name, right)
        if sides != (None, None):
            yield Pair(
                words=told.words, left=sides[0], right=sides[1], change=_moved(*sides), differs=None not in sides
            )


def _moved(left: Side, right: Side) -> Quantity | None:
    if not isinstance(left, Quantity) or not isinstance(right, Quantity):
        return None
    return Quantity(right.value - left.value, left.kind, signed=True)


def _side(name: str, value: float | str | None) -> Side:
    if value is None or value == "":
        return None
    if isinstance(value, bool):
        return "yes" if value else "no"
    of = figures(JobVehicle).get(name)
    return Quantity(float(value) * of.si, of.kind) if of else WORDS.get(str(value), str(value).replace("_", " "))


def _states(one: Job, other: Job) -> list[tuple[str, JobState | None, JobState | None]]:
    """Return the states of both by name; the empty ones belong together whatever they are called."""
    left = {("" if s.empty else s.name.lower()): s for s in one.states if not s.past}
    right = {("" if s.empty else s.name.lower()): s for s in other.states if not s.past}
    return [((left.get(n) or right[n]).name, left.get(n), right.get(n)) for n in dict.fromkeys((*left, *right))]


def _loads(one: Job, other: Job) -> Iterator[Pair]:
    for name, mine, theirs in _states(one, other):
        loads = [state_load(job, state) if state is not None else None for job, state in ((one, mine), (other, theirs))]
        for axle in ("front", "rear"):
            left, right = (getattr(load, axle) if load is not None else None for load in loads)
            if left is None and right is None:
                continue
            change = right - left if left is not None and right is not None else None
            yield Pair(
                words=f"{name}, {axle} axle",
                left=None if left is None else mass(left),
                right=None if right is None else mass(right),
                change=None if change is None else mass(change, signed=True),
                differs=change is not None and abs(change) > LOAD_WORTH,
            )


def _heights(one: Job, other: Job) -> Iterator[Pair]:
    """Yield each height that either has read, on one datum, in one state, at one place."""
    for name, mine, theirs in _states(one, other):
        cells = [
            {(r.phase, r.datum, r.place) for r in job.readings if state is not None and r.state == state.key}
            for job, state in ((one, mine), (other, theirs))
        ]
        for phase, datum, place in sorted(
            cells[0] | cells[1], key=lambda c: (list(PHASES).index(c[0]), list(DATUMS).index(c[1]), c[2])
        ):
            reads = [
                job.read(state.key, place, datum, phase) if state is not None else None
                for job, state in ((one, mine), (other, theirs))
            ]
            where = PLACES.get(place) or AXLES_WHOLE.get(place) or place.replace("-", " ")
            words = f"{name}, {DATUMS[datum].words}, {where}" + ("" if phase == "before" else f", {PHASES[phase]}")
            yield _height(words, (one, reads[0]), (other, reads[1]))


def _height(words: str, mine: tuple[Job, JobReading | None], theirs: tuple[Job, JobReading | None]) -> Pair:
    """Return a height's line; a difference is one beyond both tapes' band."""
    (one, left), (other, right) = mine, theirs
    if left is None or right is None:
        return Pair(
            words=words, left=length(left.value_m) if left else None, right=length(right.value_m) if right else None
        )
    moved = right.value_m - left.value_m
    differs = abs(moved) > NINE_IN_TEN * hypot(reading_own_sigma(one, left), reading_own_sigma(other, right))
    return Pair(
        words=words,
        left=length(left.value_m),
        right=length(right.value_m),
        change=length(moved, signed=True),
        differs=differs,
    )


def _kits(one: Job, other: Job) -> Iterator[Pair]:
    for n in range(max(len(one.parts), len(other.parts))):
        left, right = (job.parts[n] if n < len(job.parts) else None for job in (one, other))
        names = [part.kit.name if part is not None else None for part in (left, right)]
        yield Pair(
            words=f"kit {n + 1}", left=names[0], right=names[1], differs=None not in names and names[0] != names[1]
        )
        settings = [_settings(part) if part is not None else {} for part in (left, right)]
        for words in dict.fromkeys((*settings[0], *settings[1])):
            mine, theirs = settings[0].get(words), settings[1].get(words)
            change = Quantity(theirs.value - mine.value, mine.kind, signed=True) if mine and theirs else None
            yield Pair(
                words=words,
                left=mine,
                right=theirs,
                change=change,
                differs=change is not None and abs(change.value) > 1e-9,
            )


def _settings(part: Fitting) -> dict[str, Quantity]:
    """Return a kit's settings by side, in words."""
    fields = {f.name: f for f in family_of(part.kit).settings}
    return {
        f"{fields[name].words}, {side}": Quantity(value, fields[name].kind)
        for name, pair in part.setting.items()
        if name in fields
        for side, value in zip(("left", "right"), pair, strict=True)
    }


def _complaints(one: Job, other: Job) -> Iterator[Pair]:
    told = [{c.code: c.answer or "open" for c in job.complaints} for job in (one, other)]
    for code in dict.fromkeys((*told[0], *told[1])):
        left, right = (side.get(code) for side in told)
        yield Pair(
            words=code.replace("_", " "),
            left=left,
            right=right,
            differs=left is not None and right is not None and left != right,
        )
