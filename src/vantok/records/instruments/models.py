"""The shop's instruments and where they are listened to."""

from __future__ import annotations

import re

from django.core.validators import RegexValidator
from django.db import models
from simple_history.models import HistoricalRecords

ADDRESS = re.compile(r"(socket|rfc2217)://[A-Za-z0-9_.\-]+:\d{1,5}|/dev/[A-Za-z0-9_./\-]+|COM\d{1,3}")
"""What may be listened to: a socket, a serial port over the network, or a port of this machine."""
KINDS = (
    ("PADS", "wheel pads"),
    ("AXLE", "axle scale"),
    ("TONGUE", "tongue scale"),
    ("GAUGE", "pressure gauges"),
    ("HEIGHT", "height sensor"),
    ("RIDE", "ride logger"),
)


class Instrument(models.Model):
    """One instrument: its name, what it is, and its address."""

    name = models.CharField(max_length=60, unique=True)
    kind = models.CharField("what it is", max_length=8, choices=KINDS)
    url = models.CharField(
        "address",
        max_length=120,
        help_text="socket://host:port, a serial port like /dev/ttyUSB0 or COM3",
        validators=[RegexValidator(f"^(?:{ADDRESS.pattern})$", "That is no socket and no serial port.")],
    )
    history = HistoricalRecords()

    class Meta:
        ordering = ["kind", "name"]

    def __str__(self) -> str:
        return self.name
