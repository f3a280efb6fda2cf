"""The benches' pages: alone and from a job, in both unit systems, wrong figures at their field, kept with the job."""

from __future__ import annotations

from django.urls import reverse

from tests.web.base import DemoCase, words
from vantok.desk.load import Desk
from vantok_core.judge.benches.all import BENCHES


class Benches(DemoCase):
    def bench(self, key: str, **told: object) -> str:
        """Return a bench's page as words."""
        return words(self.client.get(reverse("bench", args=[key]), told))

    def test_each_opens_alone_and_from_a_job(self) -> None:
        """Every bench answers with examples that say so; from a job with what the job knows, and where from; an unknown one is not there."""
        listed = self.page("benches")
        job = self.job("046")
        for key, bench in BENCHES.items():
            self.assertTrue(bench.question in listed)
            alone = self.bench(key)
            self.assertEqual(
                "an example: measure it" in alone,
                any(one.first is not None and one.kind != "choice" for one in bench.asks),
                key,
            )
            self.assertTrue(job.number in self.bench(key, job=job.pk), key)
        self.assertTrue("from the rear springs as calibrated" in self.bench("damper", job=job.pk))
        self.assertEqual(self.client.get(reverse("bench", args=["wings"])).status_code, 404)
        self.assertTrue("Limiting".lower() in self.bench("damper", open="400", job="²").lower())

    def test_wrong_figures_stand_at_their_field(self) -> None:
        """What does not read, what is missing, what cannot be: at the field, the rest kept; a script gets the answer alone."""
        for told, said in (
            ({"up": "wide"}, "Upper mount above the lower"), ({"up": ""}, "This is needed"), ({"closed": "600"},
            "closed length must be above zero and below open length"),
            ({"up": "0"}, "the mounts are at one height"),
        ):  # fmt: skip
            self.assertTrue(said in self.bench("damper", **told), said)
        part = self.client.get(reverse("bench", args=["leaf"]), {"leaves": "8, 0"}, headers={"hx-request": "true"})
        self.assertTrue("thickness above nought" in words(part))
        self.assertFalse("<html" in part.content.decode())
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
        self.client.post(
            reverse("bench", args=["leaf"]),
            {"front": "620", "rear": "740", "width": "70", "leaves": "8", "load": "90", "job": self.job("046").pk},
        )
        self.assertTrue("Figured at the bench" in self.page("report", self.job("046")))
        self.assertTrue("With example figures: " in self.page("report", self.job("046")))
