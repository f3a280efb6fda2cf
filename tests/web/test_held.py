"""What nobody gets past: a change put back, a gate, a kit that does not fit, a recorded fault, a stale page, an old cookie, a file that bursts."""

from __future__ import annotations

import io
import json
import zipfile
from unittest.mock import patch

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client, TestCase, TransactionTestCase
from django.urls import reverse
from PIL import Image

from tests.web.base import FAST, DemoCase, words
from tests.web.test_measure import picture
from vantok.board.history import changes
from vantok.desk.load import Desk
from vantok.people.models import Role, Shop, Taken, User
from vantok.records.choose.models import Fitting
from vantok.records.garage.models import Vehicle
from vantok.records.jobs.models import Bay, Inspection, Job
from vantok.records.measure.models import Photo, Reading
from vantok.records.shelf.models import KitRecord
from vantok.records.weigh.models import LoadState
from vantok.stages.fit.marks import stamp_of
from vantok_core.base.names import WALK

FW_M = "FW-M"


class PuttingBack(DemoCase):
    def back(self, job: Job, path: str) -> tuple[int, str]:
        """Put a change back, by what it would undo; with the right withheld from the page, straight by its address."""
        one = next(c for c in changes(job) if path in f"{c.field}/{c.path} {c.what}")
        told = {"kind": one.kind, "id": one.id, "field": one.field, "path": one.path}
        answer = self.client.post(reverse("history", args=[job.pk]), told, follow=True)
        return answer.status_code, words(answer)

    def test_a_trainee_puts_back_no_fault_no_rating_no_leak(self) -> None:
        """What the right to change it is asked for is asked for here too: by the key that changes, and denied for what is not listed."""
        job = self.job("039")
        sheet = reverse("inspect", args=[job.pk])
        self.tell(sheet, {"grade-coils": "fine"})
        self.tell(sheet, {"grade-coils": "fault"})
        self.tell(reverse("tyres", args=[job.pk]), {"front_wheel_kg": "900"})
        self.tell(reverse("tyres", args=[job.pk]), {"front_wheel_kg": "950"})
        self.tell(reverse("clear", args=[job.pk]), {"found-lines-bump": "touches"})
        self.sign_in("jude")
        for path in ("grade", "beyond/front_wheel_kg", "proving/clearances"):
            with self.subTest(path=path):
                self.assertEqual(self.back(job, path)[0], 403)
        self.assertEqual(Inspection.objects.get(job=job, area="coils").grade, "fault")
        self.assertEqual(Vehicle.objects.get(pk=job.vehicle_id).beyond["front_wheel_kg"], 950.0)
        page = self.page("history", job)
        self.assertNotIn("front wheel rating back to", page)
        for field in ("done", "card", "number", "proving"):
            told = {"kind": "job" if field != "card" else "fitting", "id": 1, "field": field}
            self.assertIn(self.client.post(reverse("history", args=[job.pk]), told).status_code, (403, 404))

    def test_proving_goes_back_an_entry_at_a_time(self) -> None:
        """The history names what each row would undo; one entry put back leaves the others."""
        job = self.job("039")
        before = Desk.look(job.pk).job.proving
        for place in ("lines-bump", "lines-droop"):
            self.tell(reverse("clear", args=[job.pk]), {f"found-{place}": "touches"})
        self.assertIn("takes off clearance: after, lines, droop, touches", self.page("history", job))
        status, said = self.back(job, "proving/clearances")
        self.assertEqual((status, "Taken off: clearance" in said), (200, True))
        now = Desk.look(job.pk).job.proving
        self.assertEqual([c.where for c in now.clearances], [*(c.where for c in before.clearances), "bump"])
        self.assertEqual((now.leaks, now.drives), (before.leaks, before.drives))


