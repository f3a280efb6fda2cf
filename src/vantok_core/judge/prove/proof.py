"""What a proof holds: heights against the wish and against the prediction, the kit's strength, what may be behind a miss.

Source: method sections 5 and 26.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from math import exp
from typing import Literal

from vantok_core.base.figure import NINE_IN_TEN, Figure
from vantok_core.base.say import Verdict
from vantok_core.facts import JobReading
from vantok_core.judge.prove.after_causes import Cause, Weighed
from vantok_core.judge.prove.thresholds import STRENGTH_TOLD
from vantok_core.kits.family import Setting
from vantok_core.kits.odds import EDGE, TOLERANCE

Named = Literal["corner", "rear", "front"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Foretold:
    """A height with the kit on: before (m), predicted with its band, read (m; None: not yet)."""

    before: float | None
    predicted: Figure
    read: float | None

    @property
    def miss(self) -> float | None:
        """Read less predicted, m."""
        return None if self.read is None else self.read - self.predicted.value

    @property
    def inside(self) -> bool | None:
        """Whether the reading lies in its own joint 90 % band; of many, one in ten does not by chance."""
        return None if self.read is None else not self.predicted.differs(self.read)


@dataclass(frozen=True, slots=True, kw_only=True)
class Compared(Foretold):
    """One corner: empty, before and after height (m), predicted height with its joint band, miss; stale: a reading taken at another
    setting, which is not judged."""

    corner: str
    empty: float | None
    stale: JobReading | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class AtPoint(Foretold):
    """A point of the body away from the arches in a state: before, predicted with the kit on with its band, read (m)."""

    state: str
    key: str
    name: str


@dataclass(frozen=True, slots=True, kw_only=True)
class NextSetting:
    """A changed setting from the refitted model for a state, by name, SI."""

    state: str
    setting: Setting


@dataclass(frozen=True, slots=True, kw_only=True)
class Suspect:
    """What would explain the misses best: one corner's reading, the rear or the front of a state; its mean miss and band (m)."""

    named: Named
    state: str
    corner: str
    miss: float
    band: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Reached:
    """How the rear stands to the height wanted in a state, as read: above it (m, below under nought), and the tape's 90 % band of that."""

    state: str
    above: float
    band: float

    @property
    def met(self) -> bool:
        """Whether it is there, within the one tolerance of aims and odds."""
        return abs(self.above) <= TOLERANCE + EDGE


@dataclass(frozen=True, slots=True, kw_only=True)
class Strength:
    """How strong a kit was read to be, as a factor on its data, with the ln-sigma of that and what it was before any reading."""

    q: float
    sigma_ln: float
    prior: float

    @property
    def band(self) -> tuple[float, float]:
        """Its 90 % band."""
        spread = exp(NINE_IN_TEN * self.sigma_ln)
        return self.q / spread, self.q * spread

    @property
    def told(self) -> bool:
        """Whether the heights tell anything of it: without a known load, or with a tape too rough, they do not."""
        return self.sigma_ln < STRENGTH_TOLD * self.prior


@dataclass(frozen=True, slots=True, kw_only=True)
class Proof:
    """The proof of a job: the height wanted as reached (None: none is to be reached, or it was not read); by state the comparisons with
    the prediction, whether all read ones lie together in their joint band, what explains a miss best, the causes to look into by
    likelihood and which are open, the pattern of the misses in words; how strong the kit was read to be; points: of the body, read before and with it
    on; the next setting; verdict."""

    rows: Mapping[str, tuple[Compared, ...]]
    inside: bool | None
    suspect: Suspect | None
    causes: tuple[Weighed, ...]
    open: tuple[Cause, ...]
    pattern: str
    next: NextSetting | None
    verdict: Verdict
    reached: Reached | None = None
    points: tuple[AtPoint, ...] = ()
    strength: Strength | None = None
