"""Jobs: one visit of one vehicle, from the complaint to the report."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.db import models
from django.urls import reverse
from simple_history.models import HistoricalRecords

from vantok.records.columns import figure
from vantok.records.garage.models import Vehicle
from vantok_core import facts
from vantok_core.facts.declared import declared
from vantok_core.judge.listen.inspect import GRADES
from vantok_core.kits.target import SCHOOLS

SAID = {name: one.words for name, one in declared(facts.Job).items()}
"""What each fact of a job is called, as it is declared."""

STAGES = (
    ("listen", "Listen"),
    ("vehicle", "Vehicle"),
    ("weigh", "Weigh"),
    ("measure", "Measure"),
    ("diagnose", "Diagnose"),
    ("choose", "Choose"),
    ("fit", "Fit"),
    ("set", "Set"),
    ("prove", "Prove"),
    ("report", "Report"),
)
"""The stages of a job in the order of the work: URL name and label."""

USES = (
    ("always_loaded", "Always loaded"),
    ("sometimes_loaded", "Sometimes loaded"),
    ("tows", "Tows"),
    ("off_road", "Off road"),
    ("tall", "Tall or top-heavy"),
    ("long_trips", "Long trips"),
)


class Bay(models.Model):
    """A bay and how its floor lies: by how much a tape reads too high at each wheel's spot (m), nose to the wall.

    Measured by reading one vehicle facing in and again facing out; what differs is the floor.
    """

    name = models.CharField(max_length=40, unique=True)
    fl_m = models.FloatField("front left spot", default=0.0)
    fr_m = models.FloatField("front right spot", default=0.0)
    rl_m = models.FloatField("rear left spot", default=0.0)
    rr_m = models.FloatField("rear right spot", default=0.0)
    measured_at = models.DateTimeField(null=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+")
    history = HistoricalRecords()

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name

    @property
    def floor(self) -> dict[str, float]:
        """What the floor adds at each corner, m."""
        return {"FL": self.fl_m, "FR": self.fr_m, "RL": self.rl_m, "RR": self.rr_m}


class Inspection(models.Model):
    """One area of a job's inspection."""

    job = models.ForeignKey("Job", on_delete=models.CASCADE, related_name="inspections")
    area = models.CharField(max_length=20)
    grade = models.CharField(max_length=6, choices=[(g, g) for g in GRADES])
    note = models.CharField(max_length=200, blank=True)
    overruled = models.CharField("overruled, because", max_length=200, blank=True)
    where = models.JSONField("where", default=list, blank=True)
    after = models.CharField("after the work", max_length=6, blank=True, choices=[(g, g) for g in GRADES])
    after_note = models.CharField("note after the work", max_length=200, blank=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["job", "area"], name="area_once_per_job")]

    def __str__(self) -> str:
        return f"{self.area}: {self.grade}"


class OfTheShop(models.Manager["Job"]):
    """The shop's jobs: those of the practice bay are in no list, no count and no rate of the shop's, of whatever page."""

    def get_queryset(self) -> models.QuerySet[Job]:
        """Leave them out."""
        return super().get_queryset().filter(practice=False)

    def of_the_board(self, done: bool) -> models.QuerySet[Job]:
        """Return those in the shop or those handed over, as the board's index has them (it answers IN, not NOT)."""
        return super().get_queryset().filter(practice__in=(False,), done__in=(done,))


