"""Nothing stored is lost or broken: merges of two windows, a typed 0, history by field, job files, kits, photographs, hand-over."""

import json
from io import BytesIO
from typing import Any
from unittest.mock import patch

from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from django.utils import timezone
from PIL import Image
from tools.forms import read_page

from tests.web.base import DemoCase, words
from tests.web.test_measure import picture
from vantok.board.history import changes
from vantok.desk.load import Desk
from vantok.records.choose.models import Fitting
from vantok.records.garage.models import Vehicle
from vantok.records.handover.models import Issue
from vantok.records.jobs.models import Inspection, Job
from vantok.records.measure.models import Photo, Reading
from vantok.records.weigh.models import LoadItem, LoadState
from vantok.urls import PAGES


class TrustCase(DemoCase):
    def form(self, address: str, has: str) -> dict[str, str]:
        """Return what a browser would send of the form on a page that has a field, its button left out."""
        forms = read_page(address, self.client.get(address).content.decode()).forms
        return next(told for told in (dict(f.shown) for f in forms) if has in told)

    def opens(self, job: Job) -> None:
        """Every page of a job opens."""
        for name in PAGES:
            self.assertEqual(self.client.get(reverse(name, args=[job.pk])).status_code, 200, name)
        for name in ("report-pdf", "job-file", "readings-csv"):
            self.assertEqual(self.client.get(reverse(name, args=[job.pk])).status_code, 200, name)


class TwoWindows(TrustCase):
    def test_two_windows_on_one_form_never_lose_a_figure(self) -> None:
        """On each form: what one window changed stands when the other saves something else; the same field is a conflict that is said."""
        job = self.job("042")
        loaded = LoadState.objects.get(job=job, key="loaded")
        item = LoadItem.objects.filter(state=loaded).first()
        assert item is not None
        fitted = self.job("038")
        rows: list[tuple[str, str, str, str, str]] = [
            (reverse("choose", args=[job.pk]), "target_reason", "asked for", "share", "60"),
            (reverse("vehicle", args=[job.pk]), "wheelbase_m", "3670", "track_rear_m", "1730"),
            (reverse("listen", args=[job.pk]), "later", "a rack", "notes", "rust"),
            (reverse("inspect", args=[job.pk]), "note-tyres", "worn", "note-coils", "clean"),
            (reverse("scales", args=[job.pk]) + "?state=loaded", "front_kg", "1500", "rear_kg", "2000"),
            (reverse("trailer", args=[job.pk]) + "?state=loaded", "trailer_kg", "700", "tongue_kg", "60"),
            (reverse("trailer", args=[job.pk]) + "?state=loaded", "hitch-hitch_kg", "110", "hitch-towed_kg", "2100"),
            (
                reverse("weigh", args=[job.pk]) + f"?state=loaded&item={item.pk}",
                "item-mass_kg",
                "333",
                "item-station_m",
                "3700",
            ),
            (reverse("weigh", args=[job.pk]) + "?state=loaded", "conditions", "dry", "name", "Touring"),
            (reverse("set", args=[fitted.pk]), "left_pressure_pa", "3.1", "right_pressure_pa", "3.2"),
            (reverse("inspect", args=[fitted.pk]), "after_note-tyres", "new", "after_note-coils", "same"),
            (reverse("listen", args=[job.pk]), "when-leans", "uphill", "when-rolls", "in wind"),
            (reverse("tyres", args=[job.pk]), "front_wheel_kg", "900", "rear_wheel_kg", "950"),
            (reverse("tyres", args=[job.pk]), "a-aligned-camber_fl", "-0.5", "a-aligned-caster_fr", "2.5"),
            (reverse("assumptions", args=[job.pk]), "source.tyre-rear", "its maker", "source.unsprung-rear", "a scale"),
        ]
        for address, mine, my_value, theirs, their_value in rows:
            with self.subTest(address=address, field=mine):
                one, two = self.form(address, mine), self.form(address, mine)
                if "inspect" in address:
                    one["grade-tyres"] = two["grade-coils"] = two["grade-tyres"] = "watch"
                self.assertEqual(self.client.post(address, two | {theirs: their_value}).status_code, 302)
                self.assertEqual(self.client.post(address, one | {mine: my_value}).status_code, 302)
                now = self.form(address, mine)
                self.assertEqual(
                    (now[mine].removesuffix(" kg"), now[theirs]), (self.shown(now[mine], my_value), now[theirs])
                )
                self.assertIn(their_value.rstrip("0").rstrip("."), now[theirs])
                clash = self.client.post(address, two | {mine: self.other(my_value)})
                self.assertEqual(clash.status_code, 409, words(clash))
                self.assertIn("here meanwhile. Save again to put yours in its place.", words(clash))

    @staticmethod
    def other(typed: str) -> str:
        return f"{float(typed) * 1.04:.4g}" if typed[0].isdigit() else f"not {typed}"

    @staticmethod
    def shown(now: str, typed: str) -> str:
        return now if now.startswith(typed.rstrip("0").rstrip(".")) else f"{typed} (was shown as {now})"

    def test_an_item_moved_in_two_windows(self) -> None:
        """Put down where somebody else has moved it meanwhile, an item stays where it stands, and it is said."""
        item = LoadItem.objects.filter(state__job=self.job("042"), state__key="loaded").first()
        assert item is not None
        address = reverse("place", args=[item.state.job_id]) + "?state=loaded"
        seen = f"{item.station_m:.2f} {item.lateral_m:.2f}"
        for station, status in (("3.100", 200), ("2.900", 403)):
            told = {"item": item.pk, "station": station, "lateral": "0.000", "seen": seen}
            answer = self.client.post(address, told, headers={"x-vantok-token": f"t{station}"})
            self.assertEqual(answer.status_code, status)
        self.assertIn("was%20moved%20meanwhile", answer["X-Vantok-Said"])
        self.assertEqual(LoadItem.objects.get(pk=item.pk).station_m, 3.1)

    def test_nothing_changed_nothing_stamped(self) -> None:
        """Scales saved again as shown leave the ticket's time, the figures and the history as they were."""
        state = LoadState.objects.get(job=self.job("038"), key="loaded")
        LoadState.objects.filter(pk=state.pk).update(
            weighed_at="2026-01-05T10:20:33Z", changed_at="2026-01-06T10:00:00Z", front_kg=2480.123456
        )
        address = reverse("scales", args=[state.job_id]) + "?state=loaded"
        before = LoadState.objects.filter(pk=state.pk).values().get()
        count = LoadState.history.count()
        self.assertEqual(self.client.post(address, self.form(address, "front_kg")).status_code, 302)
        self.assertEqual(LoadState.objects.filter(pk=state.pk).values().get(), before)
        self.assertEqual(LoadState.history.count(), count)


