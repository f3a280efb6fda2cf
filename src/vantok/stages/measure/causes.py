"""Ruling out causes of a missed height."""

from __future__ import annotations

from vantok.records.choose.models import Fitting
from vantok.records.jobs.models import Job


def rule_out(job: Job, causes: list[str]) -> None:
    """Note which causes of a missed height were looked into and found not to be it."""
    fitting = Fitting.objects.filter(job=job).last()
    if fitting is not None and sorted(fitting.ruled_out) != sorted(causes):
        fitting.ruled_out = causes
        fitting.save()
