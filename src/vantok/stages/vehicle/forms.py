"""The vehicle sheet."""

from __future__ import annotations

from typing import Any

from django import forms

from vantok.fields.quantity import QuantityForm
from vantok.fields.seen import SeenForm
from vantok.people.rights import guarded
from vantok.records.garage.models import BEYOND, FACTS, Vehicle
from vantok_core.base.units import show
from vantok_core.facts import JobVehicle
from vantok_core.facts.declared import declared, fault, figures, signed
from vantok_core.facts.hanging import HANGS
from vantok_core.facts.vehicle import LEAST_KG

KINDS = {name: of.kind for name, of in figures(JobVehicle).items() if name in declared(JobVehicle)}
"""The vehicle's figures, and what each is."""
MORE = tuple(name for name in BEYOND if name in KINDS and declared(JobVehicle)[name].page == "vehicle")
"""Figures asked here that have no column of their own."""


PLACED = ("front_droop_m", "rear_droop_m")
"""Those of them that stand on the page beside what they belong to."""


class VehicleForm(QuantityForm[Vehicle]):
    """Vehicle and ratings; whatever is left empty stays unknown."""

    quantities = {name: kind for name, kind in KINDS.items() if name in (*FACTS, *MORE)}
    may_be_negative = tuple(name for name in KINDS if signed(JobVehicle, name))
    guards = guarded(JobVehicle)

    class Meta:
        model = Vehicle
        fields = ("label", *FACTS)

    @property
    def more(self) -> list[forms.BoundField]:
        """The figures without a column of their own that have no place on the page by name."""
        return [self[name] for name in MORE if name not in PLACED]

    @property
    def estimated(self) -> frozenset[str]:
        """The fields a starting vehicle gave and nobody has confirmed."""
        return frozenset(self.instance.defaults) & self.fields.keys()

    def settle(self) -> None:
        """Ask for what has no column of its own too; mark what a starting vehicle gave."""
        for name in MORE:
            self.fields[name] = forms.CharField(label=declared(JobVehicle)[name].words, required=False)
            self.initial[name] = self.instance.beyond.get(name)
        super().settle()

    def clean(self) -> dict[str, Any]:
        """Point at a rating that no plate says: a unit was mistaken, and everything after it would be over its limit."""
        data = super().clean()
        for name in self.touched & declared(JobVehicle).keys() & data.keys():
            if data[name] is not None and (wrong := fault(JobVehicle, name, data[name])):
                self.add_error(name, self.beyond(name, wrong))
        for name, least in LEAST_KG.items():
            value = data.get(name)
            if value is not None and value < least:
                self.add_error(
                    name,
                    f"That is {show('mass', value, self.units)}: no plate says so little. Write it again, with its unit.",
                )
        return data

    def save(self, commit: bool = True) -> Vehicle:
        """Store it; what was typed over is no default any more."""
        self.instance.defaults = [name for name in self.instance.defaults if name not in self.touched]
        if told := self.touched & set(MORE):
            kept = {name: value for name, value in self.instance.beyond.items() if name not in told}
            new = {name: self.cleaned_data[name] for name in told if self.cleaned_data[name] is not None}
            self.instance.beyond = kept | new
        found: Vehicle = super().save(commit)
        return found


FITTED = (
    ("", "not looked at"),
    ("none", "none"),
    ("factory", "from the factory"),
    ("later", "fitted later"),
    ("perished", "perished"),
    ("missing", "missing, should be there"),
)
EQUIPMENT: dict[str, str] = {
    "stops": "bump stops",
    "bar_front": "front anti-roll bar",
    "bar_rear": "rear anti-roll bar",
    "stabilizer": "bracket of a steering stabilizer",
    "second_stage": "second stage of the springs",
    "helper": "helper springs",
    "bags": "air bags",
    "insert": "bump-stop or coil inserts",
    "dampers": "dampers",
    "tyres": "tyres of another size",
    "lift": "an earlier lift",
    "packers": "packers or spacers",
    **HANGS,
}


class EquipmentForm(SeenForm):
    """The census of what is fitted, factory or later, perished or missing."""

    def __init__(self, *args: Any, vehicle: Vehicle, **kwargs: Any) -> None:
        told = {one["kind"]: one["fitted"] for one in vehicle.equipment}
        told |= {f"{one['kind']}-note": one.get("note", "") for one in vehicle.equipment}
        super().__init__(*args, initial=told, auto_id="fitted-%s", **kwargs)

    def settle(self) -> None:
        """Make a choice for each thing looked for."""
        for kind, words in EQUIPMENT.items():
            field = forms.ChoiceField(label=words, choices=FITTED, required=False)
            field.widget.attrs["class"] = "form-select"
            self.fields[kind] = field
            note = forms.CharField(label=f"{words}: where, what", max_length=200, required=False)
            note.widget.attrs |= {
                "class": "form-control",
                "placeholder": "where, what, what size",
                "aria-label": f"{words}: note",
            }
            self.fields[f"{kind}-note"] = note
        super().settle()

    @property
    def groups(self) -> dict[str, list[tuple[forms.BoundField, forms.BoundField]]]:
        """Each thing looked for with its note: what is fitted, and what else hangs on the axle."""
        rows = {kind: (self[kind], self[f"{kind}-note"]) for kind in EQUIPMENT}
        return {
            "Fitted, from the factory or later": [row for kind, row in rows.items() if kind not in HANGS],
            "Hangs on the axle, or minds its height": [rows[kind] for kind in HANGS],
        }

    def clean(self) -> dict[str, Any]:
        """Refuse a note on something nobody looked at: it would be lost."""
        data = super().clean() or {}
        for kind in EQUIPMENT:
            if data.get(f"{kind}-note") and not data.get(kind):
                self.add_error(kind, "Say what was found, or take the note away.")
        return data

    @property
    def found(self) -> list[dict[str, str]]:
        """What was looked at, as stored."""
        return [
            {"kind": kind, "fitted": self.cleaned_data[kind], "note": self.cleaned_data.get(f"{kind}-note") or ""}
            for kind in EQUIPMENT
            if self.cleaned_data.get(kind)
        ]
