"""What a stance does: headlamps, caster, camber, toe, front grip, bump travel (method section 4, consequences)."""

from __future__ import annotations

from math import degrees

from vantok_core.base.errors import InputError
from vantok_core.base.names import BEAM_AT
from vantok_core.base.num import G, Real
from vantok_core.physics.plane import drop_at, pitch_change


def headlamp_rise(d_f: Real, d_r: Real, wheelbase: float, lamp_station: float, distance: float = BEAM_AT) -> Real:
    """Return how far the beam rises at a distance ahead of the lamp, up positive.

    Formula: `D theta - d(lamp station)`. Arguments: ground drops, wheelbase, lamp_station (mostly negative), distance D:
    m. Result: m. Raises InputError for a distance not above zero. Source: method section 4.
    """
    if not distance > 0.0:
        raise InputError("D", distance, "the distance must be above zero")
    theta = pitch_change(d_f, d_r, wheelbase)
    return distance * theta - drop_at(d_f, d_r, wheelbase, lamp_station)


def caster_change(theta: float) -> float:
    """Return the change of caster in degrees for a pitch change (rad, nose-up positive): it follows the body."""
    return degrees(theta)


def wheel_angle_change(gain: float, hub_sag: float) -> float:
    """Return the change of camber or toe of an independent wheel.

    Formula: gain times hub sag. Arguments: gain: deg per m, vehicle data; hub_sag: m. Result: deg. Source: method
    section 4.
    """
    return gain * hub_sag


def front_share_lost(front_now: float, front_empty: float) -> float:
    """Return the share of the front axle's unloaded load that is lost; braking and steering grip fall with it.

    Formula: `(empty - now) / empty`. Arguments: front_now, front_empty: N or kg. Result: share, negative for a gain. Raises InputError for an
    empty load not above zero. Source: method section 2.
    """
    if not front_empty > 0.0:
        raise InputError("front load", front_empty, "the empty front axle load must be above zero")
    return (front_empty - front_now) / front_empty


def travel_left(gap_now: float, gap_empty: float) -> float:
    """Return the bump travel left as a share of the empty vehicle's (gap_now, gap_empty: m). Raises InputError for no empty gap."""
    if not gap_empty > 0.0:
        raise InputError("stop gap", gap_empty, "the empty stop gap must be above zero")
    return gap_now / gap_empty


def load_moved_by_levelling(mass: float, centre_height: float, pitch: float, wheelbase: float) -> float:
    """Return the axle load that levelling the body moves, which is next to nothing.

    Formula: `m g h theta / L`. Arguments: mass: kg; centre_height h: m; pitch theta taken out: rad; wheelbase: m.
    Result: N put back on the front axle. Raises InputError for a wheelbase not above zero. Source: method section 2, conservation.
    """
    if not wheelbase > 0.0:
        raise InputError("wheelbase", wheelbase, "it must be above zero")
    return mass * G * centre_height * pitch / wheelbase
