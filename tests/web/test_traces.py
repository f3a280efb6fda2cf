"""Logged roads on the page: looked at, taken otherwise, kept, told; what cannot be kept says why and loses nothing."""

from __future__ import annotations

from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from tests.core.test_road_logs import file, shaken
from tests.web.base import DemoCase, words
from vantok.desk.load import Desk
from vantok_core.base.num import G


class Traces(DemoCase):
    def test_before_and_after(self) -> None:
        """A file is shown as it is taken; kept before and after over one course it is told softer, in report and job file too; taken off it is gone."""
        job = self.job("039")
        address = reverse("traces", args=[job.pk])
        kept = {"action": "keep", "time": "0", "value": "1", "time_unit": "s", "value_unit": "m/s2", "gravity": "1"}
        kept |= {"course": "rail", "speed": "40 km/h", "state": Desk.look(job.pk).job.states[0].key}
        for moment, size in (("before", 1.0), ("after", 0.5)):
            t, a = shaken(45.0, size, 7)
            text = file(t, a + G, heads="time,up")
            looked = self.client.post(address, {"action": "look", "file": SimpleUploadedFile("run.csv", text.encode())})
            self.assertIn("100 samples a second, no gaps", words(looked))
            self.assertContains(looked, "gravity is in it")
            answer = self.client.post(address, kept | {"moment": moment, "text": text}, follow=True)
            self.assertIn("Kept.", words(answer))
        self.assertRegex(self.page("traces", job), r"Softer than before: 50\s% of it \(\d\d\s% to \d\d\s%\)")
        self.assertIn("Softer than before", self.page("report", job))
        logs = self.client.get(reverse("job-file", args=[job.pk])).json()["proving"]["logs"]
        self.assertEqual([one["moment"] for one in logs], ["before", "after"])
        self.client.post(address, {"action": "drop", "key": logs[1]["key"]})
        self.assertNotIn("Softer", self.page("traces", job))

    def test_a_stretch_between_marks(self) -> None:
        """A file with a mark offers its stretches; the one kept says which it is."""
        job = self.job("039")
        address = reverse("traces", args=[job.pk])
        t, a = shaken(40.0)
        text = file(t, a, 1.0 * (abs(t - 15.0) < 0.1), heads="time,up,event")
        looked = self.client.post(address, {"action": "look", "file": SimpleUploadedFile("run.csv", text.encode())})
        self.assertIn("no gaps, 1 mark.", words(looked))
        self.assertContains(looked, "15 to 40 s")
        self.assertContains(looked, 'aria-label="up: -2.14 to 2.13 over 40 s"')
        whole = {"action": "keep", "text": text, "time": "0", "value": "1", "time_unit": "s", "value_unit": "m/s2"}
        whole |= {"moment": "before", "course": "gravel", "speed": "50 km/h", "state": "", "stretch": "1"}
        self.assertIn("25 s: 15 to 40 s", words(self.client.post(address, whole, follow=True)))

    def test_refused_and_nothing_lost(self) -> None:
        """No file, no text, too large, no speed, a column that is not there: words at once, and what was looked at is still there to be kept."""
        job = self.job("039")
        address = reverse("traces", args=[job.pk])
        text = file(*shaken(), heads="time,acc (m/s2)")
        whole = {"action": "keep", "text": text, "time": "0", "value": "1", "time_unit": "s", "value_unit": "m/s2"}
        whole |= {"moment": "before", "course": "gravel", "speed": "50 km/h", "state": ""}
        for told, said in (
            ({"text": ""}, "choose a file first"),
            ({"speed": "fast"}, "fast"),
            ({"value": "7"}, "a time and another column"),
            ({"time_unit": "h"}, "one of those offered"),
            ({"course": "?"}, "Nothing was kept"),
        ):
            answer = self.client.post(address, whole | told)
            self.assertEqual(answer.status_code, 422, told)
            self.assertIn(said, words(answer))
        again = self.client.post(address, whole | {"speed": "fast"})
        self.assertContains(again, "acc (m/s2)", status_code=422)
        self.assertEqual(Desk.look(job.pk).job.proving.logs, ())
        self.assertIn("one of those offered", words(self.client.post(address, whole | {"stretch": "1"})))
        binary = SimpleUploadedFile("x.csv", bytes(range(128, 256)) * 50)
        self.assertIn("a text file", words(self.client.post(address, {"action": "look", "file": binary})))
        large = SimpleUploadedFile("x.csv", b"1,2\n" * 1_400_000)
        self.assertIn("megabytes at most", words(self.client.post(address, {"action": "look", "file": large})))
        answer = self.client.post(address, whole, follow=True)
        self.assertIn("Gravel, 50 km/h:", words(answer))
