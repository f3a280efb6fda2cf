"""Classes of vehicle, spring and tyre: what is taken until a measurement replaces it.

Every figure here is a workshop's starting estimate, shown as "typical" and sharpened by readings; none is a rule.
Sources: method sections 2 and 3 (tyre rates, ride frequencies); the rest are this program's own estimates.
"""

from __future__ import annotations

from dataclasses import dataclass

from vantok_core.base.names import DATUMS

LEAF_FRICTION, COIL_FRICTION = (0.0025, 0.0015), (0.0010, 0.0007)
"""Friction of a spring read without rolling and bouncing (method section 21); a torsion bar's is a coil's, a rubber axle's lies between."""


@dataclass(frozen=True, slots=True, kw_only=True)
class SpringClass:
    """A kind of suspension: words; solid axle or not; law; spring place as a share of half the track; what its friction leaves in a height, m, one sigma:
    alike on both sides, and at each corner; stages: whether it has a second one (None: nobody can tell by its kind)."""

    words: str
    solid: bool
    law: str
    place: float
    friction: tuple[float, float]
    stages: bool | None = False


SPRINGS: dict[str, SpringClass] = {
    "coil_independent": SpringClass(
        words="independent, coil", solid=False, law="coil", place=1.0, friction=COIL_FRICTION
    ),
    "torsion_bar_independent": SpringClass(
        words="independent, torsion bar", solid=False, law="torsion_bar", place=1.0, friction=COIL_FRICTION
    ),
    "coil_solid": SpringClass(words="solid axle, coil", solid=True, law="coil", place=0.60, friction=COIL_FRICTION),
    "leaf_solid": SpringClass(
        words="solid axle, leaf", solid=True, law="leaf", place=0.61, friction=LEAF_FRICTION, stages=None
    ),
    "two_stage_leaf_solid": SpringClass(
        words="solid axle, two-stage leaf", solid=True, law="leaf", place=0.61, friction=LEAF_FRICTION, stages=True
    ),
    "parabolic_solid": SpringClass(
        words="solid axle, parabolic leaf", solid=True, law="parabolic", place=0.64, friction=LEAF_FRICTION
    ),
    "rubber_torsion_independent": SpringClass(
        words="independent, rubber torsion axle", solid=False, law="torsion_bar", place=1.0, friction=(0.0015, 0.0010)
    ),
    "coupling": SpringClass(
        words="none: coupled to the tow vehicle", solid=False, law="coil", place=1.0, friction=LEAF_FRICTION
    ),
}


def is_tapered(spring: str | None) -> bool:
    """Tell whether a spring, by its kind, is of tapered leaves: each carries along its whole length, and takes no leaf between."""
    return spring in SPRINGS and SPRINGS[spring].law == "parabolic"


def friction_of(law: str) -> tuple[float, float]:
    """Return what friction leaves in a height by a spring's law, m, one sigma: alike on its axle, and at a corner."""
    return next((kind.friction for kind in SPRINGS.values() if kind.law == law), LEAF_FRICTION)


@dataclass(frozen=True, slots=True, kw_only=True)
class TyreClass:
    """Tyre rate N/m per tyre and unsprung mass kg per corner (front, rear with single wheels)."""

    words: str
    rate: float
    unsprung_front: float
    unsprung_rear: float
    second_wheel: float


