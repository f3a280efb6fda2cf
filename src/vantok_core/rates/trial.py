"""A vehicle and its loads at trial values of what is not known.

Source: method section 3.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from vantok_core.base.num import Real, highest
from vantok_core.physics.vehicle import Axle, LoadState, Tongue, Vehicle

TONGUE = "tongue"


def _rated(axle: Axle, rate: Real, prior: Axle) -> Axle:
    """Return the axle with its spring at a rate (N/m), a second stage in the prior's proportion to the first."""
    second = prior.spring.k2 * rate / prior.spring.k if highest(prior.spring.k2) > 0.0 else 0.0
    return replace(axle, spring=replace(axle.spring, k=rate, k2=second))


def with_rates(vehicle: Vehicle, front: Real, rear: Real, prior: Vehicle) -> Vehicle:
    """Return the vehicle at the given front and rear rates (N/m), second stages in the prior's proportion."""
    ahead, behind = _rated(vehicle.front, front, prior.front), _rated(vehicle.rear, rear, prior.rear)
    return replace(vehicle, front=ahead, rear=behind)


def with_masses(state: LoadState, masses: Mapping[str, Real]) -> LoadState:
    """Return the state with the given masses (kg) by item name; the tongue's is `state:tongue`."""
    items = tuple(replace(item, mass=masses.get(item.name, item.mass)) for item in state.items)
    tongue: Tongue | None = state.tongue
    name = f"{state.name}:{TONGUE}"
    if tongue is not None and name in masses:
        # The spring bars were set for the stated tongue; their moment stays.
        tongue = replace(tongue, mass=masses[name])
    return replace(state, items=items, tongue=tongue)