class Misfits(DemoCase):
    def put_on(self, job: Job, code: str) -> Fitting:
        """Put a kit on a job as a file would: without asking whether it fits."""
        return Fitting.objects.create(job=job, kit=KitRecord.objects.get(code=code).data, setting={})

    def test_a_kit_of_another_variant_is_neither_fitted_nor_set(self) -> None:
        """Every step of its card and the word “set” are refused with the reason; nobody overrules it, not the lead either."""
        job = self.job("040")
        fitting = self.put_on(job, FW_M)
        page = self.page("fit", job)
        self.assertIn(
            "It does not fit: variant by gross mass. This variant is for 2500 kg to 4200 kg; its gross rating is 7200 kg.",
            page,
        )
        self.assertIn("Nobody overrules this", page)
        step = Desk.look(job.pk).cards[0].card.steps[0]
        told = {
            "key": step.key,
            "action": "tick",
            "there": [str(n) for n in range(1, 30)],
            "card": stamp_of(fitting.pk, step),
        }
        self.assertIn("does not fit", words(self.client.post(reverse("fit", args=[job.pk]), told)))
        forced = self.client.post(
            reverse("fit", args=[job.pk]), {"action": "overrule-fit", "check": "variant", "reason": "it will do"}
        )
        self.assertIn("nobody overrules this one", words(forced))
        pressures = {"left_pressure_pa": "3 bar", "right_pressure_pa": "3 bar", "done": "on"}
        self.assertIn("does not fit", words(self.tell(reverse("set", args=[job.pk]), pressures)))
        fitting.refresh_from_db()
        self.assertEqual((fitting.done, fitting.card, fitting.overruled), (False, [], {}))

    def test_the_lead_overrules_what_is_no_safety_fault_and_the_report_keeps_it(self) -> None:
        """A model year that is not listed: the technician is held, the lead goes on with a reason, which stands in report and file."""
        job = self.job("041")
        kit = KitRecord.objects.get(code=FW_M)
        kit.data = kit.data | {"years": [1990, 1995]}
        kit.save()
        Vehicle.objects.filter(pk=job.vehicle_id).update(year=2019)
        self.sign_in("tobin")
        answer = self.client.post(reverse("choose", args=[job.pk]), {"kit": FW_M, "because": "same frame"}, follow=True)
        self.assertIn("does not fit: The vehicle is of 2019", words(answer))
        self.assertFalse(Fitting.objects.filter(job=job).exists())
        self.put_on(job, FW_M)
        refused = self.client.post(
            reverse("fit", args=[job.pk]), {"action": "overrule-fit", "check": "years", "reason": "same frame"}
        )
        self.assertEqual(refused.status_code, 403)
        self.sign_in("marit")
        self.tell(
            reverse("fit", args=[job.pk]), {"action": "overrule-fit", "check": "years", "reason": "same frame rail"}
        )
        self.assertIn("Next: Lay out the box", self.page("fit", job))
        self.assertIn(
            "Fitted although a check of its fit failed: same frame rail (Marit Solheim-Vane)", self.page("report", job)
        )
        file = self.client.get(reverse("job-file", args=[job.pk])).json()
        self.assertEqual(list(file["fitting"]["overruled"]), ["years"])


class Cards(DemoCase):
    def test_a_tick_of_another_card_is_told_not_applied(self) -> None:
        """Ticks that waited for one kit never land on another's card; what two people say of a step differently is told; a tick taken back stays so."""
        job = self.job("041")
        self.client.post(reverse("choose", args=[job.pk]), {"kit": FW_M})
        old = Fitting.objects.get(job=job)
        step = Desk.look(job.pk).cards[0].card.steps[0]
        box = {"key": step.key, "action": "tick", "there": [str(n) for n in range(1, 30)], "once": "box-1"}
        address = reverse("fit", args=[job.pk])
        told = box | {"card": stamp_of(old.pk, step)}
        self.client.post(address, told)
        self.client.post(address, {"key": step.key, "action": "back", "card": stamp_of(old.pk, step)})
        self.client.post(address, told)
        self.assertEqual(Desk.look(job.pk).cards[0].marks, {})
        self.client.post(reverse("choose", args=[job.pk]), {"kit": "CH-4", "instead_of": old.pk})
        answer = self.client.post(address, told | {"once": "box-2"})
        self.assertIn("This was for another card", words(answer))
        self.assertEqual(Desk.look(job.pk).cards[0].marks, {})
        new = Fitting.objects.get(job=job)
        now = Desk.look(job.pk).cards[0].card.steps[0]
        self.client.post(address, box | {"card": stamp_of(new.pk, now), "once": "box-3"})
        other = self.client.post(
            address, box | {"card": stamp_of(new.pk, now), "note": "one bolt short", "once": "box-4"}
        )
        self.assertIn("left “Lay out the box", words(other))

    def test_a_gate_is_passed_point_by_point(self) -> None:
        """One point said many times, or a word for all of them, passes nothing."""
        job = self.job("046")
        fitting = Fitting.objects.get(job=job)
        card = Desk.look(job.pk).cards[0]
        gate = next(s for s in card.open if s.gate)
        told = {"key": gate.key, "action": "tick", "card": stamp_of(fitting.pk, gate)}
        for so in ({"so": ["1"] * len(gate.asks)}, {"all": "1"}, {"so": ["0", "77"], "all": "1"}):
            self.assertEqual(self.client.post(reverse("fit", args=[job.pk]), told | so).status_code, 422)
        self.assertNotIn(gate.key, Desk.look(job.pk).cards[0].marks)


