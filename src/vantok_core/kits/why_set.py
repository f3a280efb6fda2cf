"""Why a kit is set as it is: the range that keeps the height, what one step does, why the sides differ, why the air is not let out.

Source: method section 10.
"""

from __future__ import annotations

from vantok_core.base.errors import VantokError
from vantok_core.base.num import G
from vantok_core.base.say import Quantity, Say, Worded, length, mass
from vantok_core.facts import Fitting
from vantok_core.kits.choice import MET
from vantok_core.kits.family import KIT_ELEMENT, Setting
from vantok_core.kits.fit import fitted_vehicle, kept_within
from vantok_core.kits.registry import family_of
from vantok_core.kits.setting import pressure_range
from vantok_core.kits.target import TargetDrop
from vantok_core.loads.plan import state_margins
from vantok_core.model import JobModel
from vantok_core.physics.elements.air import AirSpring
from vantok_core.physics.settings import element_named

APART = 0.003
"""From this difference of the sides on (m) it is asked why they are set the other way."""
FEWEST = 0.0005
"""A step that moves the rear by less is said to move nothing that a tape can tell (m)."""


def set_reasons(model: JobModel, fitting: Fitting, key: str, target: TargetDrop) -> tuple[Say, ...]:
    """Return what to know of a setting in the state it is judged in, each where it can be worked out."""
    return (
        *_range(model, fitting, key, target),
        *_sides(model, fitting, key),
        *_step(model, fitting, key),
        *_spare(model, fitting, key),
        *_floor(fitting),
    )


def _range(model: JobModel, fitting: Fitting, key: str, target: TargetDrop) -> tuple[Say, ...]:
    """Return the pressures between which the height wanted is met, rounded inwards."""
    family = family_of(fitting.kit)
    if not family.sealed:
        return ()
    vehicle, states = fitted_vehicle(model, fitting), list(model.states.values())
    try:
        found = pressure_range(vehicle, states, element=KIT_ELEMENT, state=key, target=target.drop, tolerance=MET)
        low, high = found.rounded(family.spans(fitting.kit)[family.settings[0].name].step)
    except VantokError as error:
        return (Say("No pressure keeps the height wanted: {error}", {"error": str(error)}),)
    values = {"low": Quantity(low, "pressure"), "high": Quantity(high, "pressure"), "met": length(MET)}
    least = " The lower end is the bag's own minimum." if found.low_is_minimum else ""
    most = " The upper end is its maximum." if found.high_is_maximum else ""
    return (
        Say(
            "From {low} to {high}, alike on both sides, the rear stays within {met} of the height wanted.{least}{most}",
            {**values, "least": least, "most": most},
        ),
    )


def _sides(model: JobModel, fitting: Fitting, key: str) -> tuple[Say, ...]:
    """Return why the two sides are set apart, where they are."""
    more_left = sum(left - right for left, right in fitting.setting.values())
    if more_left == 0.0:
        return ()
    drops = model.solve()[key].ground_drop
    corners = ("FL", "FR") if fitting.kit.axle == "front" else ("RL", "RR")
    lean = float(drops[corners[0]] - drops[corners[1]])
    side, values = "left" if more_left > 0.0 else "right", {"lean": length(abs(lean))}
    if lean * more_left > 0.0:
        return (
            Say("The {side} is set higher: this load lets that side down {lean} further.", {**values, "side": side}),
        )
    if abs(lean) < APART:
        return ()
    return (
        Say(
            "The {side} is set higher, though this load lets the other side down {lean} further: look why.",
            {**values, "side": side},
        ),
    )


def _step(model: JobModel, fitting: Fitting, key: str) -> tuple[Say, ...]:
    """Return what one step more does at the kit's axle."""
    family = family_of(fitting.kit)
    field = next((f for f in family.set_by(fitting.kit) if f.name in fitting.setting), None)
    if field is None or not family.lifts:
        return ()
    step = family.spans(fitting.kit)[field.name].step or 1.0
    more: Setting = kept_within(fitting.kit, {field.name: tuple(v + step for v in fitting.setting[field.name])})  # type: ignore[dict-item]
    try:
        now, then = (
            model.solve(
                fitted_vehicle(model, fitting.model_copy(update={"setting": dict(fitting.setting) | dict(told)}))
            )[key]
            for told in ({}, more)
        )
    except VantokError:
        return ()
    front = fitting.kit.axle == "front"
    lifts = float(now.d_f - then.d_f) if front else float(now.d_r - then.d_r)
    if abs(lifts) < FEWEST:
        return ()
    values = {"step": Quantity(step, field.kind), "lifts": length(lifts, signed=True)}
    return (
        Say(
            "One step of {field} more ({step}) moves the {axle} by {lifts}.",
            {**values, "field": field.words, "axle": fitting.kit.axle},
        ),
    )


def _spare(model: JobModel, fitting: Fitting, key: str) -> tuple[Say, ...]:
    """Return what more the kit could carry at its maximum, standing as it stands, and that its axle's rating comes first."""
    state = model.job.state(key)
    if not family_of(fitting.kit).sealed or state is None:
        return ()
    vehicle = fitted_vehicle(model, fitting)
    part, high = (
        element_named(vehicle, KIT_ELEMENT),
        next(iter(family_of(fitting.kit).spans(fitting.kit).values())).high,
    )
    sides = model.solve(vehicle)[key].elements[KIT_ELEMENT]
    more = sum(
        float(law.area.at(height, high)[0]) * high - float(sides[side].force)
        for side, law in (("left", part.left), ("right", part.right))
        if isinstance(law, AirSpring) and (height := sides[side].height) is not None
    )
    values = {"kg": mass(max(fitting.kit.ratio * more / G, 0.0)), "high": Quantity(high, "pressure")}
    spare = Say("To its maximum of {high} it has {kg} more of this axle’s load to spare at this height", values)
    rated = [m for m in state_margins(model.job, state) if m.key == f"{fitting.kit.axle}_axle" and m.margin is not None]
    if not rated:
        return (Say("{spare}; what the axle may carry more is not known, and comes first.", {"spare": spare}),)
    margin = float(rated[0].margin or 0.0)
    if margin <= 0.0:
        return (Say("{spare}; the axle’s rating is used up, and comes first.", {"spare": spare}),)
    left: dict[str, Worded] = {"spare": spare, "left": mass(margin)}
    return (Say("{spare}; the axle’s rating leaves {left}, and comes first.", left),)


def _floor(fitting: Fitting) -> tuple[Say, ...]:
    """Return why the air is not let out of a bag."""
    family = family_of(fitting.kit)
    if not family.sealed:
        return ()
    low = next(iter(family.spans(fitting.kit).values())).low
    return (
        Say(
            "Not all out, empty either: under {low} the bag can pinch and rattle, whatever the ride was before.",
            {"low": Quantity(low, "pressure")},
        ),
    )