class Noughts(TrustCase):
    def test_a_typed_0_locks_nothing(self) -> None:
        """A rating, a spacing or a load of 0 is refused with its reason and stores nothing; an overhang of 0 is one; all pages open."""
        job = self.job("041")
        state = LoadState.objects.get(job=job, key="loaded")
        for name, told in (
            ("trailer", {"state": state.pk, "trailer_axle_rating_kg": "0", "trailer_tyres_kg": "0"}),
            ("coach", {"state": state.pk, "spacing": "0", "drive": "0", "tag": "0"}),
            ("vehicle", {"gross_kg": "0"}),
            ("vehicle", {"wheelbase_m": "0"}),
            ("vehicle", {"track_rear_m": "0"}),
        ):
            answer = self.client.post(reverse(name, args=[job.pk]), told)
            self.assertEqual(answer.status_code, 422, (name, told))
            self.assertIn('class="error"', answer.content.decode())
            self.opens(job)
        self.assertEqual(self.client.post(reverse("vehicle", args=[job.pk]), {"rear_overhang_m": "0"}).status_code, 302)
        self.assertEqual(Vehicle.objects.get(pk=job.vehicle_id).rear_overhang_m, 0.0)
        self.opens(job)
        self.page("board")

    def test_whatever_stands_in_the_database_the_pages_open(self) -> None:
        """Figures that cannot be, put in behind the program, are said with the page that mends them; readings are still taken."""
        job = self.job("041")
        LoadState.objects.filter(job=job).update(trailer_axle_rating_kg=0.0, trailer_tyres_kg=0.0)
        Vehicle.objects.filter(pk=job.vehicle_id).update(
            track_rear_m=1e-300, rear_spring="hover", beyond={"rear_group": {"stations": [3, 3], "loads": [0, 0]}}
        )
        self.opens(job)
        text = self.page("diagnose", job)
        self.assertIn("To mend: vehicle, track rear", text)
        self.assertIn("counts as unknown", text)
        answer = self.client.post(
            self.cell(job, "FL"), {"text": "880", "seen": self.seen(job, "FL")}, headers={"hx-request": "true"}
        )
        self.assertEqual(Reading.objects.latest("pk").text, "880")
        self.assertEqual(answer.status_code, 200)
        self.assertIn("limit", Job.objects.get(pk=job.pk).tone)

    def test_a_reading_is_stored_whatever_the_model_does(self) -> None:
        """With a core that fails in ways nobody foresaw, the reading is stored, the pages open and say so, and the board has its sentence."""
        job = self.job("041")
        with (
            patch("vantok.desk.worked.build_model", side_effect=ZeroDivisionError),
            self.assertLogs("vantok.desk.worked", "ERROR"),
        ):
            self.client.post(
                self.cell(job, "FL"), {"text": "879", "seen": self.seen(job, "FL")}, headers={"hx-request": "true"}
            )
            self.opens(job)
            self.assertIn("cannot be worked out from the figures as entered", self.page("diagnose", job))
        self.assertEqual(Reading.objects.latest("pk").text, "879")
        self.assertIn("cannot be worked out", Job.objects.get(pk=job.pk).verdict)
        LoadItem.objects.filter(state__job=job).update(mass_kg=331.0)
        self.assertIn("the rear sits", self.page("board"))

    def test_readings_that_broke_pages_break_none(self) -> None:
        """Bracket 720 mm, a named point at 50 mm, pressed 745 and lifted 75, a raised two as an id: each answered, and every page opens."""
        job = self.job("041")
        self.client.post(
            reverse("measure", args=[job.pk]),
            {"action": "add-point", "name": "step", "station": "2000", "lateral": "0"},
        )
        for datum, place, text in (
            ("bracket", "RL", "720"),
            ("ground_point", "step", "50"),
            ("ground_arch", "FL", "745 to 75"),
            ("ground_arch", "FR", "²"),
            ("stop_gap", "RL", "0"),
            ("pad_to_pad", "RR", "9 mm"),
            ("ground_arch", "RL", "5 m"),
        ):
            answer = self.client.post(
                self.cell(job, place, datum=datum), {"text": text, "seen": "²"}, headers={"hx-request": "true"}
            )
            self.assertLess(answer.status_code, 500, (datum, text))
            self.opens(job)
            for asked in ("ground_point", "bracket", "stop_gap", "pad_to_pad"):
                self.page("measure", job, datum=asked)
                self.page("walk", job, datum=asked)


