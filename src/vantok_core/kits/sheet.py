"""A kit's sheet as it is typed: its fasteners and what is looked at later, a line each; its steps, a block each with an empty line between.

`bag bolt; 2; 20 Nm; locker; crosswise`, `clamp bolts again; 80 km; 3 months`, and a step's words with lines below them like `check: no bubbles`.
Reading back what is written gives the same sheet.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from typing import Any

from vantok_core.base.errors import FileFormatError, UnitError
from vantok_core.base.units import System, parse, show
from vantok_core.facts.kit import Care, Fastener, KitStep

BY_FEEL = "by feel"
STATES = ("dry", "oiled", "locker")
STANDS = {"on its wheels": "wheels", "on stands": "stands", "at ride height": "ride_height"}
ONCE, UNDONE = "once for both sides", "cannot be undone"
MOVES, ALONE, OF_VEHICLE = "body or axle moves", "one side at a time", "of the vehicle"
AIR = {"out": "out", "the minimum": "minimum", "working": "working"}
ENERGY = {"relieved": "unloads", "let go of": "releases", "carries again": "loads"}
TRIAL = {"dry": "dry", "read": "read"}
ONE_OF = {"air": ("air", AIR), "spring": ("energy", ENERGY), "trial": ("trial", TRIAL)}
"""What a line may say of the vehicle, the field it goes into, and the words there are for it."""
LISTS = ("tightens", "opens", "closes")
SAID = {
    "tightens": "tightens",
    "opens": "opens",
    "closes": "closes",
    "write down": "fact",
    "caution": "caution",
    "check": "check",
    "if it fails": "if_fails",
}
"""What a line below a step's words begins with, and the field it goes into."""
MILE = 1.609344
"""A mile, km."""


def fasteners_written(told: Sequence[Fastener], system: System = "metric") -> str:
    """Return a fastener table as it is typed, torques in the reader's units."""
    return "\n".join("; ".join(_of_fastener(one, system)) for one in told)


def _of_fastener(one: Fastener, system: System) -> Iterator[str]:
    yield one.name
    yield str(one.count)
    yield BY_FEEL if one.torque_nm is None else show("torque", one.torque_nm, system)
    if one.state != "dry":
        yield one.state
    if one.at_ride_height:
        yield "at ride height"
    if one.crosswise:
        yield "crosswise"
    if one.stages > 1:
        yield f"{one.stages} stages"
    if one.whose == "vehicle":
        yield OF_VEHICLE
    if one.head_m is not None:
        yield f"head {1e3 * one.head_m:g} mm"
    yield from (f"by {v.by} {v.low:g} to {v.high:g}" for v in one.only)


def read_fasteners(text: str, system: System = "metric") -> list[dict[str, Any]]:
    """Return the rows of a typed fastener table (N m). Raises FileFormatError naming the row and what is wrong there."""
    return [_fastener(_cells(line), f"fasteners, row {n}", system) for n, line in _numbered(text)]


def _fastener(cells: list[str], place: str, system: System) -> dict[str, Any]:
    if len(cells) < 3 or not cells[1].isdecimal():
        raise FileFormatError(place, "it needs a name; how many; and a torque or “by feel”")
    found: dict[str, Any] = {"name": cells[0], "count": int(cells[1])}
    if cells[2].lower() != BY_FEEL:
        found["torque_nm"] = _value("torque", cells[2], place, system)
    for cell in map(str.lower, cells[3:]):
        stages = cell.removesuffix("stages").strip()
        if cell in STATES:
            found["state"] = cell
        elif cell in ("at ride height", "crosswise"):
            found[cell.replace(" ", "_")] = True
        elif cell == OF_VEHICLE:
            found["whose"] = "vehicle"
        elif cell.endswith("stages") and stages.isdecimal():
            found["stages"] = int(stages)
        elif cell.startswith("head "):
            found["head_m"] = _value("length", cell.removeprefix("head "), place, system)
        elif (only := _ONLY.fullmatch(cell)) is not None:
            found["only"] = [
                *found.get("only", []),
                {"by": only["by"], "low": float(only["low"]), "high": float(only["high"])},
            ]
        else:
            known = "at ride height, crosswise, 2 stages, head 17 mm, by year 2012 to 2016"
            raise FileFormatError(place, f"“{cell}” is none of {', '.join(STATES)}, {known}, {OF_VEHICLE}")
    return found


_ONLY = re.compile(r"by (?P<by>[a-z_]+) (?P<low>-?\d+(?:\.\d+)?) to (?P<high>-?\d+(?:\.\d+)?)")
"""What a fastener is for, where several are alike: a setting's name, or the model year, with its least and most (SI)."""


def care_written(told: Sequence[Care]) -> str:
    """Return what is looked at later as it is typed."""
    return "\n".join("; ".join(_of_care(one)) for one in told)


