"""The practice bay on the web: a run from its beginning to its debrief, nothing told before it, nothing of it anywhere in the shop."""

from __future__ import annotations

import json
import re
from typing import Any
from unittest.mock import patch

from django.core.files.uploadedfile import SimpleUploadedFile
from django.http import HttpResponse
from django.urls import reverse
from django.utils import timezone
from tools.pages import patterns

from tests.web.base import DemoCase, words
from vantok.desk.load import Desk
from vantok.desk.practising import case_of, note_weighed
from vantok.people.models import User
from vantok.practice.work import begin, shelf
from vantok.records.garage.models import Vehicle
from vantok.records.jobs.models import Job
from vantok.records.practice.models import Done, Drilled, OwnCase, Run, Settled, Task
from vantok.records.shelf.models import LearntRecord, PatternRecord, keep_learnt
from vantok_core.base.units import show
from vantok_core.practice.bay.answers import weighed
from vantok_core.practice.bay.drills import asked
from vantok_core.practice.bay.ground import answer_of, question
from vantok_core.practice.bay.puzzles import puzzle
from vantok_core.practice.bay.run import Standing
from vantok_core.practice.bay.truth import Now


def placed(keys: list[str]) -> dict[str, int]:
    """Return a puzzle's steps in their places, as its form tells them."""
    return {f"place-{key}": n for n, key in enumerate(keys, 1)}


class Practising(DemoCase):
    """Jude, a trainee, at a case of his own."""

    code, mode = "V-02", "after"

    def setUp(self) -> None:
        super().setUp()
        self.me = self.sign_in("jude")
        answer = self.client.post(reverse("bay"), {"action": "begin", "code": self.code, "mode": self.mode})
        self.pk = int(re.findall(r"/jobs/(\d+)/", answer["Location"])[0])

    @property
    def run_(self) -> Run:
        return Run.objects.get(job_id=self.pk)

    def do(self, kind: str, what: str = "", *, note: bool = False) -> HttpResponse:
        told = {"action": "do", "kind": kind, "what": what, "back": f"/jobs/{self.pk}/measure/"}
        answer = self.client.post(reverse("bay-act", args=[self.pk]), told)
        if note:
            last = Done.objects.filter(run__job_id=self.pk).last()
            assert last is not None
            answer = self.client.post(reverse("bay-act", args=[self.pk]), {"action": "write", "act": last.pk})
        return answer

    def say(self, stage: str, text: str = "seen", **more: str) -> HttpResponse:
        return self.client.post(
            reverse("bay-act", args=[self.pk]), {"action": "say", "stage": stage, "words": text} | more
        )

    def at(self, name: str) -> str:
        return words(self.client.get(reverse(name, args=[self.pk])))