class PuttingBack(TrustCase):
    def back(self, job: Job, what: str, nth: int = 0) -> str:
        found = [c for c in changes(job) if c.kind and c.what.startswith(what)]
        change = found[nth]
        told = {"kind": change.kind, "id": change.id, "field": change.field}
        return words(self.client.post(reverse("history", args=[job.pk]), told, follow=True))

    def test_one_field_goes_back_and_no_other(self) -> None:
        """The wheelbase put back leaves the hitch and towed ratings that were changed since."""
        job = self.job("041")
        address = reverse("vehicle", args=[job.pk])
        self.client.post(address, self.form(address, "wheelbase_m") | {"wheelbase_m": "3600"})
        self.client.post(address, self.form(address, "wheelbase_m") | {"hitch_kg": "300", "towed_kg": "2500"})
        self.assertIn("Put back: wheelbase", self.back(job, "vehicle: wheelbase"))
        vehicle = Vehicle.objects.get(pk=job.vehicle_id)
        self.assertEqual((vehicle.wheelbase_m, vehicle.hitch_kg, vehicle.towed_kg), (3.55, 300, 2500))

    def test_a_removed_state_comes_back_with_what_was_on_it(self) -> None:
        """A state removed with its items is put back whole; an item of a state that is gone says what to do first."""
        job = self.job("041")
        Reading.objects.filter(job=job, state__key="loaded").delete()
        state = LoadState.objects.get(job=job, key="loaded")
        count = state.items.count()
        self.client.post(reverse("weigh", args=[job.pk]), {"action": "remove-state", "state": state.pk})
        self.assertFalse(LoadState.objects.filter(pk=state.pk).exists())
        self.assertIn("its state was removed too", self.back(job, "item baskets and ropes"))
        self.assertIn("Put back: Boat on", self.back(job, "state Boat on"))
        self.assertEqual(LoadItem.objects.filter(state_id=state.pk).count(), count)
        self.opens(job)

    def test_a_second_kit_asks_and_the_first_can_come_back(self) -> None:
        """Taking another kit over one that is set and checked is asked about first; the replaced one comes back with its setting."""
        job = self.job("038")
        before = Fitting.objects.get(job=job)
        kit = next(
            c for c in Desk.look(job.pk).shortlist.choices if c.kit and not c.out and c.key != before.kit["code"]
        )  # type: ignore[union-attr]
        asked = self.client.post(reverse("choose", args=[job.pk]), {"kit": kit.key})
        self.assertEqual(asked.status_code, 409)
        self.assertIn("is on the job, set and checked", words(asked))
        self.assertEqual(Fitting.objects.get(job=job).pk, before.pk)
        self.client.post(reverse("choose", args=[job.pk]), {"kit": kit.key, "instead_of": before.pk})
        self.assertEqual(Fitting.objects.get(job=job).kit["code"], kit.key)
        self.back(job, "kit and setting")
        now = Fitting.objects.get(job=job)
        self.assertEqual((now.pk, now.kit, now.setting, now.done), (before.pk, before.kit, before.setting, before.done))


