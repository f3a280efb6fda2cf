"""A vehicle's heights across its jobs: gathered, as a table and lines, and taken in from a file."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.db import transaction
from django.utils import timezone

from vantok.desk.opening import free_key, next_number
from vantok.desk.reading_rows import put_row
from vantok.desk.settle import settled
from vantok.people.models import User
from vantok.records.garage.models import Vehicle
from vantok.records.jobs.models import Job
from vantok.records.measure.models import Reading
from vantok.records.weigh.models import LoadState
from vantok_core.base.errors import FileFormatError
from vantok_core.files.readings_csv import HeightRow
from vantok_core.judge.visits.vehicle_history import PastHeight

MOST_VISITS = 500
"""Earlier visits that one file may bring."""


AXLES = (("front", ("FL", "FR")), ("rear", ("RL", "RR")))


def past_heights(vehicle: Vehicle) -> list[PastHeight]:
    """Return the standing heights of all the vehicle's jobs, oldest first."""
    rows = Reading.objects.filter(job__vehicle=vehicle).select_related("job", "state").order_by("pk")
    standing = {(r.job_id, r.state_id, r.phase, r.datum, r.place): r for r in rows}
    return sorted(
        (
            PastHeight(
                job=r.job.number,
                at=r.at,
                state=r.state.name,
                empty=r.state.empty,
                phase=r.phase,
                datum=r.datum,
                place=r.place,
                value_m=r.value_m - r.floor_m,
            )
            for r in standing.values()
            if r.value_m is not None
        ),
        key=lambda p: p.at,
    )


def visits(history: list[PastHeight], datum: str) -> list[dict[str, Any]]:
    """Return a row a job, state and phase on a datum: when, the four heights, the axle means (None where not both sides)."""
    found: dict[tuple[str, str, str], list[PastHeight]] = {}
    for one in history:
        if one.datum == datum:
            found.setdefault((one.job, one.state, one.phase), []).append(one)
    rows = []
    for (job, state, phase), heights in found.items():
        by_place = {h.place: h.value_m for h in heights}
        means = {
            axle: sum(by_place[p] for p in pair) / 2 if set(pair) <= by_place.keys() else None for axle, pair in AXLES
        }
        rows.append(
            {
                "job": job,
                "state": state,
                "phase": phase,
                "at": max(h.at for h in heights),
                "heights": by_place,
                "means": means,
            }
        )
    return rows


def lines(rows: list[dict[str, Any]]) -> list[tuple[str, list[tuple[datetime, float]]]]:
    """Return the plot's lines: an axle in a state, before or with the kit, over the visits."""
    found: dict[str, list[tuple[datetime, float]]] = {}
    for row in rows:
        for axle, mean in row["means"].items():
            if mean is not None:
                name = f"{axle}, {row['state'].lower()}{' with the kit' if row['phase'] == 'after' else ''}"
                found.setdefault(name, []).append((row["at"], mean))
    return [(name, sorted(line)) for name, line in found.items()]


def take_history(user: User, vehicle: Vehicle, rows: list[HeightRow]) -> int:
    """Put heights of earlier visits to a vehicle, a closed job for each number the file names; return how many jobs were made.

    Raises FileFormatError for a row without a date, of a job that is here already, or where a job has two empty states; then
    nothing is taken in.
    """
    _one_empty_each(rows)
    with transaction.atomic():
        jobs = _take_rows(user, vehicle, rows)
    for job in jobs:
        settled(job.pk)
    return len(jobs)


def _one_empty_each(rows: list[HeightRow]) -> None:
    """Raise FileFormatError where a job's rows call two states empty, or one state both empty and not."""
    empties: dict[str, str] = {}
    told: dict[tuple[str, str], bool] = {}
    for n, row in enumerate(rows, 2):
        if told.setdefault((row.job, row.state), row.empty) != row.empty:
            raise FileFormatError(f"line {n}, empty", f"“{row.state}” is called empty in one line and not in another")
        if row.empty and empties.setdefault(row.job, row.state) != row.state:
            raise FileFormatError(
                f"line {n}, empty", f"job {row.job} has two empty states: “{empties[row.job]}” and “{row.state}”"
            )


def _take_rows(user: User, vehicle: Vehicle, rows: list[HeightRow]) -> list[Job]:
    jobs: dict[str, Job] = {}
    states: dict[tuple[str, str], LoadState] = {}
    points = {p["key"] for p in vehicle.points}
    for n, row in enumerate(rows, 2):
        if row.at is None:
            raise FileFormatError(f"line {n}, at", "an earlier visit needs its date")
        if row.datum == "ground_point" and row.place not in points:
            raise FileFormatError(f"line {n}, place", f"the vehicle has no point “{row.place}”")
        if row.job not in jobs:
            if row.job and Job.objects.filter(number=row.job).exists():
                raise FileFormatError(
                    f"line {n}, job", f"job {row.job} is here already; take its readings in on its Measure page"
                )
            jobs[row.job] = job = Job.objects.create(
                number=row.job or next_number(), vehicle=vehicle, opened_by=user, done=True
            )
            Job.objects.filter(pk=job.pk).update(opened=_aware(row).at)
            if len(jobs) > MOST_VISITS:
                raise FileFormatError(f"line {n}, job", f"more than {MOST_VISITS} visits in one file")
        job = jobs[row.job]
        if (row.job, row.state) not in states:
            states[row.job, row.state] = LoadState.objects.create(
                job=job, key=free_key(job, row.state), name=row.state, empty=row.empty, order=0 if row.empty else 1
            )
        put_row(user, job, states[row.job, row.state], _aware(row))
    return list(jobs.values())


def _aware(row: HeightRow) -> HeightRow:
    """Return a row whose time has a zone: the shop's, where the file gave none."""
    if row.at is None or row.at.tzinfo is not None:
        return row
    return row.model_copy(update={"at": timezone.make_aware(row.at)})
