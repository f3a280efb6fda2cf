"""What leaves with the customer and what the shop keeps: label, care dates, calendar, recalls, archive, days and bays, patterns, costs."""

from __future__ import annotations

import json
from datetime import timedelta
from io import BytesIO
from typing import Any
from zipfile import ZipFile

from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from django.utils import timezone
from icalendar import Calendar
from PIL import Image

from tests.web.base import DemoCase, pages_of, words
from vantok.board.days import as_shown, planned_hours
from vantok.desk.care import due_now
from vantok.desk.load import Desk
from vantok.desk.patterns import rows_of
from vantok.fields.seen import stamp_of
from vantok.garage.taught import costs
from vantok.people.models import Shop
from vantok.records.choose.models import Fitting
from vantok.records.garage.models import Vehicle
from vantok.records.handover.models import Issue, Recall
from vantok.records.jobs.models import Bay, Booking, Job
from vantok.records.measure.models import Photo
from vantok.records.shelf.models import KitRecord, PatternRecord
from vantok.stages.hand_over.label import square


class HandedOver(DemoCase):
    def hand_over(self, number: str = "038") -> Job:
        job = self.job(number)
        self.client.post(reverse("report", args=[job.pk]), {"action": "hand-over", "anyway": "the customer fetches it"})
        job.refresh_from_db()
        self.assertTrue(job.done)
        return job

    def test_the_report_is_for_its_reader(self) -> None:
        """The customer's page first, each claim with what it rests on; the workshop's behind it; its working on request."""
        job = self.job("039")
        text = self.page("report", job)
        first, behind = text.split("For the workshop")
        for said in (
            "What was wrong, and how it stands",
            "it raises no rating",
            "How to set it for each load",
            "Look at it again",
            "measured",
            "computed",
            "told",
            "felt",
        ):
            self.assertTrue(said in first, said)
        for said in ("Road-test sheet", "Who measured what", "Loads against ratings"):
            self.assertTrue(said in behind, said)
        plain = self.client.get(reverse("report-pdf", args=[job.pk])).content
        worked = self.client.get(reverse("report-pdf", args=[job.pk]), {"working": "1"}).content
        self.assertTrue(plain.startswith(b"%PDF") and len(worked) > len(plain))

    def test_frozen_whatever_changes_later(self) -> None:
        """Vehicle, kit and customer are changed after hand-over: the issue stays as it was; a second hand-over is a second issue."""
        job = self.hand_over()
        before = Issue.objects.get(job=job).metric
        Vehicle.objects.filter(pk=job.vehicle_id).update(label="another name", wheelbase_m=2.9)
        KitRecord.objects.update(offered=False)
        fitting = Fitting.objects.get(job=job)
        Fitting.objects.filter(pk=fitting.pk).update(kit=fitting.kit | {"name": "another kit"})
        self.assertEqual(Issue.objects.get(job=job).metric, before)
        self.assertFalse("another" in self.page("report", job).split("Issue 1")[1])
        self.client.post(reverse("report", args=[job.pk]), {"action": "reopen"})
        self.hand_over()
        self.assertEqual([i.number for i in Issue.objects.filter(job=job)], [1, 2])
        self.assertEqual(Issue.objects.get(job=job, number=1).metric, before)

    def test_care_dates_calendar_and_recalls(self) -> None:
        """Kept at hand-over, in the calendar, answered: done, put off, declined, opened again; what cannot be is refused; answered stays answered."""
        Job.objects.filter(pk=self.job("038").pk).update(odometer_km=50_000.0)
        job = self.hand_over()
        kept = {r.key: r for r in Recall.objects.filter(job=job)}
        today = timezone.localdate()
        self.assertEqual((kept["leak-1"].due, kept["bolts"].due_km), (today + timedelta(days=1), 50_080.0))
        calendar = Calendar.from_ical(self.client.get(reverse("care-ics", args=[job.pk])).content)
        events = {str(e["uid"]): e.decoded("dtstart") for e in calendar.walk("VEVENT")}
        self.assertEqual(events, {f"{job.number}-{r.key}@vantok": r.due for r in kept.values()})
        sheet = self.page("care", job)
        for recall in kept.values():
            self.assertTrue(recall.words.lower() in sheet.lower(), recall.words)
        self.assertTrue(self.client.get(reverse("care-pdf", args=[job.pk])).content.startswith(b"%PDF"))
        self.assertTrue("pressure, next morning" in self.page("board"))

        def answer(key: str, action: str, **told: Any) -> str:
            return words(
                self.client.post(reverse("recalls"), {"recall": kept[key].pk, "action": action} | told, follow=True)
            )

        for told, said in (
            (("bolts", "declined"), "say why it is declined"),
            (("bolts", "later"), "a day ahead"),
            (("follow-up", "done"), "what became of it"),
            (("bolts", "lost"), "none of done"),
        ):
            self.assertTrue(said in answer(*told), said)
        self.assertTrue("a day ahead" in answer("bolts", "later", until=(today - timedelta(days=3)).isoformat()))
        self.assertTrue("write the day like" in answer("bolts", "later", until="next week"))
        self.assertTrue("put off" in answer("leak-1", "later", until=(today + timedelta(days=30)).isoformat()))
        self.assertFalse(kept["leak-1"].pk in due_now().values_list("pk", flat=True))
        self.assertTrue(kept["leak-1"].pk in due_now(today + timedelta(days=30)).values_list("pk", flat=True))
        self.assertFalse(kept["alignment"].pk in due_now().values_list("pk", flat=True))
        kept["leak-1"].refresh_from_db()
        assert kept["follow-up"].due is not None
        for early, on in ((8, False), (7, True)):  # a week ahead it is on the board
            shown = due_now(kept["follow-up"].due - timedelta(days=early)).values_list("key", flat=True)
            self.assertEqual("follow-up" in shown, on, early)
        Job.objects.create(number="2026-901", vehicle=job.vehicle, odometer_km=51_001.0)
        self.assertTrue(kept["alignment"].pk in due_now().values_list("pk", flat=True))
        self.assertTrue("Hoped for:" in words(self.client.get(reverse("recalls"), {"all": "1"})))
        self.assertTrue("noted as declined" in answer("lamps", "declined", reason="does it himself"))
        self.assertTrue("noted as done" in answer("bolts", "done"))
        events = Calendar.from_ical(self.client.get(reverse("care-ics", args=[job.pk])).content).walk("VEVENT")
        self.assertFalse(
            {"bolts", "lamps"} & {str(e["uid"]).split("@")[0].removeprefix(f"{job.number}-") for e in events}
        )
        self.assertTrue("open again" in answer("lamps", "open"))
        self.client.post(reverse("report", args=[job.pk]), {"action": "reopen"})
        self.hand_over()
        self.assertEqual(Recall.objects.get(job=job, key="bolts").state, "done")
        self.sign_in("jude")
        self.assertEqual(
            self.client.post(reverse("recalls"), {"recall": kept["leak-1"].pk, "action": "done"}).status_code, 403
        )

    def test_a_label_for_every_size(self) -> None:
        """One sheet each, in both unit systems, with its square; the short code opens the job; a kit of each family fits on the common size."""
        job = self.job("038")
        for user in ("marit", "tobin"):
            self.sign_in(user)
            for size in ("100x62", "100x150", "62x100", "a4", "huge"):
                pdf = self.client.get(reverse("label-pdf", args=[job.pk]), {"size": size}).content
                self.assertEqual(pages_of(pdf), 1, (user, size))
        page = self.client.get(reverse("label", args=[job.pk])).content.decode()
        self.assertTrue('class="qr"' in page and job.number in page)
        asked = self.client.get(reverse("label", args=[job.pk]), headers={"host": "localhost"}).content.decode()
        own = square(f"{Shop.objects.get().address.rstrip('/')}{reverse('by-number', args=[job.number])}")
        self.assertTrue(own in page and own in asked)  # the shop's own address, whatever the request says
        self.assertRedirects(self.client.get(reverse("by-number", args=[job.number])), reverse("report", args=[job.pk]))
        self.assertEqual(self.client.get(reverse("by-number", args=["none"])).status_code, 404)
        self.assertTrue("Nothing is fitted" in self.page("label", self.job("041")))
        self.assertEqual(self.client.get(reverse("label-pdf", args=[self.job("041").pk])).status_code, 302)
        fitting = Fitting.objects.get(job=job)
        for record in {r.family: r for r in KitRecord.objects.all()}.values():
            fitting.kit, fitting.setting = record.to_core().model_dump(mode="json"), {}
            fitting.save()
            pdf = self.client.get(reverse("label-pdf", args=[job.pk]), {"size": "100x62"}).content
            self.assertEqual(pages_of(pdf), 1, record.family)

    def test_the_customer_s_word_and_the_come_back_teach(self) -> None:
        """A job teaches once, without a name; the customer's word and a come-back count."""
        job = self.hand_over("038")
        kept = PatternRecord.objects.get(job=job)
        self.assertFalse(job.vehicle.customer.name in json.dumps(kept.told))
        self.client.post(reverse("report", args=[job.pk]), {"action": "reopen"})
        self.hand_over("038")
        self.assertEqual(PatternRecord.objects.filter(job=job).count(), 1)
        follow = Recall.objects.get(job=job, key="follow-up")
        self.client.post(
            reverse("recalls"),
            {"recall": follow.pk, "action": "done", "outcome": "worse", "reason": "harder than hoped"},
        )
        self.client.post(reverse("start"), {"vehicle": job.vehicle_id, "came_back": job.number, "warranty": "on"})
        again = Job.objects.get(came_back=job)
        self.assertTrue(again.warranty and "Comes back, under warranty" in self.page("board"))
        self.assertTrue(
            "“1999-001” finds no job"
            in words(self.client.post(reverse("start"), {"vehicle": job.vehicle_id, "came_back": "1999-001"}))
        )
        ((code, kind),) = rows_of()
        taught = rows_of()[code, kind][0]
        self.assertEqual((taught.outcome, taught.came_back), ("worse", True))
        text = self.page("taught")
        self.assertTrue("Ferrywell bellows" in text)
        self.assertFalse(job.vehicle.customer.name in text)

    def test_costs_and_the_fleet(self) -> None:
        """Quoted beside worked, what was not timed said so; the fleet as a file has every vehicle with what is due next."""
        job = self.job("041")
        self.client.post(reverse("quote", args=[job.pk]), {"action": "make"})
        self.assertTrue("not timed" in self.page("taught") and job.number in self.page("taught"))
        begun = next(
            fitting
            for fitting in Fitting.objects.all()
            if any(card.marks and card.open for card in Desk.look(fitting.job_id).cards)
        )
        self.client.post(reverse("quote", args=[begun.job_id]), {"action": "make"})
        (row,) = [one for one in costs() if one["job"].pk == begun.job_id]
        self.assertEqual((row["worked"], row["under_way"], row["more"]), (None, True, None))
        self.assertTrue("not finished" in self.page("taught"))
        handed = self.hand_over()
        file = self.client.get(reverse("fleet-csv")).content.decode("utf-8-sig")
        self.assertEqual(len(file.strip().splitlines()), 1 + Vehicle.objects.count())
        line = next(one for one in file.splitlines() if handed.number in one)
        self.assertTrue((timezone.localdate() + timedelta(days=1)).isoformat() in line)


