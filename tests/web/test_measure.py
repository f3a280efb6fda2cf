"""Measuring by what its pages say: floors, named points, pressed and lifted, photographs, files, what others write, history."""

import json
from io import BytesIO
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from PIL import Image

from tests.web.base import DemoCase, words
from vantok.desk.load import Desk
from vantok.records.jobs.models import Bay, Job
from vantok.records.measure.models import Photo, Reading
from vantok.records.weigh.models import LoadState
from vantok.stages.measure.photos import LONGEST


def picture(size: tuple[int, int] = (2400, 1200), *, exif: bool = True) -> SimpleUploadedFile:
    """Return a photograph as a camera writes it: on its side, with the place it was taken at."""
    image, out = Image.new("RGB", size, "tan"), BytesIO()
    told = Image.Exif()
    if exif:
        told[0x0112] = 6  # turn it a quarter to the right
        told.get_ifd(0x8825)[1] = "N"
    image.save(out, "JPEG", exif=told)
    return SimpleUploadedFile("IMG_0001.jpg", out.getvalue(), "image/jpeg")


class MeasureCase(DemoCase):
    def put(self, job: Job, place: str, text: str, **more: Any) -> str:
        where = {k: more.pop(k) for k in ("state", "phase", "datum") if k in more}
        url = self.cell(job, place, **where)
        last = Reading.objects.filter(
            job=job,
            place=place,
            state__key=where.get("state", "loaded"),
            datum=where.get("datum", "ground_arch"),
            phase=where.get("phase", "before"),
        ).last()
        told = {"text": text, "seen": last.pk if last else 0} | more
        return words(self.client.post(url, told, headers={"hx-request": "true"}))

    def core(self, job: Job) -> Any:
        return Desk.open(job.pk).job


class Datums(MeasureCase):
    def test_named_points_are_made_read_and_kept(self) -> None:
        """A point is added, read in the sheet, expected in the loaded state, and not removed once it has readings."""
        job = self.job("041")
        url = f"{reverse('measure', args=[job.pk])}?datum=ground_point"
        self.client.post(url, {"action": "add-point", "name": "Rear bumper", "station": "4600", "lateral": ""})
        self.assertIn("Rear bumper : 4600 mm behind the front axle", words(self.client.get(url)))
        said = words(self.client.post(url, {"action": "add-point", "name": "rear bumper", "station": "4 m"}))
        self.assertIn("there is a point of that name already", said)
        self.assertIn("620 mm", self.put(job, "rear-bumper", "620", state="empty", datum="ground_point"))
        sheet = words(self.client.get(url))
        self.assertRegex(sheet, r"Boat on.*expected ± \d+ mm")
        self.client.post(url, {"action": "remove-point", "point": "rear-bumper"})
        self.assertEqual(len(Job.objects.get(pk=job.pk).vehicle.points), 1)
        out = json.loads(self.client.get(reverse("job-file", args=[job.pk])).content)
        self.assertEqual(out["vehicle"]["points"][0]["key"], "rear-bumper")

    def test_a_height_on_the_other_datum_is_derived_and_said_to_be(self) -> None:
        """With both datums read empty and the ground read loaded, the hub's height is shown as derived, not as read."""
        job = self.job("041")
        self.put(job, "RL", "520", state="empty", datum="hub_arch")
        url = f"{reverse('measure', args=[job.pk])}?datum=hub_arch"
        self.assertRegex(words(self.client.get(url)), r"derived 4\d\d mm")
        self.assertFalse(Reading.objects.filter(job=job, state__key="loaded", datum="hub_arch").exists())

    def test_a_stop_that_is_touched_is_told_by_its_lengths(self) -> None:
        """52 of 60 free is pressed by 8 mm, in inches too; longer than free, three lengths and other datums are refused in words."""
        job = self.job("041")
        job.never_empty = True
        job.save()
        for place, text in (("RL", "52 of 60"), ("RR", "2 in of 2 3/8 in")):
            self.assertNotIn("does not read", self.put(job, place, text, state="empty", datum="stop_gap"))
        read = {p: self.core(job).read("empty", p, "stop_gap").value_m for p in ("RL", "RR")}
        self.assertAlmostEqual(read["RL"], -0.008)
        self.assertAlmostEqual(read["RR"], -0.009525)
        self.assertRegex(
            self.page("diagnose", job), r"The rear bump stop is touching and carries about \d+ % of the axle"
        )
        self.assertIn("no longer than it is free", self.put(job, "RL", "64 of 60", state="empty", datum="stop_gap"))
        self.assertIn("more than two lengths", self.put(job, "RL", "50 of 52 of 60", state="empty", datum="stop_gap"))
        self.assertIn("does not read", self.put(job, "RL", "52 of 60"))

    def test_pressed_and_lifted_are_one_height_with_its_friction(self) -> None:
        """`880 to 888` is 884 with 4 mm of friction, in the cell, the findings and the job file; three lengths are refused."""
        job = self.job("041")
        self.assertIn("884 mm ± 4 mm friction", self.put(job, "RL", "880 to 888"))
        self.assertIn("The rear springs hold by friction: ± 4 mm", self.page("diagnose", job))
        self.assertAlmostEqual(self.core(job).read("loaded", "RL", "ground_arch").friction_m, 0.004)
        self.assertIn("more than two lengths", self.put(job, "RL", "880 to 888 to 890"))
        self.sign_in("tobin")
        self.assertIn("34 3/4 in ± 1/8 in friction", self.put(job, "RL", "34 5/8 to 34 7/8"))

    def test_a_note_and_the_instrument_stay_with_the_reading(self) -> None:
        """What was said beside a reading is in the walk, the report and the file; an unknown instrument is not taken."""
        job = self.job("041")
        self.put(job, "RL", "884", note="mud on the arch lip", instrument="laser")
        self.assertIn("mud on the arch lip", self.page("report", job))
        self.assertEqual(self.core(job).read("loaded", "RL", "ground_arch").instrument, "laser")
        self.put(job, "RL", "885", instrument="crystal ball")
        self.assertEqual(self.core(job).read("loaded", "RL", "ground_arch").instrument, "")


