"""What is done on Choose and Set."""

from __future__ import annotations

from typing import Any

from simple_history.utils import update_change_reason

from vantok.desk.actions import begin_work
from vantok.desk.lessons import entry_seen_here, settle_estimate
from vantok.desk.load import Desk
from vantok.desk.readings import stamp_settings
from vantok.people.models import User
from vantok.records.choose.models import Fitting, kind_of
from vantok.records.jobs.models import Job
from vantok.records.shelf.models import learnt_of
from vantok_core.base.errors import InputError
from vantok_core.facts import Fitting as CoreFitting
from vantok_core.facts import Proving
from vantok_core.facts.kinds import MOST_PARTS
from vantok_core.facts.proving import Loop
from vantok_core.kits.fit import standing_unfit
from vantok_core.kits.registry import read_kit
from vantok_core.kits.together import Together


def say_no_baseline(job: Job, reason: str) -> None:
    """Store why the empty vehicle cannot be read any more; empty takes it back."""
    job.no_baseline = reason.strip()[:200]
    job.save()


def save_weights(job: Job, weights: dict[str, float]) -> None:
    """Store what each criterion counts on this job."""
    job.weights = weights
    job.save()


class OnTheJobError(InputError):
    """A kit is on the job already; it is only replaced when that is said."""

    def __init__(self, fitting: Fitting) -> None:
        super().__init__("kit", str(fitting), "it is on the job already")
        self.fitting = fitting


def choose_kit(job: Job, kit: dict[str, Any], *, instead_of: int = 0, on_top_of: int = 0, because: str = "") -> Fitting:
    """Put a kit on the job, at the setting the model solved.

    Arguments: instead_of: id of the fitting it replaces, which the history keeps with its setting; on_top_of: of the one that stays on,
    as it is set, with what was read with it; because: why it is taken although a check of its fit fails.

    Raises OnTheJobError where another one is on the job and was named as neither,
    InputError where it cannot go on top.
    """
    kit = entry_seen_here(job.vehicle, kit)
    settle_estimate(job, Desk.look(job.pk).facts.job)
    standing = Fitting.objects.filter(job=job).last()
    order = 0
    if standing is not None:
        if standing.pk not in (instead_of, on_top_of):
            raise OnTheJobError(standing)
        order = standing.order
        if standing.pk == on_top_of:
            _stays_on(job, standing, kit)
            order += 1
        else:
            standing.delete()
    fitting = Fitting(job=job, kit=kit, order=order, learnt=learnt_of(kit["code"], kind_of(job.vehicle, read_kit(kit))))
    if order:
        fitting.save()  # so that the choice below is made on top of what is on
    found = Desk.look(job.pk).worked.shortlist((read_kit(kit),))
    choice = found.choice(kit["code"]) if found else None
    if order and choice is not None and choice.out:
        raise InputError("kit", kit["name"], choice.out[0])
    if found is not None and choice is not None:
        fitting.state_key = found.state.key
        fitting.setting = {name: list(pair) for name, pair in choice.setting.items()}
    fitting.save()
    _demand_fit(fitting, because)
    update_change_reason(fitting, "chosen")
    _settled(job, kit["code"])
    return fitting


def _demand_fit(fitting: Fitting, because: str) -> None:
    """Note why a kit is taken although checks of its fit fail. Raises InputError for one that nobody overrules."""
    failed = standing_unfit(Desk.look(fitting.job_id).job, fitting.order)
    if stays := next((one for one in failed if one.final), None):
        raise InputError("kit", fitting.kit["name"], stays.why)
    if failed and because:
        fitting.overruled = {one.key: because[:200] for one in failed}
        fitting.save()


def _settled(job: Job, code: str) -> None:
    """Take a kit that is now on off the proposals and off the list of those to follow."""
    left = [one for one in job.to_follow if one.get("code") != code]
    if job.proposal or left != job.to_follow:
        job.proposal, job.to_follow = {}, left
        job.save()


