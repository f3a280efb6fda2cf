"""The measuring sheet: a cell at a time, saved as it is typed; what others type appears in it."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, ClassVar

from django import forms
from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import get_object_or_404
from django.urls import reverse
from django.utils.functional import SimpleLazyObject

from vantok.desk.load import Desk
from vantok.desk.opening import judge_as_it_stands
from vantok.desk.proof_tables import cause_rows, effect_rows, proof_rows
from vantok.desk.readings import (
    APART,
    Cell,
    ConflictError,
    LockedError,
    apart_of,
    aside_of,
    record_reading,
    same_load,
)
from vantok.desk.stage import StageView, frame, part
from vantok.drawing.datums import datum_svg
from vantok.fields.ids import identity
from vantok.fields.quantity import QuantityField, UnitsForm
from vantok.people.acts import act
from vantok.people.gate import REFUSED, SCRIPT, STORED
from vantok.people.once import FIELD
from vantok.records.jobs.models import Bay, Job
from vantok.records.measure.models import DATUMS, PHASES, Reading, places_known
from vantok.records.weigh.models import LoadState
from vantok.stages.measure import actions
from vantok.stages.measure.already import AlreadyForm, save_already
from vantok.stages.measure.empty_load import EmptyLoadForm, save_empty_load
from vantok.stages.measure.sheet import Sheet, hold_against
from vantok_core.base.errors import UnitError, VantokError
from vantok_core.base.names import ARCHES

SELDOM = ("rim_arch", "coil_gap", "access_hole")
"""Datums that stand folded until they are used."""


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
    opens_offline = True
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
        read = {r.datum for r in self.desk.record.readings.all()}
        shown = [one for one in DATUMS if one[0] not in SELDOM or one[0] in read or one[0] == self.datum]
        whole = bool(self.request.GET.get("whole"))
        sheet = Sheet(self.desk, self.phase, self.datum, whole=whole, units=self.units)
        kwargs.setdefault("point_form", PointForm(units=self.units))
        if self.phase == "before":
            kwargs.setdefault("empty_form", EmptyLoadForm(record=self.desk.record, units=self.units))
            kwargs |= self._already(kwargs.pop("already_form", None))
        return super().get_context_data(
            whole=whole,
            arches=ARCHES,
            datum_drawing=datum_svg(self.datum, dict(DATUMS)[self.datum]),
            rows=sheet.rows,
            datum=self.datum,
            datums=shown,
            more=[one for one in DATUMS if one not in shown],
            places=sheet.places,
            phase=self.phase,
            sheet=self.desk.sheet,
            bays=list(Bay.objects.all()),
            newest=newest(self.desk),
            points=self.desk.record.vehicle.points,
            **kwargs,
        )

    def _already(self, form: AlreadyForm | None) -> dict[str, Any]:
        """Return what was on when it came: the form, the cells with it off, and what it was read to do."""
        record, found = self.desk.record, self.desk.worked.already
        off = Sheet(self.desk, "off", self.datum, units=self.units)
        blank = SimpleLazyObject(lambda: AlreadyForm(record=record, units=self.units))
        return {
            "already_form": form or blank,
            "off_rows": off.rows if record.already else [],
            "effects": effect_rows(found.effects) if found else [],
            "already_verdict": found.verdict if found else None,
            "let_down": [{"one": one, "effects": effect_rows(one.effects)} for one in (found.others if found else ())],
        }

    @act("measure", "already")
    def _was_on(self) -> HttpResponse:
        return self.entered(
            "already_form", lambda r: AlreadyForm(self.request.POST, record=r, units=self.units), save_already
        )

    @act("measure", "empty-load")
    def _empty_load(self) -> HttpResponse:
        return self.entered(
            "empty_form", lambda r: EmptyLoadForm(self.request.POST, record=r, units=self.units), save_empty_load
        )

    @act("measure", "bay")
    def _bay(self) -> HttpResponse:
        bay = Bay.objects.filter(pk=identity(self.request.POST.get("bay"))).first()
        with self.change() as record:
            actions.stand_in(record, bay, facing_out=self.request.POST.get("facing") == "out")
        return self.back()

    @act("measure", "never-empty")
    def _never_empty(self) -> HttpResponse:
        with self.change() as record:
            judge_as_it_stands(record, never_empty=self.request.POST.get("never") == "yes")
        return self.back()

    @act("measure", "same-load")
    def _same_load(self) -> HttpResponse:
        with self.change(facts=False) as record:
            same_load(record, get_object_or_404(LoadState, job=record, pk=identity(self.request.POST.get("state"))))
        return self.back()

    @act("measure", "remove-point")
    def _remove_point(self) -> HttpResponse:
        try:
            with self.change() as record:
                actions.remove_point(record.vehicle, self.request.POST.get("point", ""))
        except VantokError as error:
            messages.error(self.request, str(error))
        return self.back()

    @act("measure", "add-point")
    def _point(self) -> HttpResponse:
        return self.entered("point_form", lambda _: PointForm(self.request.POST, units=self.units), self._add_point)

    @staticmethod
    def _add_point(record: Job, form: PointForm) -> None:
        data = form.cleaned_data
        actions.add_point(record.vehicle, data["name"], data["station"], data["lateral"] or 0.0)


class Settle(StageView):
    """Whether the vehicle was lifted since it was last rolled and bounced: readings until then are marked."""

    rights: ClassVar[str] = "measure"

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Note it, and go back to the sheet it was said on."""
        with self.change(facts=False) as record:
            record.lifted = request.POST.get("action") == "lifted"
            record.save()
        return HttpResponseRedirect(reverse("prove" if request.POST.get("from") == "prove" else "measure", args=[pk]))


