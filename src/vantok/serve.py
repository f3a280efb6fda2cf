"""Serve the application on this machine; with `demo`, fill an empty database first and start the simulated instruments."""

from __future__ import annotations

import socket
import sys
import threading
import time
from datetime import UTC, datetime
from typing import Any

from vantok.backup.daily import due, in_the_background
from vantok.backup.folder import InUseError, finish, shop_of
from vantok.instruments.simulated import Bench, Server
from vantok.serving.door import Door
from vantok.serving.hands import Hands

CHECKPOINT_EVERY, STILL = 60.0, 5.0
"""How often what was written is brought into the database's own file, and a long step says that it is still at it, s."""


def main() -> None:
    """Serve until stopped. Arguments: port, and `demo`."""
    port, demo = int(sys.argv[1]), "demo" in sys.argv[2:]
    from django.conf import settings  # noqa: PLC0415 - Django is set up by now

    from vantok.wsgi import application  # noqa: PLC0415 - sets Django up, after the arguments are read

    try:
        with shop_of(settings.VAR, f"serving at port {port}") as lock:
            finish(settings.VAR)
            _serve(application, port, lock, demo=demo)
    except InUseError as error:
        sys.exit(str(error))


def _serve(application: Any, port: int, lock: int, *, demo: bool) -> None:
    """Serve while the folder is held (lock: by this descriptor): this process and one for each further core."""
    _own_files()
    instruments = _demo() if demo else None
    listening = socket.create_server(("127.0.0.1", port))
    door, done = Door(application, listening), threading.Event()
    hands = Hands(listening, lock)
    threading.Thread(target=_keep_whole, args=(done,), daemon=True).start()
    print(f"Vantok is at http://127.0.0.1:{listening.getsockname()[1]}/", flush=True)
    if demo:
        print(
            "Sign in as marit (lead), tobin (technician, inches) or jude (trainee); password: ferry-landing", flush=True
        )
    print("Stop it with Ctrl-C.", flush=True)
    try:
        door.serve(hands.look_after)
    except KeyboardInterrupt:
        pass
    finally:
        print("Stopping ...", flush=True)
        hands.stop()
        door.shut()
        hands.wait()
        done.set()
        if instruments is not None:
            instruments.shutdown()
        checkpoint("TRUNCATE")


def _own_files() -> None:
    """Make what an earlier version left readable for others the owner's only."""
    from django.conf import settings  # noqa: PLC0415 - Django is set up by now

    settings.VAR.chmod(0o700)
    for path in (*settings.VAR.glob("vantok.sqlite3*"), *settings.VAR.glob("secret_key")):
        path.chmod(0o600)


def _keep_whole(done: threading.Event) -> None:
    """Say how the machine is; then keep the database's file whole, forget old names, back up daily."""
    from django.conf import settings  # noqa: PLC0415 - Django is set up by now

    from vantok.doctor.examine import told  # noqa: PLC0415
    from vantok.people import audit, once  # noqa: PLC0415 - its model needs Django set up

    print(told(), flush=True)
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
