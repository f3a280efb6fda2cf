"""Serve the application on this machine; with `demo`, fill an empty database first and start the simulated instruments."""

from __future__ import annotations

import os
import signal
import sys
import threading
import time
from datetime import UTC, datetime
from importlib import import_module
from typing import Any

from waitress.server import create_server

from vantok.backup.daily import due, in_the_background
from vantok.backup.folder import InUseError, finish, shop_of
from vantok.instruments.simulated import Bench, Server

MOST_CONNECTIONS, IDLE, PATIENCE = 900, 20, 20.0
"""Connections held at once; seconds after which one that asks nothing is closed; seconds that requests under way are given at a stop."""
CHECKPOINT_EVERY, STILL = 60.0, 5.0
"""How often what was written is brought into the database's own file, and a long step says that it is still at it, s."""


def main() -> None:
    """Serve until stopped. Arguments: port, and `demo`."""
    port, demo = int(sys.argv[1]), "demo" in sys.argv[2:]
    from django.conf import settings  # noqa: PLC0415 - Django is set up by now

    from vantok.wsgi import application  # noqa: PLC0415 - sets Django up, after the arguments are read

    try:
        with shop_of(settings.VAR, f"serving at port {port}"):
            finish(settings.VAR)
            _serve(application, port, demo=demo)
    except InUseError as error:
        sys.exit(str(error))


def _serve(application: Any, port: int, *, demo: bool) -> None:
    """Serve while the folder is held."""
    _own_files()
    instruments = _demo() if demo else None
    # A front end on this machine is trusted to say how the browser reached it; nobody else is.
    proxy = (
        {"trusted_proxy": "127.0.0.1", "trusted_proxy_headers": {"x-forwarded-proto", "x-forwarded-for"}}
        if _behind_proxy()
        else {}
    )
    server = create_server(
        application,
        host="127.0.0.1",
        port=port,
        threads=4,
        ident="Vantok",
        clear_untrusted_proxy_headers=True,
        connection_limit=MOST_CONNECTIONS,
        cleanup_interval=5,
        channel_timeout=IDLE,
        asyncore_use_poll=True,
        **proxy,
    )
    stop, done = threading.Event(), threading.Event()
    signal.signal(signal.SIGTERM, lambda number, frame: stop.set())
    threading.Thread(target=_keep_whole, args=(done,), daemon=True).start()
    threading.Thread(
        target=import_module, args=("vantok.desk.pdf",), daemon=True
    ).start()  # the first paper waits for nothing
    print(f"Vantok is at http://127.0.0.1:{server.effective_port}/", flush=True)
    if demo:
        print(
            "Sign in as marit (lead), tobin (technician, inches) or jude (trainee); password: ferry-landing", flush=True
        )
    print("Stop it with Ctrl-C.", flush=True)
    try:
        _run(server, stop)
    except KeyboardInterrupt:
        pass
    finally:
        print("Stopping ...", flush=True)
        _finish(server)
        done.set()
        if instruments is not None:
            instruments.shutdown()
        checkpoint("TRUNCATE")


def _behind_proxy() -> bool:
    return os.environ.get("VANTOK_BEHIND_PROXY") == "1"


def _run(server: Any, stop: threading.Event) -> None:
    """Serve until asked to stop."""
    while not stop.is_set():
        server.asyncore.loop(
            timeout=0.5, use_poll=True, map=server._map, count=1
        )  # the server's own loop, a turn at a time


def _finish(server: Any) -> None:
    """Take nothing new in, and answer what is under way before the door is shut."""
    server.accepting = False
    until = time.monotonic() + PATIENCE
    while time.monotonic() < until and any(_busy(one) for one in list(server._map.values())):
        server.asyncore.loop(timeout=0.1, use_poll=True, map=server._map, count=1)
    server.task_dispatcher.shutdown()
    server.close()


def _busy(one: Any) -> bool:
    """Tell whether a connection has a request under way, one that is still coming in, or an answer not yet sent."""
    coming = getattr(one, "request", None)
    return coming is not None or bool(getattr(one, "requests", None)) or getattr(one, "total_outbufs_len", 0) > 0


def _own_files() -> None:
    """Make what an earlier version left readable for others the owner's only."""
    from django.conf import settings  # noqa: PLC0415 - Django is set up by now

    settings.VAR.chmod(0o700)
    for path in (*settings.VAR.glob("vantok.sqlite3*"), *settings.VAR.glob("secret_key")):
        path.chmod(0o600)


def _keep_whole(done: threading.Event) -> None:
    """Read the shelf once, so that the first who chooses does not wait for it; then keep the database's file whole, forget old names, back up daily."""
    from django.conf import settings  # noqa: PLC0415 - Django is set up by now

    from vantok.doctor.examine import told  # noqa: PLC0415
    from vantok.people import audit, once  # noqa: PLC0415 - its model needs Django set up
    from vantok.records.shelf.models import offered_kits  # noqa: PLC0415

    print(told(), flush=True)
    offered_kits()
    making = None
    while not done.wait(CHECKPOINT_EVERY):
        checkpoint("PASSIVE")
        once.forget_old()
        audit.forget_old()
        if not settings.DEMO and (making is None or making.poll() is not None) and due(settings.VAR, datetime.now(UTC)):
            making = in_the_background(settings.VAR)


def checkpoint(how: str) -> None:
    """Bring the write-ahead log into the database's own file, so that a plain copy of that file holds the day's work."""
    from django.db import OperationalError, connection  # noqa: PLC0415

    try:
        with connection.cursor() as cursor:
            cursor.execute(f"PRAGMA wal_checkpoint({how})")
    except OperationalError as error:
        print(f"The database was busy; its log is brought in later ({error}).", flush=True)
    finally:
        connection.close()


def _demo() -> Server | None:
    """Fill an empty database with the demo world, and start the simulated instruments (None where something answers there)."""
    from vantok.demo.closed import closed_jobs  # noqa: PLC0415
    from vantok.demo.world import build  # noqa: PLC0415 - models need Django set up
    from vantok.people.models import User  # noqa: PLC0415

    if not User.objects.exists():
        print("Building the demo world ...", flush=True)
        built = threading.Event()
        threading.Thread(target=_still, args=(built,), daemon=True).start()
        try:
            build()
            closed_jobs()
        finally:
            built.set()
    try:
        return Server(Bench()).start()
    except OSError as error:
        print(f"The simulated instruments are not started here: {error.strerror}.", flush=True)
        return None


def _still(done: threading.Event) -> None:
    """Say every few seconds that it is still being built."""
    begun = time.monotonic()
    while not done.wait(STILL):
        print(f"  building the demo world: {time.monotonic() - begun:.0f} s so far ...", flush=True)


if __name__ == "__main__":
    main()