class FromStartToDebrief(Practising):
    def test_a_trainee_works_a_case_to_its_debrief(self) -> None:
        """The vehicle answers in the job's own pages, the judgement waits for his own, marks and truth come at the end, once."""
        self.do("plate", note=True)
        for area in ("leaf_shape", "bushes", "stops", "contact"):
            self.do("look", area, note=True)
        for state in ("empty", "loaded"):
            self.do("load", state)
            self.do("settle")
            self.do("weigh", note=True)
            self.do("tape", "ground_arch", note=True)
        desk = Desk.look(self.pk)
        self.assertEqual(len([r for r in desk.job.readings if r.datum == "ground_arch"]), 8)
        self.assertIsNotNone(desk.job.state("loaded").corners_kg)  # type: ignore[union-attr]
        self.assertEqual({one.area: one.grade for one in desk.job.inspection}["leaf_shape"], "fault")
        self.assertIsNotNone(desk.job.vehicle.rear_axle_kg)
        before = self.at("diagnose")
        self.assertIn("Say first what you make of it", before)
        self.assertNotIn("Findings", before)
        self.assertIn("choose what is behind it", self.follow(self.say("diagnose")))
        self.say("diagnose", "flat packs", cause="tired", deed="repair")
        after = self.at("diagnose")
        self.assertIn("Findings", after)
        self.assertIn("You said: tired or cracked rear springs", after)
        self.assertIn("you said yours already", self.follow(self.say("diagnose", cause="play", deed="bar")))
        self.do("repair", "leaf_shape")
        self.assertIn("Hand it in?", self.at("bay-debrief"))
        self.client.post(reverse("bay-debrief", args=[self.pk]), {"action": "hand-in"})
        told = self.at("bay-debrief")
        self.assertIn("100 % of the marks", told)
        self.assertIn("A pack that has taken a set", told)
        self.assertIn("The best run", told)
        marks = self.run_.marks
        self.client.post(reverse("bay-debrief", args=[self.pk]), {"action": "hand-in"})
        self.assertEqual(self.run_.marks, marks)
        self.assertIn("it was handed in", self.follow(self.do("settle")))
        self.assertIn("Again", self.page("bay"))
        self.assertIn("inspecting", self.page("progress").lower())

    def follow(self, answer: HttpResponse) -> str:
        return words(self.client.get(answer["Location"].partition("#")[0]))

    def test_two_windows_and_half_way(self) -> None:
        """Begun again it goes on where it was; each window's acts stand in their order; what cannot be done is said and costs nothing."""
        self.do("settle")
        again = self.client.post(reverse("bay"), {"action": "begin", "code": self.code, "mode": "on"})
        self.assertIn(f"/jobs/{self.pk}/", again["Location"])
        self.assertEqual((self.run_.mode, self.run_.acts.count()), ("after", 1))
        for kind, what in (
            ("load", "moon"),
            ("look", "ashtray"),
            ("tape", "ground_moon"),
            ("fit", "FW-M"),
            ("tongue", ""),
            ("repair", "stops"),
            ("fly", ""),
        ):
            self.assertEqual(self.do(kind, what).status_code, 302, kind)
        self.assertEqual(self.run_.acts.count(), 1)

    def test_the_bays_instruments_are_live_and_its_own(self) -> None:
        """They settle after it was loaded, read what truly stands on them, and what is taken goes into the sheet and costs its minutes."""
        self.do("load", "loaded")
        state = Job.every.get(pk=self.pk).states.get(key="loaded")
        panel = reverse("panel", args=[self.pk])
        self.assertIn("settling", words(self.client.get(panel, {"state": state.pk})))
        with patch(
            "vantok.instruments.practised.timezone.now", return_value=timezone.now() + timezone.timedelta(seconds=30)
        ):
            live = self.client.get(panel, {"state": state.pk}).content.decode()
            self.assertIn("steady", live)
            pads = re.findall(r'name="instrument" value="(\d+)"', live)[0]
            told = {"state": state.pk, "instrument": pads}
            self.client.post(reverse("take", args=[self.pk]), told)
        state.refresh_from_db()
        true = weighed(case_of(self.code), Standing(state="loaded"), Now())
        self.assertAlmostEqual(state.rl_kg, true["RL"], delta=6.0)
        last = self.run_.acts.last()
        assert last is not None
        self.assertEqual((last.kind, last.phase, last.state), ("weigh", "before", "loaded"))
        for act, phase in (("drive", "before"), ("fit", "after")):
            Done.objects.create(run=self.run_, kind=act, state="loaded", minutes=5.0)
            note_weighed(self.pk, "PADS")
            last = self.run_.acts.last()
            assert last is not None
            self.assertEqual((last.kind, last.phase), ("weigh", phase), "with anything fitted it is a weighing after")


class NothingTold(Practising):
    code = "V-05"

    def test_no_page_of_the_job_tells_the_truth_before_the_debrief(self) -> None:
        """Of every address of it: no true mass, no rate, no plate that was not read, no lesson, no trap, nobody else's eyes on the marks."""
        case = case_of(self.code)
        self.do("load", "loaded")
        hidden = [
            show("rate", case.hidden.rear.rate_n_per_m, "metric"),
            show("mass", case.hidden.loads[0].items[0].mass_kg, "metric"),
            f"{case.hidden.ratings['rear_axle_kg']:.0f}",
            case.lesson,
            "behind-level",
        ]
        walked = 0
        for route, name, _ in patterns():
            if not route.startswith("jobs/<int:pk>/") or "<" in route.replace("<int:pk>", ""):
                continue
            answer = self.client.get(reverse(name, args=[self.pk]))
            if answer.status_code != 200 or "html" not in answer["Content-Type"]:
                continue
            walked += 1
            html = answer.content.decode()
            for one in hidden:
                self.assertFalse(one in html, (name, one))
        self.assertGreater(walked, 35)
        for name in ("job-file", "archive", "report-pdf", "label"):
            self.assertEqual(self.client.get(reverse(name, args=[self.pk])).status_code, 403, name)

    def test_by_its_mode_the_judgement_speaks_always_or_never(self) -> None:
        """Never: no sentence, no finding, also on what is swapped in; always: as on any job."""
        Run.objects.filter(job_id=self.pk).update(mode="off")
        self.assertIn("No judgement is told", self.at("weigh"))
        self.assertNotIn("Findings", self.at("diagnose"))
        Run.objects.filter(job_id=self.pk).update(mode="on")
        self.assertNotIn("No judgement is told", self.at("weigh"))


