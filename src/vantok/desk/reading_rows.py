"""Heights off a file, stored as readings."""

from __future__ import annotations

from django.utils import timezone

from vantok.desk.translate import DIGITS
from vantok.people.models import User
from vantok.records.jobs.models import Job
from vantok.records.measure.models import Reading, places_known
from vantok.records.weigh.models import LoadState
from vantok_core.base.errors import FileFormatError
from vantok_core.facts import JobReading
from vantok_core.files.readings_csv import HeightRow


def put_readings(user: User, job: Job, rows: list[HeightRow]) -> int:
    """Put a file's readings on top of a job's sheet; one that stands there already is not repeated. Return how many were new.

    Raises FileFormatError for a state or a place the job does not have; then nothing is taken in.
    """
    states = {name: s for s in job.states.all() for name in (s.name.lower(), s.key)}
    standing = {(r.state_id, r.phase, r.datum, r.place): r for r in job.readings.order_by("pk")}
    count = 0
    for n, row in enumerate(rows, 2):
        state = states.get(row.state.lower())
        if state is None:
            raise FileFormatError(f"line {n}, state", f"the job has no state “{row.state}”")
        if row.place not in places_known(row.datum, job.vehicle):
            raise FileFormatError(f"line {n}, place", f"{row.datum} is not read at “{row.place}” on this vehicle")
        old = standing.get((state.pk, row.phase, row.datum, row.place))
        if old is None or old.value_m is None or abs(old.value_m - (row.value_m + row.floor_m)) > 1e-6:
            standing[state.pk, row.phase, row.datum, row.place] = put_row(user, job, state, row)
            count += 1
    return count


def put_row(user: User, job: Job, state: LoadState, row: HeightRow) -> Reading:
    """Store one row of a file as a reading, with the time it was read at."""
    found = as_reading(user, job, state, row)
    found.save()
    return found


def as_reading(user: User, job: Job, state: LoadState, r: JobReading) -> Reading:
    """Return a reading as a file tells it: who read it and when are the file's; whoever imports it is kept beside."""
    tape = round(r.value_m + r.floor_m, DIGITS)
    return Reading(
        job=job,
        state=state,
        phase=r.phase,
        datum=r.datum,
        place=r.place,
        value_m=tape,
        step_m=r.resolution_m,
        floor_m=r.floor_m,
        friction_m=r.friction_m,
        instrument=r.instrument,
        note=r.note,
        text=r.text or f"{tape * 1000:g} mm",
        unit=r.unit or "mm",
        by=user,
        told_by=r.by,
        at=r.at or timezone.now(),
        setting=r.setting,
        flag="twice" if r.twice else "",
        under_front_kg=r.under_kg[0] if r.under_kg else None,
        under_rear_kg=r.under_kg[1] if r.under_kg else None,
        under_basis=r.under_basis,
        unsettled=r.unsettled,
        repeats=list(r.repeats_m),
        told_gain_m=r.told_gain_m,
    )
