"""The practice bay's records: runs with what was done and said in them, the shop's own cases, tasks, drills.

What is hidden of a case stands in no record a page of a job reads: a shipped case is made of its code, the shop's own are kept here.
"""

from __future__ import annotations

from django.conf import settings
from django.db import models
from simple_history.models import HistoricalRecords

from vantok.records.jobs.models import Job
from vantok_core.practice.bay.case import Case, Deed
from vantok_core.practice.bay.run import Act, Said

MODES = (
    ("after", "after I have said mine"),
    ("on", "always"),
    ("off", "never"),
)
"""When the judgement speaks on a practice job."""


class OwnCase(models.Model):
    """A case of the shop's own: made from a job, or taken in from a file. Its truth is for leads."""

    code = models.CharField(max_length=20, unique=True)
    title = models.CharField(max_length=120)
    case = models.JSONField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["code"]

    def __str__(self) -> str:
        return f"{self.code} {self.title}"

    def to_core(self) -> Case:
        """Return the core's case."""
        return Case.model_validate(self.case)


class Task(models.Model):
    """A case set for somebody, by a day."""

    code = models.CharField(max_length=20)
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="practice_tasks")
    due = models.DateField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    history = HistoricalRecords()

    class Meta:
        ordering = ["due", "pk"]
        constraints = [models.UniqueConstraint(fields=["code", "person"], name="task_once_a_person")]

    def __str__(self) -> str:
        return f"{self.code} for {self.person}, by {self.due:%-d %b %Y}"


class Run(models.Model):
    """A run of a case: its practice job, who, when the judgement speaks, and its marks once it is handed in (each as the rule gave it)."""

    job = models.OneToOneField(Job, on_delete=models.CASCADE, related_name="run")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="runs")
    code = models.CharField(max_length=20)
    seed = models.PositiveIntegerField()
    mode = models.CharField("the judgement speaks", max_length=6, choices=MODES, default="after")
    began = models.DateTimeField(auto_now_add=True)
    handed_in = models.DateTimeField(null=True, blank=True)
    marks = models.JSONField(default=list, blank=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"{self.code} by {self.person}"


class Done(models.Model):
    """One act of a run, in the order they were done, with what the vehicle answered; never changed."""

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="acts")
    kind = models.CharField(max_length=10)
    state = models.CharField(max_length=30, blank=True)
    what = models.CharField(max_length=60, blank=True)
    minutes = models.FloatField()
    phase = models.CharField(max_length=6, default="before")
    answer = models.JSONField(default=dict, blank=True)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"{self.kind} {self.what}".strip()

    def to_core(self) -> Act:
        """Return the core's act."""
        return Act.model_validate(
            {"kind": self.kind, "state": self.state, "what": self.what, "minutes": self.minutes, "phase": self.phase}
        )


class Finding(models.Model):
    """What a trainee said of a stage, in their own words; on Diagnose with the cause and what is to be done. seen: whether the judgement had been shown."""

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="findings")
    stage = models.CharField(max_length=10)
    words = models.CharField(max_length=200, blank=True)
    cause = models.CharField(max_length=30, blank=True)
    deed = models.CharField(max_length=10, blank=True)
    seen = models.BooleanField(default=False)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["run", "stage"], name="said_once_a_stage")]

    def __str__(self) -> str:
        return f"{self.stage}: {self.cause or self.words}"

    def to_core(self) -> Said:
        """Return the core's finding, of Diagnose."""
        deed: Deed = self.deed  # type: ignore[assignment] # held to the choices by its form
        return Said(cause=self.cause, deed=deed, words=self.words, seen=self.seen)


class Drilled(models.Model):
    """A drill, puzzle or question as it was first answered: which, what was answered, and how much of it was right (0 to 1)."""

    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="drilled")
    key = models.CharField(max_length=20)
    seed = models.PositiveIntegerField()
    share = models.FloatField()
    answer = models.JSONField(default=dict, blank=True)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-pk"]
        constraints = [models.UniqueConstraint(fields=["person", "key", "seed"], name="answered_once")]

    def __str__(self) -> str:
        return f"{self.key} by {self.person}: {self.share:.1f}"


class Settled(models.Model):
    """What the shop has settled for itself of a question the trade argues about."""

    key = models.CharField(max_length=30, unique=True)
    words = models.CharField(max_length=300)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["key"]

    def __str__(self) -> str:
        return f"{self.key}: {self.words}"
