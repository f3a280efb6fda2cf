"""The playground: a vehicle loaded by hand answers at once, and is asked about."""

from __future__ import annotations

from typing import Any, ClassVar, cast

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.utils import timezone
from django.views.generic import TemplateView

from vantok.drawing.ground import ground_svg
from vantok.fields.ids import identity
from vantok.people.models import User
from vantok.practice.kept import keep
from vantok_core.base.errors import UnitError, VantokError
from vantok_core.base.say import Quantity
from vantok_core.base.units import System, parse, unit_name
from vantok_core.practice.bay.ground import (
    HANDLES,
    VEHICLES,
    Answers,
    answer_of,
    answered,
    near_enough,
    pushed,
    question,
)

KEY = "ground"
SIDED = 0.02


class Ground(TemplateView):
    """The playground; asked for by a script, only what answers."""

    rights: ClassVar[str] = "practise"

    def get_template_names(self) -> list[str]:
        """Return the page, or its answer alone."""
        return ["practice/ground_answer.html" if self.request.headers.get("HX-Request") else "practice/ground.html"]

    @property
    def units(self) -> System:
        """The reader's units."""
        return cast("System", cast("User", self.request.user).units)

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Return handles as they stand, what the vehicle answers, and the question asked."""
        told = self.request.GET
        vehicle = told.get("vehicle", "")
        vehicle = vehicle if vehicle in VEHICLES else next(iter(VEHICLES))
        figures = pushed({name: value for name in HANDLES if (value := _figure(told.get(name, ""))) is not None})
        number = identity(told.get("question")) % 1_000_000
        asked = question(number) if number else None
        try:
            found, why = answered(vehicle, figures), ""
        except VantokError as error:
            found, why = None, str(error)
        return super().get_context_data(
            vehicles=VEHICLES,
            vehicle=vehicle,
            handles=[
                {"name": n, "one": h, "value": figures[n], "shown": Quantity(figures[n], h.kind)}
                for n, h in HANDLES.items()
            ],
            told=_told(found) if found else (),
            over=found.over if found else (),
            why=why,
            svg=ground_svg(vehicle, figures, found, self.units) if found else "",
            asked=asked,
            number=number,
            unit=unit_name(asked.kind, self.units) if asked else "",
            fresh=int(timezone.now().timestamp()) % 999_983 + 1,
            **kwargs,
        )

    def post(self, request: HttpRequest) -> HttpResponse:
        """Answer the question asked."""
        number = identity(request.POST.get("question")) % 1_000_000
        asked = question(number)
        here = f"{reverse('ground')}?question={number}"
        try:
            text = request.POST.get("guess", "")
            if not text.strip():
                raise UnitError("Type a figure first.")
            guess = parse(asked.kind, text, self.units).value
        except UnitError as error:
            messages.error(request, str(error))
            return HttpResponseRedirect(here)
        right = near_enough(asked, guess)
        true = Quantity(answer_of(asked), asked.kind).in_units(self.units)
        said = f"It is {true}; you said {Quantity(guess, asked.kind).in_units(self.units)}."
        keep(cast("User", request.user), KEY, number, float(right), {"guess": guess})
        tell = messages.success if right else messages.warning
        tell(request, f"{'Near enough.' if right else 'Not near.'} {said}")
        settings = "&".join(f"{name}={value:g}" for name, value in asked.told.items())
        return HttpResponseRedirect(f"{reverse('ground')}?vehicle={asked.vehicle}&{settings}")


def _figure(text: str) -> float | None:
    """Return a handle's figure (SI) as the address has it; None for what is none."""
    try:
        found = float(text)
    except ValueError:
        return None
    return found if abs(found) < 1e7 else None


def _told(found: Answers) -> list[tuple[str, Quantity]]:
    """Return what the vehicle answers, a line each."""
    rows = [
        ("front axle", Quantity(found.axles[0], "mass")),
        ("rear axle", Quantity(found.axles[1], "mass")),
        ("front axle against empty", Quantity(-found.front_lost, "percent", signed=True)),
        ("rear is down by", Quantity(found.rear_sag, "length", signed=True)),
        ("beam at ten metres", Quantity(found.beam, "length", signed=True)),
        ("left at the rear stops", Quantity(found.gap, "length")),
        ("leans further in a bend", Quantity(found.roll, "angle")),
    ]
    return (
        rows
        if abs(found.lean) < SIDED / 10
        else [*rows, ("leans as it stands", Quantity(found.lean, "angle", signed=True))]
    )
