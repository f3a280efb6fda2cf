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
import zlib
from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, datetime
from functools import cache
from pathlib import Path

from vantok.backup.folder import DATABASE, MEDIA, InUseError, held, owner_only

LIST, LAST = "backup.json", "last_backup.json"
BUSY, WORK = ".backup.lock", ".work-"
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
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    try:
        with held(folder, BUSY, "a backup", otherwise="A backup is being made just now"):
            return _made(var, folder, at)
    except InUseError as error:
        raise BackupError(str(error)) from error


def _made(var: Path, folder: Path, at: datetime) -> Made:
    """Write the backup; whatever an earlier one left that was killed goes first: nobody else is at it."""
    for left in (*folder.glob("vantok-*.part"), *folder.glob(f"{WORK}*")):
        shutil.rmtree(left) if left.is_dir() else left.unlink()
    path = _free(folder, f"vantok-{at:%Y%m%d-%H%M%S}")
    part = path.with_suffix(".part")
    with tempfile.TemporaryDirectory(dir=folder, prefix=WORK) as work:
        copy = Path(work) / DATABASE
        snapshot(var / DATABASE, copy)
        sums = {DATABASE: digest(copy)}
        try:
            part.touch(mode=0o600)
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
    path.chmod(0o600)
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
    with tempfile.TemporaryDirectory(dir=path.parent, prefix=WORK) as work:
        return unpack(path, Path(work))


def unpack(path: Path, into: Path) -> dict[str, str]:
    """Unpack a backup into an empty folder and prove it: this program's, whole, every file as listed. Return the checksums.

    Nothing is taken on trust, and nothing unpacked that its list or the disk does not allow. Raises BackupError.
    """
    try:
        with tarfile.open(path, "r:") as tar:  # never packed: what comes out is no more than what is there
            members = tar.getmembers()
            _looked_over(path, members, into)
            tar.extractall(into, filter="data")
        told = json.loads((into / LIST).read_text())
        sums = dict(told["sha256"])
        kind = (told["format"], told["version"])
    except UNREADABLE as error:
        raise BackupError(f"{path.name} cannot be read as a backup of this program: {error}.") from error
    if kind != ("vantok-backup", 1):
        raise BackupError(f"{path.name} is of a kind this program does not know.")
    there = {m.name for m in members} - {LIST}
    if DATABASE not in sums or there != set(sums):
        raise BackupError(f"{path.name} holds no shop, or other files than it lists.")
    for name, wanted in sums.items():
        if digest(into / name) != wanted:
            raise BackupError(f"{path.name}: {name} is not what it was.")
    owner_only(into)
    prove(into / DATABASE)
    return sums


UNREADABLE = (
    tarfile.TarError,
    EOFError,
    OSError,
    ValueError,
    KeyError,
    TypeError,
    AttributeError,
    RecursionError,
    zlib.error,
)
"""What reading a file that is no backup, or a damaged one, may end in."""


def _looked_over(path: Path, members: list[tarfile.TarInfo], into: Path) -> None:
    """Raise BackupError for a list of files that no backup of this program has, or that the disk does not take."""
    names = [m.name for m in members]
    if len(members) > MOST_FILES or len(set(names)) != len(names):
        raise BackupError(f"{path.name} is no backup of this program.")
    for m in members:
        ours = m.name in (DATABASE, LIST) or m.name.startswith(f"{MEDIA}/")
        if not m.isfile() or m.issparse() or not ours or ".." in Path(m.name).parts:
            raise BackupError(f"{path.name} is no backup of this program: “{m.name[:60]}” has no place in one.")
    size = sum(m.size for m in members)
    if size > path.stat().st_size or size + ROOM > shutil.disk_usage(into).free:
        raise BackupError(f"{path.name} would take {size // 1_000_000} MB: there is no room for it.")


ROOM = 50_000_000
"""Bytes of the disk that stay free."""


def prove_ours(database: Path) -> None:
    """Raise BackupError for a database that is not this program's, is of a newer one, or that nobody could open."""
    try:
        with closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True)) as connection:
            applied = set(connection.execute("SELECT app, name FROM django_migrations"))
            people = connection.execute(
                "SELECT count(*) FROM people_user WHERE is_active AND (role = 'lead' OR is_superuser)"
            ).fetchone()[0]
            connection.execute("SELECT count(*) FROM jobs_job")
    except sqlite3.DatabaseError as error:
        raise BackupError(f"{database.name} is no database of this program: {error}.") from error
    newer = sorted(f"{app} {name}" for app, name in applied if app in known_steps() and name not in known_steps()[app])
    if newer:
        raise BackupError(f"It is of a newer version of this program ({newer[0]}): bring this one up to date first.")
    if not people:
        raise BackupError("There is no lead in it who could open it.")


@cache
def known_steps() -> dict[str, set[str]]:
    """Return the names of this program's own migrations by app."""
    found: dict[str, set[str]] = {}
    for path in Path(__file__).resolve().parent.parent.glob("**/migrations/[0-9]*.py"):
        found.setdefault(path.parent.parent.name, set()).add(path.stem)
    return found
