"""The worked cases, all of them, through the same adapter as `run.py cases`."""

import copy
import unittest

from vantok_core.base.errors import FileFormatError
from vantok_core.files.cases.run import KINDS, compare, run_case, run_cases, shipped

EVERY = shipped()
DATA = {"cases": [case for case in EVERY if case["kind"] in KINDS]}
LATER = 0
"""Cases of what is not built yet: benches, traces; of the third file what the shop's jobs teach, a fault's shares and the tyre share of a roll."""


class WorkedCases(unittest.TestCase):
    def test_every_case_is_reproduced(self) -> None:
        """Each published case comes out within its own tolerance, and none is left out."""
        outcomes = run_cases(DATA)
        self.assertEqual(len(outcomes), len(EVERY) - LATER)
        for outcome in outcomes:
            with self.subTest(outcome.name):
                self.assertTrue(outcome.passed, f"{outcome.worst:.2f} x tolerance at {outcome.place} {outcome.message}")

    def test_every_kind_is_covered(self) -> None:
        """Every adapter is exercised by at least one case."""
        self.assertEqual({case["kind"] for case in DATA["cases"]}, set(KINDS))

    def test_an_input_nobody_asks_for_is_refused(self) -> None:
        """A key an adapter does not know, at the top or within, fails the case and is named: nothing is dropped in silence."""
        for kind, change in (("rates", {"tyre": "wide"}), ("target", {"items": [{"school": "level", "wish": 1}]})):
            case = copy.deepcopy(
                next(c for c in DATA["cases"] if c["kind"] == kind and c["expected"] != {"error": True})
            )
            case["inputs"] |= change
            outcome = run_case(case)
            self.assertFalse(outcome.passed)
            self.assertIn("tyre" if kind == "rates" else "wish", outcome.message)

    def test_a_wrong_expectation_fails(self) -> None:
        """The comparison can fail: one per cent off anywhere is noticed."""
        case = copy.deepcopy(next(c for c in DATA["cases"] if c["kind"] == "equilibrium"))
        case["expected"]["states"]["loaded"]["load"]["RL"] *= 1.01
        outcome = run_case(case)
        self.assertFalse(outcome.passed)
        self.assertEqual(outcome.place, "/states/loaded/load/RL")

    def test_refusals_and_missing_results(self) -> None:
        """A case that must be refused passes only by a refusal; a missing result is infinitely wrong."""
        case = {
            "name": "n",
            "kind": "coil_block",
            "inputs": {"k": 30e3, "N": 2.0, "n": 3.0},
            "expected": {"error": True},
            "tolerance": {},
        }
        self.assertTrue(run_case(case).passed)
        case["inputs"] = {"k": 30e3, "N": 6.0, "n": 1.0}
        self.assertFalse(run_case(case).passed)
        self.assertEqual(compare({"a": 1.0}, {}, {"rel": 0, "abs": {"default": 1}})[0], float("inf"))
        for odd in (
            {"kind": "nothing such"},
            {"kind": "coil_block", "inputs": {}},
            {"kind": "rates", "inputs": {"dF_side": "x", "sag": 1}},
        ):
            outcome = run_case({"name": "n", "expected": {}, **odd})
            self.assertFalse(outcome.passed)
            self.assertTrue(outcome.message.startswith("n: "), outcome.message)
        with self.assertRaises(FileFormatError):
            run_cases([])
