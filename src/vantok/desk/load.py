"""The desk of a job: its records read in few queries, and all that follows from them, kept while nothing on it changes."""

from __future__ import annotations

from collections.abc import Callable
from threading import RLock
from typing import Any, TypeVar

from django.db.models import Max, Prefetch, Subquery
from django.db.models.functions import JSONObject
from django.http import Http404
from django.shortcuts import get_object_or_404
from django.utils.functional import cached_property

from vantok.desk.lessons import seen_here, with_learnt
from vantok.desk.sentences import stage_verdict
from vantok.desk.stages_done import not_asked, stages_done
from vantok.desk.translate import Facts, Unfit
from vantok.desk.worked import Worked, once
from vantok.drawing.stance import Stance, against, fitted_stance, stance_of
from vantok.people.models import NOSES, Shop
from vantok.records.jobs.models import STAGES, Job, ShopStamp
from vantok.records.measure.models import Reading
from vantok.records.shelf.models import offered_kits
from vantok.records.weigh.models import LoadState
from vantok_core import facts as core
from vantok_core.aims.of_job import Answering, answering
from vantok_core.base.kept import LastByKey
from vantok_core.base.say import Finding, Say, Verdict
from vantok_core.facts import Kit
from vantok_core.judge.choose.answered import rolled_said
from vantok_core.judge.choose.deciding import Deciding
from vantok_core.judge.diagnose.diagnosis import Diagnosis
from vantok_core.judge.grounds.shown import main_datum
from vantok_core.judge.prove.proof import Proof
from vantok_core.kits.chances import Chances
from vantok_core.kits.choice import Choice, Shortlist
from vantok_core.loads.plan import by_load
from vantok_core.model import JobModel, Missing
from vantok_core.physics.vehicle import CORNERS
from vantok_core.procedure.progress import Progress

JUDGED = ("weigh", "measure", "diagnose", "choose", "set", "prove", "report")
SPOKEN_OF = {"set": "choose", "report": "diagnose"}
"""Stages whose sentence judges what was found, and with which other one a trainee has said theirs of it."""
SILENCE = {
    "after": Verdict(
        tone="plain", sentences=(Say("Say first what you make of it: then it is told here, beside yours."),)
    ),
    "off": Verdict(
        tone="plain", sentences=(Say("No judgement is told on this case: what it comes to is yours to say."),)
    ),
}
FITTED_STAGES = ("set", "prove", "report")
"""The stages that draw the vehicle with its kit."""


def load_record(pk: int) -> Job:
    """Return a job with everything that hangs on it, in a handful of queries; 404 when there is none.

    Of the readings only the last of each cell at each setting of the kits: what was read before stands in the history.
    """
    cells = Reading.objects.filter(job_id=pk).order_by().values("state", "phase", "datum", "place", "setting")
    last = cells.annotate(last=Max("pk")).values("last")
    of_shop = Shop.objects.values(told=JSONObject(**{name: name for name in ("hour", *NOSES)}))[:1]
    jobs = (
        Job.every.annotate(shop_told=Subquery(of_shop))
        .select_related("vehicle__customer", "bay", "run")
        .prefetch_related(
            "run__findings",
            Prefetch("states", LoadState.objects.prefetch_related("items", "trailer_items")),
            "inspections",
            "fittings",
            Prefetch("readings", Reading.objects.filter(pk__in=last).select_related("by", "state")),
        )
    )
    return get_object_or_404(jobs, pk=pk)


Stamps = tuple[int, int | None]
_LOOKED: LastByKey[int, tuple[Stamps, Desk]] = LastByKey(64)
"""The desks last looked at, by job, with the stamps that job and shop had."""
PARTS = 300
"""Drawings and other parts of pages that a desk keeps: more than its pages have; an address may ask for any number of them."""
Made = TypeVar("Made")
_LOOKING = tuple(RLock() for _ in range(64))
"""Whoever opens a job's desk holds one of these: who asks beside them gets the same desk, and what is worked out on it."""


