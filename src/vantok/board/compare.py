"""Two jobs, or two versions of one, side by side."""

from __future__ import annotations

from datetime import datetime, timedelta
from functools import partial
from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from django.utils.dateparse import parse_datetime
from django.views.generic import TemplateView

from vantok.desk.load import Desk
from vantok.desk.versions import job_at
from vantok.fields.files import text_of
from vantok.fields.finding import job_named, not_one
from vantok.records.choose.models import Fitting
from vantok.records.jobs.models import Inspection, Job
from vantok.records.measure.models import Reading
from vantok.records.weigh.models import LoadState
from vantok_core import facts as core
from vantok_core.base.errors import FileFormatError, VantokError
from vantok_core.files.job_file import read_job
from vantok_core.judge.visits.two_jobs import side_by_side

OFFERED, SAME = 40, 6
"""Moments of a job to choose from; other visits of its vehicle that are named at once: any other by its number."""
_NOTHING: tuple[core.Job | None, str] = (None, "")


class Compare(TemplateView):
    """A job beside another one, beside itself at a moment, or beside a job file."""

    template_name = "jobs/compare.html"
    rights = "own"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the sections, where something to hold it against was chosen."""
        desk = Desk.look(self.kwargs["pk"])
        record = desk.record
        other, words = kwargs.pop("file", None) or self._asked(record)
        same = Job.objects.exclude(pk=record.pk).filter(vehicle=record.vehicle).only("number", "opened")
        return super().get_context_data(
            record=record,
            other=words,
            sections=side_by_side(other, desk.job) if other is not None else (),
            same=same.order_by("-opened")[:SAME],
            moments=desk.kept("moments", partial(_moments, record)),
            beside=words.partition(",")[0],
            at=_moment(self.request.GET.get("at", "")),
            **kwargs,
        )

    def _asked(self, record: Job) -> tuple[core.Job | None, str]:
        """Return what was asked for to hold it against, with its words; nothing where nothing was, or it is not there."""
        number, at = self.request.GET.get("with", "").strip(), self.request.GET.get("at", "")
        found = job_named(number)
        if found is not None:
            other = Desk.look(found.pk)
            return other.job, f"{other.record.number}, {other.record.vehicle}"
        if number:
            messages.error(self.request, not_one(number))
        when = _moment(at)
        if when is None:
            return None, ""
        return job_at(record.pk, when), f"as it stood on {timezone.localtime(when):%d %b %Y, %H:%M}"

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Hold it against a job file; nothing of it is stored."""
        upload, told = request.FILES.get("file"), _NOTHING
        try:
            if upload is None:
                raise FileFormatError("file", "choose a job file first")
            told = read_job(text_of(upload)), f"the file {upload.name}"
        except (VantokError, UnicodeDecodeError) as error:
            messages.error(
                request, str(error) if isinstance(error, VantokError) else "This file is not text; a job file is."
            )
        return self.render_to_response(self.get_context_data(file=told, pk=pk))


def _moments(record: Job) -> list[datetime]:
    """Return the moments just before a change of the job, or of what hangs on it, the newest first."""
    found = set(Reading.objects.filter(job=record).values_list("at", flat=True))
    for history in (
        record.history.all(),
        LoadState.history.filter(job_id=record.pk),
        Inspection.history.filter(job_id=record.pk),
        Fitting.history.filter(job_id=record.pk),
    ):
        found |= set(history.order_by("-history_date").values_list("history_date", flat=True)[:OFFERED])
    by_second = {at.replace(microsecond=0): at for at in sorted(found, reverse=True)}
    return sorted((at - timedelta(microseconds=1) for at in by_second.values()), reverse=True)[:OFFERED]


def _moment(text: str) -> datetime | None:
    """Return a moment as an address or a form writes it, None where it is none."""
    try:
        found = parse_datetime(text.replace(" ", "+"))
    except ValueError:
        return None
    if found is None:
        return None
    return found if timezone.is_aware(found) else timezone.make_aware(found)
