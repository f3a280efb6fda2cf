"""A run under way: begun as a practice job, acts done one by one, each answered by the case's vehicle and kept with its answer."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any, cast

import numpy as np
from django.db import transaction
from django.utils import timezone

from vantok.desk.incoming import import_job
from vantok.desk.load import Desk
from vantok.desk.practising import acts_of, case_of, stands
from vantok.desk.settle import settled
from vantok.people.models import User
from vantok.records.garage.models import Vehicle
from vantok.records.jobs.models import Job
from vantok.records.practice.models import Done, Finding, Run
from vantok.records.shelf.models import offered_kits
from vantok_core.base.errors import InputError
from vantok_core.facts import Kit
from vantok_core.practice.bay import answers
from vantok_core.practice.bay.case import Case
from vantok_core.practice.bay.marks import Mark, marks
from vantok_core.practice.bay.run import MINUTES, REPAIR_HOURS, ActKind, Standing, standing_after
from vantok_core.practice.bay.run import Run as CoreRun
from vantok_core.practice.bay.truth import Now

STEPS = {"metric": 0.001, "us": 0.0254 / 16}
"""What a tape tells apart, m, by its reader's units."""
LABEL = "Practice vehicle"
NUMBER = "P-"
BAY_OWNER = "Practice bay"


def begin(person: User, code: str, mode: str) -> Job:
    """Begin a run of a case: a job with what is told of it, flagged as practice. One under way of the same case is gone on with. Raises InputError."""
    case = case_of(code)
    with transaction.atomic():
        standing = Run.objects.filter(person=person, code=code, handed_in=None).select_related("job").first()
        if standing is not None:
            return standing.job
        told = case.told.model_copy(
            update={
                "number": _number(),
                "customer": BAY_OWNER,
                "vehicle": case.told.vehicle.model_copy(update={"label": LABEL}),
            }
        )
        job = import_job(person, told)
        Vehicle.objects.filter(pk=job.vehicle_id).update(practice=True)
        Job.objects.filter(pk=job.pk).update(practice=True)
        seed = int(np.random.default_rng().integers(2**31))
        Run.objects.create(job_id=job.pk, person=person, code=code, seed=seed, mode=mode)
    settled(job.pk)
    return Job.every.get(pk=job.pk)


def _number() -> str:
    last = Job.every.filter(practice=True).order_by("-pk").values_list("number", flat=True).first()
    count = int((last or "").removeprefix(NUMBER) or 0) + 1 if (last or "").removeprefix(NUMBER).isdecimal() else 1
    while Job.every.filter(number=f"{NUMBER}{count:04d}").exists():
        count += 1
    return f"{NUMBER}{count:04d}"


def core_run(run: Run, desk: Desk) -> CoreRun:
    """Return a run as the core marks it."""
    said = next((one for one in run.findings.all() if one.stage == "diagnose"), None)
    return CoreRun(case=case_of(run.code), acts=acts_of(run), job=desk.facts.job, said=said.to_core() if said else None)


def shelf() -> list[Kit]:
    """Return the kits there are to choose from."""
    return offered_kits()


