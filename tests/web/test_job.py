"""A job's stages by what their pages say, in the demo world."""

import json

from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from tests.core.test_full_job import everything
from tests.web.base import DemoCase, pages_of, words
from vantok.records.choose.models import Fitting
from vantok.records.garage.models import Vehicle
from vantok.records.jobs.models import Job
from vantok.records.measure.models import Reading
from vantok.records.weigh.models import LoadItem, LoadState, TrailerItem
from vantok_core.files.job_file import read_job, write_job


class Stories(DemoCase):
    """The demo world shows the outcomes it was made for."""

    def test_each_ends_in_its_sentence(self) -> None:
        """Do nothing, move the load, a wrong variant, a proof and a miss: each page says so."""
        self.assertIn("nothing is needed", self.page("diagnose", self.job("043")))
        self.assertIn("Do nothing recommended", self.page("choose", self.job("043")))
        van = self.page("choose", self.job("042"))
        self.assertIn("Move the load recommended", van)
        self.assertIn("rear axle is 61 kg over. Move or remove load first", van)
        library = self.page("choose", self.job("040"))
        self.assertIn(
            "Variant by gross mass: This variant is for 2500 kg to 4200 kg; its gross rating is 7200 kg.", library
        )
        self.assertIn("The prediction held", self.page("prove", self.job("038")))
        missed = self.page("prove", self.job("039"))
        self.assertIn("low against the prediction", missed)
        self.assertIn("A leak: check the pressure", missed)
        self.assertIn("To find out: wheelbase, rear suspension", self.page("vehicle", self.job("045")))

    def test_the_same_page_in_inches(self) -> None:
        """Another reader sees the same job in inches, pounds and psi."""
        self.sign_in("tobin")
        text = self.page("set", self.job("038"))
        self.assertIn("psi", text)
        self.assertNotIn(" bar ", text)
        self.assertIn(" in low", self.page("diagnose", self.job("041")))

    def test_working_and_conservation_are_shown(self) -> None:
        """Diagnose opens each number to its working, and says what a helper cannot do."""
        text = self.page("diagnose", self.job("041"))
        self.assertIn("wheel rate × height wanted", text)
        self.assertIn("tongue × (wheelbase + hitch overhang) ÷ wheelbase", text)
        self.assertIn("cannot put lost load back on the front axle", text)

    def test_the_report(self) -> None:
        """The report tells verdict, heights, setting, cautions and who measured; the PDF is a page for the customer and one or two behind it."""
        job = self.job("038")
        text = self.page("report", job)
        for part in (
            "The prediction held",
            "Ferrywell bellows, heavy",
            "No part raises a rating",
            "Marit Solheim-Vane",
            "ground to arch, rear left",
        ):
            self.assertIn(part, text)
        pdf = self.client.get(reverse("report-pdf", args=[job.pk])).content
        self.assertTrue(pdf.startswith(b"%PDF"))
        self.assertIn(pages_of(pdf), (2, 3))


