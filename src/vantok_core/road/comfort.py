"""Ride comfort: ISO 2631-1 W_k weighting of vertical acceleration.

Source: method section 7.
"""

from __future__ import annotations

import numpy as np

from vantok_core.base.errors import InputError
from vantok_core.base.num import FloatArray


def w_k_gain(frequency: FloatArray) -> FloatArray:
    """Return the magnitude of the W_k weighting at frequencies (Hz).

    Source: ISO 2631-1:1997 annex A: band limits 0.4 and 100 Hz (Q 1/sqrt 2), transition 12.5 Hz (Q 0.63), step 2.37 and
    3.35 Hz (Q 0.91).
    """
    s = 2j * np.pi * np.asarray(frequency, dtype=float)
    w1, w2, w3, w4, w5, w6 = (2.0 * np.pi * f for f in (0.4, 100.0, 12.5, 12.5, 2.37, 3.35))
    root2, q4, q5, q6 = np.sqrt(2.0), 0.63, 0.91, 0.91
    high = s**2 / (s**2 + root2 * w1 * s + w1**2)
    low = w2**2 / (s**2 + root2 * w2 * s + w2**2)
    transition = (1.0 + s / w3) / (1.0 + s / (q4 * w4) + (s / w4) ** 2)
    step = (1.0 + s / (q5 * w5) + (s / w5) ** 2) / (1.0 + s / (q6 * w6) + (s / w6) ** 2) * (w5 / w6) ** 2
    return np.asarray(np.abs(high * low * transition * step))


def weighted_rms(acceleration: FloatArray, sample_rate: float) -> float:
    """Return the W_k-weighted r.m.s. of a whole run.

    Arguments: acceleration: m/s2, one row of samples; sample_rate: Hz. Result: m/s2. Raises InputError for an empty run.
    The weighting is applied in the frequency domain on the run padded to twice its length, so that nothing wraps round.
    """
    return float(np.sqrt(np.sum(_weighted(acceleration, sample_rate) ** 2) / len(acceleration)))


def running_rms(acceleration: FloatArray, sample_rate: float, over: float = 1.0) -> float:
    """Return the greatest W_k-weighted r.m.s. over any stretch of a run, of `over` seconds; over the whole run where it is shorter.

    Arguments: acceleration: m/s2; sample_rate: Hz. Result: m/s2. Raises InputError as `weighted_rms`. Source: method section 15.
    """
    count = min(max(round(over * sample_rate), 1), len(acceleration))
    total = np.concatenate([[0.0], np.cumsum(_weighted(acceleration, sample_rate)[: len(acceleration)] ** 2)])
    return float(np.sqrt(np.max(total[count:] - total[:-count]) / count))


def _weighted(acceleration: FloatArray, sample_rate: float) -> FloatArray:
    """Return a run weighted, at twice its length (m/s2)."""
    if len(acceleration) < 2 or not sample_rate > 0.0:
        raise InputError("acceleration", len(acceleration), "a run needs samples and a sample rate")
    count = 2 * len(acceleration)
    gain = w_k_gain(np.fft.rfftfreq(count, d=1.0 / sample_rate))
    return np.asarray(np.fft.irfft(np.fft.rfft(acceleration, n=count) * gain, n=count))


WORDS = (
    (2.0, "extremely uncomfortable"),
    (1.25, "very uncomfortable"),
    (0.8, "uncomfortable"),
    (0.5, "fairly uncomfortable"),
    (0.315, "a little uncomfortable"),
)
"""ISO 2631-1 annex C, lower edges in m/s2."""


def comfort_word(weighted: float) -> str:
    """Return the standard's word for a weighted r.m.s. acceleration (m/s2). Source: ISO 2631-1 annex C, lower edges."""
    return next((word for edge, word in WORDS if weighted >= edge), "not uncomfortable")
