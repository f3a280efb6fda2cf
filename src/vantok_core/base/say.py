"""Sentences with quantities in them, shown in the reader's units."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Literal

from vantok_core.base.names import BEAM_AT, BEAM_AT_US
from vantok_core.base.units import System, show

_PLACE = re.compile(r"\{(\w+)\}")
OF_BAND = "±\u00a0"
"""What stands before a band: it keeps to its figure at a line's end."""

Tone = Literal["level", "act", "limit", "plain"]
"""level: within its band; act: something to do; limit: a rating or hazard; plain: neither."""


@dataclass(frozen=True, slots=True)
class Quantity:
    """A value in SI and its kind; signed ones are shown with their sign.

    us: the value (SI) for a reader in US units, where the trade's custom there differs (a beam is judged at 25 ft, not 10 m); band, us_band: half
    of its 90 % band (SI), told behind it; None: told elsewhere, or not known.
    """

    value: float
    kind: str
    signed: bool = False
    us: float | None = None
    band: float | None = None
    us_band: float | None = None

    def in_units(self, system: System) -> str:
        """Return it with its unit."""
        theirs = system == "us" and self.us is not None
        value, band = (self.us, self.us_band) if theirs and self.us is not None else (self.value, self.band)
        told = show(self.kind, value, system, signed=self.signed)
        return told if band is None else f"{told} {OF_BAND}{show(self.kind, band, system)}"

    @property
    def size(self) -> Quantity:
        """How much it is, whichever way, with its band."""
        return replace(self, value=abs(self.value), us=None if self.us is None else abs(self.us), signed=False)

    @property
    def without_band(self) -> Quantity:
        """The figure alone, where its band stands beside it or has no room."""
        return replace(self, band=None, us_band=None)


@dataclass(frozen=True, slots=True)
class Say:
    """A sentence with named places for quantities: `Say("Rear sits {sag} low.", {"sag": Quantity(0.058, "length")})`.

    Only places that have a quantity are filled: whatever else stands in braces is somebody's own words.
    """

    template: str
    values: Mapping[str, Quantity] = field(default_factory=dict)

    def in_units(self, system: System) -> str:
        """Return the sentence in the reader's units."""
        told = _PLACE.sub(lambda m: self.values[m[1]].in_units(system) if m[1] in self.values else m[0], self.template)
        return told.replace("± ", OF_BAND)


BEAM_WALL = Quantity(BEAM_AT, "distance", us=BEAM_AT_US)
"""How far ahead the beam is judged, as the reader's trade has it."""


def length(value: float, *, signed: bool = False) -> Quantity:
    """Return a length (m)."""
    return Quantity(value, "length", signed)


def mass(value: float, *, signed: bool = False) -> Quantity:
    """Return a mass (kg)."""
    return Quantity(value, "mass", signed)


@dataclass(frozen=True, slots=True, kw_only=True)
class Finding:
    """Something found: what is so, why it matters, what to do; tone; key for tests and links; topic for "open it"; where: the state's name; holds: it makes
    the sheet doubtful, so that nothing which rests on it is told until it is cleared."""

    key: str
    tone: Tone
    what: Say
    do: Say = Say("")
    topic: str = ""
    where: str = ""
    holds: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Verdict:
    """The sentence a stage ends in, with its tone."""

    tone: Tone
    sentences: tuple[Say, ...]

    def in_units(self, system: System) -> str:
        """Return the whole verdict in the reader's units."""
        return " ".join(s.in_units(system) for s in self.sentences)
