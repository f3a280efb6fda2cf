"""The bays and how their floors lie: measured once by reading one vehicle facing in and again facing out."""

from __future__ import annotations

from typing import Any, ClassVar, cast

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import get_object_or_404
from django.urls import reverse
from django.views.generic import TemplateView

from vantok.fields.ids import identity
from vantok.fields.quantity import QuantityField, UnitsForm
from vantok.people.models import User
from vantok.people.rights import demand
from vantok.records.jobs.models import Bay
from vantok.records.measure.models import place_words
from vantok.stages.measure.actions import measure_floor
from vantok_core.base.errors import VantokError
from vantok_core.base.names import WALK
from vantok_core.base.units import System, show
from vantok_core.readings.floor import floor_from_turn


class FloorForm(UnitsForm):
    """Eight heights of one vehicle: each corner facing in, and facing out on the same four spots."""

    def settle(self) -> None:
        """Make the eight fields."""
        for way in ("in", "out"):
            for corner in WALK:
                label = f"{place_words(corner)}, facing {way}"
                self.fields[f"{way}_{corner}"] = QuantityField("length", label=label, required=True)
        super().settle()

    def side(self, way: str) -> dict[str, float]:
        """Return the four heights of one way round (m)."""
        return {corner: self.cleaned_data[f"{way}_{corner}"] for corner in WALK}


class Bays(TemplateView):
    """All bays with their floors; adding one, and measuring one."""

    template_name = "measure/bays.html"
    rights: ClassVar[str] = "floor"

    @property
    def person(self) -> User:
        """Who is signed in."""
        return cast("User", self.request.user)

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the bays, and the form of the one being measured."""
        bay = Bay.objects.filter(pk=identity(self.request.GET.get("bay") or self.request.POST.get("bay"))).first()
        if bay is not None:
            kwargs.setdefault("form", FloorForm(units=cast("System", self.person.units)))
        return super().get_context_data(bays=Bay.objects.all(), bay=bay, **kwargs)

    def post(self, request: HttpRequest) -> HttpResponse:
        """Add a bay, or store what was measured."""
        name = request.POST.get("name", "").strip()[:40]
        if name:
            demand(self.person, "shop")
            Bay.objects.get_or_create(name=name)
            return HttpResponseRedirect(reverse("bays"))
        bay = get_object_or_404(Bay, pk=identity(request.POST.get("bay")))
        units = cast("System", self.person.units)
        form = FloorForm(request.POST, units=units)
        if form.is_valid():
            try:
                floor = floor_from_turn(form.side("in"), form.side("out"))
            except VantokError as error:
                form.add_error(None, str(error))
            else:
                measure_floor(self.person, bay, floor)
                spread = show("length", floor.spread, units)
                messages.success(
                    request, f"{bay}: floor measured. The pairs that tell the same differ by {spread} at most."
                )
                return HttpResponseRedirect(reverse("bays"))
        return self.render_to_response(self.get_context_data(form=form), status=422)
