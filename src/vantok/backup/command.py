"""`run.py backup [DIR]` and `run.py restore FILE`."""

from __future__ import annotations

import os
import socket
import subprocess
import sys
import tempfile
from pathlib import Path

from vantok.backup.archive import BackupError, make, put_in_place, unpack

PORT = 8710


def main(arguments: list[str]) -> int:
    """Return the exit code: 0 when all is well, 2 for a backup that cannot be made or trusted."""
    var = Path(os.environ["VANTOK_VAR"])
    try:
        if arguments[0] == "backup":
            made = make(var, Path(arguments[1]) if len(arguments) > 1 else var / "backups")
            print(
                f"Backed up to {made.path} ({made.size / 1e6:.1f} MB, {made.photographs} photographs); every checksum was read back."
            )
        else:
            print(f"Brought back. What stood there before is kept in {restore(Path(arguments[1]), var)}.")
    except BackupError as error:
        print(
            f"Nothing was replaced. {error}" if arguments[0] == "restore" else f"No backup was made. {error}",
            file=sys.stderr,
        )
        return 2
    except OSError as error:
        print(f"The disk does not take it: {error}. Nothing was replaced.", file=sys.stderr)
        return 2
    return 0


def restore(path: Path, var: Path) -> Path:
    """Bring a backup back: unpacked, its checksums held, its database proven and brought up to date on a copy, then put in place."""
    if _served():
        raise BackupError(f"The program still serves at port {PORT}: stop it first.")
    var.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(dir=var) as work:
        unpacked = Path(work)
        unpack(path, unpacked)
        env = os.environ | {"VANTOK_VAR": str(unpacked), "VANTOK_PLAIN_HTTP": "1"}
        done = subprocess.run(
            [sys.executable, "manage.py", "migrate", "--verbosity", "0"],
            env=env,
            capture_output=True,
            text=True,
            check=False,
        )
        if done.returncode:
            raise BackupError(f"Its database cannot be brought up to date: {done.stderr.strip().splitlines()[-1]}")
        for rest in unpacked.glob("vantok.sqlite3-*"):
            rest.unlink()
        return put_in_place(unpacked, var)


def _served() -> bool:
    with socket.socket() as probe:
        probe.settimeout(0.5)
        return probe.connect_ex(("127.0.0.1", int(os.environ.get("VANTOK_PORT", PORT)))) == 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
