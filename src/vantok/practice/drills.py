"""Drills, fit-order puzzles, and the fault on a drawing: a question a page, its answer told once something was answered."""

from __future__ import annotations

from typing import Any, ClassVar, cast

import numpy as np
from django.http import Http404, HttpRequest, HttpResponse, HttpResponseRedirect, QueryDict
from django.views.generic import TemplateView

from vantok.drawing.tape import tape_svg
from vantok.drawing.wrong import PLACES, wrong_svg
from vantok.fields.ids import identity
from vantok.people.models import User
from vantok.practice.kept import keep, kept
from vantok.practice.work import shelf
from vantok_core.base.errors import UnitError, VantokError
from vantok_core.base.units import System, unit_name
from vantok_core.practice.bay.drills import DRILLS, asked
from vantok_core.practice.bay.drills import answer as answered
from vantok_core.practice.bay.puzzles import judged, puzzle

PLACE = "place-"
MOST_SEED, LONGEST, MOST_STEPS = 1_000_000, 60, 20
"""Numbers of questions; letters of an answer, and steps of an order, at most."""


def _fresh() -> int:
    return int(np.random.default_rng().integers(1, MOST_SEED))


Answer = dict[str, Any]


class Asking(TemplateView):
    """A question by its number, so that Back and a reload ask the same; answered, its page tells how it was."""

    rights: ClassVar[str] = "practise"

    @property
    def person(self) -> User:
        """Who is asked."""
        return cast("User", self.request.user)

    @property
    def units(self) -> System:
        """The reader's units."""
        return cast("System", self.person.units)

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Return the question, and how it was answered where it was."""
        seed = identity(self.request.GET.get("n") or self.request.POST.get("n")) % MOST_SEED or _fresh()
        before = kept(self.person, self.key, seed)
        told = self._told(seed, before) if before is not None else None
        kwargs.setdefault("typed", "")
        return super().get_context_data(seed=seed, fresh=_fresh(), told=told, **self.question(seed, before), **kwargs)

    def _told(self, seed: int, answer: Answer) -> dict[str, Any] | None:
        try:
            return self.told(seed, answer)
        except VantokError:
            return None  # the shelf it was asked of is another one now: it is asked anew

    def question(self, seed: int, answer: Answer | None) -> dict[str, Any]:
        """Return what is asked; answer: as it was answered."""
        raise NotImplementedError

    def read(self, told: QueryDict) -> Answer:
        """Return what is answered, off a form."""
        return {"answer": told.get("answer", "")[:LONGEST]}

    def told(self, seed: int, answer: Answer) -> dict[str, Any]:
        """Return how it was answered, with its `share`. Raises VantokError for what is no answer."""
        raise NotImplementedError

    @property
    def key(self) -> str:
        """Under what it is kept."""
        raise NotImplementedError

    def post(self, request: HttpRequest, **_: Any) -> HttpResponse:
        """Keep the answer, or say why it is none."""
        seed, answer = identity(request.POST.get("n")) % MOST_SEED or _fresh(), self.read(request.POST)
        try:
            told = self.told(seed, answer)
        except VantokError as error:
            again = self.get_context_data(wrong=str(error), typed=answer.get("answer", ""))
            return self.render_to_response(again, status=422)
        keep(self.person, self.key, seed, told["share"], answer)
        return HttpResponseRedirect(f"{request.path}?n={seed}")


class DrillPage(Asking):
    """One drill."""

    template_name = "practice/drill.html"

    @property
    def key(self) -> str:
        """The drill's own key."""
        found = str(self.kwargs["key"])
        if found not in DRILLS:
            raise Http404("there is no such drill")
        return found

    def question(self, seed: int, answer: Answer | None) -> dict[str, Any]:
        """Return what is asked; what is right stays behind."""
        one = asked(self.key, seed)
        svg = tape_svg(one.tape_m, inches=one.tape_in) if one.tape_m is not None else ""
        unit = "in" if one.tape_in else unit_name(one.kind, self.units) if one.kind else ""
        return {
            "drill": DRILLS[self.key],
            "words": one.words,
            "options": dict(one.options),
            "svg": svg,
            "unit": unit,
        }

    def told(self, seed: int, answer: Answer) -> dict[str, Any]:
        """Return how it was answered."""
        found = answered(self.key, seed, answer["answer"], self.units)
        return {"share": found.share, "right": found.right, "why": found.why}


class PuzzlePage(Asking):
    """A fit-order puzzle."""

    template_name = "practice/puzzle.html"
    key = "puzzle"

    def question(self, seed: int, answer: Answer | None) -> dict[str, Any]:
        """Return the steps as shuffled, or why there are none."""
        try:
            one = puzzle(shelf(), seed)
        except VantokError as error:
            return {"steps": (), "none": str(error)}
        return {"kit": one.kit, "steps": one.shown, "places": range(1, len(one.shown) + 1)}

    def read(self, told: QueryDict) -> Answer:
        """Return the steps in the order of their places; of two in one place none."""
        places = {
            identity(str(text)): name.removeprefix(PLACE)[:LONGEST]
            for name, text in told.items()
            if name.startswith(PLACE)
        }
        keys = [key for _, key in sorted(places.items())[:MOST_STEPS]]
        return {"steps": keys}

    def told(self, seed: int, answer: Answer) -> dict[str, Any]:
        """Return how the order was: what would have gone wrong."""
        one = puzzle(shelf(), seed)
        found = judged(one, answer["steps"])
        share = max(0.0, 1.0 - len(found.wrong) / len(one.shown))
        return {"share": share, "wrong": found.wrong, "order": found.order, "right_order": found.right}


class WrongPage(Asking):
    """An axle fitted out, one place of it wrong."""

    template_name = "practice/wrong.html"
    key = "wrong"

    def question(self, seed: int, answer: Answer | None) -> dict[str, Any]:
        """Return the drawing; once it is answered with the place marked."""
        return {
            "svg": wrong_svg(_wrong(seed), shown=answer is not None),
            "places": {key: words for key, (words, _) in PLACES.items()},
        }

    def told(self, seed: int, answer: Answer) -> dict[str, Any]:
        """Return whether the place was found."""
        wrong = _wrong(seed)
        if answer["answer"] not in PLACES:
            raise UnitError("Touch one of the five places.")
        return {"share": float(answer["answer"] == wrong), "why": PLACES[wrong][1], "right": PLACES[wrong][0]}


def _wrong(seed: int) -> str:
    return list(PLACES)[int(np.random.default_rng([seed, 5]).integers(len(PLACES)))]


class Drills(TemplateView):
    """Every drill."""

    template_name = "practice/drills.html"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Return them."""
        return super().get_context_data(drills=DRILLS, **kwargs)
