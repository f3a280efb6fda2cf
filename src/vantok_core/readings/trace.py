"""What a logger's or a phone's trace says: a push test's swing, peaks by hand, a road before and after, a frequency as a datum.

Source: method section 16.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from math import exp, hypot, log, pi, sqrt
from statistics import fmean, stdev

import numpy as np
from scipy.optimize import least_squares

from vantok_core.base.errors import InputError
from vantok_core.base.num import FloatArray

STANDS = 3.0
"""So many times the noise a peak must stand out."""
ONE_CYCLE = 0.05
"""Sigma of a frequency told by one cycle, as a share of it."""
DRAWS, SEED, FEWEST, FEW = 2000, 11, 3, 8
"""Draws of pieces; pieces of a run that are needed, and under which that is said."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Swing:
    """A damped swing: log decrement a cycle, damping ratio, frequency as it swings and undamped (Hz), noise (sigma, the trace's unit), sigmas of ratio and
    undamped frequency by the fit (nought: not fitted), how many cycles stand above the noise."""

    delta: float
    zeta: float
    f_damped: float
    f: float
    noise: float = 0.0
    sigma_zeta: float = 0.0
    sigma_f: float = 0.0
    cycles: float = 0.0


def swing_of(delta: float, f_damped: float, noise: float = 0.0) -> Swing:
    """Return a swing from its log decrement and its frequency (f_damped: Hz; delta: 1; noise: the trace's unit).

    Formula: `zeta = delta / sqrt(4 pi^2 + delta^2)`, `f = f_damped / sqrt(1 - zeta^2)`. Source: method section 16.
    """
    zeta = delta / hypot(2.0 * pi, delta)
    return Swing(delta=delta, zeta=zeta, f_damped=f_damped, f=f_damped / sqrt(1.0 - zeta**2), noise=noise)


def push_test(x: FloatArray, t: FloatArray, release: float | None = None) -> Swing:
    """Return the swing of a body that was let go: a damped oscillation and a straight line fitted together.

    Arguments: x: heights (m) or accelerations (m/s2); t: s; release: when it was let go, s, the first sample unless told. Raises InputError where the trace
    is short, is no figure, or no two peaks stand three times above its noise. Source: method section 16.
    """
    kept = t >= (t[0] if release is None else release) - 1e-9 if len(t) else np.zeros(0, dtype=bool)
    x, t = np.asarray(x, dtype=float)[kept], np.asarray(t, dtype=float)[kept]
    if len(x) < 8 or len(x) != len(t) or not np.all(np.isfinite(x)) or not np.all(np.diff(t) > 0.0):
        raise InputError("x", len(x), "a trace of figures over a rising time is needed, from the release on")
    t = t - t[0]
    rate, omega, cost, unit = min((_fitted(x, t, f) for f in _starts(x, t)), key=lambda one: one[2])
    noise = sqrt(2.0 * cost / max(len(x) - 6, 1))
    size = _size(x, t, rate, omega)
    delta, f_damped = rate * 2.0 * pi / omega, omega / (2.0 * pi)
    second = size * exp(-rate * 2.0 * pi / omega)
    if not (rate > 0.0 and second > STANDS * noise and t[-1] * f_damped >= 1.0):
        raise InputError("x", len(x), "no two peaks stand above three times its noise: push harder, or read longer")
    found = swing_of(delta, f_damped, noise)
    # zeta = rate / w and w^2 = rate^2 + omega^2, w the undamped pulse: each sigma by the chain rule.
    pulse = hypot(rate, omega)
    spread = noise**2 * unit
    of_zeta = np.array([omega**2, -rate * omega]) / pulse**3
    of_f = np.array([rate, omega]) / (2.0 * pi * pulse)
    above = log(max(size / (STANDS * noise), 1.0)) / rate if noise > 0.0 else t[-1]
    return replace(
        found,
        sigma_zeta=sqrt(float(of_zeta @ spread @ of_zeta)),
        sigma_f=sqrt(float(of_f @ spread @ of_f)),
        cycles=f_damped * min(above, float(t[-1])),
    )


