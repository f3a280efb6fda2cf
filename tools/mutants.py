"""Twelve rules broken, one at a time, in a copy of the house: each must be noticed by the test that stands for it. Part of `python3 run.py check`."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
AT_ONCE = 2


@dataclass(frozen=True, slots=True)
class Mutant:
    """A line of a module, what it is broken into, and the test that must fail then."""

    module: str
    line: str
    broken: str
    test: str


MUTANTS = (
    Mutant(
        "vantok/drawing/side.py",
        "h - self.times * self.drop(drops, s)",
        "h + self.times * self.drop(drops, s)",
        "tests.web.test_drawings.WaysDown",
    ),
    Mutant(
        "vantok_core/judge/measure/checks.py",
        "<= WIDEST_SIDE",
        "<= 1.2 * WIDEST_SIDE",
        "tests.core.test_thresholds.Empty",
    ),
    Mutant(
        "vantok_core/judge/diagnose/stance.py",
        "view.rake < -max(0.005, view.band)",
        "view.rake > max(0.005, view.band)",
        "tests.core.test_thresholds.Stance",
    ),
    Mutant(
        "vantok_core/judge/diagnose/stance.py",
        '"right" if view.lean > 0',
        '"left" if view.lean > 0',
        "tests.core.test_thresholds.Stance",
    ),
    Mutant(
        "vantok_core/judge/diagnose/springs.py",
        "> EVEN_PADS * max",
        "> 2.0 * EVEN_PADS * max",
        "tests.core.test_thresholds.Empty",
    ),
    Mutant(
        "vantok_core/loads/limits.py",
        "self.held.p < OVER",
        "self.held.p < PROBABLY",
        "tests.core.test_thresholds.Limits",
    ),
    Mutant(
        "vantok_core/physics/plane.py",
        "return (d_r - d_f) / wheelbase",
        "return (d_f - d_r) / wheelbase",
        "tests.core.test_thresholds.Tape",
    ),
    Mutant(
        "vantok_core/readings/tape.py",
        "resolution / sqrt(12.0), settle",
        "resolution / sqrt(12.0), 0.0",
        "tests.core.test_thresholds.Tape",
    ),
    Mutant(
        "vantok_core/procedure/prover.py",
        'if side.air == "out":',
        'if side.air == "never":',
        "tests.core.test_prover",
    ),
    Mutant(
        "vantok_core/road/trace_file.py",
        "np.median(values) if told.gravity else np.mean(values)",
        "0.0",
        "tests.core.test_road_logs",
    ),
    Mutant(
        "vantok_core/practice/bay/marks.py",
        "<= max(KNOWN * true, 6.0)",
        "<= max(9.0 * true, 6.0)",
        "tests.core.test_practice_bay.Solvable",
    ),
    Mutant(
        "vantok/records/jobs/models.py",
        "super().get_queryset().filter(practice=False)",
        "super().get_queryset()",
        "tests.web.test_practice.OfTheShop",
    ),
)


def notices(one: Mutant, house: Path) -> bool:
    """Break a rule in a copy of the house, and tell whether its test fails there."""
    copy = Path(tempfile.mkdtemp(dir=house))
    for name in ("src", "tests", "tools"):
        shutil.copytree(ROOT / name, copy / name, ignore=shutil.ignore_patterns("__pycache__", "node_modules"))
    for name in ("manage.py", "pyproject.toml"):
        shutil.copy(ROOT / name, copy / name)
    (copy / "var").mkdir()
    module = copy / "src" / one.module
    text = module.read_text(encoding="utf-8")
    if text.count(one.line) != 1:
        raise SystemExit(f"{one.module}: “{one.line}” stands there {text.count(one.line)} times, not once.")
    module.write_text(text.replace(one.line, one.broken), encoding="utf-8")
    env = os.environ | {"PYTHONPATH": str(copy / "src"), "VANTOK_VAR": str(copy / "var"), "VANTOK_PLAIN_HTTP": "1"}
    ran = subprocess.run(
        [sys.executable, *(("manage.py", "test") if "web" in one.test else ("-m", "unittest")), "--failfast", one.test],
        cwd=copy,
        env=env,
        capture_output=True,
        text=True,
        check=False,
    )
    if "FAILED" not in ran.stderr + ran.stdout and ran.returncode:
        raise SystemExit(f"{one.test} did not run:\n{ran.stderr[-2000:]}")
    return ran.returncode != 0


def main() -> None:
    """Try them all; end with those that nobody noticed."""
    with tempfile.TemporaryDirectory() as house, ThreadPoolExecutor(AT_ONCE) as pool:
        told = list(pool.map(lambda one: notices(one, Path(house)), MUTANTS))
    missed = [one for one, seen in zip(MUTANTS, told, strict=True) if not seen]
    for one in missed:
        print(f"{one.module}: “{one.line}” became “{one.broken}”, and {one.test} passed.")
    print(f"{len(MUTANTS) - len(missed)} of {len(MUTANTS)} broken rules were noticed.")
    sys.exit(bool(missed))


if __name__ == "__main__":
    main()
