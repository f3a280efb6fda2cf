"""Physics made of the parts a file lists: springs, stops, helpers, air springs, bars.

Source: method section 4, element table.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import TypeVar

from vantok_core.base.errors import IncompatibleSpringError, InputError
from vantok_core.facts.parts import ChangeForm, ElementForm, VolumeForm
from vantok_core.physics.elements.air import AirSpring, Area, AreaTable, LinearArea, Volume
from vantok_core.physics.elements.curve import Curve, force_curve
from vantok_core.physics.elements.laws import AddedLeaf, Helper, Law, Stop
from vantok_core.physics.vehicle import (
    AntiRollBar,
    AxleName,
    CoilBlock,
    Element,
    MainSpring,
    Replacement,
    Shackle,
    SpringChange,
    TorsionBarAdjuster,
)

Value = TypeVar("Value")


def needed(value: Value | None, field: str) -> Value:
    """Return a figure that is there. Raises InputError, naming the field, where it is not."""
    if value is None:
        raise InputError(field, "nothing", "it is needed here")
    return value


def _of_side(value: float | tuple[float, float] | None, field: str, side: int) -> float:
    if value is None:
        raise InputError(field, "nothing", "it is needed here")
    return float(value[side]) if isinstance(value, tuple) else float(value)


def spring_change(form: ChangeForm, side: int = 0) -> SpringChange:
    """Return a change made to a main spring on a side (0 left, 1 right). Raises InputError for a figure that is missing."""

    def of(name: str) -> float:
        return _of_side(getattr(form, name), name, side)

    if form.law == "coil_block":
        insert = None if form.k_i is None else of("k_i")
        return CoilBlock(active=of("N"), blocked=of("n"), insert_rate=insert, z_fit=of("z_fit"))
    if form.law == "shackle":
        return Shackle(k_s=of("k_s"))
    if form.law == "replacement":
        return Replacement(k=of("k"), c_ref=of("c_ref"), k2=of("k2"), z2=of("z2"), width=of("w"))
    return TorsionBarAdjuster(shift=of("shift"))


def main_spring(form: ElementForm, name: str) -> MainSpring:
    """Return a part as the axle's main spring. Raises InputError for a figure that is missing."""
    parabolic = form.parabolic or form.law.startswith("parabolic")
    unlike = any(c.unlike for c in form.mods)
    return MainSpring(
        name=name,
        kind="parabolic" if parabolic else form.law,
        k=needed(form.k, f"{name} k"),
        k2=form.k2,
        z2=form.z2,
        width=form.w,
        ratio=form.i,
        y=form.y,
        changes=tuple(spring_change(c) for c in form.mods),
        changes_right=tuple(spring_change(c, 1) for c in form.mods) if unlike else None,
    )


def element_of(form: ElementForm, name: str) -> Element:
    """Return a part as a helper, stop or air spring. Raises InputError for a law or figure that is missing."""
    left, right = (_law(form, name, side) for side in (0, 1))
    return Element(
        name=name,
        left=None if form.sides == "right" else left,
        right=None if form.sides == "left" else right,
        ratio=form.i,
        y=form.y,
        fitted=form.fitted or "kit",
        teed=form.teed,
        set_state=form.set_state,
        p_min=form.p_min,
        p_max=form.p_max,
    )


def bar_of(form: ElementForm, name: str) -> AntiRollBar:
    """Return a part as an anti-roll bar. Raises InputError without its stiffness."""
    return AntiRollBar(name=name, stiffness=needed(form.K, f"{name} K"), fitted=form.fitted or "reference")


def sort_elements(
    axle: AxleName, kind: str, named: Sequence[tuple[str, ElementForm]]
) -> tuple[tuple[AntiRollBar, ...], tuple[Element, ...]]:
    """Return an axle's bars and other elements. Raises IncompatibleSpringError for a leaf added to a parabolic spring."""
    if kind == "parabolic" and any(e.law == "add_a_leaf" for _, e in named):
        raise IncompatibleSpringError(
            f"{axle} axle: a tapered (parabolic) leaf takes no added leaf; replace the spring, fit a helper, or have a pack made.",
            field=f"{axle}.elements",
        )
    bars = tuple(bar_of(e, name) for name, e in named if e.law == "anti_roll_bar")
    return bars, tuple(element_of(e, name) for name, e in named if e.law != "anti_roll_bar")


def _law(form: ElementForm, name: str, side: int) -> Law:
    if form.law in ("stop", "insert"):
        points = needed(form.points, f"{name} points")
        return Stop(gap=_of_side(form.gap, f"{name} gap", side), curve=force_curve(points))
    if form.law in ("helper_leaf", "coil_assist"):
        return Helper(preload=_of_side(form.preload, f"{name} preload", side), k=needed(form.k, f"{name} k"))
    if form.law == "add_a_leaf":
        return AddedLeaf(k=needed(form.k, f"{name} k"), arch=_of_side(form.arch, f"{name} arch", side))
    if form.law == "air":
        return _air(form, name, side)
    raise InputError(f"{name} law", form.law, "that is not a law this program knows")


def _air(form: ElementForm, name: str, side: int) -> AirSpring:
    area: Area
    if form.table is not None:
        area = AreaTable.from_loads(list(form.table.h), list(form.table.p), [list(row) for row in form.table.F])
    elif form.area is not None:
        area = LinearArea(a0=form.area.A0, slope=form.area.dA_dh, h0=form.area.h0)
    else:
        raise InputError(f"{name} table", None, "an air spring needs a load table or an area")
    p_set, h_ref = _of_side(form.p_set, f"{name} p_set", side), _of_side(form.h_ref, f"{name} h_ref", side)
    if p_set < 0.0:
        raise InputError(f"{name} p_set", p_set, "a gauge pressure cannot be negative")
    volume = (
        _volume(form.volume)
        if form.volume
        else Volume(v0=float(area.at(h_ref, p_set)[0]) * h_ref, h0=h_ref, assumed=True)
    )
    return AirSpring(h_ref=h_ref, area=area, volume=volume, p_set=p_set, p_atm=form.p_atm)


def _volume(form: VolumeForm) -> Volume:
    if form.h is not None and form.V is not None:
        return Volume(curve=Curve(tuple(zip(form.h, form.V, strict=True))))
    return Volume(v0=needed(form.V0, "V0"), h0=needed(form.h0, "h0"))
