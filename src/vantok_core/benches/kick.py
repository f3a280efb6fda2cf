"""A kick at the steered wheels, with and without a damper on the linkage.

Source: method section 14.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import pi, sqrt

import numpy as np

from vantok_core.base.errors import InputError

PULSE, KICK = 0.040, 150.0
"""Length (s) and peak (N m) of a usual kick (settings)."""
INERTIA, FRICTION, RETURN = 3.0, 60.0, 900.0
"""Of the steered wheels about their pins: kg m2, N m s, N m/rad (settings)."""
STEP = 1e-4
TENTH = 0.1


@dataclass(frozen=True, slots=True, kw_only=True)
class Kicked:
    """What a kick does to the road wheels: greatest angle (rad), the time after which it stays under a tenth of that (s), damping ratio; the angle over
    time (s, rad) to draw."""

    peak: float
    time_to_tenth: float
    zeta: float
    trace: tuple[tuple[float, float], ...]


def kick(
    damping: float = 0.0,
    lever: float = 0.0,
    *,
    moment: float = KICK,
    pulse: float = PULSE,
    inertia: float = INERTIA,
    friction: float = FRICTION,
    stiffness: float = RETURN,
    span: float = 3.0,
) -> Kicked:
    """Return how the wheels answer half a sine of moment.

    Formula: `J w'' + (c_0 + c_d r_d^2) w' + k_0 w = M(t)`, solved in closed form. Arguments: damping c_d: N s/m; lever r_d: m; moment: N m; pulse, span: s;
    inertia: kg m2; friction: N m s; stiffness: N m/rad. Raises InputError for figures that cannot be. Source: method section 14.
    """
    if min(moment, pulse, inertia, friction, stiffness, span) <= 0.0 or damping < 0.0 or lever < 0.0 or span <= pulse:
        raise InputError(
            "kick",
            (moment, pulse, inertia, friction, stiffness, damping, lever),
            "figures must be above nought, the damper's not below",
        )
    c = friction + damping * lever**2
    apart = np.sqrt(complex(c * c - 4.0 * inertia * stiffness)) or complex(1e-9)
    r_1, r_2 = (-c + apart) / (2.0 * inertia), (-c - apart) / (2.0 * inertia)
    t = np.arange(0.0, span + STEP / 2.0, STEP)
    omega = pi / pulse
    forced = moment / (stiffness - inertia * omega**2 + 1j * c * omega)

    def free(w: float, v: float, at: np.ndarray) -> np.ndarray:
        """Return the free motion from an angle and a speed."""
        a = (v - r_2 * w) / (r_1 - r_2)
        return np.asarray((a * np.exp(r_1 * at) + (w - a) * np.exp(r_2 * at)).real)

    def during(at: np.ndarray) -> np.ndarray:
        return np.asarray((forced * np.exp(1j * omega * at)).imag + free(-forced.imag, -(omega * forced).real, at))

    in_pulse = t <= pulse
    ends = during(np.array([pulse - STEP, pulse, pulse + STEP]))
    after = free(float(ends[1]), float(ends[2] - ends[0]) / (2.0 * STEP), np.maximum(t - pulse, 0.0))
    w = np.where(in_pulse, during(np.minimum(t, pulse)), after)
    peak = float(np.max(np.abs(w)))
    last = int(np.max(np.nonzero(np.abs(w) > TENTH * peak)))
    every = max(len(t) // 300, 1)
    return Kicked(
        peak=peak,
        time_to_tenth=float(t[last]),
        zeta=c / (2.0 * sqrt(inertia * stiffness)),
        trace=tuple(zip(t[::every].tolist(), w[::every].tolist(), strict=True)),
    )
