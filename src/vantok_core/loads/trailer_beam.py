"""A trailer by itself: a beam on its axle and its coupling, whose height somebody sets.

Source: method section 27.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from vantok_core.base.errors import InputError
from vantok_core.base.num import G
from vantok_core.facts.kinds import TrailerKind

WINDOWS: dict[TrailerKind, tuple[float, float]] = {"caravan": (0.04, 0.07), "ball": (0.10, 0.15), "pin": (0.15, 0.25)}
"""The share of the trailer's mass that its nose carries, by its kind (settings; the edges are inside)."""
LIMITS = ("axle", "gross", "coupling", "tow_ball")


@dataclass(frozen=True, slots=True, kw_only=True)
class Thing:
    """What is on a trailer, or the empty trailer: mass kg, how far behind the coupling (m), whether it was on board when its heights were read."""

    name: str
    mass: float
    behind: float
    reference: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Beam:
    """A trailer: coupling to axle, or to its group's load centre (m); rate of the group and of its tyres, N/m a side; coupling height as coupled, and that at
    which its body is level in the reference state (m); its window and its limits (kg, those known)."""

    lever: float
    rate: float
    tyre_rate: float
    coupling: float
    level: float
    window: tuple[float, float]
    limits: Mapping[str, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Standing:
    """How it stands: mass, tongue and axle load (kg), the nose's share, what is so of the nose, the axle's drop (m), pitch (rad, nose up), margins (kg)."""

    mass: float
    tongue: float
    axle: float
    share: float
    verdict: str
    drop: float
    pitch: float
    margins: Mapping[str, float]

    def rise_at(self, beam: Beam, behind: float) -> float:
        """Return how far a point of the body, so far behind the coupling (m), stands above where it is when level in the reference (m)."""
        return (beam.coupling - beam.level) * (1.0 - behind / beam.lever) - self.drop * behind / beam.lever


def pitched(coupling: float, level: float, drop: float, lever: float) -> float:
    """Return a trailer's pitch (rad, nose up).

    Arguments, m: coupling: its height; level: that at which the trailer is level; drop: its axle's since then; lever: from coupling to axle."""
    return (coupling - level + drop) / lever


def standing(beam: Beam, things: Sequence[Thing]) -> Standing:
    """Return how a trailer stands. Raises InputError for a lever, a rate, a mass or an axle load not above nought. Source: method section 27."""
    if min(beam.lever, beam.rate, beam.tyre_rate) <= 0.0:
        raise InputError(
            "trailer", (beam.lever, beam.rate, beam.tyre_rate), "its lever and its rates must be above nought"
        )
    mass = sum(one.mass for one in things)
    axle = sum(one.mass * one.behind for one in things) / beam.lever
    if not (mass > 0.0 and axle > 0.0):
        raise InputError("things", mass, "its mass and its axle load must be above nought")
    tongue = mass - axle
    before = sum(one.mass * one.behind for one in things if one.reference) / beam.lever
    drop = G * (axle - before) / 2.0 * (1.0 / beam.rate + 1.0 / beam.tyre_rate)
    carried = {"axle": axle, "gross": mass, "coupling": tongue, "tow_ball": tongue}
    return Standing(
        mass=mass,
        tongue=tongue,
        axle=axle,
        share=tongue / mass,
        verdict=_verdict(beam, tongue, tongue / mass),
        drop=drop,
        pitch=pitched(beam.coupling, beam.level, drop, beam.lever),
        margins={name: limit - carried[name] for name, limit in beam.limits.items()},
    )


def _verdict(beam: Beam, tongue: float, share: float) -> str:
    """Return what is so of the nose, the gravest first."""
    nose = min((beam.limits[name] for name in ("coupling", "tow_ball") if name in beam.limits), default=None)
    if tongue < 0.0:
        return "negative"
    if nose is not None and tongue > nose:
        return "over the nose limit"
    low, high = beam.window
    return "under the window" if share < low else "over the window" if share > high else "inside"


def moved(things: Sequence[Thing], name: str, behind: float) -> list[Thing]:
    """Return what is on a trailer with one thing moved (m behind the coupling). Raises InputError for a thing that is not on it."""
    if name not in {one.name for one in things}:
        raise InputError("name", name, "there is no such thing on the trailer")
    return [replace(one, behind=behind) if one.name == name else one for one in things]


def may_offer(then: Standing) -> bool:
    """Tell whether a move may be offered: the nose is then inside its window, and nothing over a limit."""
    return then.verdict == "inside" and all(margin >= 0.0 for margin in then.margins.values())
