"""Forms of the load states: what is carried, the scales, the trailer."""

from __future__ import annotations

from typing import Any

from django import forms
from django.core.exceptions import ValidationError

from vantok.fields.quantity import QuantityField, QuantityForm, UnitsForm
from vantok.fields.seen import WordedMixin
from vantok.people.rights import guarded
from vantok.records.garage.models import Vehicle
from vantok.records.weigh.models import LoadItem, LoadState, TrailerItem
from vantok_core.base.units import show
from vantok_core.facts import JobState, JobVehicle
from vantok_core.loads.places import Footprint

PADS = ("fl_kg", "fr_kg", "rl_kg", "rr_kg")
SCALES = ("front_kg", "rear_kg", *PADS, "tag_kg", "tongue_kg", "trailer_scale_kg")


BALLS = ("ball", "caravan")
"""Hitches that stand behind the body."""


class StateForm(QuantityForm[LoadState]):
    """A state's name and the conditions it was read in."""

    class Meta:
        model = LoadState
        fields = ("name", "conditions", "more", "same_as")

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        others = [
            (s.key, s.name)
            for s in self.instance.job.states.all()
            if not (s.empty or s.same_as or s.pk == self.instance.pk)
        ]
        if self.instance.empty:
            del self.fields["more"]
        if self.instance.empty or not others:
            del self.fields["same_as"]
        else:
            self.fields["same_as"] = forms.ChoiceField(
                label="What is not listed is the same as in",
                choices=[("", "a load of its own"), *others],
                required=False,
            )
        self.settle()

    def clean_name(self) -> str:
        """Refuse a name another state of the job bears: no sentence could tell them apart."""
        name: str = self.cleaned_data["name"].strip()
        others = LoadState.objects.filter(job_id=self.instance.job_id).exclude(pk=self.instance.pk)
        if any(other.name.casefold() == name.casefold() for other in others):
            raise ValidationError(f"There is a state called “{name}” already; give this one another name.")
        return name


class ScaleForm(QuantityForm[LoadState]):
    """What the scales read in a state, and when."""

    quantities = dict.fromkeys(SCALES, "mass")

    class Meta:
        model = LoadState
        fields = (*SCALES, "weighed_at")
        widgets = {"weighed_at": forms.DateTimeInput(attrs={"type": "datetime-local"}, format="%Y-%m-%dT%H:%M")}

    def settle(self) -> None:
        """Show an unread tongue as empty."""
        if not self.instance.tongue_kg:
            self.initial["tongue_kg"] = None
        super().settle()

    def clean_tongue_kg(self) -> float:
        """Take an empty field as not read."""
        return self.cleaned_data["tongue_kg"] or 0.0

    def clean(self) -> dict[str, Any]:
        """Check that the readings can belong to one vehicle; what cannot is kept as typed, with its reason."""
        data = super().clean()
        if self.instance.empty and data.get("tongue_kg"):
            self.add_error("tongue_kg", "The empty state tows nothing: enter the tongue in a loaded state.")
        self._pads_against_axle("front_kg", data.get("fl_kg"), data.get("fr_kg"), data.get("front_kg"))
        self._pads_against_axle("rear_kg", data.get("rl_kg"), data.get("rr_kg"), data.get("rear_kg"))
        read = [data.get(p) for p in PADS]
        if any(v is not None for v in read) and None in read:
            self.add_error(PADS[read.index(None)], "Four pads or none: this one is still to read.")
        if data.get("tag_kg") is not None and (data.get("rear_kg") is None or data["tag_kg"] > data["rear_kg"]):
            self.add_error("tag_kg", "It is a part of the rear's reading and cannot be more than it.")
        return data

    def _pads_against_axle(self, axle: str, left: float | None, right: float | None, whole: float | None) -> None:
        """Refuse an axle figure that its two pads contradict by more than scales differ."""
        if left is None or right is None or whole is None or abs(left + right - whole) <= max(0.03 * whole, 20.0):
            return
        pads, axle_says = show("mass", left + right, self.units), show("mass", whole, self.units)
        self.add_error(axle, f"The two pads make {pads}; the axle scale says {axle_says}. Weigh again.")


