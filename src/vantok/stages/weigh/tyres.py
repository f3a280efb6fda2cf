"""Tyres at their true loads, left and right; tread across each; the alignment sheet before and after."""

from __future__ import annotations

from typing import Any

from django import forms
from django.http import HttpResponse
from django.utils.functional import SimpleLazyObject

from vantok.fields.quantity import QuantityField, UnitsForm
from vantok.people.acts import act
from vantok.records.jobs.models import Job
from vantok.stages.weigh.frame import WeighView
from vantok_core.base.names import PLACES
from vantok_core.base.units import unit_name
from vantok_core.judge.diagnose.alignment import ANGLES, alignment
from vantok_core.judge.weigh.tyre_loads import tyre_sheet, worn
from vantok_core.physics.vehicle import CORNERS

ACROSS = (("inner", "inner edge"), ("middle", "middle"), ("outer", "outer edge"))
MOST = ("front_tyre_most_pa", "rear_tyre_most_pa", "front_wheel_kg", "rear_wheel_kg")
MOST_ANGLE = 20.0


class TyresForm(UnitsForm):
    """The greatest pressure off each axle's tyre, and tread in three places of each."""

    front_tyre_most_pa = QuantityField("pressure", label="front tyre’s greatest, off its wall")
    rear_tyre_most_pa = QuantityField("pressure", label="rear tyre’s greatest, off its wall")
    front_wheel_kg = QuantityField("mass", label="one front wheel’s own rating")
    rear_wheel_kg = QuantityField("mass", label="one rear wheel’s own rating")
    guards = dict.fromkeys(MOST, "rate")

    def __init__(self, record: Job, *args: Any, **kwargs: Any) -> None:
        initial: dict[str, Any] = {name: record.vehicle.beyond.get(name) for name in MOST}
        for one in record.sheets.get("tread", ()):
            initial |= {f"{one['place']}-{name}": one[f"{name}_m"] for name, _ in ACROSS}
        super().__init__(*args, initial=initial, **kwargs)

    def settle(self) -> None:
        """Make the tread's fields."""
        for place in CORNERS:
            for name, words in ACROSS:
                field = QuantityField("depth", label=f"{PLACES[place]}, {words}")
                field.widget.attrs["aria-label"] = field.label
                self.fields[f"{place}-{name}"] = field
        super().settle()

    def clean(self) -> dict[str, Any]:
        """Ask for all three places of a tyre."""
        told = super().clean() or {}
        for place in CORNERS:
            names = [f"{place}-{name}" for name, _ in ACROSS]
            lacking = [n for n in names if told.get(n) is None and n not in self.errors]
            if lacking and len(lacking) < len(names):
                self.add_error(lacking[0], "All three places of a tyre are needed to tell a pattern.")
        return told

    def rows(self) -> list[dict[str, Any]]:
        """Return the tread's fields by tyre."""
        return [{"place": PLACES[p], "fields": [self[f"{p}-{name}"] for name, _ in ACROSS]} for p in CORNERS]

    def store(self, record: Job) -> None:
        """Store what was entered."""
        told = self.cleaned_data
        tread = [
            {"place": p} | {f"{name}_m": told[f"{p}-{name}"] for name, _ in ACROSS}
            for p in CORNERS
            if told.get(f"{p}-inner") is not None
        ]
        record.sheets = record.sheets | {"tread": tread}
        record.save()
        if self.touched & set(MOST):
            beyond = dict(record.vehicle.beyond)
            for name in MOST:
                beyond.pop(name, None)
                if told.get(name) is not None:
                    beyond[name] = told[name]
            record.vehicle.beyond = beyond
            record.vehicle.save()


class AngleField(forms.CharField):
    """Degrees with a sign, as an alignment bench prints them; empty is not read."""

    def clean(self, value: Any) -> float | None:
        """Return degrees, or None when empty."""
        text = super().clean(value).strip().rstrip("°").strip().replace("−", "-").replace(",", ".")
        if not text:
            return None
        try:
            found = float(text)
        except ValueError as error:
            raise forms.ValidationError(f"“{text}” is no angle: write degrees, like -0.5") from error
        if not abs(found) <= MOST_ANGLE:
            raise forms.ValidationError(f"“{text}” is more than any wheel leans: degrees, not minutes?")
        return found

    def prepare_value(self, value: Any) -> Any:
        """Show stored degrees; keep typed text as typed."""
        return f"{value:g}" if isinstance(value, (int, float)) else value


