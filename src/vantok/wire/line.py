"""The line protocol: one reading a line, plain ASCII, with a checksum (docs/formats.md).

`PADS RL 612.5 kg S*4F`: instrument, channel, figure (`-` for none), unit, state (S steady, M moving, E fault), of a logger its own clock in milliseconds
(`@12340`), then `*` and the exclusive-or of all characters before it as two hexadecimal digits.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import reduce
from typing import Literal

from vantok_core.base.errors import VantokError
from vantok_core.base.units import UNITS, Kind

State = Literal["steady", "moving", "fault"]
STATES: dict[str, State] = {"S": "steady", "M": "moving", "E": "fault"}
CHANNELS = {
    "PADS": ("FL", "FR", "RL", "RR"),
    "AXLE": ("PLATFORM",),
    "TONGUE": ("BALL",),
    "GAUGE": ("LEFT", "RIGHT"),
    "HEIGHT": ("SENSOR",),
    "RIDE": ("SEAT",),
}
"""The channels of each instrument that the program knows."""
READS: dict[str, tuple[Kind, str, int]] = {
    "PADS": ("mass", "kg", 1),
    "AXLE": ("mass", "kg", 1),
    "TONGUE": ("mass", "kg", 1),
    "GAUGE": ("pressure", "kPa", 1),
    "HEIGHT": ("length", "mm", 1),
    "RIDE": ("acceleration", "m/s2", 3),
}
"""What each instrument reads, and the unit and decimals it is written in."""
WORDS = {
    "FL": "front left pad",
    "FR": "front right pad",
    "RL": "rear left pad",
    "RR": "rear right pad",
    "PLATFORM": "axle scale",
    "BALL": "tongue scale",
    "LEFT": "left gauge",
    "RIGHT": "right gauge",
    "SENSOR": "height sensor",
    "SEAT": "ride logger",
}
_LINE = re.compile(
    r"(?P<kind>[A-Z]{2,8}) (?P<channel>[A-Z]{2,10}) (?P<figure>-|-?\d{1,6}(?:\.\d{1,3})?) (?P<unit>[A-Za-z0-9/]{1,5}) (?P<state>[SME])"
    r"(?: @(?P<clock>\d{1,9}))?"
)


class LineError(VantokError, ValueError):
    """A line that is no reading: noise on the wire, or another protocol."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Reading:
    """One reading: instrument, channel, figure (SI; None: none to give), whether it is steady, moving or a fault, and its own clock (s), where it has one."""

    kind: str
    channel: str
    value: float | None
    state: State
    clock: float | None = None


def checksum(body: str) -> str:
    """Return the exclusive-or of a line's characters as two hexadecimal digits."""
    return f"{reduce(lambda total, c: total ^ ord(c), body, 0):02X}"


def write_line(one: Reading) -> str:
    """Return a reading as its line, without the line's end."""
    letter = next(key for key, state in STATES.items() if state == one.state)
    quantity, unit, digits = READS[one.kind]
    figure = "-" if one.value is None else f"{one.value / UNITS[quantity][unit]:.{digits}f}"
    clock = "" if one.clock is None else f" @{1000.0 * one.clock:.0f}"
    body = f"{one.kind} {one.channel} {figure} {unit} {letter}{clock}"
    return f"{body}*{checksum(body)}"


def read_line(line: str) -> Reading:
    """Return the reading of a line; raises LineError for anything else, a wrong checksum included."""
    body, star, check = line.strip().rpartition("*")
    match = _LINE.fullmatch(body)
    if not star or match is None:
        raise LineError(f"“{line.strip()[:60]}” is not a reading.")
    if check.upper() != checksum(body):
        raise LineError(f"“{line.strip()[:60]}” was garbled on the way: its checksum should be {checksum(body)}.")
    if match["channel"] not in CHANNELS.get(match["kind"], ()):
        raise LineError(f"“{match['kind']} {match['channel']}” is no instrument this program knows.")
    units = UNITS[READS[match["kind"]][0]]
    if match["unit"] not in units:
        raise LineError(f"“{match['unit']}” is no unit of the {WORDS[match['channel']]}.")
    figure, clock = match["figure"], match["clock"]
    return Reading(
        kind=match["kind"],
        channel=match["channel"],
        value=None if figure == "-" else float(figure) * units[match["unit"]],
        state=STATES[match["state"]],
        clock=None if clock is None else int(clock) / 1000.0,
    )
