"""Roads under each wheel, and manoeuvres, against distance and time (method sections 7 and 15, and the additions to 7)."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

import numpy as np
from scipy.special import k1

from vantok_core.base.errors import InputError
from vantok_core.base.num import FloatArray

RoadKind = Literal["flat", "bump", "pothole", "step", "washboard", "cosines", "iso8608"]
ROUGHNESS = {"B": 64e-6, "C": 256e-6, "D": 1024e-6, "E": 4096e-6}
"""ISO 8608 G_d(n_0) at n_0 = 0.1 cycle/m, m3."""
N_0 = 0.1
Term = tuple[float, float, float]
"""Amplitude m, wave number cycle/m, phase rad."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Road:
    """A road; heights m, positive up. A bump's height or a pothole's depth over a length; a step over its ramp (`length`); a washboard's
    amplitude from the middle, wavelength and length; cosines by terms; a random road by ISO 8608 class, seed and limits (cycle/m).

    sides: which wheels meet it; stagger: how much later the right side does, m; at: where the shape begins, each added up; fade: m over
    which cosines and random roads come in (None: none for cosines, 10 m for a random road); separation: of the two tracks, m.
    """

    kind: RoadKind = "flat"
    height: float = 0.0
    length: float = 1.0
    amplitude: float = 0.0
    wavelength: float = 1.0
    sides: Literal["left", "right", "both"] = "both"
    stagger: float = 0.0
    at: tuple[float, ...] = (0.0,)
    terms: tuple[Term, ...] = ()
    terms_right: tuple[Term, ...] | None = None
    fade: float | None = None
    roughness: str = "B"
    seed: int = 1
    waves: int = 120
    n_lo: float = 0.02
    n_hi: float = 3.0
    separation: float | None = None

    def __post_init__(self) -> None:
        if not (self.length > 0.0 and self.wavelength > 0.0):
            raise InputError("length", self.length, "the length of a road shape must be above zero")
        if self.kind in ("bump", "pothole") and self.height < 0.0:
            raise InputError("height", self.height, "a bump's height or a pothole's depth cannot be negative")
        if self.kind == "iso8608" and self.roughness not in ROUGHNESS:
            raise InputError("class", self.roughness, "a random road is of class B, C, D or E")

    @property
    def end(self) -> float | None:
        """The last x of its shape (m), None for a road without end."""
        if self.kind in ("cosines", "iso8608"):
            return None
        return 0.0 if self.kind == "flat" else max(self.at) + self.length + max(self.stagger, 0.0)

    def left_right(self, x: FloatArray, separation: float = 1.6) -> tuple[FloatArray, FloatArray]:
        """Return the road's height (m) under the left and right wheel at distance x (m) from its beginning.

        separation: of the tracks (m) where the road has none of its own.
        """
        late = x - self.stagger
        if self.kind == "iso8608":
            left, right = self._random(x, late, self.separation or separation)
        elif self.kind == "cosines":
            right_terms = self.terms if self.terms_right is None else self.terms_right
            left, right = self._cosines(x, self.terms), self._cosines(late, right_terms)
        else:
            left, right = (sum((self._shape(place - a) for a in self.at), np.zeros_like(x)) for place in (x, late))
        zero = np.zeros_like(x)
        return (zero if self.sides == "right" else left), (zero if self.sides == "left" else right)

    def _shape(self, x: FloatArray) -> FloatArray:
        along = x / self.length
        inside = (along > 0.0) & (along < 1.0)
        wave = 0.5 * self.height * (1.0 - np.cos(2.0 * np.pi * along))
        if self.kind == "bump":
            return np.where(inside, wave, 0.0)
        if self.kind == "pothole":
            return np.where(inside, -wave, 0.0)
        if self.kind == "washboard":
            return np.where(inside, self.amplitude * np.sin(2.0 * np.pi * x / self.wavelength), 0.0)
        if self.kind == "step":
            return np.asarray(0.5 * self.height * (1.0 - np.cos(np.pi * np.clip(along, 0.0, 1.0))))
        return np.zeros_like(x)

    def _faded(self, x: FloatArray, usual: float) -> FloatArray:
        fade = usual if self.fade is None else self.fade
        return np.clip(x / fade, 0.0, 1.0) if fade > 0.0 else (x >= 0.0).astype(float)

    def _cosines(self, x: FloatArray, terms: tuple[Term, ...]) -> FloatArray:
        total = sum((a * np.cos(2.0 * np.pi * n * x + phase) for a, n, phase in terms), np.zeros_like(x))
        return np.asarray(total * self._faded(x, 0.0))

    def _random(self, x: FloatArray, late: FloatArray, separation: float) -> tuple[FloatArray, FloatArray]:
        """Return both tracks: cells in geometric progression, each with its exact share of the variance; the tracks' coherence is that of
        an isotropic surface, `a K_1(a)`."""
        n, amplitude = cells(self.roughness, self.n_lo, self.n_hi, self.waves)
        phases = 2.0 * np.pi * drawn(self.seed, 2 * self.waves)
        a = 2.0 * np.pi * n * separation
        shared = a * k1(a)
        left, right = np.zeros_like(x), np.zeros_like(x)
        for j in range(self.waves):
            p, q, w = phases[2 * j], phases[2 * j + 1], 2.0 * np.pi * n[j]
            left += amplitude[j] * np.cos(w * x + p)
            own = np.sqrt(max(1.0 - shared[j] ** 2, 0.0))
            right += amplitude[j] * (shared[j] * np.cos(w * late + p) + own * np.cos(w * late + q))
        return left * self._faded(x, 10.0), right * self._faded(late, 10.0)


