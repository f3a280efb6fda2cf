"""What is done on Choose and Set."""

from __future__ import annotations

from typing import Any

from simple_history.utils import update_change_reason

from vantok.desk.actions import begin_work
from vantok.desk.load import Desk
from vantok.people.models import User
from vantok.records.choose.models import Fitting
from vantok.records.jobs.models import Job
from vantok_core.base.errors import InputError


def say_no_baseline(job: Job, reason: str) -> None:
    """Store why the empty vehicle cannot be read any more; empty takes it back."""
    job.no_baseline = reason.strip()[:200]
    job.save()


class OnTheJobError(InputError):
    """A kit is on the job already; it is only replaced when that is said."""

    def __init__(self, fitting: Fitting) -> None:
        super().__init__("kit", str(fitting), "it is on the job already")
        self.fitting = fitting


def choose_kit(job: Job, kit: dict[str, Any], *, instead_of: int = 0) -> Fitting:
    """Put a kit on the job, at the setting the model solved.

    Arguments: instead_of: id of the fitting it replaces, which the history keeps with its setting. Raises OnTheJobError
    where another one is on the job and was not named.
    """
    standing = Fitting.objects.filter(job=job).first()
    if standing is not None:
        if standing.pk != instead_of:
            raise OnTheJobError(standing)
        standing.delete()
    desk = Desk.open(job.pk)
    choice = desk.shortlist.choice(kit["code"]) if desk.shortlist else None
    fitting = Fitting(job=job, kit=kit)
    if choice is not None and desk.shortlist is not None:
        fitting.state_key = desk.shortlist.state.key
        fitting.setting = {name: list(pair) for name, pair in choice.setting.items()}
    fitting.save()
    update_change_reason(fitting, "chosen")
    if job.proposal:
        job.proposal = {}
        job.save()
    return fitting


def propose_kit(person: User, job: Job, kit: dict[str, Any], why: str) -> None:
    """Put a kit forward for a technician to take or leave."""
    job.proposal = {"code": kit["code"], "name": kit["name"], "by": str(person), "why": why.strip()[:200]}
    job.save()


def save_setting(job: Job, fitting: Fitting) -> None:
    """Store a kit's setting; once it is set on the vehicle, work has begun and the baseline stands.

    What was ruled out as the cause of a miss was so at the setting of then: another one begins anew.
    """
    standing = Fitting.objects.get(pk=fitting.pk)
    if standing.setting != fitting.setting:
        fitting.ruled_out = []
    fitting.save()
    if fitting.done:
        begin_work(job)
