"""The demo world for tests: built once a run; after that its rows are put back, which takes a hundredth of the time."""

from __future__ import annotations

from django.db import connection, transaction

from tests.unfilled import refuse_unfilled
from vantok.demo.world import build
from vantok.desk.load import Desk
from vantok.records.instruments.models import Instrument

SILENT = "socket://127.0.0.1:9"
"""Where no instrument answers: a demo that is served beside a test is not listened to."""
OWN_OF_TRIGGERS = "jobs_shopstamp"
"""Filled as the others are."""
Rows = tuple[list[str], list[tuple[object, ...]]]
_ROWS: dict[str, Rows] = {}
"""What building it puts into each table: its columns as they then stood, and the rows; a test that migrates back and forth puts columns in another order."""


@transaction.atomic
def demo_world() -> None:
    """Fill an empty database with the demo world."""
    Desk.forget_all()
    refuse_unfilled()
    with connection.cursor() as cursor:
        if _ROWS:
            for table, (names, rows) in _ROWS.items():
                told = ", ".join(f'"{name}"' for name in names)
                cursor.executemany(f'INSERT INTO "{table}" ({told}) VALUES ({", ".join(["%s"] * len(names))})', rows)
            _same_stamps(cursor)
            return
        counts = {table: _count(cursor, table) for table in connection.introspection.table_names()}
        build()
        Instrument.objects.exclude(url="").update(url=SILENT)
        for table, before in counts.items():
            if table != OWN_OF_TRIGGERS and not before and _count(cursor, table):
                _ROWS[table] = _taken(cursor, table)
        _same_stamps(cursor)


def _count(cursor, table: str) -> int:
    cursor.execute(f'SELECT count(*) FROM "{table}"')
    return int(cursor.fetchone()[0])


def _taken(cursor, table: str) -> Rows:
    cursor.execute(f'SELECT * FROM "{table}" LIMIT 0')
    names = [column[0] for column in cursor.description]
    plain = ", ".join(f'+"{name}"' for name in names)  # with the plus no value is turned into a date and back
    cursor.execute(f'SELECT {plain} FROM "{table}"')
    return names, cursor.fetchall()


def _same_stamps(cursor) -> None:
    """Put each job's stamp back: the triggers change it with every row."""
    names, jobs = _ROWS["jobs_job"]
    pk, stamp = names.index("id"), names.index("stamp")
    cursor.executemany("UPDATE jobs_job SET stamp = %s WHERE id = %s", [(row[stamp], row[pk]) for row in jobs])
