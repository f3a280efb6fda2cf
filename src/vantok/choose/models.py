"""What was chosen and how it is set."""

from __future__ import annotations

from django.db import models
from simple_history.models import HistoricalRecords

from vantok.jobs.models import Job


class Fitting(models.Model):
    """The kit of a job, as it was on the shelf when chosen, with its setting left and right (SI)."""

    job = models.OneToOneField(Job, on_delete=models.CASCADE, related_name="fitting")
    kit = models.JSONField()
    state_key = models.CharField(max_length=30, blank=True)
    left_pa = models.FloatField("left pressure", null=True, blank=True)
    right_pa = models.FloatField("right pressure", null=True, blank=True)
    left_spacer_m = models.FloatField("left spacer", null=True, blank=True)
    right_spacer_m = models.FloatField("right spacer", null=True, blank=True)
    done = models.BooleanField("set and checked on the vehicle", default=False)
    ruled_out = models.JSONField("causes of a missed height ruled out", default=list, blank=True)
    history = HistoricalRecords()

    def __str__(self) -> str:
        return str(self.kit.get("name", "kit"))
