"""The shop's instruments: where they are listened to, and until when they are calibrated."""

from __future__ import annotations

import re

from django.core.validators import RegexValidator
from django.db import models
from django.utils import timezone
from django.utils.formats import date_format
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
    ("WRENCH", "torque wrench"),
)
BY_EYE = "WRENCH"
"""What nobody listens to: it is read by eye, and has no address."""


class Instrument(models.Model):
    """One instrument: its name, what it is, its address, and until when it is calibrated."""

    name = models.CharField(max_length=60, unique=True)
    kind = models.CharField("what it is", max_length=8, choices=KINDS)
    url = models.CharField(
        "address",
        max_length=120,
        blank=True,
        help_text="socket://host:port, a serial port like /dev/ttyUSB0 or COM3; a torque wrench has none",
        validators=[RegexValidator(f"^(?:{ADDRESS.pattern})$", "That is no socket and no serial port.")],
    )
    calibrated_to = models.DateField("calibrated until", null=True, blank=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["kind", "name"]

    def __str__(self) -> str:
        return self.name

    @property
    def run_out(self) -> str:
        """That its calibration has run out, in words; empty where it has not, or nobody wrote down until when it is good."""
        if self.calibrated_to is None or self.calibrated_to >= timezone.localdate():
            return ""
        day = date_format(self.calibrated_to, "j F Y")
        return (
            f"{self.name}: its calibration ran out on {day}. What it reads is not proved until it is calibrated again."
        )


def run_out(kind: str = "") -> list[str]:
    """Return what is said of every instrument whose calibration has run out, of a kind or of all."""
    found = Instrument.objects.filter(calibrated_to__lt=timezone.localdate())
    return [one.run_out for one in (found.filter(kind=kind) if kind else found)]
