"""Points of a curve as they are typed: pairs with a colon, commas between, `0.1: 180, 0.3: 420`."""

from __future__ import annotations

from collections.abc import Sequence

from vantok_core.base.errors import UnitError
from vantok_core.base.units import System, figure, parse
from vantok_core.judge.benches.bench import Points


def points_text(points: Sequence[tuple[float, float]], axes: tuple[str, str], units: System) -> str:
    """Return points (SI) as they are typed."""
    return ", ".join(
        ": ".join(figure(axis, v, units).replace("−", "-") for v, axis in zip(point, axes, strict=True))
        for point in points
    )


def points_read(text: str, axes: tuple[str, str], units: System) -> Points:
    """Return points (SI) of a text. Raises UnitError naming the pair that does not read."""
    found = []
    for pair in text.replace(";", ",").split(","):
        if not pair.strip():
            continue
        parts = pair.split(":")
        if len(parts) != 2:
            raise UnitError(f"“{pair.strip()}” is no pair; write them like 0.1: 180, 0.3: 420.", field="points")
        found.append((parse(axes[0], parts[0].strip(), units).value, parse(axes[1], parts[1].strip(), units).value))
    return tuple(found)
