"""A job's stamp: a number that changes whenever anything on the job's desk changes, whoever and whatever changed it.

Kept by triggers of the database, so that no path of the program can forget it. A random number rather than a count, so that
a rolled-back change and the next one never share it. With it, a page of a job nobody has touched needs one small query
instead of reading the whole job again.
"""

from __future__ import annotations

from typing import Any

from django.db import connection

OF_JOB = {
    "weigh_loadstate": "{row}.job_id",
    "measure_reading": "{row}.job_id",
    "measure_photo": "{row}.job_id",
    "choose_fitting": "{row}.job_id",
    "jobs_inspection": "{row}.job_id",
    "handover_issue": "{row}.job_id",
    "handover_recall": "{row}.job_id",
    "practice_run": "{row}.job_id",
    "practice_finding": "(SELECT job_id FROM practice_run WHERE id = {row}.run_id)",
    "weigh_loaditem": "(SELECT job_id FROM weigh_loadstate WHERE id = {row}.state_id)",
    "weigh_traileritem": "(SELECT job_id FROM weigh_loadstate WHERE id = {row}.state_id)",
}
"""Tables whose rows belong to one job, and that job's id."""
OF_MANY = {
    "garage_vehicle": "vehicle_id = NEW.id",
    "garage_customer": "vehicle_id IN (SELECT id FROM garage_vehicle WHERE customer_id = NEW.id)",
    "jobs_bay": "bay_id = NEW.id",
    "people_user": "1",
    "shelf_kitrecord": "1",
}
"""Tables whose rows many jobs show, and which jobs; users only by their names."""
OF_ALL = ("people_shop", "learnt_lesson")
"""Tables of the shop that all that is worked out rests on. They change the shop's own stamp: what is kept of a job goes by both."""
QUIET = {
    "jobs_job": ("stage", "verdict", "verdict_us", "waits", "tone", "stands", "told_stamp", "stamp"),
    "measure_reading": ("flag",),
}
"""Columns that follow from the rest: a change of these alone is no change of the job."""
SET = "UPDATE jobs_job SET stamp = random() WHERE"
SET_SHOP = "INSERT OR REPLACE INTO jobs_shopstamp (id, stamp) VALUES (1, random());"


def statements() -> list[str]:
    """Return the statements that make the triggers; making them again changes nothing."""
    found = []
    for table, job in OF_JOB.items():
        for event, row in (("INSERT", "NEW"), (_update_of(table), "NEW"), ("DELETE", "OLD")):
            found.append(_trigger(table, event, f"{SET} id = {job.format(row=row)};"))
    for table, jobs in OF_MANY.items():
        event = "UPDATE OF first_name, last_name, username" if table == "people_user" else "UPDATE"
        found.append(_trigger(table, event, f"{SET} {jobs};"))
    found.append(_trigger("shelf_kitrecord", "INSERT", f"{SET} 1;"))
    found.append(_trigger("shelf_kitrecord", "DELETE", f"{SET} 1;"))
    found += [_trigger(table, event, SET_SHOP) for table in OF_ALL for event in ("INSERT", "UPDATE", "DELETE")]
    found.append(_trigger("jobs_job", "INSERT", f"{SET} id = NEW.id;"))
    found.append(_trigger("jobs_job", _update_of("jobs_job"), f"{SET} id = NEW.id;"))
    return found


def _update_of(table: str) -> str:
    """Return the event of an update that changes more than what follows from the rest."""
    if table not in QUIET:
        return "UPDATE"
    with connection.cursor() as cursor:
        columns = [c.name for c in connection.introspection.get_table_description(cursor, table)]
    return "UPDATE OF " + ", ".join(f'"{c}"' for c in sorted(columns) if c not in QUIET[table])


def _trigger(table: str, event: str, body: str, when: str = "") -> str:
    name = f"stamp_{table}_{event.split(maxsplit=1)[0].lower()}"
    return f"CREATE TRIGGER IF NOT EXISTS {name} AFTER {event} ON {table} FOR EACH ROW {when} BEGIN {body} END"


def remove(**_: Any) -> None:
    """Take the triggers off before a migrate: while a table is being changed they would speak of one that is not there."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT name FROM sqlite_master WHERE type = 'trigger' AND name LIKE 'stamp_%'")
        for (name,) in cursor.fetchall():
            cursor.execute(f'DROP TRIGGER IF EXISTS "{name}"')


def install(**_: Any) -> None:
    """Make the triggers once all tables are there (after every migrate: a changed table loses its own)."""
    tables = set(connection.introspection.table_names())
    if not ({"jobs_job", "jobs_shopstamp", *OF_JOB, *OF_MANY, *OF_ALL} <= tables):
        return
    with connection.cursor() as cursor:
        columns = {column.name for column in connection.introspection.get_table_description(cursor, "jobs_job")}
        for statement in statements() if "stamp" in columns else ():
            cursor.execute(statement)
