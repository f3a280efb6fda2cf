"""The walk round the vehicle: one big field at a time, for gloves and arm's length."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction
from typing import Any, ClassVar

from django.http import Http404, HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse

from vantok.desk.look import Look
from vantok.desk.readings import APART, Cell, ConflictError, LockedError, apart_of, aside_of, record_reading
from vantok.desk.stage import StageView
from vantok.drawing.datums import datum_svg
from vantok.fields.ids import identity
from vantok.people.gate import REFUSED, SCRIPT
from vantok.people.once import FIELD
from vantok.records.jobs.models import Bay
from vantok.records.measure.models import DATUMS, INSTRUMENTS, Reading, places_of
from vantok.records.weigh.models import LoadState
from vantok.stages.measure.sheet import Sheet, hold_against
from vantok_core.base.errors import UnitError
from vantok_core.base.names import CORNERS as CORNER_NAMES
from vantok_core.base.units import show

SIXTEENTHS = ("", *(str(Fraction(n, 16)) for n in range(1, 16)))
STEPS = ("-10", "-5", "-1", "+1", "+5", "+10")
PREPARE = {
    "level": "Level floor, or the bay's slope measured",
    "tyres": "Tyre pressures read and noted",
    "tanks": "Fuel and water levels noted",
    "legs": "Levelling legs up, jacks out",
    "settled": "Rolled and bounced to settle",
    "straight": "Steering straight ahead",
    "chocked": "A wheel chocked, brake off",
    "people": "People in or out as the state says",
}
"""What is done before the first reading."""


class Walk(StageView):
    """One cell at a time in walking order; each answer leads to the next cell that is not read yet."""

    stage = "measure"
    opens_offline = True
    answers_again = True
    rights: ClassVar[str] = "measure"

    def get_template_names(self) -> list[str]:
        """Return the page."""
        return ["measure/walk.html"]

    @property
    def look(self) -> Look:
        """Draw the state that is being read."""
        return replace(super().look, state=self.cell.state.key if self.desk.diagnosis else "")

    @property
    def datum(self) -> str:
        """The datum walked, from the address."""
        datum = self.request.GET.get("datum") or self.desk.datum
        if datum not in dict(DATUMS):
            raise Http404
        return datum

    def stops(self) -> list[Cell]:
        """Return all cells of the walk in order."""
        states = list(self.desk.record.states.all())
        places = places_of(self.datum, self.desk.record.vehicle)
        stops = [Cell(state=s, phase="before", datum=self.datum, place=p) for s in states for p in places]
        if not stops:
            raise Http404
        return stops

    @property
    def cell(self) -> Cell:
        """The cell asked for, else the first one not read, else the first."""
        stops = self.stops()
        asked = self.request.GET.get("at", "")
        named = {f"{c.state.key}-{c.place}": c for c in stops}
        if asked in named:
            return named[asked]
        read = {(r.state, r.place) for r in self.desk.job.readings if r.datum == self.datum and r.phase == "before"}
        return next((c for c in stops if (c.state.key, c.place) not in read), stops[0])

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the cell, its neighbours, and what stands at the other side and in the state before."""
        cell, stops = self.cell, self.stops()
        sheet = Sheet(self.desk, "before", self.datum)
        shown = sheet.cell(cell.state, cell.place) | kwargs.pop("typed", {})
        earlier = self._earlier(cell)
        place = next(i for i, c in enumerate(stops) if (c.state.pk, c.place) == (cell.state.pk, cell.place))
        other = self._standing(cell.state, CORNER_NAMES[cell.place].beside if cell.place in CORNER_NAMES else "")
        empty = self.desk.job.empty
        before = self.desk.job.read(empty.key, cell.place, self.datum) if empty and not cell.state.empty else None
        return super().get_context_data(
            cell=shown,
            place=place + 1,
            count=len(stops),
            back_to=self._at(stops[place - 1]) if place else "",
            on_to=self._at(stops[place + 1]) if place + 1 < len(stops) else "",
            other=other.value_m + other.floor_m if other else None,
            before=before,
            chips=SIXTEENTHS if self.units == "us" else STEPS,
            datum=self.datum,
            datum_drawing=datum_svg(self.datum, dict(DATUMS)[self.datum]),
            datum_words=dict(DATUMS)[self.datum],
            last=lambda: [self._stop(sheet, c) for c in stops],
            prepare=self._prepare(),
            instruments=INSTRUMENTS,
            earlier=earlier,
            again=self._again(cell),
            first_of_state=cell.place == stops[0].place,
            bays=list(Bay.objects.all()),
            photos=self._photos(shown["reading"]),
            **kwargs,
        )

    def _stop(self, sheet: Sheet, cell: Cell) -> dict[str, Any]:
        """Return a stop of the walk as the line at its foot shows it."""
        shown = sheet.cell(cell.state, cell.place)
        url = reverse("cell", args=[self.kwargs["pk"], cell.state.pk, cell.phase, cell.datum, cell.place])
        return {"words": shown["words"], "state": cell.state, "cell": shown, "at": self._at(cell), "url": url}

    def _prepare(self) -> list[dict[str, Any]]:
        """Return the list of what is done before the first reading, while it is not all done or is asked for again."""
        done = set(self.desk.record.prepared)
        if self.request.GET.get("prepare") != "1" and (done or self.desk.job.readings):
            return []
        return [{"key": key, "words": words, "done": key in done} for key, words in PREPARE.items()]

    def _earlier(self, cell: Cell) -> list[Any]:
        """Return the readings that stood in this cell before the last one, newest first."""
        return [r for r in self._own(cell)[1:] if r.value_m is not None]

    def _photos(self, reading: Any) -> list[Any]:
        return list(reading.photos.filter(gone=False)) if reading else []

    def _standing(self, state: LoadState, place: str) -> Any:
        return self.desk.job.read(state.key, place, self.datum) if place else None

    def _at(self, cell: Cell) -> str:
        return f"{reverse('walk', args=[self.kwargs['pk']])}?datum={self.datum}&at={cell.state.key}-{cell.place}"

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Save the reading and go on; what does not read, or has changed meanwhile, stays with its reason."""
        told = request.POST
        if told.get("action") == "prepare":
            return self._prepared()
        cell, text = self.cell, told.get("same") or told.get("text", "")
        token = (request.headers.get(SCRIPT) or told.get(FIELD, ""))[:40]
        aside = aside_of(told)
        try:
            read = record_reading(
                self.person, pk, cell, self._pair(text), seen=identity(told.get("seen")), token=token, aside=aside
            )
        except UnitError as error:
            return self._refused("unread", {"text": text, "error": str(error)})
        except ConflictError as conflict:
            said = f"{conflict.standing.by} wrote {conflict.standing.text or 'nothing'} here meanwhile. Save again to put yours in its place."
            return self._refused("conflict", {"text": text, "error": said, "seen": conflict.standing.pk})
        except LockedError as locked:
            return self._refused("locked", {"text": text, "error": str(locked), "reason": locked.may_change})
        if read is not None:
            hold_against(self.anew(), cell, read)
        if self._told_again(cell):
            return HttpResponseRedirect(f"{self._at(cell)}&again=1")
        stops = self.stops()
        here = next(i for i, c in enumerate(stops) if (c.state.pk, c.place) == (cell.state.pk, cell.place))
        odd = self._odd(cell)
        following = cell if odd else stops[min(here + 1, len(stops) - 1)]
        done = here + 1 == len(stops) and not odd
        return HttpResponseRedirect(reverse("measure", args=[pk]) if done else self._at(following))

    def _refused(self, why: str, typed: dict[str, Any]) -> HttpResponse:
        """Show the stop again with what was typed and why it was not taken."""
        answer = self.again(409 if why == "conflict" else 422, typed=typed)
        answer[REFUSED] = why
        return answer

    def _told_again(self, cell: Cell) -> bool:
        """Tell whether the same place is to be read once more: asked for, or two readings lie too far apart."""
        if self.request.POST.get("stay"):
            return True
        if not self.request.POST.get("again"):
            return False
        apart = self._apart(cell)
        return apart is not None and apart > APART

    def _apart(self, cell: Cell) -> float | None:
        """Return how far the last two readings of a cell lie apart (m), None with fewer than two."""
        own = self._own(cell)
        return apart_of(own[0]) if own else None

    def _own(self, cell: Cell) -> list[Reading]:
        """Return the last readings of a cell, the newest first."""
        own = Reading.objects.filter(
            job_id=self.kwargs["pk"], state=cell.state, phase=cell.phase, datum=cell.datum, place=cell.place
        )
        return list(own.order_by("-pk")[:4])

    def _again(self, cell: Cell) -> str:
        """Return what is said when a place is read once more; empty when it is not."""
        if self.request.GET.get("again") != "1":
            return ""
        apart = self._apart(cell)
        if apart is not None and apart > APART:
            return f"The two readings lie {show('length', apart, self.units)} apart: roll it, bounce it, and read it again. All are kept."
        return "Read it again: the new figure stands, the earlier one is kept beside it."

    def _pair(self, text: str) -> str:
        """Return the text with the lifted reading put behind the pressed one, when both were taken."""
        lifted = self.request.POST.get("lifted", "").strip()
        return f"{text.strip()} to {lifted}" if lifted and text.strip() else text

    def _prepared(self) -> HttpResponse:
        """Store what was ticked and where the vehicle stands, and begin."""
        told = self.request.POST
        with self.change() as record:
            done = [key for key in PREPARE if key in told.getlist("done")] or ["asked"]
            bay = Bay.objects.filter(pk=identity(told.get("bay"))).first()
            said = (done, bay, told.get("facing") == "out")
            if said != (record.prepared, record.bay, record.facing_out):
                record.prepared, record.bay, record.facing_out = said
                record.save()
        return HttpResponseRedirect(f"{reverse('walk', args=[self.kwargs['pk']])}?datum={self.datum}")

    def _odd(self, cell: Cell) -> bool:
        """Tell whether the reading just taken is odd, so that the walk stays and asks for it again (once)."""
        if self.request.POST.get("repeat"):
            return False
        return bool(Sheet(self.desk, cell.phase, cell.datum).cell(cell.state, cell.place)["findings"])