class Readings(DemoCase):
    def put(self, job: Job, text: str, phase: str, **more: str) -> str:
        answer = self.client.post(
            self.cell(job, "FL", phase=phase), {"text": text, "seen": "0"} | more, headers={"hx-request": "true"}
        )
        return words(answer)

    def test_no_after_without_a_kit_and_no_before_after_the_work(self) -> None:
        """A height with the kit takes a kit; once work has begun nobody but the lead, with a reason, adds to the baseline."""
        bare, begun = self.job("041"), self.job("038")
        self.assertIn("There is no kit on this job", self.put(bare, "880", "after"))
        self.assertFalse(Reading.objects.filter(job=bare, phase="after").exists())
        Reading.objects.filter(job=begun, phase="before", place="FL").delete()
        self.assertIn("What is read now is not how it came", self.put(begun, "880", "before"))
        self.sign_in("tobin")
        self.assertIn("The lead can enter it", self.put(begun, "880", "before", reason="I say so"))
        self.assertFalse(Reading.objects.filter(job=begun, phase="before", place="FL").exists())

    def test_a_typo_corrected_is_no_repeat(self) -> None:
        """Figures typed over one another drift nowhere; the same place read again, said to be, does."""
        job = self.job("044")
        cell = self.cell(job, "RL")
        for n, text in enumerate(("669", "672", "675")):
            seen = self.seen(job, "RL")
            self.client.post(
                cell, {"text": text, "seen": seen}, headers={"hx-request": "true", "x-vantok-token": f"a{n}"}
            )
        self.assertEqual(Reading.objects.filter(job=job, place="RL").last().unsettled, "")  # type: ignore[union-attr]
        for n, text in enumerate(("678", "681", "684")):
            seen = self.seen(job, "RL")
            self.client.post(
                cell,
                {"text": text, "seen": seen, "again": "1"},
                headers={"hx-request": "true", "x-vantok-token": f"b{n}"},
            )
        self.assertEqual(Reading.objects.filter(job=job, place="RL").last().unsettled, "drift")  # type: ignore[union-attr]

    def test_ones_own_figure_from_another_page_is_no_conflict(self) -> None:
        """The same person, the same figure, an older page: it stands, and nothing is asked."""
        job = self.job("044")
        told = {"text": "670", "seen": self.seen(job, "FR")}
        for token in ("p", "q"):
            answer = self.client.post(
                self.cell(job, "FR"), told, headers={"hx-request": "true", "x-vantok-token": token}
            )
            self.assertNotIn("meanwhile", words(answer))


class Once(DemoCase):
    def test_what_makes_something_is_taken_once(self) -> None:
        """Load item, photograph, new job, booking, leak test: the same post twice makes one; the second one is led where the first was."""
        job = self.job("041")
        before = Job.objects.count()
        page = self.client.get(reverse("start")).content.decode()
        once = page.split('name="once" value="')[-1].split('"')[0]
        told = {"customer": "Peat Works", "label": "Peat lorry", "body": "pickup", "once": once}
        first, second = (self.client.post(reverse("start"), told) for _ in "ab")
        self.assertEqual((Job.objects.count(), first["Location"]), (before + 1, second["Location"]))
        for _ in "ab":
            self.client.post(reverse("photos", args=[job.pk]), {"photo": picture((9, 9)), "once": "photo-1"})
        self.assertEqual(Photo.objects.filter(job=job).count(), 1)
        other = self.client.post(reverse("start"), told | {"label": "Another lorry"})
        self.assertEqual((other.status_code, Job.objects.count()), (302, before + 2))

    def test_a_refused_post_may_come_again_under_its_name(self) -> None:
        """Nothing stored, nothing taken: corrected and sent again with the same name it is stored."""
        told = {"customer": "", "label": "Peat lorry", "body": "pickup", "once": "start-1"}
        self.assertEqual(self.client.post(reverse("start"), told).status_code, 422)
        self.assertEqual(self.client.post(reverse("start"), told | {"customer": "Peat Works"}).status_code, 302)


