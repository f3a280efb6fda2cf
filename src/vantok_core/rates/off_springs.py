"""What a load nobody weighed is read to be off the springs, and what that says of an axle's limit: never "within".

Source: method section 8.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from math import exp, hypot, sqrt
from typing import Literal

import numpy as np

from vantok_core.base.errors import InputError
from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.num import FloatArray
from vantok_core.rates.directions import shares_of
from vantok_core.rates.estimate import Estimate
from vantok_core.rates.problem import UncertainLoad

Verdict = Literal["probably within, weigh it", "probably over, weigh it before anything is fitted", "cannot be told"]


def prior_sigma(rating: float | None, reference: float | None) -> float:
    """Return the prior sigma of an axle's unrecorded gain: half its rating, without one half its reference load (all kg).

    Raises InputError where neither is known: the state cannot be estimated, and the plate says what is needed. Source: method
    section 8.
    """
    known = rating if rating is not None else reference
    if known is None or not known > 0.0:
        raise InputError(
            "axle rating",
            known,
            "read it off the plate: without it, or the axle's load, nothing can be told of this load",
        )
    return 0.5 * known


def unknown_load(front_sigma: float, rear_sigma: float) -> tuple[UncertainLoad, UncertainLoad]:
    """Return an unrecorded load as two unknowns, gains at the front and the rear axle, either sign; front_sigma,
    rear_sigma: prior, kg."""
    return UncertainLoad(mass=0.0, sigma=front_sigma), UncertainLoad(mass=0.0, sigma=rear_sigma)


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadOff:
    """A load read off the springs: gains of both axles and their sum with sigmas (kg); its centre (m) and sigma, None where not told."""

    front: float
    rear: float
    sigma_front: float
    sigma_rear: float
    sigma_mass: float
    centre: float | None
    sigma_centre: float | None

    @property
    def mass(self) -> float:
        """Its whole mass (kg)."""
        return self.front + self.rear


def read_off(found: Estimate, front: str, rear: str, wheelbase: float) -> ReadOff:
    """Return an unrecorded load, by the names of its two unknowns; its centre is told only where its mass is.

    Formula: centre `L m_r / (m_f + m_r)` where `|m_f + m_r| > 1.645` of its sigma. Arguments: wheelbase: m. Source: method section 8.
    """
    covariance = found.load_covariance([front, rear])
    m_f, m_r = found.loads[front], found.loads[rear]
    mass, sigma_mass = m_f + m_r, sqrt(float(covariance.sum()))
    centre = sigma_centre = None
    if abs(mass) > NINE_IN_TEN * sigma_mass:
        centre = wheelbase * m_r / mass
        slope = np.array([-wheelbase * m_r, wheelbase * m_f]) / mass**2
        sigma_centre = sqrt(float(slope @ covariance @ slope))
    return ReadOff(
        front=m_f,
        rear=m_r,
        sigma_front=sqrt(float(covariance[0, 0])),
        sigma_rear=sqrt(float(covariance[1, 1])),
        sigma_mass=sigma_mass,
        centre=centre,
        sigma_centre=sigma_centre,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class MarginOff:
    """An axle's load against a limit, off the springs: load, sigma, margin, the 90 % band of the load (kg), and what may be said."""

    load: float
    sigma: float
    margin: float
    band: tuple[float, float]
    verdict: Verdict


def gain_band(gain: float, sigma: float) -> tuple[float, float]:
    """Return the 90 % band of a gain of some sigma (kg): a ratio's where it is well told, else plus and minus. Source: method section 8."""
    if abs(gain) > 2.0 * sigma:
        spread = exp(NINE_IN_TEN * sigma / abs(gain))
        low, high = sorted((gain / spread, gain * spread))
        return low, high
    return gain - NINE_IN_TEN * sigma, gain + NINE_IN_TEN * sigma


def margin_off(reference: float, reference_sigma: float, gain: float, sigma: float, limit: float) -> MarginOff:
    """Return what an axle's load, as read off the springs, says of its limit.

    Arguments: reference, reference_sigma: the axle's load in the reference state; gain, sigma: everything on board beyond it; limit:
    all kg. Source: method section 8.
    """
    low, high = gain_band(gain, sigma)
    load, own = reference + gain, NINE_IN_TEN * reference_sigma
    band = (load - hypot(gain - low, own), load + hypot(high - gain, own))
    verdict: Verdict = "cannot be told"
    if band[1] < limit:
        verdict = "probably within, weigh it"
    elif band[0] > limit:
        verdict = "probably over, weigh it before anything is fitted"
    return MarginOff(load=load, sigma=hypot(sigma, reference_sigma), margin=limit - load, band=band, verdict=verdict)


def axle_gain(found: Estimate, levers: Mapping[str, float]) -> tuple[float, float, FloatArray]:
    """Return an axle's gain and sigma (kg), and its slope in the estimate's unknowns. levers: share of each load, by name, on it."""
    names = list(levers)
    share = np.array([levers[name] for name in names])
    told = shares_of(names, found.problem.directions)
    slope = np.zeros(len(found.best))
    slope[2 + len(found.problem.places) : found.problem.first_kit] = share @ told
    gain = sum(levers[name] * found.loads[name] for name in names)
    return float(gain), sqrt(max(float(share @ found.load_covariance(names) @ share), 0.0)), slope
