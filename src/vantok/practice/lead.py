"""The lead's side of the bay: cases made from jobs or taken from files, and tasks set by a day."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from typing import Any, ClassVar, cast

from django import forms
from django.contrib import messages
from django.db import transaction
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import get_object_or_404
from django.urls import reverse
from django.utils import timezone
from django.views import View
from django.views.generic import TemplateView

from vantok.desk.load import Desk
from vantok.desk.practising import case_of
from vantok.fields.files import text_of
from vantok.fields.finding import job_named
from vantok.fields.ids import identity
from vantok.people.acts import Acting, act
from vantok.people.models import User
from vantok.records.practice.models import OwnCase, Run, Task
from vantok_core.base.errors import InputError, VantokError
from vantok_core.practice.bay.case import CAUSES, DEEDS, Case
from vantok_core.practice.bay.case_file import read_case, write_case
from vantok_core.practice.bay.from_job import case_from
from vantok_core.practice.bay.templates import BY_CODE


class Cases(Acting, TemplateView):
    """The shop's own cases and tasks."""

    template_name = "practice/cases.html"
    seen_by: ClassVar[str] = "teach"  # a case's truth is for leads

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Return them, and what a case can be made of."""
        own = list(OwnCase.objects.select_related("by"))
        shipped = [(code, f"{code} {one.title}") for code, one in BY_CODE.items()]
        return super().get_context_data(
            own=own,
            tasks=Task.objects.select_related("person", "by"),
            people=User.objects.filter(is_active=True),
            codes=[*((one.code, str(one)) for one in own), *shipped],
            causes=CAUSES,
            deeds=DEEDS,
            today=timezone.localdate().isoformat(),
            **kwargs,
        )

    def do(self, doing: Callable[[], Any]) -> HttpResponse:
        """Say what was done, or why nothing was."""
        try:
            with transaction.atomic():
                messages.success(self.request, doing())
        except UnicodeDecodeError:
            messages.error(self.request, "This file is not text; a case file is JSON. Nothing was taken in.")
        except (VantokError, forms.ValidationError) as error:
            messages.error(self.request, f"{error} Nothing was changed.")
        return HttpResponseRedirect(reverse("cases"))

    @act("teach", "make")
    def _make(self) -> str:
        told = self.request.POST
        job, title = job_named(told.get("job", "")), told.get("title", "").strip()
        if job is None:
            raise InputError("job", told.get("job", "") or "nothing", "give the number of the job it is made of")
        if not title:
            raise InputError("title", "nothing", "say what it is called: nothing of what is hidden")
        desk = Desk.look(job.pk)
        if desk.worked.model is None:
            raise InputError("job", desk.record.number, "its model cannot be worked out, so it has no truth to hide")
        case = case_from(
            desk.worked.model, code=_next_code(), title=title, cause=told.get("cause", ""), deed=told.get("deed", "")
        )
        return self._keep(case)

    @act("teach", "take")
    def _take(self) -> str:
        upload = self.request.FILES.get("file")
        if upload is None:
            raise InputError("file", "nothing", "choose one first")
        case = read_case(text_of(upload)).model_copy(update={"code": _next_code()})
        return self._keep(case)

    def _keep(self, case: Case) -> str:
        stored = case.model_dump(mode="json")
        OwnCase.objects.create(code=case.code, title=case.title, case=stored, by=cast("User", self.request.user))
        return f"Case {case.code} is in the bay."

    @act("teach", "give-up")
    def _give_up(self) -> str:
        one = get_object_or_404(OwnCase, pk=identity(self.request.POST.get("own")))
        if one.code in set(Task.objects.values_list("code", flat=True)):
            raise InputError("case", one.code, "it is set as a task: take that back first")
        if Run.objects.filter(code=one.code).exists():
            raise InputError("case", one.code, "somebody has practised on it: their debrief rests on it")
        one.delete()
        return f"Case {one.code} is gone."

    @act("teach", "set")
    def _set(self) -> str:
        told, by = self.request.POST, cast("User", self.request.user)
        person = User.objects.filter(pk=identity(told.get("person")), is_active=True).first()
        if person is None:
            raise InputError("person", "nobody", "choose who it is for")
        code = case_of(told.get("code", "")).code
        try:
            due = date.fromisoformat(told.get("due", ""))
        except ValueError as error:
            raise InputError("day", told.get("due", "") or "nothing", "say by which day") from error
        Task.objects.update_or_create(code=code, person=person, defaults={"due": due, "by": by})
        return f"{code} is set for {person}."

    @act("teach", "unset")
    def _unset(self) -> str:
        get_object_or_404(Task, pk=identity(self.request.POST.get("task"))).delete()
        return "The task is taken back."


def _next_code() -> str:
    taken = set(OwnCase.objects.values_list("code", flat=True))
    return next(code for n in range(1, 100_000) if (code := f"S-{n:02d}") not in taken)


class CaseFile(View):
    """One of the shop's own cases as a file, with its truth: for leads."""

    seen_by: ClassVar[str] = "teach"

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Send it."""
        one = get_object_or_404(OwnCase, pk=pk)
        answer = HttpResponse(write_case(one.to_core()), content_type="application/json")
        answer["Content-Disposition"] = f'attachment; filename="case-{one.code}.json"'
        return answer
