"""One line to an instrument for all processes at the door: the first listens, the others ask it, since a serial port is read by one alone."""

from __future__ import annotations

import threading
from multiprocessing.connection import Connection, Pipe

from vantok.wire import link
from vantok.wire.link import Link

_first: Connection | None = None
"""The way to the first process; None in the first itself."""
_asking = threading.Lock()


def look(url: str) -> Link:
    """Return the line to an address, listened to from now on: as it stands now, where another process listens."""
    if _first is None:
        return link.look(url)
    with _asking:
        _first.send(url)
        found: Link = _first.recv()
    return found


def ask(descriptor: int) -> None:
    """Ask the first process from now on, at the end of a line that it gave (see `answered`)."""
    global _first  # noqa: PLW0603 - one way a process, found at its start
    _first = Connection(descriptor)


def answered() -> Connection:
    """Return the end of a line for another process, answered here until that process ends."""
    ours, theirs = Pipe()
    threading.Thread(target=_answer, args=(ours,), daemon=True).start()
    return theirs


def _answer(asked: Connection) -> None:
    with asked:
        try:
            while True:
                asked.send(link.look(asked.recv()).as_it_stands())
        except (EOFError, ConnectionError):
            return  # the other has ended
