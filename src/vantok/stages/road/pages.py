"""Over the road: pieces to pick, configurations beside one another on one clock, their figures and the sentence."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from functools import cache, partial
from pathlib import Path
from typing import Any

from django.contrib import messages
from django.contrib.staticfiles import finders
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import render
from django.urls import reverse
from django.utils import timezone
from django.utils.functional import cached_property
from django.utils.safestring import SafeString

from vantok.desk.proving import add, proving_of, store
from vantok.desk.rides import FITTED, MOST, NOW, options
from vantok.desk.stage import StageView, part
from vantok.drawing.pieces import piece_svg
from vantok.drawing.ride_still import still_svg
from vantok.people.acts import act
from vantok.people.models import Shop
from vantok.stages.road.film import film
from vantok_core.base.errors import InputError, VantokError
from vantok_core.base.units import parse
from vantok_core.judge.grounds.lead import led_by_limits
from vantok_core.judge.prove.driving import COURSES
from vantok_core.judge.ride.odds import Banded
from vantok_core.judge.ride.ready import Configuration, Over, estimated
from vantok_core.judge.ride.said import ride_verdict
from vantok_core.judge.ride.steady import Steady, steady_rows
from vantok_core.judge.ride.told import Driven, fade_row, rows, words_row
from vantok_core.kits.odds import odds_in_words
from vantok_core.kits.target import target_state
from vantok_core.model import JobModel
from vantok_core.road.course import PIECES, Side
from vantok_core.road.simulate import Run

SIDES: dict[Side, str] = {"both": "both sides", "left": "the left wheels", "right": "the right wheels"}
USUAL = "bump"
STILL = 160
"""Places of a still's line."""


class RoadView(StageView):
    """What was asked for on the road: a piece at a speed, in a state, some configurations."""

    stage = "choose"

    @cached_property
    def able(self) -> list[Configuration]:
        """What can be driven."""
        return self.desk.kept("able on the road", partial(options, self.desk))

    @cached_property
    def beside(self) -> list[Configuration]:
        """What is driven beside one another: as asked for, in the order it is offered, else as it is beside what is fitted, or beside the first option."""
        asked = self.request.GET.getlist("with")
        found = [one for one in self.able if one.key in asked][:MOST]
        if found:
            return found
        usual = {NOW, FITTED} if any(one.key == FITTED for one in self.able) else {one.key for one in self.able[:2]}
        return [one for one in self.able if one.key in usual]

    def over(self) -> Over | None:
        """Return what is driven over; None without a model. Raises InputError or UnitError for what cannot be."""
        told, model = self.request.GET, self.desk.worked.staged
        if model is None:
            return None
        piece, state, side = (told.get(name, "") for name in ("piece", "state", "side"))
        piece = piece if piece in PIECES else USUAL
        text = told.get("speed", "").strip()
        return Over(
            piece=piece,
            speed=parse("speed", text, self.units).value if text else COURSES[piece].speed / 3.6,
            side=side if side in SIDES else PIECES[piece].side,
            state=state if state in model.states else target_state(model),
        )

    def piece_url(self, key: str) -> str:
        """Return the address of another piece, with the same configurations in the same state, at its usual speed."""
        query = self.request.GET.copy()
        query["piece"] = key
        for name in ("speed", "side"):
            query.pop(name, None)
        return f"{reverse('road', args=[self.kwargs['pk']])}?{query.urlencode()}"

    def driven(self) -> tuple[Over | None, tuple[Driven, ...], str]:
        """Return what was driven over, every configuration over it, and why nothing was."""
        try:
            over = self.over()
            return over, self.desk.worked.ride(self.beside, over) if over and self.beside else (), ""
        except VantokError as error:
            return None, (), str(error)


