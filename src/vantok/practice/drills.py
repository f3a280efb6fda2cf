"""Drills, fit-order puzzles, and the fault on a drawing: a question a page, its answer told once something was answered."""

from __future__ import annotations

from typing import Any, ClassVar, cast

import numpy as np
from django.http import Http404, HttpRequest, HttpResponse
from django.views.generic import TemplateView

from vantok.drawing.tape import tape_svg
from vantok.drawing.wrong import PLACES, wrong_svg
from vantok.fields.ids import identity
from vantok.people.models import User
from vantok.practice.kept import keep
from vantok.practice.work import shelf
from vantok_core.base.errors import UnitError, VantokError
from vantok_core.base.units import System, unit_name
from vantok_core.practice.bay.drills import DRILLS, answer, asked
from vantok_core.practice.bay.puzzles import judged, puzzle

MOST_SEED = 1_000_000


def _fresh() -> int:
    return int(np.random.default_rng().integers(1, MOST_SEED))


class Asking(TemplateView):
    """A question by its number, so that Back and a reload ask the same; a post answers it on the same page."""

    rights: ClassVar[str] = "practise"

    @property
    def units(self) -> System:
        """The reader's units."""
        return cast("System", cast("User", self.request.user).units)

    @property
    def seed(self) -> int:
        """The question's number."""
        told = self.request.POST if self.request.method == "POST" else self.request.GET
        return identity(told.get("n")) % MOST_SEED or _fresh()

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Return the question."""
        seed = kwargs.pop("seed", None) or self.seed
        return super().get_context_data(seed=seed, fresh=_fresh(), **self.question(seed), **kwargs)

    def question(self, seed: int) -> dict[str, Any]:
        """Return what is asked."""
        raise NotImplementedError

    def told(self, seed: int) -> dict[str, Any]:
        """Return how it was answered, with its `share`. Raises VantokError for what is no answer."""
        raise NotImplementedError

    @property
    def key(self) -> str:
        """Under what it is kept."""
        raise NotImplementedError

    def post(self, request: HttpRequest, **_: Any) -> HttpResponse:
        """Answer it."""
        seed = self.seed
        try:
            told = self.told(seed)
        except VantokError as error:
            again = self.get_context_data(seed=seed, wrong=str(error), typed=request.POST.get("answer", ""))
            return self.render_to_response(again, status=422)
        first = keep(cast("User", request.user), self.key, seed, told["share"])
        return self.render_to_response(self.get_context_data(seed=seed, told=told | {"first": first}))


class DrillPage(Asking):
    """One drill."""

    template_name = "practice/drill.html"
    answers_again = True

    @property
    def key(self) -> str:
        """The drill's own key."""
        found = str(self.kwargs["key"])
        if found not in DRILLS:
            raise Http404("there is no such drill")
        return found

    def question(self, seed: int) -> dict[str, Any]:
        """Return what is asked; the answer stays behind."""
        one = asked(self.key, seed)
        svg = tape_svg(one.tape_m, inches=one.tape_in) if one.tape_m is not None else ""
        unit = "in" if one.tape_in else unit_name(one.kind, self.units) if one.kind else ""
        return {
            "drill": DRILLS[self.key],
            "drill_key": self.key,
            "words": one.words,
            "options": dict(one.options),
            "svg": svg,
            "unit": unit,
        }

    def told(self, seed: int) -> dict[str, Any]:
        """Return how it was answered."""
        text = self.request.POST.get("answer", "")
        if len(text) > 60:
            raise UnitError("That is no figure.")
        found = answer(self.key, seed, text, self.units)
        return {"share": found.share, "right": found.right, "why": found.why, "typed": text}


class PuzzlePage(Asking):
    """A fit-order puzzle."""

    template_name = "practice/puzzle.html"
    key = "puzzle"
    answers_again = True

    def question(self, seed: int) -> dict[str, Any]:
        """Return the steps as shuffled, and why there are none."""
        try:
            one = puzzle(shelf(), seed)
        except VantokError as error:
            return {"steps": (), "none": str(error)}
        keys = self.request.POST.getlist("step")
        place = {key: n for n, key in enumerate(keys)}
        steps = sorted(one.shown, key=lambda s: place.get(s.key, 0))
        return {"kit": one.kit, "steps": steps, "places": range(1, len(steps) + 1)}

    def told(self, seed: int) -> dict[str, Any]:
        """Return how the order was: what would have gone wrong."""
        one = puzzle(shelf(), seed)
        keys = self.request.POST.getlist("step")
        places = [identity(text) for text in self.request.POST.getlist("place")]
        if len(places) == len(keys) and sorted(places) == list(range(1, len(keys) + 1)):
            keys = [key for _, key in sorted(zip(places, keys, strict=True))]
        found = judged(one, keys)
        share = max(0.0, 1.0 - len(found.wrong) / len(one.shown))
        return {"share": share, "wrong": found.wrong, "order": found.order, "right_order": found.right}


class WrongPage(Asking):
    """An axle fitted out, one place of it wrong."""

    template_name = "practice/wrong.html"
    key = "wrong"
    answers_again = True

    def question(self, seed: int) -> dict[str, Any]:
        """Return the drawing; after an answer with the place marked."""
        wrong = _wrong(seed)
        answered = self.request.method == "POST" and self.request.POST.get("answer", "") in PLACES
        return {"svg": wrong_svg(wrong, shown=answered), "places": {key: words for key, (words, _) in PLACES.items()}}

    def told(self, seed: int) -> dict[str, Any]:
        """Return whether the place was found."""
        text, wrong = self.request.POST.get("answer", ""), _wrong(seed)
        if text not in PLACES:
            raise UnitError("Touch one of the five places.")
        return {"share": 1.0 if text == wrong else 0.0, "why": PLACES[wrong][1], "right": PLACES[wrong][0]}


def _wrong(seed: int) -> str:
    return list(PLACES)[int(np.random.default_rng([seed, 5]).integers(len(PLACES)))]


class Drills(TemplateView):
    """Every drill."""

    template_name = "practice/drills.html"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Return them."""
        return super().get_context_data(drills=DRILLS, **kwargs)
