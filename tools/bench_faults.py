"""Parts of the bench that disturb a served shop: killed while people write, backed up while pages are looked at."""

from __future__ import annotations

import os
import random
import re
import shutil
import sqlite3
import statistics
import subprocess
import sys
import tempfile
import threading
import time
from collections import Counter
from collections.abc import Callable
from contextlib import closing
from http.client import HTTPException
from pathlib import Path
from urllib.error import HTTPError, URLError

from tools.bench_trust import ROOT, Browser, Row, Shop, cells_of, tape_reads

KILLS, WRITERS = 100, 4
JOBS, PHOTOGRAPHS, PHOTOGRAPH_BYTES = 10_000, 2_000, 200_000
PAGES = ("", "jobs/{job}/measure/", "jobs/{job}/choose/")


class Writer(threading.Thread):
    """Types readings one after another; one that was not answered is sent again under its own name, as the page does."""

    def __init__(self, shop: Shop, n: int, job: int, over: threading.Event) -> None:
        super().__init__(daemon=True)
        self.shop, self.n, self.job, self.over = shop, n, job, over
        self.browser: Browser = shop.browser(("marit", "tobin")[n % 2])
        self.stored: list[str] = []
        self.again = 0

    def run(self) -> None:
        """Write until it is over."""
        dice, turn = random.Random(self.n), 0
        page = self.browser.get(f"jobs/{self.job}/measure/")
        seen, shown, token = cells_of(page), tape_reads(page), self.browser.csrf(page)
        while not self.over.is_set():
            turn += 1
            cell, name = dice.choice(sorted(seen)), f"kills-{self.n}-{turn}"
            told = {
                "text": f"{shown.get(cell, 870) + dice.randint(-3, 3)} mm",
                "note": name,
                "seen": seen[cell],
                "csrfmiddlewaretoken": token,
            }
            seen[cell] = self._send(cell, told, name) or seen[cell]

    def _send(self, cell: str, told: dict[str, object], name: str) -> int:
        """Send until it is answered; return the id that now stands there."""
        while True:
            try:
                answer = self.browser.post(cell, told, **{"HX-Request": "true", "X-Vantok-Token": name})
                answer.read()
            except HTTPError:
                raise
            except (URLError, OSError, HTTPException):  # killed in the middle, or not there yet
                self.again += 1
                time.sleep(0.05)
                continue
            if answer.headers.get("X-Vantok-Stored") == name:
                self.stored.append(name)
            return int(answer.headers.get("X-Vantok-Seen") or 0)


def kills(row: Row) -> None:
    """Kill the serving program 100 times while four people write, and hold what was acknowledged against the database."""
    shop, over, dice = Shop(), threading.Event(), random.Random(5)
    try:
        jobs = sorted({int(n) for n in re.findall(r'href="/jobs/(\d+)/', shop.browser("marit").get(""))})
        writers = [Writer(shop, n, jobs[n % len(jobs)], over) for n in range(WRITERS)]
        for writer in writers:
            writer.start()
        for _ in range(KILLS):
            before = sum(len(writer.stored) for writer in writers)
            while sum(len(writer.stored) for writer in writers) < before + 2 and all(w.is_alive() for w in writers):
                time.sleep(0.02)  # it serves again; from here on it may be killed at any moment
            time.sleep(dice.uniform(0.0, 0.6))
            shop.kill()
            shop.start()
        over.set()
        for writer in writers:
            writer.join(60)
    finally:
        over.set()
        shop.stop()
    acknowledged = [name for writer in writers for name in writer.stored]
    with sqlite3.connect(Path(shop.var) / "vantok.sqlite3") as base:
        intact = base.execute("PRAGMA integrity_check").fetchone()[0]
        found = Counter(n for (n,) in base.execute("SELECT note FROM measure_reading WHERE note LIKE 'kills-%'"))
    lost, doubled = [n for n in acknowledged if not found[n]], [n for n, times in found.items() if times > 1]
    row(
        f"kill -9, {KILLS} times during writing",
        "none lost, none doubled",
        f"{len(lost)} lost, {len(doubled)} doubled of {len(acknowledged)} acknowledged; "
        f"{sum(writer.again for writer in writers)} sent again; integrity {intact}",
        met=not lost
        and not doubled
        and intact == "ok"
        and len(acknowledged) > KILLS
        and not any(w.is_alive() for w in writers),
    )


OLD = {
    "people": "0001_initial",
    "garage": "0004_hitch_tyres_gains_points",
    "jobs": "0005_stamp",
    "weigh": "0003_plan_trailer_and_ticket",
    "measure": "0003_floor_friction_photo",
    "choose": "0003_initial",
    "shelf": "0001_initial",
}
"""The tables of version 0.2."""
FILL_OLD = f"""
from django.db import connection
from django.db.migrations.executor import MigrationExecutor
told = {OLD!r}
old = MigrationExecutor(connection).loader.project_state(list(told.items())).apps
customer = old.get_model("garage", "Customer").objects.create(name="Gannet Sailmakers")
for n in range(300):
    vehicle = old.get_model("garage", "Vehicle").objects.create(customer=customer, label=f"van {{n}}", wheelbase_m=3.55)
    job = old.get_model("jobs", "Job").objects.create(number=f"V-{{n}}", vehicle=vehicle, share=0.6, complaints=["sag"])
    state = old.get_model("weigh", "LoadState").objects.create(job=job, key="empty", name="Empty", empty=True)
    old.get_model("measure", "Reading").objects.bulk_create(
        old.get_model("measure", "Reading")(job=job, state=state, phase="before", datum="ground_arch", place=p, value_m=0.9, text="900", unit="mm")
        for p in ("FL", "FR", "RL", "RR")
    )
"""
MIGRATIONS_KILLED = 20


