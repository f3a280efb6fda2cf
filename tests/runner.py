"""Django's test runner on every core, closing with one plain line of counts."""

from __future__ import annotations

from typing import Any

from django.db import connections
from django.test.runner import DiscoverRunner


class Runner(DiscoverRunner):
    """Prints `N passed, N failed, N skipped` after the usual summary; gives each process a whole copy of the database."""

    def setup_databases(self, **kwargs: Any) -> Any:
        """Make the database, write its log into it, then copy it: a copy of the file alone would lack what the log still holds."""
        processes, self.parallel = self.parallel, 0
        found = super().setup_databases(**kwargs)
        self.parallel = processes
        for connection in connections.all() if processes > 1 else ():
            with connection.cursor() as cursor:
                cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")
            for n in range(processes):
                connection.creation.clone_test_db(suffix=str(n + 1), verbosity=self.verbosity, keepdb=self.keepdb)
        return found

    def suite_result(self, suite: Any, result: Any, **kwargs: Any) -> int:
        failed = super().suite_result(suite, result, **kwargs)
        skipped = len(result.skipped)
        print(f"{result.testsRun - failed - skipped} passed, {failed} failed, {skipped} skipped")
        return failed