class OfTheShop(Practising):
    def test_practice_is_nowhere_in_the_shop(self) -> None:
        """Not on the board, the day, the garage, the fleet, what was taught, the shelf: every page of no job reads the same with it as without."""
        self.sign_in("marit")
        alike = [
            n for r, n, _ in patterns() if "<" not in r and not r.startswith(("practice/", "sign-", "instruments/now"))
        ]
        with_it = {name: self._text(name) for name in alike}
        job = Job.every.get(pk=self.pk)
        keep_learnt(job, code="FW-M", kind="pickup", what="note", key="x", words="taught by practice", by="Jude")
        self.assertFalse(LearntRecord.objects.filter(words="taught by practice").exists())
        self.assertFalse(PatternRecord.objects.filter(job=job).exists())
        Run.objects.all().delete()
        Job.every.filter(practice=True).delete()
        Vehicle.every.filter(practice=True).delete()
        for name, text in with_it.items():
            self.assertEqual(self._text(name), text, name)

    def _text(self, name: str) -> str:
        answer = self.client.get(reverse(name))
        return words(answer) if "html" in answer.get("Content-Type", "") else str(answer.status_code)

    def test_it_is_its_trainees_alone_and_is_never_handed_over(self) -> None:
        """At his own he may do everything of a job; nobody else changes it, not even the lead; nobody hands it over."""
        self.assertEqual(self.client.post(reverse("set", args=[self.job("041").pk]), {"action": "x"}).status_code, 403)
        self.assertNotIn("is for a technician", self.at("choose"))
        for person in ("tobin", "marit"):
            self.sign_in(person)
            answer = self.do("settle")
            self.assertEqual(answer.status_code, 403)
            told = self.client.post(reverse("listen", args=[self.pk]), {"words": "mine"})
            self.assertNotEqual(told.status_code, 200)
        self.assertEqual(Job.every.get(pk=self.pk).words, case_of(self.code).told.words)
        self.client.post(reverse("report", args=[self.pk]), {"action": "hand-over", "anyway": "because"})
        self.assertFalse(Job.every.get(pk=self.pk).done)
        self.sign_in("tobin")
        self.assertEqual(self.client.get(reverse("bay-debrief", args=[self.pk])).status_code, 403)


class ForTheLead(DemoCase):
    def test_a_case_of_a_real_job_is_set_and_worked(self) -> None:
        """Names gone; kept as a file, taken in again; a damaged one is refused in words; one practised on is not given up."""
        job = self.job("041")
        page = reverse("cases")
        told = {"action": "make", "job": job.number, "title": "It hangs", "cause": "behind", "deed": "helper"}
        self.assertIn("Case S-01 is in the bay", words(self.client.post(page, told, follow=True)))
        own = OwnCase.objects.get()
        text = json.dumps(own.case)
        self.assertNotIn(str(job.vehicle.customer), text)
        self.assertNotIn(str(job.vehicle), text)
        jude = User.objects.get(username="jude")
        self.client.post(page, {"action": "set", "code": "S-01", "person": jude.pk, "due": "2027-01-31"})
        self.assertEqual(Task.objects.get(code="S-01").person, jude)
        file = self.client.get(reverse("case-file", args=[own.pk])).content
        for content, said in (
            (file, "Case S-02 is in the bay"),
            (file[:200], "Nothing was changed"),
            (b"\xff\xfe", "not text"),
        ):
            answer = self.client.post(
                page, {"action": "take", "file": SimpleUploadedFile("c.json", content)}, follow=True
            )
            self.assertIn(said, words(answer))
        self.sign_in("jude")
        self.assertEqual(self.client.get(page).status_code, 403)
        self.assertEqual(self.client.get(reverse("case-file", args=[own.pk])).status_code, 403)
        self.assertIn("S-01", self.page("bay"))
        begin(jude, "S-01", "on")
        self.sign_in("marit")
        gone = self.client.post(page, {"action": "give-up", "own": own.pk}, follow=True)
        self.assertIn("take that back first", words(gone))

    def test_what_the_shop_settled_stands_beside_both_schools(self) -> None:
        """Written by a lead, read by all; emptied it is open again."""
        self.client.post(reverse("debates"), {"key": "air_or_solid", "words": "Air for hire vans"})
        self.assertEqual(Settled.objects.get().words, "Air for hire vans")
        self.sign_in("jude")
        self.assertIn("Settled here: Air for hire vans", self.page("debates"))
        self.assertEqual(self.client.post(reverse("debates"), {"key": "air_or_solid", "words": "x"}).status_code, 403)
        self.sign_in("marit")
        self.client.post(reverse("debates"), {"key": "air_or_solid", "words": ""})
        self.assertFalse(Settled.objects.exists())


