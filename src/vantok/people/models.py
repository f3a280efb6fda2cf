"""Users with a role and a unit system."""

from __future__ import annotations

from django.contrib.auth.models import AbstractUser
from django.db import models
from simple_history.models import HistoricalRecords


class Role(models.TextChoices):
    """What a person answers for."""

    LEAD = "lead", "Lead"
    TECHNICIAN = "technician", "Technician"
    TRAINEE = "trainee", "Trainee"


class User(AbstractUser):
    """A person of the shop."""

    role = models.CharField(max_length=12, choices=Role.choices, default=Role.TECHNICIAN)
    units = models.CharField(
        "units", max_length=6, choices=[("metric", "mm, kg, bar"), ("us", "inches, lb, psi")], default="metric"
    )
    history = HistoricalRecords(excluded_fields=["password", "last_login"])

    class Meta:
        ordering = ["username"]

    def __str__(self) -> str:
        return self.get_full_name() or self.username

    @property
    def may_decide(self) -> bool:
        """Whether this person may choose a kit and enter its setting."""
        return self.role in (Role.LEAD, Role.TECHNICIAN)