class TrailerForm(QuantityForm[LoadState]):
    """What a state tows: tongue and mass as read, the place of its axle, spring bars, its own ratings."""

    quantities = {
        "tongue_kg": "mass",
        "trailer_kg": "mass",
        "trailer_axle_m": "length",
        "trailer_level_m": "length",
        "trailer_axle_rating_kg": "mass",
        "trailer_tyres_kg": "mass",
    }
    restored_percent = forms.FloatField(
        label="front load given back by spring bars, %",
        min_value=0.0,
        max_value=100.0,
        required=False,
        widget=forms.NumberInput(attrs={"step": "5"}),
    )

    class Meta:
        model = LoadState
        fields = (
            "tongue_kg",
            "trailer_kg",
            "trailer_axle_m",
            "trailer_level_m",
            "trailer_axle_rating_kg",
            "trailer_tyres_kg",
        )

    guards = guarded(JobState)

    def settle(self) -> None:
        """Show the bars' share as percent."""
        self.fields["restored_percent"].initial = round(100 * self.instance.restored)
        super().settle()

    def clean(self) -> dict[str, Any]:
        """Hold tongue, trailer and bars against one another."""
        data = super().clean()
        data["tongue_kg"], data["trailer_kg"] = data.get("tongue_kg") or 0.0, data.get("trailer_kg") or 0.0
        if self.instance.empty and (data["tongue_kg"] or data["trailer_kg"]):
            raise ValidationError("The empty state tows nothing: enter the trailer in a loaded state.")
        if data["trailer_kg"] and data["tongue_kg"] > data["trailer_kg"]:
            self.add_error("tongue_kg", "The tongue cannot carry more than the whole trailer.")
        if data.get("restored_percent") and not data.get("trailer_axle_m"):
            self.add_error("trailer_axle_m", "Spring bars work against the trailer's axle: measure it from the ball.")
        return data

    def save(self, commit: bool = True) -> LoadState:
        """Store, the bars' share too."""
        if "restored_percent" in self.touched:
            self.instance.restored = (self.cleaned_data.get("restored_percent") or 0.0) / 100.0
        return super().save(commit)


class HitchForm(QuantityForm[Vehicle]):
    """The vehicle's hitch: its kind, where it is, what it may carry and tow."""

    quantities = {"hitch_overhang_m": "length", "hitch_kg": "mass", "towed_kg": "mass", "combination_kg": "mass"}
    may_be_negative = ("hitch_overhang_m",)

    class Meta:
        model = Vehicle
        fields = ("hitch_kind", "hitch_overhang_m", "hitch_kg", "towed_kg", "combination_kg")

    guards = guarded(JobVehicle)

    def clean(self) -> dict[str, Any]:
        """Keep the kind of hitch and its place in agreement."""
        data = super().clean()
        overhang = data.get("hitch_overhang_m")
        if overhang is not None and data.get("hitch_kind") in BALLS and overhang <= 0.0:
            self.add_error(
                "hitch_overhang_m", "A ball stands behind the rear axle; a pin or gooseneck may stand ahead of it."
            )
        return data


class TrailerItemForm(QuantityForm[TrailerItem]):
    """Something on the trailer."""

    quantities = {"mass_kg": "mass", "behind_ball_m": "length"}
    may_be_negative = ("behind_ball_m",)

    class Meta:
        model = TrailerItem
        fields = ("name", "mass_kg", "behind_ball_m")

    def settle(self) -> None:
        """Both figures are needed."""
        super().settle()
        self.fields["mass_kg"].required = self.fields["behind_ball_m"].required = True


COUNTED_FROM = (("front", "the front axle"), ("rear", "the rear axle"), ("hitch", "the hitch"))
"""What a place is counted from, rearwards; ahead of it is negative."""


