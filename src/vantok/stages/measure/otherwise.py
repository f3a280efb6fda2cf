"""Heights that come otherwise than by typing: a block of cells pasted from a table, a photograph of the wheel with marks on it."""

from __future__ import annotations

from math import sqrt
from typing import Any, ClassVar

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import get_object_or_404
from django.urls import reverse

from vantok.desk.readings import Cell, ConflictError, LockedError, put_reading, record_reading, standing
from vantok.desk.stage import StageView
from vantok.fields.ids import identity
from vantok.records.measure.models import DATUMS, Reading, place_words, places_known
from vantok.records.weigh.models import LoadState
from vantok_core.base.errors import InputError, UnitError, VantokError
from vantok_core.base.names import WALK
from vantok_core.base.units import both, show
from vantok_core.files.pasted import Pasted, PastedCell, read_pasted
from vantok_core.readings.pictured import MARKS, pictured, tyre_diameter


class Paste(StageView):
    """A block of cells pasted from a table: the good ones are taken, the bad ones are told and stay."""

    stage = "measure"
    rights: ClassVar[str] = "measure"

    def get_template_names(self) -> list[str]:
        """Return its page."""
        return ["measure/paste.html"]

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the datum, the phases, and what was pasted."""
        kwargs.setdefault("text", "")
        datum = self.request.POST.get("datum") or self.request.GET.get("datum") or self.desk.datum
        return super().get_context_data(
            datum=datum,
            datums=DATUMS,
            phase=self.request.POST.get("phase", "before"),
            over=bool(self.request.POST.get("over")),
            **kwargs,
        )

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Take what reads; show the rest again with why."""
        told = request.POST
        datum, phase, text = told.get("datum", ""), told.get("phase", "before"), told.get("text", "")
        if datum not in dict(DATUMS) or phase not in ("before", "after"):
            datum, phase = self.desk.datum, "before"
        states = {s.key: s for s in self.desk.record.states.all()}
        places = {p: place_words(p) for p in places_known(datum, self.desk.record.vehicle)}
        try:
            found = read_pasted(text, {key: s.name for key, s in states.items()}, places)
        except VantokError as error:
            return self.again(422, text=text, faults=[str(error)])
        refused = [
            (one.line, f"{places[one.place]}: {why}")
            for one in found.cells
            if (why := self._put(Cell(state=states[one.state], phase=phase, datum=datum, place=one.place), one))
        ]
        self.anew()
        taken, faults = len(found.cells) - len(refused), sorted([*found.faults, *refused])
        if faults:
            said = [f"Line {n}, {why}" for n, why in faults]
            return self.again(422, text=_left(text, found, {n for n, _ in faults}), taken=taken, faults=said)
        messages.success(request, f"{taken} readings taken.")
        return HttpResponseRedirect(f"{reverse('prove' if phase == 'after' else 'measure', args=[pk])}?datum={datum}")

    def _put(self, cell: Cell, one: PastedCell) -> str:
        """Store one cell; return why it was not, empty where it was. What stands there otherwise is not overwritten unless that is wished."""
        last, over = standing(self.kwargs["pk"], cell), bool(self.request.POST.get("over"))
        if last is not None and last.value_m is not None and not over and last.text != one.text:
            return f"{last.text} stands there already; {one.text} was not taken"
        if last is not None and last.text == one.text:
            return ""
        try:
            record_reading(self.person, self.kwargs["pk"], cell, one.text, seen=last.pk if last else 0)
        except (UnitError, LockedError) as error:
            return str(error)
        except ConflictError:
            return "somebody wrote there meanwhile"
        return ""


def _left(text: str, found: Pasted, bad: set[int]) -> str:
    """Return the lines of a block that were not taken, under its head."""
    lines = text.replace("\r", "").split("\n")
    head = 1 not in {cell.line for cell in found.cells}
    return "\n".join(line for n, line in enumerate(lines, 1) if n in bad or (n == 1 and head))


class ByPhoto(StageView):
    """Hub to arch off a photograph: marks set by hand, the tyre's size as the scale. The picture stays on the device."""

    stage = "measure"
    rights: ClassVar[str] = "measure"

    def get_template_names(self) -> list[str]:
        """Return its page."""
        return ["measure/by_photo.html"]

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add states and corners to read, and what was typed."""
        asked = self.request.POST or self.request.GET
        return super().get_context_data(
            states=self.desk.record.states.all(),
            places=[(p, place_words(p)) for p in WALK],
            asked={n: asked.get(n, "") for n in ("state", "place", "phase", "size")},
            marks=[
                (m, m.replace("_", " ").replace("edge 1", "tyre's edge").replace("edge 2", "tyre's edge across"))
                for m in MARKS
            ],
            **kwargs,
        )

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Store the reading with its own sigma, or say what is wrong with the marks."""
        told = request.POST
        try:
            state = get_object_or_404(LoadState, job_id=pk, pk=identity(told.get("state")))
            place, phase = told.get("place", ""), told.get("phase", "before")
            if place not in WALK or phase not in ("before", "after"):
                raise InputError("place", place, "choose a corner")
            found = pictured(
                {m: _mark(told.get(m, "")) for m in MARKS if told.get(m)}, tyre_diameter(told.get("size", ""))
            )
            cell = Cell(state=state, phase=phase, datum="hub_arch", place=place)
            last = standing(pk, cell)
            read = Reading(
                value_m=round(found.height, 4),
                step_m=min(found.sigma * sqrt(12.0), 0.05),
                text=f"{found.height * 1000:.0f} mm",
                unit="mm",
                instrument="photo",
                note=f"off a photograph, ± {both('length', found.sigma)}; tyre {told.get('size', '')[:40]}",
            )
            put_reading(self.person, pk, cell, read, seen=last.pk if last else 0, reason=told.get("reason", ""))
        except (InputError, LockedError, ConflictError) as error:
            self.anew()
            return self.again(422, wrong=str(error))
        wide = show("length", found.sigma, self.units)
        messages.success(
            request,
            f"Hub to arch {show('length', found.height, self.units)} (± {wide} a sigma), read off the photograph.",
        )
        return HttpResponseRedirect(f"{reverse('prove' if phase == 'after' else 'measure', args=[pk])}?datum=hub_arch")


def _mark(text: str) -> tuple[float, float]:
    """Return a mark of a text: two figures, pixels. Raises InputError for one that is none."""
    try:
        x, y = (float(one) for one in text.split(","))
    except ValueError as error:
        raise InputError("marks", text[:40], "a mark is two figures, pixels across and down") from error
    if not (abs(x) < 1e5 and abs(y) < 1e5):
        raise InputError("marks", text[:40], "a mark lies on the picture")
    return x, y
