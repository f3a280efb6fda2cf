"""The report on screen and as PDF."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.template.loader import render_to_string
from django.urls import reverse

from vantok.drawing.side import strip_svg
from vantok.jobs.desk import Desk, refresh
from vantok.jobs.models import COMPLAINTS
from vantok.jobs.stage import StageView
from vantok.measure.models import Photo
from vantok.prove.tables import proof_rows
from vantok_core.judge.inspect import AREAS

CAUTIONS = (
    "No spring, air spring or insert raises a rating. The plate on the vehicle still rules; stay within every axle, tyre and hitch limit.",
    "Set the pressure for each load, and never drive under the minimum or over the maximum given above.",
    "Have axle-bolt nuts and the kit's fasteners checked after the first short distance, to the maker's torque.",
    "Headlamps and wheel alignment are checked at the height the vehicle is now driven at.",
    "Work under a raised vehicle only on stands on level ground; let the air out before touching a bag or its line.",
    "The maker's instructions and local rules come before this sheet.",
)


def _set_in(desk: Desk) -> str:
    """Return the name of the state in which the kit is set."""
    fitting = desk.job.fitting
    state = desk.job.state(fitting.state) if fitting else None
    return state.name if state else "the judged load"


def _photos(desk: Desk) -> list[Photo]:
    """Return the job's photographs with the words of the inspection area they show."""
    found = list(desk.record.photos.filter(gone=False).select_related("reading__state", "by"))
    for photo in found:
        photo.words = AREAS[photo.area].words if photo.area in AREAS else ""  # type: ignore[attr-defined]
    return found


class Report(StageView):
    """The whole job on one or two pages."""

    stage = "report"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add what the report tells."""
        desk = self.desk
        said = dict(COMPLAINTS)
        readers = sorted({r.by for r in desk.job.readings if r.by})
        times = [r.at for r in desk.job.readings if r.at]
        return super().get_context_data(
            complaints=[said.get(c, c) for c in desk.record.complaints], diagnosis=desk.diagnosis, proof=desk.proof,
            tables=proof_rows(desk), fitting=desk.job.fitting, set_in=_set_in(desk), cautions=CAUTIONS, readers=readers,
            first=min(times) if times else None, last=max(times) if times else None,
            margins=[(v.state.name, m) for v in (desk.diagnosis.views if desk.diagnosis else ()) for m in v.margins],
            strip=strip_svg(desk.strip(), self.units) if desk.diagnosis else "", photos=_photos(desk),
            readings=[r for r in desk.record.readings.all() if r.value_m is not None], **kwargs,
        )  # fmt: skip

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Close or reopen the job."""
        record = self.desk.record
        record.done = request.POST.get("done") == "1"
        record.save()
        refresh(record)
        return HttpResponseRedirect(reverse("board") if record.done else reverse("report", args=[pk]))


class ReportPdf(Report):
    """The same as PDF."""

    def get(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        """Send the PDF."""
        from vantok.handover.pdf import to_pdf  # noqa: PLC0415 - slow to load, and needed only here

        context = self.get_context_data(**kwargs) | {"units": self.units, "paper": True}
        html = render_to_string("handover/paper.html", context)
        response = HttpResponse(to_pdf(html), content_type="application/pdf")
        response["Content-Disposition"] = f'inline; filename="report-{self.desk.record.number}.pdf"'
        return response
