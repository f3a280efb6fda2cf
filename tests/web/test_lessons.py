"""What closed jobs teach, on the web: kept at hand-over, told with its error, switched off, never wrong by stealth."""

from __future__ import annotations

import re
from math import log
from unittest.mock import Mock

from django.urls import reverse
from django.utils import timezone

from tests.core.test_families import KITS
from tests.web.base import DemoCase, words
from vantok.demo.closed import closed_jobs
from vantok.desk.lessons import _hours, entry_seen_here, key_of, learnt_now
from vantok.desk.load import Desk
from vantok.desk.opening import new_vehicle, next_number
from vantok.records.choose.models import kind_of
from vantok.records.garage.models import Customer
from vantok.records.jobs.models import Job
from vantok.records.learnt.models import Foretold, Lesson
from vantok.records.measure.models import Reading
from vantok.records.shelf.models import KitRecord
from vantok_core.kits.registry import family_of, read_kit
from vantok_core.upkeep.lessons import class_of


class Learning(DemoCase):
    def hand_over(self, number: str) -> Job:
        job = self.job(number)
        self.client.post(reverse("report", args=[job.pk]), {"action": "hand-over", "anyway": "for the test"})
        job.refresh_from_db()
        self.assertTrue(job.done)
        return job

    def teach(self, job: Job, value: float, count: int = 1, **more: str) -> None:
        """Put in lessons on the rear of a job's class, of other vehicles."""
        others = Job.objects.exclude(pk=job.pk).exclude(vehicle=job.vehicle).order_by("pk")[:count]
        for other in others:
            told = {"kind": "rate", "key": class_of(Desk.look(job.pk).job, "rear"), "sigma": 0.1, "usual": 40e3} | more
            Lesson.objects.create(job=other, value=value, at=timezone.now(), **told)

    def test_a_job_handed_over_teaches_once(self) -> None:
        """Rates, strength, heights foretold; handed over again it takes its own place; what a lead said of a line stays."""
        job = self.hand_over("038")
        kinds = set(job.lessons.values_list("kind", flat=True))
        self.assertTrue({"rate", "strength"} <= kinds)
        self.assertTrue(Foretold.objects.filter(job=job).exists())
        count = Lesson.objects.count()
        row = job.lessons.filter(kind="rate").first()
        assert row is not None
        self.client.post(reverse("lessons"), {"action": "row", "row": row.pk, "to": "off", "kind": "rate"})
        self.client.post(reverse("report", args=[job.pk]), {"action": "reopen"})
        self.hand_over("038")
        self.assertEqual(Lesson.objects.count(), count)
        self.assertEqual(job.lessons.get(kind="rate", key=row.key).off, "lead")
        text = self.page("lessons")
        for said in ("heights foretold before the work", "two in three within", "a lead switched it off", job.number):
            self.assertIn(said, text)

    def test_the_next_of_the_class_rests_on_it_and_says_so(self) -> None:
        """Until a kit is taken as it is known now; from then on as it was, and told what has been learnt since; switched off it is as before."""
        job = self.job("041")
        before = Desk.look(job.pk).worked.model.prior.rear.spring.k  # type: ignore[union-attr]
        self.teach(job, -0.5, 5)
        found = Desk.look(job.pk)
        self.assertEqual([one.n for one in found.job.class_learnt], [5])
        self.assertLess(float(found.worked.model.prior.rear.spring.k), 0.8 * float(before))  # type: ignore[union-attr]
        self.assertIn("from 5 of your own, two in three within", self.page("diagnose", job))
        self.client.post(reverse("choose", args=[job.pk]), {"kit": "FW-M"})
        self.teach(job, 0.4, 9)
        decided = Desk.look(job.pk)
        self.assertEqual([one.n for one in decided.job.class_learnt], [5])
        self.assertIn("Decided on 5 of your own vehicles", self.page("diagnose", job))
        other = Job.objects.create(number="2026-900", vehicle=job.vehicle)
        key = class_of(decided.job, "rear")
        self.client.post(reverse("lessons"), {"action": "key", "kind": "rate", "key": key, "to": "off"})
        self.assertEqual(learnt_now(Desk.look(other.pk).facts.job), ())
        self.assertIn("switched off", self.page("lessons"))
        self.client.post(reverse("lessons"), {"action": "key", "kind": "rate", "key": key, "to": "on"})
        self.assertEqual([one.n for one in learnt_now(decided.facts.job)], [9])

    def test_a_kit_is_taken_as_strong_as_it_was_read_here(self) -> None:
        """With nothing learnt the shelf's own entry goes on; with what others read its data are scaled, and say from how many."""
        vehicle, shelf = self.job("041").vehicle, KitRecord.objects.get(code="FW-M")
        self.assertIs(entry_seen_here(vehicle, shelf.data), shelf.data)
        self.teach(self.job("041"), -0.3, 6, kind="strength", key=key_of("FW-M", kind_of(vehicle, shelf.to_core())))
        taken = read_kit(entry_seen_here(vehicle, shelf.data))
        assert taken.seen is not None
        self.assertEqual(taken.seen.count, 6)
        weaker = family_of(taken).highest_force(taken) / family_of(taken).highest_force(shelf.to_core())
        self.assertAlmostEqual(weaker, taken.seen.ratio, places=3)
        self.assertLess(weaker, 0.9)

    def test_hours_are_kept_against_the_sheets_own(self) -> None:
        """In all, and at either side against half of them: twice as long is ln 2 more, half as long ln 2 less; a card left open teaches none."""
        kit = KITS["air_spring"].model_copy(update={"hours": 2.0})
        took = _hours("key", Mock(took_in_all=240.0, took=(("left", 120.0), ("right", 30.0))), kit)
        self.assertEqual([round(one.value, 9) for one, _ in took], [round(log(f), 9) for f in (2.0, 2.0, 0.5)])
        self.assertEqual([usual for _, usual in took], [2.0, 1.0, 1.0])
        self.assertEqual(_hours("key", Mock(took_in_all=0.0, took=()), kit), [])

    def test_a_known_customers_number_is_kept(self) -> None:
        """One that stands is never written over by another; one that is lacking is taken."""
        for n, (first, then, kept) in enumerate((("", " 55 10 ", "55 10"), ("55 10", "66", "55 10"), ("", "", ""))):
            owner = Customer.objects.create(name=f"Owner {n}", phone=first)
            new_vehicle(customer=owner.name, label="A van", body="van", phone=then)
            owner.refresh_from_db()
            self.assertEqual(owner.phone, kept)

    def test_imported_and_unweighed_jobs_teach_when_a_lead_says_so(self) -> None:
        """They are kept, do not count, and say why."""
        Reading.objects.filter(job=self.job("038")).update(told_by="Another shop")
        job = self.hand_over("038")
        self.assertEqual(set(job.lessons.values_list("off", flat=True)), {"imported"})
        self.assertIn("it came from another shop’s file".replace("’", "'"), self.page("lessons"))
        row = job.lessons.first()
        assert row is not None
        self.client.post(reverse("lessons"), {"action": "row", "row": row.pk, "to": "on", "kind": row.kind})
        row.refresh_from_db()
        self.assertEqual(row.off, "")
        self.sign_in("jude")
        self.assertEqual(self.client.get(reverse("lessons")).status_code, 403)

    def test_hours_and_causes_are_used_where_they_are_asked(self) -> None:
        """A quote's hours follow the shop's own finished cards and say so; what was proved to be behind a complaint counts beside what is usual."""
        job = self.job("041")
        for n, other in enumerate(Job.objects.exclude(pk=job.pk)[:6]):
            hours = {
                "kind": "hours",
                "key": f"FW-M on {job.vehicle.body} {job.vehicle.rear_spring}",
                "value": 0.4,
                "sigma": 0.0,
                "usual": 3.5,
            }
            Lesson.objects.create(job=other, at=timezone.now(), **hours)
            if n < 4:
                cause = {"kind": "cause", "key": "sags tired", "value": 0.0, "sigma": 0.0}
                Lesson.objects.create(job=other, at=timezone.now(), **cause)
        self.client.post(reverse("choose", args=[job.pk]), {"kit": "FW-M"})
        self.assertIn("from 6 of your own finished cards", self.page("quote", job))
        self.client.post(reverse("quote", args=[job.pk]), {"action": "make"})
        job.refresh_from_db()
        work = next(line for line in job.quote["lines"] if line["what"].startswith("fit "))
        self.assertGreater(work["amount"] * 1.8, 3.5 * 1.2)
        sags = next(one for one in Job.objects.filter(done=False) if "sags" in one.complaints)
        self.assertIn("proved in this shop", self.page("diagnose", sags))
        self.assertIn("Tired or cracked rear springs 4", self.page("lessons"))
        page = reverse("report", args=[sags.pk])
        told = {"action": "answers", "answer-sags": "cured", "cause-sags": "tired"}
        self.assertIn(self.tell(page, told).status_code, (204, 302))
        sags.refresh_from_db()
        self.assertEqual(Desk.look(sags.pk).job.complaints[0].cause, "tired")
        self.assertIn("proved to be behind it", words(self.client.get(page)))


class Closed(DemoCase):
    def test_three_years_of_closed_jobs_have_something_to_show(self) -> None:
        """Put in once, with rates, strengths, hours, causes and heights foretold; the next vehicle rests on them; nine in ten lie inside."""
        self.assertEqual((closed_jobs(), closed_jobs()), (60, 0))
        self.assertGreater(Foretold.objects.count(), 200)
        text = self.page("lessons")
        inside = int(re.findall(r"(\d+) % lay inside", text)[0])
        self.assertTrue(85 <= inside <= 98, inside)
        for said in (
            "Springs, by class",
            "Kits’ strength",
            "Hours of a card",
            "What was proved",
            "Furthest out",
            "By kit",
            "Ferrywell tee bellows, middle, pickup, solid axle, leaf",
        ):
            self.assertIn(said, text)
        self.assertNotRegex(text, r"leaf_solid|leaf solid|left_side")
        self.assertEqual(next_number(), "2026-047")
        learnt = [one for job in Job.objects.filter(done=False) for one in Desk.look(job.pk).job.class_learnt]
        self.assertTrue(learnt)
