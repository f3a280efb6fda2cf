"""The bay: its cases, a run's acts, and the debrief that opens the truth."""

from __future__ import annotations

import csv
from collections.abc import Callable
from io import StringIO
from typing import Any, cast

import numpy as np
from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import get_object_or_404
from django.urls import reverse
from django.utils import timezone
from django.utils.http import url_has_allowed_host_and_scheme
from django.views import View
from django.views.generic import TemplateView

from vantok.desk.load import JUDGED, SPOKEN_OF, Desk
from vantok.desk.practising import acts_of
from vantok.drawing.height_rows import heights_svg
from vantok.fields.ids import identity
from vantok.people.acts import Acting, act
from vantok.people.models import Shop, User
from vantok.people.rights import RefusedError, may
from vantok.practice import work
from vantok.practice.progress import skills_of, weakest
from vantok.practice.written import write
from vantok.records.practice.models import MODES, Done, OwnCase, Run, Task
from vantok.stages.road.film import film
from vantok_core.base.errors import InputError, VantokError
from vantok_core.practice.bay.case import CAUSES, DEEDS, SKILLS
from vantok_core.practice.bay.debrief import drives, opened
from vantok_core.practice.bay.templates import BY_CODE, MOST_SEED, drawn_code

LEVELS = {1: "to begin with", 2: "with a trap", 3: "for who has seen some"}


def _person(request: HttpRequest) -> User:
    return cast("User", request.user)


class Bay(Acting, TemplateView):
    """Every case, with where one stands in it; what is set, and what is weak, first."""

    template_name = "practice/list.html"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Return the list."""
        person = _person(self.request)
        runs: dict[str, Run] = {}
        for run in Run.objects.filter(person=person).select_related("job").order_by("pk"):
            runs[run.code] = run
        skills = skills_of(person)
        weak = weakest(skills)
        rows = [_row(code, one.title, one.level, one.skills, runs) for code, one in BY_CODE.items()]
        rows.sort(key=lambda row: (row["level"], not (set(row["keys"]) & weak)))
        own = [_row(one.code, one.title, 2, tuple(one.case["skills"]), runs) for one in OwnCase.objects.all()]
        drawn = [
            _row(code, "A vehicle that was drawn", 2, (), runs)
            for code in runs
            if code not in BY_CODE and code.startswith("G-")
        ]
        return super().get_context_data(
            levels=[(words, [row for row in rows if row["level"] == level]) for level, words in LEVELS.items()],
            own=own,
            drawn=drawn,
            tasks=[(task, runs.get(task.code)) for task in Task.objects.filter(person=person).select_related("by")],
            skills=skills,
            all_skills=SKILLS,
            modes=MODES,
            today=timezone.localdate(),
            **kwargs,
        )

    @act("practise", "begin")
    def _begin(self) -> HttpResponse:
        return self._begun(self.request.POST.get("code", ""))

    @act("practise", "draw")
    def _draw(self) -> HttpResponse:
        skill = self.request.POST.get("skill", "")
        return self._begun(
            drawn_code(int(np.random.default_rng().integers(MOST_SEED)), skill if skill in SKILLS else "")
        )

    def _begun(self, code: str) -> HttpResponse:
        mode = self.request.POST.get("mode", "after")
        try:
            job = work.begin(_person(self.request), code, mode if mode in dict(MODES) else "after")
        except VantokError as error:
            messages.error(self.request, f"{error} Nothing was begun.")
            return HttpResponseRedirect(reverse("bay"))
        return HttpResponseRedirect(reverse("listen", args=[job.pk]))


def _row(code: str, title: str, level: int, skills: tuple[str, ...], runs: dict[str, Run]) -> dict[str, Any]:
    run = runs.get(code)
    return {
        "code": code,
        "title": title,
        "level": level,
        "keys": skills,
        "skills": [SKILLS[key] for key in skills if key in SKILLS],  # type: ignore[index] # held to the keys there are
        "run": run,
        "share": work.share_of(run) if run else None,
        "url": reverse(run.job.stage, args=[run.job_id]) if run and run.handed_in is None else "",
    }


def run_of(pk: int) -> Run:
    """Return the run of a practice job; 404 where it is none."""
    return get_object_or_404(Run.objects.select_related("job", "person"), job_id=pk)


def own_run(request: HttpRequest, pk: int) -> Run:
    """Return one's own run of a practice job. Raises RefusedError for somebody else's."""
    run = run_of(pk)
    if run.person_id != request.user.pk:
        raise RefusedError("This is somebody else’s practice: you can look. Nothing was changed.")
    return run


class BayAct(Acting, View):
    """Something done to the vehicle in the bay, an answer written down, or what one makes of it."""

    def do(self, doing: Callable[[], Any]) -> HttpResponse:
        """Go back to where it was done."""
        try:
            doing()
        except VantokError as error:
            messages.error(self.request, str(error))
        back = self.request.POST.get("back", "")
        safe = url_has_allowed_host_and_scheme(back, allowed_hosts=None) and back.startswith("/jobs/")
        return HttpResponseRedirect(f"{back}#practice" if safe else reverse("measure", args=[self.kwargs["pk"]]))

    @property
    def _run(self) -> Run:
        return own_run(self.request, self.kwargs["pk"])

    @act("practise", "do")
    def _do(self) -> None:
        told = self.request.POST
        work.do(_person(self.request), self._run, told.get("kind", ""), told.get("what", ""))

    @act("practise", "write")
    def _write(self) -> None:
        asked = identity(self.request.POST.get("act"))
        write(_person(self.request), get_object_or_404(Done.objects.select_related("run"), run=self._run, pk=asked))
        messages.success(self.request, "Written down.")

    @act("practise", "say")
    def _say(self) -> None:
        run, told = self._run, self.request.POST
        stage, cause, deed = (told.get(name, "") for name in ("stage", "cause", "deed"))
        if stage not in set(JUDGED) - set(SPOKEN_OF):
            raise Http404
        if stage == "diagnose" and not (cause in CAUSES and deed in DEEDS):
            raise InputError("finding", "nothing", "choose what is behind it, and what is to be done")
        if stage != "diagnose" and not told.get("words", "").strip():
            raise InputError("finding", "nothing", "say in a few words what you make of it")
        work.say(
            run, stage, told.get("words", ""), cause if stage == "diagnose" else "", deed if stage == "diagnose" else ""
        )


class BayLog(View):
    """What a logged drive wrote, as a logger's file."""

    def get(self, request: HttpRequest, pk: int, act: int) -> HttpResponse:
        """Send it."""
        row = get_object_or_404(Done, run__job_id=pk, pk=act, kind="log")
        out = StringIO()
        writer = csv.writer(out)
        writer.writerow(("time (s)", "vertical (m/s2)"))
        writer.writerows(row.answer["rows"])
        answer = HttpResponse(out.getvalue(), content_type="text/csv")
        answer["Content-Disposition"] = f'attachment; filename="drive-{row.pk}.csv"'
        return answer