class Floors(MeasureCase):
    def test_a_floor_is_measured_once_and_taken_off(self) -> None:
        """Reading a vehicle both ways round gives the bay's floor; from then on it is taken off, and turned with the vehicle."""
        bay = Bay.objects.get(name="Bay 2")
        self.assertNotIn("0 mm", self.page("bays"))  # nothing measured is no level floor
        self.client.post(
            reverse("measure", args=[self.job("044").pk]), {"action": "bay", "bay": bay.pk, "facing": "in"}
        )
        self.assertIn("its floor is still to measure, and nothing is taken off", self.page("measure", self.job("044")))
        told = {f"in_{c}": v for c, v in (("FL", "906"), ("FR", "900"), ("RL", "900"), ("RR", "894"))} | {
            f"out_{c}": "900" for c in ("FR", "RL")
        }
        response = self.client.post(
            reverse("bays"), {"bay": bay.pk} | told | {"out_FL": "894", "out_RR": "906"}, follow=True
        )
        self.assertIn("floor measured. The pairs that tell the same differ by 0 mm at most", words(response))
        bay.refresh_from_db()
        self.assertAlmostEqual(bay.fl_m, 0.006)
        self.assertAlmostEqual(bay.rr_m, -0.006)
        job = self.job("044")
        self.client.post(reverse("measure", args=[job.pk]), {"action": "bay", "bay": bay.pk, "facing": "in"})
        self.assertIn("671 mm level 665 mm", self.put(job, "FL", "671"))
        self.client.post(reverse("measure", args=[job.pk]), {"action": "bay", "bay": bay.pk, "facing": "out"})
        self.assertIn("671 mm level 677 mm", self.put(job, "FL", "671"))
        self.assertIn("the floor is taken off", self.page("measure", job))
        self.assertAlmostEqual(self.core(job).read("loaded", "FL", "ground_arch").value_m, 0.677)

    def test_nonsense_floors_are_refused(self) -> None:
        """A missing corner and a step of a floor are said; a trainee may look but not measure."""
        bay = Bay.objects.get(name="Bay 2")
        told = {f"{way}_{c}": "900" for way in ("in", "out") for c in ("FL", "FR", "RL", "RR")}
        self.assertIn(
            "no workshop floor is",
            words(self.client.post(reverse("bays"), {"bay": bay.pk} | told | {"in_FL": "1600"})),
        )
        self.assertEqual(self.client.post(reverse("bays"), {"bay": bay.pk} | told | {"in_FL": "high"}).status_code, 422)
        self.sign_in("jude")
        self.assertEqual(self.client.post(reverse("bays"), {"name": "Mine"}).status_code, 403)


