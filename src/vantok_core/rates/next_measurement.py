"""The next measurement worth taking: what each would leave of a question's variance, and the band it saves a minute.

Source: method section 18.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt

import numpy as np

from vantok_core.base.errors import InputError
from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.num import FloatArray

LEAST_SHARE = 0.05
"""A measurement that saves less than this share of the band is not worth its minutes."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Candidate:
    """A measurement that could be taken now: its slope in the unknowns, sigma (of what it reads, SI) and minutes."""

    name: str
    slope: FloatArray
    sigma: float
    minutes: float

    def __post_init__(self) -> None:
        if not (self.sigma > 0.0 and self.minutes > 0.0):
            raise InputError(self.name, (self.sigma, self.minutes), "sigma and minutes must be above zero")


@dataclass(frozen=True, slots=True, kw_only=True)
class Worth:
    """What a measurement would leave (sigma) and save (half a 90 % band) of the question, SI, and the latter a minute."""

    candidate: Candidate
    sigma_left: float
    band_saved: float

    @property
    def per_minute(self) -> float:
        """Band saved a minute."""
        return self.band_saved / self.candidate.minutes


@dataclass(frozen=True, slots=True, kw_only=True)
class NextMeasurement:
    """The question's sigma now, what each candidate is worth in the order given, and best first; enough: none is worth it."""

    sigma: float
    worths: tuple[Worth, ...]
    enough: bool

    @property
    def band(self) -> float:
        """Half the question's 90 % band."""
        return NINE_IN_TEN * self.sigma

    @property
    def order(self) -> tuple[Worth, ...]:
        """The worths, the most band a minute first, as listed where alike."""
        return tuple(sorted(self.worths, key=lambda w: -w.per_minute))


def next_measurement(
    covariance: FloatArray, question: FloatArray, candidates: Sequence[Candidate], least_share: float = LEAST_SHARE
) -> NextMeasurement:
    """Return what each measurement would be worth for a question.

    Formula: `J_q C J_q^T - (J_q C J_c^T)^2 / (J_c C J_c^T + s_c^2)`. Arguments: covariance C of the unknowns; question: its slope J_q
    in them (all SI); least_share: a share of the band. Raises InputError for shapes that do not belong together. Source: method section 18.
    """
    if covariance.shape != (len(question), len(question)) or any(len(c.slope) != len(question) for c in candidates):
        raise InputError("C", covariance.shape, "covariance, question and candidates must be over the same unknowns")
    variance = float(question @ covariance @ question)
    sigma = sqrt(max(variance, 0.0))
    slopes = np.array([one.slope for one in candidates]).reshape(len(candidates), len(question))
    across = slopes @ covariance
    worths = []
    for one, shared, told in zip(
        candidates, (across @ question).tolist(), (across * slopes).sum(axis=1).tolist(), strict=True
    ):
        own = told + one.sigma**2
        left = sqrt(max(variance - shared**2 / own, 0.0)) if shared else sigma
        worths.append(Worth(candidate=one, sigma_left=left, band_saved=NINE_IN_TEN * (sigma - left)))
    enough = all(w.band_saved < least_share * NINE_IN_TEN * sigma for w in worths)
    return NextMeasurement(sigma=sigma, worths=tuple(worths), enough=enough)