class Archives(DemoCase):
    def with_photo(self) -> Job:
        job = self.job("038")
        out = BytesIO()
        Image.new("RGB", (40, 30), "grey").save(out, "JPEG")
        reading = job.readings.filter(phase="after").first()
        assert reading is not None
        told = {
            "photo": SimpleUploadedFile("arch.jpg", out.getvalue(), "image/jpeg"),
            "reading": reading.pk,
            "caption": "left arch",
        }
        self.client.post(reverse("photos", args=[job.pk]), told)
        return job

    def put(self, data: bytes, name: str = "job.zip") -> Any:
        return self.client.post(reverse("import"), {"file": SimpleUploadedFile(name, data, "application/zip")})

    def test_there_and_back_equal_to_the_last_digit(self) -> None:
        """Out with photographs and report, in elsewhere: its file the same, its picture on the same reading; the same one twice is refused."""
        job = self.with_photo()
        archive = self.client.get(reverse("archive", args=[job.pk])).content
        with ZipFile(BytesIO(archive)) as found:
            self.assertEqual(set(found.namelist()), {"job.json", "report.pdf", "photographs.json", "photographs/1.jpg"})
            self.assertTrue(found.read("report.pdf").startswith(b"%PDF"))
        again = self.put(archive)
        self.assertTrue("is here already" in words(again))
        was = self.client.get(reverse("job-file", args=[job.pk])).json()
        Job.objects.filter(pk=job.pk).update(number="2026-900")
        self.assertEqual(self.put(archive).status_code, 302)
        new = Job.objects.get(number="2026-038")
        self.assertEqual(self.client.get(reverse("job-file", args=[new.pk])).json(), was)
        photo = Photo.objects.get(job=new)
        assert photo.reading is not None
        self.assertEqual(
            (photo.caption, photo.reading.place), ("left arch", job.readings.filter(phase="after").first().place)
        )  # type: ignore[union-attr]

    def test_what_cannot_be_is_refused_whole(self) -> None:
        """Cut short, a climbing path, no photograph, a list that lies, no job file: in words, and nothing of it is there afterwards."""
        job = self.with_photo()
        archive = self.client.get(reverse("archive", args=[job.pk])).content
        with ZipFile(BytesIO(archive)) as found:
            parts = {name: found.read(name) for name in found.namelist()}
        moved = json.loads(parts["job.json"]) | {"number": "2030-001"}
        good = parts | {"job.json": json.dumps(moved).encode()}

        def packed(files: dict[str, bytes]) -> bytes:
            out = BytesIO()
            with ZipFile(out, "w") as made:
                for name, data in files.items():
                    made.writestr(name, data)
            return out.getvalue()

        whole = packed(good)
        counts = Job.objects.count(), Photo.objects.count()
        for data, said in (
            (whole[: len(whole) // 2], "cut short"),
            (packed(good | {"../../etc/passwd": b"x"}), "leads out of it"),
            (packed(good | {"C:\\x": b"x"}), "leads out of it"),
            (packed(good | {"photographs/1.jpg": b"no picture"}), "no photograph"),
            (packed({k: v for k, v in good.items() if k != "job.json"}), "no job.json"),
            (packed({k: v for k, v in good.items() if k != "photographs.json"}), "it is missing"),
            (packed(good | {"photographs.json": b"[1]"}), "does not read"),
            (packed(good | {"photographs/2.jpg": good["photographs/1.jpg"]}), "other photographs"),
            (packed(good | {"job.json": b"\xff\xfe"}), "not text"),
            (packed(good | {"job.json": b"{}"}), "format"),
        ):
            answer = self.put(data)
            self.assertEqual(answer.status_code, 422, said)
            self.assertTrue(
                "Nothing was imported" in words(answer) and said in words(answer), (said, words(answer)[-400:])
            )
            self.assertEqual((Job.objects.count(), Photo.objects.count()), counts, said)
        self.assertEqual(self.put(whole).status_code, 302)


class Days(DemoCase):
    def test_a_day_is_planned(self) -> None:
        """Booked, moved, taken off; two in one bay and one person in two are said; what cannot be is refused; a trainee looks on."""
        Booking.objects.all().delete()  # the demo has its own
        bay, other = Bay.objects.all()[:2]
        job, second = self.job("041"), self.job("046")
        day = timezone.localdate().isoformat()

        def book(**told: Any) -> str:
            return words(
                self.client.post(
                    reverse("day"),
                    {"job": job.number, "bay": bay.pk, "day": day, "start": "8", "hours": "2", "who": "2"} | told,
                    follow=True,
                )
            )

        book()
        row = Booking.objects.get()
        self.assertEqual((row.start, row.hours, row.bay), (8.0, 2.0, bay))
        self.assertTrue("2026-041" in self.page("day"))
        self.assertTrue(f"has {job.number} in those hours too" in book(job=second.number, start="9:30"))
        self.assertTrue(f"is on {job.number}" in book(job="-043", bay=other.pk, start="9"))
        self.assertTrue("changed since this page was shown" in book(booking=row.pk, bay=other.pk, start="13.1"))
        shown = {"shown": stamp_of(as_shown(row))}
        book(booking=row.pk, bay=other.pk, start="13.1", hours="1,5", **shown)
        row.refresh_from_db()
        self.assertEqual((row.start, row.hours, row.bay), (13.0, 1.5, other))
        for told, said in (
            ({"start": "noon"}, "write hours like"),
            ({"start": "3"}, "the day goes from"),
            ({"hours": "0"}, "some length"),
            ({"bay": "99"}, "it takes a job"),
            ({"job": "2026"}, "it takes a job"),
            ({"day": "soon"}, "it takes a job"),
            ({"booking": "999"}, "not there any more"),
            ({"hours": "1e400"}, "no hour of a day"),
            ({"start": "17", "hours": "6"}, "would go past 19"),
            ({"start": "13.5"}, "in one place at a time"),
        ):
            self.assertTrue(said in book(**told), said)
        book(job=second.number, day=(timezone.localdate() + timedelta(days=1)).isoformat(), hours="")
        self.assertEqual(Booking.objects.latest("pk").hours, planned_hours(second), "as its quote or its kits have it")
        count = Booking.objects.count()
        self.client.post(reverse("day"), {"action": "off", "booking": row.pk, "day": day})
        self.assertEqual(Booking.objects.count(), count - 1)
        Job.objects.filter(pk=job.pk).update(done=True)
        self.assertTrue("it takes a job that is in the shop" in book())
        self.assertEqual(self.client.get(reverse("day"), {"day": "nonsense"}).status_code, 200)
        self.sign_in("jude")
        self.assertEqual(self.client.post(reverse("day"), {"job": second.pk}).status_code, 403)
        self.assertFalse("Book it" in self.page("day"))
