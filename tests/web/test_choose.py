"""Choose: odds and weights, sizes that kits ask for, families that lift nothing, kits that are out."""

from __future__ import annotations

import json

from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from tests.web.base import DemoCase, words
from vantok.desk.load import Desk
from vantok.records.choose.models import Fitting
from vantok.records.jobs.models import Job
from vantok.records.shelf.models import KitRecord


class Choosing(DemoCase):
    def post(self, job: Job, **told: str) -> str:
        return words(self.client.post(reverse("choose", args=[job.pk]), told, follow=True))

    def check(self, job: Job, code: str, key: str) -> str:
        choice = Desk.look(job.pk).shortlist.choice(code)  # type: ignore[union-attr]
        assert choice is not None
        return next(c.status for c in choice.checks if c.key == key)

    def test_odds_and_what_counts(self) -> None:
        """Each option tells its odds and its five years; other weights rank anew without storing, kept ones stay with the job and its file."""
        job = self.job("041")
        first = self.client.get(reverse("choose", args=[job.pk])).content.decode()
        self.assertRegex(first, rf'hx-get="{reverse("odds", args=[job.pk])}\?card=FW-M&amp;"\s+hx-trigger="load"')
        self.assertNotIn("in 10<", first)
        later = self.client.get(
            reverse("odds", args=[job.pk]), {"card": "FW-M"}, headers={"hx-request": "true"}
        ).content.decode()
        self.assertIn('id="odds-FW-M" hx-swap-oob="true"', later)
        self.assertIn("in 10<", later)
        self.assertEqual(self.client.get(reverse("odds", args=[job.pk])).status_code, 302)
        by = Desk.look(job.pk).chances.by  # type: ignore[union-attr]
        likeliest = max(by, key=lambda key: by[key].right)
        closer = reverse("closer", args=[job.pk, likeliest])
        self.assertNotIn(f'id="card-{likeliest}"><', first)
        card = words(self.client.get(closer, headers={"hx-request": "true"}))
        self.assertTrue("Fit checks:" in card and "Right choice" in card and "Take this kit" in card, card)
        self.assertEqual(self.client.get(closer).status_code, 302)
        gone = self.client.get(reverse("closer", args=[job.pk, "no-such"]), headers={"hx-request": "true"})
        self.assertEqual(gone.status_code, 404)
        shown = self.page("choose", job)
        for text in (
            "Odds are of being within 10 mm of the height wanted, from 2000 draws",
            "in 10",
            "Over five years",
        ):
            self.assertTrue(text in shown, text)
        usual = [c.key for c in Desk.look(job.pk).shortlist.choices if c.kit]  # type: ignore[union-attr]
        self.assertTrue("Odds" in self.page("choose", job, **{"w-cost": "100", "w-target": "0"}))
        self.assertEqual(Job.objects.get(pk=job.pk).weights, {})
        self.assertEqual([c.key for c in Desk.look(job.pk).shortlist.choices if c.kit], usual)  # type: ignore[union-attr]
        self.tell(reverse("choose", args=[job.pk]), {"action": "weights", "w-cost": "100", "w-target": "5"})
        kept = Job.objects.get(pk=job.pk).weights
        self.assertEqual((kept["cost"], kept["target"], kept["range"]), (1.0, 0.05, 0.0))
        self.assertEqual(self.client.get(reverse("job-file", args=[job.pk])).json()["weights"], kept)
        self.assertTrue("cost fitted 100 %" in self.page("history", job))
        for nonsense in ("-5", "1e9", "²", ""):
            self.assertTrue("yellow: the target" in self.page("choose", job, **{"w-cost": nonsense}), nonsense)
        self.sign_in("jude")
        refused = self.client.post(reverse("choose", args=[job.pk]), {"action": "weights", "w-cost": "1"})
        self.assertEqual(refused.status_code, 403)

    def test_sizes_answer_the_checks(self) -> None:
        """A leaf's width nobody read is to measure; read, it passes or fails with its figure; one that cannot be is refused, and kept to mend."""
        job = self.job("041")
        self.assertEqual(self.check(job, "AL-2", "leaf_width_m"), "measure")
        self.post(job, action="sizes", rear_leaf_width_m="63", rear_leaves="5", steering="box")
        self.assertEqual(self.check(job, "AL-2", "leaf_width_m"), "pass")
        self.assertEqual(Desk.look(job.pk).job.vehicle.sizes, {"rear_leaf_width_m": 0.063, "rear_leaves": 5.0})
        self.assertEqual(self.check(job, "BS-N", "steering"), "pass")
        self.post(job, action="sizes", rear_leaf_width_m="80 mm", rear_leaves="5", steering="rack")
        self.assertEqual(
            (self.check(job, "AL-2", "leaf_width_m"), self.check(job, "BS-N", "steering")), ("fail", "fail")
        )
        self.assertEqual(self.check(job, "BS-R", "steering"), "pass")
        refused = self.client.post(reverse("choose", args=[job.pk]), {"action": "sizes", "rear_leaf_width_m": "300 mm"})
        self.assertEqual(refused.status_code, 422)
        self.assertTrue("It lies between 30 mm and 150 mm" in words(refused))
        self.assertTrue('value="300 mm"' in refused.content.decode())

    def test_those_that_lift_nothing_and_those_that_are_out(self) -> None:
        """Bars, dampers and stabilizers stand apart with what they are for; a kit of another vehicle is out with its reason, unpredicted."""
        job = self.job("041")
        shown = self.page("choose", job)
        found = Desk.look(job.pk).shortlist
        assert found is not None
        out = [c for c in found.choices if c.out]
        self.assertGreater(len(out), 10)
        self.assertTrue(f"{len(out)} on the shelf are out" in shown)
        self.assertTrue("It changes the rear axle's roll stiffness by" in shown.replace("\u2019", "'"))
        self.assertIsNone(found.choice("FW-H").loaded)  # type: ignore[union-attr]
        self.post(job, kit="GB-R2")
        self.assertEqual(Fitting.objects.get(job=job).setting, {"link_count": [1.0, 1.0]})
        for page in ("set", "report"):
            self.assertTrue("Gantry rear bar, middle" in self.page(page, job), page)
        trial = self.client.get(reverse("trial", args=[job.pk]), {"left_link_count": "3", "right_link_count": "3"})
        self.assertEqual(trial.status_code, 200)

    def test_every_kit_of_the_shelf_has_its_page(self) -> None:
        """Each of the forty and more opens with its family's data, in both units."""
        for name in ("marit", "tobin"):
            self.sign_in(name)
            shelf = self.client.get(reverse("shelf"))
            codes = [row["kit"].code for row in shelf.context["kits"]]
            self.assertGreaterEqual(len(codes), 40)
            for code in codes:
                self.assertTrue("Published data" in words(self.client.get(reverse("kit", args=[code]))), code)


