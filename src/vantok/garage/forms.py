"""The vehicle sheet."""

from __future__ import annotations

from vantok.drawing.fields import QuantityForm
from vantok.garage.models import FACTS, Vehicle

LENGTHS = ("wheelbase_m", "hitch_overhang_m", "rear_overhang_m", "track_front_m", "track_rear_m")
MASSES = (
    "gross_kg", "front_axle_kg", "rear_axle_kg", "front_tyres_kg", "rear_tyres_kg", "hitch_kg", "towed_kg", "combination_kg",
    "tag_axle_kg",
)  # fmt: skip
RATES = ("front_rate_n_per_m", "rear_rate_n_per_m")
GAINS = ("front_camber_gain", "rear_camber_gain", "front_toe_gain", "rear_toe_gain")


class VehicleForm(QuantityForm):
    """Vehicle and ratings; whatever is left empty stays unknown."""

    quantities = (
        dict.fromkeys(LENGTHS, "length")
        | dict.fromkeys(MASSES, "mass")
        | dict.fromkeys(RATES, "rate")
        | dict.fromkeys(GAINS, "gain")
    )
    may_be_negative = ("hitch_overhang_m", *GAINS)
    guards = dict.fromkeys((*MASSES, "front_tyre_index", "rear_tyre_index", "rear_dual_index"), "rate")

    class Meta:
        model = Vehicle
        fields = ("label", *FACTS)
