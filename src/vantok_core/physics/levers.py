"""What a load does to the axles: levers, tongue, weight-distributing hitch, centre of mass.

Source: method section 2 (moments about the axles).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from vantok_core.base.errors import InputError
from vantok_core.base.num import G, Real
from vantok_core.physics.vehicle import Item, LoadState, Tongue, Vehicle


@dataclass(frozen=True, slots=True, kw_only=True)
class AxleShare:
    """What the two axles gain, in the unit of what was put on (kg or N)."""

    front: Real
    rear: Real


def _checked_wheelbase(wheelbase: float) -> float:
    if not wheelbase > 0.0:
        raise InputError("wheelbase", wheelbase, "it must be above zero")
    return wheelbase


def item_lever(mass: Real, station: Real, wheelbase: float) -> AxleShare:
    """Return what an item puts on each axle.

    Formula: rear `m s / L`, front `m (1 - s / L)`. Arguments: mass: kg; station: m behind the front axle; wheelbase: m.
    Result: kg. Raises InputError for a wheelbase not above zero. Source: method section 2.
    """
    rear = mass * station / _checked_wheelbase(wheelbase)
    return AxleShare(front=mass - rear, rear=rear)


def items_lever(items: Sequence[Item], wheelbase: float) -> AxleShare:
    """Return what several items put on each axle (kg), as `item_lever` added up."""
    shares = [item_lever(item.mass, item.station, wheelbase) for item in items]
    return AxleShare(front=sum(s.front for s in shares), rear=sum(s.rear for s in shares))


def tongue_lever(tongue_mass: Real, overhang: float, wheelbase: float) -> AxleShare:
    """Return what a tongue mass at the ball puts on each axle.

    Formula: rear `T (L + o) / L`, front `- T o / L`. Arguments: tongue_mass T: kg; overhang o: m behind the rear axle
    (negative: a pin ahead of it); wheelbase L: m. Result: kg. Source: method section 2.
    """
    return item_lever(tongue_mass, wheelbase + overhang, wheelbase)


@dataclass(frozen=True, slots=True, kw_only=True)
class HitchEffect:
    """A weight-distributing hitch at work: moment N m; effective tongue kg; the three axle changes N."""

    moment: Real
    tongue_eff: Real
    front: Real
    rear: Real
    trailer_axle: Real


def hitch_moment(tongue_mass: float, overhang: float, axle_distance: float, restored: float) -> float:
    """Return the spring-bar moment that gives back a fraction of the front axle's loss.

    Formula: `M = r T g o d / (d + o)`. Arguments: tongue_mass T: kg; overhang o, axle_distance d (ball to trailer
    axle): m; restored r: 0 to 1. Result: N m, both bars together. Raises InputError. Source: method section 2.
    """
    if not axle_distance > 0.0:
        raise InputError("d", axle_distance, "the ball to trailer axle distance must be above zero")
    if not 0.0 <= restored <= 1.0:
        raise InputError("r", restored, "the share given back lies between 0 and 1")
    return restored * tongue_mass * G * overhang * axle_distance / (axle_distance + overhang)


def hitch_effect(tongue: Tongue, wheelbase: float) -> HitchEffect:
    """Return what a tongue with spring bars does to the three axles.

    Formula: `T' = T - M / (g d)`; front `M / L - T' g o / L`; rear `T' g - front`; trailer axle `+ M / d`.
    Arguments: tongue: its mass (kg), overhang (m), bar moment (N m), axle distance (m); wheelbase: m.
    Result: effective tongue in kg, axle changes in N. Source: method section 2.
    """
    moment = tongue.bar_moment
    to_trailer = moment / tongue.axle_distance if tongue.axle_distance else 0.0
    effective = tongue.mass - to_trailer / G
    front = (moment - effective * G * tongue.overhang) / _checked_wheelbase(wheelbase)
    return HitchEffect(
        moment=moment, tongue_eff=effective, front=front, rear=effective * G - front, trailer_axle=to_trailer
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class CentreOfMass:
    """Station (m), lateral place (m, left positive) and total load (N)."""

    station: float
    lateral: float
    total: float


def centre_of_mass(
    corner_loads: Sequence[float], wheelbase: float, track_front: float, track_rear: float
) -> CentreOfMass:
    """Return the centre of mass from four corner loads.

    Formula: station `L rear / total`; lateral `((FL - FR) t_f + (RL - RR) t_r) / (2 total)`.
    Arguments: corner_loads FL, FR, RL, RR: N; the rest: m. Result: m, m, N. Raises InputError for a negative load or
    none at all. Source: method section 2.
    """
    fl, fr, rl, rr = corner_loads
    total = fl + fr + rl + rr
    if not total > 0.0 or min(corner_loads) < 0.0:
        raise InputError("corner loads", list(corner_loads), "each must be at least zero and their sum above it")
    lateral = ((fl - fr) * track_front + (rl - rr) * track_rear) / (2.0 * total)
    return CentreOfMass(station=_checked_wheelbase(wheelbase) * (rl + rr) / total, lateral=lateral, total=total)


@dataclass(frozen=True, slots=True, kw_only=True)
class Resultant:
    """A state's added load on the body: force N down, moment about the front axle N m, lateral moment N m, topple N m/rad."""

    force: Real
    pitch: Real
    lateral: Real
    topple: Real


def resultant(vehicle: Vehicle, state: LoadState) -> Resultant:
    """Return a state's load as force and moments on the body (the tongue as `T' g` at the ball and a couple)."""
    force: Real = 0.0
    pitch: Real = 0.0
    lateral: Real = 0.0
    for item in state.items:
        weight = item.mass * G
        force, pitch, lateral = force + weight, pitch + weight * item.station, lateral + weight * item.lateral
    if state.tongue is not None:
        effect = hitch_effect(state.tongue, vehicle.wheelbase)
        pull = effect.tongue_eff * G
        force = force + pull
        pitch = pitch + pull * (vehicle.wheelbase + state.tongue.overhang) - effect.moment
    over = state.overturning
    topple = over.sprung_mass * G * over.arm if over else 0.0
    return Resultant(force=force, pitch=pitch, lateral=lateral, topple=topple)
