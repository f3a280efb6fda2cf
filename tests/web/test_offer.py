"""Options side by side, kits taken together, and the quote: made, edited, answered."""

from __future__ import annotations

import re
from unittest.mock import patch

from django.urls import reverse

from tests.web.base import DemoCase, words
from vantok.desk.load import Desk
from vantok.people.models import Shop
from vantok.records.choose.models import Fitting
from vantok.records.jobs.models import Inspection, Job
from vantok_core.files.job_file import VERSION


class Beside(DemoCase):
    def beside(self, job: Job, *keys: str) -> str:
        return words(self.client.get(reverse("beside", args=[job.pk]), {"with": list(keys)}))

    def test_side_by_side(self) -> None:
        """Each column has its heights with bands, who carries, limits and money; two kits make a column together; what is out is not shown."""
        job = self.job("041")
        shown = self.beside(job, "nothing", "FW-M", "CH-4", "FW-H", "no-such")
        for text in (
            "Who carries",
            "main spring 60 %, kit 40 %",
            "Roll stiffness",
            "Nearest limit",
            "together",
            "in 10",
            "One after the other:",
        ):
            self.assertTrue(text in shown, text)
        self.assertTrue("2 of those asked for are out or no longer on the shelf" in shown)
        self.assertTrue("Air or solid?" in shown)
        many = self.beside(job, *(c.key for c in Desk.look(job.pk).shortlist.choices if not c.out and c.vehicle))  # type: ignore[union-attr]
        self.assertTrue("Side by side go 6 at most" in many)
        self.assertTrue("Nothing to compare" in self.beside(job))
        self.assertTrue("Not together: " in self.beside(job, "CH-4", "CA-8"))

    def test_two_criteria(self) -> None:
        """Any two are plotted, in the reader's units; nonsense falls back to the usual two."""
        job = self.job("041")
        shown = words(self.client.get(reverse("tradeoff", args=[job.pk]), {"x": "hours", "y": "empty"}))
        self.assertTrue("Moves the unladen rear by" in shown)
        self.assertTrue(
            "Off the target" in words(self.client.get(reverse("tradeoff", args=[job.pk]), {"x": "²", "y": ""}))
        )

    def test_one_after_the_other(self) -> None:
        """The first goes on, the other is to follow: it can be fitted on top once the first is set, or left off after all."""
        job = self.job("041")
        self.client.post(reverse("beside", args=[job.pk]), {"kit": ["CH-4", "BD-R8"], "how": "staged"})
        self.assertEqual([f.kit["code"] for f in Fitting.objects.filter(job=job)], ["CH-4"])
        self.assertEqual(Desk.look(job.pk).job.to_follow[0].code, "BD-R8")
        self.assertTrue("Set Causeway helper leaf and read the heights first" in self.page("choose", job))
        file = self.client.get(reverse("job-file", args=[job.pk])).json()
        self.assertEqual(
            (file["version"], file["to_follow"]),
            (VERSION, [{"code": "BD-R8", "name": "Breakwater rear dampers, eight clicks"}]),
        )
        self.tell(reverse("set", args=[job.pk]), {"left_hole_count": "2", "right_hole_count": "2", "done": "on"})
        first = Fitting.objects.get(job=job)
        self.assertTrue("Fit it now, on top" in self.page("choose", job))
        self.client.post(reverse("choose", args=[job.pk]), {"kit": "BD-R8", "on_top_of": first.pk})
        self.assertEqual([f.kit["code"] for f in Fitting.objects.filter(job=job)], ["CH-4", "BD-R8"])
        self.assertEqual(Desk.look(job.pk).job.to_follow, ())
        again = self.client.post(
            reverse("beside", args=[job.pk]), {"kit": ["FW-M", "BD-R8"], "how": "staged"}, follow=True
        )
        self.assertTrue("is on the job already" in words(again))

    def test_all_at_once(self) -> None:
        """Both go on at their settings; each is set and said to be on its own form; what is wrong is refused beside it."""
        job = self.job("041")
        self.client.post(reverse("beside", args=[job.pk]), {"kit": ["CH-4", "FW-M"], "how": "at-once"})
        first, last = Fitting.objects.filter(job=job)
        self.assertEqual((first.kit["code"], last.kit["code"], first.done), ("CH-4", "FW-M", False))
        self.assertTrue(first.setting and last.setting)
        self.assertTrue("Causeway helper leaf: as set on the vehicle" in self.page("set", job))
        refused = self.tell(
            reverse("set", args=[job.pk]),
            {"part": first.pk, f"p{first.pk}-left_hole_count": "99", f"p{first.pk}-right_hole_count": "1"},
        )
        self.assertEqual(refused.status_code, 422)
        self.assertTrue("Over the kit’s maximum" in words(refused) or "Over the kit's maximum" in words(refused))
        self.assertFalse(Desk.look(job.pk).done["set"])
        self.tell(
            reverse("set", args=[job.pk]), {"left_pressure_pa": "2.4 bar", "right_pressure_pa": "2.4 bar", "done": "on"}
        )
        self.assertFalse(Desk.look(job.pk).done["set"])
        self.tell(
            reverse("set", args=[job.pk]),
            {
                "part": first.pk,
                f"p{first.pk}-left_hole_count": "1",
                f"p{first.pk}-right_hole_count": "1",
                f"p{first.pk}-done": "on",
            },
        )
        self.assertTrue(Desk.look(job.pk).done["set"])
        proved = {number: Desk.look(self.job(number).pk).done["prove"] for number in ("041", "038")}
        self.assertEqual(proved, {"041": False, "038": True})  # read before the kit alone proves nothing
        self.assertFalse("Causeway helper leaf: as set on the vehicle" in self.page("set", job))
        other = self.client.post(reverse("set", args=[self.job("038").pk]), {"part": first.pk})
        self.assertEqual(other.status_code, 409)

    def test_not_what_cannot_be(self) -> None:
        """Two in one place, one that is out, one that is gone: refused in words; a trainee takes none."""
        job = self.job("041")
        for kits, said in (
            (["CH-4", "CA-8"], "in one place"),
            (["FW-M", "no-such"], "not on the shelf"),
            (["FW-H", "CH-4"], "does not fit"),
        ):
            told = words(
                self.client.post(reverse("beside", args=[job.pk]), {"kit": kits, "how": "at-once"}, follow=True)
            )
            self.assertTrue(said in told, said)
        self.assertFalse(Fitting.objects.filter(job=job).exists())
        self.sign_in("jude")
        self.assertEqual(self.client.post(reverse("beside", args=[job.pk]), {"kit": ["FW-M"]}).status_code, 403)