def cells(roughness: str, n_lo: float, n_hi: float, count: int) -> tuple[FloatArray, FloatArray]:
    """Return wave numbers (cycle/m) and amplitudes (m) of a class's cells between two wave numbers (n_lo, n_hi: cycle/m, SI 1/m).

    Formula: `A_j = sqrt(2 G_d n_0^2 (1/e_j - 1/e_j+1))`. Raises InputError for limits out of order. Source: additions to section 7.
    """
    if not (0.0 < n_lo < n_hi and count > 0):
        raise InputError("n_lo", (n_lo, n_hi), "the lower wave number must be above zero and below the upper")
    edges = np.geomspace(n_lo, n_hi, count + 1)
    density = ROUGHNESS[roughness] * N_0**2
    return np.sqrt(edges[:-1] * edges[1:]), np.sqrt(2.0 * density * (1.0 / edges[:-1] - 1.0 / edges[1:]))


def rms_height(roughness: str, n_lo: float, n_hi: float) -> float:
    """Return the r.m.s. height (m) of a class between two wave numbers (n_lo, n_hi: cycle/m, SI 1/m). Raises InputError as `cells`."""
    _, amplitude = cells(roughness, n_lo, n_hi, 1)
    return float(amplitude[0] / np.sqrt(2.0))


def drawn(seed: int, count: int) -> FloatArray:
    """Return numbers from 0 to 1 of the generator stated with the worked cases, so that before and after drive the same road."""
    x, found = seed, []
    for _ in range(count):
        x = (1_664_525 * x + 1_013_904_223) % 2**32
        found.append(x / 2**32)
    return np.array(found)


AIR_DENSITY = 1.225
SIDE_DRAG = 1.1


@dataclass(frozen=True, slots=True, kw_only=True)
class Manoeuvre:
    """Lateral acceleration a_y m/s2, left turn positive, or a gust's push N, left positive, on its height above the roll axis m.

    steady_turn: rises over `period` s and stays; lane_change: one sine; slalom: sines to the end; gust: a square pulse of `period` s.
    """

    kind: Literal["none", "steady_turn", "lane_change", "slalom", "gust"] = "none"
    a_y: float = 0.0
    period: float = 1.0
    start: float = 0.0
    push: float = 0.0
    push_height: float = 0.0
    _turns: tuple[str, ...] = field(default=("steady_turn", "lane_change", "slalom"), init=False, repr=False)

    def __post_init__(self) -> None:
        if not self.period > 0.0:
            raise InputError("period", self.period, "a period, ramp or duration must be above zero")

    @property
    def turns(self) -> bool:
        """Whether it is a turn."""
        return self.kind in self._turns

    @property
    def end(self) -> float | None:
        """When it is over (s), None for one without end."""
        if self.kind == "slalom":
            return None
        return 0.0 if self.kind == "none" else self.start + self.period

    def at(self, t: FloatArray) -> FloatArray:
        """Return lateral acceleration (m/s2) at times t (s)."""
        along = (t - self.start) / self.period
        if self.kind == "steady_turn":
            return self.a_y * np.clip(along, 0.0, 1.0)
        if self.kind in ("lane_change", "slalom"):
            on = (along >= 0.0) & ((along <= 1.0) | (self.kind == "slalom"))
            return np.where(on, self.a_y * np.sin(2.0 * np.pi * along), 0.0)
        return np.zeros_like(t)

    def couple(self, t: FloatArray) -> FloatArray:
        """Return a gust's couple on the body in the sense of phi (N m) at times t (s): a push to the left puts the left side down."""
        along = (t - self.start) / self.period
        on = (along >= 0.0) & (along < 1.0) & (self.kind == "gust")
        return np.where(on, -self.push * self.push_height, 0.0)


def gust_force(area: float, wind: float, density: float = AIR_DENSITY) -> float:
    """Return the push of a side wind.

    Formula: `0.5 rho 1.1 A w^2`. Arguments: area: m2; wind: m/s; density: kg/m3. Result: N. Raises InputError for an area not above zero.
    Source: method section 15.
    """
    if not area > 0.0:
        raise InputError("area", area, "a side area must be above zero")
    return 0.5 * density * SIDE_DRAG * area * wind**2
