"""What was chosen and how it is set."""

from __future__ import annotations

from django.db import models
from simple_history.models import HistoricalRecords

from vantok.records.jobs.models import Job


class Fitting(models.Model):
    """The kit of a job, as it was on the shelf when chosen; `setting`: each thing its family is set by, by name, left and right (SI; None: that side is not
    entered yet)."""

    job = models.OneToOneField(Job, on_delete=models.CASCADE, related_name="fitting")
    kit = models.JSONField()
    state_key = models.CharField(max_length=30, blank=True)
    setting = models.JSONField("setting", default=dict, blank=True)
    done = models.BooleanField("set and checked on the vehicle", default=False)
    ruled_out = models.JSONField("causes of a missed height ruled out", default=list, blank=True)
    history = HistoricalRecords()

    def __str__(self) -> str:
        return str(self.kit.get("name", "kit"))
