"""An axle's spring rate with its band, beside its class's.

Source: method section 3.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import exp

from vantok_core.base.figure import NINE_IN_TEN, TWO_IN_THREE
from vantok_core.model.calibrated import JobModel
from vantok_core.model.prior import learnt_of
from vantok_core.physics.vehicle import AxleName


@dataclass(frozen=True, slots=True, kw_only=True)
class RateBand:
    """An axle's spring rate per wheel with its 90 % band (N/m), the class's usual rate, whether a reading taught it; own: from how many
    of the shop's own vehicles the usual rate is told (nought: from the class alone), spread: two in three of them lie within, N/m."""

    axle: AxleName
    rate: float
    low: float
    high: float
    usual: float
    learned: bool
    own: int = 0
    spread: tuple[float, float] = (0.0, 0.0)

    def frequency_band(self, frequency: float) -> tuple[float, float]:
        """Return the 90 % band (Hz) of a ride frequency at this rate: it goes with the root of the rate."""
        return frequency * (self.low / self.rate) ** 0.5, frequency * (self.high / self.rate) ** 0.5

    @property
    def percent(self) -> float:
        """Half width of the band as a share of the rate."""
        return (self.high - self.low) / (2.0 * self.rate)


def rate_of(model: JobModel, axle: AxleName) -> RateBand:
    """Return an axle's rate with its band, beside the class's."""
    found = model.estimate
    spread = exp(NINE_IN_TEN * found.sigma_ln[axle])
    rate = float(model.vehicle.axle(axle).spring.k + max(model.vehicle.axle(axle).spring.k2, 0.0))
    usual = float(model.prior.axle(axle).spring.k + model.prior.axle(axle).spring.k2)
    learnt = learnt_of(model.job, axle)
    wide = exp(TWO_IN_THREE * learnt.sigma_ln) if learnt else 1.0
    return RateBand(
        own=learnt.n if learnt else 0,
        spread=(usual / wide, usual * wide),
        axle=axle,
        rate=rate,
        low=rate / spread,
        high=rate * spread,
        usual=usual,
        learned=found.sigma_ln[axle] < 0.9 * model.estimate.problem.sigma_ln[axle],
    )
