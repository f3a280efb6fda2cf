"""What of a vehicle nobody has read, beside its springs' rates: tyres, where a second stage meets and how stiff it is, stop gaps. One unknown each, of a prior
that the method states; readings teach them like the rest.

Source: method section 21.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from vantok_core.base.num import FloatArray, Real
from vantok_core.physics.elements.laws import Law, Stop
from vantok_core.physics.vehicle import Axle, AxleName, Vehicle

TYRE_SPREAD = 0.12
"""ln-sigma of a tyre's rate about its class."""
CONTACT, CONTACT_SIGMA, CONTACT_LEAST = 0.055, 0.018, 0.005
"""Where a second stage meets, at the wheel below the empty height: mean, sigma, least, m."""
RATIO, RATIO_SPREAD = 1.6, 0.35
"""Both stages' rate over the first's: median and ln-sigma, never under one."""
MAYBE_CONTACT = 0.045
"""Sag (m) from which a pack of leaves nobody looked into may be of two stages: its rate there has the ratio's spread about its own."""
GAP, GAP_SIGMA, GAP_LEAST = 0.070, 0.020, 0.005
"""Stop gap of the empty vehicle until it is read: mean, sigma, least, m."""
UNREAD_STOPS = "stops nobody read"
"""What a stop of unknown gap is called, after its axle: never shown as a figure."""
STOPS = ("bump stops", UNREAD_STOPS)
"""What an axle's own stops are called, after its axle."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Trait:
    """One unknown of an axle with a standard normal prior: its name, and the axle with it at so many of its sigmas, the prior's being given;
    fixed: of one whose kink readings can stand to either side of, the same taken as known (see `estimate`); stops: whether it is
    of stop gaps."""

    name: str
    axle: AxleName
    put: Callable[[Axle, Real, Axle], Axle]
    fixed: Callable[[AxleName, float], Trait] | None = None
    stops: bool = False

    def on(self, vehicle: Vehicle, x: Real, prior: Vehicle) -> Vehicle:
        """Return the vehicle with this trait at x of its sigmas; prior: the vehicle before any reading."""
        changed = self.put(vehicle.axle(self.axle), x, prior.axle(self.axle))
        return replace(vehicle, front=changed) if self.axle == "front" else replace(vehicle, rear=changed)


def with_traits(vehicle: Vehicle, traits: Sequence[Trait], x: FloatArray, prior: Vehicle) -> Vehicle:
    """Return the vehicle with each trait at its value (x: sigmas, as a ratio; rows an array each)."""
    for i, trait in enumerate(traits):
        vehicle = trait.on(vehicle, x[..., i], prior)
    return vehicle


def tyres(axle: AxleName) -> Trait:
    """Return the doubt of an axle's tyre rate."""

    def put(own: Axle, x: Real, prior: Axle) -> Axle:
        return replace(own, tyre_rate=prior.tyre_rate * np.exp(TYRE_SPREAD * x))

    return Trait(name=f"{axle} tyres", axle=axle, put=put)


def contact(axle: AxleName, at: float | None = None) -> Trait:
    """Return the doubt of where a second stage meets; at: taken as met at so many of its sigmas, whatever the unknown says."""

    def put(own: Axle, x: Real, _: Axle) -> Axle:
        z2 = np.maximum(CONTACT + CONTACT_SIGMA * (x if at is None else at), CONTACT_LEAST)
        return replace(own, spring=replace(own.spring, z2=z2))

    return Trait(name=f"{axle} second stage's contact", axle=axle, put=put, fixed=None if at is not None else contact)


def ratio(axle: AxleName, median: float = RATIO) -> Trait:
    """Return the doubt of a second stage's rate; median: of both stages over the first, one where nobody knows that there is a second."""

    def put(own: Axle, x: Real, _: Axle) -> Axle:
        both = median * np.exp(RATIO_SPREAD * x)
        if median == 1.0:
            return replace(own, spring=replace(own.spring, k2=own.spring.k * (both - 1.0)))
        # The class is told of both stages together: what the second takes, the first has not.
        more = np.maximum(both, 1.0)
        first = own.spring.k * median / more
        return replace(own, spring=replace(own.spring, k=first, k2=first * (more - 1.0)))

    return Trait(name=f"{axle} second stage's rate", axle=axle, put=put)


def stops(axle: AxleName, mean: float = GAP, least: float | None = GAP_LEAST) -> Trait:
    """Return the doubt of an axle's stop gaps; mean: of the reference state, m; least: None where they may already touch there."""

    def gapped(law: Law | None, gap: Real) -> Law | None:
        return replace(law, gap=gap) if isinstance(law, Stop) else law

    def put(own: Axle, x: Real, _: Axle) -> Axle:
        gap = mean + GAP_SIGMA * x
        gap = gap if least is None else np.maximum(gap, least)
        moved = tuple(
            replace(e, left=gapped(e.left, gap), right=gapped(e.right, gap))
            if e.name == f"{axle} {UNREAD_STOPS}"
            else e
            for e in own.elements
        )
        return replace(own, elements=moved)

    return Trait(name=f"{axle} stop gaps", axle=axle, put=put, stops=True)
