"""Configurations over one piece: their figures beside one another, as ratios to the first, and the sentence.

Source: method section 15; always as before and after, never a promise of safety.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from vantok_core.base.errors import VantokError
from vantok_core.base.say import Quantity
from vantok_core.benches.valves import fade
from vantok_core.judge.ride.figured import FIGURES, Figured
from vantok_core.judge.ride.ready import SEAT_NAME, Configuration, Over, ready, usual_dampers
from vantok_core.model import JobModel
from vantok_core.road.course import PIECES, RATE
from vantok_core.road.figures import RideResult, figures
from vantok_core.road.simulate import Run, damper_power, drive_all

STEP = 1.0 / RATE
"""Step of the integration, s: figures then lie within half a hundredth of those of much finer steps."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Driven:
    """A configuration over a piece: its run and figures, or why there are none."""

    configuration: Configuration
    run: Run | None = None
    result: RideResult | None = None
    problem: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Row:
    """A figure of every configuration, and its ratio to the first, None where it has none."""

    figured: Figured
    values: tuple[Quantity | None, ...]
    ratios: tuple[float | None, ...]

    @property
    def cells(self) -> tuple[tuple[Quantity | None, float | None], ...]:
        """Value and ratio of each configuration."""
        return tuple(zip(self.values, self.ratios, strict=True))


def drive_over(model: JobModel, configurations: Sequence[Configuration], over: Over) -> tuple[Driven, ...]:
    """Return every configuration over a piece; one that cannot be driven says why, and stops no other."""
    return drive_course(model, configurations, [over])[over]


def drive_course(
    model: JobModel, configurations: Sequence[Configuration], course: Sequence[Over]
) -> dict[Over, tuple[Driven, ...]]:
    """Return every configuration over every piece of a course, all on one clock; one that cannot be driven says why, and stops no other."""
    own = usual_dampers(model)
    lanes, problems = {}, {}
    for over in course:
        for n, one in enumerate(configurations):
            try:
                lanes[over, n] = ready(model, one, over, own)
            except VantokError as error:
                problems[over, n] = str(error)
    runs = dict(zip(lanes, drive_all(list(lanes.values()), longest=STEP) if lanes else [], strict=True))
    return {
        over: tuple(
            _driven(one, runs.get((over, n)), problems.get((over, n), "")) for n, one in enumerate(configurations)
        )
        for over in course
    }


def _driven(one: Configuration, run: Run | None, problem: str) -> Driven:
    if run is None:
        return Driven(configuration=one, problem=problem)
    if run.fell is not None:
        words = f"After {run.fell:.1f} s it leaves what the model can speak of: slower, or look at masses and rates."
        return Driven(configuration=one, problem=words)
    return Driven(configuration=one, run=run, result=figures(run))


def rows(driven: Sequence[Driven], piece: str) -> tuple[Row, ...]:
    """Return the table of a piece: figures that say something there, of every configuration."""
    found = []
    for one in FIGURES:
        if not one.on(PIECES[piece]):
            continue
        values = [None if d.result is None else one.of(d.result) for d in driven]
        if all(v is None for v in values):
            continue
        told = tuple(None if v is None else Quantity(v, one.kind) for v in values)
        found.append(Row(figured=one, values=told, ratios=tuple(_ratio(one, values[0], v) for v in values)))
    return tuple(found)


def _ratio(one: Figured, first: float | None, value: float | None) -> float | None:
    if not one.share or first is None or value is None or abs(first) < 1e-9:
        return None
    return value / first


def words_row(driven: Sequence[Driven]) -> tuple[str | None, ...]:
    """Return the standard's word for what is felt at the seat, of each configuration; None where it was not driven, or has no seat."""
    return tuple(d.result.comfort.get(SEAT_NAME) if d.result is not None else None for d in driven)


def fade_row(driven: Sequence[Driven], piece: str) -> tuple[str | None, ...]:
    """Return after how many minutes on a piece without end half the rear damping is gone, of each configuration; None where a piece has an end.

    A comparison, not a forecast. Source: method section 14.
    """
    return tuple(_fades(d.run) if d.run is not None and PIECES[piece].endless else None for d in driven)


def _fades(run: Run) -> str:
    minutes = fade(damper_power(run, "rear")).minutes_to_half
    return "never" if minutes is None else f"{minutes:.0f} min"
