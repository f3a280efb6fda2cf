"""App configuration."""

import sqlite3
from typing import Any

from django.apps import AppConfig
from django.db.backends.signals import connection_created
from django.db.models.signals import post_migrate, pre_migrate

from vantok.records.jobs.stamp import install, remove

WITH_JSON = (3, 38)
"""From this version on SQLite has JSON built in."""


def knows_json(connection: Any, **_: Any) -> None:
    """Say at once that the database knows JSON: asked at the first use, as usual, a busy one counts as one that does not, for as long as its thread lives."""
    if sqlite3.sqlite_version_info >= WITH_JSON:
        connection.features.supports_json_field = True


class JobsConfig(AppConfig):
    """Jobs: the day board, listening, history, job files."""

    name = "vantok.records.jobs"

    def ready(self) -> None:
        """Keep the jobs' stamps by triggers, made anew after every migrate."""
        pre_migrate.connect(remove, sender=self, dispatch_uid="vantok.records.jobs.stamp")
        connection_created.connect(knows_json, dispatch_uid="vantok.records.jobs.knows_json")
        post_migrate.connect(install, sender=self, dispatch_uid="vantok.records.jobs.stamp")