def _starts(x: FloatArray, t: FloatArray) -> list[float]:
    """Return frequencies (Hz) to begin a fit from: the strongest of the spectrum, and those about it."""
    step = t[-1] / (len(t) - 1)
    even = np.interp(np.arange(len(t)) * step, t, x)
    spectrum = np.abs(np.fft.rfft((even - np.mean(even)) * np.hanning(len(even)), n=8 * len(even)))
    frequency = np.fft.rfftfreq(8 * len(even), step)
    inside = (frequency > 0.4) & (frequency < 8.0)
    found = frequency[inside][np.argsort(spectrum[inside])[-1]] if np.any(inside) else 1.5
    return [0.7 * found, float(found), 1.4 * found, 1.2, 1.8]


def _basis(t: FloatArray, rate: float, omega: float) -> FloatArray:
    fall = np.exp(-rate * t)
    return np.column_stack([fall * np.cos(omega * t), fall * np.sin(omega * t), np.ones_like(t), t])


def _size(x: FloatArray, t: FloatArray, rate: float, omega: float) -> float:
    """Return the size of the fitted swing at the release."""
    by, *_ = np.linalg.lstsq(_basis(t, rate, omega), x, rcond=None)
    return float(hypot(by[0], by[1]))


def _fitted(x: FloatArray, t: FloatArray, start: float) -> tuple[float, float, float, FloatArray]:
    """Return the fall (1/s) and pulse (rad/s) of the best swing from a start (Hz), half the squares left, and their covariance for a noise of one."""

    def left(u: FloatArray) -> FloatArray:
        basis = _basis(t, u[0], u[1])
        by, *_ = np.linalg.lstsq(basis, x, rcond=None)
        return np.asarray(basis @ by - x)

    found = least_squares(left, [1.0, 2.0 * pi * start], bounds=([0.0, 1.0], [60.0, 80.0]), x_scale=[1.0, 5.0])
    slopes = np.asarray(found.jac, dtype=float)
    unit = np.linalg.pinv(slopes.T @ slopes)
    return float(found.x[0]), float(found.x[1]), float(found.cost), unit


@dataclass(frozen=True, slots=True, kw_only=True)
class Peaks:
    """What peaks read by hand tell: how many were used, the swing, sigma of its damping ratio (None: no noise was told)."""

    used: int
    swing: Swing
    sigma_zeta: float | None


def peaks(sizes: Sequence[float], times: Sequence[float], noise: float = 0.0) -> Peaks:
    """Return the swing that peaks of one sign, one cycle apart, tell.

    Arguments: sizes: from the level at rest, noise: sigma, one unit; times: s. Those from the first that does not stand above three times the noise on are
    left out. Raises InputError for fewer than two, a size not above nought, or times that do not rise. Source: method section 16.
    """
    used = next((n for n, size in enumerate(sizes) if not size > max(STANDS * noise, 0.0)), len(sizes))
    if used < 2 or len(times) != len(sizes) or any(b <= a for a, b in pairwise(times)):
        raise InputError("peaks", list(sizes), "two peaks above three times the noise, at rising times, are needed")
    first, last, cycles = sizes[0], sizes[used - 1], used - 1
    delta = log(first / last) / cycles
    if not delta > 0.0:
        raise InputError("peaks", list(sizes), "they must fall from one to the next")
    swing = swing_of(delta, cycles / (times[used - 1] - times[0]))
    slope = 4.0 * pi**2 / (4.0 * pi**2 + delta**2) ** 1.5
    sigma = slope * hypot(noise / first, noise / last) / cycles if noise > 0.0 else None
    return Peaks(used=used, swing=swing, sigma_zeta=sigma)


