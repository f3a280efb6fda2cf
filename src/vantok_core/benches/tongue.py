"""A tongue's mass by what a shop has: a scale, a scale under one end of a board, mass stacked behind the trailer's axle.

Source: statics; a lever about the board's fixed end, and about the trailer's axle (decisions, "The tongue bench").
"""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot, sqrt

from vantok_core.base.errors import InputError

LENGTH_ERROR = 0.005
"""How far a length taken by tape under a trailer may be off, one sigma, m (setting)."""

UNIFORM = sqrt(3.0)
"""What lies anywhere within its greatest error has that over this as its sigma."""


@dataclass(frozen=True, slots=True, kw_only=True)
class TongueRead:
    """A tongue's mass at the ball and its sigma (kg)."""

    mass: float
    sigma: float


def by_scale(reading: float, error: float) -> TongueRead:
    """Return what stands on a scale. Arguments: reading, error (at most): kg. Raises InputError for a reading not above nought."""
    return TongueRead(mass=_above("reading", reading), sigma=abs(error) / UNIFORM)


def by_board(reading: float, tare: float, to_scale: float, to_tongue: float, error: float) -> TongueRead:
    """Return what stands on a board that is held at one end and weighed at the other.

    Formula: `(R - R_0) a / b`. Arguments: reading R, tare R_0 (the board alone), error of the scale (at most): kg; to_scale a, to_tongue b: m from the
    fixed end. Raises InputError where the tongue is not between the two ends, or nothing is left above the board.
    """
    if not 0.0 < to_tongue <= to_scale:
        raise InputError("to_tongue", to_tongue, "the tongue stands between the fixed end and the scale")
    net = reading - tare
    if not net > 0.0:
        raise InputError("reading", reading, "it is more than the board by itself reads")
    mass = net * to_scale / to_tongue
    return TongueRead(
        mass=mass,
        sigma=hypot(
            error / UNIFORM * to_scale / to_tongue, mass * hypot(LENGTH_ERROR / to_tongue, LENGTH_ERROR / to_scale)
        ),
    )


def by_stack(stacked: float, step: float, behind: float, axle: float) -> TongueRead:
    """Return the tongue that mass stacked behind the trailer's axle just lifts.

    Formula: `(M - D / 2) e / d`, for it lifted somewhere in the last step D. Arguments: stacked M, step D: kg; behind e: m behind the trailer's axle; axle
    d: m from the ball to the trailer's axle. Raises InputError for a length not above nought, or a step greater than the stack.
    """
    _above("stacked", stacked)
    if not 0.0 <= step <= stacked:
        raise InputError("step", step, "the last mass put on is a part of the stack")
    lever, middle = _above("behind", behind) / _above("axle", axle), stacked - step / 2.0
    spread = hypot(LENGTH_ERROR / behind, LENGTH_ERROR / axle)
    return TongueRead(mass=middle * lever, sigma=hypot(step / 2.0 / UNIFORM * lever, middle * lever * spread))


def at_the_ball(read: TongueRead, held: float, axle: float) -> TongueRead:
    """Return the tongue at the ball from one held further back, as at the jack.

    Formula: `T = F (d - x) / d`: nearer the axle it is heavier. Arguments: held x: m behind the ball; axle d: m from the ball to the trailer's axle. Raises
    InputError where it is not held between the two.
    """
    if not 0.0 <= held < _above("axle", axle):
        raise InputError("held", held, "it is held between the ball and the trailer's axle")
    share = (axle - held) / axle
    return TongueRead(mass=read.mass * share, sigma=hypot(read.sigma * share, read.mass * LENGTH_ERROR / axle))


def _above(name: str, value: float) -> float:
    if not value > 0.0:
        raise InputError(name, value, "it is above nought")
    return value
