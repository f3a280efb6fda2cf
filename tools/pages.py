"""Every address of the program, found by walking its table: nothing is named by hand, so nothing new is left out."""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from django.apps import apps
from django.db import connection, transaction
from django.urls import URLPattern, URLResolver, get_resolver

from vantok.desk.load import Desk
from vantok.people import once
from vantok.records.jobs.models import Job
from vantok.records.measure.models import Photo
from vantok.records.practice.models import Done
from vantok.records.shelf.models import KitRecord
from vantok_core.judge.benches.all import BENCHES
from vantok_core.practice.bay.drills import DRILLS

CODE = re.compile(
    r"\d-\d\dT\d\d:|\b20\d\d-\d\d-\d\d\b"  # a moment or a day as the database writes it
    r"|(?<![\w/])[a-z]+_[a-z_]+\b|\bNone\b|\bTrue\b|\bnan\b|Value error|Ensure this|Traceback|<class|\{[\w%. ]*\}"  # names and values of the code
    r"|\[['\"\d][^\]]*\]|\b\d{4,} Pa\b|\b\d[\d.]* Pa\b"  # lists, pascals
    r"|\b(?:kg|lb|%) left\b|(?:gap|travel|droop|stroke|margin) left\b"  # left is a side
)
"""What no page says, and no answer to a form: words of the code, not of the trade."""
FILE = re.compile(r"\.(pdf|csv|zip|json|ics|js)$|/file/$")
"""Addresses of files: dear to make, and without a form."""


def patterns() -> Iterator[tuple[str, str, Any]]:
    """Yield every route of the address table: its text, its name, its view."""

    def walk(found: list[Any], before: str) -> Iterator[tuple[str, str, Any]]:
        for one in found:
            if isinstance(one, URLResolver):
                yield from walk(one.url_patterns, before + str(one.pattern))
            elif isinstance(one, URLPattern):
                yield before + str(one.pattern), str(one.name), one.callback

    yield from walk(get_resolver().url_patterns, "")


def addresses(job: Job) -> Iterator[str]:
    """Yield every address of the program, those of a job with this one's parts put in."""
    state, photo, kit = job.states.last(), Photo.objects.filter(job=job).first(), KitRecord.objects.first()
    act = Done.objects.filter(run__job=job, kind="log").first()
    parts = {
        "<int:state>": [str(state.pk) if state else ""],
        "<slug:phase>": ["before"],
        "<slug:datum>": ["ground_arch"],
        "<slug:place>": ["FL"],
        "<slug:code>": [kit.code if kit else ""],
        "<path:number>": [job.number],
        "<slug:kind>": ["bench"],
        "<int:act>": [str(act.pk if act else 0)],
    }
    for route, name, _ in patterns():
        keys = {"bench": list(BENCHES), "drill": list(DRILLS), "handbook-page": list(BENCHES)}.get(
            name, ["nothing", kit.code if kit else ""]
        )
        own = parts | {"<slug:key>": keys}
        pk = photo.pk if name == "photo" and photo else job.vehicle_id if route.startswith("garage") else job.pk
        found = [f"/{route}".replace("<int:pk>", str(pk))]
        for part, values in own.items():
            found = [one.replace(part, value) for one in found for value in values]
        for one in found:
            if "<" in one:
                raise AssertionError(f"nothing is known to put into {one}")
            yield from (
                [one, f"{one}?state={state.key}"]
                if state and name in ("weigh", "scales", "trailer", "condition")
                else [one]
            )


@contextmanager
def undone() -> Iterator[None]:
    """Carry out the block and undo all it stored."""
    point = transaction.savepoint()
    try:
        yield
    finally:
        transaction.savepoint_rollback(point)
        once.forget_all()
        Desk.forget_all()


QUIET = (
    "django_session",
    "people_taken",
    "people_act",
    "axes_accessattempt",
    "axes_accesslog",
    "axes_accessfailurelog",
)


def counts() -> dict[str, int]:
    """Return how many rows each table has, but for those of sessions and names."""
    tables = {one._meta.db_table for one in apps.get_models(include_auto_created=True)}.difference(QUIET)
    with connection.cursor() as cursor:
        # the names are those of our own tables
        cursor.execute(" UNION ALL ".join(f"SELECT '{one}', count(*) FROM \"{one}\"" for one in sorted(tables)))  # noqa: S608
        return dict(cursor.fetchall())