def newest(desk: Desk) -> int:
    """Return the id of the job's last reading (0: none), by which a page knows what it has seen."""
    return max((r.pk for r in desk.record.readings.all()), default=0)


class Since(StageView):
    """What others have written since a page was shown: the changed cells, the drawing, the sentence."""

    def get(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        """Return the changes, or nothing when there are none."""
        phase, datum = request.GET.get("phase", "before"), request.GET.get("datum", "")
        after = request.GET.get("after", "")
        if datum not in dict(DATUMS) or phase not in PHASES or not after.isascii() or not after.isdecimal():
            raise Http404
        changed = Reading.objects.filter(job_id=self.kwargs["pk"], pk__gt=identity(after))
        if not changed.exists():
            return HttpResponse(status=204)
        wanted = {(r.phase, r.state_id, r.place) for r in changed if r.datum == datum}
        cells = [c for c in self._shown(phase, datum) if (c["phase"], c["state"].pk, c["place"]) in wanted]
        stage = "prove" if phase == "after" else "measure"
        context = frame(self.desk, stage, self.look) | {
            "cells": cells,
            "sheet": self.desk.sheet,
            "swap": True,
            "newest": newest(self.desk),
            "phase": phase,
            "datum": datum,
        }
        if stage == "prove":
            context |= {"tables": proof_rows(self.desk), "causes": cause_rows(self.desk)}
        return part(request, "measure/since.html", context)

    def _shown(self, phase: str, datum: str) -> list[dict[str, Any]]:
        """Return the cells a page of a phase shows: as it came, those with what was on taken off too."""
        phases = (phase, "off") if phase == "before" else (phase,)
        return [cell for one in phases for row in Sheet(self.desk, one, datum).rows() for cell in row["cells"]]


class CellView(StageView):
    """One cell: shows itself, and saves what is typed into it."""

    stage = "measure"
    answers_again = True  # an entry that comes again is told what stands, by its reading
    rights: ClassVar[str] = "measure"

    def _cell(self) -> Cell:
        k = self.kwargs
        state = get_object_or_404(LoadState.objects.select_related("job__vehicle"), job_id=k["pk"], pk=k["state"])
        if (
            k["datum"] not in dict(DATUMS)
            or k["place"] not in places_known(k["datum"], state.job.vehicle)
            or k["phase"] not in PHASES
        ):
            raise Http404
        return Cell(state=state, phase=k["phase"], datum=k["datum"], place=k["place"])

    def get(self, request: HttpRequest, **kwargs: Any) -> HttpResponse:
        """Return the cell as it stands."""
        return self._shown(self._cell())

    def post(self, request: HttpRequest, **kwargs: Any) -> HttpResponse:
        """Save the text; answer with the cell, the drawing, the sentence and the checks.

        What is stored says so by its token and the id that now stands; what is not taken comes back as typed with its reason.
        """
        cell, text, told = self._cell(), request.POST.get("text", ""), request.POST
        aside = aside_of(told)
        token = (request.headers.get(SCRIPT) or told.get(FIELD, ""))[:40]
        try:
            read = record_reading(
                self.person, self.kwargs["pk"], cell, text, seen=identity(told.get("seen")), token=token, aside=aside
            )
        except UnitError as error:
            return self._shown(cell, "unread", typed=text, error=str(error))
        except ConflictError as conflict:
            theirs = conflict.standing
            said = f"{theirs.by or 'Somebody'} wrote {theirs.text or 'nothing'} here meanwhile. Yours ({text}) is not saved yet."
            return self._shown(cell, "conflict", typed=text, error=said, conflict=True)
        except LockedError as locked:
            return self._shown(cell, "locked", typed=text, error=str(locked), reason=locked.may_change)
        if read is not None:
            hold_against(self.anew(), cell, read)
        if request.headers.get("HX-Request") != "true":
            return self.back()
        answer = self._shown(cell)
        answer[STORED], answer["X-Vantok-Seen"] = token, str(read.pk if read else 0)
        if read is not None and read.again and (apart_of(read) or 0.0) > APART:
            answer["X-Vantok-Apart"] = "1"
        return answer

    def _shown(self, cell: Cell, refused: str = "", **typed: Any) -> HttpResponse:
        desk = self.anew()
        shown = Sheet(desk, cell.phase, cell.datum).cell(cell.state, cell.place)
        if refused:
            shown |= typed | {"text": typed["typed"]}
        stage = "prove" if cell.phase == "after" else "measure"
        context = frame(
            desk, stage, replace(self.look, state=cell.state.key + ("+kit" if stage == "prove" else ""))
        ) | {
            "cell": shown,
            "sheet": desk.sheet,
            "swap": True,
        }
        if stage == "prove":
            context |= {"tables": proof_rows(desk), "causes": cause_rows(desk)}
        answer = part(self.request, "measure/cell_saved.html", context)
        if refused:
            answer[REFUSED] = refused
        return answer
