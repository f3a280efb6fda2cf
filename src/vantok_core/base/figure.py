"""A figure: a value with the band it is known within and where it comes from, shown alike on screen, in the report and in a sentence."""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot
from typing import Literal

from vantok_core.base.say import OF_BAND, Quantity
from vantok_core.base.units import System

NINE_IN_TEN, TWO_IN_THREE = 1.645, 0.96742
"""Half widths of the bands that hold 90 %, and two in three, in standard deviations (normal distribution)."""
Grade = Literal["measured", "computed", "typical", "told"]
"""measured: off a tape, scale or gauge; computed: from this vehicle's own readings; typical: of its class; told: by somebody."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Figure:
    """A value and its standard deviation (SI, of one kind), how it is known, and the working that made it (its anchor, if shown)."""

    value: float
    sigma: float
    kind: str = "length"
    grade: Grade = "computed"
    working: str = ""

    @property
    def band(self) -> float:
        """Half of its 90 % band."""
        return NINE_IN_TEN * self.sigma

    @property
    def shown(self) -> Quantity:
        """The value to show."""
        return Quantity(self.value, self.kind)

    @property
    def width(self) -> Quantity:
        """Half of its band to show."""
        return Quantity(self.band, self.kind)

    def differs(self, read: float, sigma: float = 0.0, times: float = 1.0) -> bool:
        """Tell whether a reading with a sigma of its own (both SI) lies outside so many of their joint bands.

        Arguments: read, sigma: SI, of this figure's kind; times: how many bands. Source: method section 3."""
        return abs(read - self.value) > times * NINE_IN_TEN * hypot(self.sigma, sigma)

    def in_units(self, system: System) -> str:
        """Return it with its band and unit, and a word where it is not this vehicle's own."""
        told = "" if self.grade in ("measured", "computed") else f" ({self.grade})"
        return f"{self.shown.in_units(system)} {OF_BAND}{self.width.in_units(system)}{told}"