class Quotes(DemoCase):
    def post(self, job: Job, **told: object) -> str:
        return words(self.tell(reverse("quote", args=[job.pk]), told, follow=True))

    def on_paper(self, name: str, job: Job) -> str:
        """Return what stands on a paper, as words."""
        made: list[str] = []
        with patch("vantok.desk.pdf.to_pdf", side_effect=lambda html: made.append(html) or b"%PDF"):
            self.client.get(reverse(name, args=[job.pk]))
        return made[0]

    def test_the_tax_is_asked_before_the_first(self) -> None:
        """A shop that never said its tax is asked with the first quote, once; the paper has what each line comes to, how long it holds, the shop's
        own sheet, and nothing that is only for the shop."""
        job = self.job("041")
        Shop.objects.update(tax=None, sheet="letter")
        self.assertIn("say the tax on a quote first", self.post(job, action="make"))
        self.assertEqual(Job.objects.get(pk=job.pk).quote, {})
        self.post(job, action="make", tax="19")
        self.assertEqual((Shop.objects.get().tax, Desk.look(job.pk).job.quote.tax), (0.19, 0.19))  # type: ignore[union-attr]
        self.assertNotIn("Tax on the shop", self.page("quote", job))
        self.assertIn("No reserve for stuck fasteners", self.page("quote", job))
        paper = self.on_paper("quote-pdf", job)
        self.assertIn("paper-letter.css", paper)
        told = re.sub(r"\s+", " ", re.sub(r"<[^>]+>", " ", paper))
        self.assertIn("It holds until", told)
        self.assertNotIn("No reserve", told)
        hours = next(one for one in Desk.look(job.pk).job.quote.lines if one.kind == "work")  # type: ignore[union-attr]
        self.assertIn(f"{80.0 * (hours.amount or 0.0) * 1.8:,.2f}", told)

    def test_from_making_to_accepted(self) -> None:
        """Made of the kit, what is to be cured and what is wished; edited; a range with its reserve; printed; accepted with its day."""
        job = self.job("041")
        Shop.objects.update(hour=100.0, tax=0.2)
        Inspection.objects.create(job=job, area="bushes", grade="fault", note="rear eye worn")
        Inspection.objects.create(job=job, area="tyres", grade="wish")
        self.assertTrue("It would be made of: Ferrywell bellows, middle" in self.page("quote", job))
        shown = self.post(job, action="make")
        self.assertTrue("nobody has priced it yet" in shown)
        self.assertTrue("bushes and shackles: rear eye worn" in shown)
        sheet = Desk.look(job.pk).job.quote
        assert sheet is not None
        self.assertEqual(
            (sheet.rate, sheet.tax, sheet.lines[0].why, sheet.lines[0].amount, sheet.lines[-1].why),
            (100.0, 0.2, "fix_first", None, "wish"),
        )
        part = next(n for n, line in enumerate(sheet.lines) if line.kind == "part")
        work = next(n for n, line in enumerate(sheet.lines) if line.what.startswith("fit "))
        hours = sheet.lines[work].amount
        assert hours is not None
        last = len(sheet.lines) - 1
        # The kit's own hours come out again: the second side takes 0.8 of the first.
        self.assertAlmostEqual(1.8 * hours, 3.5, delta=0.02)
        shown = self.post(
            job,
            action="save",
            corrosion="moderate",
            **{
                f"{part}-price": "1 200,50",
                f"{work}-amount": "2",
                f"{last}-answer": "no",
                "0-amount": "1",
                "0-answer": "yes",
            },
        )
        # parts 1200.50 + consumables open + work (1 + 1.8 x 2) h x 100 = 460, reserve a quarter of that, tax a fifth on both
        low, high = 1.2 * (1200.50 + 460.0), 1.2 * (1200.50 + 460.0 + 115.0)
        self.assertTrue(f"€ {low:,.2f} to € {high:,.2f}" in shown)
        wrongs = (
            ({f"{part}-price": "a lot"}, "Write it in figures."),
            ({f"{part}-price": "99999999"}, "look again"),
            ({"rate": "-4"}, "not below nought"),
            ({f"{last + 1}-amount": "3"}, "Say what it is."),
        )
        for wrong, where in wrongs:
            answer = self.client.post(reverse("quote", args=[job.pk]), {"action": "save"} | wrong)
            self.assertEqual(answer.status_code, 422, wrong)
            self.assertTrue(where in words(answer), where)
            self.assertTrue(next(iter(wrong.values())) in answer.content.decode())
        pdf = self.client.get(reverse("quote-pdf", args=[job.pk]))
        self.assertTrue(pdf.content.startswith(b"%PDF"))
        self.assertTrue("noted as accepted" in self.post(job, action="accepted"))
        sheet = Desk.look(job.pk).job.quote
        assert sheet is not None
        self.assertEqual(
            (sheet.answer, len(sheet.answered), sheet.by),
            ("accepted", 10, str(Job.objects.get(pk=job.pk).opened_by) or sheet.by),
        )
        self.assertEqual(self.client.get(reverse("job-file", args=[job.pk])).json()["quote"]["answer"], "accepted")
        self.post(job, action="save", **{f"{part}-price": "1300"})
        sheet = Desk.look(job.pk).job.quote
        assert sheet is not None
        self.assertEqual(sheet.answer, "")  # another quote now: the customer is asked anew
        self.sign_in("jude")
        self.assertEqual(self.client.post(reverse("quote", args=[job.pk]), {"action": "accepted"}).status_code, 403)
        self.assertTrue("1300" in self.client.get(reverse("quote", args=[job.pk])).content.decode())

    def test_what_must_be_cured_is_not_waved_away(self) -> None:
        """A customer who does not want the fault cured is told what follows; a line is taken off by taking its words away."""
        job = self.job("041")
        Inspection.objects.create(job=job, area="coils", grade="fault")
        self.post(job, action="make")
        self.assertTrue("Nothing is fitted on top of it" in self.post(job, action="save", **{"0-answer": "no"}))
        before = len(Desk.look(job.pk).job.quote.lines)  # type: ignore[union-attr]
        self.post(job, action="save", **{"0-what": ""})
        self.assertEqual(len(Desk.look(job.pk).job.quote.lines), before - 1)  # type: ignore[union-attr]
        self.assertTrue("quote" in self.page("history", job).lower())
