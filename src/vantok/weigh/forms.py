"""Forms of the load states."""

from __future__ import annotations

from typing import Any

from django.core.exceptions import ValidationError

from vantok.drawing.fields import QuantityForm
from vantok.weigh.models import LoadItem, LoadState
from vantok_core.units import show

MASSES = ("front_kg", "rear_kg", "fl_kg", "fr_kg", "rl_kg", "rr_kg", "tongue_kg", "trailer_kg")


class StateForm(QuantityForm):
    """A state's name, scale figures, tongue and trailer."""

    quantities = dict.fromkeys(MASSES, "mass")

    class Meta:
        model = LoadState
        fields = ("name", *MASSES, "conditions")

    def clean_tongue_kg(self) -> float:
        """Take an empty field as no tongue."""
        return self.cleaned_data["tongue_kg"] or 0.0

    def clean_trailer_kg(self) -> float:
        """Take an empty field as no trailer."""
        return self.cleaned_data["trailer_kg"] or 0.0

    def clean(self) -> dict[str, Any]:
        """Check that pads agree with the axle, and that an empty vehicle tows nothing."""
        data = super().clean()
        if self.instance.empty and (data.get("tongue_kg") or data.get("trailer_kg")):
            raise ValidationError("The empty state tows nothing: enter the trailer in a loaded state.")
        for axle, left, right in (("front_kg", "fl_kg", "fr_kg"), ("rear_kg", "rl_kg", "rr_kg")):
            whole = data.get(axle)
            both = [v for v in (data.get(left), data.get(right)) if v is not None]
            if len(both) == 2 and whole is not None and abs(sum(both) - whole) > max(0.03 * whole, 20.0):
                self.add_error(
                    axle,
                    f"The two pads make {show('mass', sum(both))}; the axle scale says {show('mass', whole)}. Weigh again.",
                )
        if (data.get("trailer_kg") or 0.0) and (data.get("tongue_kg") or 0.0) > data["trailer_kg"]:
            self.add_error("tongue_kg", "The tongue cannot carry more than the whole trailer.")
        return data


class ItemForm(QuantityForm):
    """An item: what, how heavy, where."""

    quantities = {"mass_kg": "mass", "station_m": "length", "lateral_m": "length"}
    may_be_negative = ("station_m", "lateral_m")

    class Meta:
        model = LoadItem
        fields = ("name", "mass_kg", "station_m", "lateral_m")

    def __init__(self, *args: Any, furthest: tuple[float, float] | None = None, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.furthest = furthest
        self.fields["mass_kg"].required = self.fields["station_m"].required = True

    def clean_lateral_m(self) -> float:
        """Take an empty field as the centre line."""
        return self.cleaned_data["lateral_m"] or 0.0

    def clean_station_m(self) -> float:
        """Refuse an item off the vehicle."""
        station = self.cleaned_data["station_m"]
        if self.furthest and station is not None and not self.furthest[0] <= station <= self.furthest[1]:
            raise ValidationError(
                f"{show('length', station)} behind the front axle is off the vehicle, which goes from {show('length', self.furthest[0])} "
                f"to {show('length', self.furthest[1])}."
            )
        return station