class Debrief(Acting, TemplateView):
    """Handing in, and the truth behind it."""

    template_name = "practice/debrief.html"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Return what stands to be handed in; once it is, everything."""
        run = run_of(self.kwargs["pk"])
        person = _person(self.request)
        if run.person_id != person.pk and not may(person, "teach"):
            raise RefusedError("What somebody’s practice came to is for them and the lead.")
        context = super().get_context_data(run=run, record=run.job, own=run.person_id == person.pk, **kwargs)
        if run.handed_in is None:
            return context | {"acts": acts_of(run), "said": run.findings.filter(stage="diagnose").first()}
        return context | self._opened(run, person)

    def _opened(self, run: Run, person: User) -> dict[str, Any]:
        desk, shelf = Desk.look(run.job_id), work.shelf()
        core = work.core_run(run, desk)
        hour = Shop.objects.values_list("hour", flat=True).first()
        found = opened(core, shelf, desk.worked.model, hour_price=hour or 0.0)
        said = run.findings.filter(stage="diagnose").first()
        context = {
            "case": core.case,
            "marks": [one | {"why": one[person.units]} for one in run.marks],
            "share": work.share_of(run),
            "found": found,
            "svg": heights_svg(found.before, found.after, person.units),  # type: ignore[arg-type] # one of the two there are
            "said": said,
            "said_cause": CAUSES.get(said.cause, "") if said else "",
            "minutes": core.minutes,
            "trap": next((one for one in run.marks if one["rule"] == "trap"), None),
        }
        try:
            driven, over = drives(core, shelf)
            context["film"] = film(
                core.case.told.vehicle.model_copy(update={"wheelbase_m": core.case.hidden.wheelbase_m}), driven, over
            )
        except VantokError as error:
            context["no_film"] = str(error)
        return context

    @act("practise", "hand-in")
    def _hand_in(self) -> HttpResponse:
        pk = self.kwargs["pk"]
        work.hand_in(own_run(self.request, pk))
        return HttpResponseRedirect(reverse("bay-debrief", args=[pk]))
