"""Serve the application on this machine; with `demo`, fill an empty database first."""

from __future__ import annotations

import sys

from waitress.server import create_server


def main() -> None:
    """Serve until stopped. Arguments: port, and `demo`."""
    port, demo = int(sys.argv[1]), "demo" in sys.argv[2:]
    from vantok.wsgi import application  # noqa: PLC0415 - sets Django up, after the arguments are read

    if demo:
        _fill()
    server = create_server(application, host="127.0.0.1", port=port, threads=4, ident="Vantok")
    print(f"Vantok is at http://127.0.0.1:{port}/", flush=True)
    if demo:
        print(
            "Sign in as marit (lead), tobin (technician, inches) or jude (trainee); password: ferry-landing", flush=True
        )
    print("Stop it with Ctrl-C.", flush=True)
    try:
        server.run()
    except KeyboardInterrupt:
        server.close()


def _fill() -> None:
    from vantok.demo.world import build  # noqa: PLC0415 - models need Django set up
    from vantok.people.models import User  # noqa: PLC0415

    if not User.objects.exists():
        print("Building the demo world ...", flush=True)
        build()


if __name__ == "__main__":
    main()
