"""What closed jobs taught the shop: a figure a row, with its error, its job, and whether it counts; and what was foretold of each beside what was read."""

from __future__ import annotations

from django.db import models

from vantok.records.jobs.models import Job
from vantok_core.upkeep.lessons import Lesson as CoreLesson

KINDS = (
    ("rate", "springs"),
    ("strength", "a kit's strength"),
    ("hours", "hours of a card"),
    ("cause", "what was behind"),
)
OFF = (
    ("", "it counts"),
    ("unweighed", "its loads were not weighed"),
    ("imported", "it came from another shop's file"),
    ("lead", "a lead switched it off"),
)
"""Why a row does not count; a lead may say that it does."""


class Lesson(models.Model):
    """A figure a closed job taught: kind; key: of what class, kit or complaint (with its cause); value: ln of the figure over the usual one; sigma of that."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="lessons")
    kind = models.CharField(max_length=8, choices=KINDS)
    key = models.CharField(max_length=80)
    value = models.FloatField()
    sigma = models.FloatField()
    usual = models.FloatField("the usual figure, SI", default=0.0)
    off = models.CharField("does not count", max_length=10, blank=True, choices=OFF)
    at = models.DateTimeField("closed")

    class Meta:
        ordering = ["at", "pk"]
        indexes = [models.Index(fields=["kind", "key"])]

    def __str__(self) -> str:
        return f"{self.kind} {self.key}: {self.value:+.2f}"

    def to_core(self) -> CoreLesson:
        """Return the core's lesson; by its vehicle one counts once."""
        return CoreLesson(
            kind=self.kind, key=self.key, value=self.value, sigma=self.sigma, vehicle=str(self.job.vehicle_id)
        )


class Foretold(models.Model):
    """A corner's height with a kit on, as foretold before it was fitted and as read afterwards (m), with half of the band; of which kit, on which class."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="foretold")
    code = models.CharField(max_length=40)
    klass = models.CharField(max_length=80, blank=True)
    corner = models.CharField(max_length=2)
    predicted_m = models.FloatField()
    read_m = models.FloatField()
    band_m = models.FloatField()
    at = models.DateTimeField("closed")

    class Meta:
        ordering = ["at", "pk"]

    def __str__(self) -> str:
        return f"{self.job.number} {self.corner}"
