"""Air springs: bellows, sleeve, or bag in a coil; held at a pressure, sealed, or joined by a tee.

Source: method section 4. Pressures are gauge (Pa), heights in metres, areas in m2, volumes in m3.
"""

from __future__ import annotations

import itertools
from bisect import bisect_right
from dataclasses import dataclass, field
from typing import Protocol

import numpy as np

from vantok_core.base.errors import InputError
from vantok_core.base.num import P_ATM, FloatArray, Real, clip, pick
from vantok_core.physics.elements.curve import Curve

ISOTHERMAL = 1.0
"""Exponent of slow changes, such as loading."""
BUMP = 1.38
"""Exponent of quick changes, such as a bump (method section 4)."""


class Area(Protocol):
    """Mean effective area of a bag at a height and pressure."""

    def at(self, h: Real, p: Real) -> tuple[Real, Real, Real]:
        """Return area (m2), its slope with height (m) and its slope with pressure (m2/Pa)."""
        ...

    def integral(self, h_from: float, h: Real, p: Real) -> Real:
        """Return the volume gained (m3) from height h_from to h at pressure p."""
        ...

    def left_data(self, h: Real, p: Real) -> Real:
        """Return 1.0 where (h, p) is off the maker's table, else 0.0."""
        ...


@dataclass(frozen=True, slots=True, kw_only=True)
class LinearArea:
    """Area without a table: `A_0 + A' (h - h_0)`; a0: m2, slope A': m (mostly negative), h0: m."""

    a0: float
    slope: float
    h0: float

    def at(self, h: Real, p: Real) -> tuple[Real, Real, Real]:
        """Return area and slopes; an area that would fall below a hundredth of A_0 is held there."""
        area = self.a0 + self.slope * (h - self.h0)
        floor = 0.01 * self.a0
        return pick(area > floor, area, floor), pick(area > floor, self.slope, 0.0), 0.0

    def integral(self, h_from: float, h: Real, p: Real) -> Real:
        """Return the integral of A dh."""
        return (h - h_from) * (self.a0 + 0.5 * self.slope * (h + h_from - 2.0 * self.h0))

    def left_data(self, h: Real, p: Real) -> Real:
        """There is no table to leave."""
        return 0.0 * h


@dataclass(frozen=True, slots=True, kw_only=True)
class ScaledArea:
    """An area so many times its data's: a bag's own strength against them (factor: 1)."""

    area: Area
    factor: Real

    def at(self, h: Real, p: Real) -> tuple[Real, Real, Real]:
        """Return area and slopes."""
        area, slope_h, slope_p = self.area.at(h, p)
        return self.factor * area, self.factor * slope_h, self.factor * slope_p

    def integral(self, h_from: float, h: Real, p: Real) -> Real:
        """Return the integral of A dh."""
        return self.factor * self.area.integral(h_from, h, p)

    def left_data(self, h: Real, p: Real) -> Real:
        """Tell where its data end."""
        return self.area.left_data(h, p)