class Shelf(DemoCase):
    def upload(self, text: str, family: str = "") -> tuple[int, str]:
        file = SimpleUploadedFile("kits", text.encode(), content_type="text/plain")
        answer = self.client.post(reverse("shelf"), {"file": file, "family": family}, follow=True)
        return answer.status_code, words(answer)

    def test_filtered(self) -> None:
        """By family, by axle, by what is not out on a job's vehicle; nonsense shows all."""
        job = self.job("041")
        every = self.page("shelf")
        self.assertTrue("Breakwater stabilizer, neutral" in every and "Ferrywell bellows, heavy" in every)
        self.assertFalse("Breakwater stabilizer" in self.page("shelf", family="air_spring"))
        self.assertFalse("Ferrywell" in self.page("shelf", axle="front"))
        fitting = self.page("shelf", on=job.number)
        self.assertTrue("Ferrywell bellows, middle" in fitting)
        self.assertFalse("Ferrywell bellows, heavy" in fitting)
        nonsense = self.page("shelf", on="x", family="", axle="")
        self.assertTrue("Ferrywell bellows, heavy" in nonsense and "finds no job, or several" in nonsense)

    def test_in_and_out(self) -> None:
        """The file out is taken in again unchanged; a changed kit is changed and no job with it; a bad file changes nothing and tells each fault."""
        out = self.client.get(reverse("shelf-file")).content.decode()
        self.assertTrue("0 new on the shelf, 0 changed" in self.upload(out)[1])
        told = json.loads(out)
        kit = next(k for k in told["kits"] if k["code"] == "FW-M")
        kit["price"] = 499
        before = Fitting.objects.get(job=self.job("039")).kit
        self.assertTrue("0 new on the shelf, 1 changed" in self.upload(json.dumps(told))[1])
        self.assertEqual(KitRecord.objects.get(code="FW-M").data["price"], 499)
        self.assertEqual(Fitting.objects.get(job=self.job("039")).kit, before)
        kit["p_min_pa"], told["kits"][0]["hours"] = 9e9, "long"
        status, shown = self.upload(json.dumps(told))
        self.assertEqual(status, 422)
        self.assertTrue("Nothing was taken in" in shown and "kits.0.hours" in shown)
        self.assertEqual(KitRecord.objects.get(code="FW-M").data["price"], 499)
        table = self.client.get(reverse("shelf-file"), {"family": "coil_assist"}).content.decode()
        new = table.splitlines()[0] + "\n" + table.splitlines()[1].replace("CA-8", "CA-99")
        self.assertTrue("1 new" in self.upload(new, "coil_assist")[1])
        self.assertEqual(self.upload("code,x\n1,2", "coil_assist")[0], 422)
        self.assertEqual(self.client.get(reverse("shelf-file"), {"family": "damper"}).status_code, 404)

    def test_retired_and_copied(self) -> None:
        """A kit no longer offered leaves shelf and choice, not the jobs; a copy has a code of its own; a trainee changes nothing."""
        page = reverse("kit", args=["FW-M"])
        self.client.post(page, {"action": "retire"})
        self.assertFalse("Ferrywell bellows, middle" in self.page("shelf"))
        self.assertTrue("Ferrywell bellows, middle" in self.page("shelf", gone="1"))
        self.assertIsNone(Desk.look(self.job("041").pk).shortlist.choice("FW-M"))  # type: ignore[union-attr]
        self.assertTrue("Ferrywell bellows, middle" in self.page("report", self.job("039")))
        self.client.post(page, {"action": "offer"})
        self.client.post(page, {"action": "copy"})
        copy = KitRecord.objects.get(code="FW-M-2")
        self.assertEqual((copy.offered, copy.data["name"]), (False, "Ferrywell bellows, middle, copy"))
        self.sign_in("jude")
        self.assertEqual(self.client.post(page, {"action": "retire"}).status_code, 403)
        self.assertEqual(self.client.post(reverse("shelf"), {}).status_code, 403)
        self.assertTrue(KitRecord.objects.get(code="FW-M").offered)
