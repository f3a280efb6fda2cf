"""Backups by themselves: one a day while the shop is served, the old ones thinned out, a copy in a second folder where one is named.

Knows no Django. The server starts it in a process of its own, so that no page waits for it.
"""

from __future__ import annotations

import json
import os
import re
import shutil
import subprocess
import sys
from collections.abc import Iterable
from datetime import UTC, datetime, timedelta
from pathlib import Path

from vantok.backup.archive import BackupError, digest, make

FOLDER, NOTE = Path("backups") / "daily", "second_backup.json"
EVERY = timedelta(hours=24)
DAYS, WEEKS, MONTHS = 14, 12, 24
"""Of how many days, weeks and months behind the last one a backup is kept: the last of each."""
NAMED = re.compile(r"vantok-(\d{8}-\d{6})(-\d+)?\.tar")
SECOND = "VANTOK_BACKUP_TO"
"""The setting that names a second folder, on another disk."""


def made_at(path: Path) -> datetime | None:
    """Return when a backup was made, by its name; None for a file that is none."""
    named = NAMED.fullmatch(path.name)
    return datetime.strptime(named[1], "%Y%m%d-%H%M%S").replace(tzinfo=UTC) if named else None


def due(var: Path, now: datetime) -> bool:
    """Tell whether a day has passed since the last one; one of a time that is still to come (the clock was put back) counts for nothing."""
    told = [at for at in map(made_at, (var / FOLDER).glob("*.tar")) if at is not None and at <= now]
    return not told or now - max(told) >= EVERY


def kept(times: Iterable[datetime]) -> set[datetime]:
    """Return which backups stay: the last of each of the last days, weeks and months that have one."""
    newest_first = sorted(times, reverse=True)
    found: set[datetime] = set()
    for most, of in (
        (DAYS, lambda t: t.date()),
        (WEEKS, lambda t: t.isocalendar()[:2]),
        (MONTHS, lambda t: (t.year, t.month)),
    ):
        last: dict[object, datetime] = {}
        for time in newest_first:
            last.setdefault(of(time), time)
        found |= set(list(last.values())[:most])
    return found


def thin_out(folder: Path) -> int:
    """Remove the daily backups of a folder that are not kept; return how many went. Other files are not touched."""
    times = {path: at for path in folder.glob("*.tar") if (at := made_at(path)) is not None}
    stay = kept(times.values())
    gone = [path for path, at in times.items() if at not in stay]
    for path in gone:
        path.unlink()
    return len(gone)


def back_up(var: Path, second: Path | None, *, now: datetime | None = None) -> Path:
    """Make the day's backup, copy it to the second folder where one is named, and thin both out.

    What became of the copy is noted beside the data (see `second_said`). Raises BackupError, and OSError where the disk takes no more.
    """
    made = make(var, var / FOLDER, now=now)
    thin_out(var / FOLDER)
    if second is not None:
        wrong = ""
        try:
            _copied(made.path, second)
            thin_out(second)
        except (OSError, BackupError) as error:
            wrong = str(error)
        (var / NOTE).write_text(json.dumps({"at": made.at.isoformat(), "folder": str(second), "wrong": wrong}))
    return made.path


def _copied(path: Path, second: Path) -> None:
    """Copy a backup into a folder that is there, whole or not at all, and read it back. Raises BackupError, OSError."""
    if not second.is_dir():
        raise BackupError("the folder is not there: is its disk in?")
    part = second / f".{path.name}.part"
    try:
        shutil.copyfile(path, part)
        part.chmod(0o600)
        if digest(part) != digest(path):
            raise BackupError("the copy reads back as something else: the disk is not to be trusted")
        part.replace(second / path.name)
    finally:
        part.unlink(missing_ok=True)


def second_folder() -> Path | None:
    """Return the second folder, where one is named."""
    named = os.environ.get(SECOND, "").strip()
    return Path(named) if named else None


def second_said(var: Path) -> str:
    """Return what is wrong with the copy in the second folder; empty where none is named or all is well."""
    second = second_folder()
    if second is None:
        return ""
    try:
        told = json.loads((var / NOTE).read_text())
    except (OSError, ValueError):
        return f"No backup has been copied to {second} yet."
    if told.get("folder") != str(second):
        return f"No backup has been copied to {second} yet."
    return f"The last backup was not copied to {second}: {told['wrong']}." if told.get("wrong") else ""


def in_the_background(var: Path) -> subprocess.Popen[bytes]:
    """Start a day's backup in a process of its own, behind whatever is being served."""
    command = [sys.executable, "-m", "vantok.backup.command", "daily"]
    return subprocess.Popen(command, env=os.environ | {"VANTOK_VAR": str(var)}, preexec_fn=lambda: os.nice(10))  # noqa: S603, PLW1509 - this program's own
