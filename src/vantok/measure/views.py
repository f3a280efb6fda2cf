"""The measuring sheet: a cell at a time, saved as it is typed; what others type appears in it."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django import forms
from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404

from vantok.drawing.fields import QuantityField, UnitsForm
from vantok.jobs.desk import Desk
from vantok.jobs.ids import identity
from vantok.jobs.models import Bay
from vantok.jobs.stage import StageView, frame, part
from vantok.measure import services
from vantok.measure.models import DATUMS, Reading
from vantok.measure.services import Aside, Cell, ConflictError, record_reading
from vantok.measure.sheet import Sheet, places_of
from vantok.prove.tables import proof_rows
from vantok.weigh.models import LoadState
from vantok_core.errors import UnitError, VantokError
from vantok_core.judge.checks import check_reading, expected_before
from vantok_core.model import build_model


class PointForm(UnitsForm):
    """A named point: what it is called and where it is."""

    name = forms.CharField(
        label="what it is called", max_length=30, widget=forms.TextInput(attrs={"class": "form-control"})
    )
    station = QuantityField("length", label="behind the front axle", negative=True, required=True)
    lateral = QuantityField("length", label="left of centre", negative=True)


class Measure(StageView):
    """The sheet."""

    stage = "measure"
    phase = "before"

    @property
    def datum(self) -> str:
        """The datum shown, from the address."""
        datum = self.request.GET.get("datum", "") or self.desk.datum
        if datum not in dict(DATUMS):
            raise Http404
        return datum

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the grid of the chosen datum, the bay, and the form for a named point."""
        sheet = Sheet(self.desk, self.phase, self.datum)
        kwargs.setdefault("point_form", PointForm(units=self.units))
        return super().get_context_data(
            rows=sheet.rows, datum=self.datum, datums=DATUMS, places=sheet.places, phase=self.phase, sheet=self.desk.sheet,
            bays=list(Bay.objects.all()), newest=newest(self.desk), points=self.desk.record.vehicle.points, **kwargs,
        )  # fmt: skip

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Say where the vehicle stands, or add or remove a named point."""
        action = request.POST.get("action", "")
        if action == "bay":
            bay = Bay.objects.filter(pk=identity(request.POST.get("bay"))).first()
            services.stand_in(self.desk.record, bay, facing_out=request.POST.get("facing") == "out")
            return self.back()
        if action == "remove-point":
            try:
                services.remove_point(self.desk.record.vehicle, request.POST.get("point", ""))
            except VantokError as error:
                messages.error(request, str(error))
            return self.back()
        form = PointForm(request.POST, units=self.units)
        try:
            if form.is_valid():
                data = form.cleaned_data
                services.add_point(self.desk.record.vehicle, data["name"], data["station"], data["lateral"] or 0.0)
                return self.back()
        except VantokError as error:
            form.add_error("name", str(error))
        return self.again(422, point_form=form)


def newest(desk: Desk) -> int:
    """Return the id of the job's last reading (0: none), by which a page knows what it has seen."""
    return max((r.pk for r in desk.record.readings.all()), default=0)


class Since(StageView):
    """What others have written since a page was shown: the changed cells, the drawing, the sentence."""

    def get(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        """Return the changes, or nothing when there are none."""
        phase, datum = request.GET.get("phase", "before"), request.GET.get("datum", "")
        after = request.GET.get("after", "")
        if datum not in dict(DATUMS) or phase not in ("before", "after") or not after.isdigit():
            raise Http404
        changed = Reading.objects.filter(job_id=self.kwargs["pk"], pk__gt=int(after))
        if not changed.exists():
            return HttpResponse(status=204)
        sheet = Sheet(self.desk, phase, datum)
        wanted = {(r.state_id, r.place) for r in changed if (r.phase, r.datum) == (phase, datum)}
        cells = [c for row in sheet.rows() for c in row["cells"] if (c["state"].pk, c["place"]) in wanted]
        stage = "prove" if phase == "after" else "measure"
        context = frame(self.desk, stage, self.look) | {
            "cells": cells, "sheet": self.desk.sheet, "swap": True, "newest": newest(self.desk), "phase": phase, "datum": datum,
        }  # fmt: skip
        if stage == "prove":
            context["tables"] = proof_rows(self.desk)
        return part(request, "measure/since.html", context)


class CellView(StageView):
    """One cell: shows itself, and saves what is typed into it."""

    stage = "measure"

    def _cell(self) -> Cell:
        k = self.kwargs
        state = get_object_or_404(LoadState.objects.select_related("job__vehicle"), job_id=k["pk"], pk=k["state"])
        if (
            k["datum"] not in dict(DATUMS)
            or k["place"] not in places_of(k["datum"], state.job.vehicle)
            or k["phase"] not in ("before", "after")
        ):
            raise Http404
        return Cell(state=state, phase=k["phase"], datum=k["datum"], place=k["place"])

    def get(self, request: HttpRequest, **kwargs: Any) -> HttpResponse:
        """Return the cell as it stands."""
        return self._shown(self._cell())

    def post(self, request: HttpRequest, **kwargs: Any) -> HttpResponse:
        """Save the text; answer with the cell, the drawing, the sentence and the checks. What is not taken comes back
        as typed with its reason, and the header X-Vantok-Refused says so to entries that waited for the connection."""
        cell, text = self._cell(), request.POST.get("text", "")
        seen = request.POST.get("seen", "0")
        aside = Aside(instrument=request.POST.get("instrument", ""), note=request.POST.get("note", ""))
        try:
            record_reading(
                self.person, self.desk.record, cell, text, seen=int(seen) if seen.isdigit() else 0,
                token=request.POST.get("token", "")[:40], aside=aside,
            )  # fmt: skip
        except UnitError as error:
            return self._shown(cell, typed=text, error=str(error))
        except ConflictError as conflict:
            theirs = conflict.standing
            said = f"{theirs.by or 'Somebody'} wrote {theirs.text or 'nothing'} here meanwhile. Yours ({text}) is not saved yet."
            return self._shown(cell, typed=text, error=said, conflict=True)
        if request.headers.get("HX-Request") != "true":
            return self.back()
        return self._shown(cell)

    def _shown(self, cell: Cell, *, typed: str | None = None, error: str = "", conflict: bool = False) -> HttpResponse:
        fresh = Desk.open(self.kwargs["pk"])
        sheet = Sheet(fresh, cell.phase, cell.datum)
        shown = sheet.cell(cell.state, cell.place)
        if not error:
            shown["findings"] = _findings_with_model(fresh, cell) or shown["findings"]
        if typed is not None:
            shown |= {"text": typed, "error": error, "conflict": conflict}
        stage = "prove" if cell.phase == "after" else "measure"
        context = frame(fresh, stage, replace(self.look, state=cell.state.key + ("+kit" if stage == "prove" else ""))) | {
            "cell": shown, "sheet": fresh.sheet, "swap": True,
        }  # fmt: skip
        if stage == "prove":
            context["tables"] = proof_rows(fresh)
        answer = part(self.request, "measure/cell_saved.html", context)
        if error:
            answer["X-Vantok-Refused"] = "conflict" if conflict else "unread"
        return answer


def _findings_with_model(desk: Desk, cell: Cell) -> list[Any]:
    """Hold the reading just taken against a model that has not seen it."""
    reading = desk.job.read(cell.state.key, cell.place, cell.datum, cell.phase)
    if reading is None or desk.model is None:
        return []
    try:
        blind = build_model(expected_before(desk.job, reading))
    except VantokError:
        return check_reading(desk.job, reading)
    return check_reading(desk.job, reading, blind)
