"""Planted jobs with known answers: each stage says what is so and nothing that is not; expectations were written by hand before they were run."""

from __future__ import annotations

import re
import unittest

from tests.spoken import nothing_contradicts
from vantok_core.practice.planted import said_of
from vantok_core.practice.planted_jobs import planted


class Planted(unittest.TestCase):
    def test_each_is_told_right(self) -> None:
        """Thirty and more jobs: what each stage has to say is there, what it must not is not, and nothing contradicts another."""
        jobs = planted()
        self.assertGreaterEqual(len(jobs), 30)
        self.assertEqual(len({one.key for one in jobs}), len(jobs))
        for one in jobs:
            with self.subTest(one.key, truth=one.truth):
                said = said_of(one.job)
                texts = {stage: verdict.in_units("metric") for stage, verdict in said.verdicts.items()}
                for stage, wanted in one.expects.items():
                    self.assertIn(stage, texts)
                    if wanted.tone:
                        self.assertEqual(said.verdicts[stage].tone, wanted.tone, texts[stage])
                    for part in wanted.says:
                        self.assertRegex(texts[stage], part)
                    for part in wanted.never:
                        self.assertNotRegex(texts[stage], part)
                for text in texts.values():
                    self.assertFalse([part for part in one.every if re.search(part, text)], text)
                more = [*said.open, *(f.what for f in (*said.findings, *said.sheet))]
                nothing_contradicts(self, one.job, said.verdicts, more, said.sheet)
