"""A job that came for no height goes from Listen to hand-over without one: what could be the whole cause, the drive, the part, the drive again."""

from __future__ import annotations

from django.urls import reverse
from tools.forms import read_page

import tests.web.test_fit as on_card
from tests.web.base import DemoCase, words
from vantok.desk.load import Desk
from vantok.records.choose.models import Fitting
from vantok.records.jobs.models import Job


class WithoutAHeight(DemoCase):
    card, leave = on_card.Card.card, on_card.Card.leave

    def opened(self, complaint: str, body: str, **vehicle: str) -> Job:
        """Return a job with one complaint, on a vehicle of which only a word or two is known."""
        told = {
            "customer": "Peat Works",
            "label": "Grey coach",
            "body": body,
            "once": f"{self._testMethodName[5:20]}-{complaint}",
        }
        before = Job.objects.count()
        self.assertEqual(self.client.post(reverse("start"), told).status_code, 302)
        self.assertEqual(Job.objects.count(), before + 1)
        job = Job.objects.order_by("-pk")[0]
        self.tell(reverse("listen", args=[job.pk]), {"complaints": complaint})
        if vehicle:
            self.tell(reverse("vehicle", args=[job.pk]), vehicle)
        return job

    def sentence(self, job: Job, stage: str) -> str:
        return Desk.open(job.pk).verdict(stage).in_units("metric")

    def driven(self, job: Job, moment: str, **grades: str) -> None:
        """Grade a drive on one course, the one before from memory: the vehicle stands in the shop already."""
        told = {
            "action": "drive",
            "course": "usual",
            "speed": "60 km/h",
            "rater": "owner",
            "state": "",
            "moment": moment,
        }
        told |= {"told": "on"} if moment == "before" else {}
        told |= {f"g-{name}": grade for name, grade in grades.items()}
        answer = self.client.post(reverse("drive", args=[job.pk]), told)
        self.assertEqual(answer.status_code, 302, words(answer)[:400])

    def carded(self, job: Job) -> None:
        """Work through the fitting card."""
        while (step := self.card(job).next) is not None:
            before = len(self.card(job).marks)
            self.leave(job, step.key, **({"fact": "none"} if step.gate == "end" else {}))
            self.assertEqual(len(self.card(job).marks), before + 1, step)

    def walked(self, complaint: str, body: str, kit: str, grade: str, areas: tuple[str, ...], **setting: str) -> Job:
        """Go from Listen to hand-over without a height, and hold each sentence on the way."""
        job = self.opened(complaint, body)
        for stage in ("listen", "vehicle", "measure", "diagnose", "choose", "prove", "report"):
            self.assertIn("no height is needed", self.sentence(job, stage), stage)
        self.assertIn("No kit is taken", self.sentence(job, "set"))
        self.assertIn("asks for no load", self.sentence(job, "weigh"))
        self.client.post(reverse("inspect", args=[job.pk]), {f"grade-{area}": "fine" for area in areas})
        self.assertIn("Drive it before anything is fitted", self.sentence(job, "choose"))
        self.client.post(reverse("choose", args=[job.pk]), {"kit": kit})
        self.assertEqual(Fitting.objects.get(job=job).kit["code"], kit)
        made = Desk.open(job.pk).cards[0]
        gate = next(s for s in made.card.steps if s.gate == "baseline")
        self.assertIn("Drive it before", made.held(gate))
        self.driven(job, "before", **{grade: "poor"})
        self.assertNotIn("baseline", self.page("choose", job).lower())
        self.carded(job)
        page = reverse("set", args=[job.pk])
        shown = read_page(page, self.client.get(page).content.decode()).forms
        asked = [n for form in shown for n in form.typed if n.startswith(("left_", "right_"))]
        confirmed = self.tell(page, {"done": "on"} | dict.fromkeys(asked, "2") | setting)
        self.assertEqual(confirmed.status_code, 302, words(confirmed)[700:1600])
        self.assertIn("drive the same course again", self.sentence(job, "prove"))
        self.assertIn("closes without proof", self.page("report", job))
        self.driven(job, "after", **{grade: "fine"})
        self.assertIn("is fine now", self.sentence(job, "report"))
        return job

    def test_four_jobs_without_a_height(self) -> None:
        """A wandering coach with a stabilizer, a rolling van with a bar, a swimming pickup with dampers, a harsh one with shackles: each to its end."""
        for complaint, body, kit, grade, areas, setting in JOBS:
            with self.subTest(complaint):
                job = self.walked(complaint, body, kit, grade, areas, **setting)
                self.assertEqual(Desk.open(job.pk).job.readings, ())
                report = self.page("report", job)
                for never in (
                    "holds the height",
                    "no loaded state",
                    "Rake to measure",
                    "cannot be held against a prediction",
                    "never under",
                ):
                    self.assertNotIn(never, report)
                self.client.post(
                    reverse("report", args=[job.pk]), {"action": "answers", f"answer-{complaint}": "cured"}
                )
                open_at_the_end = self.page("report", job).split("Still open:")[1].split("Hand over anyway")[0]
                for line in open_at_the_end.split(". "):
                    self.assertTrue(not line.strip() or "Fit check unanswered" in line, open_at_the_end)
                self.client.post(reverse("report", args=[job.pk]), {"action": "hand-over", "anyway": "by its plate"})
                job.refresh_from_db()
                self.assertTrue(job.done)

    def test_what_lifts_is_proved_by_the_tape(self) -> None:
        """A rolling van that takes air springs is read before they go on, whatever it came for; nothing answers with a part that its maker rules out."""
        job = self.opened("rolls", "van")
        self.client.post(
            reverse("inspect", args=[job.pk]), {f"grade-{a}": "fine" for a in ("tyres", "dampers", "bushes")}
        )
        self.driven(job, "before", rolls="poor")
        self.client.post(reverse("choose", args=[job.pk]), {"kit": "FW-M"})
        self.assertIn("No empty baseline", self.page("choose", job))
        sags = self.opened("sags", "van")
        self.assertIn("To find out: wheelbase", self.sentence(sags, "choose"))

    def test_what_a_job_is_for_is_the_technicians(self) -> None:
        """Aims follow the complaints until somebody ticks otherwise; then what was added or dropped stands, beside complaints that change later."""
        job, page = self.opened("rolls", "van"), ""
        page = reverse("listen", args=[job.pk])
        told = {"complaints": ["rolls"], "aims": ["roll", "ride"]}
        self.assertEqual(self.tell(page, told).status_code, 302)
        job.refresh_from_db()
        self.assertEqual(job.aims, {"ride": True})
        self.assertIn("the roll and the ride", self.sentence(job, "choose"))
        self.tell(page, {"complaints": ["rolls", "wanders"], "aims": ["roll", "ride"]})
        job.refresh_from_db()
        self.assertEqual(job.aims, {"ride": True})
        self.assertIn("the roll, the steering and the ride", self.sentence(job, "choose"))
        self.tell(page, {"complaints": ["rolls", "wanders"], "aims": ["roll", "height"]})
        job.refresh_from_db()
        self.assertEqual(job.aims, {"height": True, "steering": False})
        self.assertIn("To find out", self.sentence(job, "choose"))
        self.assertIn(
            "<td>with the height, without the steering</td>",
            self.client.get(reverse("history", args=[job.pk])).content.decode(),
        )

    def test_a_trainee_proposes_what_answers(self) -> None:
        """A trainee sees what answers and puts one forward; the technician sees whose it is; what only moves load is entered on Weigh, never taken."""
        rolling = self.job("031")
        self.sign_in("jude")
        self.assertNotIn("Take this kit", self.page("choose", rolling))
        self.client.post(reverse("choose", args=[rolling.pk]), {"kit": "GB-R2", "action": "propose"})
        self.sign_in("tobin")
        page = self.page("choose", rolling)
        self.assertIn("Jude Pell proposes this one", page)
        self.assertIn("More bar at the front, or at the rear?", page)
        swaying = self.job("028")
        self.assertIn("Enter what it gives back", self.page("choose", swaying))
        answer = self.client.post(reverse("choose", args=[swaying.pk]), {"kit": "WH-1"}, follow=True)
        self.assertIn("It is set there, not here", words(answer))
        self.assertFalse(Fitting.objects.filter(job=swaying).exists())

    def test_the_board_waits_for_what_the_job_came_for(self) -> None:
        """No job without a height waits at Vehicle, Weigh or Measure: each stands where its part or its drive is lacking; driven again, it is done."""
        stages = {n: Desk.open(self.job(n).pk).next_stage for n in ("031", "030", "029", "028", "041")}
        self.assertEqual(stages, {"031": "choose", "030": "report", "029": "fit", "028": "choose", "041": "choose"})
        self.driven(self.job("028"), "after", sways="fine")
        self.assertEqual(Desk.open(self.job("028").pk).next_stage, "report")

    def test_a_job_for_several_things_has_a_ruler_for_each_and_a_table_of_all(self) -> None:
        """A van that leans and rolls: height, lean and roll of what is near in one table, doing nothing beside it; each aim's own ruler; one that is no aim
        of the job shows the height's."""
        leaning = self.job("042")
        page = self.page("choose", leaning)
        self.assertRegex(
            page, r"The height The lean The roll Do nothing \S+\smm from the target missed .* as now missed"
        )
        for by, told in (
            ("roll", r"\d+\s% of it now \(\d+\s% to \d+\s%\)"),
            ("lean", r"(left|right) \d+ mm ± \d+ mm low"),
        ):
            self.assertRegex(self.page("choose", leaning, by=by), told)
        self.assertIn("● loaded", self.page("choose", leaning, by="damping"))

    def test_a_fault_stands_before_every_part(self) -> None:
        """Play in the steering is fixed first: the sentence says so at every stage, and a part is not taken over it."""
        job = self.opened("wanders", "coach")
        self.client.post(reverse("inspect", args=[job.pk]), {"grade-steering": "fault", "grade-tyres": "fine"})
        for stage in ("choose", "prove", "report"):
            self.assertIn("Fix first: steering", self.sentence(job, stage))


JOBS: tuple[tuple[str, str, str, str, tuple[str, ...], dict[str, str]], ...] = (
    ("wanders", "coach", "BS-N", "wanders", ("steering", "tyres"), {}),
    ("rolls", "van", "GB-R2", "rolls", ("tyres", "dampers", "bushes"), {}),
    ("porpoises", "pickup", "BD-R8", "porpoises", ("dampers",), {}),
    ("harsh", "pickup", "RS-1", "harsh", ("tyres", "dampers", "stops"), {}),
)
