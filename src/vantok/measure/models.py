"""Heights as read. A reading is never changed or removed: a new one stands above it, a withdrawn one says so."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from vantok.jobs.models import Job
from vantok.weigh.models import LoadState

DATUMS = (
    ("ground_arch", "ground to arch"), ("hub_arch", "hub to arch"), ("ground_hitch", "ground to hitch"),
    ("stop_gap", "stop gap"), ("pad_to_pad", "pad to pad"),
)  # fmt: skip
PLACES = (("FL", "front left"), ("RL", "rear left"), ("RR", "rear right"), ("FR", "front right"), ("hitch", "hitch"))
"""In the order one walks round the vehicle."""


class Reading(models.Model):
    """One reading: SI value, and the text and unit it was typed in."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="readings")
    state = models.ForeignKey(LoadState, on_delete=models.CASCADE, related_name="readings")
    phase = models.CharField(max_length=6, choices=[("before", "before"), ("after", "after")], default="before")
    datum = models.CharField(max_length=20, choices=DATUMS)
    place = models.CharField(max_length=5, choices=PLACES)
    value_m = models.FloatField(null=True)
    step_m = models.FloatField(default=0.001)
    text = models.CharField(max_length=40)
    unit = models.CharField(max_length=4)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    token = models.CharField(max_length=40, blank=True)

    class Meta:
        ordering = ["pk"]
        indexes = [models.Index(fields=["job", "state", "phase", "datum", "place"])]
        constraints = [
            models.UniqueConstraint(fields=["job", "token"], condition=~models.Q(token=""), name="reading_sent_once")
        ]

    def __str__(self) -> str:
        return f"{self.state} {self.get_place_display()} {self.text}"
