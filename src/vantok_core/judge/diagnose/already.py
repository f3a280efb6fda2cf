"""What the kit that was on when it came is worth: kept, set anew, replaced or removed, as the readings on and off have it.

Source: method section 8.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import exp, hypot

from vantok_core.base.errors import VantokError
from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.say import Quantity, Say, Tone, Verdict, in_turn
from vantok_core.facts import AlreadyOn, Job
from vantok_core.judge.diagnose.thresholds import STRENGTH_APART
from vantok_core.kits.already import Effect, came, effects, force_read, let_down_to, main_effect, told
from vantok_core.kits.fit import with_kit
from vantok_core.kits.registry import family_of
from vantok_core.model import JobModel


@dataclass(frozen=True, slots=True, kw_only=True)
class Already:
    """What the kit that was on does: its effects, the one its worth is read from, force per side and sigma (N) there, and its strength
    against its data (1) with its 90 % band; None where that cannot be told; others: the same of each other setting it was let down to."""

    what: str
    effects: tuple[Effect, ...]
    main: Effect | None
    force: tuple[float, float] | None
    strength: tuple[float, float, float] | None
    verdict: Verdict
    others: tuple[LetDown, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class LetDown:
    """Another setting at which a kit was read off: in words, what on against it does, and its strength by that."""

    to: Say
    effects: tuple[Effect, ...]
    strength: Say | None


def already(model: JobModel) -> Already | None:
    """Return what the kit already on was read to do, and whether to keep, reset, replace or remove it; None without one."""
    job = model.job
    if job.already is None:
        return None
    found = effects(job, came(job))
    main = main_effect(job, found)
    pushes = force_read(model, main) if main is not None else None
    strength = _strength(model, main) if main is not None else None
    tone, said = _verdict(job, main, pushes, strength)
    return Already(
        what=job.already.what,
        effects=found,
        main=main,
        force=pushes,
        strength=strength,
        verdict=Verdict(tone=tone, sentences=said),
        others=_others(model),
    )


def _others(model: JobModel) -> tuple[LetDown, ...]:
    """Return what the other settings that it was let down to tell."""
    assert model.job.already is not None
    kit, found = model.job.already.kit, []
    fields = family_of(kit).settings if kit is not None else ()
    for job in let_down_to(model.job, [field.name for field in fields]):
        pairs = effects(job, came(job))
        main = main_effect(job, pairs)
        strength = _strength(model.for_job(job), main) if main is not None else None
        assert job.already is not None
        told_of = [Quantity(job.already.off[f.name][0], f.kind) for f in fields if f.name in job.already.off]
        to = Say("let down to {settings}", {"settings": in_turn(told_of, ", ")}) if told_of else Say("taken off")
        share = (
            dict(zip(("a", "low", "high"), (Quantity(x, "percent") for x in strength), strict=True)) if strength else {}
        )
        by_it = Say("By this pair it is {a} as strong as its data say ({low} to {high}).", share) if strength else None
        found.append(LetDown(to=to, effects=pairs, strength=by_it))
    return tuple(found)


def _strength(model: JobModel, main: Effect) -> tuple[float, float, float] | None:
    """Return how strong a kit is read to be against its data, and the 90 % band of that; None without data, or where nothing is told."""
    told_of = model.job.already
    assert told_of is not None
    if told_of.kit is None or not told_of.setting or not main.lift.told or main.state.key not in model.states:
        return None
    key, kit = main.state.key, told_of.kit
    try:
        on = model.solve(with_kit(model.job, model.vehicle, kit, told_of.setting, state=key))[key]
        off = model.solve(with_kit(model.job, model.vehicle, kit, told_of.off, state=key) if told_of.off else None)[key]
    except VantokError:
        return None  # its data do not reach that far: nothing is said of its strength
    lifts = float(off.d_r - on.d_r) if main.axle == "rear" else float(off.d_f - on.d_f)
    if lifts <= 0.0:
        return None
    ratio = main.lift.lift / lifts
    spread = exp(NINE_IN_TEN * hypot(main.lift.sigma / abs(main.lift.lift), model.estimate.sigma_ln["rear"]))
    return ratio, ratio / spread, ratio * spread


def _verdict(
    job: Job, main: Effect | None, pushes: tuple[float, float] | None, strength: tuple[float, float, float] | None
) -> tuple[Tone, tuple[Say, ...]]:
    """Return keep, reset, replace or remove, and why."""
    kit = job.already
    assert kit is not None
    name = Say("On already: {kit}.", {"kit": kit.what})
    if kit.condition == "perished":
        undone = "Perished: remove or replace it. Let its air out, or its spring go slack, before it is undone."
        return "limit", (name, Say(undone))
    if main is None:
        way = "let it down to its lowest" if kit.off else "take it off, or let it down,"
        return "act", (
            name,
            Say("What it does is not told yet: {way} at the same load, and read the same places again.", {"way": way}),
        )
    if not main.lift.told:
        return "act", (
            name,
            told(main),
            Say("Nothing tells that it does anything: reset it, replace it, or remove it."),
        )
    return _worth(kit, [name, told(main)], main, pushes, strength)


def _worth(
    kit: AlreadyOn,
    said: list[Say],
    main: Effect,
    pushes: tuple[float, float] | None,
    strength: tuple[float, float, float] | None,
) -> tuple[Tone, tuple[Say, ...]]:
    """Return what is said of a kit that does something."""
    if pushes is not None:
        values = {"f": Quantity(pushes[0], "force"), "band": Quantity(NINE_IN_TEN * pushes[1], "force")}
        said.append(Say("That is {f} a side at the wheel (± {band}).", values))
    if main.lift.lift < 0.0:
        return "act", (*said, Say("It lowers the vehicle: look how it is fitted, or remove it."))
    if strength is not None and (strength[2] < 1.0 / STRENGTH_APART or strength[1] > STRENGTH_APART):
        share = dict(zip(("a", "low", "high"), (Quantity(x, "percent") for x in strength), strict=True))
        text = "Its data say otherwise: it is {a} as strong as they have it ({low} to {high}). Check its setting, its air and the load."
        return "act", (*said, Say(text, share))
    if kit.condition == "worn":
        return "act", (*said, Say("It works, and is worn: replace it."))
    return "plain", (*said, Say("It works: keep it, or set it anew where another height is wanted."))
