"""The data folder as one thing: who has it, and what was under way in it when the power went.

Knows no Django. One lock, held by whoever serves the shop and by whoever replaces it, whatever port or name they go by.
"""

from __future__ import annotations

import fcntl
import json
import os
import shutil
import sqlite3
from collections.abc import Iterator
from contextlib import AbstractContextManager, closing, contextmanager
from datetime import UTC, datetime
from pathlib import Path

DATABASE, MEDIA = "vantok.sqlite3", "media"
LOCK, UNDER_WAY, WORK = "in-use.lock", "restoring.json", "restoring"


class InUseError(Exception):
    """Somebody else has the folder; the text says who."""


@contextmanager
def held(folder: Path, name: str, who: str, *, otherwise: str) -> Iterator[int]:
    """Hold a lock in a folder for as long as the block runs, or a process lives that was given the descriptor of it; return that. Raises InUseError
    with what is told otherwise."""
    file = os.open(folder / name, os.O_RDWR | os.O_CREAT, 0o600)
    try:
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as error:
            told = os.pread(file, 200, 0).decode("utf-8", "replace").strip()
            raise InUseError(f"{otherwise}{f' ({told})' if told else ''}.") from error
        os.ftruncate(file, 0)
        os.pwrite(file, f"{who}, process {os.getpid()}".encode(), 0)
        yield file
    finally:
        os.close(file)


def shop_of(var: Path, who: str) -> AbstractContextManager[int]:
    """Return the lock of a shop's folder, to serve it or to replace it."""
    return held(var, LOCK, who, otherwise="This data folder is in use: stop the program that has it first")


def was_used(var: Path) -> bool:
    """Tell whether a folder held a shop once: then an empty database in it would be a loss, not a beginning."""
    return any((var / name).exists() for name in ("prepared", "last_backup.json", UNDER_WAY)) or any(
        var.glob("replaced-*")
    )


def close_log(database: Path) -> None:
    """Bring what a database's log still holds into its own file, so that the file alone is the whole of it."""
    if database.exists():
        try:
            with closing(sqlite3.connect(database)) as connection:
                connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
                connection.execute("PRAGMA journal_mode=DELETE")
        except sqlite3.OperationalError as error:
            raise InUseError(f"Another program has the database open ({error}): stop it first.") from error


def replace_with(var: Path, unpacked: Path) -> Path:
    """Put a proven shop in place of a folder's own; return where the old one is kept. Killed at any moment, the folder holds the old database or the
    new one whole, and `finish` brings the rest to its end."""
    kept = var / f"replaced-{datetime.now(UTC):%Y%m%d-%H%M%S-%f}"
    kept.mkdir(mode=0o700)
    close_log(var / DATABASE)
    work = var / WORK
    unpacked.rename(work)
    part = var / f"{UNDER_WAY}.part"
    with part.open("w") as file:
        file.write(json.dumps({"kept": kept.name}))
        file.flush()
        os.fsync(file.fileno())
    part.replace(var / UNDER_WAY)
    finish(var)
    return kept


def finish(var: Path) -> bool:
    """Bring a replacement that was interrupted to its end; tell whether there was one. Each step does nothing where it was done before."""
    mark, work = var / UNDER_WAY, var / WORK
    if not mark.exists():
        if work.exists():
            shutil.rmtree(work)  # unpacked, and never begun
        return False
    kept = var / json.loads(mark.read_text())["kept"]
    kept.mkdir(mode=0o700, exist_ok=True)
    if (work / DATABASE).exists():
        if (var / MEDIA).exists() and not (kept / MEDIA).exists():
            (var / MEDIA).rename(kept / MEDIA)
        if (work / MEDIA).exists() and not (var / MEDIA).exists():
            (work / MEDIA).rename(var / MEDIA)
        if (var / DATABASE).exists() and not (kept / DATABASE).exists():
            os.link(var / DATABASE, kept / DATABASE)
        for log in ("-wal", "-shm"):
            (var / f"{DATABASE}{log}").unlink(missing_ok=True)
        (work / DATABASE).replace(var / DATABASE)  # the one moment at which the old shop becomes the new
    _sync(var)
    shutil.rmtree(work, ignore_errors=True)
    mark.unlink()
    return True


def _sync(folder: Path) -> None:
    file = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(file)
    finally:
        os.close(file)


def owner_only(folder: Path) -> None:
    """Make a folder and all in it readable by its owner alone."""
    folder.chmod(0o700)
    for path in folder.rglob("*"):
        path.chmod(0o700 if path.is_dir() else 0o600)
