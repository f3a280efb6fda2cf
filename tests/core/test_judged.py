"""What every public function of the judgement makes of the planted jobs, of a job of which everything is known, and of that one with a fact
otherwise, as somebody last read it (`tests/told`)."""

from __future__ import annotations

import unittest
from collections import defaultdict
from collections.abc import Iterable, Iterator
from itertools import islice

from tests.core.full import full_job, otherwise
from tests.judged import judged
from tests.told import held_against
from vantok_core.facts import Job
from vantok_core.practice.planted_jobs import planted

PARTS = 4
"""Tests that share the job with one fact otherwise among them."""
FEW = 2
"""New pieces that a function is heard on one fact."""


def told(jobs: Iterable[tuple[str, Job]], seen: dict[str, set[str]]) -> Iterator[tuple[str, str, list[str]]]:
    """Yield each job and function with what it said that it had not said before."""
    for key, job in jobs:
        for name, pieces in judged(job):
            new = [one for one in dict.fromkeys(pieces) if one not in seen[name]]
            seen[name].update(new)
            if new:
                yield key, name, new


class Judged(unittest.TestCase):
    def test_of_the_planted_jobs(self) -> None:
        """Job by job, what no earlier one said."""
        jobs = [(one.key, one.job) for one in planted()]
        held_against(
            self,
            "judged-planted",
            (f"{key} {name}: {' | '.join(new)}" for key, name, new in told(jobs, defaultdict(set))),
        )

    def test_of_a_job_of_which_everything_is_known(self) -> None:
        """Function by function, and all of them can be called."""
        said = list(told([("", full_job())], defaultdict(set)))
        held_against(self, "judged-full", (f"{name}: {' | '.join(new)}" for _, name, new in said))

    def part(self, n: int) -> None:
        """Fact by fact, the first that each function says anew."""
        seen = defaultdict[str, set[str]](set)
        for _ in told([("", full_job())], seen):
            pass
        lines = defaultdict[str, list[str]](list)
        for what, name, new in told(islice(otherwise(full_job()), n, None, PARTS), seen):
            lines[what].append(f"{name.rpartition('.')[2]}: {' | '.join(new[:FEW])}")
        held_against(self, f"judged-otherwise-{n + 1}", (f"{what}: {'; '.join(all)}" for what, all in lines.items()))


def _part(n: int) -> object:
    def test(self: Judged) -> None:
        self.part(n)

    test.__doc__ = f"Of the same with one fact otherwise, part {n + 1}."
    return test


for _n in range(PARTS):
    setattr(Judged, f"test_with_one_fact_otherwise_{_n + 1}", _part(_n))
