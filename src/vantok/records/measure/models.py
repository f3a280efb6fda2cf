"""Heights as read. A reading is never changed or removed: a new one stands above it, a withdrawn one says so."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from django.utils import timezone
from simple_history.models import HistoricalRecords

from vantok.records.garage.models import Vehicle
from vantok.records.jobs.models import Job
from vantok.records.weigh.models import LoadState
from vantok_core.base import names
from vantok_core.facts.kinds import MARK

DATUMS = tuple((key, datum.words) for key, datum in names.DATUMS.items())
PLACES = tuple(names.PLACES.items())
"""In the order one walks round the vehicle."""
INSTRUMENTS = (
    ("tape", "tape"),
    ("laser", "laser measure"),
    ("level", "level and rule"),
    ("sensor", "height sensor"),
    ("gauge", "gauge block"),
    ("photo", "photograph"),
    ("", "not said"),
)


def places_of(datum: str, vehicle: Vehicle) -> list[str]:
    """Return the places a datum is read at, in walking order."""
    points = [point["key"] for point in vehicle.points]
    return {"corners": list(names.WALK), "rear": ["RL", "RR"], "hitch": ["hitch"], "points": points}[
        names.DATUMS[datum].at
    ]


def places_known(datum: str, vehicle: Vehicle) -> list[str]:
    """Return the places a datum may be stored at: those it is read at, and of an arch also a whole axle, where nobody noted the side."""
    return [*places_of(datum, vehicle), *(names.AXLES_WHOLE if datum in names.ARCHES else ())]


PHASES = ("before", "after", "off")
"""As it came, with the job's kit on, with what was on when it came taken off."""


class Reading(models.Model):
    """One reading: SI value as the tape read it, and the text and unit it was typed in.

    floor_m: how much of it is the bay's floor (taken off before anything is worked out); friction_m: half the difference of
    a pressed and a lifted reading, whose mean value_m is.
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="readings")
    state = models.ForeignKey(LoadState, on_delete=models.CASCADE, related_name="readings")
    phase = models.CharField(max_length=6, choices=[(p, p) for p in PHASES], default="before")
    datum = models.CharField(max_length=20, choices=DATUMS)
    place = models.CharField(max_length=30)
    value_m = models.FloatField(null=True)
    step_m = models.FloatField(default=0.001)
    floor_m = models.FloatField(default=0.0)
    friction_m = models.FloatField(null=True)
    instrument = models.CharField(max_length=10, choices=INSTRUMENTS, blank=True, default="")
    note = models.CharField(max_length=200, blank=True)
    text = models.CharField(max_length=40)
    unit = models.CharField(max_length=4)
    told_by = models.CharField("read by, as a file told", max_length=120, blank=True)
    reason = models.CharField("changed after work began, because", max_length=200, blank=True)
    flag = models.CharField(
        max_length=8, blank=True, choices=[("odd", "odd against the model"), ("twice", "read twice")]
    )
    setting = models.CharField("kits and settings when it was read", max_length=MARK, blank=True)
    under_front_kg = models.FloatField("load at the front when it was read", null=True)
    under_rear_kg = models.FloatField("load at the rear when it was read", null=True)
    under_basis = models.CharField(max_length=6, blank=True)
    unsettled = models.CharField(
        max_length=8,
        blank=True,
        choices=[("lifted", "lifted since it was rolled and bounced"), ("drift", "drifts one way")],
    )
    told_gain_m = models.FloatField("said to have come up by, m", null=True, blank=True)
    again = models.BooleanField("the place read again, not a figure corrected", default=False)
    repeats = models.JSONField("each of several readings of it, m", default=list, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+")
    at = models.DateTimeField(default=timezone.now)
    token = models.CharField(max_length=40, blank=True)

    class Meta:
        ordering = ["pk"]
        indexes = [models.Index(fields=["job", "state", "phase", "datum", "place"])]
        constraints = [
            models.UniqueConstraint(fields=["job", "token"], condition=~models.Q(token=""), name="reading_sent_once")
        ]

    def __str__(self) -> str:
        return f"{self.state} {self.where} {self.text}"

    @property
    def reader(self) -> str:
        """Who read it: somebody of this shop, or whom a file names."""
        return self.told_by or str(self.by or "")

    @property
    def where(self) -> str:
        """The place in words."""
        return place_words(self.place)


def place_words(place: str) -> str:
    """Return a place in words; a named point's key is its name with hyphens."""
    return dict(PLACES).get(place) or names.AXLES_WHOLE.get(place) or place.replace("-", " ")


PLATE = "plate"
"""What a photograph of the ratings plate is of, beside the areas of the inspection."""


class Photo(models.Model):
    """A photograph of a job, kept with a reading, an inspection area, or neither. Re-encoded; nothing of the original file is kept.

    One taken off the page is only marked so: it can be put back from the history.
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="photos")
    reading = models.ForeignKey(Reading, on_delete=models.CASCADE, null=True, related_name="photos")
    area = models.CharField(max_length=20, blank=True)
    step = models.CharField("step of a card", max_length=50, blank=True)
    file = models.FileField(upload_to="photos/%Y/")
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    caption = models.CharField(max_length=120, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    gone = models.BooleanField("taken off", default=False)
    history = HistoricalRecords()

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.caption or f"photograph {self.pk}"
