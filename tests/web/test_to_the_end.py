"""Measuring, weighing and diagnosing to the end, by their pages: what is said, kept, refused and held side by side."""

from __future__ import annotations

from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from django.utils import timezone

from tests.web.base import DemoCase, words
from vantok.desk.load import Desk
from vantok.desk.versions import job_at
from vantok.records.jobs.models import Inspection, Job
from vantok.records.measure.models import Reading
from vantok.records.weigh.models import LoadState


class Pages(DemoCase):
    def post(self, name: str, job: Job, status: int = 302, **told: Any) -> Any:
        answer = self.client.post(reverse(name, args=[job.pk]), told)
        self.assertEqual(answer.status_code, status, words(answer)[-700:])
        return answer

    def seen(self, job: Job, place: str, state: str = "loaded", phase: str = "before") -> int:
        return super().seen(job, place, state, phase)


class Complaints(Pages):
    def test_when_it_is_felt_is_kept_and_counts(self) -> None:
        """Speed in the reader's units, road, load and words of a complaint are stored, shown to the next reader in theirs, and weigh on the causes."""
        job = self.job("041")
        before = self.page("diagnose", job)
        self.post(
            "listen",
            job,
            **{
                "complaints": ["sags", "bottoms"],
                "speed_mps-sags": "80",
                "load-sags": "empty",
                "when-sags": "after an hour",
                "words": "it squats",
            },
        )
        heard = Job.objects.get(pk=job.pk).heard
        self.assertAlmostEqual(heard["sags"].pop("speed_mps"), 80 / 3.6)
        self.assertEqual(heard, {"sags": {"load": "empty", "when": "after an hour"}})
        after = self.page("diagnose", job)
        self.assertIn("at 80\u202fkm/h".replace("\u202f", " "), after)
        self.assertIn("Felt empty too.", after)
        self.assertNotIn("Felt", before)
        self.sign_in("tobin")
        self.assertIn(
            "50", self.client.get(reverse("listen", args=[job.pk])).content.decode().split("speed_mps-sags")[1][:200]
        )
        bad = self.post("listen", job, 422, **{"complaints": ["sags"], "speed_mps-sags": "fast"})
        self.assertIn("does not read as a speed", words(bad))

    def test_the_lead_puts_the_shop_s_weights_in(self) -> None:
        """The causes of every job follow; a figure that cannot be is refused at its field; nobody else may."""
        job = self.job("041")
        Job.objects.filter(pk=job.pk).update(complaints=["porpoises"])
        first = self.page("diagnose", job).split("Keeps bouncing")[1][:400]
        answer = self.client.post(reverse("causes"), {"usual-pitch": "90", "minutes-bounce": "400"})
        self.assertRedirects(answer, reverse("causes"))
        second = self.page("diagnose", job).split("Keeps bouncing")[1][:400]
        self.assertNotEqual(first, second)
        self.assertIn("Rear rides slower than the front 70 %", second)
        self.assertEqual(self.client.post(reverse("causes"), {"usual-pitch": "-1"}).status_code, 422)
        self.sign_in("tobin")
        self.assertEqual(self.client.post(reverse("causes"), {"usual-pitch": "1"}).status_code, 403)


class Inspecting(Pages):
    def test_before_and_after_in_two_columns(self) -> None:
        """A fault found after the work to be fine stands as cured, its place and note kept; a trainee may not cure what stops a choice."""
        job = self.job("041")
        told: dict[str, Any] = {
            "grade-leaf_cracks": "fault",
            "where-leaf_cracks": ["RL"],
            "note-leaf_cracks": "third leaf",
        }
        self.post("inspect", job, **told)
        self.assertIn("Fix first: leaves (rear left; third leaf)", self.page("diagnose", job))
        page = self.client.get(reverse("inspect", args=[job.pk])).content.decode()
        self.assertIn("Rear left: leaves: fault", page)
        self.sign_in("jude")
        self.post("inspect", job, 403, **told, **{"after-leaf_cracks": "fine"})
        self.sign_in("marit")
        self.post("inspect", job, **told, **{"after-leaf_cracks": "fine", "after_note-leaf_cracks": "new pack"})
        one = Inspection.objects.get(job=job, area="leaf_cracks")
        self.assertEqual((one.grade, one.after, one.after_note, one.where), ("fault", "fine", "new pack", ["RL"]))
        said = self.page("diagnose", job)
        self.assertIn("Leaves: at fault as it came, fine after the work.", said)
        self.assertNotIn("Fix first: leaves", said)
        lone = self.post("inspect", self.job("042"), 422, **{"after-frame": "fine"})
        self.assertIn("Grade it as it came as well", words(lone))

    def test_a_part_of_the_underside(self) -> None:
        """Asked for by its part, only what can be there is shown; the whole sheet stays in the form."""
        answer = self.client.get(reverse("inspect", args=[self.job("041").pk]), {"zone": "ML"})
        html = answer.content.decode()
        shown = [row for row in html.split('<fieldset class="inspect-row"')[1:] if " hidden" not in row[:120]]
        self.assertEqual(len(shown), 3)
        self.assertEqual(html.count('<fieldset class="inspect-row"'), 14)


