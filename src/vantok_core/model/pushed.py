"""Push tests as a datum: how often an end swings tells its springs' rate, before any height does.

Source: method section 16: `(2 pi f)^2 m_s = k_eff` in series with the tyre; on leaves, which stick, its ln-sigma is a quarter at least.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from math import exp, hypot, log

from vantok_core.base.errors import VantokError
from vantok_core.base.num import G
from vantok_core.facts import Job, Pushed
from vantok_core.facts.classes import SPRINGS
from vantok_core.physics.stance.report import StateReport, report
from vantok_core.physics.stance.states import solve_states
from vantok_core.physics.vehicle import AXLE_CORNERS, AXLES, AxleName, LoadState, Vehicle
from vantok_core.readings.trace import frequency_datum

STICKS, AT_LEAST = 0.25, 0.10
"""Sigma of ln k that a push test leaves at least on leaves, and anywhere (an end that is pushed pitches the other a little; setting)."""
LEAST_LEFT = 0.3
"""A main spring is taken to be no softer than this share of its class's by a push test alone (setting)."""
Moved = Mapping[AxleName, tuple[float, float]]
"""An axle's main spring at the wheel before and after its push test was heard, N/m."""


def with_pushes(
    job: Job, prior: Vehicle, states: Mapping[str, LoadState], sigma: Mapping[AxleName, float]
) -> tuple[Vehicle, dict[AxleName, float], Moved]:
    """Return a prior vehicle with what its push tests before any kit tell of its main springs, sigma of ln k by axle then, and what that moved.

    Arguments: states: by key, of known load; sigma: of ln k by axle, before (of a ratio, 1). A test in a state of unknown load, or one that no spring could
    give, tells nothing.
    """
    read = {p.axle: p for p in job.pushes if p.phase == "before" and p.state in states}
    if not read:
        return prior, dict(sigma), {}
    try:
        solved = solve_states(prior, list(states.values()), check_limits=False)
    except VantokError:
        return prior, dict(sigma), {}  # the calibration itself says which state cannot be
    left, moved = dict(sigma), dict[AxleName, tuple[float, float]]()
    for axle in AXLES:
        if axle in read:
            found = _heard(job, prior, report(prior, solved[read[axle].state]), read[axle], left[axle])
            if found is not None:
                prior, left[axle], moved[axle] = found
    return prior, left, moved


def _heard(
    job: Job, vehicle: Vehicle, told: StateReport, push: Pushed, sigma: float
) -> tuple[Vehicle, float, tuple[float, float]] | None:
    """Return the vehicle with an axle's springs as its push test has them beside their class, sigma of ln k, and the rates (N/m); None where it tells none."""
    axle: AxleName = push.axle
    own = vehicle.axle(axle)
    left, right = AXLE_CORNERS[axle]
    mass = 0.5 * float(told.load[left] + told.load[right]) / G - own.unsprung
    try:
        datum = frequency_datum(push.frequency, push.frequency_sigma, max(mass, 1.0), float(own.tyre_rate))
    except VantokError:
        return None
    main = float(own.spring.k) * float(own.spring.ratio) ** 2
    others = max(0.5 * float(told.bump_rate[left] + told.bump_rate[right]) - main, 0.0)
    rate = max(datum.k_w - others, LEAST_LEFT * main)
    kind = SPRINGS[getattr(job.vehicle, f"{axle}_spring") or "coil_solid"]
    floor = STICKS if kind.law in ("leaf", "parabolic") else AT_LEAST
    read = max(datum.sigma_ln_k * datum.k_w / rate, floor)
    factor = exp(log(rate / main) * sigma**2 / (sigma**2 + read**2))
    spring = replace(own.spring, k=own.spring.k * factor, k2=own.spring.k2 * factor)
    changed = replace(own, spring=spring)
    vehicle = replace(vehicle, front=changed) if axle == "front" else replace(vehicle, rear=changed)
    return vehicle, sigma * read / hypot(sigma, read), (main, main * factor)
