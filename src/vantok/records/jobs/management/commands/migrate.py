"""`migrate`, which makes a new database from the models at once and brings one that is there up to date by its migrations."""

from __future__ import annotations

from typing import Any

from django.core.management.commands.migrate import Command as Migrate

from vantok.records.jobs.begin import begin, is_new


class Command(Migrate):
    """Migrate; a whole, new database is begun, not climbed up to."""

    def handle(self, *args: Any, **options: Any) -> None:
        """Begin a new database; else do as ever."""
        alias, whole = options["database"], options["app_label"] is None and options["migration_name"] is None
        if whole and not options["plan"] and not options["check_unapplied"] and is_new(alias):
            begin(alias, options["verbosity"])
        super().handle(*args, **options)