class JobFiles(TrustCase):
    def test_out_and_in_again_is_equal_to_the_last_digit(self) -> None:
        """Words, who read what and when, target state and beam, pressed and lifted: the second file equals the first."""
        for number in ("038", "039", "041", "045"):
            job = self.job(number)
            Job.objects.filter(pk=job.pk).update(
                target_state="loaded", beam_m=0.013, answers={"sags": "better"}, later="a lift", bay=None
            )
            Reading.objects.filter(job=job).update(
                floor_m=0.0007, value_m=0.1 + 0.7371, friction_m=0.0031, instrument="laser"
            )
            first = self.client.get(reverse("job-file", args=[job.pk])).content.decode()
            upload = SimpleUploadedFile("job.json", first.encode(), content_type="application/json")
            self.assertEqual(self.client.post(reverse("import"), {"file": upload}).status_code, 302, number)
            copy = Job.objects.latest("pk")
            self.opens(copy)
            second = self.client.get(reverse("job-file", args=[copy.pk])).content.decode()
            one, two = json.loads(first), json.loads(second)
            one.pop("number"), two.pop("number")
            self.maxDiff = None
            self.assertEqual(two, one, number)
        readers = {r.reader for r in Reading.objects.filter(job=copy)}
        self.assertLessEqual(readers, {"Marit Solheim-Vane", "Tobin Ashgrove"})

    def test_every_sheet_of_a_job_goes_out_and_comes_in(self) -> None:
        """When a complaint is felt, where a part is and how it was after, tread, alignment, phone, sources, what was meant, own figures, a gain said."""
        job = self.job("041")
        job.heard = {"sags": {"speed_mps": 22.2, "road": "ruts", "load": "hitched", "when": "after an hour"}}
        job.sheets = {
            "tread": [{"place": "FL", "inner_m": 0.0031, "middle_m": 0.005, "outer_m": 0.0062}],
            "aligned": {"camber_fl": -0.4, "state": "empty"},
            "aligned_after": {"camber_fl": 0.1},
            "levels": [{"state": "empty", "phase": "before", "pitch": 0.011, "lean": -0.002, "sigma": 0.0026}],
            "pushes": [
                {
                    "state": "loaded",
                    "phase": "before",
                    "axle": "rear",
                    "frequency": 1.5,
                    "frequency_sigma": 0.1,
                    "damping": 0.2,
                    "damping_sigma": 0.02,
                }
            ],
            "sources": {"tyre-rear": "its maker"},
            "meant": {"share-of": "loaded"},
        }
        job.save()
        job.vehicle.beyond |= {"own": {"tyre-rear": 3.1e5}, "front_overhang_m": 0.91, "rear_wheel_kg": 950.0}
        job.vehicle.save()
        Inspection.objects.filter(job=job, area="dampers").update(where=["RL"], after="fine", after_note="renewed")
        Reading.objects.filter(job=job, place="RL").update(told_gain_m=-0.04)
        text = self.client.get(reverse("job-file", args=[job.pk])).content.decode()
        for name in (
            "speed_mps",
            "after_note",
            "tread",
            "aligned_after",
            "levels",
            "pushes",
            "sources",
            "meant",
            "own",
            "told_gain_m",
            "front_overhang_m",
        ):
            self.assertIn(f'"{name}"', text)
        self.client.post(reverse("import"), {"file": SimpleUploadedFile("job.json", text.encode())})
        copy = Job.objects.latest("pk")
        self.opens(copy)
        one, two = (
            json.loads(t) for t in (text, self.client.get(reverse("job-file", args=[copy.pk])).content.decode())
        )
        one.pop("number"), two.pop("number")
        self.maxDiff = None
        self.assertEqual(two, one)

    def test_files_that_are_too_much_are_refused_before_anything_is_locked(self) -> None:
        """A job file of 6 MB, a CSV that is no text, two empty states, a place that is none: said, and nothing taken in."""
        before = Job.objects.count(), Reading.objects.count()
        big = SimpleUploadedFile("job.json", b" " * 6_000_000)
        self.assertIn("5 megabytes", words(self.client.post(reverse("import"), {"file": big})))
        vehicle = self.job("041").vehicle
        head = "job,state,empty,datum,place,value_m,at\n"
        for rows, said in (
            ("V1,Empty,1,ground_arch,FL,0.8,2024-01-01\nV1,Bare,1,ground_arch,FL,0.8,2024-01-01\n", "two empty states"),
            ("V1,Empty,1,ground_arch,XX,0.8,2024-01-01\n", "not at “XX”"),
        ):
            file = SimpleUploadedFile("h.csv", (head + rows).encode())
            self.assertIn(
                said, words(self.client.post(reverse("vehicle-page", args=[vehicle.pk]), {"file": file}, follow=True))
            )
        self.assertEqual((Job.objects.count(), Reading.objects.count()), before)