class OverRoad(RoadView):
    """One piece of the course: the animation, the traces, the table, the sentence; kept for the report at a press."""

    def get_template_names(self) -> list[str]:
        """Return the page."""
        return ["road/page.html"]

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add what can be driven, and what was asked for, driven."""
        over, driven, why = self.driven()
        model = self.desk.worked.staged
        context = super().get_context_data(
            able=[{"one": one, "on": one in self.beside} for one in self.able],
            most=MOST,
            pieces=[self._piece(key, over) for key in PIECES],
            why=why,
            states=[s for s in self.desk.job.states if model and s.key in model.states],
            rests_on=estimated(model, self.beside) if model else (),
            asked=self.request.GET.urlencode(),
            kept=[(one, still_svg(one, self.units)) for one in self.desk.job.proving.rides],
            **told(over, driven),
            **kwargs,
        )
        if model is not None and over is not None and driven:
            context |= {
                "verdict": led_by_limits(self.desk.job, ride_verdict(driven, over)),
                "film": film(self.desk.job.vehicle, driven, over),
                "steady": self._steady(model, over.state),
                "sides": SIDES.items() if PIECES[over.piece].sided else (),
            }
        return context

    def do(self, doing: Callable[[], None]) -> HttpResponse:
        """Go back to the same drive, and say what could not be kept."""
        try:
            doing()
        except VantokError as error:
            messages.error(self.request, f"{error} Nothing was kept.")
        return HttpResponseRedirect(f"{reverse('road', args=[self.kwargs['pk']])}?{self.request.GET.urlencode()}")

    @act("set", "keep")
    def _keep(self) -> None:
        with self.change() as record:
            add(record, "rides", self._kept())

    @act("set", "forget")
    def _forget(self) -> None:
        with self.change() as record:
            told, key = proving_of(record), self.request.POST.get("key", "")
            store(record, told | {"rides": [one for one in told["rides"] if one["key"] != key]})

    def _kept(self) -> dict[str, Any]:
        """Return this ride as it is kept. Raises VantokError where it cannot be driven."""
        over = self.over()
        driven = self.desk.worked.ride(self.beside, over) if over else ()
        able = [(one, one.run) for one in driven if one.run is not None]
        if over is None or not able:
            raise InputError("ride", "nothing", "it was not driven")
        known = self.desk.worked.ride_odds(self.beside, over)
        verdict = ride_verdict(driven, over, known)
        return {
            "key": "",
            "piece": over.piece,
            "speed_kmh": round(3.6 * over.speed, 2),
            "state": next(s.name for s in self.desk.job.states if s.key == over.state),
            "seconds": able[0][1].set.duration,
            "said": verdict.in_units(self.units),
            "lines": [{"name": one.configuration.words, "rear_m": _rear(run)} for one, run in able],
            "by": str(self.person),
            "at": timezone.now().isoformat(timespec="seconds"),
        }

    def _steady(self, model: JobModel, state: str) -> tuple[Steady, ...]:
        """Return what stands of each configuration in a state, worked out once for a desk."""
        asked = ("steady", state, *(one.key for one in self.beside))
        return self.desk.kept(asked, lambda: steady_rows(model, self.beside, state))

    def _piece(self, key: str, over: Over | None) -> dict[str, Any]:
        return {
            "words": PIECES[key].words,
            "url": self.piece_url(key),
            "here": over is not None and over.piece == key,
            "svg": piece_svg(key),
        }


def _rear(run: Run) -> list[float]:
    """Return how the body over the rear axle moves up (m), at some hundred even times."""
    moved = -run.trace(run.x, run.ridden.wheelbase, 0.0)
    return [round(float(v), 5) for v in moved[:: max(len(moved) // STILL, 1)]][:STILL]


def told(over: Over | None, driven: Sequence[Driven], known: Mapping[str, Banded] | None = None) -> dict[str, Any]:
    """Return the table of a piece; known: how sure it is, once that is worked out."""
    if over is None or not driven:
        return {"over": over, "driven": (), "rows": ()}
    lines = rows(driven, over.piece)
    return {
        "over": over,
        "driven": driven,
        "course": COURSES[over.piece],
        "words": PIECES[over.piece].words,
        "radius": PIECES[over.piece].radius,
        "more": [
            {"words": words, "cells": cells}
            for words, cells in (
                ("in the standard’s words", words_row(driven)),
                ("half the rear damping gone after", fade_row(driven, over.piece)),
            )
            if any(cells) and not (PIECES[over.piece].leans and words.startswith("in the standard"))
        ],
        "rows": [{"row": one, "sure": _sure(known, one.figured.key)} for one in lines],
        "sure": known is not None,
    }


def _sure(known: Mapping[str, Banded] | None, key: str) -> str:
    """Return how sure a figure of the second configuration is: its band, and in how many of ten it is less than the first's."""
    if known is None:
        return "…"
    if (one := known.get(key)) is None:
        return "–"
    band = f"× {one.low:.2f} to {one.high:.2f}, " if one.low is not None and one.high is not None else ""
    return f"{band}lower: {odds_in_words(one.less)}"


