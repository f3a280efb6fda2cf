"""The benches' pages: alone and from a job, in both unit systems, wrong figures at their field, kept with the job."""

from __future__ import annotations

from django.urls import reverse

from tests.web.base import DemoCase, words
from vantok.benches.points import points_read, points_text
from vantok.desk.load import Desk
from vantok.records.shelf.models import KitRecord
from vantok_core.judge.benches.all import BENCHES
from vantok_core.kits.registry import family_of


class Benches(DemoCase):
    def bench(self, key: str, **told: object) -> str:
        """Return a bench's page as words."""
        return words(self.client.get(reverse("bench", args=[key]), told))

    def test_each_opens_alone_and_from_a_job(self) -> None:
        """Every bench answers with examples that say so; from a job with what the job knows, and where from; an unknown one is not there."""
        listed = self.page("benches")
        job = self.job("046")
        for key, bench in BENCHES.items():
            for one in bench.questions:
                self.assertTrue(one.words in listed, one.words)
                self.assertLessEqual(sum(not a.only for a in bench.asks if a.name in one.asks), 6, one.words)
                self.assertLessEqual(set(one.asks), {a.name for a in bench.asks})
            alone = self.bench(key)
            self.assertEqual(
                "an example: measure it" in alone,
                any(one.first is not None and one.kind != "choice" for one in bench.asks),
                key,
            )
            self.assertTrue(job.number in self.bench(key, job=job.pk), key)
        self.assertTrue("from the model, with what is on" in self.bench("valves", job=job.pk))
        self.assertTrue("force of one, by height and pressure" in self.bench("air", job=job.pk))
        self.assertEqual(self.client.get(reverse("bench", args=["wings"])).status_code, 404)
        self.assertTrue("Limiting".lower() in self.bench("damper", open="400", job="²").lower())

    def test_from_a_job_that_has_no_loaded_state(self) -> None:
        """With only the empty vehicle known every bench opens, with what the job's facts tell; a choice that is none of those offered is said at its field."""
        job = self.job("041")
        job.states.exclude(key="empty").delete()
        for key in BENCHES:
            self.assertTrue(job.number in self.bench(key, job=job.pk), key)
        self.assertTrue("from the vehicle’s wheelbase" in self.bench("tongue", job=job.pk).replace("'", "’"))
        for bench in BENCHES.values():
            for ask in bench.asks:
                if ask.kind == "choice":
                    self.assertTrue(
                        "choose one of those offered" in self.bench(bench.key, **{ask.name: "½"}).lower(),
                        (bench.key, ask.name),
                    )

    def test_wrong_figures_stand_at_their_field(self) -> None:
        """What does not read, what is missing, what cannot be: at the field, the rest kept; a script gets the answer alone."""
        for told, said in (
            ({"up": "wide"}, "Upper mount above the lower"),
            ({"up": ""}, "This is needed"),
            ({"closed": "600"}, "Closed length must be above zero and below open length"),
            ({"up": "0"}, "The upper mount stands above the lower"),
        ):
            self.assertTrue(said in self.bench("damper", **told), said)
        part = self.client.get(reverse("bench", args=["leaf"]), {"leaves": "8, 0"}, headers={"hx-request": "true"})
        self.assertTrue("Each leaf has a thickness above nought" in words(part))
        self.assertFalse("<html" in part.content.decode())
        self.assertTrue("bench-drawing" in part.content.decode())
        for key in ("damper", "bar", "leaf", "stabilizer", "air", "insert", "tyre", "tongue", "thread"):
            names = [one.name for one in BENCHES[key].asks if one.kind == "length"]
            for figure in ("0", "-5", "99999", "1e9", "x"):
                self.assertEqual(
                    self.client.get(reverse("bench", args=[key]), dict.fromkeys(names, figure)).status_code, 200
                )
        self.sign_in("tobin")
        self.assertTrue("lb/in" in self.bench("leaf"))

    def test_kept_with_the_job(self) -> None:
        """The answer goes with the job into report and file, with the link that opens it so; without a job, or with a fault, nothing is kept."""
        job = self.job("041")
        told = {"over": "9.84", "pitch": "1.5", "job": job.pk}
        answer = self.client.post(reverse("bench", args=["thread"]), told, follow=True)
        self.assertTrue("Kept with 2026-041" in words(answer))
        note = Desk.open(job.pk).job.proving.benches[0]
        self.assertTrue(
            note.said.startswith("M10 x 1.5.") and note.link.startswith("/benches/thread/?over=9.84&pitch=1.5")
        )
        self.assertTrue("M10 x 1.5." in words(self.client.get(note.link)))
        for wrong in ({"over": "x", "job": job.pk}, {"over": "9.84", "pitch": "1.5"}):
            self.assertTrue(
                "Nothing was kept" in words(self.client.post(reverse("bench", args=["thread"]), wrong, follow=True))
            )
        self.assertEqual(len(Desk.open(job.pk).job.proving.benches), 1)
        leaf = {"front": "620", "rear": "740", "width": "70", "leaves": "8", "load": "90", "job": self.job("046").pk}
        for ticked in ({}, {"measured": "1"}):  # example figures go in only as measured so
            self.client.post(reverse("bench", args=["leaf"]), leaf | ticked)
            self.assertEqual("Figured at the bench" in self.page("report", self.job("046")), bool(ticked))
        page = self.client.get(reverse("set", args=[self.job("046").pk])).content.decode()
        self.assertTrue(f"/benches/air/?job={self.job('046').pk}" in page)

    def test_handed_on(self) -> None:
        """To the kit: its setting, not confirmed; an example's figure sets nothing. To the card: shown on Fit. To the quote: a line without a price.
        What there is none of is said, and a trainee hands nothing to the kit."""
        job = self.job("046")
        fitting = job.fittings.last()
        assert fitting is not None
        kit = KitRecord.objects.filter(family="insert").first()
        assert kit is not None
        fitting.kit, fitting.setting, fitting.done = (
            kit.to_core().model_dump(mode="json"),
            {"spacer_m": [0.0, 0.0]},
            True,
        )
        fitting.save()
        low = family_of(kit.to_core()).spans(kit.to_core())["spacer_m"]
        told = {"gap": "46", "longer": "21", "spacer": f"{1000 * low.high:g}", "sags": "12, 38", "job": job.pk}
        answer = words(self.client.post(reverse("bench", args=["insert"]), told | {"to": "kit"}, follow=True))
        self.assertTrue("the kit is to be set so" in answer)
        fitting.refresh_from_db()
        self.assertEqual((fitting.setting["spacer_m"], fitting.done), ([low.high, low.high], False))
        self.client.post(reverse("bench", args=["insert"]), {"job": job.pk, "to": "kit"}, follow=True)
        fitting.refresh_from_db()
        self.assertEqual(fitting.setting["spacer_m"], [low.high, low.high])
        self.client.post(reverse("bench", args=["insert"]), told | {"spacer": "6", "to": "card"}, follow=True)
        self.assertTrue("clear and works only under load" in self.page("fit", job))
        self.assertTrue("clear and works only under load" in self.page("set", job))
        empty = self.job("041")
        for to, said in (("quote", "no quote yet"), ("kit", "no kit on the job")):
            refused = words(
                self.client.post(reverse("bench", args=["insert"]), told | {"to": to, "job": empty.pk}, follow=True)
            )
            self.assertTrue(said in refused, refused)
        self.client.post(reverse("quote", args=[empty.pk]), {"action": "make"})
        self.client.post(
            reverse("bench", args=["insert"]), told | {"spacer": "6", "to": "quote", "job": empty.pk}, follow=True
        )
        page = self.client.get(reverse("quote", args=[empty.pk])).content.decode()
        self.assertTrue("Bump-stop inserts: Unladen" in page)
        self.sign_in("jude")
        self.assertEqual(self.client.post(reverse("bench", args=["insert"]), told | {"to": "kit"}).status_code, 403)

    def test_a_tongue_goes_to_weigh(self) -> None:
        """What was weighed stands in the state that tows, heights read before keep their load; examples, and a job that tows nothing, enter nothing."""
        job = self.job("041")
        address = reverse("bench", args=["tongue"])
        told = {"way": "scale", "reading": "233", "error": "0.5", "hitch": "ball", "job": str(job.pk), "to": "weigh"}
        answer = self.client.post(address, told, follow=True)
        self.assertIn("the tongue of “Boat on” is entered at Weigh", words(answer))
        self.assertEqual(job.states.get(key="loaded").tongue_kg, 233.0)
        self.assertTrue(any(s.past for s in Desk.open(job.pk).job.states))
        example = self.client.post(address, told | {"reading": "160"}, follow=True)
        self.assertTrue("Nothing was kept: some figures are examples" in words(example))
        asked = told | {
            "reading": "160",
            "measured": "1",
        }  # a figure like the example's, ticked as measured, is a reading
        self.assertIn("is entered at Weigh", words(self.client.post(address, asked, follow=True)))
        self.assertEqual(job.states.get(key="loaded").tongue_kg, 160.0)
        none = self.client.post(address, told | {"job": str(self.job("042").pk)}, follow=True)
        self.assertTrue("no load state of the job tows anything" in words(none))

    def test_points_are_typed_and_come_back(self) -> None:
        """Pairs in either system come back as they were; one that is none is named."""
        for axes, points in (
            (("damper_speed", "force"), ((0.1, 180.0), (0.3, 420.0))),
            (("length", "force"), ((0.01, 500.0), (0.02, 2000.0))),
        ):
            for system in ("metric", "us"):
                again = points_read(points_text(points, axes, system), axes, system)
                for (x, f), (x2, f2) in zip(points, again, strict=True):
                    self.assertAlmostEqual(x, x2, delta=0.0009)
                    self.assertAlmostEqual(f, f2, delta=2.5)
        self.assertTrue("is no pair" in self.bench("valves", bump="0.1, 0.3: 400"))
        self.assertTrue(
            "does not read as a damper speed; give a number in m/s" in self.bench("valves", bump="fast: 400")
        )
