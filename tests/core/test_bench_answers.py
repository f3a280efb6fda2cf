"""Every bench: it answers with what stands in it at first, names the field of what cannot be, and says more as more is known."""

from __future__ import annotations

import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from tests.core.samples import job
from vantok_core.base.errors import InputError
from vantok_core.judge.benches.all import BENCHES
from vantok_core.judge.benches.bench import Answer
from vantok_core.model import build_model

WRONG = {
    "leaf": ({"leaves": (0.0,)}, {"front": 0.0}, {"shape": 3.0}), "air": ({"pressure": 0.0, "later": 1e5, "hours": 5.0}, {"high": 2e4}, {"route": 0.1,
    "travel": 0.1, "hot": 0.2}),
    "damper": ({"closed": 0.6}, {"up": 0.0}, {"bump": -0.1}), "bar": ({"diameter": 0.0}, {"link_at": 2.0}, {"bore": 0.05}), "tyre": ({"load": 9000.0},
    {"index": 400.0}),
    "stabilizer": ({"closed": 0.7}, {"lock": -0.1}, {"damping": -5.0, "lever": 0.1}),
    "thread": ({"bracket": 0.04, "bush": 0.05, "stock": "1"}, {"over": 0.04, "pitch": 0.009}, {"bracket": 0.05, "bush": 0.04, "stock": "wide"}),
}  # fmt: skip


def answered(key: str, **told: Any) -> Answer:
    """Return a bench's answer to its first figures with some changed."""
    bench = BENCHES[key]
    return bench.answer({one.name: one.first for one in bench.asks if one.first is not None} | told)


class Answers(unittest.TestCase):
    def test_each_answers_and_refuses(self) -> None:
        """A sentence and, where there is working, figures; what cannot be is refused in words; every field has a name of its own."""
        for key, bench in BENCHES.items():
            found = answered(key)
            self.assertTrue(found.said, key)
            names = [one.name for one in bench.asks]
            self.assertEqual(len(names), len(set(names)))
            for wrong in WRONG[key]:
                with self.subTest(key, wrong=wrong), self.assertRaises(InputError):
                    answered(key, **wrong)
            with self.subTest(key), self.assertRaises(InputError):
                if not any(one.needed and one.kind != "choice" for one in bench.asks):
                    raise InputError("nothing", key, "it asks for nothing in particular")
                bench.answer({})
            self.assertTrue(set(bench.of_job(job(), build_model(job()))) <= set(names))

    def test_what_each_says(self) -> None:
        """A reversed leaf, a leak, a damper that is the strap, a link that turns over, a rear axle that locks first, a thread with its rival."""
        said = {
            "reversed": answered("leaf", arch=0.05), "a leak, find it": answered("air", later=1.5e5, hours=24.0), "quicker than a sway": answered("air",
            bore=0.006, line=2.0, litres=2.0),
            "limiting strap": answered("damper", open=0.48), "bump stop": answered("damper", closed=0.4, open=0.6), "may turn over": answered("bar",
            link_at=0.52, link_height=0.40, bump=0.003, droop=0.003),
            "the rear locks first": answered("tyre", wheelbase=3.2, rear_share=0.3, height=0.8), "higher on the wall": answered("tyre", wheelbase=3.2,
            rise=0.03),
            "M10 x 1.5": answered("thread", over=0.00984, pitch=0.0015), "mm of play is left": answered("thread", bracket=0.0523, bush=0.0451,
            stock="1 x 4, 1.5 x 4, 2 x 2, 3 x 2"),
            "never reaches either end": answered("stabilizer"), "the clamp moved by": answered("stabilizer", across=0.58),
            "lock the steering": answered("stabilizer", open=0.5),
            "instead of": answered("stabilizer", damping=1400.0, lever=0.16), "that takes": answered("thread", torque=110.0, diameter=0.012),
        }  # fmt: skip
        for text, found in said.items():
            self.assertTrue(any(text in one.template for one in found.said), text)
        self.assertEqual(
            [said[t].tone for t in ("reversed", "limiting strap", "may turn over", "the rear locks first")],
            ["limit", "limit", "limit", "act"],
        )

    @given(st.floats(0.3, 0.5), st.floats(0.05, 0.1), st.floats(0.02, 0.15))
    def test_a_damper_that_fits_keeps_both_margins(self, up: float, bump: float, along: float) -> None:
        """Whatever the mounts: it is called right only with both ends clear by the margin."""
        found = answered("damper", up=up, bump=bump, along=along)
        left = {r.words: r.value for r in found.rows}
        short, long = left["Shortest, at bump"], left["Longest, at droop"]
        fits = short.value >= 0.33 + 0.010 and long.value <= 0.53 - 0.010  # type: ignore[union-attr]
        self.assertEqual(any("room at both ends" in s.template for s in found.said), fits)
