"""What a vehicle that is never empty would carry empty, by its papers or an earlier visit."""

from __future__ import annotations

from typing import Any

from django import forms

from vantok.fields.quantity import QuantityField, UnitsForm
from vantok.records.jobs.models import Job
from vantok_core.facts import EmptyLoad
from vantok_core.kits.target import ASK, OF_EMPTY


class EmptyLoadForm(UnitsForm):
    """Both axles' empty loads and who says so; all three or none."""

    front_kg = QuantityField("mass", label="front axle, empty")
    rear_kg = QuantityField("mass", label="rear axle, empty")
    source = forms.CharField(label="who says so", max_length=40, required=False)

    def __init__(self, *args: Any, record: Job, **kwargs: Any) -> None:
        super().__init__(*args, initial=dict(record.empty_load), **kwargs)

    def settle(self) -> None:
        """Say what counts as a source."""
        self.fields["source"].widget.attrs |= {"class": "form-control", "placeholder": "its papers, an earlier visit"}
        super().settle()

    def clean(self) -> dict[str, Any]:
        """All three or none."""
        data = super().clean() or {}
        if any(data.get(name) for name in self.fields):
            for name in self.fields:
                if not data.get(name) and name not in self.errors:
                    self.add_error(name, "Both axles' loads and who says so: without one of them nothing is estimated.")
        return data


def save_empty_load(record: Job, form: EmptyLoadForm) -> None:
    """Store it; taken away, a target that rests on it gives way to level."""
    data = form.cleaned_data
    record.empty_load = EmptyLoad.model_validate(data).model_dump() if data["source"] else {}
    if record.never_empty and not record.empty_load and record.school in OF_EMPTY:
        record.school = ASK
    record.save()
