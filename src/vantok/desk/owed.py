"""Sentences owed to the board: whoever changed a job has their answer first, and a thread of its own works out what the board says of it.

Only a program that serves has that thread (`begin`). Without one (tests, commands) the sentence is worked out at once; where the program ends before its
turn, the next look at the board does it (`settle.unsettled`).
"""

from __future__ import annotations

import logging
import threading

from django.conf import settings
from django.db import connection

from vantok.desk.settle import settled
from vantok_core.base.work import limited

log = logging.getLogger(__name__)


class Owed:
    """Jobs whose sentence waits, each once however often it was changed meanwhile, the longest waiting first."""

    def __init__(self) -> None:
        self._jobs: dict[int, None] = {}
        self._more = threading.Condition()
        self._serving = False

    def begin(self) -> None:
        """Begin to work them off."""
        self._serving = True
        threading.Thread(target=self._work, name="owed", daemon=True).start()

    def put(self, pk: int) -> None:
        """Have a job's sentence worked out: soon, or at once where nobody works them off."""
        if not self._serving:
            settled(pk)
            return
        with self._more:
            self._jobs[pk] = None
            self._more.notify()

    def take(self) -> int:
        """Wait for a job, and take it off the list."""
        with self._more:
            self._more.wait_for(lambda: self._jobs)
            pk = next(iter(self._jobs))
            del self._jobs[pk]
        return pk

    def _work(self) -> None:
        while True:
            pk = self.take()
            try:
                with limited(settings.MOST_WORK):
                    settled(pk)
            except Exception:
                log.exception("job %s: its sentence for the board", pk)  # a bulkhead: the next job's is still owed
            finally:
                connection.close()


OWED = Owed()
