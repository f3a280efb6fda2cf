"""Sizes on the vehicle that kits ask for: windings, leaves, steering."""

from __future__ import annotations

from typing import Any

from django import forms

from vantok.fields.quantity import QuantityField, UnitsForm
from vantok.records.garage.models import Vehicle
from vantok.records.jobs.models import Job
from vantok.records.shelf.models import hardware_asked
from vantok_core.base.units import show
from vantok_core.facts.sizes import OF_ANY, OF_COIL, OF_LEAF, SIZES

NUTS = (("", "nobody looked"), ("sound", "sound"), ("rusted", "rusted"), ("gone", "gone, or it turns"))
HAS = (("", "nobody looked"), ("yes", "it has it"), ("no", "it does not"))
STEERINGS = (("", "nobody looked"), ("box", "box with a drag link"), ("rack", "rack and pinion"))


class SizesForm(UnitsForm):
    """The sizes of the springs that this vehicle has, and its steering."""

    def __init__(self, *args: Any, vehicle: Vehicle, **kwargs: Any) -> None:
        self.vehicle = vehicle
        known = vehicle.beyond
        hardware = known.get("hardware", {})
        self.lines = list(dict.fromkeys((*hardware, *hardware_asked())))
        """What variants of kits ask for, a line each."""
        told = known.get("sizes", {}) | {name: known.get(name, "") for name in ("steering", "stop_nuts")}
        told |= {
            f"hardware_{n}": {True: "yes", False: "no"}.get(hardware.get(line), "") for n, line in enumerate(self.lines)
        }
        super().__init__(*args, initial=told, **kwargs)

    def settle(self) -> None:
        """Make a field for each size that a spring of its kind has."""
        for axle in ("front", "rear"):
            spring = getattr(self.vehicle, f"{axle}_spring") or ""
            names = OF_COIL if "coil" in spring else OF_LEAF if "leaf" in spring or "parabolic" in spring else ()
            for name in (*names, *(OF_ANY if axle == "front" else ())):
                size = SIZES[f"{axle}_{name}"]
                self.fields[f"{axle}_{name}"] = QuantityField(
                    size.kind, label=size.words, help_text=size.read, required=False
                )
        self.fields["steering"] = forms.ChoiceField(label="Steering", choices=STEERINGS, required=False)
        self.fields["stop_nuts"] = forms.ChoiceField(
            label="Captive nuts of the bump stops", choices=NUTS, required=False
        )
        for n, line in enumerate(self.lines):
            self.fields[f"hardware_{n}"] = forms.ChoiceField(label=line, choices=HAS, required=False)
        for name in ("steering", "stop_nuts", *(f"hardware_{n}" for n in range(len(self.lines)))):
            self.fields[name].widget.attrs["class"] = "form-select"
        super().settle()

    def clean(self) -> dict[str, Any]:
        """Hold each size against what it can be."""
        data = super().clean() or self.cleaned_data
        for name, size in SIZES.items():
            value = data.get(name)
            if value is not None and not size.low <= value <= size.high:
                low, high = (show(size.kind, bound, self.units) for bound in (size.low, size.high))
                self.add_error(name, f"It lies between {low} and {high}.")
        return data


def save_sizes(record: Job, form: SizesForm) -> None:
    """Store the sizes; those of springs the form does not show stay."""
    vehicle = record.vehicle
    kept = {name: value for name, value in vehicle.beyond.get("sizes", {}).items() if name not in form.fields}
    read = {name: form.cleaned_data[name] for name in SIZES if form.cleaned_data.get(name) is not None}
    told = {"sizes": kept | read, **{name: form.cleaned_data[name] for name in ("steering", "stop_nuts")}}
    looked = {line: form.cleaned_data[f"hardware_{n}"] for n, line in enumerate(form.lines)}
    told["hardware"] = {line: said == "yes" for line, said in looked.items() if said}
    vehicle.beyond = {k: v for k, v in (vehicle.beyond | told).items() if v not in ({}, "")}
    vehicle.save()