class Photographs(TrustCase):
    def send(self, data: bytes, name: str = "x.jpg") -> str:
        return words(
            self.client.post(
                reverse("photos", args=[self.job("041").pk]), {"photo": SimpleUploadedFile(name, data)}, follow=True
            )
        )

    def test_only_pictures_that_are_read_in_this_process(self) -> None:
        """PostScript, however it is called, GIF and a broken file are refused; PNG and WebP are kept as JPEG."""
        eps = b"%!PS-Adobe-3.0 EPSF-3.0\n%%BoundingBox: 0 0 10 10\n%%EndComments\n{} loop\n"
        gif = BytesIO()
        Image.new("RGB", (9, 9)).save(gif, "GIF")
        for data in (eps, gif.getvalue(), b"\xff\xd8\xff\xe0 broken", b""):
            self.assertIn("was not kept", self.send(data), data[:12])
        self.assertEqual(Photo.objects.count(), 0)
        for kind in ("PNG", "WEBP"):
            out = BytesIO()
            Image.new("RGB", (3000, 20), "red").save(out, kind)
            self.assertIn("Photograph kept", self.send(out.getvalue()))
        self.assertEqual({(p.width, p.height) for p in Photo.objects.all()}, {(1600, 11)})

    def test_too_many_pixels_are_refused_before_they_are_unpacked(self) -> None:
        """A small file that would unpack to 79 megapixels is refused."""
        out = BytesIO()
        Image.new("1", (9000, 8800)).save(out, "PNG")
        self.assertIn("too many pixels", self.send(out.getvalue()))

    def test_a_photograph_whose_file_is_gone_breaks_nothing(self) -> None:
        """Its address says so, the report and its PDF say so and are made."""
        self.send(picture((40, 30)).read())
        photo = Photo.objects.get()
        photo.file.storage.delete(photo.file.name)
        gone = self.client.get(reverse("photo", args=[photo.pk]))
        self.assertEqual(gone.status_code, 404)
        self.assertIn("file of this photograph is gone", words(gone))
        self.assertIn("file of this photograph is gone", self.page("report", photo.job))
        self.assertTrue(self.client.get(reverse("report-pdf", args=[photo.job_id])).content.startswith(b"%PDF"))