class DrillsAndGround(DemoCase):
    def ask(self, name: str, told: dict[str, Any], *args: str) -> str:
        return words(self.client.post(reverse(name, args=args), told, follow=True))

    def test_a_drill_is_answered_and_its_first_answer_counts(self) -> None:
        """Nothing of the answer stands on the page before; an answer that is none is said at the field, and does not count."""
        one = asked("lever", 9)
        html = self.client.get(reverse("drill", args=["lever"]), {"n": 9}).content.decode()
        self.assertNotIn(one.why.in_units("metric"), html)
        self.assertIn("Type a figure first", self.ask("drill", {"n": 9, "answer": ""}, "lever"))
        self.assertIn("It is", self.ask("drill", {"n": 9, "answer": "1 kg"}, "lever"))
        self.assertIn("It is", self.ask("drill", {"n": 9, "answer": f"{one.answer} kg"}, "lever"))
        self.assertEqual([d.share for d in Drilled.objects.all()], [0.0])
        self.assertIn("Touch one of the five", self.ask("wrong", {"n": 4, "answer": "roof"}))
        found = 0
        for key in ("link", "line", "bag", "washer", "stop"):
            found += "Found." in self.ask("wrong", {"n": 4, "answer": key})
            Drilled.objects.filter(key="wrong").delete()
        self.assertEqual(found, 1)

    def test_a_puzzle_says_what_would_have_gone_wrong(self) -> None:
        """By the card itself; steps that are not its own are refused."""
        one = puzzle(shelf(), 3)
        own = [s.key for s in one.card.steps if s.key in {t.key for t in one.shown}]
        self.assertIn("It can be followed so", self.ask("puzzle", {"n": 3, **placed(own)}))
        Drilled.objects.all().delete()
        self.assertIn("It would have gone wrong", self.ask("puzzle", {"n": 3, **placed(own[::-1])}))
        self.assertIn("It would have gone wrong", self.ask("puzzle", {"n": 3, **placed(own)}))
        self.assertIn("put each step in its place", self.ask("puzzle", {"n": 4, **placed(["x"])}))

    def test_the_playground_answers_and_asks(self) -> None:
        """Live by its address, in the reader's units; a guess is marked with tolerance, whatever nonsense is typed."""
        self.sign_in("tobin")
        told = {"vehicle": "van", "load": "300", "at": "1.1", "tongue": "x" * 40}
        part = self.client.get(reverse("ground"), told, headers={"hx-request": "true"})
        self.assertIn("lb", words(part))
        self.assertNotIn("<html", part.content.decode())
        asked_ = question(12)
        factor = {"length": 1 / 0.0254, "mass": 2.20462, "percent": 100.0}[asked_.kind]
        answer = self.client.post(
            reverse("ground"), {"question": 12, "guess": f"{answer_of(asked_) * factor:.3f}"}, follow=True
        )
        self.assertIn("Near enough", words(answer))
        for guess in ("", "many", "9" * 50):
            self.assertLess(self.client.post(reverse("ground"), {"question": 12, "guess": guess}).status_code, 500)
