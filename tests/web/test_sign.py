"""The customer signs on the tablet for what cannot be undone; the signature stands in the report and goes with the job."""

import json

from django.urls import reverse

from tests.web.base import DemoCase, words
from vantok.desk.load import Desk
from vantok.records.jobs.models import Job
from vantok_core.facts.quote import QuoteLine, QuoteSheet
from vantok_core.files.job_file import read_job, write_job
from vantok_core.judge.hand_over.to_sign import to_sign

STROKES = [[[10, 20], [400, 150], [900, 80]], [[50, 250]]]


class Signing(DemoCase):
    def sign(self, job: Job, strokes: object = STROKES, **told: str):  # type: ignore[no-untyped-def]
        data = {"what": "Drilled where the sheet has it", "name": "Mina Oyster", "strokes": json.dumps(strokes)}
        return self.client.post(reverse("sign", args=[job.pk]), data | told)

    def test_what_is_asked_for(self) -> None:
        """Each step of a card that cannot be undone, each cure that was declined, each fault that stands is asked for; nothing else is."""
        for number in ("038", "039", "041", "046"):
            desk = Desk.open(self.job(number).pk)
            irreversible = [step.words for one in desk.cards for step in one.card.steps if step.irreversible]
            asked = to_sign(desk.job, desk.cards)
            with self.subTest(number):
                self.assertEqual(
                    len([a for a in asked if ": " in a and a.split(": ", 1)[1] in irreversible]), len(set(irreversible))
                )
        line = QuoteLine(kind="work", what="bushes at the rear", price=1.0, why="fix_first", answer="no")
        wish = line.model_copy(update={"what": "polish", "why": "wish"})
        job = desk.job.model_copy(update={"quote": QuoteSheet(lines=(line, wish), rate=80.0)})
        self.assertIn("Declined: bushes at the rear", to_sign(job, ()))
        self.assertNotIn("polish", " ".join(to_sign(job, ())))

    def test_signed_once_and_for_good(self) -> None:
        """A signature is drawn in the report and its paper's page, goes out and in again with the job file, and is put beside the next, never over it."""
        job = self.job("038")
        self.assertEqual(self.sign(job).status_code, 302)
        self.assertEqual(self.sign(job, name="Ola Oyster").status_code, 302)
        core = Desk.open(job.pk).job
        self.assertEqual([one.name for one in core.signed], ["Mina Oyster", "Ola Oyster"])
        self.assertEqual(core.signed[0].strokes, tuple(tuple(tuple(p) for p in stroke) for stroke in STROKES))
        self.assertEqual(read_job(write_job(core)).signed, core.signed)
        report = self.client.get(reverse("report", args=[job.pk])).content.decode()
        self.assertEqual(report.count('class="signature"'), 2)
        self.assertIn("10,20 400,150 900,80", report)
        self.assertIn("Ola Oyster", words(self.client.get(reverse("history", args=[job.pk]))) + report)

    def test_no_drawing_is_none(self) -> None:
        """An empty pad, nonsense, points beside the pad and more than a hand draws are refused at the pad in words, and nothing is stored; a trainee looks."""
        job = self.job("038")
        for bad in (
            "",
            [],
            [[]],
            [[[1, 5000]]],
            [[[0.5, "x"]]],
            {"a": 1},
            [[[1, 1]] * 500],
            [[[1, 1]]] * 70,
            "[" * 2000,
        ):
            answer = self.sign(job, strokes=bad) if bad != "" else self.sign(job, **{"strokes": ""})
            with self.subTest(str(bad)[:30]):
                self.assertEqual(answer.status_code, 422)
                self.assertRegex(words(answer), "sign again|sign on the pad")
        self.assertEqual(self.sign(job, what=" ").status_code, 422)
        self.assertEqual(Desk.open(job.pk).job.signed, ())
        self.sign_in("jude")
        self.assertEqual(self.sign(job).status_code, 403)
        self.sign_in("tobin")
        self.assertIn("The lead hands over.", words(self.client.get(reverse("report", args=[job.pk]))))
