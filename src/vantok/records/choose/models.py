"""What was chosen and how it is set."""

from __future__ import annotations

from django.db import models
from simple_history.models import HistoricalRecords

from vantok.records.garage.models import Vehicle
from vantok.records.jobs.models import Job
from vantok_core.facts import Kit


class Fitting(models.Model):
    """A kit of a job, as it was on the shelf when chosen; `order`: which went on first (the last is in hand); `setting`:
    each thing its family is set by, by name, left and right (SI; None: that side is not
    entered yet)."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="fittings")
    order = models.PositiveSmallIntegerField(default=0)
    kit = models.JSONField()
    state_key = models.CharField(max_length=30, blank=True)
    setting = models.JSONField("setting", default=dict, blank=True)
    done = models.BooleanField("set and checked on the vehicle", default=False)
    as_set = models.JSONField("who set it, when, with what", default=dict, blank=True)
    ordered = models.JSONField("ordered, and promised for", default=dict, blank=True)
    ruled_out = models.JSONField("causes of a missed height ruled out", default=list, blank=True)
    card = models.JSONField("steps of the card", default=list, blank=True)
    overruled = models.JSONField("checks of its fit overruled, because", default=dict, blank=True)
    learnt = models.JSONField("what the shop learnt of it", default=list, blank=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["order"]
        constraints = [models.UniqueConstraint(fields=["job", "order"], name="one_kit_at_a_time")]

    def __str__(self) -> str:
        return str(self.kit.get("name", "kit"))


def kind_of(vehicle: Vehicle, kit: Kit) -> str:
    """Return the kind of vehicle that a card is learnt on: body and the spring of the kit's axle."""
    return f"{vehicle.body} {getattr(vehicle, f'{kit.axle}_spring') or ''}".strip()
