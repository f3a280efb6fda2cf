"""Readings as CSV, out of a job and into it."""

from __future__ import annotations

from typing import Any, ClassVar

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.utils import timezone

from vantok.jobs.models import Job
from vantok.jobs.stage import StageView
from vantok.jobs.to_core import DIGITS
from vantok.measure.models import Reading
from vantok.measure.sheet import places_of
from vantok.people.models import User
from vantok.weigh.models import LoadState
from vantok_core.errors import FileFormatError, VantokError
from vantok_core.files.readings_csv import HeightRow, read_readings, write_readings

MOST_BYTES = 5_000_000
"""Largest file of text that is looked at."""


def text_of(upload: Any) -> str:
    """Return an uploaded file's text. Raises FileFormatError when it is too large, UnicodeDecodeError when it is none."""
    if (upload.size or 0) > MOST_BYTES:
        raise FileFormatError("file", f"a file may have {MOST_BYTES // 1_000_000} megabytes at most")
    return str(upload.read().decode("utf-8"))


def csv_answer(text: str, name: str) -> HttpResponse:
    """Return a CSV file to keep."""
    response = HttpResponse(text, content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = f'attachment; filename="{name}.csv"'
    return response


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
        if row.place not in places_of(row.datum, job.vehicle):
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
        job=job, state=state, phase=row.phase, datum=row.datum, place=row.place, value_m=tape, step_m=row.resolution_m,
        floor_m=row.floor_m, friction_m=row.friction_m, instrument=row.instrument, note=row.note,
        text=row.text or f"{tape * 1000:g} mm", unit=row.unit or "mm", by=user, told_by=row.by, at=row.at or timezone.now(),
    )  # fmt: skip


class ReadingsCsv(StageView):
    """The job's readings as a file."""

    stage = "measure"
    rights: ClassVar[str] = "measure"

    def get(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        """Send them."""
        return csv_answer(write_readings([self.desk.job]), f"readings-{self.desk.record.number}")

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Take a file's readings in, all or none."""
        upload = request.FILES.get("file")
        try:
            if upload is None:
                raise FileFormatError("file", "choose a CSV file first")
            rows = read_readings(text_of(upload))
            with self.change("measure") as record:
                if record.began is not None and any(row.phase == "before" for row in rows):
                    raise FileFormatError(
                        "file", "work has begun, and the baseline stands: type the figures, with the reason"
                    )
                count = put_readings(self.person, record, rows)
            messages.success(
                request, f"{count} readings taken in." if count else "Every reading of the file stands there already."
            )
        except UnicodeDecodeError:
            messages.error(request, "Nothing was taken in. This file is not text; readings are CSV.")
        except VantokError as error:
            messages.error(request, f"Nothing was taken in. {error}")
        return HttpResponseRedirect(reverse("measure", args=[pk]))
