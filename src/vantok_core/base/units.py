"""Units at the edge: reading what people write, showing what they read. Inside, everything is SI.

Factors come from Pint's definitions, once, at import; lengths with feet, inches and fractions are read here, since
that is how tapes are read aloud.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

import pint

from vantok_core.base.errors import UnitError

Kind = Literal[
    "length",
    "distance",
    "mass",
    "force",
    "pressure",
    "torque",
    "rate",
    "frequency",
    "angle",
    "ratio",
    "percent",
    "speed",
    "money",
    "hours",
    "count",
    "gain",
    "volume",
    "degrees",
    "damping",
    "roll_stiffness",
    "depth",
    "thickness",
    "travel",
    "acceleration",
    "temperature",
]
System = Literal["metric", "us"]

_REGISTRY: pint.UnitRegistry[float] = pint.UnitRegistry()


def _factor(unit: str, base: str) -> float:
    return float(_REGISTRY.Quantity(1.0, unit).to(base).magnitude)


UNITS: dict[str, dict[str, float]] = {
    "length": {
        "mm": 1e-3,
        "cm": 1e-2,
        "m": 1.0,
        "in": _factor("inch", "m"),
        '"': _factor("inch", "m"),
        "ft": _factor("foot", "m"),
        "'": _factor("foot", "m"),
    },
    "depth": {"mm": 1e-3, "in": _factor("inch", "m"), "/32": _factor("inch", "m") / 32.0},
    "thickness": {"mm": 1e-3, "in": _factor("inch", "m")},
    "mass": {"kg": 1.0, "g": 1e-3, "t": 1000.0, "lb": _factor("pound", "kg"), "lbs": _factor("pound", "kg")},
    "force": {"N": 1.0, "kN": 1000.0, "lbf": _factor("force_pound", "N")},
    "pressure": {"kPa": 1000.0, "bar": 1e5, "psi": _factor("psi", "Pa"), "Pa": 1.0},
    "torque": {
        "N·m": 1.0,
        "Nm": 1.0,
        "lb·ft": _factor("force_pound * foot", "N*m"),
        "lbft": _factor("force_pound * foot", "N*m"),
    },
    "rate": {"N/mm": 1000.0, "lb/in": _factor("force_pound / inch", "N/m")},
    "distance": {"m": 1.0, "ft": _factor("foot", "m")},
    "travel": {"km": 1.0, "mi": _factor("mile", "km"), "miles": _factor("mile", "km")},
    "frequency": {"Hz": 1.0},
    "angle": {"°": _factor("degree", "radian")},
    "speed": {"km/h": _factor("km/hour", "m/s"), "mph": _factor("mile/hour", "m/s")},
    "damper_speed": {"m/s": 1.0, "in/s": _factor("inch", "m"), "mm/s": 1e-3},
    "gain": {"°/100 mm": 10.0, "°/in": 1.0 / _factor("inch", "m"), "°/m": 1.0},
    "degrees": {"°": 1.0},
    "acceleration": {
        "m/s²": 1.0,
        "m/s2": 1.0,
        "ft/s²": _factor("foot", "m"),
        "ft/s2": _factor("foot", "m"),
        "g": 9.80665,
    },
    "volume": {"l": 1.0, "gal": _factor("gallon", "liter")},
    "count": {"": 1.0},
    "percent": {"%": 0.01},
    "damping": {"N·s/m": 1.0, "lb·s/in": _factor("force_pound * second / inch", "N*s/m")},
    "roll_stiffness": {
        "N·m/°": 1.0 / _factor("degree", "radian"),
        "lb·ft/°": _factor("force_pound * foot", "N*m") / _factor("degree", "radian"),
    },
    "temperature": {"°C": 1.0, "C": 1.0, "°F": 5.0 / 9.0, "F": 5.0 / 9.0, "K": 1.0},
}
"""SI value of one of each unit, by kind; gain in degrees per metre, volume in litres, travel in km, as the facts hold them."""
NOUGHT = dict.fromkeys(("°C", "C"), 273.15) | dict.fromkeys(("°F", "F"), 459.67 * 5.0 / 9.0)
"""What the nought of a unit is in SI, where it is not nought: of temperatures, K."""

SHOWN: dict[str, dict[System, tuple[str, int]]] = {
    "length": {"metric": ("mm", 0), "us": ("in", 0)},
    "depth": {"metric": ("mm", 1), "us": ("in", 2)},
    "thickness": {"metric": ("mm", 2), "us": ("in", 3)},
    "mass": {"metric": ("kg", 0), "us": ("lb", 0)},
    "force": {"metric": ("N", 0), "us": ("lbf", 0)},
    "pressure": {"metric": ("bar", 2), "us": ("psi", 0)},
    "torque": {"metric": ("N·m", 0), "us": ("lb·ft", 0)},
    "rate": {"metric": ("N/mm", 1), "us": ("lb/in", 0)},
    "distance": {"metric": ("m", 0), "us": ("ft", 0)},
    "travel": {"metric": ("km", 0), "us": ("mi", 0)},
    "frequency": {"metric": ("Hz", 2), "us": ("Hz", 2)},
    "angle": {"metric": ("°", 1), "us": ("°", 1)},
    "speed": {"metric": ("km/h", 0), "us": ("mph", 0)},
    "damper_speed": {"metric": ("m/s", 3), "us": ("in/s", 2)},
    "gain": {"metric": ("°/100 mm", 2), "us": ("°/in", 2)},
    "degrees": {"metric": ("°", 1), "us": ("°", 1)},
    "acceleration": {"metric": ("m/s²", 1), "us": ("ft/s²", 1)},
    "volume": {"metric": ("l", 0), "us": ("gal", 0)},
    "count": {"metric": ("", 0), "us": ("", 0)},
    "percent": {"metric": ("%", 0), "us": ("%", 0)},
    "damping": {"metric": ("N·s/m", 0), "us": ("lb·s/in", 1)},
    "roll_stiffness": {"metric": ("N·m/°", 0), "us": ("lb·ft/°", 0)},
    "temperature": {"metric": ("°C", 0), "us": ("°F", 0)},
}
"""Unit and decimals in which each kind is shown (inches are shown to the nearest sixteenth instead)."""

MOST: dict[str, float] = {
    "length": 30.0,
    "depth": 0.03,
    "thickness": 0.1,
    "distance": 1e4,
    "mass": 1.01e5,
    "force": 1e6,
    "pressure": 5e6,
    "torque": 5000.0,
    "rate": 1e7,
    "frequency": 100.0,
    "angle": 10.0,
    "degrees": 1000.0,
    "acceleration": 400.0,
    "speed": 55.0,
    "damper_speed": 20.0,
    "gain": 300.0,
    "volume": 20_000.0,
    "count": 1000.0,
    "damping": 1e6,
    "roll_stiffness": 1e7,
    "travel": 3e6,
    "percent": 10.0,
    "temperature": 400.0,
}
"""The largest figure (SI) of a kind that anything here has: beyond it a finger slipped."""
LONGEST = 60
"""Characters of a text that is read as a figure."""

_NUMBER = r"\d+(?:[.,]\d+)?"
_FEET_INCHES = re.compile(
    rf"""^(?:(?P<feet>{_NUMBER})\s*(?:'|ft|feet)\s*[-\s]?\s*)?
    (?:(?P<whole>{_NUMBER})(?:[\s-]+(?P<n>\d+)/(?P<d>\d+))?|(?P<n2>\d+)/(?P<d2>\d+))?
    \s*(?P<mark>"|''|in|inch|inches)?$""",
    re.VERBOSE,
)
_PLAIN = re.compile(rf"^(?P<number>{_NUMBER})\s*(?P<unit>[^\d\s.,].*)?$")


@dataclass(frozen=True, slots=True)
class Parsed:
    """A quantity as read: SI value, the unit it was understood in, and the smallest step that way of writing shows (SI)."""

    value: float
    unit: str
    step: float


def _number(text: str, unit: str = "mm") -> float:
    """Return a figure; `1,200` is twelve hundred, save in metres and tonnes, where a comma is the decimal mark."""
    if re.fullmatch(r"\d{1,3},\d{3}", text) and unit not in ("m", "t"):
        return float(text.replace(",", ""))
    return float(text.replace(",", "."))


def _tidy(text: str) -> str:
    swapped = {
        "′": "'",
        "’": "'",
        "″": '"',
        "”": '"',
        "“": '"',
        "¼": " 1/4",
        "½": " 1/2",
        "¾": " 3/4",
        "\u00a0": " ",
        "−": "-",
    }
    for old, new in swapped.items():
        text = text.replace(old, new)
    return " ".join(text.strip().lower().split())


def parse_length(text: str, system: System = "metric", *, bare_mm_above: float | None = None) -> Parsed:
    """Return a length (m) from text as people write it: `29 1/2`, `29-1/2"`, `75 cm`, `748`, `2' 5 1/2"`.

    Arguments: text; system: what a bare number means (mm or inches); bare_mm_above: with inches, a bare number above
    this many inches is taken as mm (no tape at an arch reads 748 inches). Result: Parsed, m.
    Raises UnitError for text that is no length, or a negative one.
    """
    tidy = _tidy(text)
    if tidy.startswith("-"):
        raise UnitError(f"“{text}” is negative; a tape reads upward from nought.", field="length")
    plain = _PLAIN.match(tidy)
    if plain and (plain["unit"] or "") in ("mm", "cm", "m"):
        return _plain_length(plain["number"], plain["unit"])
    if plain and not plain["unit"]:
        if system == "metric":
            return _plain_length(plain["number"], "mm")
        if bare_mm_above is not None and _number(plain["number"]) > bare_mm_above:
            return _plain_length(plain["number"], "mm")
    return _imperial_length(text, tidy, system)


def _plain_length(number: str, unit: str) -> Parsed:
    decimals = len(re.split("[.,]", number)[1]) if re.search("[.,]", number) else 0
    factor = UNITS["length"][unit]
    return Parsed(_number(number, unit) * factor, unit, factor * 10.0**-decimals)


def _imperial_length(text: str, tidy: str, system: System) -> Parsed:
    match = _FEET_INCHES.match(tidy)
    if match is None or not tidy or not (match["feet"] or match["whole"] or match["n2"]):
        raise UnitError(
            f"“{text}” does not read as a length; write it like 748, 75 cm, 29 1/2 or 2' 5 1/2\".", field="length"
        )
    fraction = bool(match["n"] or match["n2"])
    if system == "metric" and not (match["feet"] or match["mark"] or fraction):
        raise UnitError(f"“{text}” does not read as a length.", field="length")
    top, bottom = _fraction_of(match)
    if not _a_tape_shows(top, bottom, fraction=fraction):
        raise UnitError(f"“{text}” has a fraction {top}/{bottom} that no tape shows.", field="length")
    inches = 12.0 * _number(match["feet"] or "0") + _number(match["whole"] or "0") + int(top) / int(bottom)
    # 29 1/2 was read on a tape marked in sixteenths and said in the shortest way.
    step = min(1.0 / int(bottom), 1.0 / 16.0) if fraction else _decimal_step(match["whole"])
    inch = UNITS["length"]["in"]
    return Parsed(inches * inch, "in", step * inch)


def _a_tape_shows(top: str, bottom: str, *, fraction: bool) -> bool:
    """Tell whether a fraction is one: no nought below, and less than one inch."""
    return int(bottom) != 0 and (not fraction or int(top) < int(bottom))


def _fraction_of(match: re.Match[str]) -> tuple[str, str]:
    """Return the two figures of the fraction, 0 and 1 without one."""
    return match["n"] or match["n2"] or "0", match["d"] or match["d2"] or "1"


def _decimal_step(text: str | None) -> float:
    parts = re.split("[.,]", text or "")
    # A tape read to whole inches is hardly ever meant: a sixteenth is the usual step.
    return 10.0 ** -len(parts[1]) if len(parts) > 1 else 1.0 / 16.0


def parse(kind: str, text: str, system: System) -> Parsed:
    """Return a quantity of a kind (SI) from text; a bare number is in the system's usual unit.

    Raises UnitError for text that is not such a quantity.
    """
    if len(text) > LONGEST:
        raise UnitError(f"“{text[:12]}…” is no figure: it has {len(text)} characters.", field=kind)
    found = parse_length(text, system) if kind == "length" else _parse(kind, text, system)
    if abs(found.value) > MOST.get(kind, float("inf")):
        raise UnitError(f"“{text}” is more than any vehicle has; write it again.", field=kind)
    return found


def _parse(kind: str, text: str, system: System) -> Parsed:
    """Return a quantity of any kind but a length."""
    tidy = _tidy(text)
    negative, body = tidy.startswith("-"), tidy.lstrip("-").strip()
    match = _PLAIN.match(re.sub(r"(?<=\d) (?=\d{3}(?!\d))", "", body))  # 84 000
    unit_names = {name.lower(): name for name in UNITS[kind]}
    usual = SHOWN[kind][system][0]
    if match is None or (match["unit"] and match["unit"].strip() not in unit_names):
        known = ", ".join(dict.fromkeys(UNITS[kind]))
        raise UnitError(
            f"“{text}” does not read as a {kind.replace('_', ' ')}; give a number{f' in {usual}, or with one of: {known}' if usual else ''}.",
            field=kind,
        )
    unit = unit_names[match["unit"].strip()] if match["unit"] else usual
    factor = UNITS[kind][unit]
    number = _number(match["number"], unit)
    return Parsed((-number if negative else number) * factor + NOUGHT.get(unit, 0.0), unit, factor)


def inches_text(value: float) -> str:
    """Return a length (m) in inches to the nearest sixteenth, as a tape is read: `29 1/2`."""
    sixteenths = round(abs(value) / UNITS["length"]["in"] * 16)
    whole, rest = divmod(sixteenths, 16)
    sign = "−" if value < 0 and sixteenths else ""
    if not rest:
        return f"{sign}{whole}"
    part = Fraction(rest, 16)
    fraction = f"{part.numerator}/{part.denominator}"
    return f"{sign}{whole}\u00a0{fraction}" if whole else f"{sign}{fraction}"


def figure(kind: str, value: float, system: System, *, signed: bool = False) -> str:
    """Return the figure of a value (SI) alone, without its unit."""
    plus = "+" if signed and value > 0 else ""
    if kind == "length" and system == "us":
        text = inches_text(value)
        return text if text == "0" else plus + text
    if kind in ("ratio", "money", "hours"):
        decimals = {"ratio": 2, "money": 0, "hours": 1}[kind]
        text = f"{value:,.{decimals}f}" if kind == "money" else f"{value:.{decimals}f}"
    elif kind == "count":
        text = f"{value:.2f}".rstrip("0").rstrip(".")  # a turn may be a quarter
    else:
        unit, decimals = SHOWN[kind][system]
        text = f"{(value - NOUGHT.get(unit, 0.0)) / UNITS[kind][unit]:.{decimals}f}"
    if kind == "damper_speed":
        text = text.rstrip("0").rstrip(".")
    if float(text.replace(",", "")) == 0.0:
        return text.lstrip("-")
    return plus + text.replace("-", "−")


def both(kind: str, value: float) -> str:
    """Return a quantity (value: SI) in both systems, for a sentence that does not know its reader."""
    return f"{show(kind, value, 'metric')} ({show(kind, value, 'us')})"


def unit_name(kind: str, system: System) -> str:
    """Return the unit's name as shown."""
    if kind in SHOWN:
        return SHOWN[kind][system][0]
    return "h" if kind == "hours" else ""


def show(kind: str, value: float, system: System, *, signed: bool = False) -> str:
    """Return a quantity with its unit, as the reader's system has it."""
    unit = unit_name(kind, system)
    gap = "" if unit in ("°", "") else "\u00a0"
    return f"{figure(kind, value, system, signed=signed)}{gap}{unit}"
