"""A push test off a phone or logger: an end of the body pushed down and let go, its swing read off the trace.

Source: method section 16.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from vantok_core.base.errors import InputError
from vantok_core.readings.trace import push_test

MOST = 60_000
"""Samples at most."""
LEAST_SIGMA = 0.01
"""No swing is known better than this (sigma of the damping ratio; share of the frequency; settings)."""
SLOWEST, FASTEST = 0.5, 8.0
"""Between which frequencies (Hz) a body swings on its springs (settings)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Swing:
    """How a body swings when let go: undamped frequency (Hz) and share of critical damping, each with its sigma; how many half swings told it."""

    frequency: float
    frequency_sigma: float
    damping: float
    damping_sigma: float
    halves: int


def swing_of(times: Sequence[float], values: Sequence[float]) -> Swing:
    """Return how a body swings by its trace after it was let go.

    From its greatest departure on, see `trace.push_test`. Arguments: times: s, rising; values: acceleration or height in any one unit. Raises InputError for
    times that do not rise, too few samples, or a trace without a swing that a body makes. Source: method section 16.
    """
    t, x = np.asarray(times, dtype=float), np.asarray(values, dtype=float)
    if len(t) != len(x) or not 20 <= len(t) <= MOST or not np.all(np.isfinite(t)) or not np.all(np.isfinite(x)):
        raise InputError("trace", len(t), f"20 to {MOST} rows of a time and a figure")
    if np.any(np.diff(t) <= 0.0):
        raise InputError("trace", "its times", "each time must be later than the one before")
    rest = float(np.mean(x[-max(len(x) // 5, 3) :]))
    found = push_test(x, t, float(t[int(np.argmax(np.abs(x - rest)))]))
    if not SLOWEST <= found.f <= FASTEST:
        raise InputError("trace", f"{found.f:.2f} Hz", f"a body swings at {SLOWEST:g} to {FASTEST:g} Hz on its springs")
    return Swing(
        frequency=found.f,
        frequency_sigma=max(found.sigma_f, LEAST_SIGMA * found.f),
        damping=found.zeta,
        damping_sigma=max(found.sigma_zeta, LEAST_SIGMA),
        halves=max(round(2.0 * found.cycles), 2),
    )


def read_trace(text: str) -> tuple[list[float], list[float]]:
    """Return times (s) and figures of a trace as text: two columns with comma, semicolon, tab or blanks between, a heading or not.

    Raises InputError naming the first line that is no pair of figures.
    """
    times, values = list[float](), list[float]()
    for n, line in enumerate(text.replace("\r\n", "\n").split("\n"), 1):
        parts = line.replace(";", " ").replace("\t", " ").replace(",", " ").split()
        if not parts:
            continue
        try:
            pair = float(parts[0]), float(parts[1])
        except (ValueError, IndexError) as error:
            if not times and n == 1:
                continue  # its heading
            raise InputError("trace", f"line {n}", "a time in seconds and a figure, with a comma between") from error
        times.append(pair[0])
        values.append(pair[1])
        if len(times) > MOST:
            raise InputError("trace", f"more than {MOST} lines", "record a few seconds, not an hour")
    return times, values
