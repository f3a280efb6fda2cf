"""What may never be said of any job, whatever it is: held over planted jobs and over every demo job alike."""

from __future__ import annotations

import re
import unittest
from collections import Counter
from collections.abc import Mapping, Sequence

from vantok_core.base.say import Finding, Say, Verdict
from vantok_core.facts import Job
from vantok_core.judge.grounds.lead import passed_limits
from vantok_core.loads.nose import noses
from vantok_core.loads.plan import state_margins, worst_margin

JUDGED = ("weigh", "diagnose", "choose", "set", "prove", "report")
"""Stages that judge loads: there a passed limit leads."""


def nothing_contradicts(
    test: unittest.TestCase,
    job: Job,
    verdicts: Mapping[str, Verdict],
    said: Sequence[Say],
    sheet: Sequence[Finding] = (),
) -> None:
    """Hold what is said of a job, stage by stage, against what it rests on. said: what else is told, as open points and findings."""
    texts = {stage: verdict.in_units("metric") for stage, verdict in verdicts.items()}
    over, margins = passed_limits(job), [m for s in job.states for m in state_margins(job, s)]
    open_ = any(m.past or m.unsure for m in margins) or bool(noses(job))
    doubted = any(f.holds for f in sheet)
    test.assertEqual([key for key, count in Counter(f.key for f in sheet).items() if count > 1], [], "said twice")
    for stage in (s for s in verdicts if s in JUDGED):
        with test.subTest(stage=stage):
            if over:
                test.assertEqual(verdicts[stage].tone, "limit", texts[stage])
                test.assertIn(over[0][1].name, verdicts[stage].sentences[0].in_units("metric"))
            if open_ or (doubted and stage != "weigh"):
                test.assertNotEqual(verdicts[stage].tone, "level", texts[stage])
            if worst_margin(job) is None:
                test.assertNotEqual(verdicts[stage].tone, "level", texts[stage])
    every = [*texts.values(), *(one.in_units("metric") for one in said)]
    for text in every:
        test.assertNotRegex(text, r"[{}]")
        if open_:
            test.assertNotRegex(text, r"nothing is needed|Every known limit holds")
        if doubted:
            test.assertNotRegex(text, r"nothing is needed|bring the rear all the way")
        if not any(r.datum == "stop_gap" for r in job.readings):
            test.assertNotRegex(text, r"bump stop is (touching|\d)|stop gap \d")
    if not any(r.phase == "after" for r in job.readings):
        test.assertFalse(any(re.search(r"proved at this setting", text) for text in every))