class Cells(DemoCase):
    """The measuring sheet loses nothing."""

    def put(self, text: str, seen: int | None = None, place: str = "RL", **more: object) -> str:
        job = self.job("044")
        seen = self.seen(job, place) if seen is None else seen
        answer = self.client.post(
            self.cell(job, place), {"text": text, "seen": seen, **more}, headers={"hx-request": "true"}
        )
        self.assertEqual(answer.status_code, 200)
        return words(answer)

    def test_any_mix_of_units_is_saved_as_typed(self) -> None:
        """Fractions, centimetres and millimetres are stored in SI with the text they were typed in."""
        for text, value in (("25", 0.025), ("63,6 cm", 0.636), ('25 1/16"', 0.6366), ("2' 1\"", 0.635)):
            self.put(text)
            last = Reading.objects.latest("pk")
            self.assertEqual(last.text, text)
            self.assertAlmostEqual(last.value_m or 0, value, delta=1e-4)

    def test_bad_text_stays_with_its_reason(self) -> None:
        """Letters in a length: the message at the place, the text still there, nothing stored."""
        before = Reading.objects.count()
        answer = self.client.post(
            self.cell(self.job("044"), "RL"), {"text": "six foot", "seen": 0}, headers={"hx-request": "true"}
        )
        self.assertContains(answer, 'value="six foot"')
        self.assertIn("does not read as a length", words(answer))
        self.assertEqual(Reading.objects.count(), before)

    def test_suspicious_readings_are_flagged_at_once(self) -> None:
        """Centimetres typed as millimetres, a rear that rises, a figure outside the band: flagged with the reason, yet kept."""
        self.assertIn("was it centimetres?", self.put("63.6"))
        self.assertIn("a rear does not rise under load", self.put("690"))
        self.assertIn("lower than expected", self.put("632", place="FL"))
        self.assertNotIn("expected (", self.put("636"))

    def test_two_people_never_overwrite_silently(self) -> None:
        """A cell that changed under the hand is not overwritten: both values are shown, and saving again is a choice."""
        first = self.seen(self.job("044"), "RL")
        self.put("636")
        said = self.put("640", seen=first)
        self.assertIn("Marit Solheim-Vane wrote 636 here meanwhile. Yours (640) is not saved yet", said)
        self.assertEqual(Reading.objects.latest("pk").text, "636")
        self.put("640")
        self.assertEqual(Reading.objects.latest("pk").text, "640")

    def test_an_entry_sent_twice_counts_once(self) -> None:
        """The same entry sent again after a dropped connection is the same reading."""
        self.put("636", token="abc")
        count = Reading.objects.count()
        self.put("636", seen=0, token="abc")
        self.assertEqual(Reading.objects.count(), count)

    def test_history_shows_and_puts_back(self) -> None:
        """Every change stands in the history with old and new, and can be put back."""
        job = self.job("044")
        self.put("636")
        self.put("650")
        row = Reading.objects.get(text="636")
        self.assertIn("636 mm 650 mm", self.page("history", job))
        self.client.post(reverse("history", args=[job.pk]), {"kind": "reading", "id": row.pk})
        self.assertEqual(Reading.objects.latest("pk").text, "636")
        vehicle = job.vehicle
        vehicle.wheelbase_m = 2.9
        vehicle.save()
        old = Vehicle.history.filter(id=vehicle.pk).earliest("history_date")
        self.client.post(
            reverse("history", args=[job.pk]), {"kind": "vehicle", "id": old.history_id, "field": "wheelbase_m"}
        )
        self.assertEqual(Vehicle.objects.get(pk=vehicle.pk).wheelbase_m, 2.8)
        self.assertEqual(
            self.client.post(reverse("history", args=[job.pk]), {"kind": "user", "id": 1}).status_code, 404
        )

    def test_without_script_the_cell_is_a_form(self) -> None:
        """Posted without htmx, the cell saves and comes back to the sheet."""
        answer = self.client.post(self.cell(self.job("044"), "RL"), {"text": "636", "seen": 0})
        self.assertRedirects(answer, reverse("measure", args=[self.job("044").pk]))


class BadInput(DemoCase):
    """What bad input gets: a message at the place, what was typed still there, all else kept."""

    def test_vehicle(self) -> None:
        """Letters and negatives in the sheet are refused at their fields."""
        job = self.job("041")
        answer = self.client.post(
            reverse("vehicle", args=[job.pk]), {"label": "x", "body": "pickup", "wheelbase_m": "long", "gross_kg": "-5"}
        )
        self.assertContains(answer, 'value="long"', status_code=422)
        text = words(answer)
        self.assertIn("“long” does not read as a length", text)
        self.assertIn("must be a positive figure", text)
        self.assertEqual(Vehicle.objects.get(pk=job.vehicle_id).wheelbase_m, 3.55)

    def test_a_bound_is_said_in_the_readers_units(self) -> None:
        """What lies beyond its bounds is quoted, with the bound as its reader has figures: off a sheet, off the vehicle, in a trailer."""
        job = self.job("042")
        item = LoadItem.objects.filter(state__job=job).first()
        assert item is not None
        for person, bounds in (
            ("marit", ("1000 mm", "60000 kg", "2000 mm", "mm behind the front axle is off the vehicle")),
            ("tobin", ("39 3/8 in", "132277 lb", "78 3/4 in", "in behind the front axle is off the vehicle")),
        ):
            self.sign_in(person)
            said = "".join(
                words(self.client.post(reverse(page, args=[job.pk]) + told, typed))
                for page, told, typed in (
                    ("vehicle", "", {"label": "x", "body": "van", "wheelbase_m": "0.5 m", "gross_kg": "90 t"}),
                    ("trailer", "?state=loaded", {"trailer_level_m": "3 m"}),
                    ("weigh", f"?item={item.pk}", {"action": "save-item", "item": item.pk, "item-station_m": "24 m"}),
                )
            )
            for bound in bounds:
                self.assertIn(bound, said.replace("\u00a0", " "))

    def test_shown_figures_do_not_drift(self) -> None:
        """Saving the sheet unchanged in inches changes no stored millimetre."""
        self.sign_in("tobin")
        job = self.job("041")
        page = self.client.get(reverse("vehicle", args=[job.pk])).context["form"]
        data = {name: page[name].value() if page[name].value() is not None else "" for name in page.fields}
        data = {name: page.fields[name].prepare_value(value) for name, value in data.items()}
        self.client.post(reverse("vehicle", args=[job.pk]), {k: v for k, v in data.items() if v is not False})
        self.assertEqual(Vehicle.objects.get(pk=job.vehicle_id).wheelbase_m, 3.55)

    def test_pressure_over_the_kits_limit(self) -> None:
        """A pressure past the kit's hard limits is refused in the field."""
        job = self.job("038")
        text = words(
            self.tell(reverse("set", args=[job.pk]), {"left_pressure_pa": "9 bar", "right_pressure_pa": "0.1"})
        )
        self.assertIn("Over the kit's maximum", text)
        self.assertIn("Under the kit's minimum", text)

    def test_a_loaded_state_without_load(self) -> None:
        """A loaded state with nothing on it is asked about, and nothing breaks."""
        job = self.job("044")
        LoadState.objects.filter(job=job, key="loaded").update(tongue_kg=0, trailer_kg=0)
        LoadItem.objects.filter(state__job=job).delete()
        TrailerItem.objects.filter(state__job=job).delete()
        self.assertIn("The load of Caravan hitched is not recorded", self.page("weigh", job))
        for stage in ("measure", "diagnose", "choose", "prove", "report"):
            self.page(stage, job)