@dataclass(frozen=True, slots=True, kw_only=True)
class AreaTable:
    """Area `A = F / p` of the maker's load table, bilinear in (height, gauge pressure), held at its edges.

    heights: m, rising; pressures: Pa gauge, rising, above zero; areas: m2, one row per height.
    """

    heights: tuple[float, ...]
    pressures: tuple[float, ...]
    areas: tuple[tuple[float, ...], ...]
    _grids: tuple[FloatArray, FloatArray, FloatArray] = field(init=False, repr=False, compare=False)

    def __post_init__(self) -> None:
        object.__setattr__(self, "_grids", tuple(np.array(g) for g in (self.heights, self.pressures, self.areas)))

    @classmethod
    def from_loads(cls, heights: list[float], pressures: list[float], loads: list[list[float]]) -> AreaTable:
        """Build from a load table F (N), one row per height and one column per pressure.

        Raises InputError when the table is not a full rectangle with rising heights and pressures above zero.
        """
        rising = all(b > a for row in (heights, pressures) for a, b in itertools.pairwise(row))
        if len(heights) < 2 or not pressures or not rising or pressures[0] <= 0.0:
            raise InputError(
                "table", [heights, pressures], "heights and pressures must rise, pressures from above zero"
            )
        if len(loads) != len(heights) or any(len(row) != len(pressures) for row in loads):
            raise InputError("table", "F", "there must be a row per height and a column per pressure")
        if any(force < 0.0 for row in loads for force in row):
            raise InputError("table", "F", "a load cannot be negative")
        areas = tuple(tuple(f / p for f, p in zip(row, pressures, strict=True)) for row in loads)
        return cls(heights=tuple(heights), pressures=tuple(pressures), areas=areas)

    def at(self, h: Real, p: Real) -> tuple[Real, Real, Real]:
        """Return area and its two slopes; on a line of the table, the mean of the slopes on its two sides."""
        near_h, near_p = _near_node(self.heights, h), _near_node(self.pressures, p)
        if near_h or near_p:
            step_h, step_p = near_h * (self.heights[-1] - self.heights[0]), near_p * self.pressures[-1]
            low, high = self._at(h - step_h, p - step_p), self._at(h + step_h, p + step_p)
            return self._at(h, p)[0], 0.5 * (low[1] + high[1]), 0.5 * (low[2] + high[2])
        return self._at(h, p)

    def _at(self, h: Real, p: Real) -> tuple[Real, Real, Real]:
        if isinstance(h, np.ndarray) or isinstance(p, np.ndarray):
            return self._at_batch(np.asarray(h, dtype=float), np.asarray(p, dtype=float))
        i, u, du = _locate(self.heights, h)
        j, v, dv = _locate(self.pressures, p)
        low, high = self.areas[i], self.areas[min(i + 1, len(self.areas) - 1)]
        j1 = min(j + 1, len(self.pressures) - 1)
        at_low = low[j] + v * (low[j1] - low[j])
        at_high = high[j] + v * (high[j1] - high[j])
        slope_p = (1.0 - u) * (low[j1] - low[j]) + u * (high[j1] - high[j])
        return at_low + u * (at_high - at_low), (at_high - at_low) * du, slope_p * dv

    def _at_batch(self, h: np.ndarray, p: np.ndarray) -> tuple[Real, Real, Real]:
        heights, pressures, table = self._grids
        i, u, du = _locate_batch(heights, h)
        j, v, dv = _locate_batch(pressures, p)
        j1 = np.minimum(j + 1, len(self.pressures) - 1)
        a, b, c, d = table[i, j], table[i, j1], table[i + 1, j], table[i + 1, j1]
        at_low, at_high = a + v * (b - a), c + v * (d - c)
        slope_p = (1.0 - u) * (b - a) + u * (d - c)
        return at_low + u * (at_high - at_low), (at_high - at_low) * du, slope_p * dv

    def integral(self, h_from: float, h: Real, p: Real) -> Real:
        """Return the exact integral of the held-at-the-edges bilinear area."""
        nodes = [self._at(node + 0.0 * p, p)[0] for node in self.heights]
        return self._from_first(h, nodes) - self._from_first(h_from, nodes)

    def _from_first(self, h: Real, nodes: list[Real]) -> Real:
        first, last = self.heights[0], self.heights[-1]
        total = nodes[0] * (clip(h, -1e9, first) - first) + nodes[-1] * (clip(h, last, 1e9) - last)
        for i in range(len(nodes) - 1):
            low, high = self.heights[i], self.heights[i + 1]
            run = clip(h, low, high) - low
            total = total + run * (nodes[i] + 0.5 * run * (nodes[i + 1] - nodes[i]) / (high - low))
        return total

    def left_data(self, h: Real, p: Real) -> Real:
        """Tell where height leaves the table or pressure is above its last column."""
        off = pick(h < self.heights[0], 1.0, 0.0) + pick(h > self.heights[-1], 1.0, 0.0)
        off = off + pick(p > self.pressures[-1] * (1.0 + 1e-9), 1.0, 0.0)
        return pick(off > 0.0, 1.0, 0.0)


NODE = 1e-9
"""How near to a line of the table, as a share of its span, counts as on it."""


def _near_node(grid: tuple[float, ...], x: Real) -> float:
    """Return the step to either side to take when any x lies on a line of the grid, else 0."""
    span = NODE * (grid[-1] - grid[0] or grid[-1])
    if isinstance(x, np.ndarray):
        on_line = bool((np.abs(np.subtract.outer(grid, x)) < span).any())
    else:
        on_line = any(abs(x - node) < span for node in grid)
    return 2.0 * NODE if on_line else 0.0


def _locate(grid: tuple[float, ...], x: float) -> tuple[int, float, float]:
    """Return the cell of x in the grid, the fraction along it and that fraction's slope (zero when held)."""
    if len(grid) == 1 or x <= grid[0]:
        return 0, 0.0, 0.0
    if x >= grid[-1]:
        return len(grid) - 2, 1.0, 0.0
    i = bisect_right(grid, x) - 1
    width = grid[i + 1] - grid[i]
    return i, (x - grid[i]) / width, 1.0 / width


