"""A job's aims: what it came for, whether that asks for heights, and which kits answer it.

Source: method section 20: no aim asks for readings that it does not need.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from vantok_core.aims.aim import AIMS, Aim
from vantok_core.aims.complaints import COMPLAINTS
from vantok_core.aims.rolling import Rolled, Rolling, lacking
from vantok_core.facts import Job, Kit
from vantok_core.facts.kinds import AimKey
from vantok_core.kits.checks import FitCheck
from vantok_core.kits.fit import all_checks
from vantok_core.kits.registry import family_of
from vantok_core.model import JobModel


def usual_aims(complaints: Iterable[str], *, tows: bool) -> tuple[Aim, ...]:
    """Return what a job with some complaints, by code, is usually for; one without a complaint is for the height. What only towing brings beside another
    aim falls away where nothing is towed."""
    told = [COMPLAINTS[code].aims for code in complaints if code in COMPLAINTS]
    brought = {key for aims in told for key in aims if tows or len(aims) == 1 or not AIMS[key].towing}
    return tuple(aim for aim in AIMS.values() if aim.key in brought) or (AIMS["height"],)


def told_aims(complaints: Iterable[str], told: Mapping[AimKey, bool], *, tows: bool) -> tuple[Aim, ...]:
    """Return what a job is for: what its complaints bring, with what the technician added (true) and without what was dropped; with all dropped, the usual."""
    usual = usual_aims(complaints, tows=tows)
    return tuple(aim for aim in AIMS.values() if told.get(aim.key, aim in usual)) or usual


def job_aims(job: Job) -> tuple[Aim, ...]:
    """Return what a job is for."""
    return told_aims((c.code for c in job.complaints), job.aims, tows=tows(job.use, hitched=hitched(job)))


def tows(use: Iterable[str], *, hitched: bool) -> bool:
    """Tell whether a vehicle tows, by how it is used or because a load state has a trailer on."""
    return hitched or "tows" in use


def hitched(job: Job) -> bool:
    """Tell whether a trailer hangs on a job's vehicle in any load state."""
    return any(state.hitched for state in job.states)


def in_words(aims: Iterable[Aim]) -> str:
    """Return what a job is for, in words."""
    return in_a_row([aim.words for aim in aims])


def in_a_row(words: Sequence[str]) -> str:
    """Return some words as one says them after one another: this, that and the other."""
    return " and ".join([", ".join(words[:-1]), words[-1]]) if len(words) > 1 else "".join(words)


def pulling_apart(job: Job) -> tuple[tuple[Aim, Aim, str], ...]:
    """Return the aims of a job that pull against each other: what a complaint asks for, what that usually costs, and how, in words."""
    aims = job_aims(job)
    found: dict[frozenset[AimKey], tuple[Aim, Aim, str]] = {}
    for complaint in job.complaints:
        one = COMPLAINTS.get(complaint.code)
        if one is None or one.against is None or AIMS[one.against] not in aims:
            continue
        for key in one.aims:
            if AIMS[key] in aims:
                found.setdefault(frozenset((key, one.against)), (AIMS[key], AIMS[one.against], one.costs))
    return tuple(found.values())


def needs_heights(job: Job) -> bool:
    """Tell whether any aim of a job, or any part on it, asks for heights: what is made to change them is proved by the tape, whatever it came for."""
    return any(aim.heights for aim in job_aims(job)) or any(family_of(part.kit).for_height for part in job.parts)


def baseline_taken(job: Job) -> bool:
    """Tell whether what a job without heights is proved against was taken: the drive before, graded, be it from memory."""
    return needs_heights(job) or driven(job, "before")


def driven(job: Job, moment: str) -> bool:
    """Tell whether a job was driven and graded in a moment: before, or after."""
    return any(d.moment == moment and d.grades for d in job.proving.drives)


@dataclass(frozen=True, slots=True, kw_only=True)
class Answering:
    """A kit that answers an aim of a job: which, its checks on this vehicle, and what it does to the roll, where that is aimed at and can be told."""

    kit: Kit
    aims: tuple[Aim, ...]
    checks: tuple[FitCheck, ...]
    rolled: Rolled | None = None

    @property
    def out(self) -> tuple[FitCheck, ...]:
        """The checks it fails."""
        return tuple(c for c in self.checks if c.status == "fail")

    @property
    def open(self) -> tuple[FitCheck, ...]:
        """The checks still to be read."""
        return tuple(c for c in self.checks if c.open)


def answering(job: Job, kits: Sequence[Kit], model: JobModel | None = None) -> tuple[Answering, ...]:
    """Return the kits that answer an aim of a job without a height: those that fit first, what is likelier to meet the roll aimed at, then those with least
    still to be looked at, cheapest first. model: the job's own, where there is one."""
    aims = [aim for aim in job_aims(job) if not aim.heights]
    ranked = needs_heights(job)  # what lifts is then judged on its heights, by the ruler
    rolling = Rolling(job, model) if not lacking(job) and any(aim.key == "roll" for aim in aims) else None
    found = []
    for kit in kits:
        own = tuple(aim for aim in aims if aim.key in family_of(kit).answers)
        if own and not (ranked and family_of(kit).lifts):
            checks = tuple(all_checks(job, kit))
            out = any(c.status == "fail" for c in checks)
            rolled = rolling.best(kit) if rolling is not None and not out else None
            found.append(Answering(kit=kit, aims=own, checks=checks, rolled=rolled))
    return tuple(sorted(found, key=_order))


def _order(one: Answering) -> tuple[bool, int, int, float]:
    told = 2 if one.rolled is None else 0 if one.rolled.meets else 1
    return bool(one.out), told, len(one.open), one.kit.price
