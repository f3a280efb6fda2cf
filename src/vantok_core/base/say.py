"""Sentences with quantities in them, shown in the reader's units."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

from vantok_core.base.names import BEAM_AT, BEAM_AT_US
from vantok_core.base.units import System, show

_PLACE = re.compile(r"\{(\w+)\}")
_ENDS = re.compile(r"(?<=[.!?]) (?=[A-Z“])")
MOST_LED = 180
"""Letters of a sentence that stand in two lines of a tablet, four of a phone."""
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

    def in_both(self) -> str:
        """Return it in both systems."""
        one, other = self.in_units("metric"), self.in_units("us")
        return one if one == other else f"{one} ({other})"

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
    """A sentence with named places: `Say("{state}: rear sits {sag} low.", {"state": "Loaded", "sag": Quantity(0.058, "length")})`.

    A place is filled by a quantity, a name or other words, a count, or a sentence of its own; what stands in braces inside those is somebody's own words, and
    stays as it is. act: it says what is to do next, or that nothing is: by itself (alone), or of the sentence before it (with).
    """

    template: str
    values: Mapping[str, Worded] = field(default_factory=dict)
    act: Literal["", "alone", "with"] = ""

    def in_units(self, system: System) -> str:
        """Return the sentence in the reader's units."""
        return self._with(lambda one: one.in_units(system))

    def in_both(self) -> str:
        """Return the sentence in both systems: for an error, which knows no reader."""
        return self._with(lambda one: one.in_both())

    def _with(self, said: Callable[[Quantity | Say], str]) -> str:
        def told(place: re.Match[str]) -> str:
            one = self.values.get(place[1], place[0])
            return said(one) if isinstance(one, Quantity | Say) else str(one)

        return _PLACE.sub(told, self.template).replace("± ", OF_BAND)


Worded = Quantity | Say | str | int
"""What fills a place of a sentence."""


def in_turn(parts: Sequence[Worded], between: str) -> Say:
    """Return several things said one behind the other, with what stands between them."""
    return Say(
        between.join("{" + str(n) + "}" for n in range(len(parts))), {str(n): one for n, one in enumerate(parts)}
    )


BEAM_WALL = Quantity(BEAM_AT, "distance", us=BEAM_AT_US)
"""How far ahead the beam is judged, as the reader's trade has it."""


def length(value: float, *, signed: bool = False) -> Quantity:
    """Return a length (m)."""
    return Quantity(value, "length", signed)


def mass(value: float, *, signed: bool = False) -> Quantity:
    """Return a mass (kg)."""
    return Quantity(value, "mass", signed)


Spot = Literal["", "front", "rear", "nose", "tail", "lamps"]
"""Where on the vehicle something is found: at an axle, its nose, its tail or hitch, its lamps; empty: of the whole of it."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Finding:
    """Something found: what is so, why it matters, what to do; tone; key for tests and links; topic for "open it"; where: the state's name; holds: it makes
    the sheet doubtful, so that nothing which rests on it is told until it is cleared; at: where on the vehicle."""

    key: str
    tone: Tone
    what: Say
    do: Say = Say("")
    topic: str = ""
    where: str = ""
    holds: bool = False
    at: Spot = ""

    def __post_init__(self) -> None:
        """Mark what a finding asks for as an act, whoever words it."""
        if self.do.template and not self.do.act:
            object.__setattr__(self, "do", replace(self.do, act="with"))


def _halved(sentence: str) -> tuple[str, ...]:
    """Return a sentence, or its two halves where it is longer than what leads and has a place to part at."""
    at = sentence.rfind("; ", 0, MOST_LED)
    if len(sentence) <= MOST_LED or at < 0:
        return (sentence,)
    rest = sentence[at + 2 :]
    return f"{sentence[:at]}.", f"{rest[:1].upper()}{rest[1:]}"


@dataclass(frozen=True, slots=True, kw_only=True)
class Verdict:
    """The sentence a stage ends in, with its tone."""

    tone: Tone
    sentences: tuple[Say, ...]

    def in_units(self, system: System) -> str:
        """Return the whole verdict in the reader's units."""
        return " ".join(s.in_units(system) for s in self.sentences)

    def parted(self, system: System) -> tuple[str, str]:
        """Return what stands in two lines, and what folds under it: the first sentence (the worst stands first), what is to be done next (with the
        sentence it hangs on), and of the rest as much, in order, as has room (`MOST_LED` letters)."""
        told = [
            (part, n)
            for n, said in enumerate(self.sentences)
            for one in _ENDS.split(said.in_units(system))
            for part in _halved(one)
        ]
        led = {0}
        for place in self._by_worth([n for _, n in told]):
            more = led | place
            if sum(len(told[m][0]) + 1 for m in more) <= MOST_LED:
                led = more
            elif len(place) == 1 and not self.sentences[told[min(place)][1]].act:
                break
        first, rest = ([one for n, (one, _) in enumerate(told) if (n in led) is wanted] for wanted in (True, False))
        return " ".join(first), " ".join(rest)

    def _by_worth(self, of: list[int]) -> Iterator[set[int]]:
        """Yield what may lead, by the places of its parts: acts first (one that hangs on the sentence before it with that, of another its last part, in which
        it is said what to do), then every part in order. of: the sentence each part is of."""
        for n, said in enumerate(self.sentences):
            if said.act == "alone":
                yield {max(m for m, one in enumerate(of) if one == n)}
            elif said.act == "with":
                yield {m for m, one in enumerate(of) if one in (n - 1, n)}
        for m, n in enumerate(of):
            if self.sentences[n].act != "with":
                yield {m}
