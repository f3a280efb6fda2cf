"""A limit of work: whatever a request asks for, it ends, with a sentence, before it keeps everybody else waiting."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from time import monotonic

_UNTIL: ContextVar[float] = ContextVar("until", default=float("inf"))


class TooMuchWorkError(RuntimeError):
    """What was asked for takes longer than one request may. No fault of a figure: nothing that goes on without a result may go on without this one."""

    def __init__(self) -> None:
        super().__init__("This takes more work than one page may: ask for less of it at once.")


@contextmanager
def limited(seconds: float) -> Iterator[None]:
    """Limit the work of the block (s); an inner limit never goes past an outer one."""
    before = _UNTIL.get()
    mark = _UNTIL.set(min(before, monotonic() + seconds))
    try:
        yield
    finally:
        _UNTIL.reset(mark)


def look() -> None:
    """Raise TooMuchWorkError past the limit; called where work is repeated: a solve, a step of a search, a row of a table."""
    if monotonic() > _UNTIL.get():
        raise TooMuchWorkError
