"""A quote as facts: its lines, what the customer said to each, and whether it was taken."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from vantok_core.facts.declared import Of
from vantok_core.facts.kinds import Facts, Name
from vantok_core.facts.parts import NotNegative

Money = Annotated[float, Field(ge=0.0, le=1e6, allow_inf_nan=False)]
Share = Annotated[float, Field(ge=0.0, le=1.0, allow_inf_nan=False), Of("percent")]
Corrosion = Literal["none", "light", "moderate", "heavy"]
LineKind = Literal["part", "work", "access", "consumables"]
MOST_LINES = 60
HOUR = 80.0
"""Price of an hour's work where the shop has said nothing else (its currency)."""


class QuoteLine(Facts):
    """One line. what; amount: of a part how many, of work the hours of one side, of access its hours; price: of one part, or of the
    consumables (None: not known yet, and then not in the sum); sides: 1 or 2 that the work is done on; why: it must be cured first, it is
    the kit, or it is a wish; answer: the customer's."""

    kind: LineKind
    what: Name
    amount: Annotated[NotNegative, Field(le=1000.0)] | None = None
    price: Money | None = None
    sides: Literal[1, 2] = 1
    why: Literal["fix_first", "kit", "wish"] = "kit"
    answer: Literal["", "yes", "no"] = ""


class QuoteSheet(Facts):
    """A quote. corrosion: of the fasteners, which sets the reserve; rate: of an hour; tax: share; answer: of the whole, when and through whom."""

    lines: Annotated[tuple[QuoteLine, ...], Field(max_length=MOST_LINES)] = ()
    corrosion: Corrosion = "none"
    rate: Money
    tax: Share = 0.0
    answer: Literal["", "accepted", "declined"] = ""
    answered: Annotated[str, Field(pattern=r"^(\d{4}-\d{2}-\d{2})?$")] = ""
    by: Name = ""
