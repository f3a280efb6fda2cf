"""Load states and what is on them."""

from __future__ import annotations

from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models
from simple_history.models import HistoricalRecords

from vantok.jobs.models import Job


def _mass(label: str, *, null: bool = True, default: float | None = None) -> models.FloatField:
    limits = [MinValueValidator(0.0), MaxValueValidator(60_000.0)]
    return models.FloatField(label, null=null, blank=True, default=default, validators=limits)


BEYOND = ("tanks", "people", "trailer_axle_m", "restored")
"""Facts of a job file that have no field of their own here yet; kept as the file has them, and used by the model."""


class LoadState(models.Model):
    """A load state of a job; scale figures rule over items and tongue."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="states")
    key = models.SlugField(max_length=30)
    name = models.CharField("state", max_length=60)
    empty = models.BooleanField(default=False)
    order = models.PositiveSmallIntegerField(default=0)
    front_kg = _mass("front axle, scale")
    rear_kg = _mass("rear axle, scale")
    fl_kg = _mass("front left pad")
    fr_kg = _mass("front right pad")
    rl_kg = _mass("rear left pad")
    rr_kg = _mass("rear right pad")
    tongue_kg = _mass("tongue load", null=False, default=0.0)
    trailer_kg = _mass("trailer mass", null=False, default=0.0)
    conditions = models.CharField("fuel, water, people, pressures", max_length=200, blank=True)
    beyond = models.JSONField("what a job file told beyond these", default=dict, blank=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["order", "pk"]
        constraints = [models.UniqueConstraint(fields=["job", "key"], name="state_key_once_per_job")]

    def __str__(self) -> str:
        return self.name


class LoadItem(models.Model):
    """Something carried in a state."""

    state = models.ForeignKey(LoadState, on_delete=models.CASCADE, related_name="items")
    name = models.CharField("item", max_length=80)
    mass_kg = models.FloatField("mass", validators=[MinValueValidator(0.0), MaxValueValidator(30_000.0)])
    station_m = models.FloatField(
        "behind the front axle", validators=[MinValueValidator(-5.0), MaxValueValidator(25.0)]
    )
    lateral_m = models.FloatField(
        "to the left of centre", default=0.0, blank=True, validators=[MinValueValidator(-2.0), MaxValueValidator(2.0)]
    )
    history = HistoricalRecords()

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.name
