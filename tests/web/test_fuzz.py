"""Nonsense at every form, query and file with a fixed seed (`run.py fuzz` throws more): no server error, nothing stored that breaks a page."""

from tools.fuzz import run
from tools.pages import undone

from tests.web.base import DemoCase
from vantok.records.jobs.models import Job


class Fuzzed(DemoCase):
    def test_nonsense_thrown_at_everything_breaks_nothing(self) -> None:
        """Two rounds on a job with its kit on: forms, addresses and files spoilt; every address of the job opens afterwards."""
        self.assertEqual(run(list(Job.objects.filter(number="2026-038")), 150, 7, undone), [])
