"""Users with a role and a unit system."""

from __future__ import annotations

from collections.abc import Callable
from datetime import time

from django.contrib.auth.models import AbstractUser
from django.core.exceptions import ValidationError
from django.core.validators import MaxValueValidator, MinValueValidator, URLValidator
from django.db import models
from django.utils.functional import cached_property
from simple_history.models import HistoricalRecords


class Role(models.TextChoices):
    """What a person answers for."""

    LEAD = "lead", "Lead"
    TECHNICIAN = "technician", "Technician"
    TRAINEE = "trainee", "Trainee"


CURRENCIES = (
    ("EUR", "€"),
    ("GBP", "£"),
    ("USD", "$"),
    ("CHF", "CHF"),
    ("NOK", "kr"),
    ("SEK", "kr"),
    ("DKK", "kr"),
    ("AUD", "A$"),
    ("NZD", "NZ$"),
    ("CAD", "C$"),
)
UNITS = (("metric", "mm, kg, bar"), ("us", "inches, lb, psi"))


NOSES = ("caravan_from", "caravan_to", "ball_from", "ball_to", "pin_from", "pin_to")
"""What of its mass a trailer should carry on its nose, from and to, by its kind: the shop's own windows."""


def share(words: str, default: float) -> models.FloatField[float, float]:
    """Return a field for a share of a trailer's mass."""
    return models.FloatField(words, default=default, validators=[MinValueValidator(0.0), MaxValueValidator(0.5)])


class Shop(models.Model):
    """The shop itself: one row, made by its first lead."""

    name = models.CharField("what the shop is called", max_length=80)
    units = models.CharField("units for new people", max_length=6, choices=UNITS, default="metric")
    currency = models.CharField(
        max_length=3, choices=[(code, f"{code} ({sign})") for code, sign in CURRENCIES], default="EUR"
    )
    hour = models.FloatField(
        "price of an hour’s work", default=80.0, validators=[MinValueValidator(0.0), MaxValueValidator(10_000.0)]
    )
    tax = models.FloatField(
        "tax on a quote, as a share",
        null=True,
        blank=True,
        validators=[MinValueValidator(0.0), MaxValueValidator(1.0)],
        help_text="asked before the first quote where it is empty",
    )
    quote_days = models.PositiveSmallIntegerField(
        "a quote holds for, days", default=30, validators=[MinValueValidator(1), MaxValueValidator(365)]
    )
    sheet = models.CharField("paper", max_length=6, choices=[("a4", "A4"), ("letter", "Letter")], default="a4")
    day_ends = models.TimeField("the day ends at", default=time(17, 0))
    address = models.URLField(
        "address of this program, as the shop's devices open it",
        blank=True,
        validators=[URLValidator(schemes=["http", "https"])],
        help_text="stands in the square of a label; without it a label carries the job's number alone",
    )
    caravan_from = share("least on a caravan’s nose, as a share of it", 0.04)
    caravan_to = share("most on a caravan’s nose, as a share of it", 0.07)
    ball_from = share("least on a ball-hitch trailer’s tongue, as a share of it", 0.10)
    ball_to = share("most on a ball-hitch trailer’s tongue, as a share of it", 0.15)
    pin_from = share("least on a trailer’s pin, as a share of it", 0.15)
    pin_to = share("most on a trailer’s pin, as a share of it", 0.25)
    odds = models.JSONField("what usually lies behind a complaint here", default=dict, blank=True, editable=False)
    history = HistoricalRecords()

    def __str__(self) -> str:
        return self.name

    def clean(self) -> None:
        """Refuse a window upside down."""
        for least, most in zip(NOSES[::2], NOSES[1::2], strict=True):
            if not (getattr(self, least) or 0.0) < (getattr(self, most) or 0.0):
                raise ValidationError({most: "The most must be above the least."})


class User(AbstractUser):
    """A person of the shop."""

    role = models.CharField(max_length=12, choices=Role.choices, default=Role.TECHNICIAN)
    units = models.CharField("units", max_length=6, choices=UNITS, default="metric")
    epoch = models.PositiveIntegerField("how often everything signed in was signed out", default=0, editable=False)
    history = HistoricalRecords(excluded_fields=["password", "last_login", "epoch"])

    class Meta:
        ordering = ["username"]

    def __str__(self) -> str:
        return self.get_full_name() or self.username

    def _get_session_auth_hash(self, secret: str | None = None) -> str:
        """Return what a session is held against: leaving ends every session for good, though the person comes back."""
        plain = super()._get_session_auth_hash(secret=secret)  # type: ignore[misc] # Django's own
        return plain if not self.epoch else f"{plain}.{self.epoch}"

    own_practice: Callable[[], bool] | None = None
    """Tells whether what is asked for is this person's own practice job, where a request is of a job at all."""

    @cached_property
    def practises(self) -> bool:
        """Whether this person is at a practice job of their own, where everything of a job is theirs to do."""
        return self.own_practice is not None and self.own_practice()

    @property
    def rank(self) -> str:
        """What the person answers for: one made at the machine with every right is a lead."""
        return Role.LEAD if self.is_superuser else self.role


class Taken(models.Model):
    """A post that was stored: the name that its form or entry carried, and a digest of what it said (see `people/once.py`)."""

    name = models.CharField(max_length=60)
    body = models.CharField(max_length=64)
    at = models.DateTimeField(auto_now_add=True, db_index=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["name", "body"], name="taken_once")]

    def __str__(self) -> str:
        return f"{self.name}, {self.at}"


class Act(models.Model):
    """Something that only the lead may do, done; or something refused to whoever asked for it. Never what it said: that stands in the histories."""

    at = models.DateTimeField(auto_now_add=True, db_index=True)
    by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    right = models.CharField(max_length=30)
    action = models.CharField(max_length=30, blank=True)
    path = models.CharField(max_length=200)
    refused = models.BooleanField()

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"{self.by}: {self.right}"
