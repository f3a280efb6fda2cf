"""Every stage of every demo job, with its board and report: limits first, one verdict, no sentence without its premises."""

from __future__ import annotations

from tests.spoken import nothing_contradicts
from tests.web.base import DemoCase
from vantok.desk.load import Desk
from vantok.records.jobs.models import Job
from vantok_core.judge.grounds.lead import passed_limits
from vantok_core.judge.hand_over.open_points import open_points

STAGES = ("weigh", "measure", "diagnose", "choose", "set", "prove", "report")


class Spoken(DemoCase):
    def test_no_demo_job_contradicts_itself(self) -> None:
        """What stages, sheet, findings and hand-over say of each demo job holds against what it rests on."""
        told = 0
        for record in Job.objects.all():
            desk = Desk.open(record.pk)
            with self.subTest(record.number):
                verdicts = {stage: desk.verdict(stage) for stage in STAGES}
                told += len(verdicts)
                unweighed = desk.diagnosis.unweighed if desk.diagnosis else ()
                findings = desk.diagnosis.findings if desk.diagnosis else ()
                said = [
                    *open_points(desk.job, desk.proof, unweighed=unweighed),
                    *(f.what for f in (*findings, *desk.sheet)),
                ]
                nothing_contradicts(self, desk.job, verdicts, said, desk.sheet)
        self.assertGreater(told, 50)

    def test_board_and_report_say_the_same(self) -> None:
        """A passed limit stands on the board's line and in the report's as it does on the stages; a kit that is not confirmed is never reported as done."""
        board = self.page("board")
        for record in Job.objects.all():
            desk = Desk.open(record.pk)
            with self.subTest(record.number):
                report = self.page("report", record)
                if over := passed_limits(desk.job):
                    self.assertIn(f"{over[0][1].name} is", report)
                    if record.number in board:
                        self.assertIn(f"{over[0][1].name} is", board)
                if desk.job.fitting is not None and not all(part.done for part in desk.job.parts):
                    self.assertIn("ot yet confirmed", report)
                    self.assertNotIn("What was done", report)
                if not any(r.phase == "after" for r in desk.job.readings):
                    self.assertNotIn(", read with the kit", report)
