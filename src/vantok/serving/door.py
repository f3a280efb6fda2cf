"""One process at the door: it answers what comes in at a listening socket until it is told to stop."""

from __future__ import annotations

import os
import signal
import socket
import threading
import time
from collections.abc import Callable
from importlib import import_module
from typing import Any

from waitress.server import create_server

MOST_CONNECTIONS, IDLE, PATIENCE = 900, 20, 20.0
"""Connections held at once; seconds after which one that asks nothing is closed; seconds that requests under way are given at a stop."""


class Door:
    """A process at a listening socket, which others may listen at too."""

    def __init__(self, application: Any, listening: socket.socket) -> None:
        # A front end on this machine is trusted to say how the browser reached it; nobody else is.
        proxy = (
            {"trusted_proxy": "127.0.0.1", "trusted_proxy_headers": {"x-forwarded-proto", "x-forwarded-for"}}
            if os.environ.get("VANTOK_BEHIND_PROXY") == "1"
            else {}
        )
        self._server: Any = create_server(
            application,
            sockets=[listening],
            threads=4,
            ident="Vantok",
            clear_untrusted_proxy_headers=True,
            connection_limit=MOST_CONNECTIONS,
            cleanup_interval=5,
            channel_timeout=IDLE,
            asyncore_use_poll=True,
            **proxy,
        )
        self._stop = threading.Event()
        signal.signal(signal.SIGTERM, lambda number, frame: self._stop.set())
        threading.Thread(target=_warm, daemon=True).start()
        import_module("vantok.desk.owed").OWED.begin()  # Django is set up by now

    def serve(self, between: Callable[[], None] = lambda: None) -> None:
        """Answer until told to stop; between: what is done besides, every half second or so."""
        while not self._stop.is_set():
            self._turn(0.5)
            between()

    def shut(self) -> None:
        """Take nothing new in, and answer what is under way before the door is shut."""
        self._server.accepting = False
        until = time.monotonic() + PATIENCE
        while time.monotonic() < until and any(_busy(one) for one in list(self._server._map.values())):
            self._turn(0.1)
        self._server.task_dispatcher.shutdown()
        self._server.close()

    def _turn(self, seconds: float) -> None:
        """Run the server's own loop for one turn."""
        self._server.asyncore.loop(timeout=seconds, use_poll=True, map=self._server._map, count=1)


def _busy(one: Any) -> bool:
    """Tell whether a connection has a request under way, one that is still coming in, or an answer not yet sent."""
    coming = getattr(one, "request", None)
    return coming is not None or bool(getattr(one, "requests", None)) or getattr(one, "total_outbufs_len", 0) > 0


def _warm() -> None:
    """Read the shelf and what makes papers once, so that the first who chooses or prints waits for nothing."""
    from django.db import connection  # noqa: PLC0415 - Django is set up by now

    from vantok.records.shelf.models import offered_kits  # noqa: PLC0415

    import_module("vantok.desk.pdf")
    offered_kits()
    connection.close()
