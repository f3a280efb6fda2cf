"""The kinds of figure and text that facts are made of, each with its bounds; nothing outside them gets in."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field

from vantok_core.facts.classes import LOAD_INDEX, SPRINGS
from vantok_core.facts.declared import Of


def _shown(text: str) -> str:
    """Refuse what no page or file can show: half characters, and control characters other than line breaks and tabs."""
    if any(0xD800 <= ord(c) <= 0xDFFF or (ord(c) < 0x20 and c not in "\n\t\r") or ord(c) == 0x7F for c in text):
        raise ValueError("has characters that cannot be shown")
    return text


def one_line(text: str) -> str:
    """Refuse a text of more than one line, or with characters that cannot be shown: raises ValueError, as pydantic asks."""
    if "\n" in text or "\r" in text:
        raise ValueError("must be one line")
    return _shown(text)


def _known_spring(key: str) -> str:
    if key not in SPRINGS:
        raise ValueError(f"is no suspension this program knows (“{key}”); known are {', '.join(SPRINGS)}")
    return key


def _known_index(index: int) -> int:
    if index not in LOAD_INDEX:
        raise ValueError(f"is no load index: they go from {min(LOAD_INDEX)} to {max(LOAD_INDEX)}")
    return index


Metres = Annotated[float, Field(ge=-30.0, le=30.0, allow_inf_nan=False), Of("length")]
Pascals = Annotated[float, Field(ge=0.0, le=3e6, allow_inf_nan=False), Of("pressure")]
Along = Annotated[float, Field(ge=-30.0, le=30.0, allow_inf_nan=False), Of("length", low=-5.0, high=25.0)]
"""A place along the vehicle, behind its front axle."""
Aside = Annotated[float, Field(ge=-30.0, le=30.0, allow_inf_nan=False), Of("length", low=-2.0, high=2.0)]
"""A place to the left of its middle."""
PositiveMetres = Annotated[float, Field(ge=0.1, le=30.0, allow_inf_nan=False), Of("length")]
"""A wheelbase, a track, a trailer's lever: nothing on the road is shorter than a hand."""
Overhang = Annotated[float, Field(ge=0.0, le=30.0, allow_inf_nan=False), Of("length")]
Kilograms = Annotated[float, Field(ge=0.0, le=60_000.0, allow_inf_nan=False), Of("mass")]
Carried = Annotated[float, Field(ge=0.0, le=60_000.0, allow_inf_nan=False), Of("mass", high=30_000.0)]
"""What one thing carried weighs."""
Gain = Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False), Of("mass")]
Rating = Annotated[float, Field(gt=0.0, le=60_000.0, allow_inf_nan=False), Of("mass", low=1.0)]
"""What a plate allows: a rating of nought is none."""
RateInNewtons = Annotated[float, Field(ge=1000.0, le=1e7, allow_inf_nan=False), Of("rate")]
Spring = Annotated[str, AfterValidator(_known_spring)]
LoadIndex = Annotated[int, Field(ge=min(LOAD_INDEX), le=max(LOAD_INDEX)), AfterValidator(_known_index)]
Key = Annotated[str, Field(pattern=r"^[A-Za-z0-9_-]{1,30}$")]
Line = Annotated[str, Field(max_length=40), AfterValidator(one_line)]
Name = Annotated[str, Field(max_length=120), AfterValidator(one_line)]
Sentence = Annotated[str, Field(max_length=200), AfterValidator(_shown)]
Words = Annotated[str, Field(max_length=5000), AfterValidator(_shown)]
MOST_ITEMS = 1000
"""Things one load state carries, at most."""
MOST_STATES = 200
MOST_READINGS = 20_000
MOST_PARTS = 4
"""Kits that go on one after the other, at most: three on one axle, one on the other (method section 9)."""
Criterion = Literal["target", "empty_ride", "stop_gap", "range", "cost", "upkeep", "roll"]
"""What the choice is judged by."""
AND = " + "
"""What stands between the marks of kits that are on together; no kit's code holds it."""
MARK = MOST_PARTS * (80 + len(AND))
"""The longest mark of kits that are on together."""
Datum = Literal[
    "ground_arch",
    "hub_arch",
    "ground_hitch",
    "ground_point",
    "stop_gap",
    "pad_to_pad",
    "bracket",
    "rim_arch",
    "coil_gap",
    "access_hole",
]
PointKey = Annotated[str, Field(pattern=r"^[A-Za-z0-9][A-Za-z0-9_-]{0,29}$")]
DegreesPerMetre = Annotated[float, Field(ge=-300.0, le=300.0, allow_inf_nan=False), Of("gain")]
HitchKind = Literal["ball", "gooseneck", "pin", "caravan"]
Phase = Literal["before", "after", "off"]
"""Before: as it came; after: with the job's kit on; off: with what was on when it came taken off or let down, at the same load."""
School = Literal[
    "ask",
    "as_it_stands",
    "empty_height",
    "share_of_sag",
    "level",
    "keep_rake",
    "headlamp",
    "raise_by",
    "stated_height",
    "stop_gap",
]
TrailerKind = Literal["caravan", "ball", "pin"]
"""The kinds of trailer whose noses have a window each."""
AimKey = Literal[
    "height",
    "rake",
    "beam",
    "lean",
    "travel",
    "clearance",
    "roll",
    "steering",
    "kick",
    "ride",
    "damping",
    "windup",
    "tongue",
    "find",
]
"""What a job can be for."""
Wish = Literal["no_drilling", "one_day", "no_upkeep", "cheap", "reversible", "empty_ride"]
"""What the customer wants of a kit besides the height it brings."""
AxleKey = Literal["front", "rear"]


Room = Annotated[float, Field(ge=0.0, le=1.0, allow_inf_nan=False), Of("length")]
Pressure = Annotated[float, Field(ge=0.0, le=5e6, allow_inf_nan=False), Of("pressure")]


class Facts(BaseModel):
    """Base: frozen, and no unknown field passes unseen."""

    model_config = ConfigDict(extra="forbid", frozen=True)


MADE_KNOWN, UNKNOWN_MAKE = 0.07, 0.5
"""Prior sigma of ln a, a kit's strength on its force: with the maker's data, and without (method section 8)."""
