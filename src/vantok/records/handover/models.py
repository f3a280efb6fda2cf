"""What leaves and what is kept: reports frozen as handed over, and what is to be looked at again, when."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from django.utils import timezone
from simple_history.models import HistoricalRecords

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


class Recall(models.Model):
    """A thing to look at again after hand-over: by its day, and the odometer where it was read; done, put off, or declined with a reason.

    key: which check of the job it is; guessed: its day was taken from a distance at a usual yearly one; outcome: of the follow-up, what the customer
    says became of it.
    """

    STATES = (("open", "open"), ("done", "done"), ("declined", "declined"))
    OUTCOMES = (
        ("hoped", "as hoped"),
        ("better", "better than hoped"),
        ("worse", "less than hoped"),
        ("trouble", "trouble with it"),
    )

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="recalls")
    key = models.CharField(max_length=20)
    words = models.CharField(max_length=160)
    due = models.DateField()
    due_km = models.FloatField(null=True, blank=True)
    guessed = models.BooleanField(default=False)
    state = models.CharField(max_length=8, choices=STATES, default="open")
    until = models.DateField("put off until", null=True, blank=True)
    reason = models.CharField(max_length=200, blank=True)
    outcome = models.CharField(max_length=8, choices=OUTCOMES, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+")
    at = models.DateTimeField(null=True, blank=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["due", "pk"]
        indexes = [models.Index(fields=["state", "due"])]
        constraints = [models.UniqueConstraint(fields=["job", "key"], name="recall_once_a_job")]

    def __str__(self) -> str:
        return f"{self.job.number}: {self.words}"