class Preparing(MeasureCase):
    def test_the_list_comes_before_the_first_reading(self) -> None:
        """A job without readings asks first; answered, the walk begins, and the bay is set with it."""
        job = self.job("045")
        self.assertIn("Before the first reading", self.page("walk", job))
        self.client.post(
            reverse("walk", args=[job.pk]),
            {"action": "prepare", "done": ["level", "tyres"], "bay": Bay.objects.first().pk},  # type: ignore[union-attr]
        )
        self.assertNotIn("Before the first reading", self.page("walk", job))
        self.assertIn("Before the first reading", self.page("walk", job, prepare="1"))
        job.refresh_from_db()
        self.assertEqual((job.prepared, str(job.bay)), (["level", "tyres"], "Bay 1, by the slip"))

    def test_no_kit_without_a_baseline(self) -> None:
        """With no empty reading, Choose says so loudly and takes no kit, until it is said why none can be had; the report tells it."""
        job = self.job("041")
        Reading.objects.filter(job=job, state__key="empty", datum="ground_arch").delete()
        self.assertIn("The empty vehicle is not read yet. Read it before any work starts", self.page("choose", job))
        answer = self.client.post(reverse("choose", args=[job.pk]), {"kit": "FW-M"}, follow=True)
        self.assertIn("Read the empty vehicle first", words(answer))
        self.client.post(reverse("choose", args=[job.pk]), {"action": "no-baseline", "reason": "the body is never off"})
        self.assertNotIn("No empty baseline", self.page("choose", job))
        self.client.post(reverse("choose", args=[job.pk]), {"kit": "FW-M"})
        self.assertTrue(hasattr(Job.objects.get(pk=job.pk), "fitting"))
        self.assertIn("No empty baseline: the body is never off", self.page("report", job))

    def test_units_switch_by_one_touch(self) -> None:
        """The switch turns one's own units and goes back to the same stop; an address elsewhere is not gone to."""
        walk = reverse("walk", args=[self.job("044").pk])
        answer = self.client.post(reverse("units"), {"back": walk})
        self.assertEqual(answer["Location"], walk)
        self.assertIn("in → mm", self.page("walk", self.job("044")))
        self.assertEqual(self.client.post(reverse("units"), {"back": "https://elsewhere.invalid/"})["Location"], "/")


class Together(MeasureCase):
    def test_what_others_wrote_comes_with_drawing_and_sentence(self) -> None:
        """Asked what is new since the last reading seen: nothing, then exactly the cell that somebody else wrote."""
        job = self.job("044")
        seen = Reading.objects.latest("pk").pk
        url = f"{reverse('since', args=[job.pk])}?phase=before&datum=ground_arch&after="
        self.assertEqual(self.client.get(f"{url}{seen}").status_code, 204)
        self.put(job, "RL", "636")
        fresh = self.client.get(f"{url}{seen}")
        self.assertEqual(fresh.content.decode().count("data-cell"), 1)
        self.assertContains(fresh, 'hx-swap-oob="true"')
        self.assertIn("636 mm", words(fresh))
        self.assertEqual(self.client.get(f"{url}{Reading.objects.latest('pk').pk}").status_code, 204)
        self.assertEqual(self.client.get(f"{url}nonsense").status_code, 404)