class Inspecting(DemoCase):
    def test_a_fault_speaks_first_and_stops_the_choice(self) -> None:
        """A cracked leaf leads the diagnosis and stops a kit, until it is overruled with a reason; both stand in the history."""
        job = self.job("041")
        url = reverse("inspect", args=[job.pk])
        self.client.post(
            url,
            {
                "grade-leaf_cracks": "fault",
                "note-leaf_cracks": "second leaf {left}",
                "grade-dampers": "watch",
                "note-dampers": "",
            },
        )
        text = self.page("diagnose", job)
        self.assertIn("Fix first: leaves (second leaf {left}). A cracked pack sags, and can let go.", text)
        self.assertIn("Watch: dampers.", text)
        self.assertIn("Fix first: leaves.", self.page("choose", job))
        answer = self.client.post(reverse("choose", args=[job.pk]), {"kit": "FW-M"}, follow=True)
        self.assertIn("First cure or overrule", words(answer))
        self.assertFalse(Fitting.objects.filter(job=job).exists())
        self.client.post(url, {"grade-leaf_cracks": "fault", "overruled-leaf_cracks": "new pack is ordered"})
        self.assertIn("Overruled: new pack is ordered", self.page("diagnose", job))
        self.client.post(reverse("choose", args=[job.pk]), {"kit": "FW-M"})
        self.assertTrue(Fitting.objects.filter(job=job).exists())
        self.assertIn("inspection leaves: overruled, because", self.page("history", job))

    def test_complaints_are_joined_with_what_was_found(self) -> None:
        """Each complaint's likely causes come with what speaks for and against them, and the test that tells."""
        text = self.page("diagnose", self.job("042"))
        self.assertIn("Load to one side 70 % The rear leans left by 23 mm (± 6 mm).", text)
        self.assertIn(
            "Load behind the axle, tongue included 70 % The front axle has lost 8 % of its load.",
            self.page("diagnose", self.job("041")).replace("8%", "8 %"),
        )
        self.assertIn("Next: Bounce the tail: it should come to rest within a swing and a half. About 2 minutes", text)


class Impossible(DemoCase):
    def test_a_wheel_off_the_ground_is_a_sentence_and_nothing_is_lost(self) -> None:
        """A load that would lift the front is told by name on every stage that needs it; readings and loads stay as they were."""
        job = self.job("041")
        readings = Reading.objects.filter(job=job).count()
        LoadItem.objects.create(
            state=LoadState.objects.get(job=job, key="loaded"), name="stone", mass_kg=9000, station_m=4.6
        )
        for stage in ("measure", "diagnose", "choose", "set", "prove", "report", "walk"):
            said = "State “Boat on”: the front left wheel would have to pull; it would leave the ground."
            self.assertIn(said, self.page(stage, job), stage)
        self.assertRegex(self.page("weigh", job), r"Boat on: rear axle is \d+ kg over")
        self.assertEqual(Reading.objects.filter(job=job).count(), readings)
        LoadItem.objects.filter(name="stone").delete()
        self.assertIn("rear sits", self.page("diagnose", job))


