"""Checks whether a kit fits a vehicle: each passes, is marginal by what a tape tells, fails, or is still to be measured.

Source: the trade's practice; a tape's band, method section 21.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from math import inf
from typing import Literal

from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.say import Quantity, Say, Worded, length, mass
from vantok_core.facts import Job, JobReading, Kit
from vantok_core.facts.sizes import SIZES
from vantok_core.loads.holding import HOLDS, OVER, Held
from vantok_core.physics.vehicle import AXLE_CORNERS, AxleName

Pair = tuple[float, float]
Status = Literal["pass", "marginal", "fail", "measure"]
"""marginal: it fits or not by less than a tape tells; to be read again before anything is ordered."""
TAPE = 0.002
"""Sigma of a tape's reading, m."""


@dataclass(frozen=True, slots=True, kw_only=True)
class FitCheck:
    """One check: what, how it stands, why, and whether a failure is final: a kit for another spring or axle, past a limit, in the way of a line or
    a tyre, which nobody overrules."""

    key: str
    words: str
    status: Status
    why: Say
    final: bool = False

    @property
    def open(self) -> bool:
        """Whether something is still to be read for it."""
        return self.status in ("measure", "marginal")

    @property
    def told(self) -> Say:
        """What was checked, and why it stands so."""
        return Say("{check}: {why}", {"check": self.words.capitalize(), "why": self.why})


def empty_reading(job: Job, axle: AxleName, datum: str) -> Pair | None:
    """Return an axle's left and right reading (m) in the empty state on a datum, None unless both exist."""
    return _pair(job, axle, datum, job.read)


def standing_reading(job: Job, axle: AxleName, datum: str) -> Pair | None:
    """Return an axle's left and right reading (m) in the empty state as it stands now, what went on earlier on it; None unless both exist."""
    return _pair(job, axle, datum, job.stood)


def _pair(job: Job, axle: AxleName, datum: str, read: Callable[[str, str, str], JobReading | None]) -> Pair | None:
    if job.empty is None:
        return None
    pair = [read(job.empty.key, corner, datum) for corner in AXLE_CORNERS[axle]]
    return (pair[0].value_m, pair[1].value_m) if pair[0] and pair[1] else None


def size_check(job: Job, kit: Kit, name: str, low: float, high: float) -> FitCheck:
    """Return whether a size of the kit's axle lies where the kit needs it, low to high (SI)."""
    key = f"{kit.axle}_{name}"
    size, read = SIZES[key], job.vehicle.sizes.get(key)  # type: ignore[call-overload]  # a name made of two
    values = {"low": Quantity(low, size.kind), "high": Quantity(high, size.kind)}
    words = size.words
    if read is None:
        why = Say("{read} It needs {low} to {high}.", {**values, "read": size.read})
        return FitCheck(key=name, words=words, status="measure", why=why)
    status: Status = "pass" if low <= read <= high else "fail"
    return FitCheck(
        key=name,
        words=words,
        status=status,
        why=Say("Read {read}; it needs {low} to {high}.", values | {"read": Quantity(read, size.kind)}),
    )


def room_check(
    key: str,
    words: str,
    why: Say,
    read: Pair,
    low: float,
    high: float = inf,
    *,
    final: bool = False,
    sigma: float = TAPE,
) -> FitCheck:
    """Return whether there is room, as read left and right (read, low, high: m; sigma: of a reading, m).

    By less than the tape's 90 % band either way it is marginal. The figure that is to spare, or lacking, stands behind the reason; final: whether
    lacking it is overruled by nobody. Source: method section 21 (a tape's band)."""
    spare, band = min(min(r - low, high - r) for r in read), NINE_IN_TEN * sigma
    how = "to spare" if spare >= 0.0 else "short"
    values: dict[str, Worded] = {"why": why, "spare": length(abs(spare)), "how": how, "tape": length(band)}
    if abs(spare) < band:
        close = Say("{why} That is {spare} {how}, and a tape tells ± {tape}: read it again.", values)
        return FitCheck(key=key, words=words, status="marginal", why=close)
    status: Status = "pass" if spare > 0.0 else "fail"
    told = Say("{why} {spare} {how}.", values)
    return FitCheck(key=key, words=words, status=status, why=told, final=final and spare < 0.0)


def rated_check(key: str, words: str, held: Held, where: str) -> FitCheck:
    """Return whether one of a kit's own ratings holds, with the load's error: a limit like any other, overruled by nobody."""
    status: Status = "pass" if held.p >= HOLDS else "fail" if held.p < OVER else "marginal"
    values = {"load": mass(held.load), "band": mass(NINE_IN_TEN * held.sigma), "limit": mass(held.limit)}
    said = {"pass": "holds", "fail": "is passed"}.get(status, held.word)
    why = Say("{where}: {load} (± {band}) against {limit}: it {said}.", {**values, "where": where, "said": said})
    return FitCheck(key=key, words=words, status=status, why=why, final=True)


def width_checks(job: Job, kit: Kit, bush_m: float | None) -> list[FitCheck]:
    """Return whether a kit's eye is as wide as the old bush (m; None: its maker does not say), and goes into the bracket with no more play
    than washers take up."""
    if bush_m is None:
        return []
    return [
        size_check(job, kit, "bush_m", bush_m - WIDTH_PLAY, bush_m + WIDTH_PLAY),
        size_check(job, kit, "bracket_m", bush_m, bush_m + WASHERS),
    ]


WIDTH_PLAY, WASHERS = 0.0015, 0.006
"""How far a bush's width may be off (m), and what washers take up between an eye and its bracket (m)."""


def read_elsewhere(job: Job, kit: Kit, datum: str) -> str:
    """Return that a height was read in another state than the empty one, or on one side only, and so does not answer the check."""
    corners = AXLE_CORNERS[kit.axle]
    names = [s.name for s in job.states if any(job.read(s.key, c, datum) for c in corners)]
    return f"Read in {', '.join(names)}, which does not answer it on both sides of the empty vehicle. " if names else ""
