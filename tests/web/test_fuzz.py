"""Nonsense at every form and file with a fixed seed (`run.py fuzz` throws more): no server error, nothing stored that breaks a page."""

from tools.fuzz import Fuzz

from tests.web.base import DemoCase
from vantok.records.jobs.models import Job


class Fuzzed(DemoCase):
    def test_nonsense_thrown_at_everything_breaks_nothing(self) -> None:
        """Forms with up to three fields spoilt, files spoilt anywhere; every page of the job opens afterwards."""
        jobs = list(Job.objects.filter(number__in=("2026-038", "2026-041", "2026-042")).order_by("pk"))
        fuzz = Fuzz(self.client, seed=7)
        self.assertEqual(fuzz.run(jobs, 80), [])
        self.assertGreaterEqual(fuzz.thrown, 80)