@FAST
class Loose(TransactionTestCase):
    def test_a_page_that_writes_outside_a_transaction_stands_or_falls_whole(self) -> None:
        """Two writes and a history row are one with the post's name; where the page fails afterwards none of them stands, and the same post may come again."""
        lead = User.objects.create_user("ada", password="a-long-password", role=Role.LEAD)
        bay = Bay.objects.create(name="1")
        self.client.force_login(lead)
        self.client.raise_request_exception = False
        turned = {f"{way}_{corner}": "700" for way in ("in", "out") for corner in WALK} | {
            "bay": bay.pk,
            "once": "floor-1",
        }
        with (
            patch("vantok.stages.measure.bays.messages.success", side_effect=RuntimeError("gone")),
            self.assertLogs("django.request", "ERROR"),
        ):
            self.assertEqual(self.client.post(reverse("bays"), turned).status_code, 500)
        bay.refresh_from_db()
        self.assertEqual((bay.measured_at, Taken.objects.count()), (None, 0))
        for _ in "12":
            self.assertEqual(self.client.post(reverse("bays"), turned).status_code, 302)
        bay.refresh_from_db()
        self.assertIsNotNone(bay.measured_at)
        self.assertEqual((Bay.history.filter(id=bay.pk).count(), Taken.objects.count()), (2, 1))


class People(DemoCase):
    def test_an_old_cookie_is_dead_once_its_person_left(self) -> None:
        """Left and returned, a person signs in anew: what was signed in before stays out."""
        tobin, cookie = User.objects.get(username="tobin"), Client()
        cookie.force_login(tobin, backend="django.contrib.auth.backends.ModelBackend")
        self.assertEqual(cookie.get("/").status_code, 200)
        for action in ("leave", "return"):
            self.client.post(reverse("people"), {"action": action, "person": tobin.pk})
        self.assertEqual(cookie.get("/").status_code, 302)

    def test_pages_of_others_are_looked_at_with_a_sentence(self) -> None:
        """A trainee by address: the shop, its causes, a kit's form, a new one: read-only, and said."""
        self.sign_in("jude")
        for address in (
            reverse("shop"),
            reverse("causes"),
            reverse("kit-edit", args=[FW_M]),
            reverse("kit-new"),
            reverse("import"),
        ):
            self.assertIn("you can look", words(self.client.get(address)), address)


@FAST
class AtTheMachine(TestCase):
    def test_a_superuser_is_a_lead_and_no_second_shop_begins(self) -> None:
        """Made at the machine, they open everything; the first run is gone as soon as there is anybody."""
        person = User.objects.create_superuser("root", password="a-long-enough-one")
        self.client.force_login(person, backend="django.contrib.auth.backends.ModelBackend")
        self.assertEqual(self.client.get(reverse("people")).status_code, 200)
        self.assertEqual(self.client.get(reverse("first-run")).status_code, 302)
        self.assertFalse(Shop.objects.exists())
        told = {
            "name": "Quay Springs",
            "units": "metric",
            "currency": "EUR",
            "hour": "80",
            "tax": "0",
            "day_ends": "17:00",
        }
        self.assertEqual(self.client.post(reverse("shop"), told).status_code, 302)
        self.assertEqual(Shop.objects.get().name, "Quay Springs")

    def test_one_is_made_a_lead_again(self) -> None:
        """`run.py lead NAME` restores one who left; a name that is not there is said with those that are."""
        from vantok.people.lead import main

        person = User.objects.create_user("tove", password="x", role="trainee", is_active=False)
        with (
            patch("sys.stdin.isatty", return_value=False),
            patch.dict("os.environ", {"VANTOK_PASSWORD": "ferry-landing-9"}),
        ):
            self.assertEqual((main(["nobody"]), main(["tove"])), (2, 0))
        person.refresh_from_db()
        self.assertEqual(
            (person.role, person.is_active, person.check_password("ferry-landing-9")), ("lead", True, True)
        )


