"""A kit as a shelf or a job file carries it: what every kit has, and its family's own data, which `kits.registry` checks."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from vantok_core.facts.kinds import Line
from vantok_core.facts.parts import NotNegative, Positive


class Kit(BaseModel):
    """One kit, for both sides, with its window, cost and work; what its family adds is kept beside and read by that family.

    place: lateral place as a share of half the track; ratio: its travel over the wheel's; side_space_m: room it needs beside the
    tyre. Masses kg, hours for both sides together, price and upkeep in the shop's currency. drilling: whether frame or axle is drilled; reversible: whether it
    comes off without a trace; None: nobody has said. life_years: until it is renewed; access: what must come off first, with its hours,
    which count among the kit's; prerequisites, contents: a line each; claims: what its label promises, kept apart and never used;
    years: first and last model year it is made for.
    """

    model_config = ConfigDict(extra="allow", frozen=True)

    code: Annotated[str, Field(pattern=r"^[A-Za-z0-9_-]{1,40}$")]
    name: Annotated[str, Field(min_length=1, max_length=120)]
    maker: Annotated[str, Field(max_length=120)]
    family: Annotated[str, Field(pattern=r"^[a-z_]{1,30}$")]
    axle: Literal["front", "rear"] = "rear"
    springs: Annotated[tuple[str, ...], Field(max_length=30)]
    gross_min_kg: NotNegative = 0.0
    gross_max_kg: Positive = 60_000.0
    place: Annotated[float, Field(gt=0.0, le=1.0)] = 0.58
    ratio: Positive = 1.0
    replaces_stop: bool = False
    own_stop: bool = True
    side_space_m: NotNegative = 0.0
    price: NotNegative
    hours: NotNegative
    upkeep_per_year: NotNegative = 0.0
    drilling: bool | None = None
    reversible: bool | None = None
    life_years: Positive | None = None
    access: Annotated[dict[Annotated[str, Field(min_length=1, max_length=60)], NotNegative], Field(max_length=12)] = {}
    prerequisites: Annotated[tuple[Line, ...], Field(max_length=12)] = ()
    contents: Annotated[tuple[Line, ...], Field(max_length=60)] = ()
    claims: Annotated[str, Field(max_length=500)] = ""
    years: tuple[Annotated[int, Field(ge=1900, le=2100)], Annotated[int, Field(ge=1900, le=2100)]] | None = None
    notes: Annotated[str, Field(max_length=2000)] = ""

    @property
    def own(self) -> Mapping[str, Any]:
        """The family's own data, as it stands in the file."""
        return self.model_extra or {}

    @cached_property
    def read(self) -> dict[str, Any]:
        """What its family has made of its own data, so that it is read once."""
        return {}

    def model_copy(self, *, update: Mapping[str, Any] | None = None, deep: bool = False) -> Kit:
        """Return a copy with some data changed; what was made of the old data is not carried over."""
        copied = super().model_copy(update=update, deep=deep)
        copied.__dict__.pop("read", None)
        return copied
