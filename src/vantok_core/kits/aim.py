"""Where the rear is wanted, school by school, as a ground drop from the reference (method sections 5 and 8).

The front drop is not the helper's to change: its load follows from where the mass sits.
"""

from __future__ import annotations

from dataclasses import dataclass

from vantok_core.base.errors import InputError
from vantok_core.base.names import BEAM_AT
from vantok_core.physics.effects import headlamp_rise


@dataclass(frozen=True, slots=True, kw_only=True)
class Stands:
    """How it stands now: ground drops from the reference, reference heights on one datum (None: not read), all m."""

    wheelbase: float
    d_f: float
    d_r: float
    front_height: float | None = None
    rear_height: float | None = None

    @property
    def reference_rake(self) -> float:
        """Rear less front height in the reference state (m). Raises InputError where they were not read."""
        if self.front_height is None or self.rear_height is None:
            raise InputError("rake", "nothing", "it needs the reference's front and rear heights on one datum")
        return self.rear_height - self.front_height


def to_empty(d_r_empty: float, *, known: bool) -> float:
    """Return the drop of the empty vehicle (m). Raises InputError where its load is not known: that cannot be offered."""
    if not known:
        raise InputError(
            "empty", "nothing", "the empty load is not known: “back to its empty height” cannot be offered"
        )
    return d_r_empty


def raised_by(now: Stands, height: float) -> float:
    """Return the drop that stands a height (m) higher than now. Raises InputError for a height not above zero."""
    if not height > 0.0:
        raise InputError("h", height, "what it is raised by must be above zero")
    return now.d_r - height


def stated_height(now: Stands, height: float, source: str) -> float:
    """Return the drop that stands at a stated rear height (m). Raises InputError without its source or the reference's height."""
    if not source.strip():
        raise InputError("source", "nothing", "a stated height needs its source: the maker, a sister vehicle")
    if now.rear_height is None:
        raise InputError("rear height", "nothing", "the reference's rear height was not read on this datum")
    return now.rear_height - height


def to_rake(now: Stands, rake: float) -> float:
    """Return the drop that stands at a rake (m, rear less front; nought is level). Raises InputError without reference heights."""
    return now.d_f + now.reference_rake - rake


def share_taken_out(now: Stands, share: float) -> float:
    """Return the drop with a share of the sag taken out. Raises InputError for a share outside 0 to 1."""
    if not 0.0 < share <= 1.0:
        raise InputError("share", share, "a share of the sag lies above 0 and up to 1")
    return (1.0 - share) * now.d_r


def gap_kept(now: Stands, sag: float, gap: float, least: float, ratio: float = 1.0) -> float:
    """Return the drop that leaves a stop gap of at least so much; where it does already, the present one.

    Arguments: sag: hub sag now, m; gap: in the reference, m; least: gap wanted, m. Raises InputError for a ratio not above zero.
    """
    if not ratio > 0.0:
        raise InputError("i", ratio, "a motion ratio must be above zero")
    return now.d_r - max(sag - (gap - least) / ratio, 0.0)


def beam_kept(now: Stands, lamp_station: float, band: float, distance: float = BEAM_AT) -> float:
    """Return the drop that brings the beam down to its band's upper edge; where it is there already, the present one.

    Arguments: lamp_station: m; band: m up and down at distance (m). Raises InputError for a beam already below its band: raising
    the rear does not cure that.
    """
    rise = float(headlamp_rise(now.d_f, now.d_r, now.wheelbase, lamp_station, distance))
    if rise < -band:
        raise InputError("beam", rise, "it is below its band already; raising the rear would lower it further")
    if rise <= band:
        return now.d_r
    return now.d_f + now.wheelbase * (band + now.d_f) / (distance - lamp_station)
