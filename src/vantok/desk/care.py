"""What is kept in mind of a job that was handed over: what is due again, when, and what is due in the shop now."""

from __future__ import annotations

from datetime import date, timedelta

from django.db.models import OuterRef, Q, QuerySet, Subquery
from django.utils import timezone

from vantok.desk.actions import change
from vantok.desk.load import Desk
from vantok.people.models import User
from vantok.records.handover.models import Recall
from vantok.records.jobs.models import Job
from vantok.records.shelf.models import PatternRecord
from vantok_core.base.errors import InputError
from vantok_core.upkeep.care import care_tasks, due

AHEAD = 7
"""Days before its day from which a thing is on the board."""
LONGEST = 3660
"""Days a thing can be put off by at most."""


def plan_care(record: Job, desk: Desk) -> None:
    """Make the recalls of a job that is handed over; of an earlier hand-over what was answered stays answered, the rest is made anew."""
    today = timezone.localdate()
    by_feel = [line for card in desk.cards for line in card.again]
    tasks = care_tasks(desk.job, by_feel)
    known = {one.key: one for one in record.recalls.all()}
    record.recalls.filter(state="open").exclude(key__in=[t.key for t in tasks]).delete()
    for task in tasks:
        when = due(task, today, record.odometer_km)
        told = {"words": task.words[:160], "due": when.day, "due_km": when.km, "guessed": task.guessed}
        old = known.get(task.key)
        if old is None:
            Recall.objects.create(job=record, key=task.key, **told)
        elif old.state == "open":
            for name, value in told.items():
                setattr(old, name, value)
            old.until = None
            old.save()


def due_now(today: date | None = None) -> QuerySet[Recall]:
    """Return what is due in the shop: by its day, or by the odometer a later job of the vehicle read; put off: not before that day."""
    day = (today or timezone.localdate()) + timedelta(days=AHEAD)
    driven = (
        Job.objects.filter(vehicle=OuterRef("job__vehicle"), odometer_km__isnull=False)
        .order_by("-odometer_km")
        .values("odometer_km")[:1]
    )
    not_off = Q(until__isnull=True) | Q(until__lte=day - timedelta(days=AHEAD))
    by_either = Q(due__lte=day) | Q(due_km__lte=Subquery(driven))
    return (
        Recall.objects.filter(by_either & not_off, state="open")
        .select_related("job__vehicle__customer")
        .order_by("due", "pk")
    )


def answer_recall(
    person: User, pk: int, action: str, *, reason: str = "", until: date | None = None, outcome: str = ""
) -> Recall:
    """Answer a recall: done, declined (with a reason), put off (to a day ahead), or taken up again.

    Raises InputError for a reason or a day that is lacking or cannot be, Http404 for one that is not there.
    """
    found = Recall.objects.filter(pk=pk).first()
    if found is None:
        raise InputError("recall", pk, "it is not there any more")
    today = timezone.localdate()
    if action == "declined" and not reason.strip():
        raise InputError("reason", "nothing", "say why it is declined")
    if action == "later" and (until is None or not today < until <= today + timedelta(days=LONGEST)):
        raise InputError("until", until or "nothing", "put it off to a day ahead, within ten years")
    if action == "done" and found.key == "follow-up" and outcome not in dict(Recall.OUTCOMES):
        raise InputError("outcome", "nothing", "say what became of it")
    with change(person, found.job_id, "recall", facts=False):
        found.refresh_from_db()
        found.state = {"done": "done", "declined": "declined"}.get(action, "open")
        found.until = until if action == "later" else None
        found.reason, found.outcome = (
            reason.strip()[:200],
            outcome if action == "done" and found.key == "follow-up" else "",
        )
        found.by, found.at = person, timezone.now()
        found.save()
        if found.key == "follow-up":
            PatternRecord.objects.filter(job_id=found.job_id).update(outcome=found.outcome)
    return found
