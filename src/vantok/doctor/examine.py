"""The examination: each look at one thing, what was found, and what to do about it."""

from __future__ import annotations

import logging
import os
import shutil
import sqlite3
import stat
import sys
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import cast

import django
from django.apps import apps
from django.conf import settings
from django.core.files.storage import FileSystemStorage, default_storage
from django.db import connection, models
from django.db.migrations.executor import MigrationExecutor
from django.utils import timezone

from vantok.backup.archive import BackupError, last, prove
from vantok.backup.daily import second_said
from vantok.backup.folder import DATABASE, MEDIA
from vantok.backup.pages import OLD
from vantok.records.instruments.models import run_out
from vantok_core.files.cases.run import run_cases, shipped

log = logging.getLogger(__name__)
ROOM = 3
"""How many times its own size the disk should still take: a backup, the copy it is proved on, and a day's work."""
SKEW = timedelta(minutes=5)
"""How far ahead of this machine's clock something written may be dated."""
OLDEST_SQLITE = (3, 37)


@dataclass(frozen=True, slots=True, kw_only=True)
class Found:
    """What one look found: its name, whether it is well, what was seen, and what to do where it is not."""

    what: str
    well: bool
    said: str
    do: str = ""


def examine(*, short: bool = False) -> list[Found]:
    """Look at everything and return what was found; a look that fails is itself found. short: a few of the worked cases instead of all."""
    looks: tuple[tuple[str, Callable[[], Found]], ...] = (
        ("Database", _database),
        ("Version", _version),
        ("Photographs", _photographs),
        ("Disk", _disk),
        ("Permissions", _permissions),
        ("Clock", _clock),
        ("Backup", _backup),
        ("Calibration", _calibration),
        ("Worked cases", lambda: worked_cases(short=short)),
    )
    return [_looked(what, look) for what, look in looks]


def _looked(what: str, look: Callable[[], Found]) -> Found:
    try:
        found = look()
        return replace(found, do="") if found.well else found
    except Exception as error:
        log.exception("doctor: %s", what)
        return Found(
            what=what,
            well=False,
            said=f"could not be looked at: {type(error).__name__}: {error}",
            do="Read the log; send its last lines with a request for help.",
        )


def worked_cases(*, short: bool = False) -> Found:
    """Return whether this machine's arithmetic reproduces the worked cases, with the worst error as a share of what is allowed."""
    outcomes = run_cases({"cases": shipped(short=short)})
    wrong = [one for one in outcomes if not one.passed]
    worst = max((one.worst for one in outcomes if one.passed), default=0.0)
    if not wrong:
        said = (
            f"{len(outcomes)} solved again, all within tolerance; the worst error is {_share(worst)} of what is allowed"
        )
        return Found(what="Worked cases", well=True, said=said)
    told = "; ".join(f"{one.name} {_off(one.worst)} at {one.place or 'its answer'}" for one in wrong[:3])
    return Found(
        what="Worked cases",
        well=False,
        said=f"{len(wrong)} of {len(outcomes)} come out otherwise on this machine: {told}",
        do="Trust no figure of this machine: use another one, or install the program anew (delete .venv and start it again).",
    )


def _share(worst: float) -> str:
    """Return an error as a share (1: all) of what is allowed, in words."""
    return "under 1 %" if worst < 0.01 else f"{100.0 * worst:.0f} %"


def _off(worst: float) -> str:
    return f"off by {worst:.1f} times what is allowed" if worst != float("inf") else "not solved"


def _database() -> Found:
    path = Path(connection.settings_dict["NAME"])
    try:
        prove(path)
    except BackupError as error:
        do = "Stop the program and bring the last good backup back: python3 run.py restore FILE."
        return Found(what="Database", well=False, said=str(error), do=do)
    return Found(what="Database", well=True, said=f"whole, every reference holds, {path.stat().st_size / 1e6:.1f} MB")


def _version() -> Found:
    versions = f"Python {sys.version.split()[0]}, Django {django.get_version()}, SQLite {sqlite3.sqlite_version}"
    if sqlite3.sqlite_version_info < OLDEST_SQLITE:
        return Found(what="Version", well=False, said=versions, do="SQLite 3.37 or newer is needed: update the system.")
    plan = MigrationExecutor(connection)
    steps = plan.migration_plan(plan.loader.graph.leaf_nodes())
    if steps:
        do = "Start the program once: it brings the database up to date."
        return Found(what="Version", well=False, said=f"the database is {len(steps)} steps behind the program", do=do)
    return Found(what="Version", well=True, said=versions)


def files_of_rows() -> Iterator[tuple[models.Model, str]]:
    """Yield each record that has a file, and the file's name in the store; whichever model it is of."""
    for model in apps.get_models():
        for field in model._meta.get_fields():
            if isinstance(field, models.FileField) and not hasattr(model, "history_id"):
                for row in model._default_manager.exclude(**{field.name: ""}).iterator():
                    yield row, str(getattr(row, field.name))


