"""An answer written into the job, as its own page would store it: heights, loads, ratings, grades, a drive."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django.utils import timezone

from vantok.desk.actions import change
from vantok.desk.load import Desk
from vantok.desk.proving import add
from vantok.desk.readings import Cell, record_reading, standing
from vantok.people.models import User
from vantok.records.jobs.models import Job
from vantok.records.practice.models import Done
from vantok.records.weigh.models import LoadState
from vantok.stages.inspect.actions import record_inspection
from vantok.stages.weigh.actions import save_scales
from vantok_core.base.errors import InputError
from vantok_core.base.units import show
from vantok_core.judge.prove.driving import COURSES

PADS = {"FL": "fl_kg", "FR": "fr_kg", "RL": "rl_kg", "RR": "rr_kg"}
NOTE = {"where": (), "after": "", "after_note": "", "overruled": ""}


def _state(done: Done) -> LoadState:
    found = LoadState.objects.filter(job_id=done.run.job_id, key=done.state).select_related("job__vehicle").first()
    if found is None:
        raise InputError("load", done.state, "the sheet has no such load any more")
    return found


def _tape(person: User, done: Done) -> None:
    for place, value in done.answer["places"].items():
        cell = Cell(state=_state(done), phase=done.phase, datum=done.what, place=place)
        last = standing(done.run.job_id, cell)
        record_reading(person, done.run.job_id, cell, show("length", value, person.units), seen=last.pk if last else 0)  # type: ignore[arg-type]


def _weigh(person: User, done: Done) -> None:
    with change(person, done.run.job_id, "measure"):
        figures: dict[str, float | None] = {PADS[c]: kg for c, kg in done.answer["pads"].items()}
        save_scales(_state(done), figures | {"front_kg": None, "rear_kg": None})


def _tongue(person: User, done: Done) -> None:
    with change(person, done.run.job_id, "measure"):
        save_scales(_state(done), {"tongue_kg": done.answer["tongue_kg"]})


def _plate(person: User, done: Done) -> None:
    with change(person, done.run.job_id, "rate") as job:
        for name, value in done.answer["ratings"].items():
            setattr(job.vehicle, name, value)
        job.vehicle.save()


def _hang(person: User, done: Done) -> None:
    with change(person, done.run.job_id, "rate") as job:
        job.vehicle.rear_droop_m = done.answer["droop_m"]
        job.vehicle.save()


def _look(person: User, done: Done) -> None:
    told = {
        "grade": done.answer["grade"],
        "note": done.answer["words"] if done.answer["grade"] != "fine" else "",
        **NOTE,
    }
    with change(person, done.run.job_id, "inspect") as job:
        record_inspection(person, job, done.what, told)


def _drive(person: User, done: Done) -> None:
    course = done.answer["course"]
    entry = {
        "key": "",
        "moment": done.phase,
        "rater": "owner",
        "course": course,
        "speed_kmh": COURSES[course].speed,
        "state": done.state,
        "grades": done.answer["grades"],
        "words": done.answer[person.units][:200],
        "mark": Desk.look(done.run.job_id).facts.job.mark if done.phase == "after" else "",
        "by": str(person)[:120],
        "at": timezone.now().isoformat(timespec="seconds"),
    }
    with change(person, done.run.job_id, "set") as job:
        add(job, "drives", entry)


def _fit(person: User, done: Done) -> None:
    with change(person, done.run.job_id, "set") as job:
        _on(job, done.what)


def _on(job: Job, code: str) -> None:
    for fitting in job.fittings.all():
        if fitting.kit.get("code") == code and not fitting.done:
            fitting.done = True
            fitting.save()


WRITES: dict[str, Callable[[User, Done], Any]] = {
    "tape": _tape,
    "weigh": _weigh,
    "tongue": _tongue,
    "plate": _plate,
    "hang": _hang,
    "look": _look,
    "drive": _drive,
    "fit": _fit,
}
"""What of an answer is written down, and how."""


def write(person: User, done: Done) -> None:
    """Write an answer into the job. Raises InputError for one that is not written down, and as the job's own pages do."""
    if done.kind not in WRITES:
        raise InputError("act", done.kind, "there is nothing of it to write down")
    WRITES[done.kind](person, done)
