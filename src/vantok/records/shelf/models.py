"""Kits on the shelf: each row carries a catalogue entry, checked by the core's own form."""

from __future__ import annotations

import json
from functools import lru_cache
from typing import Any

from django.core.exceptions import ValidationError
from django.db import models
from simple_history.models import HistoricalRecords

from vantok_core.base.errors import FileFormatError
from vantok_core.facts import Kit
from vantok_core.kits.registry import FAMILIES, read_kit


@lru_cache(maxsize=8192)
def kit_of(data: str) -> Kit:
    """Return the core's kit of a catalogue entry's text, read once for each text. Raises FileFormatError."""
    return read_kit(json.loads(data))


class KitRecord(models.Model):
    """One kit; `data` is the catalogue entry as in a catalogue file."""

    code = models.SlugField(max_length=40, unique=True)
    name = models.CharField(max_length=120)
    family = models.CharField(max_length=30)
    data = models.JSONField()
    offered = models.BooleanField(default=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["family", "name"]

    def __str__(self) -> str:
        return self.name

    def clean(self) -> None:
        """Check the entry and copy what the list shows."""
        try:
            kit = self.to_core()
        except FileFormatError as error:
            raise ValidationError({"data": str(error)}) from error
        self.code, self.name, self.family = kit.code, kit.name, kit.family

    @property
    def family_words(self) -> str:
        """What kits of its family are called."""
        return FAMILIES[self.family].many if self.family in FAMILIES else self.family

    def to_core(self) -> Kit:
        """Return the core's kit. Raises FileFormatError."""
        return kit_of(json.dumps(self.data))


class LearntRecord(models.Model):
    """What a card of a kit taught on a vehicle of a kind: a step of the shop's own, a note, a reason to leave one out, or the minutes a card took."""

    code = models.SlugField(max_length=40)
    kind = models.CharField(max_length=60)
    what = models.CharField(
        max_length=10,
        choices=[
            ("step", "step"),
            ("note", "note"),
            ("left_out", "left out"),
            ("moved", "moved"),
            ("minutes", "minutes"),
        ],
    )
    key = models.CharField(max_length=40)
    words = models.CharField(max_length=300)
    after = models.CharField(max_length=40, blank=True)
    by = models.CharField(max_length=120)
    at = models.DateTimeField(auto_now_add=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"{self.code}: {self.words}"


class PatternRecord(models.Model):
    """What a job that was handed over taught of its kit on a kind of vehicle: gain, setting, hours, what missed; and what the customer said later."""

    job = models.OneToOneField("jobs.Job", on_delete=models.SET_NULL, null=True, related_name="pattern")
    code = models.SlugField(max_length=40)
    kind = models.CharField(max_length=60)
    told = models.JSONField()
    outcome = models.CharField(max_length=8, blank=True)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["pk"]
        indexes = [models.Index(fields=["code", "kind"])]

    def __str__(self) -> str:
        return f"{self.code} on {self.kind}"


def keep_learnt(job: Any, **told: str) -> None:
    """Keep what a card taught on a job for the next vehicle of its kind; the practice bay teaches the shop nothing."""
    if not job.practice:
        LearntRecord.objects.create(**told)


def learnt_of(code: str, kind: str) -> list[dict[str, str]]:
    """Return what was learnt of a kit on vehicles of a kind, as a card takes it."""
    rows = LearntRecord.objects.filter(code=code, kind=kind).exclude(what="minutes")
    return [
        {"what": r.what, "key": r.key, "words": r.words, "after": r.after, "by": r.by, "at": r.at.date().isoformat()}
        for r in rows
    ]


def minutes_of(code: str) -> list[float]:
    """Return how long the cards of a kit took in this shop, minutes each."""
    return [
        float(words) for words in LearntRecord.objects.filter(code=code, what="minutes").values_list("words", flat=True)
    ]


def offered_kits() -> list[Kit]:
    """Return every kit that is offered."""
    return [record.to_core() for record in KitRecord.objects.filter(offered=True)]


def hardware_asked() -> list[str]:
    """Return what the kits offered ask a vehicle to have, a line each."""
    asked = KitRecord.objects.filter(offered=True, data__has_key="hardware").exclude(data__hardware=[])
    return [line for lines in asked.values_list("data__hardware", flat=True) for line in lines]
