"""The stage a job stands at and its sentence, stored for the day board."""

from __future__ import annotations

from collections.abc import Iterable

from django.db import transaction

from vantok.desk.load import Desk
from vantok.desk.worked import log
from vantok.records.jobs.models import Job
from vantok_core.base.say import Say, Verdict
from vantok_core.base.units import System
from vantok_core.base.work import TooMuchWorkError
from vantok_core.judge.hand_over.waiting import waits_for


def settle(pk: int) -> Desk:
    """Store the stage a job stands at and its sentence, for the day board; return the desk they were worked out on."""
    desk = Desk.look(pk)
    stage = desk.next_stage
    try:
        begun = stage == "fit" and any(card.marks for card in desk.cards)
        verdict = desk.verdict(
            "fit" if begun else "prove" if desk.done["prove"] else "diagnose" if desk.done["weigh"] else stage
        )
    except TooMuchWorkError:
        raise
    except Exception:
        log.exception("job %s: its sentence", pk)  # a bulkhead, as in Worked
        verdict = Verdict(
            tone="limit", sentences=(Say("Its sentence cannot be worked out from the figures as entered."),)
        )
    told = {
        "stage": stage,
        "verdict": _short(verdict, "metric"),
        "verdict_us": _short(verdict, "us"),
        "tone": verdict.tone,
        "waits": waits_for(desk.job, desk.cards),
        "told_stamp": desk.record.stamp,
    }
    with transaction.atomic():
        Job.every.filter(pk=pk).update(**told)
    return desk


MOST_TOLD = 400
"""Letters of a sentence that the day board shows."""


def _short(verdict: Verdict, system: System) -> str:
    """Return as many whole sentences of a verdict as the day board shows: the first ones, and the last, in which what is to be done stands."""
    told = [sentence.in_units(system) for sentence in verdict.sentences]
    while len(told) > 1 and len(" ".join(told)) > MOST_TOLD:
        told.pop(-2)
    return " ".join(told)[:MOST_TOLD]


def unsettled(jobs: Iterable[Job]) -> list[int]:
    """Return the jobs whose stored sentence is older than they are, or not there in every unit system."""
    return [job.pk for job in jobs if job.told_stamp != job.stamp or (job.verdict and not job.verdict_us)]
