"""Elements as they are set: a pressure held, a preload, an arch, a gap, or taken off; for states that differ by setting (method section 8)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Literal

from vantok_core.base.errors import InputError
from vantok_core.physics.elements.air import ISOTHERMAL, AirSpring, Seal
from vantok_core.physics.elements.laws import AddedLeaf, Helper, Law, Scaled, Stop
from vantok_core.physics.vehicle import AXLES, Element, Vehicle

Setting = Mapping[str, float] | Literal["off"]
"""What an element is set to on a side: p (Pa gauge), preload (N), arch or gap (m); or taken off."""
SET_BY: dict[type, str] = {AirSpring: "p", Helper: "preload", AddedLeaf: "arch", Stop: "gap"}


def at_setting(law: Law | None, setting: Setting, name: str) -> Law | None:
    """Return a law as set: a pressure is held while the state is solved. Raises InputError for what it is not set by."""
    if law is None:
        return None
    if setting == "off":
        return replace(law, p_set=0.0, seal=None) if isinstance(law, AirSpring) else Scaled(law=law, factor=0.0)
    by = SET_BY.get(type(law), "")
    if set(setting) != {by}:
        raise InputError(f"{name} setting", sorted(setting), f"it is set by {by or 'nothing'}")
    value = float(setting[by])
    if by == "p" and value < 0.0:
        raise InputError(f"{name} p", value, "a gauge pressure cannot be negative")
    fields = {"p": {"p_set": value, "seal": None}}.get(by, {by: value})
    return replace(law, **fields)  # type: ignore[type-var]  # each of these laws is a dataclass


def element_named(vehicle: Vehicle, name: str) -> Element:
    """Return an element by name. Raises InputError where there is none."""
    for axle in AXLES:
        for element in vehicle.axle(axle).elements:
            if element.name == name:
                return element
    raise InputError("setting", name, "the vehicle has no element of that name")


def sealed_at_reference(vehicle: Vehicle) -> Vehicle:
    """Return the vehicle with bags that were there at the reference, and that nothing says are set elsewhere, shut there."""

    def shut(law: Law | None) -> Law | None:
        if not isinstance(law, AirSpring):
            return law
        return replace(law, seal=Seal(constant=law.sealing_constant(0.0, ISOTHERMAL), n=ISOTHERMAL))

    def ready(element: Element) -> Element:
        if element.fitted != "reference" or element.set_state is not None or element.teed:
            return element
        return replace(element, left=shut(element.left), right=shut(element.right))

    front, rear = (replace(vehicle.axle(a), elements=tuple(ready(e) for e in vehicle.axle(a).elements)) for a in AXLES)
    return replace(vehicle, front=front, rear=rear)
