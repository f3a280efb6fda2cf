"""Opening a job: its number, its vehicle, keys for its states."""

from __future__ import annotations

import re
from typing import Any

from django.db import transaction
from django.db.models.functions import Length
from django.utils import timezone

from vantok.desk.settle import settled
from vantok.people.models import User
from vantok.records.garage.models import FACTS, Customer, Vehicle
from vantok.records.jobs.models import Job
from vantok.records.weigh.models import LoadState
from vantok_core.facts.starting import STARTING
from vantok_core.kits.target import ASK, OF_EMPTY


def next_number() -> str:
    """Return the next job number: year, then a count."""
    year = timezone.now().year
    counted = Job.objects.filter(number__startswith=f"{year}-", number__regex=r"^\d+-\d+$")
    last = counted.order_by(Length("number").desc(), "-number").values_list("number", flat=True).first()
    count = int(last.partition("-")[2]) + 1 if last else 1
    while Job.every.filter(number=f"{year}-{count:03d}").exists():
        count += 1
    return f"{year}-{count:03d}"


AS_IT_STANDS, EMPTY, LOADED = "As it stands", "Empty", "Loaded"
"""What the states of a new job are called."""


def start_job(user: User, *, vehicle: Vehicle, never_empty: bool = False) -> Job:
    """Open a job on a vehicle, with an empty and one loaded state ready to fill; with one as it stands when it is never empty."""
    with transaction.atomic():
        job = Job.objects.create(number=next_number(), vehicle=vehicle, opened_by=user)
        LoadState.objects.create(job=job, key="empty", name=EMPTY, empty=True, order=0)
        LoadState.objects.create(job=job, key="loaded", name=LOADED, order=1)
        if never_empty:
            judge_as_it_stands(job, never_empty=True)
    settled(job.pk)
    return job


def judge_as_it_stands(job: Job, *, never_empty: bool) -> None:
    """Say whether a vehicle is ever empty again; its reference is then the empty vehicle, or the vehicle as it stands.

    What was read and weighed stays. A loaded state with nothing in it goes, and comes back; a target that takes an empty height
    gives way to a wish still to be said.
    """
    if job.never_empty == never_empty:
        return
    job.never_empty = never_empty
    if never_empty and job.school in OF_EMPTY and not job.empty_load:
        job.school = ASK
    job.save()
    old, new = (EMPTY, AS_IT_STANDS) if never_empty else (AS_IT_STANDS, EMPTY)
    for state in LoadState.objects.filter(job=job, empty=True, name=old):
        state.name = new
        state.save()
    others = LoadState.objects.filter(job=job, empty=False)
    if never_empty:
        bare = others.filter(name=LOADED, items=None, trailer_items=None, readings=None, tongue_kg=0.0, trailer_kg=0.0)
        bare.filter(front_kg=None, rear_kg=None, fl_kg=None, more=False).delete()
    elif not others.exists():
        LoadState.objects.create(job=job, key=free_key(job, LOADED), name=LOADED, order=1)


OWN = ("year", "variant", "plate", "vin", "front_droop_m", "rear_droop_m")
"""What no vehicle takes over from another one."""


def starting_facts(begun_from: str, like: Vehicle | None = None) -> dict[str, Any]:
    """Return the facts of a starting vehicle, or of one of the garage's; nothing for neither."""
    if like is None:
        return dict(STARTING[begun_from].facts) if begun_from in STARTING else {}
    told = {name: getattr(like, name) for name in FACTS if name not in OWN}
    return {name: value for name, value in told.items() if value not in (None, "")}


@transaction.atomic
def new_vehicle(
    *, customer: str, label: str, body: str, begun_from: str = "", like: Vehicle | None = None, phone: str = ""
) -> Vehicle:
    """Return a new vehicle for a known or new customer; what it begins with from another one is marked as a default."""
    name, given = customer.strip(), starting_facts(begun_from, like)
    owner = Customer.objects.filter(name=name).first() or Customer.objects.create(name=name)
    if phone.strip() and not owner.phone:
        owner.phone = phone.strip()
        owner.save()
    defaults = sorted(given.keys() - {"body"})
    return Vehicle.objects.create(customer=owner, label=label.strip(), defaults=defaults, **({"body": body} | given))


def free_key(job: Job, name: str) -> str:
    """Return a state key for a name that the job does not use yet."""
    base = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:24] or "state"
    taken = set(job.states.values_list("key", flat=True))
    return next(k for k in (base, *(f"{base}-{n}" for n in range(2, 99))) if k not in taken)
