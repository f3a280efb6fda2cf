"""Where load can go: the zones of the vehicle with what each is rated for, drawn, dragged or typed."""

from __future__ import annotations

from itertools import chain, count
from typing import Any

from django import forms
from django.contrib import messages
from django.http import HttpResponse
from django.utils.functional import SimpleLazyObject
from django.utils.text import slugify

from vantok.desk.load import Desk
from vantok.drawing.floor import zones_svg
from vantok.fields.quantity import QuantityField, UnitsForm
from vantok.people.acts import act
from vantok.records.jobs.models import Job
from vantok.stages.weigh.frame import WeighView
from vantok_core.base.errors import InputError
from vantok_core.facts import LoadZone
from vantok_core.loads.places import zones
from vantok_core.loads.plan import reach
from vantok_core.loads.zoning import carried_in

USES = (
    ("seats", "seats"),
    ("floor", "floor or bed"),
    ("locker", "locker or box"),
    ("roof", "roof"),
    ("rack", "rack"),
)
EDGES = {"start": "From", "end": "To", "left": "Left edge", "right": "Right edge"}
FIGURES = {**EDGES, "height": "Above ground", "rating": "Rated for"}
MOST = 16


class ZonesForm(UnitsForm):
    """Every zone in a row of fields, and an empty row for another; a name taken away takes its zone away."""

    def __init__(self, *args: Any, kept: tuple[LoadZone, ...], **kwargs: Any) -> None:
        self.kept = kept
        told: dict[str, Any] = {}
        for n, zone in enumerate(kept):
            told |= {
                f"{n}-words": zone.words,
                f"{n}-use": zone.use,
                f"{n}-height": zone.height_m,
                f"{n}-rating": zone.rating_kg,
            }
            told |= {f"{n}-{edge}": getattr(zone, edge) for edge in EDGES}
        super().__init__(*args, initial=told, **kwargs)

    def settle(self) -> None:
        """Make the fields of each row."""
        for n in range(min(len(self.kept) + 1, MOST)):
            self.fields[f"{n}-words"] = forms.CharField(label="Zone", max_length=40, required=False)
            self.fields[f"{n}-use"] = forms.ChoiceField(label="What for", choices=USES, required=False, initial="floor")
            for name, words in FIGURES.items():
                kind = "mass" if name == "rating" else "length"
                self.fields[f"{n}-{name}"] = QuantityField(kind, negative=name in EDGES, label=words)
            self.fields[f"{n}-words"].widget.attrs["class"] = "form-control"
            self.fields[f"{n}-use"].widget.attrs["class"] = "form-select"
        self.guards = {name: "rate" for name in self.fields if name.endswith("-rating")}
        super().settle()

    @property
    def rows(self) -> list[dict[str, Any]]:
        """Return each row's fields, for the page."""
        names = ("words", "use", *FIGURES)
        return [{name: self[f"{n}-{name}"] for name in names} | {"n": n} for n in range(min(len(self.kept) + 1, MOST))]

    def clean(self) -> dict[str, Any]:
        """Say what a row lacks, at the field that lacks it."""
        data = super().clean() or {}
        for n in range(min(len(self.kept) + 1, MOST)):
            row = {name: data.get(f"{n}-{name}") for name in ("words", *FIGURES)}
            if not row["words"]:
                if n == len(self.kept) and any(row[name] is not None for name in FIGURES):
                    self.add_error(f"{n}-words", "Give it a name.")
                continue
            if row["rating"] == 0.0:
                self.add_error(f"{n}-rating", "A rating of nought is none: leave it empty where it is not known.")
            lacking = [name for name in EDGES if row[name] is None and f"{n}-{name}" not in self.errors]
            for name in lacking:
                self.add_error(f"{n}-{name}", "A zone takes all four edges.")
            if not lacking and not self.errors:
                self._ordered(n, row)
        return data

    def _ordered(self, n: int, row: dict[str, Any]) -> None:
        if row["end"] <= row["start"]:
            self.add_error(f"{n}-end", "It ends before it begins: both are counted from the front axle.")
        if row["left"] <= row["right"]:
            self.add_error(
                f"{n}-right", "Both are counted to the left of centre; to the right of it they are below nought."
            )

    @property
    def found(self) -> list[dict[str, Any]]:
        """The zones as they are stored."""
        data, told = self.cleaned_data, list[dict[str, Any]]()
        taken = {zone.key for zone in self.kept}
        for n in range(min(len(self.kept) + 1, MOST)):
            words = data.get(f"{n}-words")
            if not words:
                continue
            base = slugify(words)[:24] or "zone"
            key = (
                self.kept[n].key
                if n < len(self.kept)
                else next(k for k in chain((base,), (f"{base}-{i}" for i in count(2))) if k not in taken)
            )
            told.append(
                {
                    "key": key,
                    "words": words,
                    "use": data.get(f"{n}-use") or "floor",
                    "height_m": data.get(f"{n}-height"),
                    "rating_kg": data.get(f"{n}-rating"),
                    **{edge: round(data[f"{n}-{edge}"], 4) for edge in EDGES},
                }
            )
        return told


def kept_zones(desk: Desk) -> tuple[LoadZone, ...]:
    """Return the vehicle's zones; none while its wheelbase is unknown."""
    place = reach(desk.job)
    return zones(place) if place else ()


class Zones(WeighView):
    """The zones of the vehicle; its own once they were edited, else the usual ones of its body style."""

    topic = "zones"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the drawing and the rows."""
        asked = kwargs.pop("form", None)
        return super().get_context_data(
            sheet=SimpleLazyObject(lambda: self._sheet(asked)),
            edited=bool(self.desk.job.vehicle.zones),
            zoned=reach(self.desk.job) is not None,
            **kwargs,
        )

    def _sheet(self, asked: ZonesForm | None) -> dict[str, Any]:
        """Return the drawing, the form and its rows, each with what the state looked at carries there."""
        place = reach(self.desk.job)
        form = asked or ZonesForm(kept=kept_zones(self.desk), units=self.units)
        carried = carried_in(place, self.state) if place else {}
        kg = [carried.get(zone.key) for zone in form.kept] + [None]
        rows = [row | {"carries": kg[row["n"]]} for row in form.rows]
        return {"form": form, "rows": rows, "drawn": zones_svg(place, self.units) if place else ""}

    @act("rate", "usual")
    def _usual(self) -> HttpResponse:
        with self.change() as record:
            record.vehicle.beyond = {k: v for k, v in record.vehicle.beyond.items() if k != "zones"}
            record.vehicle.save()
        messages.success(self.request, "The usual zones of this body style again; nothing is rated.")
        return self.back()

    @act("measure", "save")
    def _save(self) -> HttpResponse:
        told = self.request.POST
        return self.entered(
            "form", lambda r: ZonesForm(told, kept=kept_zones(Desk.open(r.pk)), units=self.units), _store
        )


def _store(record: Job, form: ZonesForm) -> None:
    if not form.found:
        raise InputError("zones", "none", "keep at least one, or take the usual ones again")
    record.vehicle.beyond = {**record.vehicle.beyond, "zones": form.found}
    record.vehicle.save()
