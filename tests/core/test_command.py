"""`run.py solve` and `run.py cases` as commands: what they print, and how they end."""

import contextlib
import io
import json
import tempfile
import unittest
from pathlib import Path

from tests.core.samples import job
from vantok_core.files.command import main
from vantok_core.files.job_file import write_job


class Commands(unittest.TestCase):
    def run_on(self, command: str, text: str, *more: str) -> tuple[int, str, str]:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "file.json"
            path.write_text(text, encoding="utf-8")
            out, err = io.StringIO(), io.StringIO()
            with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
                code = main([command, str(path), *more])
        return code, out.getvalue(), err.getvalue()

    def test_solve_prints_json(self) -> None:
        """A good job ends in 0 with results in the asked units, working on request."""
        code, out, _ = self.run_on("solve", write_job(job()), "--units", "us", "--working")
        found = json.loads(out)
        self.assertEqual(code, 0)
        self.assertIn("in low", found["diagnosis"]["verdict"])
        self.assertTrue(found["diagnosis"]["states"]["loaded"]["working"])
        self.assertNotIn(
            "working", json.loads(self.run_on("solve", write_job(job()))[1])["diagnosis"]["states"]["loaded"]
        )

    def test_bad_files_end_in_two_with_one_line(self) -> None:
        """A bad file ends in 2, prints nothing but one line naming file and field."""
        bad = json.loads(write_job(job()))
        bad["vehicle"]["gross_kg"] = -3
        for text, place in (("{", "line 1"), (json.dumps(bad), "job.vehicle.gross_kg")):
            code, out, err = self.run_on("solve", text)
            self.assertEqual((code, out, err.count("\n")), (2, "", 1))
            self.assertIn(place, err)
        self.assertEqual(main(["solve", "/nowhere/at/all.json"]), 2)

    def test_cases_end_in_one_when_one_fails(self) -> None:
        """A line a case, counts at the end, exit 1 when one fails, 2 for no file of cases."""
        case = {
            "name": "c",
            "kind": "coil_block",
            "inputs": {"k": 31e3, "N": 6.5, "n": 1.5},
            "expected": {"k": 40300.0},
            "tolerance": {"rel": 1e-6, "abs": {"default": 1e-9}},
        }
        code, out, _ = self.run_on("cases", json.dumps({"cases": [case, case | {"expected": {"k": 1.0}}]}))
        self.assertEqual(code, 1)
        self.assertTrue(out.startswith("pass"))
        self.assertIn("FAIL", out)
        self.assertTrue(out.endswith("1 passed, 1 failed\n"))
        self.assertEqual(self.run_on("cases", json.dumps({"cases": [case]}))[0], 0)
        self.assertEqual(self.run_on("cases", "{}")[0], 2)
