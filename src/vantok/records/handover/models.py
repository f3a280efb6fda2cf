"""Reports as handed over: frozen, so that later changes of vehicle, kit or rules never change what the customer was given."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from django.utils import timezone

from vantok.records.jobs.models import Job


class Issue(models.Model):
    """One issue of a job's report, as it stood at hand-over, in either unit system."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="issues")
    number = models.PositiveSmallIntegerField()
    metric = models.TextField()
    us = models.TextField()
    anyway = models.CharField("handed over with open points, because", max_length=300, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+")
    at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["job", "number"], name="report_issue_once")]

    def __str__(self) -> str:
        return f"{self.job.number}, issue {self.number}"
