"""Points of a curve as they are typed: pairs with a colon, commas between, `0.1: 180, 0.3: 420`."""

from __future__ import annotations

from collections.abc import Sequence

from vantok_core.base.errors import UnitError
from vantok_core.base.units import System, figure, parse, unit_name
from vantok_core.judge.benches.bench import Points

PLAIN = "damper_speed"
"""A damper's speed stands in m/s whatever the reader's units, as on every damper's sheet."""


def points_unit(axis: str, units: System) -> str:
    """Return the unit of one of a pair."""
    return "m/s" if axis == PLAIN else unit_name(axis, units)


def points_text(points: Sequence[tuple[float, float]], axes: tuple[str, str], units: System) -> str:
    """Return points (SI) as they are typed."""
    return ", ".join(
        ": ".join(_written(v, axis, units) for v, axis in zip(point, axes, strict=True)) for point in points
    )


def _written(value: float, axis: str, units: System) -> str:
    return f"{value:g}" if axis == PLAIN else figure(axis, value, units).replace("−", "-")


def points_read(text: str, axes: tuple[str, str], units: System) -> Points:
    """Return points (SI) of a text. Raises UnitError naming the pair that does not read."""
    found = []
    for pair in text.replace(";", ",").split(","):
        if not pair.strip():
            continue
        parts = pair.split(":")
        if len(parts) != 2:
            raise UnitError(f"“{pair.strip()}” is no pair; write them like 0.1: 180, 0.3: 420.", field="points")
        found.append((_value(parts[0], axes[0], units), _value(parts[1], axes[1], units)))
    return tuple(found)


def _value(text: str, axis: str, units: System) -> float:
    if axis != PLAIN:
        return parse(axis, text.strip(), units).value
    try:
        value = float(text.strip().removesuffix("m/s").replace(",", "."))
    except ValueError as error:
        raise UnitError(f"“{text.strip()}” does not read as a speed in m/s.", field="points") from error
    if not 0.0 <= value <= 20.0:
        raise UnitError(f"“{text.strip()}” is no speed of a damper, in m/s.", field="points")
    return value
