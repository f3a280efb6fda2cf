"""What the core makes of a job, each part worked out once; what cannot be is said, and takes nothing else with it."""

from __future__ import annotations

import logging
from collections.abc import Callable, Mapping, Sequence
from functools import partial
from threading import RLock
from typing import Any, Generic, TypeVar, cast

from vantok_core import facts as core
from vantok_core.base.errors import VantokError
from vantok_core.base.kept import LastByKey
from vantok_core.base.say import Finding
from vantok_core.base.work import TooMuchWorkError
from vantok_core.facts import Kit
from vantok_core.judge.choose.deciding import Deciding, deciding
from vantok_core.judge.choose.fits import unfit_said
from vantok_core.judge.choose.planned import Planned, planned
from vantok_core.judge.diagnose.already import Already, already
from vantok_core.judge.diagnose.diagnosis import Diagnosis, diagnose
from vantok_core.judge.diagnose.tail import Tail, tails
from vantok_core.judge.grounds.leaking import stopping
from vantok_core.judge.grounds.next_step import NextStep, next_step
from vantok_core.judge.grounds.shown import main_datum
from vantok_core.judge.measure.baseline import baseline_asked, baseline_points
from vantok_core.judge.measure.catches import catches
from vantok_core.judge.measure.checks import check_sheet, expected_before
from vantok_core.judge.measure.conditions import condition_findings
from vantok_core.judge.prove.proof import Proof
from vantok_core.judge.prove.proving import prove
from vantok_core.judge.ride.odds import Banded, ride_odds
from vantok_core.judge.ride.ready import Configuration, Over
from vantok_core.judge.ride.told import Driven, drive_course, drive_over
from vantok_core.judge.set.failing import Failure, failures
from vantok_core.kits.chances import Chances, chances
from vantok_core.kits.choice import Shortlist
from vantok_core.kits.choose import shortlist
from vantok_core.kits.fit import fitted_vehicle
from vantok_core.kits.staged import at_other_settings, same_parts, staged
from vantok_core.kits.target import target_state
from vantok_core.model import JobModel, Missing, NotReadyError, build_model, missing, same_basis
from vantok_core.procedure.card import card
from vantok_core.procedure.progress import Progress, progress
from vantok_core.procedure.prover import cannot_be

log = logging.getLogger(__name__)


Part = TypeVar("Part")
RIDES, MODELS = 16, 3
"""Rides that are kept of a job; models of what stood on its sheet a moment ago."""


class once(Generic[Part]):  # noqa: N801 - used as the decorator it is
    """A property worked out once: who asks for it while another does waits, and the same sum is never done beside itself."""

    def __init__(self, call: Callable[[Any], Part]) -> None:
        self.call, self.name, self.__doc__ = call, call.__name__, call.__doc__

    def __get__(self, instance: Any, cls: Any = None) -> Part:
        kept = instance.__dict__
        with instance.working:
            if self.name not in kept:
                kept[self.name] = self.call(instance)
            return cast("Part", kept[self.name])


