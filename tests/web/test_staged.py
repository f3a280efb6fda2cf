"""A second kit on top of the first: asked for, read apart, taken off again, put back; nothing of the first is lost."""

from __future__ import annotations

from django.urls import reverse

from tests.web.base import DemoCase, words
from vantok.desk.load import Desk
from vantok.records.choose.models import Fitting
from vantok.records.jobs.models import Job
from vantok.records.measure.models import Reading
from vantok_core.physics.vehicle import CORNERS


class Staged(DemoCase):
    def read_all(self, job: Job, lifted: int) -> None:
        """Type every height with the kit on, so many mm above the ones before any."""
        for corner in CORNERS:
            plain = Reading.objects.filter(
                job=job, state__key="loaded", phase="before", datum="ground_arch", place=corner
            )
            told = f"{1000 * plain.last().value_m + (lifted if corner[0] == 'R' else 0):.0f} mm"  # type: ignore[union-attr]
            answer = self.client.post(
                self.cell(job, corner, phase="after"),
                {"text": told, "seen": self.seen(job, corner, phase="after")},
                headers={"hx-request": "true", "x-vantok-token": f"{corner}{lifted}"},
            )
            self.assertEqual(answer["X-Vantok-Stored"], f"{corner}{lifted}")

    def on_top(self, job: Job, code: str) -> None:
        """Take a kit on top of the one in hand."""
        standing = Fitting.objects.filter(job=job).last()
        assert standing is not None
        self.client.post(reverse("choose", args=[job.pk]), {"kit": code, "on_top_of": standing.pk})

    def test_one_after_the_other(self) -> None:
        """From one kit set and read to two, each with its own before and after; off again, and back again."""
        job = self.job("039")
        first = Fitting.objects.get(job=job)
        alone = [r.value_m for r in Desk.look(job.pk).job.readings if r.phase == "after"]
        lifts = self.page("prove", job)
        self.on_top(job, "CH-4")
        second = Fitting.objects.filter(job=job).last()
        assert second is not None
        self.assertEqual((second.kit["code"], second.order, Fitting.objects.filter(job=job).count()), ("CH-4", 1, 2))
        self.assertTrue(second.setting)
        desk = Desk.look(job.pk)
        self.assertEqual([p.kit.code for p in desk.job.parts], [first.kit["code"], "CH-4"])
        shown = self.page("prove", job)
        self.assertIn("Nothing has been read since the kit was fitted", shown)
        self.assertIn(f"1. {first.kit['name']} by itself", shown)
        self.assertIn("not set yet", self.page("set", job))
        self.tell(reverse("set", args=[job.pk]), {"left_hole_count": "1", "right_hole_count": "1", "done": "on"})
        self.assertTrue(Fitting.objects.get(pk=second.pk).done)
        self.read_all(job, 60)
        both = Desk.look(job.pk).job
        then = both.before_this
        assert then is not None
        self.assertEqual(
            [r.value_m for c in CORNERS if (r := then.at("loaded", c, "ground_arch", "after"))], alone[-4:]
        )
        self.assertTrue(all(both.at("loaded", c, "ground_arch", "after") for c in CORNERS))
        report = self.page("report", job)
        for part in (first, second):
            self.assertIn(part.kit["name"], report)
        self.assertIn(f"with {first.kit['name']}", report)
        file = self.client.get(reverse("job-file", args=[job.pk]))
        self.assertEqual(len(file.json()["earlier"]), 1)

        again = self.client.post(
            reverse("choose", args=[job.pk]), {"action": "take-off", "fitting": first.pk}, follow=True
        )
        self.assertIn("those on top of it come off first", words(again))
        self.client.post(reverse("choose", args=[job.pk]), {"action": "take-off", "fitting": second.pk})
        self.assertEqual(Desk.look(job.pk).job.earlier, ())
        self.assertEqual(
            [
                r.value_m
                for r in Desk.look(job.pk).job.readings
                if r.phase == "after" and r.setting == Desk.look(job.pk).job.mark
            ],
            alone,
        )
        sentence = "The prediction held"
        self.assertEqual(sentence in lifts, sentence in self.page("prove", job))

        last = Reading.objects.filter(job=job, phase="after", setting__contains=" + ").last()
        assert last is not None
        self.client.post(reverse("history", args=[job.pk]), {"kind": "reading", "id": last.pk, "field": ""})
        put = Reading.objects.filter(job=job).last()
        assert put is not None
        self.assertNotEqual(put.pk, last.pk)
        self.assertEqual((put.value_m, put.setting), (last.value_m, last.setting))

        gone = Fitting.history.filter(job_id=job.pk, history_type="-").latest("history_date")
        self.client.post(reverse("history", args=[job.pk]), {"kind": "fitting", "id": gone.history_id, "field": ""})
        self.assertEqual([p.kit.code for p in Desk.look(job.pk).job.parts], [first.kit["code"], "CH-4"])
        now = {(r.place, r.setting, r.value_m) for r in Desk.look(job.pk).job.readings}
        self.assertEqual(now, {(r.place, r.setting, r.value_m) for r in both.readings})

    def test_what_cannot_go_on_top(self) -> None:
        """A kit on one that is not set yet, one of the same family on the axle, and one where a trainee asks: each refused in words."""
        job = self.job("040")
        self.client.post(reverse("choose", args=[job.pk]), {"kit": "FW-H"})
        standing = Fitting.objects.get(job=job)
        self.assertFalse(standing.done)
        for done, code, why in (
            (False, "SR-60", "set it on the vehicle and say so on Set"),
            (True, "FW-H", "is on the rear axle already"),
        ):
            Fitting.objects.filter(pk=standing.pk).update(done=done)
            told = self.client.post(
                reverse("choose", args=[job.pk]), {"kit": code, "on_top_of": standing.pk}, follow=True
            )
            self.assertTrue(why in words(told), why)
            self.assertEqual(Fitting.objects.filter(job=job).count(), 1)
        self.on_top(job, "SR-60")
        self.sign_in("jude")
        last = Fitting.objects.filter(job=job).last()
        assert last is not None
        refused = self.client.post(reverse("choose", args=[job.pk]), {"action": "take-off", "fitting": last.pk})
        self.assertEqual(refused.status_code, 403)
        self.assertEqual(Fitting.objects.filter(job=job).count(), 2)
