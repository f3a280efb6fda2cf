"""The working behind a number: one table of formulas, each with its words, inputs, call and source.

`explain(key, ...)` runs the formula on this job's figures and returns the working; the screen and the report show it in
the reader's units. The result shown is the one computed here: words and number cannot drift apart.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from vantok_core.base.say import Quantity
from vantok_core.benches.damper import damping_ratio
from vantok_core.physics.effects import (
    caster_change,
    front_share_lost,
    headlamp_rise,
    load_moved_by_levelling,
    wheel_angle_change,
)
from vantok_core.physics.levers import hitch_moment, item_lever, tongue_lever
from vantok_core.physics.plane import pitch_change
from vantok_core.physics.stance.report import ride_frequency
from vantok_core.rates.simple import (
    rate_for_frequency,
    restore_force_helper,
    restore_force_wheel,
    series_rate,
    wheel_rate,
)
from vantok_core.readings.plane import lean, rake


@dataclass(frozen=True, slots=True, kw_only=True)
class Formula:
    """A formula: title; words a technician can check by hand; arguments as (name, label, kind); result kind; source."""

    title: str
    words: str
    inputs: tuple[tuple[str, str, str], ...]
    kind: str
    call: Callable[..., Any]
    source: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Working:
    """A formula worked through: its title, words, labelled figures, result and source."""

    key: str
    title: str
    words: str
    figures: tuple[tuple[str, Quantity], ...]
    result: Quantity
    source: str


def _difference(before: float, now: float) -> float:
    return before - now


def _margin(limit: float, load: float) -> float:
    return limit - load


FORMULAS: dict[str, Formula] = {
    "sag": Formula(
        title="Sag",
        words="empty height − loaded height, same datum",
        inputs=(("before", "empty height", "length"), ("now", "loaded height", "length")),
        kind="length",
        call=_difference,
        source="method 1",
    ),
    "rake": Formula(
        title="Rake",
        words="rear height − front height, same datum",
        inputs=(("front_height", "front height", "length"), ("rear_height", "rear height", "length")),
        kind="length",
        call=rake,
        source="method 1",
    ),
    "pitch": Formula(
        title="Pitch change",
        words="(rear drop − front drop) ÷ wheelbase",
        inputs=(("d_f", "front drop", "length"), ("d_r", "rear drop", "length"), ("wheelbase", "wheelbase", "length")),
        kind="angle",
        call=pitch_change,
        source="method 1",
    ),
    "lean": Formula(
        title="Lean",
        words="(left height − right height) ÷ width between the arches",
        inputs=(
            ("left_height", "left height", "length"),
            ("right_height", "right height", "length"),
            ("width", "width", "length"),
        ),
        kind="angle",
        call=lean,
        source="method 1, ISO 8855",
    ),
    "tongue_rear": Formula(
        title="What the tongue puts on the rear axle",
        words="tongue × (wheelbase + hitch overhang) ÷ wheelbase",
        inputs=(
            ("tongue_mass", "tongue load", "mass"),
            ("overhang", "hitch overhang", "length"),
            ("wheelbase", "wheelbase", "length"),
        ),
        kind="mass",
        call=lambda **q: tongue_lever(**q).rear,
        source="method 2, moments about the front axle",
    ),
    "tongue_front": Formula(
        title="What the tongue takes off the front axle",
        words="− tongue × hitch overhang ÷ wheelbase",
        inputs=(
            ("tongue_mass", "tongue load", "mass"),
            ("overhang", "hitch overhang", "length"),
            ("wheelbase", "wheelbase", "length"),
        ),
        kind="mass",
        call=lambda **q: tongue_lever(**q).front,
        source="method 2, moments about the rear axle",
    ),
    "bar_moment": Formula(
        title="Moment of the spring bars",
        words="share given back × tongue × g × overhang × axle distance ÷ (axle distance + overhang)",
        inputs=(
            ("restored", "share given back", "percent"),
            ("tongue_mass", "tongue load", "mass"),
            ("overhang", "hitch overhang", "length"),
            ("axle_distance", "ball to trailer axle", "length"),
        ),
        kind="torque",
        call=hitch_moment,
        source="method 2",
    ),
    "item_rear": Formula(
        title="What an item puts on the rear axle",
        words="mass × distance behind the front axle ÷ wheelbase",
        inputs=(
            ("mass", "mass", "mass"),
            ("station", "distance behind the front axle", "length"),
            ("wheelbase", "wheelbase", "length"),
        ),
        kind="mass",
        call=lambda **q: item_lever(**q).rear,
        source="method 2",
    ),
    "margin": Formula(
        title="Margin",
        words="limit − load",
        inputs=(("limit", "limit", "mass"), ("load", "load", "mass")),
        kind="mass",
        call=_margin,
        source="method 2",
    ),
    "wheel_rate": Formula(
        title="Wheel rate by hand",
        words="load gained on that side ÷ hub sag",
        inputs=(("force_side", "load gained a side", "force"), ("sag", "hub sag", "length")),
        kind="rate",
        call=wheel_rate,
        source="method 3",
    ),
    "series_rate": Formula(
        title="Rate with the tyre in series",
        words="wheel rate × tyre rate ÷ (wheel rate + tyre rate)",
        inputs=(("k_w", "wheel rate", "rate"), ("k_t", "tyre rate", "rate")),
        kind="rate",
        call=series_rate,
        source="method 3",
    ),
    "frequency": Formula(
        title="Ride frequency",
        words="√(wheel rate ÷ sprung mass) ÷ 2π",
        inputs=(("rate", "wheel rate", "rate"), ("sprung_mass", "sprung mass on the corner", "mass")),
        kind="frequency",
        call=ride_frequency,
        source="method 3",
    ),
    "class_rate": Formula(
        title="The class's usual wheel rate",
        words="sprung mass on the corner at rated load × (2π × class ride frequency)²",
        inputs=(
            ("sprung_mass", "sprung mass at rated load", "mass"),
            ("frequency", "class ride frequency", "frequency"),
        ),
        kind="rate",
        call=rate_for_frequency,
        source="method 3",
    ),
    "restore_wheel": Formula(
        title="Force to raise the axle back, per side at the wheel",
        words="wheel rate × height wanted",
        inputs=(
            ("k_w", "wheel rate, mean over that height", "rate"),
            ("height", "height wanted at the arches, the load staying as it is", "length"),
        ),
        kind="force",
        call=restore_force_wheel,
        source="method 3",
    ),
    "restore_helper": Formula(
        title="Force per side at the helper",
        words="wheel rate × height wanted ÷ motion ratio",
        inputs=(
            ("k_w", "wheel rate", "rate"),
            ("height", "height wanted, hub datum", "length"),
            ("ratio", "motion ratio", "ratio"),
        ),
        kind="force",
        call=restore_force_helper,
        source="method 3",
    ),
    "headlamp": Formula(
        title="Headlamp beam",
        words="distance × pitch change − the lamp's own drop, pitch = (rear drop − front drop) ÷ wheelbase",
        inputs=(
            ("d_f", "front drop", "length"),
            ("d_r", "rear drop", "length"),
            ("wheelbase", "wheelbase", "length"),
            ("lamp_station", "lamp behind the front axle", "length"),
            ("distance", "distance ahead", "distance"),
        ),
        kind="length",
        call=headlamp_rise,
        source="method 4",
    ),
    "caster": Formula(
        title="Caster change",
        words="the pitch change, in degrees",
        inputs=(("theta", "pitch change", "angle"),),
        kind="degrees",
        call=caster_change,
        source="method 4",
    ),
    "wheel_angle": Formula(
        title="Camber gained",
        words="camber gain × hub sag, in degrees",
        inputs=(("gain", "camber gain", "gain"), ("hub_sag", "hub sag", "length")),
        kind="degrees",
        call=wheel_angle_change,
        source="method 4",
    ),
    "front_lost": Formula(
        title="Front axle share lost",
        words="(empty front load − front load now) ÷ empty front load",
        inputs=(("front_now", "front load now", "mass"), ("front_empty", "empty front load", "mass")),
        kind="percent",
        call=front_share_lost,
        source="method 2",
    ),
    "levelling": Formula(
        title="Load that levelling the body moves forward",
        words="weight × height of the centre of mass × pitch ÷ wheelbase",
        inputs=(
            ("mass", "mass", "mass"),
            ("centre_height", "height of centre of mass", "length"),
            ("pitch", "pitch taken out", "angle"),
            ("wheelbase", "wheelbase", "length"),
        ),
        kind="force",
        call=load_moved_by_levelling,
        source="method 2, conservation",
    ),
    "damping": Formula(
        title="Damping ratio",
        words="wheel damping ÷ (2 √(wheel rate × sprung mass))",
        inputs=(
            ("wheel_damping_c", "wheel damping, N s/m", "count"),
            ("wheel_rate", "wheel rate", "rate"),
            ("sprung_mass", "sprung mass", "mass"),
        ),
        kind="ratio",
        call=damping_ratio,
        source="method 6",
    ),
}


def explain(key: str, **figures: float) -> Working:
    """Return a formula worked through on the given figures (SI). Raises KeyError for no such formula or figure."""
    formula = FORMULAS[key]
    return Working(
        key=key,
        title=formula.title,
        words=formula.words,
        figures=tuple((label, Quantity(figures[name], kind)) for name, label, kind in formula.inputs),
        result=Quantity(float(formula.call(**figures)), formula.kind),
        source=formula.source,
    )
