"""Changing a job: right, transaction, facts that can be, and the board's sentence afterwards, in one place.

Whatever is changed on a job is changed inside `change`. What the core refuses never gets in. What is stored never depends on
whether a model of it can be solved: the sentence is worked out after the change is safe.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from django.db import transaction
from django.http import Http404
from django.utils import timezone

from vantok.desk.load import Desk
from vantok.desk.owed import OWED
from vantok.desk.translate import Unfit
from vantok.people.models import User
from vantok.people.rights import RIGHTS, RefusedError, demand
from vantok.records.jobs.models import Job
from vantok_core.base.errors import InputError
from vantok_core.loads.plan import state_margins


class UnfitError(InputError):
    """A change that would store what cannot be; nothing of it is stored."""

    def __init__(self, what: str, why: str) -> None:
        super().__init__(what, "this", why)
        self.args = (f"{what[:1].upper()}{what[1:]}: {why}. Nothing was changed.",)


@contextmanager
def change(person: User, pk: int, right: str, *, facts: bool = True) -> Iterator[Job]:
    """Change a job inside the block; gives its record, read anew under the lock.

    Arguments: person: who; right: of `people.rights`; facts: whether facts are changed that the core must accept (a reading is
    held against its own bounds when it is made). Raises RefusedError, Http404, UnfitError.
    """
    demand(person, right)
    before = set(Desk.look(pk).unfit) if facts else set()
    with transaction.atomic():
        job = Job.every.select_related("vehicle__customer", "bay").filter(pk=pk).first()
        if job is None:
            raise Http404
        if job.practice:
            _practised(person, job, right)
        if job.done and not RIGHTS[right].closed:
            raise RefusedError(
                "This job was handed over. The lead can take it back into the shop; until then nothing on it changes."
            )
        yield job
        if facts:
            _hold(pk, before)
    OWED.put(pk)


def _practised(person: User, job: Job, right: str) -> None:
    """Raise RefusedError for what nobody does to a practice job, or somebody else than its own trainee."""
    if not RIGHTS[right].practised:
        raise RefusedError(f"{RIGHTS[right].words.capitalize()} is not for a practice job: it is handed in at the bay.")
    if job.opened_by_id != person.pk:
        raise RefusedError("This is somebody else’s practice: you can look. Nothing was changed.")


def _hold(pk: int, before: set[Unfit]) -> None:
    """Raise UnfitError when the job now holds something that cannot be, and did not before."""
    desk = Desk.look(pk)
    for one in desk.unfit:
        if one not in before:
            raise UnfitError(one.what, one.why)
    for state in desk.job.states:
        state_margins(desk.job, state)


def begin_work(job: Job) -> None:
    """Note that work on the vehicle has begun: from now on its baseline stands."""
    if job.began is None:
        job.began = timezone.now()
        Job.every.filter(pk=job.pk).update(began=job.began)