class HandingOver(TrustCase):
    def test_open_points_stand_in_the_way_and_the_report_is_frozen(self) -> None:
        """What is open is listed; without a reason nothing is handed over; with one the report stays as it was whatever changes later."""
        job = self.job("039")
        text = self.page("report", job)
        for said in (
            "is not read with the kit on",
            "outside ±",
            "Fit check unanswered",
            "Nobody has said what became of the complaint",
        ):
            self.assertIn(said, text)
        address = reverse("report", args=[job.pk])
        self.assertEqual(self.client.post(address, {"action": "hand-over"}).status_code, 403)
        self.assertFalse(Job.objects.get(pk=job.pk).done)
        self.client.post(address, {"action": "hand-over", "anyway": "the customer fetches it tonight"})
        frozen = self.page("report", job)
        self.assertIn("Handed over anyway by Marit Solheim-Vane, because: the customer fetches it tonight", frozen)
        Vehicle.objects.filter(pk=job.vehicle_id).update(label="Something else entirely", gross_kg=1.0)
        again = self.page("report", job)
        self.assertEqual(
            again[again.index("opened ") :].replace("Something else entirely", ""),
            frozen[frozen.index("opened ") :],
        )
        self.assertTrue(self.client.get(reverse("report-pdf", args=[job.pk])).content.startswith(b"%PDF"))
        self.client.post(address, {"action": "reopen"})
        self.client.post(address, {"action": "hand-over", "anyway": "again"})
        self.assertEqual([i.number for i in Issue.objects.filter(job=job)], [1, 2])
        self.assertIn("tonight", self.page("report", job, issue=1))

    def test_a_job_handed_over_does_not_change(self) -> None:
        """Nothing on a closed job is stored by anybody, until the lead takes it back."""
        job = self.job("041")
        Job.objects.filter(pk=job.pk).update(done=True)
        count = Reading.objects.count()
        answer = self.client.post(
            self.cell(job, "FL", "empty"),
            {"text": "850", "seen": self.seen(job, "FL", "empty")},
            headers={"x-vantok-token": "t1"},
        )
        self.assertEqual(answer.status_code, 403)
        self.assertIn("handed%20over", answer["X-Vantok-Said"])
        for name, told in (
            ("listen", {"later": "x"}),
            ("vehicle", {"wheelbase_m": "3000"}),
            ("inspect", {"grade-tyres": "fault"}),
        ):
            self.assertEqual(self.client.post(reverse(name, args=[job.pk]), told).status_code, 403, name)
        self.assertEqual(
            (Reading.objects.count(), Inspection.objects.filter(job=job, area="tyres").count()), (count, 0)
        )


class Baseline(TrustCase):
    def put(self, text: str, **more: Any) -> Any:
        job = self.job("038")
        told = {"text": text, "seen": self.seen(job, "RL", "empty")} | more
        return self.client.post(self.cell(job, "RL", "empty"), told, headers={"hx-request": "true"})

    def test_it_stands_once_work_began(self) -> None:
        """A technician cannot change it; the lead can, with a reason, and the report shows both figures and the reason."""
        self.sign_in("tobin")
        answer = self.put("38")
        self.assertIn("The lead can change it, with a reason", words(answer))
        self.sign_in("marit")
        self.assertEqual(self.put("960")["X-Vantok-Refused"], "locked")
        self.assertNotIn("960", Reading.objects.latest("pk").text)
        self.put("960", reason="the tape stood on the lip's seam")
        text = self.page("report", self.job("038"))
        self.assertIn("Baseline changed after work began", text)
        self.assertRegex(text, r"968 \(.*\), then 960 \(.*\), because the tape stood on the lip's seam")

    def test_which_reading_stands_follows_the_order_of_entry(self) -> None:
        """A clock set back does not make an earlier reading stand."""
        job = self.job("041")
        answer = self.client.post(
            self.cell(job, "FL"), {"text": "901", "seen": self.seen(job, "FL")}, headers={"hx-request": "true"}
        )
        self.assertEqual(answer.status_code, 200)
        Reading.objects.filter(text="901").update(at=timezone.now().replace(year=2001))
        self.assertIn("901 mm", self.page("measure", job))
        found = Desk.look(job.pk).job.read("loaded", "FL", "ground_arch")
        assert found is not None
        self.assertEqual(found.value_m, 0.901)
