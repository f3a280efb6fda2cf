"""What the inspection found and what the customer complained of."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from vantok_core.facts.kinds import Facts, Sentence


class Inspected(Facts):
    """One area of the inspection: its grade, a note, and the reason when a fault is overruled."""

    area: Annotated[str, Field(pattern=r"^[a-z_]{1,20}$")]
    grade: Literal["fine", "watch", "fault", "wish"]
    note: Sentence = ""
    overruled: Sentence = ""


Answer = Literal["", "cured", "better", "same", "left"]
"""What became of a complaint: cured, better, no better, or left as it is by agreement; empty: not answered yet."""


class Complaint(Facts):
    """A complaint from the list, and what became of it."""

    code: Annotated[str, Field(pattern=r"^[a-z_]{1,30}$")]
    answer: Answer = ""