class RoadOdds(RoadView):
    """How sure it is, for a page that stands already."""

    def get(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        """Return the table with its bands, and the sentence that rests on them; the page itself to one that is no script."""
        if not request.headers.get("HX-Request"):
            return HttpResponseRedirect(f"{reverse('road', args=[self.kwargs['pk']])}?{request.GET.urlencode()}")
        over, driven, _ = self.driven()
        if over is None or not driven:
            return HttpResponse(status=204)
        known = self.desk.worked.ride_odds(self.beside, over)
        verdict = led_by_limits(self.desk.job, ride_verdict(driven, over, known))
        context = told(over, driven, known) | {"verdict": verdict, "swap": True, "record": self.desk.record}
        return part(request, "road/sure.html", context)


class RoadCourse(RoadView):
    """The whole course in sentences: the first two configurations over every piece at its usual speed."""

    def get(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        """Return a line a piece; the page itself to one that is no script."""
        if not request.headers.get("HX-Request"):
            return HttpResponseRedirect(f"{reverse('road', args=[self.kwargs['pk']])}?{request.GET.urlencode()}")
        here, _, _ = self.driven()
        if here is None or not self.beside:
            return HttpResponse(status=204)
        overs = [replace(here, piece=key, speed=COURSES[key].speed / 3.6, side=PIECES[key].side) for key in PIECES]
        driven = self.desk.worked.course(self.beside[:2], overs)
        lines = [
            {"url": self.piece_url(one.piece), "verdict": ride_verdict(told_, one)} for one, told_ in driven.items()
        ]
        return part(request, "road/course.html", {"lines": lines, "record": self.desk.record})


class RoadFile(RoadView):
    """A ride for the customer: one file that opens on any phone, without a connection."""

    def get(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        """Return the file; the page itself where nothing can be driven."""
        over, driven, _ = self.driven()
        if over is None or not any(one.run for one in driven):
            return HttpResponseRedirect(f"{reverse('road', args=[self.kwargs['pk']])}?{request.GET.urlencode()}")
        known = self.desk.worked.ride_odds(self.beside, over)
        context = told(over, driven) | {
            "record": self.desk.record,
            "film": film(self.desk.job.vehicle, driven, over),
            "verdict": led_by_limits(self.desk.job, ride_verdict(driven, over, known)),
            "script": _script(),
            "shop": Shop.objects.first(),
            "now": timezone.now(),
        }
        answer = render(request, "road/file.html", context)
        name = f"{self.desk.record.number}-{over.piece}.html"
        answer["Content-Disposition"] = f'attachment; filename="{name}"'
        return answer


@cache
def _script() -> SafeString:
    """Return the player's script, our own file, as it goes into a page that stands alone."""
    found = finders.find("vantok/ride.js")
    return SafeString(Path(str(found)).read_text(encoding="utf-8"))