class Job(models.Model):
    """A job and its own words; what was weighed, measured and chosen hangs on it."""

    number = models.CharField(max_length=20, unique=True)
    vehicle = models.ForeignKey(Vehicle, on_delete=models.PROTECT, related_name="jobs")
    opened = models.DateTimeField(auto_now_add=True)
    opened_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+")
    done = models.BooleanField(default=False)
    promised = models.DateField("promised for", null=True, blank=True)
    who = models.ForeignKey(
        settings.AUTH_USER_MODEL,
        on_delete=models.SET_NULL,
        null=True,
        blank=True,
        related_name="+",
        verbose_name="who does it",
    )
    complaints = models.JSONField(default=list, blank=True)
    heard = models.JSONField("when each complaint is felt", default=dict, blank=True)
    words = models.TextField(SAID["words"], blank=True)
    use = models.JSONField(default=list, blank=True)
    assessment = models.BooleanField(SAID["assessment"], default=False)
    odometer_km = figure(facts.Job, "odometer_km")
    wishes = models.JSONField(default=list, blank=True)
    aims = models.JSONField(SAID["aims"], default=dict, blank=True)
    later = models.CharField(SAID["later"], max_length=200, blank=True)
    notes = models.TextField(SAID["notes"], blank=True)
    bay = models.ForeignKey(Bay, on_delete=models.SET_NULL, null=True, blank=True, related_name="+")
    facing_out = models.BooleanField("stands facing out of the bay", default=False)
    space_left_m = figure(facts.Job, "space_left_m")
    space_right_m = figure(facts.Job, "space_right_m")
    lines = models.CharField(
        SAID["lines"], max_length=5, blank=True, choices=[("clear", "stand clear"), ("close", "in the way")]
    )
    lifted = models.BooleanField("lifted since it was rolled and bounced", default=False)
    prepared = models.JSONField("done before the first reading", default=list, blank=True)
    never_empty = models.BooleanField(SAID["never_empty"], default=False)
    empty_load = models.JSONField(SAID["empty_load"], default=dict, blank=True)
    planned = models.JSONField(SAID["planned"], default=list, blank=True)
    weights = models.JSONField(SAID["weights"], default=dict, blank=True)
    to_follow = models.JSONField(SAID["to_follow"], default=list, blank=True)
    quote = models.JSONField(SAID["quote"], default=dict, blank=True)
    proving = models.JSONField(SAID["proving"], default=dict, blank=True)
    sheets = models.JSONField("tread, alignment, sources and what was meant", default=dict, blank=True)
    came_back = models.ForeignKey(
        "self",
        on_delete=models.SET_NULL,
        null=True,
        blank=True,
        related_name="come_backs",
        verbose_name="comes back from",
    )
    warranty = models.BooleanField("under warranty", default=False)
    already = models.JSONField(SAID["already"], default=dict, blank=True)
    no_baseline = models.CharField(SAID["no_baseline"], max_length=200, blank=True)
    school = models.CharField("target", max_length=20, choices=list(SCHOOLS.items()), default="share_of_sag")
    share = models.FloatField("share of the sag taken out", default=0.7)
    rake_m = models.FloatField("rake wanted", default=0.0, blank=True)
    length_m = models.FloatField("how much", null=True, blank=True)
    roll_wanted = figure(facts.Job, "roll_wanted", default=0.8)
    length_right_m = models.FloatField("right side, if other", null=True, blank=True)
    front_raise_m = models.FloatField("front raised by", null=True, blank=True)
    contact = models.CharField(
        "inserts",
        max_length=8,
        blank=True,
        choices=[("", "as the height asks"), ("gap", "with a gap unladen"), ("contact", "in contact")],
    )
    target_source = models.CharField("who states it", max_length=200, blank=True)
    target_reason = models.CharField("reason", max_length=200, blank=True)
    target_state = models.CharField("state the target is meant in", max_length=30, blank=True)
    beam_m = models.FloatField("headlamp beam wanted", default=0.0, blank=True)
    proposal = models.JSONField("kit proposed", default=dict, blank=True)
    began = models.DateTimeField("work on the vehicle began", null=True, blank=True)
    answers = models.JSONField("what became of the complaints", default=dict, blank=True)
    anyway = models.CharField("handed over with open points, because", max_length=300, blank=True)
    stage = models.CharField(max_length=10, default="listen")
    verdict = models.CharField(max_length=400, blank=True)
    verdict_us = models.CharField(max_length=400, blank=True)
    waits = models.CharField("waits for", max_length=120, blank=True, editable=False)
    tone = models.CharField(max_length=10, default="plain")
    stands = models.JSONField("how far it is down, front and rear (m)", null=True, editable=False)
    stamp = models.BigIntegerField(default=0, editable=False)
    told_stamp = models.BigIntegerField(default=0, editable=False)
    practice = models.BooleanField("of the practice bay", default=False, editable=False)
    objects = OfTheShop()
    every: models.Manager[Job] = models.Manager()
    history = HistoricalRecords(
        excluded_fields=["stage", "verdict", "verdict_us", "waits", "tone", "stands", "stamp", "told_stamp"]
    )

    class Meta:
        ordering = ["done", "-opened"]
        indexes = [
            models.Index(fields=["done", "-opened"]),
            models.Index(fields=["practice", "done", "tone", "-opened", "vehicle"]),  # the board's order
            models.Index(fields=["practice", "-opened", "vehicle"]),
            models.Index(fields=["vehicle", "-opened"]),
        ]

    def __str__(self) -> str:
        return f"{self.number} {self.vehicle}"

    def get_absolute_url(self) -> str:
        """Return the stage the job stands at."""
        return reverse(self.stage, args=[self.pk])

    @property
    def fitting(self) -> Any:
        """The kit in hand, the last that went on; None without any."""
        return next(iter(list(self.fittings.all())[-1:]), None)


class ShopStamp(models.Model):
    """One row: a number that changes with all that every job of the shop rests on, its settings and what it has learnt (`stamp`)."""

    stamp = models.BigIntegerField()

    def __str__(self) -> str:
        return str(self.stamp)


class Booking(models.Model):
    """Where a job stands planned: its bay, the day, from which hour, for how many hours, and who is on it."""

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="bookings")
    bay = models.ForeignKey(Bay, on_delete=models.CASCADE, related_name="bookings")
    day = models.DateField()
    start = models.FloatField("from, hour of the day")
    hours = models.FloatField("hours planned")
    who = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, blank=True, related_name="+"
    )
    history = HistoricalRecords()

    class Meta:
        ordering = ["day", "start", "pk"]
        indexes = [models.Index(fields=["day", "bay"])]

    def __str__(self) -> str:
        return f"{self.job.number} in {self.bay}, {self.day}"
