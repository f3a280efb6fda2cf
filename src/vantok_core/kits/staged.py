"""Kits that go on one after the other, each read at one setting or several: the vehicle with those on, each as strong as it was read to be.

Their effects stay apart: each was read by itself before the next went on. Source: method sections 8 and 9.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from vantok_core.facts import Fitting, Job
from vantok_core.facts.kinds import AND
from vantok_core.kits.already import without_already
from vantok_core.kits.family import KIT_ELEMENT, named
from vantok_core.kits.fit import set_in, with_kit
from vantok_core.kits.registry import family_of
from vantok_core.model import JobModel, build_model
from vantok_core.model.build import On
from vantok_core.physics.vehicle import Vehicle
from vantok_core.rates.strength import with_strength


def staged(model: JobModel) -> JobModel:
    """Return the model as it stands before the kit in hand: with the earlier ones on, where there are any.

    What was read with each joins the estimate, in which its strength is an unknown of its own. Raises as `build_model`.
    """
    if not model.job.earlier:
        return model
    if "staged" not in model.onward:
        model.onward["staged"] = _learned(model, _earlier_read(model))
    return model.onward["staged"]


def at_other_settings(before: JobModel) -> JobModel:
    """Return a model as `staged` gives it, taught besides by what was read with the kit in hand at other settings than the present one.

    Its strength is then an unknown of the estimate, as those of the earlier ones are. Raises as `build_model`.
    """
    others = _other_settings(before.job)
    if not others:
        return before
    return _learned(before, [*_earlier_read(before), *_read_at(before, others)], strength_in_hand=True)


def refitted(model: JobModel, fitting: Fitting) -> JobModel:
    """Return the model as `staged` has it, taught by all that was read with the kit in hand too, whose strength is an unknown of its own beside the
    springs' rates. Raises as `build_model`. Source: method section 26."""
    name = f"refitted at {fitting.mark}"
    if name not in model.onward:
        read = [*_earlier_read(model), *_read_at(model, [*_other_settings(model.job), fitting])]
        model.onward[name] = _learned(model, read, strength_in_hand=True)
    return model.onward[name]


def _earlier_read(model: JobModel) -> list[On]:
    """Return each setting that an earlier kit was read at by itself, with those before it as they were left."""
    found = []
    for count in range(1, len(model.job.earlier) + 1):
        then = model.job.as_of(count)
        found += _read_at(model, [*_other_settings(then), then.parts[-1]], then)
    return found


def _read_at(model: JobModel, settings: Sequence[Fitting], then: Job | None = None) -> list[On]:
    """Return the job and the vehicle at some settings of the kit in hand (of the job of then), the earlier ones on."""
    job = then or model.job
    base = with_parts(model, without_already(model, model.prior)[0], job.earlier)
    name = KIT_ELEMENT if then is None else part_name(len(job.earlier))
    found = []
    for part in settings:
        vehicle = with_kit(job, base, part.kit, part.setting, state=set_in(model, part))
        found.append((job.model_copy(update={"fitting": part}), named(vehicle, name)))
    return found


def _other_settings(job: Job) -> list[Fitting]:
    """Return the kit in hand at each other setting at which an arch was read with it on, the first read first."""
    part = job.fitting
    if part is None:
        return []
    names = [field.name for field in family_of(part.kit).settings]
    before = "".join(one.mark + AND for one in job.earlier)
    marks = dict.fromkeys(r.setting for r in job.readings if r.phase == "after" and r.datum.endswith("arch"))
    mine = (
        m.removeprefix(before)
        for m in marks
        if m.startswith(before) and m != job.mark and m.count(AND) == len(job.earlier)
    )
    return [found for mark in mine if (found := part.at_mark(mark, names)) is not None]


def _learned(model: JobModel, fitted: Sequence[On], *, strength_in_hand: bool = False) -> JobModel:
    earlier = model.job.earlier
    strengths = {part_name(n): part.kit.strength_sigma for n, part in enumerate(earlier)}
    if strength_in_hand:
        assert model.job.fitting is not None
        strengths[KIT_ELEMENT] = model.job.fitting.kit.strength_sigma
    found = build_model(model.job, fitted, near=model, strengths=strengths)
    if not earlier:
        return found
    now = with_strength(with_parts(model, found.vehicle, earlier), found.estimate.strength)
    return replace(found, vehicle=now, without_kits=found.vehicle)


def same_parts(one: Job, other: Job) -> bool:
    """Tell whether two jobs of one calibration have the same kits on before the one in hand, with the same readings."""

    def told(job: Job) -> tuple[object, ...]:
        count = len(job.earlier)
        read = (r for r in job.readings if r.phase == "after" and r.setting.count(AND) < count) if count else ()
        return job.earlier, job.already, job.target.state, tuple(read)

    return told(one) == told(other)


def part_name(place: int) -> str:
    """Return what the element of an earlier kit is called, by its place in order (the first: 0)."""
    return f"{KIT_ELEMENT} {place + 1}"


def with_parts(model: JobModel, vehicle: Vehicle, parts: Sequence[Fitting]) -> Vehicle:
    """Return the vehicle with some kits on, each set as it was left, under names of their own."""
    for n, part in enumerate(parts):
        vehicle = with_kit(model.job, vehicle, part.kit, part.setting, state=set_in(model, part))
        vehicle = named(vehicle, part_name(n))
    return vehicle
