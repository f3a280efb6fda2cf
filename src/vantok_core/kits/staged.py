"""Kits that go on one after the other: the vehicle with those before the one in hand on, each as strong as what was read with it tells.

Their effects stay apart: each was read by itself before the next went on. Source: method sections 8 and 9.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from vantok_core.facts import Fitting, Job
from vantok_core.facts.kinds import AND
from vantok_core.kits.already import without_already
from vantok_core.kits.family import KIT_ELEMENT
from vantok_core.kits.fit import set_in, with_kit
from vantok_core.model import JobModel, build_model
from vantok_core.physics.vehicle import AXLES, Element, Vehicle
from vantok_core.rates.problem import MADE_KNOWN, with_strength


def staged(model: JobModel) -> JobModel:
    """Return the model as it stands before the kit in hand: with the earlier ones on, where there are any.

    What was read with each joins the estimate, in which its strength is an unknown of its own. Raises as `build_model`.
    """
    return _learned(model) if model.job.earlier else model


def refitted(model: JobModel, fitting: Fitting) -> JobModel:
    """Return the model as `staged` has it, taught by what was read with the kit in hand too, whose data are taken at their word. Raises as
    `build_model`."""
    return _learned(model, fitting)


def _learned(model: JobModel, in_hand: Fitting | None = None) -> JobModel:
    earlier, base = model.job.earlier, without_already(model, model.prior)[0]
    fitted = [with_parts(model, base, earlier[: n + 1]) for n in range(len(earlier))]
    if in_hand is not None:
        on = fitted[-1] if fitted else base
        fitted.append(with_kit(model.job, on, in_hand.kit, in_hand.setting, state=set_in(model, in_hand)))
    strengths = {part_name(n): MADE_KNOWN for n in range(len(earlier))}
    found = build_model(model.job, fitted, strengths=strengths)
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
        vehicle = _named(vehicle, part_name(n))
    return vehicle


def _named(vehicle: Vehicle, name: str) -> Vehicle:
    """Return the vehicle with the kit last put on it called by a name."""

    def called(element: Element) -> Element:
        return replace(element, name=name) if element.name == KIT_ELEMENT else element

    front, rear = (replace(vehicle.axle(a), elements=tuple(called(e) for e in vehicle.axle(a).elements)) for a in AXLES)
    return replace(vehicle, front=front, rear=rear)
