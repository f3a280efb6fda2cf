"""The vehicle as the core sees it: two axles, their springs and helpers, tyres, and the loads put on it.

Axes (ISO 8855 with the station measured rearward): station s in metres behind the front axle; lateral y in metres,
positive to the left; drops positive down; pitch theta nose-up positive; lean phi positive with the left side higher. Source: method sections 1 and 4.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from vantok_core.base.errors import InputError
from vantok_core.base.names import BEAM_AT
from vantok_core.base.num import Real, lowest
from vantok_core.physics.elements.air import AirSpring
from vantok_core.physics.elements.laws import Law

AxleName = Literal["front", "rear"]
AXLES: tuple[AxleName, AxleName] = ("front", "rear")
CORNERS = ("FL", "FR", "RL", "RR")
AXLE_CORNERS: dict[AxleName, tuple[str, str]] = {"front": ("FL", "FR"), "rear": ("RL", "RR")}
Fitted = Literal["reference", "kit"]


@dataclass(frozen=True, slots=True, kw_only=True)
class CoilBlock:
    """`blocked` of `active` coils out of action, rigid or across an insert of `insert_rate` N/m, put in at z_fit m."""

    active: float
    blocked: float
    insert_rate: float | None = None
    z_fit: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Shackle:
    """Rubber-torsion shackle of rate k_s, N/m, in series with the leaf."""

    k_s: Real


@dataclass(frozen=True, slots=True, kw_only=True)
class Replacement:
    """New pack or coil: rate k N/m, standing c_ref m compressed at the reference; k2 N/m, z2 m, width m for a second stage."""

    k: Real
    c_ref: Real
    k2: Real = 0.0
    z2: Real = 0.0
    width: float = 0.003


@dataclass(frozen=True, slots=True, kw_only=True)
class TorsionBarAdjuster:
    """Adjuster that lifts `shift` m at the element."""

    shift: Real


SpringChange = CoilBlock | Shackle | Replacement | TorsionBarAdjuster


@dataclass(frozen=True, slots=True, kw_only=True)
class MainSpring:
    """The spring whose preload the reference state leaves over.

    kind: coil, torsion_bar, leaf or parabolic; k, k2: N/m; z2, width: m; ratio: spring travel over wheel travel;
    y: m from the centre line on a solid axle (None: half the track); changes: what was done to it, in order; changes_right: where
    the right side's are not the left's.
    """

    name: str
    kind: str
    k: Real
    k2: Real = 0.0
    z2: Real = 0.0
    width: float = 0.003
    ratio: float = 1.0
    y: float | None = None
    changes: tuple[SpringChange, ...] = ()
    changes_right: tuple[SpringChange, ...] | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Element:
    """A helper, stop or air spring: a law a side (None: not on that side), its ratio, place and standing.

    ratio: element travel over wheel travel; y: m from the centre line on a solid axle (None: half the track);
    fitted: "reference" when it was there as the reference was measured, else "kit"; teed: both bags on one line;
    set_state: the state in which the valve is shut (None: set anew in each state); p_min, p_max: Pa gauge.
    """

    name: str
    left: Law | None
    right: Law | None
    ratio: float = 1.0
    y: float | None = None
    fitted: Fitted = "kit"
    teed: bool = False
    set_state: str | None = None
    p_min: float | None = None
    p_max: float | None = None

    def __post_init__(self) -> None:
        if self.teed and not (isinstance(self.left, AirSpring) and isinstance(self.right, AirSpring)):
            raise InputError(self.name, "teed", "a tee joins two air springs, one on each side")


@dataclass(frozen=True, slots=True, kw_only=True)
class AntiRollBar:
    """Roll stiffness K (N m/rad) between body and axle (solid) or between the two wheels (independent)."""

    name: str
    stiffness: Real
    fitted: Fitted = "reference"


@dataclass(frozen=True, slots=True, kw_only=True)
class Axle:
    """One axle: track m; unsprung kg a corner; tyre_rate N/m a corner; ref_load N left, right in the reference state."""

    solid: bool
    track: float
    unsprung: float
    tyre_rate: Real
    ref_load: tuple[Real, Real]
    spring: MainSpring
    elements: tuple[Element, ...] = ()
    bars: tuple[AntiRollBar, ...] = ()

    def __post_init__(self) -> None:
        positive = {"track": self.track, "tyre_rate": self.tyre_rate, "spring rate": self.spring.k}
        for name, value in positive.items():
            if not lowest(value) > 0.0:
                raise InputError(name, value, "it must be above zero")
        if self.unsprung < 0.0:
            raise InputError("unsprung", self.unsprung, "a mass cannot be negative")


@dataclass(frozen=True, slots=True, kw_only=True)
class Lamp:
    """Headlamp station s (m, mostly negative) and the distance D (m) at which its beam is judged."""

    station: float
    distance: float = BEAM_AT


@dataclass(frozen=True, slots=True, kw_only=True)
class Vehicle:
    """Wheelbase m (to the load centre of a rear group), two axles, and the lamp when its place is known."""

    wheelbase: float
    front: Axle
    rear: Axle
    lamp: Lamp | None = None

    def __post_init__(self) -> None:
        if not self.wheelbase > 0.0:
            raise InputError("wheelbase", self.wheelbase, "it must be above zero")

    def axle(self, name: AxleName) -> Axle:
        """Return the axle by name."""
        return self.front if name == "front" else self.rear

    def station(self, name: AxleName) -> float:
        """Return the axle's station (m)."""
        return 0.0 if name == "front" else self.wheelbase

    @property
    def weight(self) -> Real:
        """Weight in the reference state (N)."""
        (a, b), (c, d) = self.front.ref_load, self.rear.ref_load
        return a + b + c + d