@dataclass(frozen=True, slots=True, kw_only=True)
class BeforeAfter:
    """A road after against before: the ratio of weighted r.m.s., its 90 % band, whether that tells a difference, whether there were few pieces."""

    ratio: float
    band: tuple[float, float]
    told: bool
    few: bool


def before_after(before: Sequence[float], after: Sequence[float], draws: int = DRAWS) -> BeforeAfter:
    """Return how a road was driven over after against before, by weighted r.m.s. of five-second pieces (before, after: m/s2), each run's drawn anew on its
    own.

    Raises InputError for fewer than three pieces or a figure not above nought. draws: how many. Source: method section 16.
    """
    runs = [np.asarray(run, dtype=float) ** 2 for run in (before, after)]
    if min(map(len, runs)) < FEWEST or any(not np.all(run > 0.0) for run in runs):
        raise InputError("pieces", min(map(len, runs)), "three pieces of each run at least, each above nought")
    rng = np.random.default_rng(SEED)
    means = [np.mean(run[rng.integers(0, len(run), size=(draws, len(run)))], axis=1) for run in runs]
    low, high = np.quantile(np.sqrt(means[1] / means[0]), (0.05, 0.95))
    ratio = sqrt(float(np.mean(runs[1]) / np.mean(runs[0])))
    band = (float(low), float(high))
    return BeforeAfter(ratio=ratio, band=band, told=not band[0] <= 1.0 <= band[1], few=min(map(len, runs)) < FEW)


def of_cycles(cycles: Sequence[float]) -> tuple[float, float]:
    """Return a damped frequency and its sigma (Hz) from lengths of cycles (s).

    Formula: `1 / mean`, sigma `f^2` times the cycles' standard deviation over root n; of one cycle 5 %. Raises InputError for none, or one not above
    nought. Source: method section 16.
    """
    if not cycles or min(cycles) <= 0.0:
        raise InputError("cycles", list(cycles), "one cycle at least, each above nought")
    f = 1.0 / fmean(cycles)
    return f, ONE_CYCLE * f if len(cycles) == 1 else f**2 * stdev(cycles) / sqrt(len(cycles))


@dataclass(frozen=True, slots=True, kw_only=True)
class FrequencyDatum:
    """A bounce frequency as a datum: undamped with sigma (Hz), rate as it swings and of the spring at the wheel (N/m), ln-sigma of the latter."""

    f: float
    sigma_f: float
    k_eff: float
    k_w: float
    sigma_ln_k: float


def frequency_datum(
    f_damped: float, sigma_f: float, sprung_mass: float, tyre_rate: float, zeta: float = 0.0
) -> FrequencyDatum:
    """Return the wheel rate that a corner's bounce tells, the tyre taken out of the series.

    Arguments: f_damped, sigma_f: Hz; sprung_mass: of the corner, kg; tyre_rate: of its tyres together, N/m; zeta: 1. Raises InputError for figures not
    above nought, zeta out of 0 to 1, or a rate not under the tyre's. Source: method section 16.
    """
    if not (f_damped > 0.0 and sprung_mass > 0.0 and tyre_rate > 0.0 and 0.0 <= zeta < 1.0 and sigma_f >= 0.0):
        raise InputError("f", f_damped, "frequency, mass and tyre rate must be above nought, zeta from 0 to 1")
    undamped = sqrt(1.0 - zeta**2)
    f, sigma = f_damped / undamped, sigma_f / undamped
    k_eff = (2.0 * pi * f) ** 2 * sprung_mass
    if not k_eff < tyre_rate:
        raise InputError("k_eff", k_eff, "it must be under the tyre's own rate: look at mass and frequency")
    k_w = k_eff * tyre_rate / (tyre_rate - k_eff)
    return FrequencyDatum(f=f, sigma_f=sigma, k_eff=k_eff, k_w=k_w, sigma_ln_k=2.0 * sigma / f * k_w / k_eff)
