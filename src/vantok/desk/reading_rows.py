"""Heights off a file, stored as readings."""

from __future__ import annotations

from django.utils import timezone

from vantok.desk.translate import DIGITS
from vantok.people.models import User
from vantok.records.jobs.models import Job
from vantok.records.measure.models import Reading, places_known
from vantok.records.weigh.models import LoadState
from vantok_core.base.errors import FileFormatError
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
    tape = round(row.value_m + row.floor_m, DIGITS)
    return Reading.objects.create(
        job=job,
        state=state,
        phase=row.phase,
        datum=row.datum,
        place=row.place,
        value_m=tape,
        step_m=row.resolution_m,
        floor_m=row.floor_m,
        friction_m=row.friction_m,
        instrument=row.instrument,
        note=row.note,
        text=row.text or f"{tape * 1000:g} mm",
        unit=row.unit or "mm",
        by=user,
        told_by=row.by,
        at=row.at or timezone.now(),
        unsettled=row.unsettled,
        repeats=list(row.repeats_m),
        told_gain_m=row.told_gain_m,
    )
