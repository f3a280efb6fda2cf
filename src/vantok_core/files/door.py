"""The door every JSON file comes in by: bounded in size, depth and figures before anything looks at it."""

from __future__ import annotations

import json
import re
from typing import Any, NoReturn

from vantok_core.base.errors import FileFormatError

MOST_CHARACTERS = 12_000_000
MOST_DEPTH = 40
"""Nesting of any file this program writes stays under a quarter of this."""
MOST_ENTRIES = 400_000
"""Figures, texts and names in one file."""
MOST_DIGITS = 40
_TEXT = re.compile(r'"(?:[^"\\]|\\.)*"?', re.DOTALL)
_MARK = re.compile(r"[\[\]{},]")


def read_json(text: str) -> Any:
    """Return a file's text as Python objects.

    Raises FileFormatError with the place: no JSON, too long, nested deeper than 40, more than 400 000 entries, a number of more
    than 40 digits, NaN or infinity, half a character.
    """
    text = text.removeprefix("\ufeff")
    if len(text) > MOST_CHARACTERS:
        raise FileFormatError("file", f"it has more than {MOST_CHARACTERS // 1_000_000} million characters")
    _check_depth(text)
    try:
        data = json.loads(text, parse_int=_whole, parse_float=_figure, parse_constant=_none)
    except json.JSONDecodeError as error:
        raise FileFormatError(f"line {error.lineno}, column {error.colno}", f"this is not JSON: {error.msg}") from error
    if text.count("\\u") and any("\ud800" <= c <= "\udfff" for c in json.dumps(data, ensure_ascii=False)):
        raise FileFormatError("file", "it holds half a character (a lone surrogate)")
    return data


def _check_depth(text: str) -> None:
    """Refuse nesting and numbers of entries before the parser meets them; what stands in texts does not count."""
    depth = 0
    marks = _MARK.findall(_TEXT.sub("", text))
    for mark in marks:
        if mark in "[{":
            depth += 1
            if depth > MOST_DEPTH:
                raise FileFormatError("file", f"it is nested deeper than {MOST_DEPTH}")
        elif mark in "]}":
            depth -= 1
    if marks.count(",") > MOST_ENTRIES:
        raise FileFormatError("file", f"it has more than {MOST_ENTRIES} entries")


def _whole(digits: str) -> int:
    return int(_short(digits))


def _figure(digits: str) -> float:
    value = float(_short(digits))
    if value in (float("inf"), float("-inf")):
        _none(digits)
    return value


def _short(digits: str) -> str:
    if len(digits) > MOST_DIGITS:
        raise FileFormatError("file", f"a number of {len(digits)} digits is none ({digits[:12]}...)")
    return digits


def _none(word: str) -> NoReturn:
    raise FileFormatError("file", f"“{word[:20]}” is no figure")
