"""A job on the desk: its records read once, and what the core makes of them, worked out once when first asked for."""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterable
from typing import Any, TypeVar

from django.db.models import Max, Prefetch
from django.http import Http404
from django.shortcuts import get_object_or_404
from django.utils.functional import cached_property

from vantok.drawing.stance import Stance, against, fitted_stance, stance_of
from vantok.jobs.models import STAGES, Job
from vantok.jobs.to_core import Facts, Unfit
from vantok.measure.models import Reading
from vantok.shelf.models import offered_kits
from vantok.weigh.models import LoadState
from vantok_core import job as core
from vantok_core.catalogue import Kit
from vantok_core.errors import VantokError
from vantok_core.judge.checks import check_sheet, expected_before
from vantok_core.judge.diagnose import Diagnosis, diagnose
from vantok_core.judge.loads import loads_verdict
from vantok_core.judge.prove import Proof, fitted_vehicle, prove
from vantok_core.judge.verdicts import choose_verdict, sheet_verdict, start_verdict
from vantok_core.judge.views import main_datum
from vantok_core.kits.choose import Shortlist, shortlist
from vantok_core.kits.target import target_state
from vantok_core.model import JobModel, Missing, NotReadyError, build_model, has_load, missing, same_basis
from vantok_core.plan import by_load
from vantok_core.say import Finding, Say, Verdict
from vantok_core.vehicle import CORNERS

log = logging.getLogger(__name__)
Part = TypeVar("Part")
FITTED_STAGES = ("set", "prove", "report")
"""The stages that draw the vehicle with its kit."""


def load_record(pk: int) -> Job:
    """Return a job with everything that hangs on it, in a handful of queries; 404 when there is none.

    Of the readings only the last of each cell: what was read before stands in the history.
    """
    cells = Reading.objects.filter(job_id=pk).order_by().values("state", "phase", "datum", "place")
    last = cells.annotate(last=Max("pk")).values("last")
    jobs = Job.objects.select_related("vehicle__customer", "fitting", "bay").prefetch_related(
        Prefetch("states", LoadState.objects.prefetch_related("items", "trailer_items")),
        "inspections",
        Prefetch("readings", Reading.objects.filter(pk__in=last).select_related("by", "state")),
    )
    return get_object_or_404(jobs, pk=pk)


