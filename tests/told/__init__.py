"""What is told, held against what was told when somebody last read it: the files beside this one, a line a page, an answer or a job.

Where they differ the new text is written beside the old one: read it, and move it over where it is right.
"""

from __future__ import annotations

import re
import unittest
from collections.abc import Iterable
from itertools import zip_longest
from pathlib import Path

HERE = Path(__file__).parent
FIGURE = re.compile(r"\d[\d,]*(?:\.\d+)?")
SHOWN = 12


def held_against(test: unittest.TestCase, name: str, lines: Iterable[str]) -> None:
    """Fail where lines are not those of a file. A last digit may be one off: on another machine a rounding may fall the other way."""
    told, path = list(lines), HERE / f"{name}.txt"
    known = path.read_text(encoding="utf-8").splitlines() if path.exists() else []
    other = [(was, now) for was, now in zip_longest(known, told, fillvalue="") if not alike(was, now)]
    if other:
        path.with_suffix(".new").write_text("\n".join(told) + "\n", encoding="utf-8")
        shown = "\n".join(f"- {was}\n+ {now}" for was, now in other[:SHOWN])
        test.fail(f"{len(other)} lines of {path.name} are told otherwise: read {path.stem}.new.\n{shown}")


def once(head: str, said: Iterable[str], seen: set[str]) -> str:
    """Return a line of what was not said further up, and of how much was; what is said now counts as seen."""
    told = list(said)
    new = [one for one in dict.fromkeys(told) if one not in seen]
    seen.update(new)
    return f"{head}, {len(told) - len(new)} as above: {' | '.join(new)}"


def alike(was: str, now: str) -> bool:
    """Tell whether two lines are the same but for the last digit of their figures."""
    if was == now:
        return True
    if FIGURE.sub("#", was) != FIGURE.sub("#", now):
        return False
    return all(_near(a, b) for a, b in zip(FIGURE.findall(was), FIGURE.findall(now), strict=True))


def _near(was: str, now: str) -> bool:
    (a, a_digits), (b, b_digits) = _read(was), _read(now)
    return a_digits == b_digits and abs(a - b) <= 1


def _read(figure: str) -> tuple[int, int]:
    """Return a figure in units of its last digit, and how many digits follow the point."""
    whole, _, part = figure.replace(",", "").partition(".")
    return int(whole + part), len(part)