class Files(DemoCase):
    def sent(self, data: bytes, name: str = "job.zip") -> tuple[int, str]:
        answer = self.client.post(reverse("import"), {"file": SimpleUploadedFile(name, data)}, follow=True)
        return answer.status_code, words(answer)

    def packed(self, **files: bytes) -> bytes:
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
            for name, data in files.items():
                archive.writestr(name.replace("__", "/").replace("_dot_", "."), data)
        return out.getvalue()

    def test_damaged_and_bursting_archives(self) -> None:
        """Bytes turned round, a megabyte that says it is hundreds, a list that is deeper than the door: a sentence each, and nothing is taken in."""
        job = self.client.get(reverse("job-file", args=[self.job("041").pk])).content
        count = Job.objects.count()
        good = bytearray(self.packed(job_dot_json=job))
        good[200:400] = bytes(b ^ 0x5A for b in good[200:400])
        self.assertIn("cut short, or no archive", self.sent(bytes(good))[1])
        bomb = self.packed(
            job_dot_json=job, photographs_dot_json=b'{"photographs": []}', photographs__1_dot_jpg=b"\0" * 60_000_000
        )
        self.assertIn("more than its", self.sent(bomb)[1])
        deep = self.packed(job_dot_json=job, photographs_dot_json=b"[" * 4000)
        self.assertIn("nested deeper", self.sent(deep)[1])
        self.assertEqual(Job.objects.count(), count)

    def test_marks_numbers_and_ends_of_lines_of_other_programs(self) -> None:
        """A byte order mark, a number with a stroke in it, lines that end in CR alone."""
        told = json.loads(self.client.get(reverse("job-file", args=[self.job("041").pk])).content)
        told["number"] = "2026/77 b"
        status, said = self.sent(b"\xef\xbb\xbf" + json.dumps(told).encode(), "job.json")
        self.assertEqual((status, "Imported as" in said), (200, True))
        made = Job.objects.latest("pk")
        self.assertEqual(self.client.get(reverse("label", args=[made.pk])).status_code, 200)
        Job.objects.filter(pk=made.pk).update(number="2026/77 b")
        self.assertEqual(self.client.get(reverse("label", args=[made.pk])).status_code, 200)
        self.assertRedirects(
            self.client.get(reverse("by-number", args=["2026/77 b"])), reverse("report", args=[made.pk])
        )
        kits = self.client.get(reverse("shelf-file")).content
        answer = self.client.post(
            reverse("shelf"), {"file": SimpleUploadedFile("k.json", b"\xef\xbb\xbf" + kits)}, follow=True
        )
        self.assertIn("0 new on the shelf", words(answer))
        table = (
            self.client.get(reverse("readings-csv", args=[made.pk]))
            .content.decode()
            .replace("\r\n", "\n")
            .replace("\n", "\r")
        )
        answer = self.client.post(
            reverse("readings-csv", args=[made.pk]), {"file": SimpleUploadedFile("r.csv", table.encode())}
        )
        self.assertLess(answer.status_code, 500)

    def test_kits_that_cannot_be(self) -> None:
        """A price past all money, a code that is a page of the shelf: refused at the place."""
        kit = dict(KitRecord.objects.get(code=FW_M).data)
        for changed, said in (
            ({"price": 1e308}, "price"),
            ({"code": "new"}, "page of the shelf"),
            ({"hours": 5000}, "hours"),
        ):
            file = json.dumps({"format": "vantok-kits", "version": 1, "kits": [kit | changed]}).encode()
            answer = self.client.post(reverse("shelf"), {"file": SimpleUploadedFile("k.json", file)})
            self.assertEqual((answer.status_code, said in words(answer)), (422, True), changed)

    def test_a_picture_whose_camera_wrote_nonsense(self) -> None:
        """Damaged EXIF is a sentence, or a picture kept without it: never a failure."""
        out = io.BytesIO()
        Image.new("RGB", (40, 30)).save(
            out, "JPEG", exif=b"Exif\0\0MM\0*\0\0\0\x08\0\x01\x01\x12\0\x05\xff\xff\xff\xff\xff\xff\xff\xff"
        )
        for data in (out.getvalue(), out.getvalue()[:60] + b"\xff" * 30 + out.getvalue()[90:]):
            answer = self.client.post(
                reverse("photos", args=[self.job("041").pk]), {"photo": SimpleUploadedFile("a.jpg", data)}
            )
            self.assertEqual(answer.status_code, 302)


