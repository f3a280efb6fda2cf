"""The report on screen and as PDF."""

from __future__ import annotations

from typing import Any, ClassVar

from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import get_object_or_404
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils import timezone
from django.utils.functional import SimpleLazyObject

from vantok.desk.load import Desk
from vantok.desk.look import Look
from vantok.desk.paper import paper
from vantok.desk.parts import part_rows
from vantok.desk.proof_tables import proof_rows
from vantok.desk.stage import StageView, frame
from vantok.drawing.side import strip_svg
from vantok.fields.ids import identity
from vantok.people.rights import RefusedError
from vantok.records.handover.models import Issue
from vantok.records.jobs.models import COMPLAINTS
from vantok.records.measure.models import Photo, Reading
from vantok_core.base.say import Say
from vantok_core.base.units import System
from vantok_core.judge.hand_over import open_points
from vantok_core.judge.inspect import AREAS, marked_baseline
from vantok_core.judge.result import result_sentences
from vantok_core.kits.already import fitted_effects, told
from vantok_core.kits.registry import family_of

ANSWERS = {"cured": "cured", "better": "better", "same": "no better", "left": "left as it is, agreed"}
"""What can have become of a complaint, in words."""
CAUTIONS = (
    "No spring, air spring or insert raises a rating. The plate on the vehicle still rules; stay within every axle, tyre and hitch limit.",
    "Have axle-bolt nuts and the kit's fasteners checked after the first short distance, to the maker's torque.",
    "Headlamps and wheel alignment are checked at the height the vehicle is now driven at.",
    "Work under a raised vehicle only on stands on level ground; let the air out before touching a bag or its line.",
    "The maker's instructions and local rules come before this sheet.",
)


def _offer(desk: Desk) -> dict[str, Any] | None:
    """Return what an assessment ends in: the choice that is offered, and why; None for a job in which something is fitted."""
    found = desk.shortlist if desk.job.assessment else None
    if found is None:
        return None
    choice = found.choice(found.recommended)
    return {"choice": choice, "reason": found.reason, "state": found.state, "target": found.target}


def _cautions(desk: Desk) -> tuple[str, ...]:
    parts = desk.job.parts
    care = dict.fromkeys(line for part in parts for line in family_of(part.kit).care)
    return (*care, *CAUTIONS) if parts else CAUTIONS[:1] + CAUTIONS[-1:]


def _photos(desk: Desk) -> list[Photo]:
    """Return the job's photographs whose files are there, with the words of the inspection area they show."""
    found = list(desk.record.photos.filter(gone=False).select_related("reading__state", "by"))
    for photo in found:
        photo.words = AREAS[photo.area].words if photo.area in AREAS else ""  # type: ignore[attr-defined]
        photo.there = photo.file.storage.exists(photo.file.name or "")  # type: ignore[attr-defined]
    return found


def _baselines(desk: Desk) -> list[tuple[Reading, Reading]]:
    """Return the readings of the baseline that were changed after work began, each with the one before it."""
    found, before = [], dict[tuple[object, ...], Reading]()
    rows = Reading.objects.filter(job=desk.record, phase="before").select_related("by", "state").order_by("pk")
    for row in rows:
        cell = (row.state_id, row.datum, row.place)
        if row.reason and cell in before:
            found.append((before[cell], row))
        before[cell] = row
    return found


