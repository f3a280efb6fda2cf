"""Instructions that can be read two ways: what a sheet's least, most, window or share is meant in is asked, and the answer kept.

Nothing is taken silently: until somebody says which, the stricter way is used and said to be. Source: own judgement.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from vantok_core.base.say import Quantity, Say
from vantok_core.facts import Job
from vantok_core.kits.registry import family_of
from vantok_core.kits.target import SCHOOLS

STATES = (("always", "in every state, empty and loaded"), ("empty", "only unladen"), ("loaded", "only loaded"))
COLD = (("cold", "cold, before driving"), ("hot", "warm, as driven"))
STANDS = (
    ("empty", "unladen, on its wheels"),
    ("loaded", "loaded, on its wheels"),
    ("hanging", "with the axle hanging"),
)


@dataclass(frozen=True, slots=True, kw_only=True)
class TwoWays:
    """An instruction that can be read in more than one way: its key, words, ways (the first is the strict one), and the one chosen (empty: nobody said)."""

    key: str
    words: Say
    ways: tuple[tuple[str, str], ...]
    meant: str = ""

    @property
    def taken(self) -> str:
        """The words of the way it is read."""
        return dict(self.ways).get(self.meant, self.ways[0][1])


def two_ways(job: Job) -> tuple[TwoWays, ...]:
    """Return what of the job's instructions can be read two ways, with what was chosen."""
    return tuple(_asked(job))


def _asked(job: Job) -> Iterator[TwoWays]:
    states = [s for s in job.judged if not s.past]
    if job.target.school == "share_of_sag" and len(states) > 1:
        words = Say("{share} of the sag", {"share": Quantity(job.target.share, "percent")})
        yield _of(job, "share-of", words, tuple((s.key, f"of the sag of “{s.name}”") for s in states))
    if job.target.school == "stated_height":
        yield _of(
            job,
            "height-in",
            Say("{school}: as its source means it", {"school": SCHOOLS["stated_height"].capitalize()}),
            (("loaded", "loaded as stated"), ("empty", "unladen")),
        )
    if job.fitting is None:
        return
    spans = family_of(job.fitting.kit).spans(job.fitting.kit)
    for one in family_of(job.fitting.kit).settings:
        span = spans.get(one.name)
        if span is None:
            continue
        if one.kind == "pressure" and span.low > 0.0:
            yield _of(
                job, f"least-{one.name}", Say("Never less than {low}", {"low": Quantity(span.low, "pressure")}), STATES
            )
            yield _of(
                job, f"most-{one.name}", Say("Never more than {high}", {"high": Quantity(span.high, "pressure")}), COLD
            )
        elif "gap" in one.name and span.high > span.low:
            values = {"low": Quantity(span.low, "length"), "high": Quantity(span.high, "length")}
            yield _of(job, f"window-{one.name}", Say("A gap of {low} to {high}", values), STANDS)


def _of(job: Job, key: str, words: Say, ways: tuple[tuple[str, str], ...]) -> TwoWays:
    key = key.replace(".", "-")[:30]
    chosen = job.meant.get(key, "")
    return TwoWays(key=key, words=words, ways=ways, meant=chosen if chosen in dict(ways) else "")