def _photographs() -> Found:
    rows = list(files_of_rows())
    lost = sorted({name for _, name in rows if not default_storage.exists(name)})
    named, store = {name for _, name in rows}, default_storage
    folder = Path(store.location) if isinstance(store, FileSystemStorage) else settings.VAR / MEDIA
    there = {p.relative_to(folder).as_posix() for p in folder.rglob("*") if p.is_file()} if folder.is_dir() else set()
    nobodys = sorted(there - named)
    if lost:
        do = "Bring them back from a backup: unpack its media folder beside the data."
        return Found(what="Photographs", well=False, said=f"{len(lost)} are listed and gone: {_some(lost)}", do=do)
    if nobodys:
        do = "They belong to no record (an upload that was cut off): delete them, or leave them; nothing rests on them."
        return Found(what="Photographs", well=False, said=f"{len(nobodys)} files are nobody’s: {_some(nobodys)}", do=do)
    return Found(what="Photographs", well=True, said=f"{len(named)}, each where its record says")


def _some(names: list[str]) -> str:
    return ", ".join(names[:3]) + (" …" if len(names) > 3 else "")


def _disk() -> Found:
    shop = sum(p.stat().st_size for p in (settings.VAR / DATABASE, *(settings.VAR / MEDIA).rglob("*")) if p.is_file())
    free = shutil.disk_usage(settings.VAR).free
    said = f"{free / 1e9:.1f} GB free; the shop takes {shop / 1e6:.0f} MB"
    well = free > ROOM * shop + 200_000_000
    do = "" if well else "Make room: move old backups to another disk, or move the data folder to a larger one."
    return Found(what="Disk", well=well, said=said, do=do)


def _permissions() -> Found:
    wanted = [settings.VAR, *settings.VAR.glob(f"{DATABASE}*"), *settings.VAR.glob("secret_key")]
    open_ = [p for p in wanted if p.stat().st_mode & (stat.S_IRWXG | stat.S_IRWXO)]
    others = [p for p in wanted if p.stat().st_uid != os.getuid()]
    if others:
        do = f"chown it to who runs the program (user {os.getuid()})."
        return Found(what="Permissions", well=False, said=f"{_names(others)} belongs to somebody else", do=do)
    if open_:
        do = "Start the program again: it makes them its owner’s only."
        return Found(what="Permissions", well=False, said=f"others on this machine can read {_names(open_)}", do=do)
    return Found(what="Permissions", well=True, said="the data are their owner’s only")


def _names(paths: list[Path]) -> str:
    return _some([path.name for path in paths])


def _clock() -> Found:
    now, ahead = timezone.now(), []
    for model in apps.get_models():
        if hasattr(model, "history_date"):
            newest = model._default_manager.aggregate(newest=models.Max("history_date"))["newest"]
            if newest is not None and newest > now + SKEW:
                ahead.append(newest)
    if ahead:
        said = f"something here was written at {timezone.localtime(max(ahead)):%d %b %Y %H:%M}, which is still to come"
        return Found(
            what="Clock",
            well=False,
            said=said,
            do="Set this machine’s clock; what was written meanwhile keeps its false date.",
        )
    return Found(
        what="Clock", well=True, said=f"{timezone.localtime(now):%d %b %Y %H:%M}, later than all that was written"
    )


def _backup() -> Found:
    known, second = last(settings.VAR), second_said(settings.VAR)
    if known is None:
        return Found(
            what="Backup",
            well=False,
            said="there is none",
            do="Back up now (Shop, Backups), and copy it to another disk.",
        )
    age = datetime.now(UTC) - cast("datetime", known["at"])
    there = Path(str(known["file"])).exists()
    said = f"the last proved one is of {cast('datetime', known['at']):%d %b %Y %H:%M} UTC, {known['photographs']} photographs"
    if not there:
        return Found(
            what="Backup", well=False, said=f"{said}; its file is gone from {known['file']}", do="Back up again."
        )
    if age > OLD:
        return Found(
            what="Backup",
            well=False,
            said=said,
            do="Back up now; while the program runs it does so once a day by itself.",
        )
    return Found(
        what="Backup",
        well=not second,
        said=f"{said}. {second}".rstrip(),
        do="Put the second disk in; the next backup is copied." if second else "",
    )


def _calibration() -> Found:
    """Look for scales and torque wrenches whose calibration has run out."""
    over = run_out()
    return Found(
        what="Calibration",
        well=not over,
        said=" ".join(over) or "nothing that is written down has run out",
        do="Have it calibrated, and write down the new date under Instruments.",
    )


def report(found: list[Found]) -> list[str]:
    """Return what was found as lines for a screen without a browser."""
    lines = []
    for one in found:
        lines.append(f"{'well ' if one.well else 'TO DO'}  {one.what}: {one.said}")
        lines += [f"       {one.do}"] if one.do else []
    return lines


def told() -> str:
    """Return a start's short look at the arithmetic, as one line for the log."""
    found = _looked("Worked cases", lambda: worked_cases(short=True))
    return f"{'Arithmetic checked' if found.well else 'WRONG ARITHMETIC ON THIS MACHINE'}: {found.said}.{' ' + found.do if found.do else ''}"