class Tyres(Pages):
    def test_tread_and_angles_are_kept_and_told(self) -> None:
        """Three depths make a pattern, two are asked to be three; an angle outside is refused at its place, and the rest of the sheet stays as typed."""
        job = self.job("041")
        lacking = self.post("tyres", job, 422, **{"FL-inner": "4", "FL-middle": "5"})
        self.assertIn("All three places of a tyre", words(lacking))
        self.post(
            "tyres", job, **{"FL-inner": "3.5", "FL-middle": "5.5", "FL-outer": "6.2", "rear_tyre_most_pa": "4.5"}
        )
        self.assertIn(
            "Front left: worn on the inner edge. Most likely camber top in or toe out", self.page("tyres", job)
        )
        self.assertEqual(Desk.open(job.pk).job.vehicle.rear_tyre_most_pa, 4.5e5)
        wrong = self.post(
            "tyres", job, 422, action="angles", **{"a-aligned-camber_fl": "55", "a-aligned-camber_fr": "-0.5"}
        )
        self.assertIn("more than any wheel leans", words(wrong))
        self.assertIn('value="-0.5"', wrong.content.decode())
        self.post(
            "tyres",
            job,
            action="angles",
            **{"a-aligned-caster_fl": "3,2", "a-aligned-caster_fr": "2.4°", "a-aligned-state": "empty"},
        )
        self.assertIn("Caster differs by 0.8° between the sides: it pulls to the right", self.page("tyres", job))
        self.sign_in("jude")
        held = self.post("tyres", job, 422, **{"rear_tyre_most_pa": "9"})
        self.assertIn("Entering ratings is not for a trainee", words(held))

    def test_side_to_side_and_hitch_or_kit(self) -> None:
        """Both pages answer on a job that has what they take, and say what is lacking on one that has not."""
        self.assertIn("It takes all four wheels on pads", self.page("across", self.job("041")))
        alone, beside = self.page("trailer", self.job("041")), self.page("trailer", self.job("041"), kits="1")
        self.assertIn("A hitch can give the front axle up to 74 kg back, and lifts the rear by 12 mm.", alone)
        self.assertIn("a kit lifts the rear by", beside)
        job = self.job("041")
        LoadState.objects.filter(job=job, key="empty").update(fl_kg=620, fr_kg=620, rl_kg=455, rr_kg=455)
        LoadState.objects.filter(job=job, key="loaded").update(fl_kg=575, fr_kg=570, rl_kg=900, rr_kg=795)
        said = self.page("across", job)
        self.assertIn("more than the plan lists", said)
        self.assertIn("to the left", said)

    def test_the_coach_sheet_aims(self) -> None:
        """With both overhangs the wheelbase's share is told; the front overhang is stored beyond the form's own facts, and can be taken away."""
        job = self.job("041")
        self.post("coach", job, action="front", **{"front-front_overhang_m": "900"})
        self.assertEqual(Desk.open(job.pk).job.vehicle.front_overhang_m, 0.9)
        self.assertIn("To the front", self.page("coach", job))
        self.post("coach", job, action="front", **{"front-front_overhang_m": ""})
        self.assertIsNone(Desk.open(job.pk).job.vehicle.front_overhang_m)


