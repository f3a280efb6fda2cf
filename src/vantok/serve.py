"""Serve the application on this machine; with `demo`, fill an empty database first and start the simulated instruments."""

from __future__ import annotations

import os
import signal
import sys
import threading
from types import FrameType

from waitress.server import create_server

from vantok.instruments.simulated import Bench, Server

CHECKPOINT_EVERY = 60.0
"""How often what was written is brought into the database's own file, s."""


def main() -> None:
    """Serve until stopped. Arguments: port, and `demo`."""
    port, demo = int(sys.argv[1]), "demo" in sys.argv[2:]
    from vantok.wsgi import application  # noqa: PLC0415 - sets Django up, after the arguments are read

    _own_files()
    instruments = _demo() if demo else None
    # A front end on this machine is trusted to say how the browser reached it; nobody else is.
    proxy = (
        {"trusted_proxy": "127.0.0.1", "trusted_proxy_headers": {"x-forwarded-proto", "x-forwarded-for"}}
        if _behind_proxy()
        else {}
    )
    server = create_server(
        application, host="127.0.0.1", port=port, threads=4, ident="Vantok", clear_untrusted_proxy_headers=True, **proxy
    )
    signal.signal(signal.SIGTERM, _stop)
    done = threading.Event()
    threading.Thread(target=_keep_whole, args=(done,), daemon=True).start()
    print(f"Vantok is at http://127.0.0.1:{server.effective_port}/", flush=True)
    if demo:
        print(
            "Sign in as marit (lead), tobin (technician, inches) or jude (trainee); password: ferry-landing", flush=True
        )
    print("Stop it with Ctrl-C.", flush=True)
    try:
        server.run()
    except (KeyboardInterrupt, SystemExit):
        server.close()
    finally:
        done.set()
        if instruments is not None:
            instruments.shutdown()
        checkpoint("TRUNCATE")


def _behind_proxy() -> bool:
    return os.environ.get("VANTOK_BEHIND_PROXY") == "1"


def _stop(number: int, frame: FrameType | None) -> None:
    raise SystemExit(0)


def _own_files() -> None:
    """Make what an earlier version left readable for others the owner's only."""
    from django.conf import settings  # noqa: PLC0415 - Django is set up by now

    settings.VAR.chmod(0o700)
    for path in (*settings.VAR.glob("vantok.sqlite3*"), *settings.VAR.glob("secret_key")):
        path.chmod(0o600)


def _keep_whole(done: threading.Event) -> None:
    while not done.wait(CHECKPOINT_EVERY):
        checkpoint("PASSIVE")


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
    from vantok.demo.world import build  # noqa: PLC0415 - models need Django set up
    from vantok.people.models import User  # noqa: PLC0415

    if not User.objects.exists():
        print("Building the demo world ...", flush=True)
        build()
    try:
        return Server(Bench()).start()
    except OSError as error:
        print(f"The simulated instruments are not started here: {error.strerror}.", flush=True)
        return None


if __name__ == "__main__":
    main()
