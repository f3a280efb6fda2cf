"""What the pages of every demo job say, word by word and figure by figure, as somebody last read them (`tests/told`)."""

from __future__ import annotations

import re
from html import unescape
from unittest.mock import patch

from django.urls import reverse
from django.utils import timezone

from tests.told import held_against, once
from tests.web.base import DemoCase
from vantok.desk.load import Desk
from vantok.records.jobs.models import STAGES, Job
from vantok.urls import PAGES

TOLD = {
    "begin": ("listen", "inspect", "vehicle"),
    "weigh": ("weigh", "scales", "trailer", "limits", "zones", "across", "tyres", "coach", "envelope"),
    "measure": ("measure", "paste", "by-photo", "by-phone", "condition", "walk"),
    "diagnose": ("diagnose", "assumptions"),
    "choose": ("choose", "beside", "tradeoff", "quote"),
    "road": ("road",),
    "fit": ("fit", "stuck", "set", "card", "fails"),
    "prove": ("prove", "leak", "traces", "clear", "drive", "films"),
    "hand_over": ("report", "label", "care"),
}
"""The pages that are told in one file."""
ELSEWHERE = ("history", "compare")
"""Pages that tell who changed what, and when."""
PIECE = re.compile(
    r"</?(?:td|th|tr|li|p|h\d|div|section|form|label|button|option|dt|dd|details|summary|figcaption|small|br|article|header|fieldset|legend|table|select|a)\b[^>]*>"
)
DAY = re.compile(
    r"\b\d{1,2} (?:Jan|Feb|Mar|Apr|May|Jun|Jul|Aug|Sep|Oct|Nov|Dec)\w*\b(?: \d{4})?|\b\d{4}-\d\d-\d\d\b|\b\d?\d:\d\d\b"
)


def pieces(html: str) -> list[str]:
    """Return what a page's main part says, piece by piece; days and times are left out."""
    found = re.search(r"<main.*?</main>", html, re.DOTALL)
    plain = re.sub(r"<(script|style|svg).*?</\1>", " ", found[0] if found else html, flags=re.DOTALL)
    told = (unescape(re.sub(r"<[^>]+>", " ", one)).replace("\u00a0", " ") for one in PIECE.split(plain))
    said = (re.sub(r"\s+", " ", DAY.sub("(day)", one)).strip() for one in told)
    return [one for one in said if len(one) > 1]


class Told(DemoCase):
    def setUp(self) -> None:
        """It is nine in the morning: what is left of the day stands on a card. Nothing was worked out before: a page says the same whatever was."""
        Desk.forget_all()
        nine = timezone.now().replace(hour=9, minute=0, second=0, microsecond=0)
        held = patch("django.utils.timezone.now", return_value=nine)
        held.start()
        self.addCleanup(held.stop)
        super().setUp()

    def told(self, group: str) -> None:
        """Hold every page of a group for every job against its file: what was not said further up, and how much was."""
        jobs = Job.objects.exclude(number__contains="-L").filter(number__startswith="2026-").order_by("number")
        seen: set[str] = set()
        lines: list[str] = []
        for page in TOLD[group]:
            for job in jobs:
                asked = {"kits": "1"} if page == "trailer" else None
                said = pieces(self.client.get(reverse(page, args=[job.pk]), asked).content.decode())
                lines.append(once(f"{job.number} {page}", said, seen))
        self.assertGreater(len(jobs), 15)
        held_against(self, group, lines)

    def test_begin(self) -> None:
        """What it came for, how it was inspected, what vehicle it is."""
        self.told("begin")

    def test_weigh(self) -> None:
        """Loads, limits, zones, tyres, and what a coach carries."""
        self.told("weigh")

    def test_measure(self) -> None:
        """The sheet and what it asks for."""
        self.told("measure")

    def test_diagnose(self) -> None:
        """What is wrong, and what it rests on."""
        self.told("diagnose")

    def test_choose(self) -> None:
        """What is offered, and what it would do."""
        self.told("choose")

    def test_road(self) -> None:
        """The ride."""
        self.told("road")

    def test_fit(self) -> None:
        """The work, the setting, the pressure card."""
        self.told("fit")

    def test_prove(self) -> None:
        """The proof, the leak test, the drive."""
        self.told("prove")

    def test_hand_over(self) -> None:
        """The report, the label, the care."""
        self.told("hand_over")

    def test_the_sentence_of_each_stage_with_its_tone(self) -> None:
        """Green, act or limit: of every stage of every job."""
        lines, seen = [], set[str]()
        for job in Job.objects.filter(number__startswith="2026-").order_by("number"):
            desk = Desk.look(job.pk)
            told = ((stage, desk.verdict(stage)) for stage, _ in STAGES)
            said = (f"{stage}: {one.tone}: {one.in_units('metric')}" for stage, one in told)
            lines.append(once(job.number, (DAY.sub("(day)", one).replace("\u00a0", " ") for one in said), seen))
        held_against(self, "sentences", lines)

    def test_no_page_of_a_job_is_left_out(self) -> None:
        """Each stands in one file, or tells who changed what."""
        told = [page for group in TOLD.values() for page in group]
        self.assertEqual(sorted([*told, *ELSEWHERE]), sorted(PAGES))
