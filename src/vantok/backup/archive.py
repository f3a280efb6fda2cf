"""A backup: one tar file with the database as it stood at one moment, every photograph, and a list of checksums.

Knows no Django: it works on a folder, so that a shop can be brought back where nothing runs.
"""

from __future__ import annotations

import hashlib
import json
import os
import shutil
import sqlite3
import tarfile
import tempfile
import time
from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

DATABASE, MEDIA, LIST, LAST = "vantok.sqlite3", "media", "backup.json", "last_backup.json"
CHUNK = 1 << 20
MOST_FILES = 500_000


class BackupError(Exception):
    """A backup that cannot be made or trusted; the text says why."""


@dataclass(frozen=True, slots=True)
class Made:
    """A backup just made: where, when, bytes, photographs."""

    path: Path
    at: datetime
    size: int
    photographs: int


def digest(path: Path) -> str:
    """Return a file's SHA-256."""
    found = hashlib.sha256()
    with path.open("rb") as file:
        while chunk := file.read(CHUNK):
            found.update(chunk)
    return found.hexdigest()


def snapshot(database: Path, copy: Path) -> None:
    """Copy a database as it stands at one moment, while others go on writing (SQLite's online backup), and prove the copy."""
    if not database.is_file():
        raise BackupError(f"There is no database at {database}.")
    with (
        closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True, timeout=30)) as source,
        closing(sqlite3.connect(copy)) as target,
    ):
        source.backup(target)
    prove(copy)


def prove(database: Path) -> None:
    """Raise BackupError unless a database is whole and its references hold."""
    try:
        with closing(sqlite3.connect(database)) as connection:
            told = connection.execute("PRAGMA integrity_check").fetchone()[0]
            broken = connection.execute("PRAGMA foreign_key_check").fetchone()
    except sqlite3.DatabaseError as error:
        raise BackupError(f"{database.name} is no database that can be read: {error}.") from error
    if told != "ok" or broken:
        raise BackupError(f"{database.name} is damaged: {told if told != 'ok' else 'a reference leads nowhere'}.")


def make(var: Path, folder: Path, *, now: datetime | None = None) -> Made:
    """Write a backup of a data folder into a folder, whole or not at all; note it as the last good one.

    Raises BackupError, and OSError where the disk takes no more (nothing half-written stays).
    """
    at = now or datetime.now(UTC)
    folder.mkdir(parents=True, exist_ok=True)
    path = _free(folder, f"vantok-{at:%Y%m%d-%H%M%S}")
    part = path.with_suffix(".part")
    with tempfile.TemporaryDirectory(dir=folder) as work:
        copy = Path(work) / DATABASE
        snapshot(var / DATABASE, copy)
        sums = {DATABASE: digest(copy)}
        try:
            with tarfile.open(part, "w") as tar:
                tar.add(copy, DATABASE)
                for photograph in sorted((var / MEDIA).rglob("*")):
                    if photograph.is_file():
                        name = photograph.relative_to(var).as_posix()
                        sums[name] = digest(photograph)
                        tar.add(photograph, name)
                        time.sleep(0)  # let a page being served go first
                listed = Path(work) / LIST
                listed.write_text(
                    json.dumps({"format": "vantok-backup", "version": 1, "at": at.isoformat(), "sha256": sums})
                )
                tar.add(listed, LIST)
            with part.open("rb") as file:
                os.fsync(file.fileno())
            part.replace(path)
        except BaseException:
            part.unlink(missing_ok=True)
            raise
    check(path)
    made = Made(path, at, path.stat().st_size, len(sums) - 1)
    note = {"at": at.isoformat(), "file": str(path), "bytes": made.size, "photographs": made.photographs}
    (var / LAST).write_text(json.dumps(note))
    return made


def _free(folder: Path, name: str) -> Path:
    """Return a path nothing stands at."""
    for n in range(1000):
        path = folder / f"{name}{f'-{n}' if n else ''}.tar"
        if not path.exists():
            return path
    raise BackupError(f"{folder} is full of backups of this second.")


def last(var: Path) -> dict[str, object] | None:
    """Return what is noted of the last good backup, None when there was none or the note does not read."""
    try:
        told = json.loads((var / LAST).read_text())
        told["at"] = datetime.fromisoformat(told["at"])
    except (OSError, ValueError, KeyError, TypeError):
        return None
    return dict(told)


def check(path: Path) -> dict[str, str]:
    """Return the checksums of a backup after holding every file in it against them. Raises BackupError."""
    with tempfile.TemporaryDirectory(dir=path.parent) as work:
        return unpack(path, Path(work))


def unpack(path: Path, into: Path) -> dict[str, str]:
    """Unpack a backup into an empty folder and prove it: list, checksums, database. Return the checksums."""
    try:
        with tarfile.open(path) as tar:
            members = tar.getmembers()
            if len(members) > MOST_FILES or any(
                not m.isfile() or m.name.startswith("/") or ".." in Path(m.name).parts for m in members
            ):
                raise BackupError(f"{path.name} is no backup of this program.")
            tar.extractall(into, filter="data")
        told = json.loads((into / LIST).read_text())
    except (tarfile.TarError, EOFError, OSError, ValueError) as error:
        raise BackupError(f"{path.name} cannot be read as a backup: {error}.") from error
    if told.get("format") != "vantok-backup" or told.get("version") != 1:
        raise BackupError(f"{path.name} is of a kind this program does not know.")
    sums: dict[str, str] = told["sha256"]
    for name, wanted in sums.items():
        if not (into / name).is_file() or digest(into / name) != wanted:
            raise BackupError(f"{path.name}: {name} is missing or not what it was.")
    prove(into / DATABASE)
    return sums


def put_in_place(unpacked: Path, var: Path) -> Path:
    """Put an unpacked, proven backup in place of a data folder's database and photographs; return where the old ones are kept."""
    kept = var / f"replaced-{datetime.now(UTC):%Y%m%d-%H%M%S}"
    kept.mkdir(parents=True)
    for name in (DATABASE, f"{DATABASE}-wal", f"{DATABASE}-shm", MEDIA):
        if (var / name).exists():
            shutil.move(str(var / name), str(kept / name))
    shutil.move(str(unpacked / DATABASE), str(var / DATABASE))
    if (unpacked / MEDIA).is_dir():
        shutil.move(str(unpacked / MEDIA), str(var / MEDIA))
    return kept
