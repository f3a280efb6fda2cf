"""Laws of springs, stops and steel helpers: `at(c)` gives force (N) and rate (N/m) at compression c (m).

`c` is the element's own compression from the reference state, positive when pressed. Parameters may be floats
or arrays with one value per variant. Every formula is a row of the element table, method section 4.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

from vantok_core.base.errors import InputError
from vantok_core.base.num import Real, anywhere, highest, largest, lowest, never_pulls, pick, softplus
from vantok_core.physics.elements.curve import Curve


class Law(Protocol):
    """Anything with a force and a rate at a compression."""

    def at(self, c: Real) -> tuple[Real, Real]:
        """Return force (N) and rate (N/m) at compression c (m)."""
        ...


@dataclass(frozen=True, slots=True, kw_only=True)
class Spring:
    """Coil, torsion bar or leaf: `preload + k c`, and for a second stage `+ k2 softplus(c - z2)`.

    preload: N at c = 0 of the first stage; k, k2: N/m; z2: m of travel where the second stage meets; width: m.
    """

    k: Real
    preload: Real = 0.0
    k2: Real = 0.0
    z2: Real = 0.0
    width: float = 0.003

    def at(self, c: Real) -> tuple[Real, Real]:
        """Return force and rate."""
        force, rate = self.preload + self.k * c, self.k
        if isinstance(self.k2, float) and self.k2 == 0.0:
            return force, rate
        ramp, slope = softplus(c - self.z2, self.width)
        return force + self.k2 * ramp, rate + self.k2 * slope


@dataclass(frozen=True, slots=True, kw_only=True)
class Shackled:
    """A leaf in series with a rubber-torsion shackle of rate k_s (N/m); height and force at the reference kept."""

    leaf: Law
    k_s: Real

    def at(self, c: Real) -> tuple[Real, Real]:
        """Return force and rate: the leaf takes z of the c, the shackle the rest, with one force in both."""
        force_0, rate = self.leaf.at(0.0 * c)
        z = c * self.k_s / (self.k_s + rate)
        force, rate = self.leaf.at(z)
        for _ in range(40):
            gap = force - force_0 - self.k_s * (c - z)
            step = gap / (rate + self.k_s)
            z = z - step
            force, rate = self.leaf.at(z)
            if highest(largest([step])) < 1e-13:
                break
        return force, rate * self.k_s / (rate + self.k_s)


@dataclass(frozen=True, slots=True, kw_only=True)
class Blocked:
    """A coil with a block or insert put in at compression z_fit: from there on it has rate k (N/m)."""

    coil: Law
    k: Real
    z_fit: Real = 0.0

    def at(self, c: Real) -> tuple[Real, Real]:
        """Return force and rate; the force is continuous at z_fit."""
        force, _ = self.coil.at(self.z_fit + 0.0 * c)
        return force + self.k * (c - self.z_fit), self.k


@dataclass(frozen=True, slots=True, kw_only=True)
class Shifted:
    """A spring whose seat was moved by an adjuster, lifting `shift` (m) at the element at unchanged rate."""

    spring: Law
    shift: Real

    def at(self, c: Real) -> tuple[Real, Real]:
        """Return force and rate."""
        return self.spring.at(c + self.shift)


@dataclass(frozen=True, slots=True, kw_only=True)
class Stop:
    """Bump stop, rubber or foam insert: nothing until `gap` (m, negative = pressed already) closes, then the curve."""

    gap: Real
    curve: Curve

    def at(self, c: Real) -> tuple[Real, Real]:
        """Return force and rate; past the maker's last point the curve goes on at its last slope."""
        pressed = c - self.gap
        touched = pressed > 0.0
        if not anywhere(touched):
            nothing = pick(touched, pressed, 0.0)
            return nothing, nothing
        force, rate = self.curve.at(pressed)
        return pick(touched, force, 0.0), pick(touched, rate, 0.0)

    def beyond_data(self, c: Real) -> Real:
        """Tell where the part is pressed past the maker's last point."""
        return pick(c - self.gap > self.curve.last, 1.0, 0.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class Helper:
    """Helper leaf or coil assist: `preload + k c`, never pulling. The setting (hole, spacer, turns) is the preload."""

    preload: Real
    k: Real

    def at(self, c: Real) -> tuple[Real, Real]:
        """Return force and rate."""
        return never_pulls(self.preload + self.k * c, self.k + 0.0 * c)


@dataclass(frozen=True, slots=True, kw_only=True)
class AddedLeaf:
    """A leaf added to a pack: `k (c + arch)`, `arch` (m) its free arch beyond the pack's at the reference."""

    k: Real
    arch: Real

    def at(self, c: Real) -> tuple[Real, Real]:
        """Return force and rate."""
        return never_pulls(self.k * (c + self.arch), self.k + 0.0 * c)


@dataclass(frozen=True, slots=True, kw_only=True)
class Scaled:
    """A law so many times as strong: a kit's own strength against its data (strength: so found, and found anew), or nought for one taken off."""

    law: Law
    factor: Real
    strength: bool = False

    def at(self, c: Real) -> tuple[Real, Real]:
        """Return force and rate."""
        force, rate = self.law.at(c)
        return self.factor * force, self.factor * rate


@dataclass(frozen=True, slots=True, kw_only=True)
class Mean:
    """The mean of two sides' laws, where only an axle's mean is looked at."""

    left: Law
    right: Law

    def at(self, c: Real) -> tuple[Real, Real]:
        """Return force and rate."""
        (f_l, k_l), (f_r, k_r) = self.left.at(c), self.right.at(c)
        return 0.5 * (f_l + f_r), 0.5 * (k_l + k_r)


def coil_block_rate(k: Real, active_coils: float, blocked_coils: float, insert_rate: float | None = None) -> Real:
    """Return the rate of a coil with some active coils out of action.

    Formula: rigid `k N / (N - n)`; elastic insert `1/k' = 1/(k N / n + k_i) + (N - n)/(k N)`.
    Arguments: k: N/m; active_coils N, blocked_coils n: counts; insert_rate k_i: N/m, None for a rigid block.
    Result: N/m. Raises InputError unless 0 < n < N and k > 0.
    Source: method section 4; springs in series, rate inverse to the number of active coils.
    """
    if not lowest(k) > 0.0:
        raise InputError("k", k, "a spring rate must be above zero")
    if not 0.0 < blocked_coils < active_coils:
        raise InputError("n", blocked_coils, f"it must lie between 0 and the {active_coils:g} active coils")
    free = (active_coils - blocked_coils) / (k * active_coils)
    if insert_rate is None:
        return 1.0 / free
    if insert_rate < 0.0:
        raise InputError("k_i", insert_rate, "an insert's rate cannot be negative")
    return 1.0 / (1.0 / (k * active_coils / blocked_coils + insert_rate) + free)
