"""How much a body rolls, before against after: what shares every unknown is told as a ratio first; how far it may lean before it tips.

Source: method sections 15 and 20.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from vantok_core.base.errors import InputError
from vantok_core.base.num import P_ATM, G
from vantok_core.benches.bar import axle_roll, roll_gradient
from vantok_core.physics.elements.curve import force_curve

AIM, SLACK = 0.80, 1e-12
"""The ratio that a roll job aims at unless it says otherwise."""
UNKNOWN_BAR = 3.0 / 7.0
"""What a bar nobody knows adds to an independent front, as a share of what its main springs give."""
TALL = 1.15
"""How much longer the arm of a tall fit-out is."""


@dataclass(frozen=True, slots=True, kw_only=True)
class RollSpring:
    """What presses on one side of an axle, and alike on the other: its rate N/m, motion ratio, lateral place m (None: half the track), whether a main one."""

    rate: float
    ratio: float = 1.0
    place: float | None = None
    main: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class RollAxle:
    """An axle as it resists roll: whether solid, track m, tyre rate N/m a side, its springs, its bars N m/rad, and how many bars nobody knows."""

    solid: bool
    track: float
    tyre_rate: float
    springs: tuple[RollSpring, ...]
    bars: tuple[float, ...] = ()
    unknown_bars: int = 0

    def __post_init__(self) -> None:
        if not any(one.main for one in self.springs):
            raise InputError("elements", len(self.springs), "an axle has main springs")
        if not self.solid and any(one.place is not None for one in self.springs):
            raise InputError("y", self.track, "on an independent axle a spring presses at its wheel: no place is told")

    def stiffness(self, *, front: bool) -> float:
        """Return its roll stiffness, body to ground (N m/rad)."""
        half = self.track / 2.0
        springs = [(s.rate, s.ratio, half if s.place is None else s.place) for s in self.springs]
        mains = 2.0 * sum(k * (i * y) ** 2 for (k, i, y), s in zip(springs, self.springs, strict=True) if s.main)
        unknown = UNKNOWN_BAR * mains * self.unknown_bars if front and not self.solid else 0.0
        return axle_roll(springs, sum(self.bars) + unknown, self.tyre_rate, self.track).axle


@dataclass(frozen=True, slots=True, kw_only=True)
class RollRate:
    """How it rolls: both axles' stiffness (N m/rad), roll rate (rad per g of side acceleration), the front's share of the stiffness."""

    front: float
    rear: float
    rate: float
    front_share: float


def roll_rate(sprung_mass: float, arm: float, front: RollAxle, rear: RollAxle) -> RollRate:
    """Return a body's roll rate.

    Formula: `R = m_s g h_a / (K - m_s g h_a)`. Arguments: sprung_mass: kg; arm h_a: m. Raises RollInstabilityError where the springs do not hold it up.
    Source: method section 20.
    """
    if not (sprung_mass > 0.0 and arm > 0.0):
        raise InputError("m_s", (sprung_mass, arm), "mass and arm must be above nought")
    k_front, k_rear = front.stiffness(front=True), rear.stiffness(front=False)
    found = roll_gradient(sprung_mass, arm, k_front, k_rear)
    return RollRate(front=k_front, rear=k_rear, rate=found.rad_per_ms2 * G, front_share=found.front_share)


@dataclass(frozen=True, slots=True, kw_only=True)
class RollRatio:
    """Before and after, the ratio of their roll rates, whether the aim is met, whether the rear then loses grip first."""

    before: RollRate
    after: RollRate
    aim: float = AIM

    @property
    def ratio(self) -> float:
        """Roll after over roll before."""
        return self.after.rate / self.before.rate

    @property
    def meets_aim(self) -> bool:
        """Whether the ratio is at most the aim."""
        return self.ratio <= self.aim + SLACK

    @property
    def tail_looser(self) -> bool:
        """Whether the front's share of the stiffness falls: the rear loses grip first."""
        return self.after.front_share < self.before.front_share


def air_roll_rate(
    pressure: float,
    area: float,
    slope: float,
    volume: float,
    *,
    n: float = 1.0,
    p_atm: float = P_ATM,
    teed: bool = False,
) -> float:
    """Return the rate (N/m) that a sealed bag adds in roll; on a tee its air moves to the other side, and only its shape is left.

    Formula: `n (p + p_atm) A^2 / V - p A'`, teed `- p A'`. Arguments: pressure, p_atm: Pa; area: m2; slope A': m; volume: m3; n: 1 in a steady bend, 1.38
    in manoeuvres. Raises InputError for a volume or area not above nought. Source: method sections 4 and 20.
    """
    if not (area > 0.0 and volume > 0.0 and pressure >= 0.0):
        raise InputError(
            "air", (pressure, area, volume), "area and volume must be above nought, the pressure not below"
        )
    return (0.0 if teed else n * (pressure + p_atm) * area**2 / volume) - pressure * slope


def insert_roll_rate(points: Sequence[tuple[float, float]], pressed: float) -> float:
    """Return the tangent rate (N/m) of an insert where it stands. points: (m, N); pressed: m, nought or less where it does not touch and adds nothing.

    Raises InputError for a curve that does not rise. Source: method section 20.
    """
    curve = force_curve(points)
    return float(curve.at(pressed)[1]) if pressed > 0.0 else 0.0


def tip_margin(track: float, height: float, roll: float, axis: float) -> tuple[float, float]:
    """Return the side acceleration (g) at which the inner wheels lift, and that of a rigid body.

    Formula: `t / (2 h) / (1 + R (1 - h_r / h))`. Arguments: track t, height h of the mass, axis h_r of the roll axis above ground: m; roll R: rad per g.
    Raises InputError for lengths not above nought, a roll below it, or an axis above the mass. Source: method section 15.
    """
    if not (track > 0.0 and height > 0.0 and roll >= 0.0 and 0.0 <= axis <= height):
        raise InputError("tip", (track, height, roll, axis), "lengths above nought, the roll axis not above the mass")
    rigid = track / (2.0 * height)
    return rigid / (1.0 + roll * (1.0 - axis / height)), rigid
