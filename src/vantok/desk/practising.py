"""A practice job's vehicle as it stands in the bay: its case, what was done to it so far, what is on it, what it truly stands on the scales with."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from vantok.desk.load import Desk
from vantok.records.practice.models import Done, OwnCase, Run
from vantok_core.practice.bay import answers
from vantok_core.practice.bay.case import Case
from vantok_core.practice.bay.run import MINUTES, Act, standing_after
from vantok_core.practice.bay.templates import case_by_code
from vantok_core.practice.bay.truth import Now, now_of


def case_of(code: str) -> Case:
    """Return a case by its code: the shop's own, shipped, or drawn. Raises InputError where there is none."""
    own = OwnCase.objects.filter(code=code).first()
    return own.to_core() if own is not None else case_by_code(code)


def acts_of(run: Run) -> tuple[Act, ...]:
    """Return a run's acts in order."""
    return tuple(row.to_core() for row in run.acts.all())


def stands(desk: Desk, acts: Iterable[Act]) -> Now:
    """Return which kits are on, set as they are now, and what was cured."""
    done = list(acts)
    return now_of(
        desk.facts.job,
        cured=[a.what for a in done if a.kind == "repair"],
        on=[a.what for a in done if a.kind == "fit"],
    )


def note_weighed(job_id: int, kind: str) -> None:
    """Note that something was read off the bay's instruments (kind: pads, or the tongue scale), with the minutes it takes."""
    run = Run.objects.filter(job_id=job_id, handed_in=None).first()
    if run is not None:
        acts, what = acts_of(run), "tongue" if kind == "TONGUE" else "weigh"
        phase = "after" if any(a.kind == "fit" for a in acts) else "before"
        at = standing_after(case_of(run.code), acts)
        Done.objects.create(run=run, kind=what, state=at.state, minutes=MINUTES[what], phase=phase)  # type: ignore[index]


@dataclass(frozen=True, slots=True, kw_only=True)
class OnScales:
    """What stands on the bay's instruments: by wheel and on the ball (kg), in which load (its key), and since when it has."""

    pads: tuple[float, float, float, float]
    tongue: float
    state: str
    since: datetime


def on_scales(job_id: int) -> OnScales | None:
    """Return what stands on the instruments of a practice job; None for a job of the shop's."""
    run = Run.objects.filter(job_id=job_id).first()
    if run is None:
        return None
    case, acts = case_of(run.code), acts_of(run)
    at = standing_after(case, acts)
    on = answers.weighed(case, at, stands(Desk.look(job_id), acts))
    moved = run.acts.filter(kind__in=("load", "turn", "fit")).last()
    return OnScales(
        pads=(on["FL"], on["FR"], on["RL"], on["RR"]),
        tongue=answers.tongue_weighed(case, at) or 0.0,
        state=at.state,
        since=moved.at if moved else run.began,
    )