class Report(StageView):
    """The whole job on one or two pages; one that was handed over stays as it was then."""

    stage = "report"
    rights: ClassVar[dict[str, str]] = {"hand-over": "hand over", "reopen": "reopen", "answers": "answer"}

    @property
    def issue(self) -> Issue | None:
        """The issue that was handed over, while the job is not back in the shop; an earlier one where asked for."""
        asked = identity(self.request.GET.get("issue"))
        issues = self.desk.record.issues.select_related("by")
        if asked:
            return get_object_or_404(issues, number=asked)
        return issues.last() if self.desk.record.done else None

    def body(self) -> dict[str, Any]:
        """Return what the report tells, worked out from the job as it stands."""
        desk = self.desk
        said = dict(COMPLAINTS)
        answers = desk.record.answers
        return {
            "complaints": [{"words": said.get(c, c), "answer": ANSWERS.get(answers.get(c, ""), "")} for c in desk.record.complaints],
            "diagnosis": desk.diagnosis, "proof": desk.proof, "tables": proof_rows(desk), "fitting": desk.job.fitting,
            "cautions": _cautions(desk), "parts": part_rows(desk),
            "result": result_sentences(desk.job, desk.diagnosis, desk.proof) if desk.diagnosis else [],
            "offer": _offer(desk), "already": desk.worked.already, "effects": [told(e) for e in fitted_effects(desk.job) if not e.axle],
            "failures": [f for f in desk.worked.failures if f.said], "benches": desk.job.proving.benches, "marked": marked_baseline(desk.job),
            "margins": [(v.state.name, m) for v in (desk.diagnosis.views if desk.diagnosis else ()) for m in v.margins],
            "strip": SimpleLazyObject(lambda: strip_svg(desk.strip(), self.units) if desk.diagnosis else ""),
            "photos": SimpleLazyObject(lambda: _photos(desk)), "baselines": SimpleLazyObject(lambda: _baselines(desk)),
            "readings": [r for r in desk.record.readings.all() if r.value_m is not None],
        }  # fmt: skip

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the frozen report, or what the report tells now with what is still open."""
        issue, record = self.issue, self.desk.record
        more: dict[str, Any] = {"issue": issue, "issues": list(record.issues.select_related("by"))}
        if issue is None:
            said = dict(COMPLAINTS)
            more |= self.body() | {
                "open_points": self._open(),
                "answers": list(ANSWERS.items()),
            }
            more["asked"] = [
                {"code": c, "words": said.get(c, c), "answer": record.answers.get(c, "")} for c in record.complaints
            ]
        return super().get_context_data(**more, **kwargs)

    def _open_points(self) -> list[Say]:
        found = self.desk.diagnosis
        return open_points(self.desk.job, self.desk.proof, dict(COMPLAINTS), found.unweighed if found else ())

    def _open(self) -> list[Say]:
        """Return what is open, worked out once for a desk."""
        kept: dict[object, list[Say]] = self.desk.drawings
        if "open points" not in kept:
            kept["open points"] = self._open_points()
        return kept["open points"]

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Answer the complaints, hand over, or take the job back into the shop."""
        action = request.POST.get("action", "")
        if action == "answers":
            with self.change("answer") as record:
                told = {c: request.POST.get(f"answer-{c}", "") for c in record.complaints}
                record.answers = {c: a for c, a in told.items() if a in ANSWERS}
                record.save()
            return self.back()
        if action == "reopen":
            with self.change("reopen") as record:
                record.done = False
                record.save()
            return self.back()
        return self._hand_over(request.POST.get("anyway", "").strip()[:300])

    def _hand_over(self, anyway: str) -> HttpResponse:
        """Freeze the report and close the job; open points need a reason."""
        with self.change("hand over") as record:
            self.__dict__["desk"] = Desk.open(record.pk)
            points = self._open_points()
            if points and not anyway:
                raise RefusedError("Open points stand. Close them, or say why it is handed over anyway.")
            record.done, record.anyway = True, anyway if points else ""
            record.save()
            self.__dict__["desk"] = Desk.open(record.pk)
            number = record.issues.count() + 1
            frozen = {system: self._frozen(system, points, anyway, number) for system in ("metric", "us")}
            Issue.objects.create(job=record, number=number, by=self.person, anyway=record.anyway, **frozen)
        return HttpResponseRedirect(reverse("board"))

    def _frozen(self, system: System, points: list[Say], anyway: str, number: int) -> str:
        """Return the report as text in a unit system, for good."""
        person = self.person
        kept, person.units = person.units, system
        try:
            context = frame(self.desk, "report", Look(units=system)) | self.body() | {
                "units": system, "paper": True, "number": number, "points": [p.in_units(system) for p in points], "anyway": anyway if points else "",
                "person": person, "now": timezone.now(),
            }  # fmt: skip
            return render_to_string("handover/body.html", context)
        finally:
            person.units = kept


class ReportPdf(Report):
    """The same as PDF."""

    def get(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        """Send the PDF."""
        issue = self.issue
        if issue is not None:
            context = {"frozen": getattr(issue, self.units), "record": self.desk.record}
        else:
            context = self.get_context_data(**kwargs) | {"units": self.units, "paper": True}
        return paper("handover/paper.html", context, f"report-{self.desk.record.number}")