def take_together(job: Job, both: Together, state: str, entries: dict[str, dict[str, Any]], *, at_once: bool) -> None:
    """Put several kits on the job: all at once, each at the setting solved for them together, or the first, the others to follow.

    Arguments: state: key of the state they are set in; entries: catalogue entries by code. Raises OnTheJobError where a kit is on already.
    """
    standing = Fitting.objects.filter(job=job).last()
    if standing is not None:
        raise OnTheJobError(standing)
    if not at_once:
        first, *later = both.kits
        job.to_follow = [{"code": kit.code, "name": kit.name} for kit in later]
        job.save()
        choose_kit(job, entries[first.code])
        return
    settle_estimate(job, Desk.look(job.pk).facts.job)
    for order, kit in enumerate(both.kits):
        setting = {name: list(pair) for name, pair in both.settings[kit.code].items()}
        known = learnt_of(kit.code, kind_of(job.vehicle, kit))
        fitting = Fitting.objects.create(
            job=job, kit=entries[kit.code], order=order, state_key=state, setting=setting, learnt=known
        )
        update_change_reason(fitting, "chosen together")


def _stays_on(job: Job, standing: Fitting, kit: dict[str, Any]) -> None:
    """Keep the kit in hand on as it is set, with what was read with it. Raises InputError where another cannot go on top of it."""
    if not standing.done:
        raise InputError("kit", str(standing), "set it on the vehicle and say so on Set before another goes on top")
    if standing.order + 1 >= MOST_PARTS:
        raise InputError("kit", kit["name"], f"{MOST_PARTS} kits are the most that go on one vehicle")
    stamp_settings(job)


def take_off(job: Job, number: int) -> str:
    """Take the kit in hand off the job, so that the one before it is in hand again; return its name. Raises InputError for another one.

    The history keeps it with its setting, and what was read with it stays with the readings.
    """
    standing = Fitting.objects.filter(job=job).last()
    if standing is None or standing.pk != number:
        raise InputError("kit", number, "it is not the last that went on: those on top of it come off first")
    stamp_settings(job)
    name = str(standing)
    standing.delete()
    return name


def not_after_all(job: Job, code: str) -> None:
    """Take a kit off the list of those to follow."""
    job.to_follow = [one for one in job.to_follow if one.get("code") != code]
    job.save()


def propose_kit(person: User, job: Job, kit: dict[str, Any], why: str) -> None:
    """Put a kit forward for a technician to take or leave."""
    job.proposal = {"code": kit["code"], "name": kit["name"], "by": str(person), "why": why.strip()[:200]}
    job.save()


def _one_change(job: Job, standing: Fitting, fitting: Fitting) -> None:
    """Begin an entry for a setting changed on the vehicle: what, from which to which; how it went is told after the drive or the tape."""
    kit = read_kit(fitting.kit)
    marks = [
        CoreFitting(kit=kit, setting={n: p for n, p in one.setting.items() if None not in p}).mark
        for one in (standing, fitting)
    ]
    told = Proving.model_validate(job.proving or {})
    change = Loop(
        key=f"l{len(told.loops) + 1}", what=f"{kit.name}: setting changed", mark_before=marks[0], mark_after=marks[1]
    )
    job.proving = told.model_copy(update={"loops": (*told.loops, change)}).model_dump(mode="json")
    job.save()


def save_setting(job: Job, fitting: Fitting) -> None:
    """Store a kit's setting; once it is set on the vehicle, work has begun and the baseline stands.

    What was ruled out as the cause of a miss was so at the setting of then: another one begins anew.
    """
    standing = Fitting.objects.get(pk=fitting.pk)
    if standing.setting != fitting.setting:
        stamp_settings(job)
        fitting.ruled_out = []
        if standing.done:
            _one_change(job, standing, fitting)
    fitting.save()
    if fitting.done:
        begin_work(job)