TYRES: dict[str, TyreClass] = {
    "car": TyreClass(words="car or small van", rate=210e3, unsprung_front=38.0, unsprung_rear=35.0, second_wheel=18.0),
    "light_truck": TyreClass(
        words="light truck or van", rate=270e3, unsprung_front=50.0, unsprung_rear=65.0, second_wheel=28.0
    ),
    "medium_duty": TyreClass(
        words="medium duty", rate=650e3, unsprung_front=95.0, unsprung_rear=120.0, second_wheel=45.0
    ),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class BodyStyle:
    """A body style: words; plausible ground-to-arch range m; rear overhang as a share of the wheelbase; roof height m;
    centre of mass height m; roll_arm: of what is sprung above the roll axis m (method section 20);
    lamp station m (ahead of the front axle: negative); width m; cab: where it ends, as a share of
    the wheelbase (0: none); trailer: towed, its "front axle" the coupling."""

    words: str
    arch: tuple[float, float]
    overhang: float
    front_overhang: float
    roof: float
    centre_height: float
    roll_arm: float
    lamp: float
    width: float = 2.0
    cab: float = 0.45
    trailer: bool = False


BODIES: dict[str, BodyStyle] = {
    "pickup": BodyStyle(
        words="pickup",
        arch=(0.70, 1.20),
        overhang=0.34,
        front_overhang=0.95,
        roof=1.88,
        centre_height=0.75,
        roll_arm=0.48,
        lamp=-0.75,
        width=1.95,
        cab=0.62,
    ),
    "van": BodyStyle(
        words="van",
        arch=(0.62, 1.00),
        overhang=0.33,
        front_overhang=0.95,
        roof=2.0,
        centre_height=0.80,
        roll_arm=0.58,
        lamp=-0.75,
        width=1.98,
        cab=0.42,
    ),
    "high_roof_van": BodyStyle(
        words="high-roof van",
        arch=(0.62, 1.05),
        overhang=0.33,
        front_overhang=1.0,
        roof=2.65,
        centre_height=0.95,
        roll_arm=0.65,
        lamp=-0.8,
        width=2.02,
        cab=0.40,
    ),
    "wagon": BodyStyle(
        words="wagon",
        arch=(0.58, 0.90),
        overhang=0.38,
        front_overhang=0.90,
        roof=1.58,
        centre_height=0.60,
        roll_arm=0.42,
        lamp=-0.7,
        width=1.84,
        cab=0.50,
    ),
    "box_truck": BodyStyle(
        words="box truck",
        arch=(0.75, 1.30),
        overhang=0.45,
        front_overhang=1.15,
        roof=3.1,
        centre_height=1.20,
        roll_arm=0.75,
        lamp=-0.95,
        width=2.30,
        cab=0.20,
    ),
    "coach": BodyStyle(
        words="coach",
        arch=(0.75, 1.35),
        overhang=0.58,
        front_overhang=1.3,
        roof=3.2,
        centre_height=1.30,
        roll_arm=0.80,
        lamp=-1.15,
        width=2.45,
        cab=0.16,
    ),
    "caravan": BodyStyle(
        words="caravan",
        arch=(0.55, 1.00),
        overhang=0.62,
        front_overhang=-1.1,
        roof=2.6,
        centre_height=0.95,
        roll_arm=0.65,
        lamp=0.0,
        width=2.30,
        cab=0.0,
        trailer=True,
    ),
    "camper_trailer": BodyStyle(
        words="camper trailer",
        arch=(0.60, 1.15),
        overhang=0.50,
        front_overhang=-1.2,
        roof=1.55,
        centre_height=0.85,
        roll_arm=0.50,
        lamp=0.0,
        width=1.95,
        cab=0.0,
        trailer=True,
    ),
}

FACTORY_STOP = ((0.010, 900.0), (0.020, 2600.0), (0.030, 6000.0), (0.040, 12500.0), (0.050, 25000.0))
"""A factory rubber stop until the maker's curve is known: compression m, force N."""
SCALE_SIGMA = 10.0
"""Sigma of one axle weighing, kg: the step of a usual axle scale and where the wheels stood on it."""
PLAN_SHARE, PLAN_LEAST = 0.06, 2.0
"""Sigma of a planned item: this share of its mass, kg at least."""


def plausible(datum: str, body: str) -> tuple[float, float]:
    """Return the plausible range (m) of a reading on a datum for a body style."""
    known = DATUMS[datum].range
    if known is not None:
        return known
    return BODIES[body].arch if body in BODIES else (0.5, 1.4)


LOAD_INDEX = {
    60: 250,
    61: 257,
    62: 265,
    63: 272,
    64: 280,
    65: 290,
    66: 300,
    67: 307,
    68: 315,
    69: 325,
    70: 335,
    71: 345,
    72: 355,
    73: 365,
    74: 375,
    75: 387,
    76: 400,
    77: 412,
    78: 425,
    79: 437,
    80: 450,
    81: 462,
    82: 475,
    83: 487,
    84: 500,
    85: 515,
    86: 530,
    87: 545,
    88: 560,
    89: 580,
    90: 600,
    91: 615,
    92: 630,
    93: 650,
    94: 670,
    95: 690,
    96: 710,
    97: 730,
    98: 750,
    99: 775,
    100: 800,
    101: 825,
    102: 850,
    103: 875,
    104: 900,
    105: 925,
    106: 950,
    107: 975,
    108: 1000,
    109: 1030,
    110: 1060,
    111: 1090,
    112: 1120,
    113: 1150,
    114: 1180,
    115: 1215,
    116: 1250,
    117: 1285,
    118: 1320,
    119: 1360,
    120: 1400,
    121: 1450,
    122: 1500,
    123: 1550,
    124: 1600,
    125: 1650,
    126: 1700,
    127: 1750,
    128: 1800,
    129: 1850,
    130: 1900,
    131: 1950,
    132: 2000,
    133: 2060,
    134: 2120,
    135: 2180,
    136: 2240,
    137: 2300,
    138: 2360,
    139: 2430,
    140: 2500,
    141: 2575,
    142: 2650,
    143: 2725,
    144: 2800,
    145: 2900,
    146: 3000,
    147: 3075,
    148: 3150,
    149: 3250,
    150: 3350,
    151: 3450,
    152: 3550,
    153: 3650,
    154: 3750,
    155: 3875,
    156: 4000,
    157: 4125,
    158: 4250,
    159: 4375,
    160: 4500,
}
"""Load per tyre (kg) by load index; the common table of tyre standards (as in UN Regulation 54, annex 4)."""
