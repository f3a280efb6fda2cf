"""The frame every stage of a job shares: its records, the drawing, the sentence, the way on."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from contextlib import AbstractContextManager
from functools import cached_property
from typing import Any, ClassVar, TypeVar, cast

from django.core.exceptions import ValidationError
from django.http import HttpRequest, HttpResponse, HttpResponseNotAllowed, HttpResponseRedirect
from django.shortcuts import render
from django.urls import reverse
from django.views.generic import TemplateView
from pydantic import ValidationError as NotHeld

from vantok.desk.actions import change
from vantok.desk.load import Desk
from vantok.desk.look import VIEWS, Look, drawable, drawing
from vantok.desk.translate import Unfit
from vantok.drawing.stance import TIMES
from vantok.fields.seen import SeenMixin, StaleError
from vantok.people.acts import Acting
from vantok.people.models import User
from vantok.records.jobs.models import STAGES, Job
from vantok_core.aims.of_job import needs_heights
from vantok_core.base.errors import VantokError
from vantok_core.base.units import System


def frame(desk: Desk, stage: str, look: Look, *, next_too: bool = True) -> dict[str, Any]:
    """Return what the frame of a stage shows; next_too: the measurement most worth taking next among it."""
    record = desk.record
    names = [name for name, _ in STAGES]
    place = names.index(stage)
    told = desk.diagnosis is not None or needs_heights(desk.job)  # what does not apply to what it came for is not shown
    return {
        "desk": desk,
        "record": record,
        **({"here": "practice"} if record.practice else {}),
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
        "ask_at": None if desk.diagnosis or not told else _asked_before(desk, names[:place]),
        "next_step": desk.worked.next_step if next_too and not desk.silent.get(stage) else None,
        "stance": drawing(desk, stage, look) if told else "",
        "look": look,
        "enlargements": TIMES,
        "drawable": drawable(desk),
        "drawings": VIEWS,
        "lacks": [m for m in desk.missing if m.stage == stage] if told else [],
        "unfit": [{"said": str(one), "url": _mending(record.pk, one)} for one in desk.unfit],
    }


def _asked_before(desk: Desk, before: Sequence[str]) -> dict[str, str] | None:
    """Return the stage before this one at which what nothing works without is entered; None where all of it is."""
    asked = next((one.stage for one in desk.missing if one.hard and one.stage in before), None)
    return {"label": dict(STAGES)[asked], "url": reverse(asked, args=[desk.record.pk])} if asked else None


def _mending(pk: int, one: Unfit) -> str:
    """Return the page where something that cannot be is mended."""
    return reverse(one.page, args=[pk]) + (f"?state={one.state}" if one.state else "")


SeenType = TypeVar("SeenType", bound=SeenMixin)


class _NotTakenError(Exception):
    """Leaves a change without storing anything: the form says why."""


class StageView(Acting, TemplateView):
    """A stage's page. `stage` is its name in the URL and in the list of stages; `view`: of its drawing until another is asked for;
    `opens_offline`: whether the device keeps it, for hands where there is no connection. What it can be told to do: `Acting`."""

    stage = ""
    view: ClassVar[str] = "side"
    opens_offline: ClassVar[bool] = False

    @cached_property
    def desk(self) -> Desk:
        """The job on the desk, as it was last looked at; read anew when anything on it has changed."""
        return Desk.look(self.kwargs["pk"])

    def anew(self) -> Desk:
        """Look at the desk again, after something was changed."""
        self.__dict__["desk"] = Desk.look(self.kwargs["pk"])
        return self.desk

    def change(self, *, facts: bool = True) -> AbstractContextManager[Job]:
        """Change the job inside the block, by the right of what was asked for (see `jobs.actions.change`)."""
        return change(self.person, self.kwargs["pk"], self.right, facts=facts)

    def take(self, make: Callable[[Job], SeenType], save: Callable[[Job, SeenType], object] | None = None) -> SeenType:
        """Take a form in: made of the record as it stands under the lock, saved when it holds and something was changed.

        Arguments: make: record to bound form; save: what storing means, the form's own `save` when not said. Returns the form;
        one with errors was not stored. The desk is the one after it.
        """
        try:
            with self.change() as record:
                form = make(record)
                form.person = self.person
                if not form.is_valid():
                    raise _NotTakenError
                if form.touched:
                    if save is None:
                        form.save()  # type: ignore[attr-defined]
                    else:
                        save(record, form)
        except _NotTakenError:
            pass
        except StaleError:
            raise
        except (VantokError, ValidationError) as error:
            form.add_error(None, str(error) if isinstance(error, VantokError) else error)
        except NotHeld as error:
            form.refuse(error)
        self.anew()
        return form

    def taken(self, form: SeenMixin, /, **context: Any) -> HttpResponse | None:
        """Return the page again with a form that was not taken and why; None when it was taken."""
        if not form.errors:
            return None
        self.__dict__["desk"] = self.desk.own()  # nothing kept: the forms are shown as typed
        return self.again(409 if form.met else 422, **context)

    def entered(
        self, name: str, make: Callable[[Job], SeenType], save: Callable[[Job, SeenType], object] | None = None
    ) -> HttpResponse:
        """Take a form in (see `take`) and go back; one that was not taken is shown again under its name on the page."""
        form = self.take(make, save)
        return self.taken(form, **{name: form}) or self.back()

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
        """How the drawing is wanted: enlargement and view are remembered for the session, the states are asked each time."""
        told, session = self.request.GET, self.request.session
        asked = told.get("x", "")
        if asked in {f"{times:.0f}" for times in TIMES}:
            session["times"] = float(asked)
        if told.get("view") in dict(VIEWS):
            session["view"] = told["view"]
        known = dict(drawable(self.desk))
        state, other = told.get("state", ""), told.get("against", "")
        return Look(
            units=self.units,
            times=session.get("times", TIMES[1]),
            view=session.get("view", self.view),
            state=state if state in known else "",
            other=other if other in known else "",
        )

    def get(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        """Show the page; one that only takes something has none."""
        return super().get(request, *args, **kwargs) if self.stage else HttpResponseNotAllowed(["POST"])

    def get_template_names(self) -> list[str]:
        """Each stage has its page under its own name."""
        return [f"stages/{self.stage}.html"]

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Return the frame; stages add to it."""
        return super().get_context_data(**frame(self.desk, self.stage, self.look, next_too=self.asks_next()), **kwargs)

    def asks_next(self) -> bool:
        """Tell whether the frame names the measurement most worth taking next: a stage may ask a question of its own instead."""
        return True

    def again(self, status: int = 200, **context: Any) -> HttpResponse:
        """Show the page again, with forms as typed."""
        return self.render_to_response(self.get_context_data(**context), status=status)

    def back(self) -> HttpResponse:
        """Go to this stage's page anew."""
        return HttpResponseRedirect(reverse(self.stage, args=[self.kwargs["pk"]]))


def part(request: HttpRequest, template: str, context: dict[str, Any], status: int = 200) -> HttpResponse:
    """Return a fragment that htmx swaps in."""
    return render(request, template, context, status=status)
