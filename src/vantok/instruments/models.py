"""The shop's instruments and where they are listened to."""

from __future__ import annotations

from django.core.validators import RegexValidator
from django.db import models
from simple_history.models import HistoricalRecords

from vantok.instruments.link import ADDRESS

KINDS = (("PADS", "wheel pads"), ("AXLE", "axle scale"), ("TONGUE", "tongue scale"))


class Instrument(models.Model):
    """One instrument: its name, what it is, and its address."""

    name = models.CharField(max_length=60, unique=True)
    kind = models.CharField("what it is", max_length=8, choices=KINDS)
    url = models.CharField(
        "address", max_length=120, help_text="socket://host:port, a serial port like /dev/ttyUSB0 or COM3",
        validators=[RegexValidator(f"^(?:{ADDRESS.pattern})$", "That is no socket and no serial port.")],
    )  # fmt: skip
    history = HistoricalRecords()

    class Meta:
        ordering = ["kind", "name"]

    def __str__(self) -> str:
        return self.name
