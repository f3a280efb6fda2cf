"""The handbook has a page for whatever there is, each short and with its drawing where it has one, and every word of the trade leads somewhere."""

import json

from django.urls import reverse

from tests.web.base import DemoCase, words
from vantok.handbook.entries import KINDS, entries
from vantok.records.jobs.models import STAGES
from vantok_core.aims.aim import AIMS
from vantok_core.base.words import WORDS
from vantok_core.judge.benches.all import BENCHES
from vantok_core.judge.figures import tables
from vantok_core.procedure.templates import constructions

LONGEST = 700
"""Words of a page: a construction's steps are the longest."""


class Handbook(DemoCase):
    def test_a_page_for_each(self) -> None:
        """Everything there is has a page that opens for a trainee, says something under each heading, and shows its drawing; a
        caution of a step stands on it; what is not there is not found."""
        told = {kind: {key for k, key in entries() if k == kind} for kind in KINDS}
        for kind, there in (
            ("stage", dict(STAGES)),
            ("aim", AIMS),
            ("construction", constructions()),
            ("bench", BENCHES),
            ("figures", {table.room for table in tables()}),
        ):
            self.assertEqual(told[kind], set(there))
        self.sign_in("jude")
        for (kind, key), one in entries().items():
            with self.subTest(kind=kind, key=key):
                answer = self.client.get(reverse("handbook-page", args=[kind, key]))
                said = words(answer)
                self.assertIn(one.title, said)
                self.assertTrue(one.lead and all(line.strip() for _, lines in one.parts for line in lines))
                self.assertLess(len(said.split()), LONGEST)
                self.assertTrue(one.draw("us") or kind in ("construction", "bench", "figures"))
                if kind == "construction":
                    for step in constructions()[key]["steps"]:
                        self.assertIn(step.get("caution", step["words"]), said)
        self.assertEqual(self.client.get("/help/bench/unicorn/").status_code, 404)
        drawn = [one for one in entries().values() if one.kind == "construction" and one.draw("metric")]
        self.assertGreater(len(drawn), 15)

    def test_every_word_leads_somewhere(self) -> None:
        """Each word is there once, has another name and a meaning, and its page exists; the file the device keeps has all of them and every page."""
        self.assertEqual(len({word for word, *_ in WORDS}), len(WORDS))
        for word, other, what, at in WORDS:
            with self.subTest(word):
                self.assertIn(tuple(at.split("/")), entries())
                self.assertTrue(other and what.endswith("."))
        rows = json.loads(self.client.get(reverse("handbook-words")).content)
        self.assertEqual(len(rows), len(WORDS) + len(entries()))
        self.assertIn("nose weight", next(row for row in rows if row[0] == "tongue load")[1])
        for *_, address in rows:
            self.assertTrue(address.startswith("/help/"))
