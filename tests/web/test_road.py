"""Over the road: what is driven beside what, the sentence and how sure it is, what cannot be driven, and the film that the page plays."""

from __future__ import annotations

import base64
import json
import re

import numpy as np
from django.urls import reverse

from tests.web.base import DemoCase, words
from vantok.desk.load import Desk
from vantok.records.jobs.models import Job
from vantok.stages.road.film import EVERY, film
from vantok.stages.road.options import MOST, options
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
        self.assertRegex(told, r"Leans at most 2\.\d° 2\.\d° × 0\.\d+ × 0\.\d+ to 0\.\d+, less in over 9 in 10")
        self.assertIn("By 32 draws of what is not known", told)
        self.assertEqual(self.client.get(address, {"piece": "rail"}).status_code, 302)
        alone = words(self.client.get(address, {"piece": "rail", "with": "now"}, headers={"HX-Request": "true"}))
        self.assertNotIn("How sure", alone)
        self.sign_in("tobin")
        self.assertRegex(self.shown("046", "piece=bump"), r"blow is about as before, \d+\.\d ft/s²")

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
