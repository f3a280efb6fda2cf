"""Results of the last few things asked about, kept by identity; several threads may ask at once."""

from __future__ import annotations

from collections import OrderedDict
from threading import Lock
from typing import Generic, TypeVar

Thing = TypeVar("Thing")
Result = TypeVar("Result")
KEPT = 12
"""Of how many things results are kept."""


class LastFew(Generic[Thing, Result]):
    """Results by the thing itself (not one that equals it); the one not asked about for longest gives way."""

    def __init__(self) -> None:
        self._by_id: OrderedDict[int, tuple[Thing, Result]] = OrderedDict()
        self._lock = Lock()

    def get(self, thing: Thing) -> Result | None:
        """Return what is kept of a thing, None where nothing is."""
        with self._lock:
            if id(thing) not in self._by_id:
                return None
            self._by_id.move_to_end(id(thing))
            return self._by_id[id(thing)][1]

    def put(self, thing: Thing, result: Result) -> Result:
        """Keep a result, and return it."""
        with self._lock:
            self._by_id[id(thing)] = (thing, result)
            if len(self._by_id) > KEPT:
                self._by_id.popitem(last=False)
        return result

    def take_over(self, other: LastFew[Thing, Result]) -> None:
        """Keep what another keeps."""
        with other._lock:
            known = list(other._by_id.values())
        for thing, result in known:
            self.put(thing, result)
