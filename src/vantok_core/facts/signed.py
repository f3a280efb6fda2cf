"""What the customer signed for, as drawn on the tablet: drilling, welding, advice that was declined."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from vantok_core.facts.kinds import Facts, Name, Sentence

WIDE, TALL = 1000, 300
"""The pad's own measure: a stroke's points are whole numbers within it, from its upper left corner."""
MOST_STROKES, MOST_POINTS = 60, 400
Across = Annotated[int, Field(ge=0, le=WIDE)]
Down = Annotated[int, Field(ge=0, le=TALL)]
Stroke = Annotated[tuple[tuple[Across, Down], ...], Field(min_length=1, max_length=MOST_POINTS)]


class Signed(Facts):
    """One signature: what it is for, in words; who signed; the strokes, each a line of points on the pad; the day."""

    what: Annotated[Sentence, Field(min_length=3)]
    name: Annotated[Name, Field(min_length=2)]
    strokes: Annotated[tuple[Stroke, ...], Field(min_length=1, max_length=MOST_STROKES)]
    day: Annotated[str, Field(pattern=r"^\d{4}-\d{2}-\d{2}$")]