class Desk:
    """A job's records and all that follows from them."""

    def __init__(self, record: Job) -> None:
        self.record, self.working = record, RLock()

    @classmethod
    def open(cls, pk: int) -> Desk:
        """Return the desk of a job."""
        return cls(load_record(pk))

    @classmethod
    def look(cls, pk: int) -> Desk:
        """Return the desk of a job to look at, not to change: the same one while nothing on it has changed (see `stamp`)."""
        of_shop = Subquery(ShopStamp.objects.values("stamp")[:1])
        stamps: Stamps | None = Job.every.filter(pk=pk).values_list("stamp", of_shop).first()
        if stamps is None:
            raise Http404
        with _LOOKING[pk % len(_LOOKING)]:
            known = _LOOKED.get(pk)
            if known is not None and known[0] == stamps:
                return known[1]
            desk = cls.open(pk)
            if known is not None and known[0][1] == stamps[1]:
                desk.worked.learn_from(known[1].worked)
            if desk.record.stamp == stamps[0] and stamps[0]:
                _LOOKED.put(pk, (stamps, desk))
            return desk

    @staticmethod
    def forget_all() -> None:
        """Read every job anew when it is next looked at (for tests: what their database is put back to has its old stamps)."""
        _LOOKED.clear()

    def own(self) -> Desk:
        """Return this desk read anew, with no part of a page kept from before."""
        fresh = Desk.open(self.record.pk)
        fresh.worked.learn_from(self.worked)
        return fresh

    def alone(self, kit: Kit) -> Choice | None:
        """Return a kit as a choice, worked out without the rest of the shelf."""
        found = self.worked.shortlist((kit,))
        return found.choice(kit.code) if found else None

    @cached_property
    def _parts(self) -> LastByKey[object, tuple[Any]]:
        return LastByKey(PARTS)

    def kept(self, asked: object, make: Callable[[], Made]) -> Made:
        """Return a drawing or another part of a page as it was made of this desk for what was asked; of late, else it is made anew."""
        known = self._parts.get(asked)
        made: Made = known[0] if known else self._parts.put(asked, (make(),))[0]
        return made

    @cached_property
    def facts(self) -> Facts:
        """The record's facts as the core takes them, on what the shop has learnt of the vehicle's class."""
        found = Facts(self.record)
        found.job = with_learnt(self.record, found.job)
        return found

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
        mine = {"record": self.record, "working": self.working}
        self.__dict__.clear()
        self.__dict__.update(mine)

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
    def kits(self) -> tuple[Kit, ...]:
        """The kits on the shelf, as strong as they were seen to be on vehicles of the kind."""
        return tuple(seen_here(self.record.vehicle, offered_kits()))

    @once
    def answering(self) -> tuple[Answering, ...]:
        """The kits on the shelf that answer what asks for no height."""
        return answering(self.job, self.kits, self.worked.model)

    @once
    def rolled(self) -> tuple[Say, ...]:
        """How much the kit, as it is set, takes off the roll it came for."""
        return rolled_said(self.job, self.worked.model)

    @once
    def shortlist(self) -> Shortlist | None:
        """The choices among the kits on the shelf."""
        return self.worked.shortlist(self.kits)

    def choice(self, code: str) -> Choice | None:
        """Return one choice; a kit of a large shelf that was left for now is worked out by itself."""
        found = self.shortlist
        if found is None:
            return None
        left = next((kit for kit in found.further if kit.code == code), None)
        return self.alone(left) if left else found.choice(code)

    @once
    def chances(self) -> Chances | None:
        """How likely each of them brings the height wanted."""
        return self.worked.chances(self.shortlist) if self.shortlist else None

    @once
    def deciding(self) -> Deciding | None:
        """Whether enough has been measured for the choice."""
        known = self.chances
        return self.worked.deciding(self.shortlist, known) if self.shortlist and known else None

    @once
    def chosen(self) -> Shortlist | None:
        """The kit on the job as a choice, alone: whether it fits; None where none is."""
        fitting = self.job.fitting
        return None if fitting is None else self.worked.shortlist((fitting.kit,))

    @property
    def choose_problem(self) -> str:
        """Why there are no choices; empty where there are."""
        return "" if self.shortlist is not None else self.worked.problems.get("choice", "")

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
        """Return the sentence a stage ends in; on a practice job it waits for the trainee's own."""
        return SILENCE[self.record.run.mode] if self.silent.get(stage) else stage_verdict(self, stage)

    @cached_property
    def silent(self) -> dict[str, bool]:
        """On which stages the judgement keeps quiet: of a practice job until its trainee has said theirs, or for good."""
        run = getattr(self.record, "run", None)
        if run is None or run.mode == "on" or run.handed_in is not None:
            return {}
        said = {one.stage for one in run.findings.all()} if run.mode == "after" else set()
        return {stage: SPOKEN_OF.get(stage, stage) not in said for stage in JUDGED}

    @property
    def cards(self) -> tuple[Progress, ...]:
        """The fitting card of each kit on the job, in the order they go on."""
        return self.worked.cards

    @cached_property
    def done(self) -> dict[str, bool]:
        """Which stages have what they need."""
        return stages_done(self)

    @property
    def next_stage(self) -> str:
        """The first stage that still lacks something."""
        skipped = not_asked(self)
        return next((name for name, _ in STAGES if name not in skipped and not self.done[name]), "report")