class WhatItRestsOn(Pages):
    def test_a_figure_of_our_own_with_its_source(self) -> None:
        """It replaces the class's in the model, is told as entered with its source, and can be taken away; one that cannot be is refused."""
        job = self.job("041")
        model = Desk.open(job.pk).model
        assert model is not None
        usual = float(model.vehicle.rear.tyre_rate)
        self.post("assumptions", job, **{"own.tyre-rear": "320", "source.tyre-rear": "tyre maker’s sheet"})
        now = Desk.open(job.pk).model
        assert now is not None
        self.assertAlmostEqual(float(now.vehicle.rear.tyre_rate), 320e3)
        self.assertNotEqual(usual, 320e3)
        page = self.page("assumptions", job)
        self.assertIn("Rear tyre rate, as entered", page)
        self.assertIn("tyre maker’s sheet", self.client.get(reverse("assumptions", args=[job.pk])).content.decode())
        self.post("assumptions", job, 422, **{"own.tyre-rear": "3"})
        self.post("assumptions", job, **{"own.tyre-rear": "", "source.tyre-rear": ""})
        back = Desk.open(job.pk).model
        assert back is not None
        self.assertAlmostEqual(float(back.vehicle.rear.tyre_rate), usual)

    def test_an_instruction_read_two_ways_is_asked(self) -> None:
        """Until somebody says, the strict way is taken and said to be; the answer is kept; one that was not offered is not."""
        job = self.job("039")
        page = self.page("set", job)
        self.assertIn("is taken to mean in every state, empty and loaded, since nobody said", page)
        self.post("assumptions", job, action="meant", **{"least-pressure_pa": "empty", "most-pressure_pa": "boiling"})
        self.assertEqual(Job.objects.get(pk=job.pk).sheets["meant"], {"least-pressure_pa": "empty"})
        self.assertIn("is taken to mean only unladen.", self.page("set", job))


class Otherwise(Pages):
    def cell_post(self, job: Job, place: str, text: str, state: str = "loaded", datum: str = "ground_arch") -> Any:
        return self.client.post(
            self.cell(job, place, state=state, datum=datum), {"text": text, "seen": self.seen(job, place, state)}
        )

    def test_a_gain_said_that_the_readings_do_not_bear_out(self) -> None:
        """Kept beside the reading, held against the difference, which is computed; said at the sheet, and gone when it agrees."""
        job = self.job("041")
        base = Reading.objects.filter(job=job, state__key="empty", place="RL", datum="ground_arch").latest("pk")
        assert base.value_m is not None
        low = round(base.value_m * 1000) - 68
        self.cell_post(job, "RL", f"{low} down 40")
        self.assertIn("said to have come down by 40 mm; by its readings it is down by 68 mm", self.page("measure", job))
        self.cell_post(job, "RL", f"{low} down 68")
        self.assertNotIn("said to have come", self.page("measure", job))
        self.assertIn("says more than one gain", words(self.cell_post(job, "RL", "880 up 3 up 4")))

    def test_an_empty_that_cannot_be(self) -> None:
        """People aboard as it was read, or nearly its whole weight on the scale: the empty state is asked about."""
        job = self.job("041")
        self.assertNotIn("cannot be empty", self.page("measure", job))
        LoadState.objects.filter(job=job, key="empty").update(condition={"people": 2})
        self.assertIn("“Empty” cannot be empty: 2 aboard as it was read.", self.page("measure", job))

    def test_a_height_without_a_side_and_more_datums(self) -> None:
        """Asked for, the sheet has a column for a whole axle; a coil's gap has its drawing; a datum's own places only."""
        job = self.job("041")
        self.assertNotIn("rear axle", self.page("measure", job, datum="hub_arch").split("Walk round")[1][:900])
        self.assertIn("rear axle", self.page("measure", job, datum="hub_arch", whole="1"))
        self.assertEqual(self.cell_post(job, "rear", "505", "empty", "hub_arch").status_code, 302)
        self.assertEqual(Desk.open(job.pk).job.read("empty", "rear", "hub_arch").value_m, 0.505)  # type: ignore[union-attr]
        self.assertEqual(self.cell_post(job, "rear", "30", "empty", "coil_gap").status_code, 404)
        self.assertIn("the same windings", self.page("measure", job, datum="coil_gap"))

    def test_by_phone(self) -> None:
        """A level read twice, turned round, is kept without the phone's own error; a push test's swing is worked out; a bad trace is told and kept as typed."""
        job = self.job("041")
        for state, pitch in (("empty", 0.0), ("loaded", -1.0)):
            self.post(
                "by-phone",
                job,
                action="level",
                **{
                    "level-state": state,
                    "level-phase": "before",
                    "level-pitch": str(pitch + 0.4),
                    "level-lean": "0.4",
                    "level-pitch_turned": str(0.4 - pitch),
                    "level-lean_turned": "0.4",
                },
            )
        found = Desk.open(job.pk).job.levels[1]
        self.assertAlmostEqual(found.pitch, -0.01745, places=4)
        self.assertIn("by the phone", self.page("by-phone", job))
        rows = "\n".join(
            f"{n / 100},{3 * 0.5 ** (n / 40):.5f}" if n % 2 else f"{n / 100},{-3 * 0.5 ** (n / 40):.5f}"
            for n in range(200)
        )
        self.post(
            "by-phone",
            job,
            422,
            action="push",
            **{"push-state": "loaded", "push-phase": "before", "push-axle": "rear", "push-trace": "1,2\nx,y"},
        )
        self.assertEqual(
            self.post(
                "by-phone",
                job,
                422,
                action="push",
                **{
                    "push-state": "loaded",
                    "push-phase": "before",
                    "push-axle": "rear",
                    "push-trace": rows,
                },
            ).status_code,
            422,
        )
        file = SimpleUploadedFile("t.csv", swinging(1.5, 0.2).encode())
        self.post(
            "by-phone",
            job,
            action="push",
            **{"push-state": "loaded", "push-phase": "before", "push-axle": "rear", "push-file": file},
        )
        self.assertAlmostEqual(Desk.open(job.pk).job.pushes[0].frequency, 1.5, delta=0.05)
        self.assertIn("The rear swings at 1.5", self.page("by-phone", job))
        self.post("by-phone", job, action="drop-push", n="0")
        self.assertEqual(Desk.open(job.pk).job.pushes, ())