def kills_migrating(row: Row) -> None:
    """Kill the step to the newest tables again and again; what comes up in the end is what a step that nobody disturbed makes."""
    dice, whole, again = random.Random(6), tempfile.mkdtemp(), tempfile.mkdtemp()
    at = [os.environ | {"VANTOK_VAR": folder, "VANTOK_PLAIN_HTTP": "1"} for folder in (whole, again)]
    migrate = [sys.executable, "manage.py", "migrate", "-v0"]
    for app, name in OLD.items():
        subprocess.run([*migrate, app, name], cwd=ROOT, env=at[0], check=True)
    subprocess.run([sys.executable, "manage.py", "shell", "-v0", "-c", FILL_OLD], cwd=ROOT, env=at[0], check=True)
    shutil.copytree(whole, again, dirs_exist_ok=True)
    began = time.perf_counter()
    subprocess.run(migrate, cwd=ROOT, env=at[0], check=True)
    usual, killed = time.perf_counter() - began, 0
    for _ in range(MIGRATIONS_KILLED):
        step = subprocess.Popen(migrate, cwd=ROOT, env=at[1])
        try:
            step.wait(dice.uniform(0.2, 0.5) * usual)
            break  # it came to its end
        except subprocess.TimeoutExpired:
            step.kill()
            killed += 1
        step.wait()
    subprocess.run(migrate, cwd=ROOT, env=at[1], check=True)
    one, other = (_told(Path(folder) / "vantok.sqlite3") for folder in (whole, again))
    row(
        f"kill -9, {killed} times in a migration from version 0.2",
        "the same tables and rows",
        f"{len(one)} tables, {sum(one.values())} rows; {'the same' if one == other else 'others'}",
        met=one == other and killed > 1,
    )


def _told(base: Path) -> dict[str, int]:
    """Return how many rows each table of a database has, each table's columns in its name; raises where the database is not whole."""
    with closing(sqlite3.connect(base)) as opened:
        if opened.execute("PRAGMA integrity_check").fetchone()[0] != "ok":
            raise SystemExit(f"{base} is not whole.")
        tables = opened.execute("SELECT name, sql FROM sqlite_master WHERE type = 'table'").fetchall()
        return {f"{n}: {sql}": opened.execute(f'SELECT count(*) FROM "{n}"').fetchone()[0] for n, sql in tables}  # noqa: S608


FILL = f"""
from django.db.models import F
from vantok.records.jobs.models import Job
vehicle = Job.objects.first().vehicle
Job.objects.bulk_create(
    Job(number=f"1999-{{n:05d}}", vehicle=vehicle, verdict="Nothing is needed.", verdict_us="Nothing is needed.", stage="report") for n in range({JOBS})
)
Job.objects.filter(number__startswith="1999-").update(told_stamp=F("stamp"))
"""
"""Typed into the shop's own shell: closed jobs by the thousand."""


def backup(row: Row) -> None:
    """Look at pages of a full shop, and again while it is backed up."""
    shop = Shop()
    try:
        subprocess.run([sys.executable, "manage.py", "shell", "-v0", "-c", FILL], cwd=ROOT, env=shop.env, check=True)
        media = Path(shop.var) / "media" / "photos" / "2026"
        media.mkdir(parents=True, exist_ok=True)
        for n in range(PHOTOGRAPHS):
            (media / f"bench-{n}.jpg").write_bytes(os.urandom(PHOTOGRAPH_BYTES))
        browser = shop.browser("marit")
        job = re.findall(r'href="/jobs/(\d+)/', browser.get(""))[0]
        pages = [page.format(job=job) for page in PAGES]
        _look(browser, pages, lambda turns: turns < 3)
        usual = {
            page: statistics.median(times) for page, times in _look(browser, pages, lambda turns: turns < 15).items()
        }
        began = time.perf_counter()
        made = subprocess.Popen(
            [sys.executable, "-m", "vantok.backup.command", "backup"], cwd=ROOT, env=shop.env, stdout=subprocess.DEVNULL
        )
        during = _look(browser, pages, lambda _: made.poll() is None)
        spent = time.perf_counter() - began
    finally:
        shop.stop()
    slowest, page = max((max(times) / usual[page], page) for page, times in during.items())
    middle = max(statistics.median(times) / usual[page] for page, times in during.items())
    row(
        f"a page while {JOBS:,} jobs and {PHOTOGRAPHS:,} photographs are backed up",
        "2 x its usual time",
        f"slowest {slowest:.1f} x (/{page}), in the middle {middle:.1f} x; backed up in {spent:.0f} s",
        met=slowest <= 2.0 and made.returncode == 0,
    )


def _look(browser: Browser, pages: list[str], again: Callable[[int], bool]) -> dict[str, list[float]]:
    """Look at pages in turn, with a breath between; return how long each took (s)."""
    found: dict[str, list[float]] = {page: [] for page in pages}
    turns = 0
    while again(turns):
        turns += 1
        for page, times in found.items():
            began = time.perf_counter()
            browser.get(page)
            times.append(time.perf_counter() - began)
            time.sleep(0.05)
    return found