class JobFiles(DemoCase):
    def upload(self, text: str) -> str:
        file = SimpleUploadedFile("job.json", text.encode(), "application/json")
        return words(self.client.post(reverse("import"), {"file": file}, follow=True))

    def test_a_job_goes_out_and_comes_back(self) -> None:
        """Exported and imported, the job gives the same file again, save its number."""
        job = self.job("038")
        out = json.loads(self.client.get(reverse("job-file", args=[job.pk])).content)
        self.assertIn("Imported as", self.upload(json.dumps(out)))
        again = json.loads(self.client.get(reverse("job-file", args=[Job.objects.latest("pk").pk])).content)
        for data in (out, again):
            del data["number"]
            for r in data["readings"]:
                r.pop("at")
        self.assertEqual(out, again)

    def test_what_the_screens_do_not_show_is_kept(self) -> None:
        """Elements, changes, tanks and spring bars of a file survive the application, and are used by its model."""
        text = write_job(everything())
        self.assertIn("Imported as", self.upload(text))
        job = Job.objects.latest("pk")
        again = read_job(self.client.get(reverse("job-file", args=[job.pk])).content.decode())
        self.assertEqual(again.vehicle.model_copy(update={"label": ""}), everything().vehicle)
        self.assertEqual(again.states, everything().states)
        self.assertIn("Boat on", self.page("diagnose", job))

    def test_a_bad_file_changes_nothing(self) -> None:
        """A file that is no job, or has a bad field, is refused with the place, and nothing is taken in."""
        count = Job.objects.count()
        self.assertIn("Nothing was imported. line 1", self.upload("not json"))
        self.assertIn("format: this is not a job file", self.upload("{}"))
        bad = '{"format": "vantok-job", "version": 1, "vehicle": {"wheelbase_m": "long"}}'
        self.assertIn("job.vehicle.wheelbase_m", self.upload(bad))
        self.assertEqual(Job.objects.count(), count)


class Choosing(DemoCase):
    def test_a_kit_is_taken_with_its_setting_and_tried(self) -> None:
        """Taking a kit stores the model's setting; the slider's trial says what another would do and stores nothing."""
        job = self.job("041")
        self.client.post(reverse("choose", args=[job.pk]), {"kit": "FW-M"})
        fitting = Fitting.objects.get(job=job)
        self.assertGreater(fitting.setting["pressure_pa"][0], 35e3)
        url = reverse("trial", args=[job.pk])
        trial = self.client.get(url, {"left_pressure_pa": 300e3, "right_pressure_pa": 300e3})
        self.assertIn("3.00 bar / 3.00 bar", words(trial))
        self.assertContains(trial, "<svg")
        self.assertLess(len(trial.content), 20_000)
        self.assertEqual(Fitting.objects.get(job=job).setting, fitting.setting)

    def test_a_kit_that_does_not_fit_is_not_taken(self) -> None:
        """A kit that fails a check is refused with its reason, though the button is gone already."""
        job = self.job("041")
        answer = self.client.post(reverse("choose", args=[job.pk]), {"kit": "FW-L"}, follow=True)
        self.assertIn(
            "Ferrywell bellows, light does not fit: This variant is for 1500 kg to 2900 kg; its gross rating is 3250 kg",
            words(answer),
        )
        self.assertFalse(Fitting.objects.filter(job=job).exists())

    def test_the_insert_too(self) -> None:
        """A rubber insert is set by spacers, and its gap follows."""
        job = self.job("041")
        self.client.post(reverse("choose", args=[job.pk]), {"kit": "SR-35"})
        fitting = Fitting.objects.get(job=job)
        self.assertIsNotNone(fitting.setting["spacer_m"][0])
        self.assertIn("Insert gap L / R", self.page("set", job))

    def test_the_target_can_be_changed(self) -> None:
        """Another school gives another target and its sentence; nonsense is refused in place."""
        job = self.job("041")
        self.client.post(
            reverse("choose", args=[job.pk]), {"action": "target", "school": "level", "share": 70, "rake_m": ""}
        )
        self.assertIn("Level loaded.", self.page("choose", job))
        bad = self.client.post(reverse("choose", args=[job.pk]), {"action": "target", "school": "level", "share": 400})
        self.assertEqual(bad.status_code, 422)
