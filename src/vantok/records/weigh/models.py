"""Load states and what is on them."""

from __future__ import annotations

from functools import partial
from typing import cast

from django.conf import settings
from django.db import models
from simple_history.models import HistoricalRecords

from vantok.records.columns import count, figure
from vantok.records.jobs.models import Job
from vantok_core import facts as core
from vantok_core.facts import JobState
from vantok_core.facts.declared import declared
from vantok_core.facts.sums import tank_mass
from vantok_core.loads.places import ItemKind, UsualItem

SAID = {name: one.words for name, one in declared(JobState).items()}
"""What each fact of a state is called, as it is declared."""
weighed = partial(figure, default=None)


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
    front_kg = weighed(JobState, "front_kg")
    rear_kg = weighed(JobState, "rear_kg")
    fl_kg = weighed(JobState, "corners_kg", words="front left pad")
    fr_kg = weighed(JobState, "corners_kg", words="front right pad")
    rl_kg = weighed(JobState, "corners_kg", words="rear left pad")
    rr_kg = weighed(JobState, "corners_kg", words="rear right pad")
    tongue_kg = figure(JobState, "tongue_kg", default=0.0, blank=True)
    trailer_kg = figure(JobState, "trailer_kg", default=0.0, blank=True)
    conditions = models.CharField(SAID["conditions"], max_length=200, blank=True)
    condition = models.JSONField(SAID["condition"], default=dict, blank=True)
    tag_kg = weighed(JobState, "tag_kg")
    trailer_axle_m = figure(JobState, "trailer_axle_m")
    trailer_level_m = figure(JobState, "trailer_level_m")
    restored = figure(JobState, "restored", default=0.0)
    trailer_axle_rating_kg = weighed(JobState, "trailer_axle_rating_kg")
    trailer_tyres_kg = weighed(JobState, "trailer_tyres_kg")
    trailer_scale_kg = weighed(JobState, "trailer_scale_kg")
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
    mass_kg = figure(core.LoadItem, "mass_kg", words="mass")
    count = count(core.People, "count", words="how many", default=1)
    capacity_l = figure(core.Tank, "capacity_l", words="litres")
    fill = figure(core.Tank, "fill", words="how full", default=1.0)
    kg_per_l = figure(core.Tank, "kg_per_l", words="kg a litre", default=1.0)
    height_m = figure(core.LoadItem, "height_m", words="above ground")

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
    station_m = figure(core.LoadItem, "station_m", words="behind the front axle", null=False, blank=False)
    lateral_m = figure(core.LoadItem, "lateral_m", words="to the left of centre", default=0.0, blank=True)
    movable = models.BooleanField("can be moved", default=False)
    history = HistoricalRecords()

    class Meta:
        ordering = ["pk"]


class TrailerItem(models.Model):
    """Something on a state's trailer, the empty trailer being one."""

    state = models.ForeignKey(LoadState, on_delete=models.CASCADE, related_name="trailer_items")
    name = models.CharField("what", max_length=80)
    mass_kg = figure(core.TrailerItem, "mass_kg", words="mass", null=False, blank=False)
    behind_ball_m = figure(core.TrailerItem, "behind_ball_m", words="behind the ball", null=False, blank=False)
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
