"""Elements so many times as strong as their data have them: what an estimate makes of a kit.

Source: method section 8.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from vantok_core.base.num import Real
from vantok_core.physics.elements.air import AirSpring, ScaledArea
from vantok_core.physics.elements.laws import Law, Scaled
from vantok_core.physics.vehicle import AXLES, Element, LoadState, Vehicle


def with_strength(vehicle: Vehicle, strength: Mapping[str, Real]) -> Vehicle:
    """Return the vehicle with some elements so many times as strong (by name) as their data have it, whatever they were taken as.

    Air that is shut in a known state stays so, its area so many times as large; other air is held at its pressure.
    """

    def scaled(element: Element) -> Element:
        if element.name not in strength:
            return element
        factor = strength[element.name]
        if element.set_state is not None:
            left, right = (_wider(law, factor) for law in (element.left, element.right))
            return replace(element, left=left, right=right)
        left, right = (_stronger(law, factor) for law in (element.left, element.right))
        return replace(element, left=left, right=right, teed=False)

    front, rear = (replace(vehicle.axle(a), elements=tuple(scaled(e) for e in vehicle.axle(a).elements)) for a in AXLES)
    return replace(vehicle, front=front, rear=rear)


def _wider(law: Law | None, factor: Real) -> Law | None:
    """Return a bag whose area, and so its force, is so many times its data's."""
    if not isinstance(law, AirSpring):
        return _stronger(law, factor)
    own = law.area.area if isinstance(law.area, ScaledArea) else law.area
    return replace(law, area=ScaledArea(area=own, factor=factor))


def _stronger(law: Law | None, factor: Real) -> Law | None:
    if law is None:
        return None
    own = law.law if isinstance(law, Scaled) and law.strength else law
    return Scaled(law=own, factor=factor, strength=True)


def as_strong(state: LoadState, strength: Mapping[str, Real]) -> LoadState:
    """Return a state whose elements, as set in it, are so many times as strong."""
    laws = {
        name: (
            left and Scaled(law=left, factor=strength.get(name, 1.0)),
            right and Scaled(law=right, factor=strength.get(name, 1.0)),
        )
        for name, (left, right) in state.laws.items()
    }
    return replace(state, laws=laws)
