"""The report on screen and as PDF."""

from __future__ import annotations

from typing import Any

from django import forms
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import get_object_or_404
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils import timezone

from vantok.desk.care import plan_care
from vantok.desk.learnt import keep_pattern
from vantok.desk.lessons import keep_lessons, settle_estimate
from vantok.desk.load import Desk
from vantok.desk.look import Look
from vantok.desk.paper import paper
from vantok.desk.stage import StageView, frame
from vantok.fields.ids import identity
from vantok.fields.seen import SeenForm
from vantok.people.acts import act
from vantok.people.rights import RefusedError
from vantok.records.handover.models import Issue
from vantok.records.jobs.models import Job
from vantok.stages.hand_over.body import ANSWERS, report_body
from vantok_core.aims.complaints import COMPLAINT_WORDS, COMPLAINTS
from vantok_core.base.say import Say
from vantok_core.base.units import System
from vantok_core.judge.diagnose.causes import table
from vantok_core.judge.hand_over.open_points import open_points
from vantok_core.judge.hand_over.to_sign import to_sign


class AnswersForm(SeenForm):
    """What became of each complaint."""

    def __init__(self, record: Job, *args: Any, **kwargs: Any) -> None:
        self.complaints = list(record.complaints)
        told = {f"answer-{c}": record.answers.get(c, "") for c in self.complaints}
        told |= {f"cause-{c}": record.heard.get(c, {}).get("cause", "") for c in self.complaints}
        super().__init__(*args, initial=told, **kwargs)

    def settle(self) -> None:
        """Make a choice for each complaint."""
        for code in self.complaints:
            self.fields[f"answer-{code}"] = forms.ChoiceField(
                label=COMPLAINT_WORDS.get(code, code), choices=[("", "not said"), *ANSWERS.items()], required=False
            )
            known = COMPLAINTS[code].causes if code in COMPLAINTS else ()
            causes = [(key, table()["causes"][key]["words"].capitalize()) for key in known]
            self.fields[f"cause-{code}"] = forms.ChoiceField(
                label="what was proved to be behind it",
                choices=[("", "not proved"), *causes],
                required=False,
                widget=forms.Select(attrs={"class": "form-select"}),
            )
        super().settle()

    def told(self) -> dict[str, str]:
        """Return the answers given."""
        return {c: a for c in self.complaints if (a := self.cleaned_data.get(f"answer-{c}"))}

    def heard(self, before: dict[str, Any]) -> dict[str, Any]:
        """Return what was told of the complaints (before: so far), with what was proved to be behind each."""
        found = {c: {k: v for k, v in told.items() if k != "cause"} for c, told in before.items()}
        for c in self.complaints:
            if cause := self.cleaned_data.get(f"cause-{c}"):
                found.setdefault(c, {})["cause"] = cause
        return found


class Report(StageView):
    """The whole job on one or two pages; one that was handed over stays as it was then."""

    stage = "report"

    @property
    def issue(self) -> Issue | None:
        """The issue that was handed over, while the job is not back in the shop; an earlier one where asked for."""
        asked = identity(self.request.GET.get("issue"))
        issues = self.desk.record.issues.select_related("by")
        if asked:
            return get_object_or_404(issues, number=asked)
        return issues.last() if self.desk.record.done else None

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the frozen report, or what the report tells now with what is still open."""
        issue, record = self.issue, self.desk.record
        more: dict[str, Any] = {"issue": issue, "issues": list(record.issues.select_related("by"))}
        if issue is None:
            form = kwargs.pop("answers_form", None) or AnswersForm(record)
            more |= report_body(self.desk, self.units, working=bool(self.request.GET.get("working"))) | {
                "open_points": self._open(),
                "to_sign": to_sign(self.desk.job, self.desk.cards),
                "answers": list(ANSWERS.items()),
                "answers_form": form,
                "asked": [
                    {"code": c, "field": form[f"answer-{c}"], "cause": form[f"cause-{c}"]} for c in record.complaints
                ],
            }
        return super().get_context_data(**more, **kwargs)

    def _open_points(self) -> list[Say]:
        found = self.desk.diagnosis
        return open_points(self.desk.job, self.desk.proof, COMPLAINT_WORDS, found.unweighed if found else ())

    def _open(self) -> list[Say]:
        """Return what is open, worked out once for a desk."""
        return self.desk.kept("open points", self._open_points)

    @act("answer", "answers")
    def _answers(self) -> HttpResponse:
        return self.entered("answers_form", lambda record: AnswersForm(record, self.request.POST), self._answered)

    @act("reopen", "reopen")
    def _reopen(self) -> HttpResponse:
        with self.change() as record:
            record.done = False
            record.save()
        return self.back()

    @staticmethod
    def _answered(record: Job, form: AnswersForm) -> None:
        record.answers, record.heard = form.told(), form.heard(record.heard)
        record.save()

    @act("hand over", "hand-over")
    def _hand_over(self) -> HttpResponse:
        """Freeze the report and close the job; open points need a reason."""
        anyway = self.request.POST.get("anyway", "").strip()[:300]
        with self.change() as record:
            self.__dict__["desk"] = Desk.open(record.pk)
            points = self._open_points()
            if points and not anyway:
                raise RefusedError("Open points stand. Close them, or say why it is handed over anyway.")
            settle_estimate(record, self.desk.facts.job)
            record.done, record.anyway = True, anyway if points else ""
            record.save()
            self.__dict__["desk"] = Desk.open(record.pk)
            plan_care(record, self.desk)
            keep_pattern(record, self.desk)
            keep_lessons(record, self.desk)
            number = record.issues.count() + 1
            frozen = {system: self._frozen(system, points, anyway, number) for system in ("metric", "us")}
            Issue.objects.create(job=record, number=number, by=self.person, anyway=record.anyway, **frozen)
        return HttpResponseRedirect(reverse("board"))

    def _frozen(self, system: System, points: list[Say], anyway: str, number: int) -> str:
        """Return the report as text in a unit system, for good."""
        person = self.person
        kept, person.units = person.units, system
        try:
            context = (
                frame(self.desk, "report", Look(units=system))
                | report_body(self.desk, system)
                | {
                    "units": system,
                    "paper": True,
                    "number": number,
                    "points": [p.in_units(system) for p in points],
                    "anyway": anyway if points else "",
                    "person": person,
                    "now": timezone.now(),
                }
            )
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
