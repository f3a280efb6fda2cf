"""Customers and their vehicles."""

from __future__ import annotations

from django.db import models
from simple_history.models import HistoricalRecords

from vantok.records.columns import count, figure
from vantok_core.facts import JobVehicle
from vantok_core.facts.classes import BODIES, SPRINGS, TYRES
from vantok_core.facts.declared import declared

SAID = {name: one.words for name, one in declared(JobVehicle).items()}
"""What each fact is called, as it is declared."""

HITCHES = (
    ("ball", "ball behind the body"),
    ("caravan", "ball behind the body, for a caravan"),
    ("gooseneck", "gooseneck over the axle"),
    ("pin", "pin (fifth wheel)"),
)


class Customer(models.Model):
    """Whose vehicle it is."""

    name = models.CharField(max_length=120)
    phone = models.CharField("phone or mail", max_length=120, blank=True)
    note = models.TextField(blank=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name


class InTheFleet(models.Manager["Vehicle"]):
    """The shop's customers' vehicles: those of the practice bay are in no list of the shop's."""

    def get_queryset(self) -> models.QuerySet[Vehicle]:
        """Leave them out."""
        return super().get_queryset().filter(practice=False)


class Vehicle(models.Model):
    """What is known of a vehicle; an empty field is unknown."""

    customer = models.ForeignKey(Customer, on_delete=models.PROTECT, related_name="vehicles")
    label = models.CharField(SAID["label"], max_length=120, help_text="As the shop calls it")
    body = models.CharField(
        SAID["body"], max_length=20, choices=[(k, b.words) for k, b in BODIES.items()], default="pickup"
    )
    wheelbase_m = figure(JobVehicle, "wheelbase_m")
    hitch_overhang_m = figure(
        JobVehicle, "hitch_overhang_m", help_text="Rear axle to ball; negative for a pin ahead of the axle"
    )
    rear_overhang_m = figure(JobVehicle, "rear_overhang_m", help_text="Body behind the rear axle")
    track_front_m = figure(JobVehicle, "track_front_m", help_text="Wheel centre to wheel centre")
    track_rear_m = figure(JobVehicle, "track_rear_m")
    front_spring = models.CharField(
        SAID["front_spring"], max_length=30, null=True, blank=True, choices=[(k, s.words) for k, s in SPRINGS.items()]
    )
    rear_spring = models.CharField(
        SAID["rear_spring"], max_length=30, null=True, blank=True, choices=[(k, s.words) for k, s in SPRINGS.items()]
    )
    tyres = models.CharField(
        SAID["tyres"], max_length=20, null=True, blank=True, choices=[(k, t.words) for k, t in TYRES.items()]
    )
    dual_rear = models.BooleanField(SAID["dual_rear"], default=False)
    gross_kg = figure(JobVehicle, "gross_kg")
    front_axle_kg = figure(JobVehicle, "front_axle_kg")
    rear_axle_kg = figure(JobVehicle, "rear_axle_kg")
    front_tyres_kg = figure(JobVehicle, "front_tyres_kg")
    rear_tyres_kg = figure(JobVehicle, "rear_tyres_kg")
    hitch_kg = figure(JobVehicle, "hitch_kg")
    towed_kg = figure(JobVehicle, "towed_kg")
    combination_kg = figure(JobVehicle, "combination_kg")
    hitch_kind = models.CharField(SAID["hitch_kind"], max_length=10, choices=HITCHES, default="ball")
    front_tyre_index = count(JobVehicle, "front_tyre_index")
    rear_tyre_index = count(JobVehicle, "rear_tyre_index")
    rear_dual_index = count(JobVehicle, "rear_dual_index")
    tag_axle_kg = figure(JobVehicle, "tag_axle_kg")
    front_camber_gain = figure(JobVehicle, "front_camber_gain")
    rear_camber_gain = figure(JobVehicle, "rear_camber_gain")
    front_toe_gain = figure(JobVehicle, "front_toe_gain")
    rear_toe_gain = figure(JobVehicle, "rear_toe_gain")
    front_droop_m = figure(
        JobVehicle, "front_droop_m", help_text="How far the hanging wheel goes down from where it stands empty"
    )
    rear_droop_m = figure(
        JobVehicle, "rear_droop_m", help_text="How far the hanging wheel goes down from where it stands empty"
    )
    year = count(JobVehicle, "year")
    variant = models.CharField(SAID["variant"], max_length=40, blank=True, help_text="Engine, axle, suspension code")
    plate = models.CharField(SAID["plate"], max_length=20, blank=True)
    vin = models.CharField(SAID["vin"], max_length=20, blank=True)
    equipment = models.JSONField(SAID["equipment"], default=list, blank=True)
    defaults = models.JSONField(SAID["defaults"], default=list, blank=True)
    points = models.JSONField(SAID["points"], default=list, blank=True)
    front_rate_n_per_m = figure(JobVehicle, "front_rate_n_per_m")
    rear_rate_n_per_m = figure(JobVehicle, "rear_rate_n_per_m")
    beyond = models.JSONField("what a job file told beyond these", default=dict, blank=True)
    practice = models.BooleanField("of the practice bay", default=False, editable=False)
    objects = InTheFleet()
    every: models.Manager[Vehicle] = models.Manager()
    history = HistoricalRecords()

    class Meta:
        ordering = ["customer__name", "label"]

    def __str__(self) -> str:
        return self.label

    def to_core(self) -> JobVehicle:
        """Return the core's facts."""
        return JobVehicle(**{name: getattr(self, name) for name in COLUMNS}, **self.beyond)


COLUMNS = tuple(f.name for f in Vehicle._meta.concrete_fields if f.name in JobVehicle.model_fields)
"""The vehicle's facts that have a column here, named alike in the core."""
FACTS = tuple(
    name for name in COLUMNS if name != "label" and not isinstance(Vehicle._meta.get_field(name), models.JSONField)
)
"""Those of one figure or word each."""
BEYOND = tuple(name for name in JobVehicle.model_fields if name not in COLUMNS)
"""Facts without a column: kept as a document, each by its name."""