class Bounds(DemoCase):
    def test_no_address_stops_the_shop(self) -> None:
        """Counts, spans and tables past what is declared are said at their field at once; figures of a hundred and fifty digits too."""
        self.assertIn(
            "40 is the most here", words(self.client.get(reverse("bench", args=["valves"]), {"clicks": "999"}))
        )
        for asked in (
            {"clicks": "99999999"},
            {"clicks": "9" * 150},
            {"bump": ", ".join("0.1: 100" for _ in range(500))},
        ):
            answer = self.client.get(reverse("bench", args=["valves"]), asked)
            self.assertEqual(answer.status_code, 200)
        for day in ("9999-12-31", "0001-01-01"):
            self.assertEqual(self.client.get(reverse("day"), {"day": day}).status_code, 200)

    def test_a_request_has_a_limit_of_work(self) -> None:
        """Whatever it is that takes too long, it ends with a sentence."""
        job = self.job("041")
        with self.settings(MOST_WORK=0.0):
            answer = self.client.get(reverse("trial", args=[self.job("038").pk]), {"left_pressure_pa": "300000"})
        self.assertEqual((answer.status_code, "more work than one page may" in words(answer)), (503, True))
        self.assertEqual(self.client.get(reverse("choose", args=[job.pk])).status_code, 200)

    def test_one_mistaken_rating_points_at_itself(self) -> None:
        """7.5 lb on the plate is said at its field, and so is one that stands there already."""
        job = self.job("041")
        answer = self.tell(reverse("vehicle", args=[job.pk]), {"gross_kg": "7.5 lb"})
        self.assertIn("That is 3 kg: no plate says so little", words(answer))
        Vehicle.objects.filter(pk=job.vehicle_id).update(gross_kg=3.4)
        for name in ("vehicle", "limits", "diagnose", "choose"):
            self.assertIn("less than any plate says", self.page(name, job))

    def test_words_of_the_programs_own(self) -> None:
        """No form's own word stands in what a person reads: a new job, a person, a kit, each with a fault."""
        shown = [
            self.client.post(reverse("start"), {"vehicle": "nonsense", "body": "hovercraft"}),
            self.client.post(
                reverse("people"), {"username": "a b/c", "password": "x", "role": "lead", "units": "metric"}
            ),
            self.client.post(
                reverse("kit-new") + "?family=air_spring", {"code": "a b", "gross_min_kg": "9", "gross_max_kg": "3"}
            ),
        ]
        for answer in shown:
            self.assertEqual(answer.status_code, 422)
            for word in ("Value error", "slug", "Input should", "_kg", "tuple"):
                self.assertNotIn(word, words(answer), word)


class TwoWindows(DemoCase):
    def test_the_condition_sheet_comes_back_whole(self) -> None:
        """One field changed leaves the others; nobody is said to have written nothing."""
        job = self.job("041")
        page = reverse("condition", args=[job.pk])
        self.tell(page, {"people": "2", "FL": "4.5 bar", "odometer_km": "84 000 km"})
        form = {
            "people": "3",
            "FL": "4.50",
            "odometer_km": "84000",
            "ground": "",
            "fuel": "",
            "water": "",
            "kelvin": "",
        }
        answer = self.tell(page, form)
        self.assertEqual(answer.status_code, 302, words(answer)[-500:])
        told = LoadState.objects.filter(job=job).first().condition  # type: ignore[union-attr]
        self.assertEqual((told["people"], round(told["tyres_pa"]["FL"]), told["odometer_km"]), (3, 450_000, 84_000.0))

    def test_a_quote_is_accepted_at_the_price_that_was_shown(self) -> None:
        """Changed in another window, it is shown anew and accepted by nobody; answers of the report merge, or say so."""
        job = self.job("041")
        page = reverse("quote", args=[job.pk])
        self.tell(page, {"action": "make"})
        html = self.client.get(page).content.decode()
        shown = html.split('name="shown" value="')[1].split('"')[0]
        self.tell(page, {"action": "save", "rate": "99"})
        answer = self.client.post(page, {"action": "accepted", "shown": shown})
        self.assertEqual(answer.status_code, 409)
        self.assertIn("changed since this page was shown", words(answer))
        self.assertEqual(Job.objects.get(pk=job.pk).quote.get("answer", ""), "")

    def test_a_setting_of_a_kit_that_is_gone(self) -> None:
        """A stale page of one kit never sets another under its name."""
        job = self.job("041")
        self.client.post(reverse("choose", args=[job.pk]), {"kit": FW_M})
        old = Fitting.objects.get(job=job)
        self.client.post(reverse("choose", args=[job.pk]), {"kit": "CH-4", "instead_of": old.pk})
        told = {"part": old.pk, "left_hole_count": "2", "right_hole_count": "2"}
        answer = self.client.post(reverse("set", args=[job.pk]), told)
        self.assertEqual((answer.status_code, "The kit on the job changed" in words(answer)), (409, True))