@dataclass(frozen=True, slots=True, kw_only=True)
class Item:
    """Something put on the vehicle: mass kg (negative: taken off), station s m, lateral y m to the left."""

    mass: Real
    station: Real
    lateral: Real = 0.0
    name: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Tongue:
    """A trailer's tongue: mass kg at `overhang` m behind the rear axle; a weight-distributing hitch's moment, N m.

    axle_distance: ball to trailer axle, m; needed with a moment above zero.
    """

    mass: Real
    overhang: float
    bar_moment: Real = 0.0
    axle_distance: float | None = None

    def __post_init__(self) -> None:
        if lowest(self.bar_moment) < 0.0:
            raise InputError("M", self.bar_moment, "a spring-bar moment cannot be negative")
        needs = not (isinstance(self.bar_moment, float) and self.bar_moment == 0.0)
        if needs and not (self.axle_distance is not None and self.axle_distance > 0.0):
            raise InputError("d", self.axle_distance, "the ball to trailer axle distance is needed with spring bars")


@dataclass(frozen=True, slots=True, kw_only=True)
class Overturning:
    """Sprung mass (kg) and the arm (m) from the roll axis to its centre; adds `m_s g h_a phi` to the roll moment."""

    sprung_mass: float
    arm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class LoadState:
    """A named state: what was added since the reference; temperature_ratio is absolute, against the set state.

    laws: how elements stand in this state where it is not as in the reference: name to its laws left and right (see `at_setting`);
    off_bars: bars taken off. The main springs' preload is always that of the reference.
    """

    name: str
    items: tuple[Item, ...] = ()
    tongue: Tongue | None = None
    temperature_ratio: float = 1.0
    overturning: Overturning | None = None
    laws: Mapping[str, tuple[Law | None, Law | None]] = field(default_factory=dict)
    off_bars: tuple[str, ...] = ()

    def __post_init__(self) -> None:
        if not self.temperature_ratio > 0.0:
            raise InputError("temperature_ratio", self.temperature_ratio, "it must be above zero")
