"""The body as a plane: how far any point of it comes down when its axles do.

Source: method section 1.
"""

from __future__ import annotations

from vantok_core.base.errors import InputError
from vantok_core.base.num import Real


def pitch_change(d_f: Real, d_r: Real, wheelbase: float) -> Real:
    """Return the pitch change, nose-up positive.

    Formula: `(d_r - d_f) / L`. Arguments: d_f, d_r: axle ground drops, m; wheelbase: m. Result: rad.
    Raises InputError for a wheelbase not above zero. Source: method section 1.
    """
    if not wheelbase > 0.0:
        raise InputError("wheelbase", wheelbase, "it must be above zero")
    return (d_r - d_f) / wheelbase


def drop_at(d_f: Real, d_r: Real, wheelbase: float, station: float, phi: Real = 0.0, lateral: float = 0.0) -> Real:
    """Return the drop of any body point.

    Formula: `d_f + s theta - phi y`. Arguments: drops, station, lateral: m; phi: rad. Result: m, positive down.
    Source: method section 1.
    """
    return d_f + station * pitch_change(d_f, d_r, wheelbase) - phi * lateral


def hitch_drop(d_f: Real, d_r: Real, wheelbase: float, overhang: float) -> Real:
    """Return the drop at the ball, `overhang` m behind the rear axle: `d_r + (o / L)(d_r - d_f)`, m."""
    return drop_at(d_f, d_r, wheelbase, wheelbase + overhang)