class Photographs(MeasureCase):
    def test_a_photograph_is_kept_upright_small_and_without_its_place(self) -> None:
        """Taken with a reading, it is turned upright, made smaller, stripped, shown with the reading and in both reports; taken off, it can be put back."""
        job = self.job("041")
        reading = Reading.objects.filter(job=job).first()
        assert reading is not None
        back = reverse("walk", args=[job.pk])
        sent = {"photo": picture(), "reading": reading.pk, "caption": "left arch", "back": back}
        answer = self.client.post(reverse("photos", args=[job.pk]), sent)
        self.assertEqual(answer["Location"], back)
        photo = Photo.objects.get()
        self.assertEqual((photo.width, photo.height, photo.reading), (LONGEST // 2, LONGEST, reading))
        kept = self.client.get(reverse("photo", args=[photo.pk]))
        data = b"".join(kept.streaming_content)  # type: ignore[attr-defined]
        with Image.open(BytesIO(data)) as image:
            self.assertEqual((image.format, dict(image.getexif())), ("JPEG", {}))
        self.assertIn("private", kept["Cache-Control"])
        self.assertIn("left arch", self.page("report", job))
        pdf = self.client.get(reverse("report-pdf", args=[job.pk]))
        self.assertTrue(pdf.content.startswith(b"%PDF"))
        self.assertIn(b"/DCTDecode", pdf.content)
        self.client.post(reverse("photo", args=[photo.pk]), {"back": back})
        self.assertNotIn("left arch", self.page("report", job))
        history = self.client.get(reverse("history", args=[job.pk])).content.decode()
        self.assertIn("photograph left arch: taken off", history)
        first = Photo.history.filter(id=photo.pk).earliest("history_id")
        self.client.post(reverse("history", args=[job.pk]), {"kind": "photo", "id": first.history_id, "field": "gone"})
        self.page("board")  # takes the message away
        self.assertIn("left arch", self.page("report", job))

    def test_of_an_inspection_area(self) -> None:
        """A photograph of a cracked leaf stands on the inspection sheet under its area, and in the report with its words."""
        job = self.job("045")
        self.client.post(
            reverse("photos", args=[job.pk]),
            {"photo": picture((40, 30)), "area": "leaf_cracks", "caption": "third leaf"},
        )
        self.assertIn("third leaf", self.page("inspect", job))
        self.assertIn("leaves: cracks, shifted centre bolt", self.page("report", job))

    def test_of_the_plate_and_what_the_census_found(self) -> None:
        """The plate's photograph stands by the ratings; what was found of a thing is stored with its note, told with it, and not told of nothing."""
        job = self.job("041")
        told = {"photo": picture((40, 30)), "area": "plate", "back": reverse("vehicle", args=[job.pk])}
        page = words(self.client.post(reverse("photos", args=[job.pk]), told, follow=True))
        self.assertIn("The ratings plate", page)
        self.assertEqual(Photo.objects.get().area, "plate")
        census = {"action": "equipment", "stops": "perished", "stops-note": "rear left, crumbled {half}"}
        page = words(self.client.post(reverse("vehicle", args=[job.pk]), census | {"bags-note": "behind the axle"}))
        self.assertIn("Say what was found, or take the note away", page)
        self.client.post(reverse("vehicle", args=[job.pk]), census)
        kept = Job.objects.get(pk=job.pk).vehicle.equipment
        self.assertEqual(kept, [{"kind": "stops", "fitted": "perished", "note": "rear left, crumbled {half}"}])
        self.assertIn("The bump stops are perished (rear left, crumbled {half}).", self.page("diagnose", job))

    def test_what_is_no_picture_is_refused(self) -> None:
        """Text with a picture's name, nothing at all, and a stranger's address to go back to."""
        job = self.job("041")
        for sent in (
            {"photo": SimpleUploadedFile("x.jpg", b"<script>")},
            {},
            {"photo": SimpleUploadedFile("x.jpg", picture().read()[:300])},
        ):
            said = words(
                self.client.post(reverse("photos", args=[job.pk]), sent | {"back": "//elsewhere.invalid"}, follow=True)
            )
            self.assertIn("The photograph was not kept", said)
        self.assertFalse(Photo.objects.exists())


class Files(MeasureCase):
    def send(self, job: Job, text: str) -> str:
        file = SimpleUploadedFile("readings.csv", text.encode())
        return words(self.client.post(reverse("readings-csv", args=[job.pk]), {"file": file}, follow=True))

    def test_readings_go_out_and_come_in_once(self) -> None:
        """A job's readings, taken out and in again, change nothing; with one changed, one is taken in, with its own time."""
        job = self.job("041")
        out = self.client.get(reverse("readings-csv", args=[job.pk])).content.decode()
        count = Reading.objects.count()
        self.assertIn("Every reading of the file stands there already", self.send(job, out))
        self.assertEqual(Reading.objects.count(), count)
        row = "state,datum,place,value_m,at\nBoat on,ground_arch,RL,0.871,2026-11-01T08:00+00:00\n"
        self.assertIn("1 readings taken in", self.send(job, row))
        self.assertEqual(Reading.objects.latest("pk").at.day, 1)

    def test_a_faulty_file_is_refused_with_its_places(self) -> None:
        """A height no tape shows, an unknown datum, state or place, a stray column: named by line, and nothing is taken in."""
        job = self.job("041")
        count = Reading.objects.count()
        text = "state,datum,place,value_m\nBoat on,ground_arch,RL,high\nBoat on,ground_arch,RL,12\nBoat on,sideways,RL,0.9\n"
        said = self.send(job, text)
        for place in ("line 2, value_m", "line 3, value_m", "line 4, datum"):
            self.assertIn(place, said)
        self.assertIn(
            "line 2, state: the job has no state “Moonlight”",
            self.send(job, "state,datum,place,value_m\nMoonlight,ground_arch,RL,0.9\n"),
        )
        self.assertIn("line 2, place", self.send(job, "state,datum,place,value_m\nEmpty,pad_to_pad,FL,0.2\n"))
        self.assertIn("there is no column “datum”", self.send(job, "state,place,value_m\n"))
        self.assertEqual(Reading.objects.count(), count)


class Histories(MeasureCase):
    def test_a_vehicle_s_heights_over_its_visits(self) -> None:
        """The plot, the table and the sentence of springs that settle; out as CSV, and earlier visits in from one."""
        vehicle = self.job("041").vehicle
        url = reverse("vehicle-page", args=[vehicle.pk])
        text = words(self.client.get(url))
        self.assertIn("Empty, the rear stands 12 mm lower than in job 2024-112", text)
        self.assertIn("18 Apr 2024 2024-112 Empty 876 mm 876 mm 964 mm 964 mm", text)
        self.assertContains(self.client.get(url), "<polyline")
        out = self.client.get(reverse("heights-csv", args=[vehicle.pk])).content.decode()
        self.assertEqual(out.count("2025-067"), 4)
        head = "job,state,empty,datum,place,value_m,at\n"
        rows = "".join(f"2022-009,Empty,1,ground_arch,{p},0.97,2022-03-01T10:00\n" for p in ("RL", "RR"))
        file = SimpleUploadedFile("h.csv", (head + rows).encode())
        self.assertIn("1 earlier visits taken in", words(self.client.post(url, {"file": file}, follow=True)))
        self.assertIn("18 mm lower than in job 2022-009", words(self.client.get(url)))
        again = SimpleUploadedFile("h.csv", (head + rows).encode())
        self.assertIn("job 2022-009 is here already", words(self.client.post(url, {"file": again}, follow=True)))
        undated = SimpleUploadedFile("h.csv", b"state,datum,place,value_m\nEmpty,ground_arch,RL,0.9\n")
        self.assertIn("needs its date", words(self.client.post(url, {"file": undated}, follow=True)))
        self.assertEqual(vehicle.jobs.count(), 4)


class Diagnosing(MeasureCase):
    def test_every_figure_leads_to_its_working(self) -> None:
        """Each link of the state tables has a working of that name on the page."""
        html = self.client.get(reverse("diagnose", args=[self.job("041").pk])).content.decode()
        links = {part.split('"')[0] for part in html.split('href="#')[1:]} - {"main"}
        self.assertGreater(len(links), 8)
        for link in links:
            self.assertEqual(html.count(f'id="{link}"'), 1, link)

    def test_camber_is_shown_once_its_gain_is_known(self) -> None:
        """On the family's wagon, a gain typed in degrees per 100 mm gives the camber gained by the sag."""
        job = self.job("044")
        self.assertIn("gain unknown", self.page("diagnose", job))
        job.vehicle.rear_camber_gain = -25.0
        job.vehicle.save()
        self.assertRegex(self.page("diagnose", job), r"rear camber −\d\.\d°")
        self.assertIn("-2.50", self.client.get(reverse("vehicle", args=[job.pk])).content.decode())

    def test_a_tired_side_leads_to_the_springs(self) -> None:
        """One empty corner low, with nobody weighing the corners, is suspected as a tired spring."""
        job = self.job("041")
        self.put(job, "RL", "936", state="empty")
        self.assertIn("Empty, the left rear stands 15 mm lower than the other side", self.page("diagnose", job))
        LoadState.objects.filter(job=job, key="empty").update(fl_kg=620, fr_kg=620, rl_kg=500, rr_kg=410)
        self.assertNotIn("Empty, the left rear stands", self.page("diagnose", job))
