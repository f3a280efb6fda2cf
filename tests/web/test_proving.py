"""Prove beside the tape: a leak test over a night, clearances asked anew, drives before and after, a change kept or put back; the pressure card and what
fails."""

from __future__ import annotations

import re
from datetime import datetime, timedelta
from unittest.mock import patch

from django.urls import reverse
from django.utils import timezone

from tests.web.base import DemoCase, words
from vantok.desk.load import Desk
from vantok.records.choose.models import Fitting
from vantok.records.jobs.models import Job
from vantok_core.facts import Proving


class Proved(DemoCase):
    def told(self, job: Job) -> Proving:
        """Return what proves the work as it is stored."""
        return Desk.open(job.pk).job.proving

    def send(self, name: str, job: Job, **told: object) -> str:
        """Post a form of a page, and return where it led."""
        send = self.tell if name == "set" else self.client.post
        return words(send(reverse(name, args=[job.pk]), told, follow=True))

    def test_a_leak_test_over_a_night(self) -> None:
        """Pressed up in the evening, read in the morning by somebody else, colder: what it lost at one temperature; what cannot be is refused and kept."""
        job = self.job("046")
        for wrong, said in (
            ({"pressure": "0", "temperature": "18 C"}, "Press it up to a working pressure"),
            ({"pressure": "3", "temperature": "18"}, "is that °C or °F"),
            ({"pressure": "3", "temperature": "warm"}, "does not read as a temperature"),
            ({"pressure": "3 furlongs", "temperature": "18 C"}, "3 furlongs"),
        ):
            answer = self.client.post(reverse("leak", args=[job.pk]), {"action": "begin", "side": "left"} | wrong)
            self.assertEqual(answer.status_code, 422)
            self.assertTrue(said in words(answer), said)
        shown = self.send("leak", job, action="begin", side="left", pressure="3 bar", temperature="18 C", soaped="on")
        self.assertTrue("Wait: a tight bag can be told in" in shown)
        self.assertTrue("Waits for leak test to be read again: left" in self.page("board"))
        self.sign_in("jude")
        began = datetime.fromisoformat(self.told(job).leaks[0].began)
        with patch.object(timezone, "now", lambda: began + timedelta(hours=40)):
            self.assertTrue("Long enough" in self.page("leak", job))
            shown = self.send("leak", job, action="read", key="l1", pressure="2,4 bar", temperature="8 C")
        self.assertTrue("a leak. Find it before it leaves" in shown)
        test = self.told(job).leaks[0]
        self.assertEqual((test.by, test.ended_by), ("Marit Solheim-Vane", "Jude Pell"))
        self.assertTrue("The left bag leaks" in self.page("prove", job))
        self.sign_in("marit")
        self.assertTrue(
            "it is not there any more"
            in self.send("leak", job, action="read", key="l9", pressure="2", temperature="8 C")
        )
        file = self.client.get(reverse("job-file", args=[job.pk])).json()
        self.assertEqual(file["proving"]["leaks"][0]["p2_pa"], 240_000.0)

    def test_clearances(self) -> None:
        """Looked at row by row; chalk says how much was left; what touches leads the sentence; another setting asks for all of it again."""
        job = self.job("039")
        self.assertTrue("say how much is left" in self.send("clear", job, **{"found-frame_tyre-bump": "witnessed"}))
        self.assertTrue("not looked at" in self.page("clear", job))
        self.send(
            "clear",
            job,
            **{
                "found-frame_tyre-bump": "witnessed",
                "left-frame_tyre-bump": "9 mm",
                "found-lines-bump": "touches",
                "how-lines-bump": "hand",
            },
        )
        self.assertEqual(
            [(c.found, c.left_m and round(c.left_m, 6)) for c in self.told(job).clearances],
            [("witnessed", 0.009), ("touches", None)],
        )
        self.assertTrue("Touches: lines and hoses, in bump" in self.page("prove", job))
        driven = len(self.told(job).drives)
        drive = {
            "action": "drive",
            "moment": "after",
            "rater": "owner",
            "course": "usual",
            "speed": "60 km/h",
            "g-bottoms": "fine",
        }
        self.assertIn("It is not driven so. Touches: lines and hoses", self.send("drive", job, **drive))
        self.assertEqual(len(self.told(job).drives), driven)
        self.send("clear", job, **{"found-lines-bump": "clear"})
        self.assertFalse("Touches:" in self.page("prove", job))
        fitting = Fitting.objects.get(job=job)
        left = fitting.setting["pressure_pa"][0]
        self.tell(
            reverse("set", args=[job.pk]), {"left_pressure_pa": "3.1 bar", "right_pressure_pa": "3.1 bar", "done": "on"}
        )
        self.assertNotEqual(Fitting.objects.get(job=job).setting["pressure_pa"][0], left)
        self.assertTrue("again: the setting was changed" in self.page("clear", job))
        self.assertTrue(
            "bad.refused"
            not in self.send("clear", job, **{"found-frame_tyre-bump": "<b>", "left-frame_tyre-bump": "x"})
        )

    def test_what_touches_stops_the_card_and_a_lead_may_overrule_some(self) -> None:
        """An exhaust that touches stops card, drive and hand-over until it is looked at again, or a lead says why; a line, or a tyre, nobody overrules; a
        change of the setting clears neither; the report keeps the reason."""
        job = self.job("046")
        step = Desk.look(job.pk).cards[0].next
        assert step is not None
        self.assertIsNone(Desk.look(job.pk).cards[0].stopped)
        self.send("clear", job, **{"found-exhaust-rest": "touches"})
        self.assertIn("Touches: exhaust, at rest", Desk.look(job.pk).cards[0].held(step))
        self.assertIn("Touches: exhaust", self.page("fit", job))
        over = {"action": "overrule", "place": "exhaust-rest", "reason": "a shield comes with it on Friday"}
        self.assertIn("say why", self.send("clear", job, **over | {"reason": " "}))
        self.sign_in("tobin")
        self.assertIn("Only the lead overrules it", self.page("clear", job))
        refused = self.client.post(reverse("clear", args=[job.pk]), over)
        self.assertEqual(refused.status_code, 403)
        self.sign_in("marit")
        self.send("clear", job, **over)
        self.assertIsNone(Desk.look(job.pk).cards[0].stopped)
        self.assertIn("goes on all the same: a shield comes with it on Friday (Marit", self.page("report", job))
        self.send("clear", job, **{"found-lines-bump": "touches"})
        answer = self.send("clear", job, **over | {"place": "lines-bump"})
        self.assertIn("nobody overrules a tyre, a line or a lock", answer)
        self.assertIn("Touches: lines and hoses", Desk.look(job.pk).cards[0].held(step))

    def test_a_drive_before_and_after(self) -> None:
        """Before the work a column of its own; once work began only from memory, and said; a drive without a grade says nothing; a trainee grades, too."""
        job = self.job("041")
        drive = {
            "action": "drive",
            "moment": "before",
            "rater": "owner",
            "course": "rail",
            "speed": "30 km/h",
            "state": "",
            "g-bottoms": "poor",
        }
        self.assertTrue(
            "says nothing" in self.send("drive", job, **{k: v for k, v in drive.items() if k != "g-bottoms"})
        )
        self.assertTrue("30" in self.send("drive", job, **drive))
        Job.objects.filter(pk=job.pk).update(began=timezone.now())
        answer = self.client.post(reverse("drive", args=[job.pk]), drive)
        self.assertEqual(answer.status_code, 422)
        self.assertTrue("can only be told from memory" in words(answer))
        self.sign_in("jude")
        self.send("drive", job, **drive | {"told": "on", "g-bottoms": "marginal", "expected": "level <b>again</b>"})
        self.send("drive", job, **drive | {"moment": "after", "g-bottoms": "fine"})
        shown = self.page("drive", job)
        for text in ("better", "told", "level <b>again</b>", "rail crossing"):
            self.assertTrue(text in shown, text)
        found = self.told(job).drives
        self.assertEqual(
            [(d.told, d.grades["bottoms"]) for d in found], [(False, "poor"), (True, "marginal"), (False, "fine")]
        )

    def test_the_ways_name_the_page_that_is_shown(self) -> None:
        """Of the pages that prove a job the one that is shown is marked, and no other."""
        for page, words_ in (
            ("drive", "Drive, before and after"),
            ("clear", "Clearances and locks"),
            ("prove", "Heights"),
        ):
            shown = self.client.get(reverse(page, args=[self.job("038").pk])).content.decode()
            self.assertEqual(re.findall(r'aria-current="page"\s+href="[^"]*">([A-Z][^<]*)</a>', shown)[-1:], [words_])

    def test_one_thing_at_a_time(self) -> None:
        """A setting changed on the vehicle begins an entry; it ends kept, or put back, the setting with it; a setting suited to a road is recalled."""
        job = self.job("039")
        before = Fitting.objects.get(job=job).setting["pressure_pa"]
        self.send("drive", job, action="remember", road="highway", words="planted")
        self.send("set", job, left_pressure_pa="3.1 bar", right_pressure_pa="3.1 bar", done="on")
        (loop,) = self.told(job).loops
        self.assertTrue(loop.mark_before != loop.mark_after)
        self.assertTrue("One thing at a time" in self.page("drive", job))
        self.send("drive", job, action="ended", key=loop.key, outcome="worse", basis="driven", stays="put_back")
        self.assertEqual(
            [round(p) for p in Fitting.objects.get(job=job).setting["pressure_pa"]], [round(p) for p in before]
        )
        self.assertEqual((self.told(job).loops[0].outcome, self.told(job).loops[0].stays), ("worse", "put_back"))
        self.send("set", job, left_pressure_pa="2.9 bar", right_pressure_pa="2.9 bar", done="on")
        last = self.told(job).loops[-1]
        self.assertTrue(
            "Nothing was changed"
            in self.send("drive", job, action="ended", key="l77", outcome="better", basis="read", stays="kept")
        )
        self.assertTrue(
            "rests on"
            in self.send("drive", job, action="ended", key=last.key, outcome="better", basis="", stays="kept")
        )
        self.send("drive", job, action="ended", key=last.key, outcome="better", basis="read", stays="kept")
        self.assertEqual(self.told(job).loops[-1].stays, "kept")
        road = self.told(job).roads[0]
        self.send("drive", job, action="recall", mark=road.mark)
        self.assertEqual(
            [round(p) for p in Fitting.objects.get(job=job).setting["pressure_pa"]], [round(p) for p in before]
        )
        self.assertTrue("another kit" in self.send("drive", job, action="recall", mark="XX-1 p1,1"))
        self.sign_in("jude")
        self.assertEqual(
            self.client.post(reverse("drive", args=[job.pk]), {"action": "remember", "road": "town"}).status_code, 403
        )

    def test_the_card_and_what_fails(self) -> None:
        """Pressures for each load in the driver's units, limits first, on paper too; what a burst bag does, in the report as well; no kit, no card."""
        job = self.job("046")
        shown = self.page("card", job)
        for text in ("over", "rear axle or tyres", "Over: no pressure makes it allowed", "reads"):
            self.assertTrue(text in shown, text)
        self.sign_in("tobin")
        self.assertTrue("psi" in self.page("card", job))
        paper = self.client.get(reverse("card-pdf", args=[job.pk]))
        self.assertEqual((paper["Content-Type"], paper.content[:5]), ("application/pdf", b"%PDF-"))
        self.assertTrue("Left bag bursts" in self.page("fails", job))
        self.assertTrue("If it fails" in self.page("report", job))
        bare = self.job("041")
        self.assertTrue("There is no kit on the job" in self.page("card", bare))
        self.assertEqual(self.client.get(reverse("card-pdf", args=[bare.pk])).status_code, 302)
        self.assertTrue("Nothing that is fitted holds air" in self.page("fails", bare))
