"""Two people at a served shop with a process for each core: what they send at the same moment is taken by different processes."""

from __future__ import annotations

import sqlite3
import time
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing
from pathlib import Path
from threading import Barrier
from typing import Any
from urllib.error import HTTPError

from django.test import SimpleTestCase
from tools.bench_trust import Browser, Shop
from tools.forms import Form, read_page

PAGES = {
    "2026-041": ("listen", "weigh", "measure", "diagnose"),
    "2026-038": ("set", "prove", "report", "label"),
}
"""Stages on which a figure that stands can be changed, of a job before its kit and of one with it on."""


def send(browser: Browser, form: Form, data: dict[str, Any], ready: Barrier) -> str:
    """Send when the other is ready too; return what became of it."""
    told = {**data, "csrfmiddlewaretoken": Browser.csrf(browser.get(form.page.lstrip("/")))}
    ready.wait()
    try:
        answer = browser.post(form.action.lstrip("/"), told)
    except HTTPError as error:
        return "held" if error.code == 409 else str(error.code)
    refused = answer.headers.get("X-Vantok-Refused", "")
    return {"": "taken", "conflict": "held"}.get(refused, refused)


class AtOnce(SimpleTestCase):
    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.shop = Shop()
        cls.addClassCleanup(cls.shop.stop)
        cls.people = [cls.shop.browser(name) for name in ("marit", "marit")]

    def rows(self, sql: str, *told: str) -> list[Any]:
        """Ask the shop's own database."""
        with closing(sqlite3.connect(Path(self.shop.var) / "vantok.sqlite3")) as known:
            return known.execute(sql, told).fetchall()

    def both(self, forms: list[Form], told: list[dict[str, Any]]) -> list[str]:
        """Have each send their form at the same moment."""
        ready = Barrier(2)
        with ThreadPoolExecutor(2) as hands:
            return list(hands.map(send, self.people, forms, told, [ready] * 2))

    def forms(self, job: str, page: str) -> list[list[Form]]:
        """Return the forms both are shown, with a figure in them that a hand can change."""
        [(pk,)] = self.rows("select id from jobs_job where number = ?", job)
        address = f"/jobs/{pk}/{page}/"
        mine, theirs = (
            {f.key: f for f in read_page(address, browser.get(address.lstrip("/"))).forms if f.seen and figure_of(f)[0]}
            for browser in self.people
        )
        return [[mine[key], theirs[key]] for key in mine if key in theirs]

    def test_of_two_who_change_one_figure_at_the_same_moment_one_is_told(self) -> None:
        """One is taken and stands; the other is refused: neither is lost in silence, whichever process was asked."""
        clashed = 0
        for job, page in ((job, page) for job, pages in PAGES.items() for page in pages):
            for forms in self.forms(job, page):
                name, value = figure_of(forms[0])
                wants = [f"{float(value) + more:.6g}" for more in (1.0, 2.0)]
                with self.subTest(job=job, form=forms[0].key, field=name):
                    told = [form.data | {name: [want]} for form, want in zip(forms, wants, strict=True)]
                    answers = self.both(forms, told)
                    if set(answers) & {"422", "locked"}:
                        continue
                    self.assertEqual(sorted(answers), ["held", "taken"])
                    [now] = [pair for pair in self.forms(job, page) if pair[0].key == forms[0].key]
                    self.assertEqual(dict(now[0].shown)[name], wants[answers.index("taken")])
                    clashed += 1
        self.assertGreater(clashed, 4)

    def test_one_form_sent_twice_at_the_same_moment_is_stored_once(self) -> None:
        """As a page sends again what was not answered: the same form under its own name, and every row it brings is there once."""
        before = self.stored()
        sent = 0
        for page in ("listen", "weigh", "measure"):
            for form, _ in self.forms("2026-041", page):
                name, value = figure_of(form)
                self.both([form, form], [form.data | {name: [f"{float(value) + 1.0:.6g}"]}] * 2)
                now = self.stored()
                with self.subTest(page=page, form=form.key):
                    self.assertLessEqual(now - before, 1)
                sent += now - before
                before = now
        self.assertGreater(sent, 3)

    def test_the_board_is_told_of_a_change_soon_after_its_answer(self) -> None:
        """Who changes a job has the answer first; the board's sentence follows by itself, without anybody looking at the board."""
        browser = self.people[0]
        [(pk, before)] = self.rows("select id, stamp from jobs_job where number = '2026-041'")
        page = f"/jobs/{pk}/listen/"
        form = next(f for f in read_page(page, browser.get(page.lstrip("/"))).forms if "notes" in f.typed)
        browser.post(form.action.lstrip("/"), form.data | {"notes": "a leaf is cracked"})
        told = "select stamp, told_stamp from jobs_job where number = '2026-041'"
        until = time.monotonic() + 30.0
        while (stamps := self.rows(told)[0])[0] != stamps[1] and time.monotonic() < until:
            time.sleep(0.1)
        self.assertEqual(stamps[0], stamps[1])
        self.assertNotEqual(stamps[0], before)

    def stored(self) -> int:
        """Return how many readings there are, and changes of the job's and its vehicle's own facts."""
        tables = ("measure_reading", "jobs_historicaljob", "garage_historicalvehicle", "weigh_historicalloadstate")
        return sum(self.rows(f"select count(*) from {one}")[0][0] for one in tables)


def figure_of(form: Form) -> tuple[str, str]:
    """Return the first field of a form that shows a figure, and the figure; nothing where none does."""
    shown = ((n, v) for n, v in form.shown if n in form.typed and v and v.replace(".", "", 1).isdigit())
    return next(shown, ("", ""))
