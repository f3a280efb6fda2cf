"""Over the road: what is driven beside what, the sentence and how sure it is, what cannot be driven, and the film that the page plays."""

from __future__ import annotations

import base64
import json
import re

import numpy as np
from django.urls import reverse

from tests.web.base import DemoCase, words
from vantok.desk.load import Desk
from vantok.desk.rides import MOST, options
from vantok.records.jobs.models import Job
from vantok.stages.road.film import EVERY, film
from vantok_core.judge.ride.ready import Over
from vantok_core.kits.target import target_state
from vantok_core.road.course import PIECES


class Road(DemoCase):
    def shown(self, number: str, query: str = "") -> str:
        """Return the page's words."""
        return words(self.client.get(f"{reverse('road', args=[self.job(number).pk])}?{query}"))

    def test_every_piece_says_what_it_does(self) -> None:
        """Each piece of the course, as it is beside what is fitted: one sentence that begins with it, a table, the caution; another speed is driven at it."""
        for key, piece in PIECES.items():
            text = self.shown("046", f"piece={key}")
            self.assertRegex(text, f"{piece.words.capitalize()}, \\d+ km/h: ", key)
            self.assertIn("Ferrywell bellows, middle as set", text)
            self.assertIn("never a promise of safety", text)
        self.assertIn("Ditch on the skew, 12 km/h:", self.shown("046", "piece=ditch&speed=12"))
        self.assertIn("a bend of 20 m", self.shown("046", "piece=roundabout"))
        self.assertIn("Half the rear damping gone after", self.shown("046", "piece=washboard"))
        harder = self.shown("046", "piece=rail&with=fitted&with=fitted:pressure_pa:more")
        self.assertIn("As set, pressure more by a fifth", harder.split("How sure")[0])
        self.assertIn("Bump, 20 km/h: the tail strikes its stops three times", self.shown("046"))

    def test_what_cannot_be_driven_says_so(self) -> None:
        """No speed, a speed nobody drives, a state or piece that is not there, more than four, a job without a model: words, no error."""
        self.assertIn("walking pace at least", self.shown("046", "speed=0"))
        self.assertIn("Nothing was driven", self.shown("046", "speed=fast"))
        self.assertIn("Bump, 20 km/h:", self.shown("046", "piece=loop&state=gone&side=above"))
        many = "&".join(f"with={one.key.replace('+', '%2B')}" for one in options(Desk.look(self.job("046").pk)))
        head = re.search(
            r"<thead>.*?</thead>",
            self.client.get(f"{reverse('road', args=[self.job('046').pk])}?{many}").content.decode(),
            re.S,
        )
        assert head is not None
        self.assertEqual(head[0].count('scope="col"'), MOST + 1)
        bare = next(job for job in Job.objects.all() if Desk.look(job.pk).worked.staged is None)
        self.assertIn("There is no model of this vehicle yet", words(self.client.get(reverse("road", args=[bare.pk]))))

    def test_how_sure_it_is_comes_after(self) -> None:
        """The bands come by themselves, the sentence then rests on them; to one that is no script the page is shown; inches read in inches."""
        job = self.job("046")
        address = reverse("road-odds", args=[job.pk])
        told = words(self.client.get(address, {"piece": "roundabout"}, headers={"HX-Request": "true"}))
        self.assertRegex(told, r"Leans at most 2\.\d° 2\.\d° × 0\.\d+ × 0\.\d+ to 0\.\d+, lower: over 9 in 10")
        self.assertIn("By 32 draws of what is not known", told)
        self.assertEqual(self.client.get(address, {"piece": "rail"}).status_code, 302)
        alone = words(self.client.get(address, {"piece": "rail", "with": "now"}, headers={"HX-Request": "true"}))
        self.assertNotIn("How sure", alone)
        self.sign_in("tobin")
        self.assertRegex(self.shown("046", "piece=bump"), r"blow is about as before, \d+\.\d ft/s²")

    def test_the_whole_course(self) -> None:
        """A sentence a piece, the same as the page of the piece says before its bands are known; the page itself to one that is no script."""
        job = self.job("046")
        address = reverse("road-course", args=[job.pk])
        told = words(self.client.get(address, headers={"HX-Request": "true"}))
        for key, piece in PIECES.items():
            said = next(
                line
                for line in self.shown("046", f"piece={key}").split(". ")
                if f"{piece.words.capitalize()}, " in line
            )
            self.assertIn(said[said.index(f"{piece.words.capitalize()}, ") :].split(". ")[0][:120], told)
        self.assertEqual(self.client.get(address).status_code, 302)

    def test_the_film_is_the_run(self) -> None:
        """What the page plays is what was driven, to a thousandth of its largest figure; and the whole of it is small."""
        job = self.job("046")
        desk = Desk.look(job.pk)
        model = desk.worked.staged
        assert model is not None
        over = Over(piece="potholes", speed=8.0, side="left", state=target_state(model))
        driven = desk.worked.ride(options(desk)[:2], over)
        told = film(desk.job.vehicle, driven, over)
        self.assertLess(len(json.dumps(told)), 200_000)
        for one, shown in zip(driven, told["shown"], strict=True):
            assert one.run is not None
            every = round(EVERY * one.run.set.sample_rate)
            for n, packed in enumerate(shown["places"]):
                values = np.frombuffer(base64.b64decode(packed["data"]), "<i2") * packed["scale"]
                most = float(np.max(np.abs(one.run.x[::every, n])))
                np.testing.assert_allclose(values, one.run.x[::every, n], atol=1e-3 * most)
        self.assertIs(desk.worked.ride(options(desk)[:2], over), driven)

    def test_kept_for_quote_and_report(self) -> None:
        """At a press: its sentence and still stand in the report and on the page till it is taken off; a trainee keeps nothing; the job file has it."""
        job = self.job("039")
        address = f"{reverse('road', args=[job.pk])}?piece=rail&speed=40"
        kept_now = self.client.post(address, {"action": "keep"}, follow=True)
        self.assertIn(
            "Kept for quote and report",
            words(kept_now)[:6000],
            re.findall('class="said[^>]*>[^<]*', kept_now.content.decode()),
        )
        said = "Rail, 40 km/h:"
        self.assertIn(said, self.page("report", job))
        self.assertIn("Kept for quote and report", self.page("road", job))
        file = self.client.get(reverse("job-file", args=[job.pk])).json()
        (kept,) = file["proving"]["rides"]
        self.assertEqual((kept["piece"], kept["speed_kmh"], len(kept["lines"])), ("rail", 40.0, 2))
        self.assertIn('class="ride-still"', self.client.get(reverse("report", args=[job.pk])).content.decode())
        self.sign_in("jude")
        self.assertEqual(self.client.post(address, {"action": "keep"}).status_code, 403)
        self.assertNotIn("Keep it for quote", self.page("road", job))
        self.sign_in("marit")
        self.client.post(address, {"action": "forget", "key": kept["key"]})
        self.assertNotIn(said, self.page("report", job))
        self.assertIn("Nothing was kept", words(self.client.post(f"{address}0000", {"action": "keep"}, follow=True)))

    def test_one_file_for_the_customer(self) -> None:
        """It stands alone: no address is asked for anything, it is under a megabyte, and it says what the page says."""
        job = self.job("046")
        answer = self.client.get(reverse("road-file", args=[job.pk]), {"piece": "ditch"})
        text = answer.content.decode()
        self.assertIn(f'filename="{job.number}-ditch.html"', answer["Content-Disposition"])
        self.assertLess(len(answer.content), 1_000_000)
        outside = re.sub(r'xmlns="[^"]*"', "", text)
        self.assertNotRegex(outside, r"(src|href)=|https?:|@import|url\(|\bfetch\(|^import ")
        self.assertIn("Ditch on the skew, 5 km/h:", words(answer))
        self.assertIn("data-ride", text)
        self.assertEqual(self.client.get(reverse("road-file", args=[job.pk]), {"speed": "0"}).status_code, 302)

    def test_foreseen_and_felt(self) -> None:
        """A drive with the kit keeps what the model expects of it beside what is felt; over the jobs the shop sees how often it was right."""
        job = self.job("039")
        before = next(d for d in Desk.look(job.pk).job.proving.drives if d.moment == "before" and d.rater == "owner")
        drive = {"action": "drive", "moment": "after", "rater": "owner", "course": before.course, "state": before.state}
        drive |= {"speed": f"{before.speed_kmh:g} km/h", "g-bottoms": "fine", "g-stance": "fine"}
        self.tell(reverse("drive", args=[job.pk]), drive)
        kept = Desk.look(job.pk).job.proving.drives[-1].foreseen
        self.assertEqual(kept["bottoms"], "better")
        self.assertNotIn("stance", kept)
        self.assertRegex(self.page("drive", job), r"Bottoms [^.]* owner poor fine better better")
        self.assertIn("Bottoms: as the model had foreseen in 1 of 1", words(self.client.get(reverse("taught"))))