class AnglesForm(UnitsForm):
    """The alignment sheet: each angle before and after, and in which state it was read."""

    def __init__(self, record: Job, *args: Any, **kwargs: Any) -> None:
        self.states = [(s.key, s.name) for s in record.states.all()]
        initial = {f"{part}-{k}": v for part in PARTS for k, v in record.sheets.get(part, {}).items()}
        super().__init__(*args, initial=initial, **kwargs)

    def settle(self) -> None:
        """Make its fields."""
        for part, words in PARTS.items():
            self.fields[f"{part}-state"] = forms.ChoiceField(
                choices=[("", "not said"), *self.states],
                required=False,
                label=f"read in, {words}",
                widget=forms.Select(attrs={"class": "form-select"}),
            )
            for key, angle in ANGLES.items():
                field = AngleField(max_length=12, required=False, label=f"{angle}, {words}")
                field.widget.attrs |= {
                    "class": "form-control tape",
                    "aria-label": f"{angle}, {words}",
                    "inputmode": "text",
                }
                self.fields[f"{part}-{key}"] = field
        super().settle()

    def rows(self) -> list[dict[str, Any]]:
        """Return the fields by angle: left and right before, left and right after."""
        pairs = dict[str, list[str]]()
        for key in ANGLES:
            pairs.setdefault(key[:-1], []).append(key)
        return [
            {"words": ROWS[start], "keys": keys, "fields": [self[f"{part}-{key}"] for part in PARTS for key in keys]}
            for start, keys in pairs.items()
        ]

    def read_in(self) -> list[forms.BoundField]:
        """Return the fields that say at what load it was read."""
        return [self[f"{part}-state"] for part in PARTS]

    def store(self, record: Job) -> None:
        """Store what was entered."""
        told = {
            part: {
                key: value
                for key in ("state", *ANGLES)
                if (value := self.cleaned_data.get(f"{part}-{key}")) not in (None, "")
            }
            for part in PARTS
        }
        record.sheets = {k: v for k, v in record.sheets.items() if k not in PARTS} | {
            part: one for part, one in told.items() if one
        }
        record.save()


ROWS = {
    "camber_f": "camber, front",
    "camber_r": "camber, rear",
    "toe_f": "toe-in, front",
    "toe_r": "toe-in, rear",
    "caster_f": "caster",
}
PARTS = {"aligned": "before", "aligned_after": "after"}


class TyresPage(WeighView):
    """Tyres and angles of a state."""

    topic = "tyres"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add sheets and forms."""
        job, record = self.desk.job, self.desk.record
        kwargs.setdefault("form", SimpleLazyObject(lambda: TyresForm(record, units=self.units)))
        kwargs.setdefault("angles", SimpleLazyObject(lambda: AnglesForm(record, units=self.units, prefix="a")))
        sheet = SimpleLazyObject(lambda: alignment(job, self.desk.diagnosis))
        return super().get_context_data(
            sheet=SimpleLazyObject(lambda: tyre_sheet(job, self.state, self.desk.model)),
            worn=SimpleLazyObject(lambda: worn(job)),
            tread_unit=unit_name("depth", self.units),
            aligned=sheet,
            changes=SimpleLazyObject(lambda: {r.key: r for r in sheet.rows}),
            **kwargs,
        )

    @act("measure", "angles")
    def _angles(self) -> HttpResponse:
        return self.entered("angles", lambda r: AnglesForm(r, self.request.POST, units=self.units, prefix="a"), _stored)

    @act("measure", "")
    def _tyres(self) -> HttpResponse:
        return self.entered("form", lambda r: TyresForm(r, self.request.POST, units=self.units), _stored)


def _stored(record: Job, form: AnglesForm | TyresForm) -> None:
    form.store(record)
