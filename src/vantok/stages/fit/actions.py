"""What is done on Fit: a step left, a step taken back."""

from __future__ import annotations

from simple_history.utils import update_change_reason

from vantok.desk.actions import begin_work
from vantok.desk.readings import stamp_settings
from vantok.people.models import User
from vantok.records.choose.models import Fitting, kind_of
from vantok.records.jobs.models import Job
from vantok.records.shelf.models import keep_learnt
from vantok_core.base.errors import InputError
from vantok_core.facts import CardMark, Learnt
from vantok_core.facts.fitting import Ordered
from vantok_core.kits.checks import FitCheck
from vantok_core.kits.family import AlikeFamily
from vantok_core.kits.registry import family_of, read_kit
from vantok_core.procedure.card import Step
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
    if found.is_left(step):
        _same(found.marks[step.key], mark, step)
        return
    if mark.state == "stopped" and found.missing == mark.missing:
        return
    if mark.state != "overruled" and (held := found.held(step)):
        error = InputError("step", step.words, held)
        error.args = (f"{held} The step was not ticked.",)
        raise error
    fitting.card = [
        *(m for m in fitting.card if m.get("key") != mark.key),
        mark.model_dump(mode="json", exclude_none=True),
    ]
    if mark.figure is not None:
        stamp_settings(job)
        fitting.setting = {**fitting.setting, step.fact: _as_made(fitting, step, mark.figure)}
    fitting.save()
    update_change_reason(fitting, f"card: {step.words}"[:100])
    if mark.key not in OPENING:
        begin_work(job)
    if step.gate == "lower" and not job.lifted:
        job.lifted = True  # what is read from now on is not settled until it is rolled and bounced
        job.save()
    if len(found.open) == 1 and mark.state != "stopped" and (minutes := found.worked_minutes) > 0.0:
        keep_learnt(
            job,
            code=found.card.kit.code,
            kind=kind_of(job.vehicle, found.card.kit),
            what="minutes",
            key="card",
            words=f"{minutes:.0f}",
            by=mark.by,
        )


SAYS = ("state", "each", "figure", "said", "note")
"""What of a mark is the hands' own word; who and when are not."""


def order(fitting: Fitting, ordered: Ordered) -> None:
    """Store that a kit was ordered, in place of what was told of it before. Raises InputError where its box was opened already."""
    if fitting.card:
        raise InputError("ordered", ordered.on, "its box is open already")
    fitting.ordered = ordered.model_dump(mode="json", exclude_none=True)
    fitting.save()


def _same(standing: CardMark, mine: CardMark, step: Step) -> None:
    """Raise InputError where a step was left otherwise meanwhile: the second one's word is told, not dropped."""
    told = [name for name in SAYS if getattr(mine, name) and getattr(mine, name) != getattr(standing, name)]
    if not told:
        return
    error = InputError("step", step.words, "left otherwise")
    error.args = (
        f"{standing.by or 'Somebody'} left “{step.words}” as {standing.state} meanwhile, and not as you did. "
        "Yours was not stored: take the step back to change it.",
    )
    raise error


def overrule_fit(person: User, fitting: Fitting, found: tuple[FitCheck, ...], key: str, reason: str) -> None:
    """Overrule a check of a kit's fit, with the reason the report keeps. Raises InputError for one that is final, not there, or without a reason."""
    check = next((one for one in found if one.key == key), None)
    if check is None:
        raise InputError("check", key, "it does not stop this kit any more")
    if check.final:
        raise InputError(
            "check",
            check.words,
            "nobody overrules this one: another kit, another axle, a limit or a line in the way stays",
        )
    if not reason.strip():
        raise InputError("reason", "nothing", "say why: the report keeps it")
    fitting.overruled = {**fitting.overruled, key: f"{reason.strip()[:150]} ({person})"[:200]}
    fitting.save()
    update_change_reason(fitting, f"overruled: {check.words}"[:100])


def _as_made(fitting: Fitting, step: Step, figure: float) -> list[float | None]:
    """Return the setting of both sides once a step has made it on its own; a family set alike takes it for both. Raises InputError past the kit's limits."""
    kit = read_kit(fitting.kit)
    family = family_of(kit)
    span = family.spans(kit).get(step.fact)
    if span is not None and not span.low * (1.0 - 1e-9) <= figure <= span.high * (1.0 + 1e-9):
        error = InputError("setting", figure, "past the kit's limits")
        error.args = ("That is past what the kit can be set to. The step was not ticked.",)
        raise error
    left, right = (fitting.setting.get(step.fact) or [None, None])[:2]
    alike = isinstance(family, AlikeFamily) or family.alike(kit) or step.side == "once"
    return [figure if alike or step.side == "left" else left, figure if alike or step.side == "right" else right]


def learn(job: Job, place: int, told: Learnt, *, keep: bool) -> None:
    """Put what a card taught on the card, and keep it for the next vehicle of this kind where that is wished."""
    fitting = list(Fitting.objects.filter(job=job))[place]
    fitting.learnt = [*fitting.learnt, told.model_dump(mode="json")]
    fitting.save()
    update_change_reason(fitting, f"card: {told.words}"[:100])
    if keep:
        kit = read_kit(fitting.kit)
        keep_learnt(
            job,
            code=kit.code,
            kind=kind_of(job.vehicle, kit),
            what=told.what,
            key=told.key,
            words=told.words,
            after=told.after,
            by=told.by,
        )


def take_back(job: Job, place: int, key: str) -> None:
    """Take the last step that was left back, so that it is open again. Raises InputError for another one: those after it rest on it."""
    fitting = list(Fitting.objects.filter(job=job))[place]
    if not fitting.card or fitting.card[-1].get("key") != key:
        raise InputError("step", key, "only the last step is taken back: those after it were done on top of it")
    fitting.card = fitting.card[:-1]
    fitting.save()
    update_change_reason(fitting, "card: a step taken back")
