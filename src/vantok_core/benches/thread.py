"""Threads and bushes at the bench: torque in another thread state, the washers that fill a bracket, which thread a bolt is.

Source: method section 13.
"""

from __future__ import annotations

import itertools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import hypot, prod

from vantok_core.base.errors import InputError
from vantok_core.base.say import Quantity, Say

NUT_FACTORS: Mapping[str, float] = {"dry": 0.20, "oiled": 0.15, "locker": 0.15, "anti_seize": 0.13}
"""The nut factor K of each thread state (settings)."""
INCH = 0.0254


@dataclass(frozen=True, slots=True, kw_only=True)
class ThreadTorque:
    """Clamp force that a table's torque means (N), the torque for it in another state (N m), what the table's torque would clamp there (N), and whether
    that is another state than the table's."""

    clamp: float
    torque: float
    clamp_at_table_torque: float
    warn: bool


def torque_in_state(
    torque: float, diameter: float, table_state: str, state: str, factors: Mapping[str, float] = NUT_FACTORS
) -> ThreadTorque:
    """Return what a table's torque is worth with the thread in another state. The maker's figure is warned about, never rewritten.

    Formula: clamp `T / (K d)`; the same clamp in another state takes `T K' / K`. Arguments: torque: N m; diameter: m; factors: K by state,
    a ratio. Raises InputError for a state without a factor, or a figure not above zero. Source: method section 13.
    """
    for name in (table_state, state):
        if name not in factors:
            raise InputError("state", name, f"known are {', '.join(factors)}")
    if not (torque > 0.0 and diameter > 0.0 and min(factors.values()) > 0.0):
        raise InputError("torque", (torque, diameter), "torque, diameter and nut factors must be above zero")
    own, other = factors[table_state], factors[state]
    return ThreadTorque(
        clamp=torque / (own * diameter),
        torque=torque * other / own,
        clamp_at_table_torque=torque / (other * diameter),
        warn=own != other,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Washers:
    """A set of washers: the gap to fill, the thickness on the thicker and the thinner side, their difference, the play left (m), how many."""

    gap: float
    left: float
    right: float
    difference: float
    play: float
    count: int


MOST_SETS = 20_000
"""How many sets of washers are tried at most on one side."""
PLAY = 0.0005
"""The most play left in a bracket, m (setting)."""


def washers(bracket: float, bush: float, stock: Sequence[tuple[float, int]], play_max: float = PLAY) -> Washers:
    """Return the washers that take up a bracket's width beside a bush, as even as they go.

    Among all sets with a play from nought to the most: least difference between the sides, then least play, then fewest. Arguments: bracket, bush,
    play_max: m; stock: (thickness m, how many) each. Raises InputError where the bush is wider than the bracket, or no set fits. Source:
    method section 13; own search in whole micrometres.
    """
    gap, most = round(1e6 * (bracket - bush)), round(1e6 * play_max)
    if gap < 0:
        raise InputError("bush", bush, "it is wider than its bracket")
    sizes = [(round(1e6 * t), n) for t, n in stock]
    if prod(n + 1 for _, n in sizes) > MOST_SETS:
        raise InputError("stock", len(sizes), "so many sets are not tried: name at most five thicknesses, four of each")
    stacks = _stacks(sizes, gap)
    best: tuple[int, int, int, int, int] | None = None
    for thick, other in itertools.combinations_with_replacement(sorted(stacks, reverse=True), 2):
        play = gap - thick - other
        if 0 <= play <= most and (count := _fewest(stacks[thick], stacks[other], sizes)) is not None:
            found = (thick - other, play, count, thick, other)
            best = found if best is None or found < best else best
    if best is None:
        raise InputError(
            "stock",
            len(sizes),
            Say(
                "no set of these fills {gap} with at most {most} of play",
                {"gap": Quantity(1e-6 * gap, "thickness"), "most": Quantity(1e-6 * most, "thickness")},
            ),
        )
    difference, play, count, left, right = best
    return Washers(
        gap=1e-6 * gap,
        left=1e-6 * left,
        right=1e-6 * right,
        difference=1e-6 * difference,
        play=1e-6 * play,
        count=count,
    )


def _stacks(sizes: Sequence[tuple[int, int]], gap: int) -> dict[int, set[tuple[int, ...]]]:
    """Return every stack up to a gap by its thickness (whole micrometres), as how many of each size."""
    stacks: dict[int, set[tuple[int, ...]]] = {}
    for counts in itertools.product(*(range(n + 1) for _, n in sizes)):
        thick = sum(c * t for c, (t, _) in zip(counts, sizes, strict=True))
        if thick <= gap:
            stacks.setdefault(thick, set()).add(counts)
    return stacks


def _fewest(one: set[tuple[int, ...]], other: set[tuple[int, ...]], sizes: Sequence[tuple[int, int]]) -> int | None:
    """Return the fewest washers that make both sides from the stock, None where it does not hold so many."""
    counts = [
        sum(a) + sum(b) for a in one for b in other if all(x + y <= n for x, y, (_, n) in zip(a, b, sizes, strict=True))
    ]
    return min(counts, default=None)


def _metric() -> list[tuple[str, float, float]]:
    told = {
        5: (0.8,),
        6: (1.0,),
        8: (1.25, 1.0),
        10: (1.5, 1.25, 1.0),
        12: (1.75, 1.5, 1.25),
        14: (2.0, 1.5),
        16: (2.0, 1.5),
        18: (2.5, 1.5),
        20: (2.5, 1.5),
        22: (2.5, 1.5),
        24: (3.0, 2.0),
    }
    return [(f"M{d} x {p:g}", 1e-3 * d, 1e-3 * p) for d, pitches in told.items() for p in pitches]


def _unified() -> list[tuple[str, float, float]]:
    told = {
        "No. 10": (0.190, 24, 32),
        "1/4": (0.25, 20, 28),
        "5/16": (0.3125, 18, 24),
        "3/8": (0.375, 16, 24),
        "7/16": (0.4375, 14, 20),
        "1/2": (0.5, 13, 20),
        "9/16": (0.5625, 12, 18),
        "5/8": (0.625, 11, 18),
        "3/4": (0.75, 10, 16),
        "7/8": (0.875, 9, 14),
        "1": (1.0, 8, 12),
    }
    return [(f"{name}-{tpi}", INCH * told[name][0], INCH / tpi) for name in told for tpi in told[name][1:]]


THREADS: tuple[tuple[str, float, float], ...] = (*_metric(), *_unified())
"""Threads by name, nominal diameter and pitch (m): ISO coarse and fine, unified coarse and fine."""
UNDER = 0.1
"""A real bolt measures this share of its pitch under its nominal size."""
SURE, NONE = 2.0, 4.0
"""A runner-up at or under the first leaves doubt; a best one over the second is none."""


@dataclass(frozen=True, slots=True, kw_only=True)
class ThreadFound:
    """A thread by name with its score, whether it is sure, and the runner-up that leaves doubt (“none” without one)."""

    name: str
    score: float
    sure: bool
    runner_up: str


def find_thread(
    diameter: float, pitch: float, diameter_error: float = 0.00015, pitch_error: float = 0.00003
) -> ThreadFound:
    """Return which thread a bolt is, from its outside diameter over the crests and its pitch.

    Formula: the least `hypot((d - (D - 0.1 P)) / s_d, (p - P) / s_p)`. Arguments: diameter, pitch: m; diameter_error, pitch_error: their sigmas, m.
    Raises InputError where none
    scores 4 or less, or a figure is not above zero. Source: method section 13.
    """
    if not min(diameter, pitch, diameter_error, pitch_error) > 0.0:
        raise InputError("thread", (diameter, pitch), "diameter, pitch and their errors must be above zero")
    scored = sorted(
        (hypot((diameter - (d - UNDER * p)) / diameter_error, (pitch - p) / pitch_error), name)
        for name, d, p in THREADS
    )
    (best, name), (second, other) = scored[:2]
    if best > NONE:
        raise InputError("thread", (diameter, pitch), f"it is none of the usual threads; the nearest would be {name}")
    return ThreadFound(name=name, score=best, sure=best <= SURE < second, runner_up=other if second <= SURE else "none")
