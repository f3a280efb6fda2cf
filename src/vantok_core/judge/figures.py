"""Every figure from which something is said, room by room: the tables as they stand in the rooms' own `thresholds.py`."""

from __future__ import annotations

import importlib
import pkgutil
from dataclasses import dataclass

from vantok_core import judge
from vantok_core.base.threshold import Threshold


@dataclass(frozen=True, slots=True)
class Table:
    """A room's figures by name, and what the room is about."""

    room: str
    words: str
    figures: dict[str, Threshold]


def tables() -> tuple[Table, ...]:
    """Return the table of every room that has one."""
    found = []
    for room in pkgutil.iter_modules(judge.__path__):
        home = f"{judge.__name__}.{room.name}"
        if room.ispkg and any(
            one.name == "thresholds" for one in pkgutil.iter_modules([f"{judge.__path__[0]}/{room.name}"])
        ):
            told = importlib.import_module(f"{home}.thresholds")
            figures = {name: one for name, one in vars(told).items() if isinstance(one, Threshold)}
            found.append(Table(room.name, (told.__doc__ or "").partition(":")[0], figures))
    return tuple(found)