class Worked:
    """What the core makes of a job, each part worked out once when first asked for.

    A part that cannot be worked out is None, and `problems` says why: one bad figure never takes the other parts, the
    pages or the readings with it.
    """

    def __init__(self, job: core.Job) -> None:
        self.job = job
        self.problems: dict[str, str] = {}
        self.blind: dict[core.JobReading, JobModel | None] = {}
        self.near: JobModel | None = None

    def learn_from(self, other: Worked) -> None:
        """Take over what another has worked out already, as far as it rests on the same facts."""
        if other.job == self.job:
            self.__dict__.update({k: v for k, v in other.__dict__.items() if k != "job"})
        elif (model := other.__dict__.get("model")) is not None:
            self.near = model
            if same_basis(other.job, self.job):
                self.__dict__["model"] = model.for_job(self.job)

    def _try(self, part: str, call: Callable[[], Part]) -> Part | None:
        """Return a part of the results, or keep why there is none."""
        try:
            return call()
        except NotReadyError:
            return None
        except VantokError as error:
            self.problems[part] = self._told(error)
        except Exception:
            # A bulkhead: what the core did not foresee is logged with its trace, said on the page, and stops here.
            log.exception("job %s: %s", self.job.number, part)
            self.problems[part] = (
                f"The {part} cannot be worked out from the figures as entered; look for one that cannot be."
            )
        return None

    @cached_property
    def model(self) -> JobModel | None:
        """The calibrated model; None while something it needs is missing, or when `problems` says why it cannot be."""

        def solved() -> JobModel:
            found, self.near = build_model(self.job, near=self.near), None
            return found

        return self._try("model", solved)

    def _told(self, error: VantokError) -> str:
        """Return an error with the states called as the shop calls them."""
        text = str(error)
        for state in self.job.states:
            text = text.replace(f"“{state.key}”", f"“{state.name}”")
        return text

    @cached_property
    def missing(self) -> list[Missing]:
        """What is not known yet."""
        return self._try("list of what is missing", lambda: missing(self.job)) or []

    @cached_property
    def diagnosis(self) -> Diagnosis | None:
        """The diagnosis."""
        model = self.model
        return self._try("diagnosis", lambda: diagnose(model)) if model else None

    @cached_property
    def sheet(self) -> list[Finding]:
        """What is odd about the measuring sheet."""
        return self._try("sheet", lambda: check_sheet(self.job)) or []

    @cached_property
    def proof(self) -> Proof | None:
        """Predicted beside read."""
        model = self.model
        return self._try("proof", lambda: prove(model)) if model else None

    def shortlist(self, kits: tuple[Kit, ...]) -> Shortlist | None:
        """Return the choices, once there is a loaded state to judge them in."""
        model = self.model
        if model is None or not any(s.key in model.states for s in self.job.loaded):
            return None
        return self._try("choice", lambda: shortlist(model, kits))

    def fitted_heights(self, fitting: core.Fitting, state: str = "") -> tuple[str, dict[str, float]] | None:
        """Return the asked (else the judged) state and its predicted heights (m) by corner with a kit at a setting; None where that cannot be."""
        model = self.model
        if model is None:
            return None
        try:
            key = state or target_state(model)
            found = model.heights(key, main_datum(self.job), fitted_vehicle(model, fitting))
        except VantokError:
            return None  # the stage's own sentence says why this setting cannot be solved
        return key, {corner: prediction.value for corner, prediction in found.items()}

    def without(self, reading: core.JobReading) -> JobModel | None:
        """Return the model that has not seen a reading, to hold it against; None where there can be none."""
        if reading not in self.blind:
            try:
                self.blind[reading] = build_model(expected_before(self.job, reading), near=self.model)
            except VantokError:
                self.blind[reading] = None  # nothing to hold it against: the plain checks stand alone
        return self.blind[reading]


LOOKED_MOST = 64
_LOOKED: dict[int, tuple[int, Desk]] = {}
"""The desks last looked at, by job, with the stamp they had."""


