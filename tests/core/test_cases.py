"""The worked cases, all of them, through the same adapter as `run.py cases`."""

import copy
import json
import unittest
from pathlib import Path

from vantok_core.errors import FileFormatError
from vantok_core.files.cases import KINDS, compare, run_case, run_cases

FILE = Path(__file__).parent / "worked-examples.json"
DATA = json.loads(FILE.read_text())


class WorkedCases(unittest.TestCase):
    def test_every_case_is_reproduced(self) -> None:
        """Each published case comes out within its own tolerance, and none is left out."""
        outcomes = run_cases(DATA)
        self.assertEqual(len(outcomes), len(DATA["cases"]))
        for outcome in outcomes:
            with self.subTest(outcome.name):
                self.assertTrue(outcome.passed, f"{outcome.worst:.2f} x tolerance at {outcome.place} {outcome.message}")

    def test_every_kind_is_covered(self) -> None:
        """Every adapter is exercised by at least one case."""
        self.assertEqual({case["kind"] for case in DATA["cases"]}, set(KINDS))

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
