"""Roll: anti-roll bars, axle roll stiffness, roll gradient (method section 6)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import degrees, pi

from vantok_core.base.errors import InputError, VantokError
from vantok_core.base.num import G

SHEAR_MODULUS = 79e9
"""Spring steel G, Pa (method section 6)."""
YOUNGS_MODULUS = 206e9
"""Spring steel E, Pa (method section 6)."""


class RollInstabilityError(VantokError, ArithmeticError):
    """The overturning moment is not below the roll stiffness."""


@dataclass(frozen=True, slots=True, kw_only=True)
class BarGeometry:
    """Anti-roll bar: centre length B, effective arm A (square to it), arm along the metal C, diameters D, D_i: m."""

    centre: float
    arm: float
    arm_metal: float
    diameter: float
    bore: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class BarRate:
    """End rate with both ends moving (N/m), with the other end held (N/m), and roll stiffness at the axle (N m/rad)."""

    k_end: float
    k_one_end: float
    roll: float


def bar_rate(bar: BarGeometry, ratio: float, track: float) -> BarRate:
    """Return a bar's end rate and roll stiffness.

    Formula: `F (A^2 B / (2 G J) + C^3 / (3 E I))` is an end's deflection; roll `k_e (i_b t)^2 / 2`. Arguments: bar: m;
    ratio i_b: bar-end over wheel travel in roll; track t: m. Result: N/m, N m/rad. Bush give and the centre's bending
    between bushes are left out. Raises InputError for sizes that make no bar. Source: method section 6.
    """
    sizes = (bar.centre, bar.arm, bar.arm_metal, bar.diameter, ratio, track)
    if min(sizes) <= 0.0 or not 0.0 <= bar.bore < bar.diameter:
        raise InputError("bar", sizes, "lengths, ratio and diameter must be above zero and the bore below the diameter")
    polar = pi * (bar.diameter**4 - bar.bore**4) / 32.0
    give = bar.arm**2 * bar.centre / (2.0 * SHEAR_MODULUS * polar) + bar.arm_metal**3 / (
        3.0 * YOUNGS_MODULUS * polar / 2.0
    )
    k_end = 1.0 / give
    return BarRate(k_end=k_end, k_one_end=k_end / 2.0, roll=k_end * (ratio * track) ** 2 / 2.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class AxleRoll:
    """Roll stiffness of an axle (N m/rad): springs with bar, tyres, and the two in series."""

    suspension: float
    tyres: float
    axle: float


def axle_roll(springs: Sequence[tuple[float, float, float]], bar: float, tyre_rate: float, track: float) -> AxleRoll:
    """Return an axle's roll stiffness.

    Formula: `sum k (i y)^2` over both sides, plus bar, in series with `k_t t^2 / 2`. Arguments: springs: (k N/m, ratio,
    lateral place m) per side; bar: N m/rad; tyre_rate: N/m a corner; track: m. Result: N m/rad. Raises InputError.
    Source: method section 4.
    """
    if not (tyre_rate > 0.0 and track > 0.0) or bar < 0.0:
        raise InputError("axle", (tyre_rate, track, bar), "tyre rate and track must be above zero, the bar not below")
    suspension = 2.0 * sum(k * (i * y) ** 2 for k, i, y in springs) + bar
    tyres = tyre_rate * track**2 / 2.0
    axle = suspension * tyres / (suspension + tyres) if suspension else 0.0
    return AxleRoll(suspension=suspension, tyres=tyres, axle=axle)


@dataclass(frozen=True, slots=True, kw_only=True)
class RollGradient:
    """Roll per lateral acceleration: rad per m/s2, degrees per g; front_share: front part of the roll stiffness."""

    rad_per_ms2: float
    deg_per_g: float
    front_share: float


def roll_gradient(sprung_mass: float, arm: float, front: float, rear: float) -> RollGradient:
    """Return the roll gradient.

    Formula: `m_s h_a / (K_f + K_r - m_s g h_a)`. Arguments: sprung_mass m_s: kg; arm h_a from roll axis to centre of mass: m;
    front, rear: axle roll stiffness, N m/rad. Raises RollInstabilityError when the denominator is not above zero.
    Source: method section 6; Gillespie, Fundamentals of Vehicle Dynamics. Absolute values lean on an estimated centre of
    mass: show before/after ratios first.
    """
    left_over = front + rear - sprung_mass * G * arm
    if not left_over > 0.0:
        raise RollInstabilityError(
            f"The body would fall over: springs and bars give {(front + rear) / (sprung_mass * G * arm):.0%} of the roll stiffness "
            "that leaning takes.",
            field="roll stiffness",
        )
    gradient = sprung_mass * arm / left_over
    return RollGradient(rad_per_ms2=gradient, deg_per_g=degrees(gradient * G), front_share=front / (front + rear))


@dataclass(frozen=True, slots=True, kw_only=True)
class AxleBar:
    """An axle for comparing bars: roll stiffness of its springs (N m/rad), track (m), tyre rate (N/m), the bar's own roll stiffness (N m/rad, 0: none)."""

    springs: float
    track: float
    tyre_rate: float
    bar: float = 0.0

    def __post_init__(self) -> None:
        if min(self.springs, self.track, self.tyre_rate) <= 0.0 or self.bar < 0.0:
            raise InputError(
                "axle",
                (self.springs, self.track, self.tyre_rate, self.bar),
                "figures must be above nought, the bar's not below",
            )

    def rolled(self, *, with_bar: bool = True) -> float:
        """Return its roll stiffness with the tyres in series, N m/rad."""
        own, tyres = self.springs + (self.bar if with_bar else 0.0), self.tyre_rate * self.track**2 / 2.0
        return own * tyres / (own + tyres)


@dataclass(frozen=True, slots=True, kw_only=True)
class BarShares:
    """What a bar does on its axle: its share of the axle's roll stiffness and of both axles' (tyres left out), and the rate uneven ground feels at a wheel
    (N/m)."""

    bar_share: float
    one_wheel_rate: float
    bar_share_of_both: float


@dataclass(frozen=True, slots=True, kw_only=True)
class BarChoice:
    """Both axles' bars, and the front share of the roll stiffness, tyres in series, with the bars and without."""

    front: BarShares
    rear: BarShares
    front_share: float
    front_share_without_bars: float


def bar_choice(front: AxleBar, rear: AxleBar) -> BarChoice:
    """Return what two bars do to the balance: more at the rear turns in sharper, towards oversteer.

    Formula: one-wheel rate `K / t^2`. Raises InputError as `AxleBar`. Source: method section 14.
    """
    whole = front.springs + rear.springs + front.bar + rear.bar

    def of(axle: AxleBar) -> BarShares:
        return BarShares(
            bar_share=axle.bar / (axle.springs + axle.bar),
            one_wheel_rate=axle.bar / axle.track**2,
            bar_share_of_both=axle.bar / whole,
        )

    def share(*, bars: bool) -> float:
        ahead, behind = front.rolled(with_bar=bars), rear.rolled(with_bar=bars)
        return ahead / (ahead + behind)

    return BarChoice(
        front=of(front), rear=of(rear), front_share=share(bars=True), front_share_without_bars=share(bars=False)
    )
