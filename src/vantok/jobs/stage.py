"""The frame every stage of a job shares: its records, the drawing, the sentence, the way on."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any, cast

from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import render
from django.urls import reverse
from django.views.generic import TemplateView

from vantok.drawing.stance import TIMES, stance_svg
from vantok.jobs.desk import Desk
from vantok.jobs.models import STAGES
from vantok.people.models import User
from vantok_core.units import System


@dataclass(frozen=True, slots=True, kw_only=True)
class Look:
    """How a reader wants the drawing: units, how many times height changes are enlarged, which state (empty: the stage's)."""

    units: System
    times: float = TIMES[1]
    state: str = ""


def frame(desk: Desk, stage: str, look: Look) -> dict[str, Any]:
    """Return what the frame of a stage shows."""
    record = desk.record
    names = [name for name, _ in STAGES]
    place = names.index(stage)
    return {
        "desk": desk,
        "record": record,
        "stage": stage,
        "stage_label": STAGES[place][1],
        "stages": [
            {
                "name": n,
                "label": label,
                "done": desk.done[n],
                "current": n == stage,
                "url": reverse(n, args=[record.pk]),
            }
            for n, label in STAGES
        ],
        "following": STAGES[place + 1] if place + 1 < len(STAGES) else None,
        "verdict": desk.verdict(stage),
        "stance": stance_svg(desk.stance(stage, state=look.state), look.units, look.times),
        "look": look,
        "enlargements": TIMES,
        "lacks": [m for m in desk.missing if m.stage == stage],
    }


class StageView(TemplateView):
    """A stage's page. `stage` is its name in the URL and in the list of stages."""

    stage = ""

    @cached_property
    def desk(self) -> Desk:
        """The job on the desk."""
        return Desk.open(self.kwargs["pk"])

    @property
    def person(self) -> User:
        """Who is signed in (nobody else gets here)."""
        return cast("User", self.request.user)

    @property
    def units(self) -> System:
        """The reader's units."""
        return cast("System", self.person.units)

    @property
    def look(self) -> Look:
        """How the drawing is wanted: the enlargement is remembered for the session, the state is asked each time."""
        asked = self.request.GET.get("x", "")
        if asked in {f"{times:.0f}" for times in TIMES}:
            self.request.session["times"] = float(asked)
        state = self.request.GET.get("state", "")
        known = {s.key for s in self.desk.job.states} if self.desk.diagnosis else set()
        return Look(
            units=self.units, times=self.request.session.get("times", TIMES[1]), state=state if state in known else ""
        )

    def get_template_names(self) -> list[str]:
        """Each stage has its page under its own name."""
        return [f"stages/{self.stage}.html"]

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Return the frame; stages add to it."""
        return super().get_context_data(**frame(self.desk, self.stage, self.look), **kwargs)

    def again(self, status: int = 200, **context: Any) -> HttpResponse:
        """Show the page again, with forms as typed."""
        return self.render_to_response(self.get_context_data(**context), status=status)

    def back(self) -> HttpResponse:
        """Go to this stage's page anew."""
        return HttpResponseRedirect(reverse(self.stage, args=[self.kwargs["pk"]]))


def part(request: HttpRequest, template: str, context: dict[str, Any], status: int = 200) -> HttpResponse:
    """Return a fragment that htmx swaps in."""
    return render(request, template, context, status=status)
