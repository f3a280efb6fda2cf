"""What a job rests on that nobody measured: each editable with where it was had from; and instructions that can be read two ways."""

from __future__ import annotations

from typing import Any

from django import forms
from django.http import HttpResponse

from vantok.desk.stage import StageView
from vantok.fields.quantity import QuantityField, UnitsForm
from vantok.people.acts import act
from vantok.records.jobs.models import Job
from vantok_core.base.errors import VantokError
from vantok_core.facts.vehicle import OWN
from vantok_core.judge.choose.two_ways import two_ways
from vantok_core.judge.diagnose.assumptions import Assumed, assumptions


class SourcesForm(UnitsForm):
    """A figure in place of the class's, where it may be, and the source of each."""

    def __init__(self, record: Job, rows: tuple[Assumed, ...], *args: Any, **kwargs: Any) -> None:
        self.rows, own = rows, record.vehicle.beyond.get("own", {})
        initial = {f"own.{row.key}": own.get(row.key) for row in rows}
        initial |= {f"source.{key}": told for key, told in record.sheets.get("sources", {}).items()}
        super().__init__(*args, initial=initial, **kwargs)

    def settle(self) -> None:
        """Make the fields of every row."""
        for row in self.rows:
            if row.may_be_own:
                self.fields[f"own.{row.key}"] = QuantityField(OWN[row.key].kind, label=f"our own figure: {row.words}")
            source = forms.CharField(max_length=200, required=False, label=f"where it is from: {row.words}")
            source.widget.attrs |= {"class": "form-control", "aria-label": source.label}
            self.fields[f"source.{row.key}"] = source
        for name, field in self.fields.items():
            if name.startswith("own."):
                field.widget.attrs["aria-label"] = field.label
        super().settle()

    def clean(self) -> dict[str, Any]:
        """Hold a figure against what can be."""
        told = super().clean() or {}
        for name, value in list(told.items()):
            if name.startswith("own.") and value is not None:
                figure = OWN[name.removeprefix("own.")]
                if not figure.low <= value <= figure.high:
                    self.add_error(name, "No vehicle of this kind has that: write it again.")
        return told

    def store(self, record: Job) -> None:
        """Store what was touched."""
        own, sources = dict(record.vehicle.beyond.get("own", {})), dict(record.sheets.get("sources", {}))
        for name in self.touched:
            kind, key = name.split(".", 1)
            held, value = (own if kind == "own" else sources), self.cleaned_data.get(name)
            held.pop(key, None)
            if value not in (None, ""):
                held[key] = value
        record.sheets = record.sheets | {"sources": sources}
        record.save()
        beyond = {k: v for k, v in record.vehicle.beyond.items() if k != "own"} | ({"own": own} if own else {})
        if beyond != record.vehicle.beyond:
            record.vehicle.beyond = beyond
            record.vehicle.save()

    def lines(self) -> list[dict[str, Any]]:
        """Return each row with its fields."""
        return [
            {"row": row, "own": self[f"own.{row.key}"] if row.may_be_own else None, "source": self[f"source.{row.key}"]}
            for row in self.rows
        ]


class Assumptions(StageView):
    """What the job rests on that nobody measured."""

    stage = "diagnose"

    def get_template_names(self) -> list[str]:
        """Return its page."""
        return ["weigh/assumptions.html"]

    @property
    def rows(self) -> tuple[Assumed, ...]:
        """Each assumption, worked out once for a desk."""

        def told() -> tuple[Assumed, ...]:
            try:
                return assumptions(self.desk.model) if self.desk.model is not None else ()
            except VantokError:
                return ()  # the stage's own sentence says why nothing can be solved

        return self.desk.kept("assumptions", told)

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add each, and what can be read two ways."""
        kwargs.setdefault("form", SourcesForm(self.desk.record, self.rows, units=self.units))
        return super().get_context_data(
            also=self.desk.model.assumed if self.desk.model else (),
            complete=self.desk.model is not None,
            two_ways=two_ways(self.desk.job),
            **kwargs,
        )

    @act("choose", "meant")
    def _meant(self) -> HttpResponse:
        """Keep which way an instruction is meant."""
        asked = {one.key: dict(one.ways) for one in two_ways(self.desk.job)}
        with self.change() as record:
            told = dict(record.sheets.get("meant", {}))
            told |= {key: way for key, ways in asked.items() if (way := self.request.POST.get(key, "")) in ways}
            record.sheets = record.sheets | {"meant": told}
            if told.get("share-of"):
                record.target_state = told["share-of"]
            record.save()
        return self.back()

    @act("measure")
    def _sources(self) -> HttpResponse:
        """Keep figures with their sources."""
        rows = self.rows
        return self.entered(
            "form", lambda r: SourcesForm(r, rows, self.request.POST, units=self.units), lambda r, f: f.store(r)
        )
