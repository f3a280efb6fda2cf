"""The sheet's readings as a file, out and in."""

from __future__ import annotations

from typing import Any, ClassVar

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse

from vantok.desk.reading_rows import put_readings
from vantok.desk.stage import StageView
from vantok.fields.files import csv_answer, text_of
from vantok_core.base.errors import FileFormatError, VantokError
from vantok_core.files.readings_csv import read_readings, write_readings


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
            with self.change() as record:
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