class Desk:
    """A job's records and all that follows from them."""

    def __init__(self, record: Job) -> None:
        self.record = record

    @classmethod
    def open(cls, pk: int) -> Desk:
        """Return the desk of a job."""
        return cls(load_record(pk))

    @classmethod
    def before(cls, pk: int) -> Desk | None:
        """Return the desk last looked at, however old: what was known before the change just made."""
        known = _LOOKED.get(pk)
        return known[1] if known else None

    @classmethod
    def look(cls, pk: int) -> Desk:
        """Return the desk of a job to look at, not to change: the same one while nothing on it has changed (see `stamp`)."""
        stamp = Job.objects.filter(pk=pk).values_list("stamp", flat=True).first()
        if stamp is None:
            raise Http404
        known = _LOOKED.get(pk)
        if known is not None and known[0] == stamp:
            return known[1]
        desk = cls.open(pk)
        if known is not None:
            desk.worked.learn_from(known[1].worked)
        if desk.record.stamp == stamp and stamp:
            while len(_LOOKED) >= LOOKED_MOST:
                _LOOKED.pop(next(iter(_LOOKED)), None)
            _LOOKED[pk] = (stamp, desk)
        return desk

    def own(self) -> Desk:
        """Return this desk read anew, with no part of a page kept from before."""
        fresh = Desk.open(self.record.pk)
        fresh.worked.learn_from(self.worked)
        return fresh

    @cached_property
    def drawings(self) -> dict[Any, Any]:
        """Drawings made of this desk, by how they were asked for."""
        return {}

    @cached_property
    def facts(self) -> Facts:
        """The record's facts as the core takes them."""
        return Facts(self.record)

    @property
    def job(self) -> core.Job:
        """The core's job, each height with the load it was read under (see `plan.by_load`)."""
        found = self.__dict__.get("_by_load")
        if found is None:
            found = self.__dict__["_by_load"] = by_load(self.facts.job)
        return found

    @property
    def unfit(self) -> list[Unfit]:
        """What is stored and cannot be; it is left out of everything as unknown."""
        return self.facts.unfit

    def forget(self) -> None:
        """Read the records anew, after something was changed in them without being stored."""
        for name in ("facts", "_by_load", "worked", "shortlist", "chosen", "done", "drawings"):
            self.__dict__.pop(name, None)

    @cached_property
    def worked(self) -> Worked:
        """What the core makes of it."""
        return Worked(self.job)

    @property
    def missing(self) -> list[Missing]:
        """What is not known yet."""
        return self.worked.missing

    @property
    def model(self) -> JobModel | None:
        """The calibrated model, once there can be one."""
        return self.worked.model

    @property
    def problem(self) -> str:
        """Why there is no model although nothing is missing; empty when all is well."""
        return "" if self.worked.model else self.worked.problems.get("model", "")

    @property
    def diagnosis(self) -> Diagnosis | None:
        """The diagnosis."""
        return self.worked.diagnosis

    @property
    def sheet(self) -> list[Finding]:
        """What is odd about the measuring sheet."""
        return self.worked.sheet

    @cached_property
    def shortlist(self) -> Shortlist | None:
        """The choices among the kits on the shelf."""
        return self.worked.shortlist(tuple(offered_kits()))

    @cached_property
    def chosen(self) -> Shortlist | None:
        """The choices with the kit on the job alone: what the setting's sentence needs; the whole shelf where none is."""
        fitting = self.job.fitting
        return self.shortlist if fitting is None else self.worked.shortlist((fitting.kit,))

    @property
    def choose_problem(self) -> str:
        """Why there are no choices."""
        return self.worked.problems.get("choice", "")

    @property
    def proof(self) -> Proof | None:
        """Predicted beside read."""
        return self.worked.proof

    def stance(self, stage: str, fitting: core.Fitting | None = None, state: str = "", other: str = "") -> Stance:
        """Return the stance a stage draws: with the kit from Set on, read where it was read, else predicted.

        `state`: the load state to draw, `+kit` behind it for the one with the kit on; empty for the one the stage speaks
        of. `other`: the one drawn as its ghost, the empty vehicle when not said.
        """
        fitting = fitting or self.job.fitting
        key, _, kit = state.partition("+")
        with_kit = bool(kit) if state else stage in FITTED_STAGES
        drawn = self._drawn(key, fitting if with_kit else None, read=stage != "set")
        if not other:
            return drawn
        key, _, kit = other.partition("+")
        return against(drawn, self._drawn(key, fitting if kit else None, read=stage != "set"))

    def strip(self) -> list[Stance]:
        """Return every state as it stands, and as it stands with the kit where one is on the job."""
        keys = [s.key for s in self.job.states]
        plain = [self._drawn(key, None, read=True) for key in keys]
        fitting = self.job.fitting
        return plain + ([self._drawn(key, fitting, read=True) for key in keys] if fitting else [])

    def _drawn(self, key: str, fitting: core.Fitting | None, *, read: bool) -> Stance:
        plain = stance_of(self.job.vehicle, self.diagnosis, key or None)
        if fitting is None or self.job.empty is None:
            return plain
        found = self.worked.fitted_heights(fitting, key)
        if found is None:
            return plain
        key, now = found
        after = self._read(key, "after") if read else {}
        name = next(s.name for s in self.job.states if s.key == key)
        known = len(after) == len(CORNERS)
        beside = "read with the kit" if known else "predicted with the kit"
        return fitted_stance(plain, name, self._read(self.job.empty.key, "before"), after if known else now, beside)

    def _read(self, key: str, phase: str) -> dict[str, float]:
        return {c: r.value_m for c in CORNERS if (r := self.job.at(key, c, self.datum, phase))}

    @property
    def datum(self) -> str:
        """The arch datum this job is read on."""
        return main_datum(self.job)

    def verdict(self, stage: str) -> Verdict:
        """Return the sentence a stage ends in."""
        if stage == "weigh":
            return loads_verdict(self.job)
        if self.unfit:
            return Verdict(tone="limit", sentences=(Say(f"To mend: {self.unfit[0]}. It is left out as unknown."),))
        if self.problem:
            return Verdict(tone="limit", sentences=(Say(self.problem),))
        if stage in ("listen", "vehicle") or self.diagnosis is None:
            return start_verdict(self.job, self.missing)
        return self._judgement(stage, self.diagnosis)

    def _judgement(self, stage: str, diagnosis: Diagnosis) -> Verdict:
        if stage == "measure":
            return sheet_verdict(self.job, self.sheet, diagnosis)
        found = self.shortlist if stage == "choose" else self.chosen if stage == "set" else None
        if found is not None:
            return choose_verdict(self.job, found)
        if stage in ("prove", "report") and self.proof is not None:
            return self.proof.verdict
        if stage in ("prove", "report") and "proof" in self.worked.problems:
            return Verdict(tone="limit", sentences=(Say(self.worked.problems["proof"]),))
        return diagnosis.verdict

    @cached_property
    def done(self) -> dict[str, bool]:
        """Which stages have what they need."""
        job = self.job
        arch = {
            (r.state, r.phase)
            for r in job.readings
            if r.datum.endswith("arch") and job.at(r.state, r.place, r.datum, r.phase)
        }
        keys = [s.key for s in job.states if not s.past]
        loads = bool(job.loaded) and all(has_load(job, s) for s in job.loaded)
        measured = bool(job.loaded) and all((k, "before") in arch for k in keys)
        fitting = job.fitting
        return {
            "listen": bool(job.complaints or self.record.words), "vehicle": not any(m.hard for m in self.missing if m.stage == "vehicle"),
            "weigh": loads, "measure": measured, "diagnose": measured and loads and self.model is not None,
            "choose": fitting is not None, "set": fitting is not None and fitting.done,
            "prove": any(phase == "after" for _, phase in arch), "report": self.record.done,
        }  # fmt: skip

    @property
    def next_stage(self) -> str:
        """The first stage that still lacks something."""
        return next((name for name, _ in STAGES if not self.done[name]), "report")


def settle(pk: int) -> Desk:
    """Store the stage a job stands at and its sentence, for the day board; return the desk they were worked out on."""
    desk = Desk.look(pk)
    stage = desk.next_stage
    try:
        verdict = desk.verdict("prove" if desk.done["prove"] else "diagnose" if desk.done["weigh"] else stage)
    except Exception:
        log.exception("job %s: its sentence", pk)  # a bulkhead, as in Worked
        verdict = Verdict(
            tone="limit", sentences=(Say("Its sentence cannot be worked out from the figures as entered."),)
        )
    told = {
        "stage": stage,
        "verdict": verdict.in_units("metric")[:400],
        "verdict_us": verdict.in_units("us")[:400],
        "tone": verdict.tone,
        "told_stamp": desk.record.stamp,
    }
    Job.objects.filter(pk=pk).update(**told)
    return desk


def unsettled(jobs: Iterable[Job]) -> list[int]:
    """Return the jobs whose stored sentence is older than they are, or not there in every unit system."""
    return [job.pk for job in jobs if job.told_stamp != job.stamp or (job.verdict and not job.verdict_us)]
