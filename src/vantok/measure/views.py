"""The measuring sheet: a cell at a time, saved as it is typed."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404

from vantok.jobs.desk import Desk
from vantok.jobs.stage import StageView, frame, part
from vantok.measure.models import DATUMS, PLACES, Reading
from vantok.measure.services import Cell, ConflictError, record_reading
from vantok.prove.tables import proof_rows
from vantok.weigh.models import LoadState
from vantok_core.errors import UnitError, VantokError
from vantok_core.judge.checks import check_reading, expected_before
from vantok_core.model import build_model
from vantok_core.readings.tape import NINE_IN_TEN

CORNERS = ("FL", "RL", "RR", "FR")


def places_of(datum: str) -> list[str]:
    """Return the places a datum is read at, in walking order."""
    return ["hitch"] if datum == "ground_hitch" else ["RL", "RR"] if datum == "pad_to_pad" else list(CORNERS)


class Sheet:
    """The cells of a measuring sheet for one phase and datum."""

    def __init__(self, desk: Desk, phase: str, datum: str) -> None:
        self.desk, self.phase, self.datum = desk, phase, datum
        self._expected_heights: dict[str, dict[str, Any]] = {}
        self.last = {(r.state_id, r.phase, r.datum, r.place): r for r in desk.record.readings.all()}

    def rows(self) -> list[dict[str, Any]]:
        """Return a row per state with its cells; extra datums of a state follow its arch row."""
        return [
            {"state": state, "cells": [self.cell(state, place) for place in places_of(self.datum)]}
            for state in self.desk.record.states.all()
        ]

    def cell(self, state: LoadState, place: str) -> dict[str, Any]:
        """Return a cell as its template part shows it."""
        last = self.last.get((state.pk, self.phase, self.datum, place))
        read = last if last is not None and last.value_m is not None else None
        return {
            "state": state, "place": place, "words": dict(PLACES)[place], "datum": self.datum, "phase": self.phase,
            "seen": last.pk if last else 0, "reading": read, "text": read.text if read else "",
            "findings": self._findings(state, place, read), "expected": self._expected(state, place, read),
        }  # fmt: skip

    def _findings(self, state: LoadState, place: str, read: Reading | None) -> list[Any]:
        if read is None:
            return []
        reading = self.desk.job.read(state.key, place, self.datum, self.phase)
        return check_reading(self.desk.job, reading) if reading else []

    def _expected(self, state: LoadState, place: str, read: Reading | None) -> Any:
        """Return what the model expects of a cell not yet read in a loaded state."""
        if read is not None or state.empty or self.phase == "after" or self.desk.model is None or place == "hitch":
            return None
        if self.datum not in ("ground_arch", "hub_arch"):
            return None
        try:
            found = self._heights(state.key).get(place)
        except VantokError:
            return None
        return None if found is None else {"value": found.value, "band": NINE_IN_TEN * found.sigma}

    def _heights(self, key: str) -> dict[str, Any]:
        if key not in self._expected_heights:
            assert self.desk.model is not None
            self._expected_heights[key] = self.desk.model.heights(key, self.datum)
        return self._expected_heights[key]


class Measure(StageView):
    """The sheet."""

    stage = "measure"
    phase = "before"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the grid of the chosen datum."""
        datum = self.request.GET.get("datum", "") or self.desk.datum
        if datum not in dict(DATUMS):
            raise Http404
        places = [(p, dict(PLACES)[p]) for p in places_of(datum)]
        return super().get_context_data(
            rows=Sheet(self.desk, self.phase, datum).rows(), datum=datum, datums=DATUMS, places=places, phase=self.phase,
            sheet=self.desk.sheet, **kwargs,
        )  # fmt: skip


class CellView(StageView):
    """One cell: shows itself, and saves what is typed into it."""

    stage = "measure"

    def _cell(self) -> Cell:
        k = self.kwargs
        if (
            k["datum"] not in dict(DATUMS)
            or k["place"] not in places_of(k["datum"])
            or k["phase"] not in ("before", "after")
        ):
            raise Http404
        state = get_object_or_404(LoadState, job_id=k["pk"], pk=k["state"])
        return Cell(state=state, phase=k["phase"], datum=k["datum"], place=k["place"])

    def get(self, request: HttpRequest, **kwargs: Any) -> HttpResponse:
        """Return the cell as it stands."""
        return self._shown(self._cell())

    def post(self, request: HttpRequest, **kwargs: Any) -> HttpResponse:
        """Save the text; answer with the cell, the drawing, the sentence and the checks."""
        cell, text = self._cell(), request.POST.get("text", "")
        seen = request.POST.get("seen", "0")
        try:
            record_reading(
                self.person, self.desk.record, cell, text, seen=int(seen) if seen.isdigit() else 0,
                token=request.POST.get("token", "")[:40],
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
        context = frame(fresh, stage, replace(self.look, state=cell.state.key)) | {
            "cell": shown,
            "sheet": fresh.sheet,
            "swap": True,
        }
        if stage == "prove":
            context["tables"] = proof_rows(fresh)
        return part(self.request, "measure/cell_saved.html", context)


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
