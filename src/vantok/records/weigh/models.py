"""Load states and what is on them."""

from __future__ import annotations

from typing import cast

from django.conf import settings
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models
from simple_history.models import HistoricalRecords

from vantok.records.jobs.models import Job
from vantok_core.facts import JobState
from vantok_core.facts.declared import declared
from vantok_core.facts.sums import tank_mass
from vantok_core.loads.places import ItemKind, UsualItem

SAID = {name: one.words for name, one in declared(JobState).items()}
"""What each fact of a state is called, as it is declared."""


def _mass(
    label: str, *, null: bool = True, default: float | None = None, least: float = 0.0
) -> models.FloatField[float | None, float | None]:
    limits = [MinValueValidator(least), MaxValueValidator(60_000.0)]
    return models.FloatField(label, null=null, blank=True, default=default, validators=limits)


class LoadState(models.Model):
    """A load state of a job; scale figures rule over items and tongue.

    `weighing`: what the one portable scale read, as typed in kg, kept beside the loads it was reduced to.
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="states")
    key = models.SlugField(max_length=30)
    name = models.CharField(SAID["name"], max_length=60)
    empty = models.BooleanField(default=False)
    more = models.BooleanField(SAID["more"], default=False)
    same_as = models.CharField(SAID["same_as"], max_length=30, blank=True, default="")
    order = models.PositiveSmallIntegerField(default=0)
    front_kg = _mass(SAID["front_kg"])
    rear_kg = _mass(SAID["rear_kg"])
    fl_kg = _mass("front left pad")
    fr_kg = _mass("front right pad")
    rl_kg = _mass("rear left pad")
    rr_kg = _mass("rear right pad")
    tongue_kg = _mass(SAID["tongue_kg"], null=False, default=0.0)
    trailer_kg = _mass(SAID["trailer_kg"], null=False, default=0.0)
    conditions = models.CharField(SAID["conditions"], max_length=200, blank=True)
    condition = models.JSONField(SAID["condition"], default=dict, blank=True)
    tag_kg = _mass(SAID["tag_kg"])
    trailer_axle_m = models.FloatField(
        SAID["trailer_axle_m"], null=True, blank=True, validators=[MinValueValidator(0.5), MaxValueValidator(20.0)]
    )
    trailer_level_m = models.FloatField(
        SAID["trailer_level_m"],
        null=True,
        blank=True,
        validators=[MinValueValidator(0.1), MaxValueValidator(2.0)],
    )
    restored = models.FloatField(
        SAID["restored"], default=0.0, validators=[MinValueValidator(0.0), MaxValueValidator(1.0)]
    )
    trailer_axle_rating_kg = _mass(SAID["trailer_axle_rating_kg"], least=1.0)
    trailer_tyres_kg = _mass(SAID["trailer_tyres_kg"], least=1.0)
    trailer_scale_kg = _mass(SAID["trailer_scale_kg"])
    weighing = models.JSONField("one portable scale", default=dict, blank=True)
    weighed_gain_kg = models.JSONField(SAID["weighed_gain_kg"], null=True, blank=True)
    weighed_at = models.DateTimeField(SAID["weighed_at"], null=True, blank=True)
    changed_at = models.DateTimeField(SAID["changed_at"], null=True, blank=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["order", "pk"]
        constraints = [models.UniqueConstraint(fields=["job", "key"], name="state_key_once_per_job")]

    def __str__(self) -> str:
        return self.name


KINDS = (("item", "item"), ("tank", "tank"), ("people", "people"))
ZONES = (("cab", "cab"), ("floor", "floor"), ("rack", "rear rack"))


class Carried(models.Model):
    """What an item, a tank or a row of people weighs. mass_kg: of the item, or of each person; a tank's follows from its fill."""

    kind = models.CharField(max_length=6, choices=KINDS, default="item")
    name = models.CharField("what", max_length=80)
    mass_kg = models.FloatField(
        "mass", null=True, blank=True, validators=[MinValueValidator(0.0), MaxValueValidator(30_000.0)]
    )
    count = models.PositiveSmallIntegerField(
        "how many", default=1, validators=[MinValueValidator(1), MaxValueValidator(60)]
    )
    capacity_l = models.FloatField(
        "litres", null=True, blank=True, validators=[MinValueValidator(1.0), MaxValueValidator(20_000.0)]
    )
    fill = models.FloatField("how full", default=1.0, validators=[MinValueValidator(0.0), MaxValueValidator(1.0)])
    kg_per_l = models.FloatField("kg a litre", default=1.0, validators=[MinValueValidator(0.1), MaxValueValidator(3.0)])
    height_m = models.FloatField(
        "above ground", null=True, blank=True, validators=[MinValueValidator(0.0), MaxValueValidator(6.0)]
    )

    class Meta:
        abstract = True

    def __str__(self) -> str:
        return self.name

    @property
    def total_kg(self) -> float:
        """The whole mass, kg."""
        if self.kind == "tank":
            return tank_mass(self.capacity_l or 0.0, self.fill, self.kg_per_l) if self.capacity_l else 0.0
        return (self.mass_kg or 0.0) * (self.count if self.kind == "people" else 1)


class LoadItem(Carried):
    """Something carried in a state, at its place."""

    state = models.ForeignKey(LoadState, on_delete=models.CASCADE, related_name="items")
    station_m = models.FloatField(
        "behind the front axle", validators=[MinValueValidator(-5.0), MaxValueValidator(25.0)]
    )
    lateral_m = models.FloatField(
        "to the left of centre", default=0.0, blank=True, validators=[MinValueValidator(-2.0), MaxValueValidator(2.0)]
    )
    movable = models.BooleanField("can be moved", default=False)
    history = HistoricalRecords()

    class Meta:
        ordering = ["pk"]


class TrailerItem(models.Model):
    """Something on a state's trailer, the empty trailer being one."""

    state = models.ForeignKey(LoadState, on_delete=models.CASCADE, related_name="trailer_items")
    name = models.CharField("what", max_length=80)
    mass_kg = models.FloatField("mass", validators=[MinValueValidator(0.0), MaxValueValidator(30_000.0)])
    behind_ball_m = models.FloatField("behind the ball", validators=[MinValueValidator(-2.0), MaxValueValidator(25.0)])
    history = HistoricalRecords()

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.name


class ShopItem(Carried):
    """An item of the shop's own list, beside the usual ones; where it starts out on a vehicle, as shares of its zone."""

    zone = models.CharField(max_length=6, choices=ZONES, default="floor")
    along = models.FloatField(default=0.5)
    lateral = models.FloatField(default=0.0)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+")

    class Meta:
        ordering = ["name"]
        constraints = [models.UniqueConstraint(fields=["name"], name="shop_item_once")]

    def to_core(self) -> UsualItem:
        """Return it as the core's usual item."""
        return UsualItem(
            name=self.name,
            kind=cast("ItemKind", self.kind),
            mass_kg=self.mass_kg or 0.0,
            zone=self.zone,
            along=self.along,
            lateral=self.lateral,
            height_m=self.height_m,
            capacity_l=self.capacity_l,
            kg_per_l=self.kg_per_l,
        )
