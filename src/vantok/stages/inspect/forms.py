"""One area of the inspection."""

from __future__ import annotations

from typing import Any

from django import forms

from vantok.fields.seen import SeenForm
from vantok.records.jobs.models import Job
from vantok_core.judge.inspect import AREAS, GRADES


class InspectionForm(SeenForm):
    """The whole inspection sheet: a grade, a note and, for a fault, why it is overruled, for each area."""

    def __init__(self, job: Job, *args: Any, **kwargs: Any) -> None:
        graded = {one.area: one for one in job.inspections.all()}
        initial = {f"{n}-{key}": getattr(one, n) for key, one in graded.items() for n in ("grade", "note", "overruled")}
        super().__init__(*args, initial=initial, **kwargs)

    def settle(self) -> None:
        """Make the fields of every area."""
        choices = [("", "not looked at"), *((g, g) for g in GRADES)]
        for key in AREAS:
            self.fields[f"grade-{key}"] = forms.ChoiceField(choices=choices, required=False)
            self.fields[f"note-{key}"] = forms.CharField(max_length=200, required=False)
            self.fields[f"overruled-{key}"] = forms.CharField(max_length=200, required=False)
        self.guards = {f"overruled-{key}": "overrule" for key in AREAS}
        super().settle()

    def clean(self) -> dict[str, Any]:
        """Ask for the grade where there is a note, so that no note is lost."""
        told = super().clean() or {}
        for key in AREAS:
            if told.get(f"note-{key}") and not told.get(f"grade-{key}"):
                self.add_error(f"grade-{key}", "Grade it as well: fine, watch, fault or wish.")
        return told

    def areas(self) -> list[tuple[str, str, str, str]]:
        """Return every area with a touched field: its key, grade, note, and why it is overruled."""
        told, touched = self.cleaned_data, {name.split("-", 1)[1] for name in self.touched}
        return [
            (key, told[f"grade-{key}"], told[f"note-{key}"], told[f"overruled-{key}"])
            for key in AREAS
            if key in touched
        ]
