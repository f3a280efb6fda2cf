"""Further processes at the door, one for each further core, since one process works on one core only.

What they share is the database: what each keeps of a job hangs on its stamp (`records/jobs/stamp.py`). Instruments are listened to by the first
alone (`wire/shared.py`).
"""

from __future__ import annotations

import os
import signal
import socket
import subprocess
import sys
import threading

from vantok.serving.door import PATIENCE, Door
from vantok.wire import shared

MOST = 4
"""Processes at one door at most: beyond that the one database is what is waited for."""
MOST_TOLD = 16
"""As many as may be asked for."""
MOST_BEGUN = 40
"""How many are begun, all told: what ends again and again is not well, and the first serves on alone."""


def wanted() -> int:
    """Return how many processes answer: `VANTOK_PROCESSES`, else one a core, four at most."""
    told = os.environ.get("VANTOK_PROCESSES", "")
    if told and not (told.isdecimal() and 1 <= int(told) <= MOST_TOLD):
        sys.exit(f"VANTOK_PROCESSES is “{told}”: it takes a whole number from 1 to {MOST_TOLD}.")
    return int(told or min(os.cpu_count() or 1, MOST))


class Hands:
    """The further processes. They hold the folder's lock with the first, and end with it, however it ends."""

    def __init__(self, listening: socket.socket, lock: int) -> None:
        self._given = (listening.fileno(), lock)
        self._with_first, self._held = os.pipe()  # nobody writes to it: it ends when the first process does
        self._begun = 0
        self._all = [self._begin() for _ in range(wanted() - 1)]

    def _begin(self) -> subprocess.Popen[bytes]:
        self._begun += 1
        with shared.answered() as line:
            told = [str(one) for one in (self._given[0], self._with_first, line.fileno())]
            return subprocess.Popen(  # noqa: S603 - our own module
                [sys.executable, "-m", "vantok.serving.hands", *told],
                pass_fds=(*self._given, self._with_first, line.fileno()),
            )

    def look_after(self) -> None:
        """Begin each anew that has ended by itself."""
        for n, one in enumerate(self._all):
            if one.poll() is not None and self._begun < MOST_BEGUN:
                self._all[n] = self._begin()
                print(f"A process at the door ended by itself ({one.returncode}); it is begun again.", flush=True)

    def stop(self) -> None:
        """Tell them to answer what is under way, and end."""
        for one in self._all:
            one.terminate()

    def wait(self) -> None:
        """Wait until they have ended; one that does not is ended."""
        for one in self._all:
            try:
                one.wait(PATIENCE)
            except subprocess.TimeoutExpired:
                one.kill()
                one.wait()


def main() -> None:
    """Be one of them. Arguments: the descriptors of the door, of the pipe to the first, and of the line on which the first tells what instruments say."""
    listening, first, line = (int(one) for one in sys.argv[1:4])
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # Ctrl-C goes to all; the first tells the others
    threading.Thread(target=_with_first, args=(first,), daemon=True).start()
    shared.ask(line)
    from vantok.wsgi import application  # noqa: PLC0415 - sets Django up

    door = Door(application, socket.socket(fileno=listening))
    door.serve()
    door.shut()


def _with_first(pipe: int) -> None:
    """End as the first process ends without having said so."""
    os.read(pipe, 1)
    os._exit(1)


if __name__ == "__main__":
    main()
