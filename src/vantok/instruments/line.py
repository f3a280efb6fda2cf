"""The line protocol: one reading a line, plain ASCII, with a checksum (docs/formats.md).

`PADS RL 612.5 kg S*4F`: instrument, channel, figure (`-` for none), unit, state (S steady, M moving, E fault), then `*` and
the exclusive-or of all characters before it as two hexadecimal digits.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import reduce
from typing import Literal

from vantok_core.base.errors import VantokError
from vantok_core.base.units import UNITS

State = Literal["steady", "moving", "fault"]
STATES: dict[str, State] = {"S": "steady", "M": "moving", "E": "fault"}
CHANNELS = {"PADS": ("FL", "FR", "RL", "RR"), "AXLE": ("PLATFORM",), "TONGUE": ("BALL",)}
"""The channels of each instrument that the program knows."""
WORDS = {
    "FL": "front left pad",
    "FR": "front right pad",
    "RL": "rear left pad",
    "RR": "rear right pad",
    "PLATFORM": "axle scale",
    "BALL": "tongue scale",
}
_LINE = re.compile(
    r"(?P<kind>[A-Z]{2,8}) (?P<channel>[A-Z]{2,10}) (?P<figure>-|-?\d{1,6}(?:\.\d{1,3})?) (?P<unit>kg|lb) (?P<state>[SME])"
)


class LineError(VantokError, ValueError):
    """A line that is no reading: noise on the wire, or another protocol."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Load:
    """One reading: instrument, channel, kg (None: none to give), and whether it is steady, moving or a fault."""

    kind: str
    channel: str
    kg: float | None
    state: State


def checksum(body: str) -> str:
    """Return the exclusive-or of a line's characters as two hexadecimal digits."""
    return f"{reduce(lambda total, c: total ^ ord(c), body, 0):02X}"


def write_line(load: Load) -> str:
    """Return a reading as its line, without the line's end."""
    letter = next(key for key, state in STATES.items() if state == load.state)
    body = f"{load.kind} {load.channel} {'-' if load.kg is None else f'{load.kg:.1f}'} kg {letter}"
    return f"{body}*{checksum(body)}"


def read_line(line: str) -> Load:
    """Return the reading of a line; raises LineError for anything else, a wrong checksum included."""
    body, star, check = line.strip().rpartition("*")
    match = _LINE.fullmatch(body)
    if not star or match is None:
        raise LineError(f"“{line.strip()[:60]}” is not a reading.")
    if check.upper() != checksum(body):
        raise LineError(f"“{line.strip()[:60]}” was garbled on the way: its checksum should be {checksum(body)}.")
    if match["channel"] not in CHANNELS.get(match["kind"], ()):
        raise LineError(f"“{match['kind']} {match['channel']}” is no instrument this program knows.")
    figure = match["figure"]
    kg = None if figure == "-" else float(figure) * UNITS["mass"][match["unit"]]
    return Load(kind=match["kind"], channel=match["channel"], kg=kg, state=STATES[match["state"]])
