"""Changes planned for later, as they are told."""

from __future__ import annotations

from itertools import chain, count
from typing import Any

from django import forms
from django.utils.text import slugify

from vantok.fields.quantity import QuantityField, UnitsForm
from vantok.records.jobs.models import Job
from vantok_core.facts import PlannedChange


class PlannedForm(UnitsForm):
    """A mass at a place, larger tyres, or both, on top of a state."""

    name = forms.CharField(label="What is planned", max_length=40)
    state = forms.ChoiceField(label="On top of")
    mass_kg = QuantityField("mass", label="mass")
    station_m = QuantityField("length", label="behind the front axle", negative=True)
    larger_tyre_m = QuantityField("length", label="tyres' radius larger by", negative=True)

    def __init__(self, *args: Any, record: Job, **kwargs: Any) -> None:
        self.states = [(s.key, s.name) for s in record.states.all()]
        super().__init__(*args, **kwargs)

    def settle(self) -> None:
        """Offer the job's states, the last one first: it carries most as a rule."""
        self.fields["state"].choices = self.states[::-1]  # type: ignore[attr-defined]
        self.fields["state"].widget.attrs["class"] = "form-select"
        self.fields["name"].widget.attrs |= {"class": "form-control", "placeholder": "steel rear bar, larger tyres"}
        super().settle()

    def clean(self) -> dict[str, Any]:
        """Ask for what the change consists of."""
        data = super().clean() or {}
        if not data.get("mass_kg") and not data.get("larger_tyre_m") and not self.errors:
            self.add_error("mass_kg", "Say what it weighs, or by how much the tyres are larger.")
        if data.get("mass_kg") and data.get("station_m") is None and "station_m" not in self.errors:
            self.add_error("station_m", "Say where it sits: without its place it has no lever.")
        if abs(data.get("larger_tyre_m") or 0.0) > 0.2:
            self.add_error("larger_tyre_m", "That is more than any arch takes: it is the radius, half the diameter.")
        return data


def add_planned(record: Job, form: PlannedForm) -> None:
    """Keep a planned change with the job."""
    data, taken = form.cleaned_data, {one.get("key") for one in record.planned}
    base = slugify(data["name"])[:24] or "planned"
    key = next(k for k in chain((base,), (f"{base}-{i}" for i in count(2))) if k not in taken)
    told = PlannedChange(
        key=key,
        name=data["name"],
        state=data["state"],
        mass_kg=data["mass_kg"] or 0.0,
        station_m=data["station_m"] or 0.0,
        larger_tyre_m=data["larger_tyre_m"] or 0.0,
    )
    record.planned = [*record.planned, told.model_dump()]
    record.save()


def drop_planned(record: Job, key: str) -> None:
    """Give a planned change up."""
    record.planned = [one for one in record.planned if one.get("key") != key]
    record.save()