def do(person: User, run: Run, kind: str, what: str) -> Done:
    """Do something, and keep it with what the vehicle answers. Raises InputError for what cannot be done now, or is nothing one does."""
    if kind not in ANSWERS:
        raise InputError("act", kind, "there is no such thing to do")
    with transaction.atomic():
        if Run.objects.select_for_update().filter(pk=run.pk, handed_in=None).first() is None:
            raise InputError("run", run.code, "it was handed in: begin it again")
        acts, desk, case = acts_of(run), Desk.look(run.job_id), case_of(run.code)
        at = standing_after(case, acts)
        doing = Doing(person=person, run=run, what=what, case=case, desk=desk, at=at, stands=stands(desk, acts))
        answer = ANSWERS[kind](doing)
        minutes = answer.pop("minutes", MINUTES[cast("ActKind", kind)])
        phase = "after" if any(a.kind == "fit" for a in acts) else "before"
        return Done.objects.create(
            run=run, kind=kind, state=at.state, what=what[:60], minutes=minutes, phase=phase, answer=answer
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class Doing:
    """What is done: about what, by whom, on which run, its case and job, how the vehicle stands."""

    person: User
    run: Run
    what: str
    case: Case
    desk: Desk
    at: Standing
    stands: Now


Answered = dict[str, Any]


def _loaded(one: Doing) -> Answered:
    if one.what not in {s.key for s in one.case.told.states}:
        raise InputError("load", one.what or "nothing", "it is not known how that would be loaded")
    return {}


def _asked(one: Doing) -> Answered:
    if one.what not in one.case.answers:
        raise InputError("question", one.what or "nothing", "choose one of those there are")
    return {"words": one.case.answers[one.what]}


def _looked(one: Doing) -> Answered:
    found = answers.looked(one.case, one.what, one.stands.cured)
    return {"grade": found.grade, "words": found.words}


def _taped(one: Doing) -> Answered:
    step = STEPS[one.person.units]
    return {"places": answers.tape(one.case, one.run.seed, one.at, one.stands, one.what, step)}


def _on_the_ball(one: Doing) -> Answered:
    found = answers.tongue_weighed(one.case, one.at)
    if found is None:
        raise InputError("tongue", "nothing", "nothing hangs on it as it stands: put the trailer on first")
    return {"tongue_kg": found}


def _logged(one: Doing) -> Answered:
    return {"rows": [[round(t, 3), round(a, 2)] for t, a in answers.logged(one.case, one.stands)]}


def _driven(one: Doing) -> Answered:
    case, stands = one.case, one.stands
    cured = bool(case.hidden.faults) and {f.area for f in case.hidden.faults} <= stands.cured
    found = answers.driven(case, stands, cured_cause=cured)
    return {
        "course": case.course,
        "grades": dict(found.grades),
        "metric": " ".join(s.in_units("metric") for s in found.words),
        "us": " ".join(s.in_units("us") for s in found.words),
    }


def _repaired(one: Doing) -> Answered:
    """Return that an area found at fault was made good. Raises InputError for one nobody found anything in."""
    run, what = one.run, one.what
    seen = run.acts.filter(kind="look", what=what).exclude(answer__grade="fine").exists()
    if not seen or what not in {f.area for f in one.case.hidden.faults}:
        raise InputError("area", what or "nothing", "nothing was found there that could be made good")
    if run.acts.filter(kind="repair", what=what).exists():
        raise InputError("area", what, "that was made good already")
    return {"words": "Made good.", "minutes": REPAIR_HOURS * 60.0}


def _fitted(one: Doing) -> Answered:
    """Return that a kit of the job went on. Raises InputError for one that is not chosen, or on already."""
    part = next((p for p in one.desk.facts.job.parts if p.kit.code == one.what), None)
    if part is None:
        raise InputError("kit", one.what or "nothing", "choose it first, and set it")
    if one.run.acts.filter(kind="fit", what=one.what).exists():
        raise InputError("kit", part.kit.name, "it is on already")
    return {"words": f"{part.kit.name} is on.", "minutes": part.kit.hours * 60.0}


ANSWERS: Mapping[str, Callable[[Doing], Answered]] = {
    "load": _loaded,
    "settle": lambda _: {},
    "turn": lambda _: {},
    "ask": _asked,
    "plate": lambda one: {"ratings": dict(one.case.hidden.ratings)},
    "look": _looked,
    "tape": _taped,
    "hang": lambda one: {"droop_m": answers.hung(one.case)},
    "weigh": lambda one: {"pads": answers.weighed(one.case, one.at, one.stands)},
    "tongue": _on_the_ball,
    "drive": _driven,
    "log": _logged,
    "repair": _repaired,
    "fit": _fitted,
}
"""What each act is answered with; an answer may tell its own minutes."""


def say(run: Run, stage: str, words: str, cause: str = "", deed: str = "") -> Finding:
    """Keep what a trainee says of a stage, once: on Diagnose it counts as an act. Raises InputError where it was said before."""
    with transaction.atomic():
        if run.findings.filter(stage=stage).exists():
            raise InputError("finding", stage, "you said yours already; it stands")
        found = Finding.objects.create(
            run=run, stage=stage, words=words.strip()[:200], cause=cause, deed=deed, seen=run.mode == "on"
        )
        if stage == "diagnose":
            at = standing_after(case_of(run.code), acts_of(run))
            Done.objects.create(run=run, kind="say", state=at.state, what=cause, minutes=MINUTES["say"])
    settled(run.job_id)
    return found


def hand_in(run: Run) -> None:
    """Hand a run in: its marks stand from now on, and the truth is opened. Handed in before, it stays as it was."""
    with transaction.atomic():
        standing = Run.objects.select_for_update().get(pk=run.pk)
        if standing.handed_in is not None:
            return
        standing.marks = [stored(one) for one in marks(core_run(standing, Desk.open(standing.job_id)), shelf())]
        standing.handed_in = timezone.now()
        standing.save()
    settled(run.job_id)


def stored(one: Mark) -> dict[str, Any]:
    """Return a mark as it is kept: its sentence in either unit system."""
    told = {name: one.why.in_units(name) for name in ("metric", "us")}
    return {"rule": one.rule, "words": one.words, "got": one.got, "of": one.of, **told}


def share_of(run: Run) -> float | None:
    """Return a run's points as a share of all, 0 to 1; None until it is handed in."""
    most = sum(one["of"] for one in run.marks)
    return sum(one["got"] for one in run.marks) / most if most else None