def _locate_batch(grid: np.ndarray, x: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    if len(grid) == 1:
        return np.zeros(x.shape, dtype=int), np.zeros(x.shape), np.zeros(x.shape)
    i = np.minimum(np.maximum(np.searchsorted(grid, x, side="right") - 1, 0), len(grid) - 2)
    width = grid[i + 1] - grid[i]
    inside = (x > grid[0]) & (x < grid[-1])
    return i, np.minimum(np.maximum((x - grid[i]) / width, 0.0), 1.0), np.where(inside, 1.0 / width, 0.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class Volume:
    """Air volume against height: V_0 at h_0 plus the integral of the area, or the maker's own curve.

    v0: m3 at h0 (m), lines and tank included; curve: maker's (height m, volume m3), which rules when present. assumed: nobody
    published it, and it is taken as area times height.
    """

    v0: float = 0.0
    h0: float = 0.0
    curve: Curve | None = None
    assumed: bool = False

    def at(self, h: Real, p_set: Real, area: Area) -> tuple[Real, Real]:
        """Return volume and its slope with height; a volume is never let below a fiftieth of V_0."""
        if self.curve is not None:
            volume, slope = self.curve.at(h)
            floor = 0.02 * highest_of(self.curve)
        else:
            volume = self.v0 + area.integral(self.h0, h, p_set)
            slope = area.at(h, p_set)[0]
            floor = 0.02 * self.v0
        return pick(volume > floor, volume, floor), pick(volume > floor, slope, 0.0)


def highest_of(curve: Curve) -> float:
    """Return the largest volume on a maker's curve (m3)."""
    return max(point[1] for point in curve.points)


@dataclass(frozen=True, slots=True, kw_only=True)
class Seal:
    """Air shut in: `(p + p_atm) V^n` = constant; for teed bags V is the sum of both."""

    constant: Real
    n: float


@dataclass(frozen=True, slots=True, kw_only=True)
class AirSpring:
    """One bag: its height in the reference state, area, volume, set pressure and, once shut, its seal.

    h_ref: m; p_set: Pa gauge, held until `seal` says the valve is shut.
    """

    h_ref: Real
    area: Area
    volume: Volume
    p_set: Real
    p_atm: float = P_ATM
    seal: Seal | None = None

    def height(self, c: Real) -> Real:
        """Return the bag's height (m) at compression c (m)."""
        return self.h_ref - c

    def volume_at(self, c: Real) -> tuple[Real, Real]:
        """Return volume (m3) and its slope with height (m2)."""
        return self.volume.at(self.height(c), self.p_set, self.area)

    def pressure(self, c: Real) -> Real:
        """Return the gauge pressure (Pa) at compression c."""
        return self._pressure(c)[0]

    def _pressure(self, c: Real) -> tuple[Real, Real]:
        if self.seal is None:
            return self.p_set, 0.0
        volume, slope = self.volume_at(c)
        absolute = self.seal.constant / volume**self.seal.n
        return absolute - self.p_atm, -self.seal.n * absolute / volume * slope

    def at(self, c: Real) -> tuple[Real, Real]:
        """Return force and rate of a bag on its own line."""
        pressure, dp_dh = self._pressure(c)
        force, at_pressure, with_pressure = self.press(c, pressure)
        return force, -(at_pressure + with_pressure * dp_dh)

    def press(self, c: Real, pressure: Real) -> tuple[Real, Real, Real]:
        """Return force, its slope with height at that pressure, and its slope with pressure. Never pulls."""
        area, da_dh, da_dp = self.area.at(self.height(c), pressure)
        pushes = pressure > 0.0
        force = pick(pushes, pressure * area, 0.0)
        return force, pick(pushes, pressure * da_dh, 0.0), pick(pushes, area + pressure * da_dp, 0.0)

    def sealing_constant(self, c: Real, n: float) -> Real:
        """Return `(p + p_atm) V^n` of this bag at compression c and its present pressure."""
        return (self.pressure(c) + self.p_atm) * self.volume_at(c)[0] ** n

    def beyond_data(self, c: Real, pressure: Real) -> Real:
        """Tell where the bag is off its table."""
        return self.area.left_data(self.height(c), pressure)


def teed_pressure(left: AirSpring, right: AirSpring, c_left: Real, c_right: Real) -> Real:
    """Return the one gauge pressure (Pa) of two bags on a tee: held, or from `(p + p_atm)(V_L + V_R)^n`."""
    if left.seal is None:
        return left.p_set
    total = left.volume_at(c_left)[0] + right.volume_at(c_right)[0]
    return left.seal.constant / total**left.seal.n - left.p_atm


def teed_pair(
    left: AirSpring, right: AirSpring, c_left: Real, c_right: Real
) -> tuple[Real, Real, Real, Real, Real, Real]:
    """Return F_L, F_R and the rates dF_L/dc_L, dF_L/dc_R, dF_R/dc_L, dF_R/dc_R of two bags on a tee."""
    if left.seal is None:
        f_l, own_l, _ = left.press(c_left, left.p_set)
        f_r, own_r, _ = right.press(c_right, left.p_set)
        return f_l, f_r, -own_l, 0.0 * own_l, 0.0 * own_r, -own_r
    v_l, slope_l = left.volume_at(c_left)
    v_r, slope_r = right.volume_at(c_right)
    pressure = left.seal.constant / (v_l + v_r) ** left.seal.n - left.p_atm
    f_l, own_l, with_p_l = left.press(c_left, pressure)
    f_r, own_r, with_p_r = right.press(c_right, pressure)
    gain = left.seal.n * (pressure + left.p_atm) / (v_l + v_r)
    dp_l, dp_r = gain * slope_l, gain * slope_r  # pressure rises as either bag is pressed
    return (
        f_l,
        f_r,
        -own_l + with_p_l * dp_l,
        with_p_l * dp_r,
        with_p_r * dp_l,
        -own_r + with_p_r * dp_r,
    )


def pressure_at_temperature(pressure: float, kelvin_1: float, kelvin_2: float, p_atm: float = P_ATM) -> float:
    """Return a sealed bag's gauge pressure after a temperature change at held height.

    Formula: `(p + p_atm) T_2 / T_1 - p_atm`. Arguments: pressure: Pa gauge; kelvin_1, kelvin_2: K.
    Result: Pa gauge. Raises InputError for a temperature not above zero. Source: method section 5; ideal gas.
    """
    for name, kelvin in (("T1", kelvin_1), ("T2", kelvin_2)):
        if not kelvin > 0.0:
            raise InputError(name, kelvin, "an absolute temperature must be above zero")
    return (pressure + p_atm) * kelvin_2 / kelvin_1 - p_atm


def pressure_at_volume(
    pressure: float, volume_1: float, volume_2: float, n: float = ISOTHERMAL, p_atm: float = P_ATM
) -> float:
    """Return a sealed bag's gauge pressure after a change of volume.

    Formula: `(p + p_atm)(V_1 / V_2)^n - p_atm`. Arguments: pressure: Pa gauge; volumes: m3; n: exponent.
    Result: Pa gauge. Raises InputError for a volume not above zero. Source: method section 4.
    """
    for name, volume in (("V1", volume_1), ("V2", volume_2)):
        if not volume > 0.0:
            raise InputError(name, volume, "a volume must be above zero")
    ratio: float = (volume_1 / volume_2) ** n
    return (pressure + p_atm) * ratio - p_atm


def pressure_when_joined(p_left: float, p_right: float, v_left: float, v_right: float, p_atm: float = P_ATM) -> float:
    """Return the common gauge pressure after a tee joins two bags.

    Formula: `((p_L + p_atm) V_L + (p_R + p_atm) V_R) / (V_L + V_R) - p_atm`. Arguments: Pa gauge and m3.
    Result: Pa gauge. Raises InputError for a volume not above zero. Source: method section 4.
    """
    if not (v_left > 0.0 and v_right > 0.0):
        raise InputError("V", (v_left, v_right), "volumes must be above zero")
    return ((p_left + p_atm) * v_left + (p_right + p_atm) * v_right) / (v_left + v_right) - p_atm


def air_spring_rate(
    pressure: float, area: float, area_slope: float, volume: float, n: float = ISOTHERMAL, p_atm: float = P_ATM
) -> float:
    """Return the rate of a sealed bag about a height.

    Formula: `n (p + p_atm) A^2 / V - p A'`. Arguments: pressure: Pa gauge; area: m2; area_slope A': m;
    volume: m3; n: exponent. Result: N/m. Raises InputError for a volume not above zero. Source: method section 4.
    """
    if not volume > 0.0:
        raise InputError("V", volume, "a volume must be above zero")
    return n * (pressure + p_atm) * area * area / volume - pressure * area_slope
