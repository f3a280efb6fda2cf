"""Target and setting."""

from __future__ import annotations

from typing import Any

from django import forms

from vantok.choose.models import Fitting
from vantok.drawing.fields import QuantityForm
from vantok.jobs.models import Job
from vantok_core.units import show


class TargetForm(QuantityForm):
    """What height is wanted, and why."""

    quantities = {"rake_m": "length"}
    may_be_negative = ("rake_m",)
    share = forms.IntegerField(label="share of the sag taken out, %", min_value=0, max_value=100)

    class Meta:
        model = Job
        fields = ("school", "share", "rake_m", "target_reason")

    def settle(self) -> None:
        """Show the share as percent."""
        self.initial["share"] = round(100 * self.instance.share)
        super().settle()

    def clean_share(self) -> float:
        """Percent to share."""
        return self.cleaned_data["share"] / 100

    def clean_rake_m(self) -> float:
        """Take an empty rake as level."""
        return self.cleaned_data["rake_m"] or 0.0


class SpaceForm(QuantityForm):
    """The room there is for a kit beside the tyre, and whether lines and exhaust stand clear of it."""

    quantities = {"space_left_m": "length", "space_right_m": "length"}

    class Meta:
        model = Job
        fields = ("space_left_m", "space_right_m", "lines")


class SettingForm(QuantityForm):
    """Pressures or spacers as set on the vehicle."""

    quantities = {
        "left_pa": "pressure", "right_pa": "pressure", "left_spacer_m": "length", "right_spacer_m": "length",
    }  # fmt: skip

    class Meta:
        model = Fitting
        fields = ("left_pa", "right_pa", "left_spacer_m", "right_spacer_m", "done")

    def settle(self) -> None:
        """Keep the fields the kit is set by."""
        family = self.instance.kit.get("family")
        unused = ("left_spacer_m", "right_spacer_m") if family == "air_spring" else ("left_pa", "right_pa")
        for name in unused:
            del self.fields[name]
        self.quantities = {name: kind for name, kind in type(self).quantities.items() if name in self.fields}
        super().settle()

    def clean(self) -> dict[str, Any]:
        """Hold the pressures against the kit's own limits."""
        data = super().clean()
        low, high = self.instance.kit.get("p_min_pa"), self.instance.kit.get("p_max_pa")
        for name in ("left_pa", "right_pa"):
            value = data.get(name)
            if value is not None and high is not None and value > high:
                self.add_error(name, f"Over the kit's maximum of {show('pressure', high, self.units)}.")
            if value is not None and low is not None and value < low:
                said = f"Under the kit's minimum of {show('pressure', low, self.units)}: the bag could pinch."
                self.add_error(name, said)
        sides = [name for name in ("left_pa", "right_pa") if name in self.fields]
        if data.get("done"):
            for name in sides:
                if data.get(name) is None and name not in self.errors:
                    self.add_error(name, "Not read yet: a setting is done when both sides are entered.")
        return data
