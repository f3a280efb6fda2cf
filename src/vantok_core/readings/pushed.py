"""A push test off a phone or logger: an end of the body pushed down and let go, its swing read off the trace.

Source: method-2 section 6 (damping ratio); logarithmic decrement, textbook.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import pi, sqrt

import numpy as np

from vantok_core.base.errors import InputError
from vantok_core.base.num import FloatArray

MOST = 60_000
"""Samples at most."""
LEAST_SWING = 0.08
"""A swing smaller than this share of the greatest is noise (setting)."""
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

    Formula: between turning points half a period apart `d = ln |x_n / x_(n+1)|`, `zeta = d / sqrt(pi^2 + d^2)`, `f = f_d / sqrt(1 - zeta^2)`; means over all of
    them, sigma by their scatter. Arguments: times: s, rising; values: acceleration or height in any one unit. Raises InputError for times that do not rise, too
    few samples, or a trace without three turning points that a body makes. Source: logarithmic decrement, textbook.
    """
    t, x = np.asarray(times, dtype=float), np.asarray(values, dtype=float)
    if len(t) != len(x) or not 20 <= len(t) <= MOST or not np.all(np.isfinite(t)) or not np.all(np.isfinite(x)):
        raise InputError("trace", len(t), f"20 to {MOST} rows of a time and a figure")
    if np.any(np.diff(t) <= 0.0):
        raise InputError("trace", "its times", "each time must be later than the one before")
    turns = _turns(t, _smoothed(t, x))
    if len(turns) < 3:
        raise InputError(
            "trace",
            f"{len(turns)} turning points",
            "three at least: push harder, let go at once, and record till it stands still",
        )
    at, height = (np.array([pair[n] for pair in turns]) for n in (0, 1))
    halves = np.diff(at)
    lost = np.log(np.abs(height[:-1] / height[1:]))
    ratio = lost / np.sqrt(pi**2 + lost**2)
    damping = min(max(float(np.mean(ratio)), 0.0), 0.99)
    damped = 1.0 / (2.0 * float(np.mean(halves)))
    frequency = damped / sqrt(1.0 - damping**2)
    step = float(np.median(np.diff(t)))
    spread = float(np.std(halves, ddof=1)) if len(halves) > 1 else step
    count = sqrt(len(halves))
    return Swing(
        frequency=frequency,
        frequency_sigma=frequency * max(spread, step) / float(np.mean(halves)) / count,
        damping=damping,
        damping_sigma=max(float(np.std(ratio, ddof=1)) / count if len(ratio) > 1 else 0.05, 0.01),
        halves=len(halves),
    )


def _smoothed(t: FloatArray, x: FloatArray) -> FloatArray:
    """Return a trace about its resting place (the mean of its last fifth), means taken over a twentieth of the fastest swing and more."""
    rest = float(np.mean(x[-max(len(x) // 5, 3) :]))
    width = max(round(1.0 / (FASTEST * 4.0) / float(np.median(np.diff(t)))), 1)
    kernel = np.ones(width) / width
    padded = np.pad(x - rest, (width // 2, width - 1 - width // 2), mode="edge")
    found: FloatArray = np.convolve(padded, kernel, mode="valid")
    return found


def _turns(t: FloatArray, x: FloatArray) -> list[tuple[float, float]]:
    """Return the turning points after the greatest swing, from it on, one on either side of rest in turn, until they drown."""
    start = int(np.argmax(np.abs(x)))
    least = LEAST_SWING * abs(float(x[start]))
    found, side, best = [(float(t[start]), float(x[start]))], np.sign(x[start]), None
    for n in range(start + 1, len(x)):
        if x[n] * side < 0.0:  # across: from here on the other side's greatest is sought
            if best is not None and best is not found[-1]:
                found.append(best)
            side, best = -side, (float(t[n]), float(x[n]))
            continue
        if best is not None and abs(x[n]) > abs(best[1]):
            best = (float(t[n]), float(x[n]))
        if best is not None and abs(best[1]) < least and t[n] - found[-1][0] > 1.0 / SLOWEST:
            break
    if best is not None and best is not found[-1]:
        found.append(best)
    kept = found[:1]
    for one in found[1:]:
        half = one[0] - kept[-1][0]
        if abs(one[1]) < least or not 0.5 / FASTEST <= half <= 0.5 / SLOWEST:
            break
        kept.append(one)
    return kept


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
