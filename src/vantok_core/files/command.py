"""`run.py solve` and `run.py cases`: files in, JSON or lines out, no database."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path

from vantok_core.base.errors import VantokError
from vantok_core.files.cases.run import run_cases
from vantok_core.files.door import read_json
from vantok_core.files.job_file import read_job, solve_job


def main(arguments: list[str] | None = None) -> int:
    """Return the exit code: 0 when all is well, 1 for a failed case, 2 for a bad file."""
    parser = argparse.ArgumentParser(prog="run.py")
    parser.add_argument("command", choices=["solve", "cases"])
    parser.add_argument("file")
    parser.add_argument("--units", choices=["metric", "us"], default="metric")
    parser.add_argument("--working", action="store_true")
    asked = parser.parse_args(arguments)
    try:
        text = Path(asked.file).read_text(encoding="utf-8")
        if asked.command == "solve":
            print(
                json.dumps(
                    solve_job(read_job(text), system=asked.units, working=asked.working), indent=2, ensure_ascii=False
                )
            )
            return 0
        return _cases(text)
    except (OSError, UnicodeDecodeError) as error:
        print(f"{asked.file}: cannot be read: {error}", file=sys.stderr)
    except VantokError as error:
        print(f"{asked.file}: {error}", file=sys.stderr)
    return 2


def _cases(text: str) -> int:
    outcomes = run_cases(read_json(text))
    for o in outcomes:
        where = f"at {o.place}" if o.place and not o.passed else ""
        print(f"{'pass' if o.passed else 'FAIL'}  {o.worst:9.2e}  {o.name}  {where} {o.message}".rstrip())
    failed = sum(not o.passed for o in outcomes)
    print(f"{len(outcomes) - failed} passed, {failed} failed")
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
