"""Road heights under each wheel, and lateral acceleration, against time (method section 7)."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from vantok_core.errors import InputError
from vantok_core.num import FloatArray

RoadKind = Literal["flat", "bump", "staggered", "step", "pothole", "washboard", "random"]
ROUGHNESS = {"B": 64e-6, "C": 256e-6, "D": 1024e-6, "E": 4096e-6}
"""ISO 8608 G_d(n_0) at n_0 = 0.1 cycle/m, m3."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Road:
    """A road: height m (depth for a pothole, double amplitude for washboard); length m of the shape, its ramp or its wave;
    offset m by which the right side comes later (staggered); side of a pothole; ISO 8608 class and seed."""

    kind: RoadKind = "flat"
    height: float = 0.0
    length: float = 1.0
    offset: float = 0.0
    side: Literal["left", "right", "both"] = "both"
    roughness: str = "B"
    seed: int = 1

    def __post_init__(self) -> None:
        if not self.length > 0.0:
            raise InputError("length", self.length, "the length of a road shape must be above zero")
        if self.kind == "random" and self.roughness not in ROUGHNESS:
            raise InputError("class", self.roughness, "a random road is of class B, C, D or E")

    def left_right(self, x: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Return the road's height (m) under the left and right wheel at distance x (m) from its beginning."""
        if self.kind == "random":
            return self._random(x, self.seed), self._random(x, self.seed + 1)
        left, right = self._shape(x), self._shape(x - (self.offset if self.kind == "staggered" else 0.0))
        zero = np.zeros_like(x)
        return (zero if self.side == "right" else left), (zero if self.side == "left" else right)

    def _shape(self, x: FloatArray) -> FloatArray:
        along = x / self.length
        inside = (along >= 0.0) & (along <= 1.0)
        wave = 0.5 * self.height * (1.0 - np.cos(2.0 * np.pi * along))
        if self.kind in ("bump", "staggered"):
            return np.where(inside, wave, 0.0)
        if self.kind == "pothole":
            return np.where(inside, -wave, 0.0)
        if self.kind == "washboard":
            return np.where(along >= 0.0, wave, 0.0)
        if self.kind == "step":
            ramp = 0.5 * self.height * (1.0 - np.cos(np.pi * np.clip(along, 0.0, 1.0)))
            return np.asarray(ramp, dtype=float)
        return np.zeros_like(x)

    def _random(self, x: FloatArray, seed: int) -> FloatArray:
        """Return a sum of sines with the class's spectrum, 0.011 to 2.83 cycle/m, faded in over ten metres."""
        rng = np.random.default_rng(seed)
        n = np.geomspace(0.011, 2.83, 400)
        density = ROUGHNESS[self.roughness] * (n / 0.1) ** -2.0
        amplitude = np.sqrt(2.0 * density * np.gradient(n))
        phase = rng.uniform(0.0, 2.0 * np.pi, len(n))
        height = np.zeros_like(x)
        for a, wave, start in zip(amplitude, n, phase, strict=True):
            height += a * np.sin(2.0 * np.pi * wave * x + start)
        return height * np.clip(x / 10.0, 0.0, 1.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class Manoeuvre:
    """Lateral acceleration, left turn positive: peak m/s2; a period or ramp s; when it starts s.

    steady: ramps to the peak and holds; lane_change: one sine; slalom: sines to the end; gust: a half-sine push.
    """

    kind: Literal["none", "steady", "lane_change", "slalom", "gust"] = "none"
    peak: float = 0.0
    period: float = 1.0
    start: float = 0.0

    def at(self, t: FloatArray) -> FloatArray:
        """Return lateral acceleration (m/s2) at times t (s)."""
        along = (t - self.start) / self.period
        on = along >= 0.0
        if self.kind == "steady":
            return self.peak * np.clip(along, 0.0, 1.0)
        if self.kind == "lane_change":
            return np.where(on & (along <= 1.0), self.peak * np.sin(2.0 * np.pi * along), 0.0)
        if self.kind == "slalom":
            return np.where(on, self.peak * np.sin(2.0 * np.pi * along), 0.0)
        if self.kind == "gust":
            return np.where(on & (along <= 1.0), self.peak * np.sin(np.pi * along), 0.0)
        return np.zeros_like(t)
