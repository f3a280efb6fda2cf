"""`run.py backup [DIR]`, `run.py restore FILE`, and the day's own backup that the server starts."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

from vantok.backup.archive import BackupError, make, prove_ours, unpack
from vantok.backup.daily import back_up, second_folder, second_said
from vantok.backup.folder import DATABASE, InUseError, close_log, finish, owner_only, replace_with, shop_of


def main(arguments: list[str]) -> int:
    """Return the exit code: 0 when all is well, 2 for a backup that cannot be made or trusted."""
    os.umask(0o077)  # a shop is its owner's only
    var = Path(os.environ["VANTOK_VAR"])
    try:
        if arguments[0] == "daily":
            print(f"The day's backup: {back_up(var, second_folder())}. {second_said(var)}".rstrip(), flush=True)
        elif arguments[0] == "backup":
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
    """Bring a backup back: unpacked, its checksums held, its database proven and brought up to date on a copy, then put in place in one moment."""
    var.mkdir(parents=True, exist_ok=True, mode=0o700)
    try:
        with shop_of(var, "a restore"):
            finish(var)
            unpacked = Path(tempfile.mkdtemp(dir=var, prefix=".unpacked-"))
            try:
                unpack(path, unpacked)
                prove_ours(unpacked / DATABASE)
                _up_to_date(unpacked)
                return replace_with(var, unpacked)
            finally:
                shutil.rmtree(unpacked, ignore_errors=True)
    except InUseError as error:
        raise BackupError(str(error)) from error


def _up_to_date(unpacked: Path) -> None:
    """Bring an unpacked shop's database up to this program, on its copy. Raises BackupError."""
    env = os.environ | {"VANTOK_VAR": str(unpacked), "VANTOK_PLAIN_HTTP": "1"}
    command = [sys.executable, "manage.py", "migrate", "--verbosity", "0"]
    done = subprocess.run(command, env=env, capture_output=True, text=True, check=False)  # noqa: S603 - this program's own command
    if done.returncode:
        why = (done.stderr.strip().splitlines() or ["it says nothing"])[-1]
        raise BackupError(f"Its database cannot be brought up to date: {why}")
    close_log(unpacked / DATABASE)
    for rest in (*unpacked.glob("vantok.sqlite3-*"), unpacked / "secret_key"):
        rest.unlink(missing_ok=True)
    owner_only(unpacked)


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