class Worked:
    """What the core makes of a job, each part worked out once when first asked for.

    A part that cannot be worked out is None, and `problems` says why: one bad figure never takes the other parts, the
    pages or the readings with it.
    """

    def __init__(self, job: core.Job) -> None:
        self.job = job
        self.problems: dict[str, str] = {}
        self.working = RLock()
        self.models: tuple[tuple[core.Job, JobModel | None], ...] = ()
        self.near: JobModel | None = None
        self.rides: LastByKey[tuple[object, ...], tuple[Driven, ...]] = LastByKey(RIDES)
        self.sure: LastByKey[tuple[object, ...], Mapping[str, Banded]] = LastByKey(RIDES)

    def learn_from(self, other: Worked) -> None:
        """Take over what another has worked out already, as far as it rests on the same facts."""
        if other.job == self.job:
            self.__dict__.update({k: v for k, v in dict(other.__dict__).items() if k not in ("job", "working")})
        elif (model := other.__dict__.get("model")) is not None:
            self.near, self.models = model, ((other.job, model), *other.models)[:MODELS]
            if same_basis(other.job, self.job):
                self.__dict__["model"] = model.for_job(self.job)
                if (on := other.__dict__.get("staged")) is not None and same_parts(other.job, self.job):
                    self.__dict__["staged"] = on.for_job(self.job)

    def _try(self, part: str, call: Callable[[], Part]) -> Part | None:
        """Return a part of the results, or keep why there is none."""
        try:
            return call()
        except NotReadyError:
            return None
        except VantokError as error:
            self.problems[part] = self._told(error)
        except TooMuchWorkError:
            raise  # the request ends here, and nothing is kept as if it could not be worked out
        except Exception:
            # A bulkhead: what the core did not foresee is logged with its trace, said on the page, and stops here.
            log.exception("job %s: %s", self.job.number, part)
            self.problems[part] = (
                f"The {part} cannot be worked out from the figures as entered; look for one that cannot be."
            )
        return None

    def _of(self, part: str, model: JobModel | None, call: Callable[[JobModel], Part]) -> Part | None:
        """Return a part that is worked out of a model; none where there is no model."""
        return None if model is None else self._try(part, lambda: call(model))

    @once
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

    @once
    def missing(self) -> list[Missing]:
        """What is not known yet."""
        return self._try("list of what is missing", lambda: missing(self.job)) or []

    @once
    def staged(self) -> JobModel | None:
        """The model with the kits on that went on before the one in hand; the plain one where none did."""
        return self._of("model with what is on", self.model, staged)

    @once
    def in_hand(self) -> JobModel | None:
        """The model for the kit in hand: as `staged`, taught by what was read with that kit at other settings."""
        return self._of("model with what is on", self.staged, at_other_settings)

    @once
    def cards(self) -> tuple[Progress, ...]:
        """The fitting card of each kit on the job, in the order they go on."""
        asked, points = baseline_asked(self.job), baseline_points(self.job)
        touching = next(iter(stopping(self.job)), None)
        return tuple(
            progress(made, part.card, asked=asked, stopped=unfit_said(self.job, n) or cannot_be(made) or touching)
            for n, part in enumerate(self.job.parts)
            for made in (card(self.job, part.kit, part.learnt, part.setting, points),)
        )

    @once
    def diagnosis(self) -> Diagnosis | None:
        """The diagnosis."""
        return self._of("diagnosis", self.model, diagnose)

    @once
    def sheet(self) -> list[Finding]:
        """What is odd about the measuring sheet."""

        def told() -> list[Finding]:
            return (
                check_sheet(self.job, self.model)
                + condition_findings(self.job, self.model)
                + catches(self.job, self.model)
            )

        return self._try("sheet", told) or []

    @once
    def proof(self) -> Proof | None:
        """Predicted beside read."""
        return self._of("proof", self.in_hand, prove)

    @once
    def proofs(self) -> tuple[Proof | None, ...]:
        """The proofs of the kits that went on before the one in hand, each as it stood then."""
        model = self.model
        if model is None:
            return ()

        def then(count: int) -> Proof | None:
            return prove(at_other_settings(staged(model.for_job(self.job.as_of(count)))))

        return tuple(self._try("proof", partial(then, n + 1)) for n in range(len(self.job.earlier)))

    def ride(self, configurations: Sequence[Configuration], over: Over) -> tuple[Driven, ...]:
        """Return configurations over a piece; the last few pieces are kept."""
        model = self.staged
        asked = (*(one.key for one in configurations), over)
        if model is None:
            return ()
        known = self.rides.get(asked)
        return self.rides.put(asked, drive_over(model, configurations, over)) if known is None else known

    def course(self, configurations: Sequence[Configuration], overs: Sequence[Over]) -> dict[Over, tuple[Driven, ...]]:
        """Return configurations over every piece of a course."""
        model = self.staged
        return {} if model is None else drive_course(model, configurations, overs)

    def ride_odds(self, configurations: Sequence[Configuration], over: Over) -> Mapping[str, Banded]:
        """Return how sure the second configuration's figures are against the first's; the last few are kept."""
        model = self.staged
        asked = ("odds", *(one.key for one in configurations[:2]), over)
        if model is None or len(configurations) < 2:
            return {}
        known = self.sure.get(asked)
        return (
            self.sure.put(asked, ride_odds(model, configurations[0], configurations[1], over))
            if known is None
            else known
        )

    @once
    def failures(self) -> tuple[Failure, ...]:
        """What happens if what is fitted fails."""
        model, fitting = self.in_hand, self.job.fitting
        return (self._try("what if it fails", lambda: failures(model, fitting)) or ()) if model and fitting else ()

    @once
    def next_step(self) -> NextStep | None:
        """The measurement most worth taking next."""
        model, found = self.staged, self.diagnosis
        if model is None or found is None:
            return None
        return self._try("next measurement", lambda: next_step(model, found.unweighed))

    @once
    def already(self) -> Already | None:
        """What a kit that was on when it came is worth."""
        return self._of("worth of what was on", self.model, already)

    @once
    def tails(self) -> tuple[Tail, ...]:
        """How low the tail hangs."""
        return self._of("tail clearance", self.model, tails) or ()

    @once
    def planned(self) -> tuple[Planned, ...]:
        """What the changes planned for later would do."""
        model = self.model
        return (self._try("what is planned", lambda: planned(model)) or ()) if model and self.job.planned else ()

    def chances(self, found: Shortlist) -> Chances | None:
        """Return how likely each choice brings the height wanted, and is the right one."""
        return self._of("odds", self.staged, lambda one: chances(one, found))

    def deciding(self, found: Shortlist, known: Chances) -> Deciding | None:
        """Return whether enough has been measured for the choice, else what would decide it."""
        return self._of("deciding measurement", self.staged, lambda one: deciding(one, found, known))

    def shortlist(self, kits: tuple[Kit, ...]) -> Shortlist | None:
        """Return the choices, once there is a loaded state to judge them in."""
        model = self.staged
        if model is None or not any(s.key in model.states for s in self.job.judged):
            return None
        return self._try("choice", lambda: shortlist(model, kits))

    def fitted_heights(self, fitting: core.Fitting, state: str = "") -> tuple[str, dict[str, float]] | None:
        """Return the asked (else the judged) state and its predicted heights (m) by corner with a kit at a setting; None where that cannot be."""
        model = self.in_hand
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
        before = expected_before(self.job, reading)
        with self.working:
            known = next((one for one in self.models if one[0] == before), None)
            if known is None:
                known = before, self._unseen(before)
                self.models = (known, *self.models)[:MODELS]
        model = known[1]
        return model if model is not None and model.estimate.settled else None

    def _unseen(self, job: core.Job) -> JobModel | None:
        try:
            return build_model(job, near=self.model)
        except VantokError:
            return None  # nothing to hold it against: the plain checks stand alone
