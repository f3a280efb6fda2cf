"""What proves a job beside the tape, as it is stored: something added to what proves the work, or one entry of it changed."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from vantok.desk.readings import stamp_settings
from vantok.records.choose.models import Fitting
from vantok.records.jobs.models import Job
from vantok_core.aims.of_job import needs_heights
from vantok_core.base.check import in_words
from vantok_core.base.errors import InputError
from vantok_core.facts import Job as CoreJob
from vantok_core.facts import Proving
from vantok_core.facts.fitting import read_mark
from vantok_core.kits.registry import family_of, read_kit


@dataclass(frozen=True, slots=True)
class Way:
    """A page that proves a job: its address's name, its words, whether it is the one shown."""

    name: str
    words: str
    here: bool


def by_drive_alone(job: CoreJob) -> bool:
    """Tell whether a job has nothing for the tape to prove: no aim, no part and no reading of it is a height."""
    return not needs_heights(job) and not job.readings


def ways(job: CoreJob, here: str) -> list[Way]:
    """Return the pages that prove a job, those alone that apply to it."""
    air = any(family_of(part.kit).sealed for part in job.parts) or job.already is not None or bool(job.proving.leaks)
    told = (
        ("prove", "Heights", not by_drive_alone(job)),
        ("drive", "Drive, before and after", True),
        ("leak", "Leak test", air),
        ("clear", "Clearances and locks", True),
        ("traces", "Logged road", True),
        ("films", "Two films side by side", True),
    )
    return [Way(name, words, name == here) for name, words, applies in told if applies or name == here != "prove"]


def proving_of(record: Job) -> dict[str, Any]:
    """Return what proves the work so far, as it is stored."""
    return Proving.model_validate(record.proving or {}).model_dump(mode="json")


def store(record: Job, told: dict[str, Any]) -> None:
    """Store what proves the work. Raises InputError for what cannot be."""
    try:
        record.proving = Proving.model_validate(told).model_dump(mode="json")
    except ValidationError as error:
        raise InputError("sheet", "it", in_words(error.errors()[0])) from error
    record.save()


def add(record: Job, kind: str, entry: dict[str, Any]) -> None:
    """Add an entry to a list of what proves the work, with a key of its own where it has one. Raises InputError for what cannot be."""
    told = proving_of(record)
    known = {one.get("key") for one in told[kind]}
    if "key" in entry:
        entry = entry | {"key": next(f"{kind[0]}{n}" for n in range(1, 1000) if f"{kind[0]}{n}" not in known)}
    store(record, told | {kind: [*told[kind], entry]})


def change_entry(record: Job, kind: str, key: str, changed: dict[str, Any]) -> None:
    """Change an entry by its key. Raises InputError for one that is not there, or what cannot be."""
    told = proving_of(record)
    if key not in {one.get("key") for one in told[kind]}:
        raise InputError(kind, key, "it is not there any more")
    store(record, told | {kind: [one | changed if one.get("key") == key else one for one in told[kind]]})


def put_setting(record: Job, mark: str) -> str:
    """Put the kit in hand back to the setting that a mark tells; return its name. Raises InputError for a mark of another kit."""
    fitting = Fitting.objects.filter(job=record).last()
    if fitting is None:
        raise InputError("setting", mark, "there is no kit on the job")
    kit = read_kit(fitting.kit)
    code, _, told = mark.partition(" ")
    found = read_mark(told, [f.name for f in family_of(kit).settings]) if code == kit.code[:40] else None
    if found is None:
        raise InputError("setting", mark, "it is of another kit: set this one anew")
    stamp_settings(record)
    fitting.setting = {**fitting.setting, **{name: list(pair) for name, pair in found.items()}}
    fitting.save()
    return str(fitting)
