"""Results of the last few things asked about, kept by identity or by key; several threads may ask at once."""

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


class LastByKey(Generic[Thing, Result]):
    """Results by a key, the last so many of them; the one put in first gives way."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._by_key: OrderedDict[Thing, Result] = OrderedDict()
        self._lock = Lock()

    def get(self, key: Thing) -> Result | None:
        """Return what is kept under a key, None where nothing is."""
        with self._lock:
            return self._by_key.get(key)

    def put(self, key: Thing, result: Result) -> Result:
        """Keep a result, and return it."""
        with self._lock:
            self._by_key.pop(key, None)
            self._by_key[key] = result
            while len(self._by_key) > self._most:
                self._by_key.popitem(last=False)
        return result

    def clear(self) -> None:
        """Keep nothing any more."""
        with self._lock:
            self._by_key.clear()