def _of_care(one: Care) -> Iterator[str]:
    yield one.what
    if one.months is not None:
        yield f"{one.months:g} months"
    if one.km is not None:
        yield f"{one.km:g} km"


def read_care(text: str) -> list[dict[str, Any]]:
    """Return the rows of a typed care list (months, km). Raises FileFormatError naming the row and what is wrong there."""
    found = []
    for n, line in _numbered(text):
        what, *dates = _cells(line)
        row: dict[str, Any] = {"what": what}
        for date in dates:
            match = _DATE.fullmatch(date.lower())
            if match is None:
                raise FileFormatError(
                    f"care, row {n}", f"“{date}” is neither months nor a distance, like 3 months, 80 km, 50 miles"
                )
            figure = float(match["figure"].replace(",", "."))
            row |= (
                {"months": figure}
                if match["unit"] == "month"
                else {"km": figure * (1.0 if match["unit"] == "km" else MILE)}
            )
        found.append(row)
    return found


_DATE = re.compile(r"(?P<figure>\d+(?:[.,]\d+)?)\s*(?P<unit>month|km|mi|mile)s?")


def steps_written(told: Sequence[KitStep]) -> str:
    """Return a kit's steps as they are typed."""
    return "\n\n".join("\n".join(_of_step(one)) for one in told)


def _of_step(one: KitStep) -> Iterator[str]:
    yield one.words
    yield next(words for words, stands in STANDS.items() if stands == one.stands)
    yield from (words for words, said in FLAGS.items() if all(getattr(one, n) == v for n, v in said.items()))
    if one.people > 1:
        yield f"{one.people} people"
    if one.drawing:
        yield f"picture: {one.drawing.replace('_', ' ')}"
    yield from _of_vehicle(one)
    for words, field in SAID.items():
        told = getattr(one, field)
        if told:
            yield f"{words}: {', '.join(told) if words in LISTS else told}"


def _of_vehicle(one: KitStep) -> Iterator[str]:
    """Yield what a step says of air, springs and the trial."""
    for words, (field, known) in ONE_OF.items():
        yield from (f"{words}: {word}" for word, value in known.items() if getattr(one, field) == value)


def read_steps(text: str) -> list[dict[str, Any]]:
    """Return the steps of a typed text. Raises FileFormatError naming the step and the line that says nothing it knows."""
    blocks = [block.strip() for block in text.replace("\r", "").split("\n\n") if block.strip()]
    return [_step(block.splitlines(), f"steps, step {n}") for n, block in enumerate(blocks, 1)]


def _step(lines: list[str], place: str) -> dict[str, Any]:
    found: dict[str, Any] = {"words": lines[0].strip()}
    for line in map(str.strip, lines[1:]):
        told = _line_of_step(line)
        if told is None:
            known = "; ".join((*STANDS, *FLAGS, *(f"{word}: …" for word in (*SAID, *ONE_OF, "picture")), "2 people"))
            raise FileFormatError(place, f"“{line}” is none of: {known}")
        found |= told
    return found


def _line_of_step(line: str) -> dict[str, Any] | None:
    """Return what a line below a step's words says of it; None for one that says nothing known."""
    plain, (word, colon, rest) = line.lower(), line.partition(":")
    word, rest = word.lower(), rest.strip()
    if plain in STANDS:
        return {"stands": STANDS[plain]}
    if plain in FLAGS:
        return FLAGS[plain]
    if people := _PEOPLE.fullmatch(plain):
        return {"people": int(people[1])}
    return _told(word, rest) if colon else None


def _told(word: str, rest: str) -> dict[str, Any] | None:
    """Return what a line with a colon says; None for one that says nothing known."""
    if word in LISTS:
        return {word: [name.strip() for name in rest.split(",") if name.strip()]}
    if word in ONE_OF:
        field, known = ONE_OF[word]
        return {field: known[rest.lower()]} if rest.lower() in known else None
    if word == "picture":
        return {"drawing": rest.replace(" ", "_")}
    return {SAID[word]: rest} if word in SAID else None


FLAGS: dict[str, dict[str, Any]] = {
    ONCE: {"side": "once"},
    "left side only": {"side": "left"},
    "right side only": {"side": "right"},
    UNDONE: {"irreversible": True},
    MOVES: {"moves": True},
    ALONE: {"alone": True},
}
"""Lines that say one thing by themselves."""
_PEOPLE = re.compile(r"(\d+) people")


def _value(kind: str, text: str, place: str, system: System) -> float:
    try:
        return parse(kind, text, system).value
    except UnitError as error:
        raise FileFormatError(place, str(error)) from None


def _cells(line: str) -> list[str]:
    return [cell.strip() for cell in line.split(";")]


def _numbered(text: str) -> Iterator[tuple[int, str]]:
    return ((n, line) for n, line in enumerate((line for line in text.splitlines() if line.strip()), 1))
