"""A practice case as a file: written whole, and read through the door; what is damaged is said in words."""

from __future__ import annotations

import json

from vantok_core.base.check import read_form
from vantok_core.base.errors import FileFormatError
from vantok_core.files.door import read_json
from vantok_core.practice.bay.case import Case

FORMAT = "vantok-practice-case"


def write_case(case: Case) -> str:
    """Return a case as its file."""
    told = case.model_dump(mode="json", exclude_defaults=True)
    return json.dumps({"format": FORMAT, "version": 1} | told, indent=1, ensure_ascii=False)


def read_case(text: str) -> Case:
    """Return the case of a file. Raises FileFormatError saying what of it is damaged, and where."""
    found = read_json(text)
    if not isinstance(found, dict) or found.get("format") != FORMAT:
        raise FileFormatError("format", "this is no practice case")
    return read_form(Case, found, "case")
