"""Less tongue load, or a hitch that gives load back: options that move load instead of pressing a spring.

Source: method sections 2 and 5. The load they move is felt at the axles by the levers; limits are held against it as against any load.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from vantok_core.base.figure import Figure
from vantok_core.base.num import G
from vantok_core.base.say import Say, mass
from vantok_core.facts import JobState, Kit
from vantok_core.kits.checks import FitCheck
from vantok_core.kits.choice import Choice
from vantok_core.kits.ranking import scores
from vantok_core.kits.target import TargetDrop
from vantok_core.loads.nose import window_of
from vantok_core.loads.plan import tongue_of
from vantok_core.model import JobModel
from vantok_core.physics.levers import hitch_effect
from vantok_core.physics.stance.report import StateReport
from vantok_core.physics.vehicle import Item, LoadState
from vantok_core.rates.places import Place

WORTH = 5.0
"""Less tongue than this (kg) is not worth an option."""


def shifted(model: JobModel, key: str, front: float, rear: float) -> Mapping[str, LoadState]:
    """Return the states with so much more (kg, less below nought) on the front and the rear axle in one of them."""
    items = (
        Item(mass=front, station=0.0, name="moved front"),
        Item(mass=rear, station=model.vehicle.wheelbase, name="moved rear"),
    )
    return {**model.states, key: replace(model.states[key], items=(*model.states[key].items, *items))}


LESS_TONGUE = "tongue"
"""The key of the choice to load the trailer so that it presses less."""


def less_tongue(model: JobModel, state: JobState, target: TargetDrop, unladen: StateReport) -> Choice | None:
    """Return what the lightest tongue that the trailer should have would do; None without a trailer, or where it is that light already."""
    vehicle, wheelbase = model.job.vehicle, model.vehicle.wheelbase
    least = window_of(model.job)[0] * (state.trailer or 0.0)
    off = state.tongue - least
    if not state.tongue or not least or off < WORTH or vehicle.hitch_overhang_m is None:
        return None
    now = tongue_of(state, vehicle.hitch_overhang_m)
    whole = hitch_effect(now, wheelbase)
    share = off / state.tongue  # spring bars give back in proportion
    front, rear = -share * float(whole.front) / G, -share * float(whole.rear) / G
    values = {"off": mass(off), "least": mass(least), "f": mass(front, signed=True), "r": mass(rear, signed=True)}
    text = (
        "Load the trailer so that it presses {off} less, down to the {least} it should keep: {f} on the front, {r} on the rear. Under that it may "
        "snake; never for the sake of height."
    )
    return _moved(
        model,
        state,
        target,
        unladen,
        (front, rear),
        Choice(key=LESS_TONGUE, name="Less tongue load", kind="move", notes=(Say(text, values),)),
    )


def hitched(
    model: JobModel,
    state: JobState,
    target: TargetDrop,
    unladen: StateReport,
    kit: Kit,
    checks: tuple[FitCheck, ...],
    shift: tuple[float, float, float] | None,
    notes: tuple[Say, ...],
) -> Choice:
    """Return what a hitch that gives load back would do; shift: what it puts on front, rear and trailer axle, kg; None: not known."""
    out = tuple(c.told for c in checks if c.status == "fail")
    bare = Choice(
        key=kit.code,
        name=kit.name,
        kind="kit",
        kit=kit,
        out=out,
        checks=checks,
        notes=notes,
        hour_price=model.job.hour_price,
    )
    if shift is None or out:
        return bare
    found = _moved(model, state, target, unladen, shift[:2], bare)
    assert found.loaded is not None and found.miss is not None
    return replace(found, scores=scores(model, kit, state.key, found.miss, model.vehicle, found.loaded, unladen))


def _moved(
    model: JobModel,
    state: JobState,
    target: TargetDrop,
    unladen: StateReport,
    moved: tuple[float, float],
    choice: Choice,
) -> Choice:
    """Return a choice with what it does by moving so much load (kg) onto the front and the rear."""
    loads = shifted(model, state.key, *moved)
    report = replace(model, states=loads).solve()[state.key]
    sigma = model.estimate.drop(state.key, Place("rear", "ground"), model.on).sigma
    return replace(
        choice,
        vehicle=model.vehicle,
        loaded=report,
        empty=unladen,
        miss=float(report.d_r) - target.drop,
        loads=loads,
        shift=moved,
        drop=Figure(value=float(report.d_r), sigma=sigma),
    )
