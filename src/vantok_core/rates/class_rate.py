"""What a class of vehicle's springs are like before anything of this one was read: a centre and a wide spread, which accuses nobody.

Source: method section 22.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import exp, pi, sqrt

from vantok_core.base.errors import InputError
from vantok_core.base.figure import NINE_IN_TEN

FRONT_HZ = 1.3
REAR_HZ = {"leaf_pickup": 1.15, "coil": 1.25, "independent": 1.25, "van": 1.3, "medium_duty": 1.4, "coach": 1.4}
"""Ride frequency at rated axle load, Hz: of a two-stage pack that of the stage at work there (settings)."""
SPREAD, MAKERS = 0.39, 0.05
"""Sigma of ln k: of a class, and of a rate that its maker gives."""


@dataclass(frozen=True, slots=True, kw_only=True)
class ClassRate:
    """A wheel rate's centre (N/m) and ln-sigma before any reading; sprung mass of the corner at rated load (kg), and the frequency the centre gives (Hz)."""

    m_s: float
    k: float
    sigma_ln: float
    f: float

    @property
    def band(self) -> tuple[float, float]:
        """The 90 % band of the rate, N/m."""
        return self.k * exp(-NINE_IN_TEN * self.sigma_ln), self.k * exp(NINE_IN_TEN * self.sigma_ln)


def class_rate(place: str, kind: str, rating: float, unsprung: float, maker_k: float | None = None) -> ClassRate:
    """Return what an axle's springs are taken to be.

    Formula: `k = m_s (2 pi f)^2`, `m_s = rating / 2 - unsprung`. Arguments: place: front or rear; kind: of a rear, by `REAR_HZ`; rating of the axle, unsprung
    of a corner: kg; maker_k: N/m at the wheel, where its maker gives one. Raises InputError for an unknown place or kind, and a sprung mass not above nought.
    """
    if place not in ("front", "rear") or (place == "rear" and kind not in REAR_HZ):
        raise InputError("kind", f"{place} {kind}", f"a front, or a rear that is one of {', '.join(REAR_HZ)}")
    m_s = rating / 2.0 - unsprung
    if not m_s > 0.0 or (maker_k is not None and not maker_k > 0.0):
        raise InputError(
            "rating", rating, "the rated load must be more than the unsprung mass, and a rate above nought"
        )
    f = FRONT_HZ if place == "front" else REAR_HZ[kind]
    k = maker_k if maker_k is not None else m_s * (2.0 * pi * f) ** 2
    return ClassRate(m_s=m_s, k=k, sigma_ln=SPREAD if maker_k is None else MAKERS, f=sqrt(k / m_s) / (2.0 * pi))
