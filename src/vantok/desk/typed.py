"""A height as it is typed: one length, pressed to lifted, several of one place, a touched stop, or one with the gain somebody said."""

from __future__ import annotations

import re

from vantok.records.measure.models import Reading
from vantok_core.base.errors import InputError, UnitError
from vantok_core.base.units import System, parse_length
from vantok_core.facts.reading import MOST_REPEATS
from vantok_core.loads.unweighed import gap_when_touching
from vantok_core.readings.tape import friction_reading, repeated

BARE_MM_ABOVE = 120.0
"""In inches, a bare figure above this was read in mm."""
TAPE_MOST = 5.0
"""No height at a vehicle is above this, m."""
AGAIN_AND_AGAIN = ";"
"""Between several readings of one place, each taken after settling anew: `731; 733; 732`."""
PAIR = re.compile(r"\s+to\s+")
GAINED = re.compile(r"\s+(up|down)\s+", re.IGNORECASE)
"""Between a height and by how much somebody says it came up or down: `886 up 17`."""
PRESSED = re.compile(r"\s+of\s+")
"""Between the present length of a stop that is touched and its free one."""
"""`745 to 751`: the height read pressed, then lifted."""


def _touched(text: str, units: System) -> Reading:
    """Return the gap of a stop that is touched, from its present and its free length: what it is pressed by, below nought."""
    parts = PRESSED.split(text)
    if len(parts) > 2:
        raise UnitError(f"“{text}” has more than two lengths; a touched stop is told like 52 of 60.", field="length")
    present, free = (parse_length(part, units) for part in parts)
    try:
        gap = gap_when_touching(free.value, present.value)
    except InputError as error:
        raise UnitError(f"“{text}”: a touched stop is no longer than it is free.", field="length") from error
    return Reading(value_m=gap, step_m=present.step, text=text[:40], unit=present.unit)


def _repeated(text: str, units: System) -> Reading:
    """Return the mean of several readings of one place, with each of them."""
    lengths = [
        parse_length(part, units, bare_mm_above=BARE_MM_ABOVE) for part in text.split(AGAIN_AND_AGAIN) if part.strip()
    ]
    if not 2 <= len(lengths) <= MOST_REPEATS or max(found.value for found in lengths) > TAPE_MOST:
        raise UnitError(
            f"“{text}” is not two to {MOST_REPEATS} readings of one place, like 731; 733; 732.", field="length"
        )
    values, first = [found.value for found in lengths], lengths[0]
    mean = repeated(values, first.step).height
    return Reading(value_m=mean, step_m=first.step, text=text[:40], unit=first.unit, repeats=values)


def _with_gain(text: str, units: System, datum: str) -> Reading:
    """Return a reading with the gain that was said beside it: kept to be held against the difference, which is computed."""
    height, way, gain, *more = GAINED.split(text)
    if more:
        raise UnitError(f"“{text}” says more than one gain; write it like 886 up 17.", field="length")
    found = reading_of(height, units, datum)
    found.told_gain_m = parse_length(gain, units).value * (1.0 if way.lower() == "up" else -1.0)
    found.text = text[:40]
    return found


def reading_of(text: str, units: System, datum: str) -> Reading:
    """Return a reading of a text: one length, two with “to” between them, or of a touched stop its present “of” its free length."""
    if GAINED.search(text):
        return _with_gain(text, units, datum)
    if datum == "stop_gap" and PRESSED.search(text):
        return _touched(text, units)
    if AGAIN_AND_AGAIN in text:
        return _repeated(text, units)
    parts = PAIR.split(text)
    if len(parts) > 2:
        raise UnitError(
            f"“{text}” has more than two lengths; pressed and lifted are two, like 745 to 751.", field="length"
        )
    lengths = [parse_length(part, units, bare_mm_above=BARE_MM_ABOVE) for part in parts]
    first = lengths[0]
    if max(found.value for found in lengths) > TAPE_MOST:
        raise UnitError(
            f"“{text}” is longer than any tape at a vehicle reads; write it like 748, 75 cm, 29 1/2.", field="length"
        )
    if len(lengths) == 1:
        return Reading(value_m=first.value, step_m=first.step, text=text[:40], unit=first.unit)
    pair = friction_reading(first.value, lengths[1].value)
    return Reading(value_m=pair.height, step_m=first.step, text=text[:40], unit=first.unit, friction_m=pair.band)
