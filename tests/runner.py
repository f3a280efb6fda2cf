"""Django's test runner on every core, closing with one plain line of counts."""

from __future__ import annotations

from typing import Any
from unittest import TestSuite

from django.db import connections
from django.test import LiveServerTestCase
from django.test.runner import DiscoverRunner, ParallelTestSuite, partition_suite_by_case
from django.test.utils import iter_test_cases


class Runner(DiscoverRunner):
    """Prints `N passed, N failed, N skipped` after the usual summary. With processes to spare all share them, the browser's tests first: each keeps
    half a core waiting, which another test then has."""

    def build_suite(self, *args: Any, **kwargs: Any) -> Any:
        """Return the tests in processes, a class at a time."""
        processes, self.parallel = self.parallel, 1
        tests = list(iter_test_cases(super().build_suite(*args, **kwargs)))
        tests.sort(key=lambda test: not isinstance(test, LiveServerTestCase))
        classes = partition_suite_by_case(TestSuite(tests))
        self.parallel = min(processes, len(classes)) if len(classes) > 1 else 0
        if self.parallel > 1:
            return ParallelTestSuite(classes, self.parallel, self.failfast, self.debug_mode, self.buffer)
        return TestSuite(tests)

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
