"""What a pitch does to the headlamp's beam and to caster, each with the band that the model leaves it.

Source: method section 4 (consequences); the band from the joint covariance of both axles' heights.
"""

from __future__ import annotations

from math import degrees, sqrt

from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.names import BEAM_AT, BEAM_AT_US
from vantok_core.base.num import FloatArray
from vantok_core.base.say import Quantity
from vantok_core.physics.effects import caster_change, headlamp_rise
from vantok_core.physics.stance.report import StateReport


def beam_moved(report: StateReport, wheelbase: float, lamp: float, errors: FloatArray | None = None) -> Quantity:
    """Return how the beam has moved on the wall (m, up positive), the wall where the reader's custom has it.

    Arguments: wheelbase, lamp: its station, m; errors: covariance of front and rear drop, m2 (see `JobModel.axle_errors`)."""

    def at(distance: float, d_f: float, d_r: float) -> float:
        return float(headlamp_rise(d_f, d_r, wheelbase, lamp, distance))

    def band(distance: float) -> float | None:
        return _band((at(distance, 1.0, 0.0), at(distance, 0.0, 1.0)), errors)

    d_f, d_r = float(report.d_f), float(report.d_r)
    return Quantity(
        at(BEAM_AT, d_f, d_r),
        "length",
        signed=True,
        us=at(BEAM_AT_US, d_f, d_r),
        band=band(BEAM_AT),
        us_band=band(BEAM_AT_US),
    )


def caster_moved(report: StateReport, wheelbase: float, errors: FloatArray | None = None) -> Quantity:
    """Return the caster gained (degrees); wheelbase: m; errors as `beam_moved`."""
    each = degrees(1.0 / wheelbase)
    return Quantity(caster_change(float(report.theta)), "degrees", signed=True, band=_band((-each, each), errors))


def _band(weights: tuple[float, float], errors: FloatArray | None) -> float | None:
    """Return the 90 % half width of a sum over the front's and the rear's drop."""
    if errors is None:
        return None
    front, rear = weights
    spread = front**2 * errors[0, 0] + rear**2 * errors[1, 1] + 2.0 * front * rear * errors[0, 1]
    return NINE_IN_TEN * sqrt(max(float(spread), 0.0))
