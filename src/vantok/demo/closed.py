"""Sixty closed jobs of three years, put in as rows: so that what a shop learns has something to be learnt from. Their figures are `tools/closed_jobs.py`'s."""

from __future__ import annotations

import json
from datetime import datetime, time
from pathlib import Path
from typing import Any

from django.db import transaction
from django.utils import timezone

from vantok.people.models import User
from vantok.records.garage.models import Customer, Vehicle
from vantok.records.jobs.models import Job
from vantok.records.learnt.models import Foretold, Lesson
from vantok.records.weigh.models import LoadState
from vantok_core.upkeep.lessons import kind_said

DATA = Path(__file__).parent / "closed.json"
FIRST = ("Alder", "Bracken", "Cormorant", "Dune", "Eider", "Fenland", "Gorse", "Heron", "Inlet", "Juniper")
SECOND = ("Roofing", "Nurseries", "Boat Works", "Bakery", "Surveying", "Joiners")
"""Whose they are: invented, sixty of them."""
BEGINS = "L"
"""Before their count in a job's number: they stand outside the shop's own count."""
SAID = "Handed over. Its heights were read with the kit on."


@transaction.atomic
def closed_jobs() -> int:
    """Put them in where they are not there yet; return how many. They carry no reading: what they taught stands beside them."""
    told = json.loads(DATA.read_text(encoding="utf-8"))
    if Lesson.objects.exists():
        return 0
    lead = User.objects.order_by("pk").first()
    for n, one in enumerate(told):
        _put(one, n, lead)
    return len(told)


def _put(one: dict[str, Any], n: int, lead: User | None) -> None:
    owner = Customer.objects.create(name=f"{FIRST[n % len(FIRST)]} {SECOND[n // len(FIRST)]}")
    label = kind_said(f"{one['vehicle']['body']} {one['vehicle']['rear_spring']}").capitalize()
    vehicle = Vehicle.objects.create(customer=owner, label=label, **one["vehicle"])
    at = timezone.make_aware(datetime.combine(datetime.fromisoformat(one["closed"]).date(), time(16, 30)))
    job = Job.objects.create(
        number=f"{one['closed'][:4]}-{BEGINS}{n + 1:02d}",
        vehicle=vehicle,
        opened_by=lead,
        done=True,
        complaints=[one["complaint"]],
        words=one["words"],
        answers={one["complaint"]: "cured"},
        stage="report",
        verdict=SAID,
        verdict_us=SAID,
        tone="level",
    )
    LoadState.objects.create(job=job, key="empty", name="Empty", empty=True, order=0)
    Job.objects.filter(pk=job.pk).update(opened=at)
    Lesson.objects.bulk_create(
        Lesson(job=job, kind=kind, key=key, value=value, sigma=sigma, usual=usual, at=at)
        for kind, key, value, sigma, usual in one["lessons"]
    )
    Foretold.objects.bulk_create(
        Foretold(job=job, code=one["code"], klass=one["klass"], corner=c, predicted_m=p, read_m=r, band_m=b, at=at)
        for c, p, r, b in one["foretold"]
    )
