"""What is kept of a job is never old: whatever changes it, by whatever path, its next page shows the change."""

import re
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from threading import Barrier
from unittest.mock import patch

from django.db import OperationalError, connection, transaction
from django.test import Client
from django.urls import reverse
from django.utils import timezone

from tests.web.base import DemoCase, words
from vantok.desk.load import PARTS, Desk
from vantok.desk.worked import Worked
from vantok.people.models import Shop, User
from vantok.records.choose.models import Fitting
from vantok.records.garage.models import Customer, Vehicle
from vantok.records.handover.models import Issue, Recall
from vantok.records.jobs.models import Bay, Inspection, Job, ShopStamp
from vantok.records.jobs.stamp import OF_ALL, OF_JOB, OF_MANY, statements
from vantok.records.learnt.models import Lesson
from vantok.records.measure.models import Photo, Reading
from vantok.records.practice.models import Finding, Run
from vantok.records.shelf.models import KitRecord
from vantok.records.weigh.models import LoadItem, LoadState, TrailerItem
from vantok_core.model import JobModel, build_model


class Stamps(DemoCase):
    def stamps(self) -> dict[int, int]:
        return dict(Job.objects.order_by().values_list("pk", "stamp"))

    def test_a_desk_read_anew_takes_over_what_rests_on_the_same_facts(self) -> None:
        """Nothing is solved twice for a page that is shown again with its form's errors."""
        desk = Desk.look(self.job("041").pk)
        model = desk.worked.model
        self.assertIs(desk.own().worked.model, model)

    def test_every_record_a_page_shows_changes_its_job_s_stamp_and_no_other(self) -> None:
        """Changed past every method of the models, each kind of record stamps its own job; names and kits stamp all that show them."""
        job, fitted = self.job("044"), self.job("038")
        Photo.objects.create(job=job, width=1, height=1)
        Inspection.objects.create(job=job, area="tyres", grade="fine")
        Issue.objects.create(job=job, number=1, metric="", us="")
        Recall.objects.create(job=job, key="bolts", words="bolts", due=timezone.localdate())
        bay = Bay.objects.first()
        assert bay is not None
        Job.objects.filter(pk=job.pk).update(bay=bay)
        run = Run.objects.create(job=job, person=User.objects.get(username="jude"), code="V-01", seed=1)
        Finding.objects.create(run=run, stage="weigh", words="said")
        own = {
            "weigh_loadstate": (LoadState.objects.filter(job=job), {"conditions": "dry"}),
            "measure_reading": (Reading.objects.filter(job=job), {"note": "x"}),
            "measure_photo": (Photo.objects.filter(job=job), {"caption": "x"}),
            "handover_issue": (Issue.objects.filter(job=job), {"anyway": "x"}),
            "handover_recall": (Recall.objects.filter(job=job), {"reason": "x"}),
            "jobs_inspection": (Inspection.objects.filter(job=job), {"note": "x"}),
            "practice_run": (Run.objects.filter(pk=run.pk), {"mode": "on"}),
            "practice_finding": (Finding.objects.filter(run=run), {"words": "x"}),
            "weigh_loaditem": (LoadItem.objects.filter(state__job=job), {"name": "x"}),
            "weigh_traileritem": (TrailerItem.objects.filter(state__job=job), {"name": "x"}),
            "choose_fitting": (Fitting.objects.filter(job=fitted), {"done": False}),
            "garage_vehicle": (Vehicle.objects.filter(pk=job.vehicle_id), {"label": "x"}),
            "garage_customer": (Customer.objects.filter(pk=job.vehicle.customer_id), {"name": "x"}),
            "jobs_bay": (Bay.objects.filter(pk=bay.pk), {"fl_m": 0.01}),
            "people_user": (User.objects.filter(username="marit"), {"last_name": "x"}),
            "shelf_kitrecord": (KitRecord.objects.filter(code="FW-M"), {"name": "x"}),
        }
        self.assertEqual(set(own), set(OF_JOB) | set(OF_MANY))
        for table, (records, change) in own.items():
            before = self.stamps()
            self.assertGreater(records.update(**change), 0, table)
            moved = {pk for pk, stamp in self.stamps().items() if stamp != before[pk]}
            expected = (
                set(before)
                if table in ("people_user", "shelf_kitrecord")
                else {fitted.pk if table == "choose_fitting" else job.pk}
            )
            self.assertEqual(moved, expected, table)
        lesson = {"kind": "cause", "key": "sags tired", "value": 0.0, "sigma": 0.0, "at": timezone.now()}
        changes: dict[str, tuple[Callable[[], object], ...]] = {
            "people_shop": (lambda: Shop.objects.update(hour=77.0),),
            "learnt_lesson": (
                lambda: Lesson.objects.create(job=job, **lesson),
                lambda: Lesson.objects.update(off="lead"),
                lambda: Lesson.objects.all().delete(),
            ),
        }
        self.assertEqual(set(changes), set(OF_ALL))
        for table, ways in changes.items():
            for way in ways:
                kept, shop = Desk.look(job.pk), ShopStamp.objects.get().stamp
                self.assertIs(Desk.look(job.pk), kept)
                way()
                self.assertNotEqual(ShopStamp.objects.get().stamp, shop, table)
                self.assertIsNot(Desk.look(job.pk), kept, table)
        before = self.stamps()
        Reading.objects.filter(job=job).first().delete()  # type: ignore[union-attr]
        User.objects.filter(username="marit").update(last_login=None)
        Reading.objects.filter(job=fitted).update(flag="odd")
        Job.objects.filter(pk=fitted.pk).update(verdict="x", told_stamp=1)
        self.assertEqual({pk for pk, stamp in self.stamps().items() if stamp != before[pk]}, {job.pk})

    def test_pages_follow_changes_made_behind_the_program(self) -> None:
        """A page looked at, the database changed by plain SQL, the page looked at again: it shows the new figure."""
        job = self.job("041")
        self.assertIn("884 mm", self.page("measure", job))
        with connection.cursor() as cursor:
            last = "(SELECT max(id) FROM measure_reading WHERE job_id = %s)"
            cursor.execute(f"UPDATE measure_reading SET value_m = 0.777, text = '777' WHERE id = {last}", [job.pk])
        self.assertIn("777 mm", self.page("measure", job))

    def test_a_page_that_is_kept_costs_few_queries(self) -> None:
        """Looked at again, a job's page asks for session, person, stamp and what is the shop's."""
        job = self.job("041")
        self.page("diagnose", job)
        with self.assertNumQueriesAtMost(3):
            self.client.get(reverse("diagnose", args=[job.pk]))

    def test_who_asks_beside_another_waits_for_the_same_answer(self) -> None:
        """Four who ask at once for what nobody has worked out yet get one answer, calibrated once."""
        worked, together = Worked(Desk.look(self.job("041").pk).job), Barrier(4)

        def asked(_: int) -> JobModel | None:
            together.wait()
            return worked.model

        with (
            patch("vantok.desk.worked.build_model", side_effect=build_model) as calibrated,
            ThreadPoolExecutor(4) as four,
        ):
            found = list(four.map(asked, range(4)))
        self.assertEqual(calibrated.call_count, 1)
        self.assertEqual({id(one) for one in found}, {id(worked.model)})
        self.assertIsNotNone(worked.model)

    def test_a_kept_part_carries_each_page_s_own_token(self) -> None:
        """Two people get their own tokens in the same kept part, and each can save with it."""
        job = self.job("044")
        tokens = []
        for name, text in (("marit", "671"), ("jude", "672")):
            client = Client(enforce_csrf_checks=True)
            client.force_login(User.objects.get(username=name), backend="django.contrib.auth.backends.ModelBackend")
            html = client.get(reverse("measure", args=[job.pk])).content.decode()
            found = set(re.findall(r'name="csrfmiddlewaretoken" value="(\w+)"', html))
            self.assertEqual(len(found), 1)
            tokens += found
            seen = self.seen(job, "FL")
            told = {"text": text, "seen": seen, "csrfmiddlewaretoken": found.pop()}
            self.assertIn(f"{text} mm", words(client.post(self.cell(job, "FL"), told, headers={"hx-request": "true"})))
        self.assertNotEqual(*tokens)

    def test_the_triggers_are_there_and_can_be_made_again(self) -> None:
        """After a migrate every trigger stands, and making them again is no error."""
        with connection.cursor() as cursor:
            cursor.execute("SELECT count(*) FROM sqlite_master WHERE type = 'trigger' AND name LIKE 'stamp_%'")
            self.assertEqual(cursor.fetchone()[0], len(statements()))
            for statement in statements():
                cursor.execute(statement)

    def test_a_desk_keeps_so_many_parts_and_no_more(self) -> None:
        """However many ways a page is asked for, of late ones the part is as it was made, and the oldest gives way."""
        desk = Desk.look(self.job("041").pk)
        made = [desk.kept(n, object) for n in range(PARTS + 10)]
        self.assertIs(desk.kept(PARTS + 9, object), made[-1])
        self.assertIsNot(desk.kept(0, object), made[0])
        self.assertLessEqual(len(desk._parts._by_key), PARTS)

    def test_a_busy_database_still_knows_json(self) -> None:
        """A thread whose first look comes while somebody writes (this test's own transaction does) reads jobs as any other, then and later."""

        def first_look() -> tuple[bool, bool]:
            told = connection.settings_dict
            connection.settings_dict = told | {"OPTIONS": told["OPTIONS"] | {"timeout": 0.1}}
            try:
                connection.ensure_connection()
                knows = connection.features.supports_json_field
                with transaction.atomic():
                    return knows, False
            except OperationalError:
                return knows, True
            finally:
                connection.close()

        with ThreadPoolExecutor(1) as pool:
            self.assertEqual(pool.submit(first_look).result(), (True, True))