def swinging(frequency: float, damping: float) -> str:
    """Return a trace of a body let go, as a logger writes it."""
    from math import cos, exp, pi, sqrt

    w = 2 * pi * frequency
    return "time,acceleration\n" + "\n".join(
        f"{n / 100:.2f},{9.81 + 2.0 * exp(-damping * w * n / 100) * cos(w * sqrt(1 - damping**2) * n / 100):.4f}"
        for n in range(400)
    )


class SideBySide(Pages):
    def test_a_job_beside_itself_earlier_beside_another_and_beside_a_file(self) -> None:
        """What was known then is read back from the history; a difference within the band is none; a file is held against it and nothing of it stored."""
        job = self.job("041")
        then = timezone.now()
        old = Desk.open(job.pk).job
        cell = self.cell(job, "RL")
        self.client.post(cell, {"text": "870", "seen": self.seen(job, "RL")})
        LoadState.objects.get(job=job, key="empty").save()
        state = LoadState.objects.get(job=job, key="empty")
        state.rear_kg = 990.0
        state.save()
        found = job_at(job.pk, then)
        assert found is not None
        self.assertEqual(found.model_copy(update={"hour_price": old.hour_price, "noses": old.noses}), old)
        page = self.page("compare", job, at=then.isoformat())
        self.assertIn("Empty, rear axle 910 kg 990 kg +80 kg", page)
        self.assertIn("Boat on, ground to arch, rear left 882 mm 870 mm −12 mm", page)
        self.assertIn("within the band", page)
        other = self.client.get(reverse("compare", args=[job.pk]), {"with": "2026-042"})
        self.assertIn("beside 2026-042", words(other))
        self.assertContains(other, 'name="with" value="2026-042"')
        practised = Job.every.filter(pk=self.job("043").pk)
        practised.update(practice=True)
        away = self.client.get(reverse("compare", args=[job.pk]), {"with": practised.get().number})
        self.assertIn("finds no job", words(away), "nobody's practice is held beside a job")
        practised.update(practice=False)
        file = self.client.get(reverse("job-file", args=[job.pk])).content
        count = Job.objects.count()
        beside = self.client.post(reverse("compare", args=[job.pk]), {"file": SimpleUploadedFile("job.json", file)})
        self.assertIn("beside the file job.json", words(beside))
        self.assertIn("choose a job file first", words(self.client.post(reverse("compare", args=[job.pk]), {})))
        self.assertEqual(Job.objects.count(), count)
        self.assertIsNone(job_at(job.pk, then.replace(year=2001)))