class ItemForm(QuantityForm[LoadItem]):
    """Something carried: an item, a tank with its fill, or a row of people; and where it stands."""

    quantities = {
        "mass_kg": "mass",
        "station_m": "length",
        "lateral_m": "length",
        "height_m": "length",
        "capacity_l": "volume",
    }
    may_be_negative = ("station_m", "lateral_m")
    needs = {
        "item": ("name", "mass_kg", "station_m", "lateral_m", "height_m", "movable"),
        "tank": ("name", "capacity_l", "fill_percent", "kg_per_l", "station_m", "lateral_m"),
        "people": ("name", "count", "mass_kg", "station_m", "lateral_m"),
    }
    fill_percent = forms.FloatField(label="how full, %", required=False)
    counted_from = forms.ChoiceField(label="counted from", choices=COUNTED_FROM, required=False)

    class Meta:
        model = LoadItem
        fields = ("name", "count", "mass_kg", "capacity_l", "kg_per_l", "station_m", "lateral_m", "height_m", "movable")

    def __init__(self, *args: Any, footprint: Footprint | None = None, **kwargs: Any) -> None:
        self.footprint = footprint
        super().__init__(*args, **kwargs)

    def settle(self) -> None:
        """Keep the fields its kind of thing has."""
        self.fields["fill_percent"].initial = round(100 * self.instance.fill)
        needed = self.needs[self.instance.kind]
        self.quantities = {name: kind for name, kind in type(self).quantities.items() if name in needed}
        for name in set(self.fields) - {*needed, "counted_from"}:
            del self.fields[name]
        super().settle()
        for name in self.fields:
            self.fields[name].required = name not in ("lateral_m", "height_m", "movable", "counted_from")

    def clean_lateral_m(self) -> float:
        """Take an empty field as the centre line."""
        return self.cleaned_data["lateral_m"] or 0.0

    def clean_fill_percent(self) -> float | None:
        """Refuse a tank that is overfilled."""
        percent: float | None = self.cleaned_data["fill_percent"]
        if percent is not None and not 0.0 <= percent <= 100.0:
            raise ValidationError(f"{percent:g} % cannot be: a tank is between empty (0) and full (100).")
        return percent

    def clean(self) -> dict[str, Any]:
        """Refuse a place off the vehicle."""
        data = super().clean()
        place, station = self.footprint, self._behind_front(data)
        if place and station is not None and not place.first <= station <= place.last:
            self.add_error(
                "station_m",
                f"{show('length', station, self.units)} behind the front axle is off the vehicle, which goes from {show('length', place.first, self.units)} "
                f"to {show('length', place.last, self.units)}.",
            )
        lateral = data.get("lateral_m")
        if place and lateral is not None and abs(lateral) > place.half_width + 0.15:
            self.add_error(
                "lateral_m", f"The vehicle is {show('length', place.half_width, self.units)} wide to each side."
            )
        if self.instance.state.empty:
            self.add_error(None, "The empty state carries nothing: add the item to a loaded state.")
        return data

    def _behind_front(self, data: dict[str, Any]) -> float | None:
        """Bring a place counted from the rear axle or the hitch to one behind the front axle; refuse one from where nobody measured."""
        typed: float | None = data.get("station_m")
        origin = data.get("counted_from") or "front"
        if typed is None or origin == "front" or "station_m" not in self.touched:
            return typed
        vehicle = self.instance.state.job.vehicle
        base, overhang = vehicle.to_core().base_m, vehicle.hitch_overhang_m if origin == "hitch" else 0.0
        if base is None or overhang is None:
            self.add_error(
                "counted_from",
                "The wheelbase, and the hitch's overhang, must be measured before anything is counted from there.",
            )
            return typed
        station: float = typed + base + overhang
        data["station_m"] = self.cleaned_data["station_m"] = station
        return station

    def save(self, commit: bool = True) -> LoadItem:
        """Store, the fill too."""
        if "fill_percent" in self.touched and self.cleaned_data.get("fill_percent") is not None:
            self.instance.fill = self.cleaned_data["fill_percent"] / 100.0
        return super().save(commit)


class PortableForm(UnitsForm):
    """One portable scale put under one axle after the other: alone, then hitched, then the whole train."""

    alone_front = QuantityField("mass", label="front axle on it")
    alone_rear = QuantityField("mass", label="rear axle on it")
    alone_both = QuantityField("mass", label="both axles on it")
    hitched_front = QuantityField("mass", label="front axle on it, hitched")
    hitched_rear = QuantityField("mass", label="rear axle on it, hitched")
    hitched_both = QuantityField("mass", label="both axles on it, hitched")
    train = QuantityField("mass", label="vehicle and trailer")


class PlanFileForm(WordedMixin, forms.Form):
    """A load plan as CSV."""

    file = forms.FileField(
        label="Load plan, CSV", widget=forms.FileInput(attrs={"class": "form-control", "accept": ".csv"})
    )


class HeavyForm(UnitsForm):
    """How heavy the thing is that wants a place."""

    mass = QuantityField("mass", label="something that weighs")
