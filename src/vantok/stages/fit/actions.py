"""What is done on Fit: a step left, a step taken back."""

from __future__ import annotations

from simple_history.utils import update_change_reason

from vantok.desk.actions import begin_work
from vantok.records.choose.models import Fitting
from vantok.records.jobs.models import Job
from vantok_core.base.errors import InputError
from vantok_core.facts import CardMark
from vantok_core.procedure.progress import Progress

OPENING = ("unpack", "threads", "gate-baseline-1")
"""Steps that open nothing on the vehicle yet."""


def leave_step(job: Job, place: int, found: Progress, mark: CardMark) -> None:
    """Store how a step was left; one left already stays as it was (a second tap changes nothing).

    Arguments: place: which kit, in the order they go on; found: its card as it stands under the lock. Raises InputError where the step is held.
    """
    fitting = list(Fitting.objects.filter(job=job))[place]
    step = found.card.step(mark.key)
    assert step is not None
    if mark.key in found.marks:
        return
    if mark.state != "overruled" and (held := found.held(step)):
        error = InputError("step", step.words, held)
        error.args = (f"{held} The step was not ticked.",)
        raise error
    fitting.card = [*fitting.card, mark.model_dump(mode="json", exclude_none=True)]
    fitting.save()
    update_change_reason(fitting, f"card: {step.words}"[:100])
    if mark.key not in OPENING:
        begin_work(job)


def take_back(job: Job, place: int, key: str) -> None:
    """Take the last step that was left back, so that it is open again. Raises InputError for another one: those after it rest on it."""
    fitting = list(Fitting.objects.filter(job=job))[place]
    if not fitting.card or fitting.card[-1].get("key") != key:
        raise InputError("step", key, "only the last step is taken back: those after it were done on top of it")
    fitting.card = fitting.card[:-1]
    fitting.save()
    update_change_reason(fitting, "card: a step taken back")
