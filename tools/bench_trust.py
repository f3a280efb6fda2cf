"""Parts of the bench that stand on a served shop: people working at once, costs that grow, memory, instruments."""

from __future__ import annotations

import http.cookiejar
import os
import random
import re
import resource
import socket
import socketserver
import statistics
import subprocess
import sys
import tempfile
import threading
import time
from collections import Counter
from collections.abc import Callable
from pathlib import Path
from typing import Any
from urllib.error import HTTPError
from urllib.parse import urlencode
from urllib.request import HTTPCookieProcessor, Request, build_opener

from tools.forms import read_page
from vantok_core.base.units import parse_length

ROOT = Path(__file__).resolve().parent.parent
PEOPLE, THOUGHT = 20, 5.0
FAILED = 500
"""Answers from here on say that the program failed."""
Row = Callable[..., None]


class Shop:
    """A served demo shop in a folder of its own, and browsers on it."""

    def __init__(self) -> None:
        self.var = tempfile.mkdtemp()
        self.env = os.environ | {
            "VANTOK_VAR": self.var,
            "VANTOK_PLAIN_HTTP": "1",
            "VANTOK_DEMO": "1",
            "PYTHONUNBUFFERED": "1",
        }
        for command in (["migrate", "-v0"], ["collectstatic", "--noinput", "-v0"]):
            subprocess.run([sys.executable, "manage.py", *command], cwd=ROOT, env=self.env, check=True)
        with socket.create_server(("127.0.0.1", 0)) as free:
            self.port = free.getsockname()[1]
        self.start()

    def start(self) -> None:
        """Serve, on the same port each time."""
        self.program = subprocess.Popen(
            [sys.executable, "-m", "vantok.serve", str(self.port), "demo"],
            cwd=ROOT,
            env=self.env,
            stdout=subprocess.PIPE,
            text=True,
        )
        assert self.program.stdout is not None
        self.base = next(line for line in self.program.stdout if "http://" in line).split("at ", 1)[1].strip()
        threading.Thread(target=self.program.stdout.read, daemon=True).start()

    def stop(self) -> None:
        """Stop serving."""
        self.program.terminate()
        self.program.wait()

    def kill(self) -> None:
        """End the program in the middle of whatever it does."""
        self.program.kill()
        self.program.wait()

    def browser(self, name: str) -> Browser:
        """Return a signed-in browser."""
        return Browser(self.base, name)


class Browser:
    """Cookies, a token, and what a page said."""

    def __init__(self, base: str, name: str) -> None:
        self.base, self.jar = base, http.cookiejar.CookieJar()
        self.opener = build_opener(HTTPCookieProcessor(self.jar))
        self.post(
            "sign-in/",
            {"username": name, "password": "ferry-landing", "csrfmiddlewaretoken": self.csrf(self.get("sign-in/"))},
        )

    @staticmethod
    def csrf(page: str) -> str:
        """Return a page's form token."""
        found = re.search(r'name="csrfmiddlewaretoken" value="([^"]+)"', page)
        return found[1] if found else ""

    def get(self, path: str, *, text: bool = True) -> str:
        """Return a page; nothing of what is no text."""
        found = self.opener.open(Request(self.base + path, headers={"HX-Trigger": "watch"}), timeout=60).read()
        return str(found.decode()) if text else ""

    def post(self, path: str, told: dict[str, Any], **headers: str) -> Any:
        """Post a form; return the answer."""
        return self.opener.open(Request(self.base + path, urlencode(told, doseq=True).encode(), headers), timeout=60)


def people(row: Row) -> None:
    """Have 20 people work with five seconds' thought between their acts, their pages polling as real ones do: a reading and an act further on in turn.

    They read as a tape reads: a place read before comes out within 3 mm of what stands there, a new one near its neighbours. Further on they send a form of
    a page of the work's second half as it is shown to them, or a bench's, and one act in a hundred is the report as a PDF.
    """
    p95, told, failed = _saves(3, further=True)
    row("a save with 20 people, 5 s thought", "95th percentile 300 ms", told, met=p95 < 0.3 and not failed)


def mistyped(row: Row) -> None:
    """Have them type figures up to 15 cm off, that contradict each other."""
    p95, told, failed = _saves(150, further=False)
    row("the same, figures that contradict each other", "95th percentile 1 s", told, met=p95 < 1.0 and not failed)


def _saves(off: int, *, further: bool) -> tuple[float, str, int]:
    """Return the 95th percentile of a save (s), all that is told of them, and how many answers were errors; off: how far a figure may lie from the last, mm."""
    shop = Shop()
    spent, failed, acts = list[float](), list[str](), Counter[str]()
    try:
        jobs = [int(n) for n in re.findall(r'href="/jobs/(\d+)/', shop.browser("marit").get(""))]
        ready = threading.Barrier(PEOPLE)  # everybody has signed in and opened the sheet; then the day's work begins
        threads = [
            threading.Thread(
                target=_person,
                args=(shop, n, jobs[n % len(jobs)], off, spent, ready, (failed, acts) if further else None),
            )
            for n in range(PEOPLE)
        ]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
    finally:
        shop.stop()
    spent.sort()
    p95, mean = spent[int(0.95 * len(spent))], statistics.mean(spent)
    more = f", of them {', '.join(f'{count} {page}' for page, count in sorted(acts.items()))}" if acts else ""
    wrong = f"; {len(failed)} errors: {failed[0]}" if failed else ""
    return p95, f"{1000 * p95:.0f} ms (mean {1000 * mean:.0f}, {len(spent)} saves{more}{wrong})", len(failed)


FURTHER = ("fit", "set", "prove", "prove/leak", "prove/drive", "prove/clearances", "choose", "report", "bench")
"""Pages of the second half on which people send what they are shown."""
PDF_EVERY = 100


def _further(browser: Browser, job: int, dice: random.Random, failed: list[str], acts: Counter[str]) -> float | None:
    """Open a page of the second half and send a form of it as it is shown; return how long that took (s), None where it has none."""
    name = dice.choice(FURTHER)
    path = (
        f"benches/{dice.choice(('air', 'tongue', 'thread'))}/?job={job}" if name == "bench" else f"jobs/{job}/{name}/"
    )
    if dice.random() < 1.0 / PDF_EVERY:
        browser.get(f"jobs/{job}/quote.pdf", text=False)
        acts["PDF"] += 1
    forms = [f for f in read_page(f"/{path}", browser.get(path)).forms if not f.action.startswith("/sign-")]
    if not forms:
        return None
    form = dice.choice(forms)
    began = time.perf_counter()
    try:
        browser.post(form.action.lstrip("/"), form.data).read()
    except HTTPError as error:
        if error.code >= FAILED:
            failed.append(f"{error.code} at {form.action}")
    acts[name] += 1
    return time.perf_counter() - began


def _person(
    shop: Shop,
    n: int,
    job: int,
    off: int,
    spent: list[float],
    ready: threading.Barrier,
    further: tuple[list[str], Counter[str]] | None,
) -> None:
    dice = random.Random(n)
    browser = shop.browser(("marit", "tobin", "jude")[n % 3])
    page = browser.get(f"jobs/{job}/measure/")
    seen, shown = cells_of(page), tape_reads(page)
    token, cells, news = browser.csrf(page), sorted(seen), _news(page, "")
    ready.wait()
    time.sleep(dice.random() * THOUGHT)
    for turn in range(10):
        cell = dice.choice(cells)
        reads = shown.setdefault(cell, 870) + dice.randint(-off, off)
        told = {"text": f"{reads} mm", "seen": seen[cell], "csrfmiddlewaretoken": token}
        began = time.perf_counter()
        answer = browser.post(cell, told, **{"HX-Request": "true", "X-Vantok-Token": f"{n}-{turn}"})
        answer.read()
        spent.append(time.perf_counter() - began)
        seen[cell] = int(answer.headers.get("X-Vantok-Seen") or seen[cell])
        if further is not None:
            time.sleep(dice.uniform(0.6, 1.4) * THOUGHT)
            took = _further(browser, job, dice, *further)
            spent += [] if took is None else [took]
        until = time.perf_counter() + dice.uniform(0.6, 1.4) * THOUGHT
        while time.perf_counter() < until:
            time.sleep(min(4.0, max(until - time.perf_counter(), 0.0)))
            news = _news(browser.get(news), news)


def save(row: Row) -> None:
    """Time a cell's save on a job with its kit on, and before the kit, as who types waits for it: a reading every second."""
    shop = Shop()
    try:
        browser = shop.browser("marit")
        job = re.findall(r'href="/jobs/(\d+)/', browser.get("?q=2026-038"))[0]
        spent = {page: statistics.median(_typed(browser, f"jobs/{job}/{page}/")) for page in ("prove", "measure")}
    finally:
        shop.stop()
    told = f"{1000 * spent['prove']:.0f} ms with the kit on, {1000 * spent['measure']:.0f} ms before it"
    row("a cell's save on a job with a kit", "150 ms", told, met=max(spent.values()) < 0.15)


def _typed(browser: Browser, path: str) -> list[float]:
    page = browser.get(path)
    seen, shown, token, spent = cells_of(page), tape_reads(page), browser.csrf(page), []
    cell = next(one for one in seen if "/ground_arch/" in one and shown.get(one))
    for n in range(9):
        told = {
            "text": f"{shown[cell] + n % 3} mm",
            "seen": seen[cell],
            "reason": "bench",
            "csrfmiddlewaretoken": token,
        }
        began = time.perf_counter()
        answer = browser.post(cell, told, **{"HX-Request": "true", "X-Vantok-Token": f"{path}{n}"})
        answer.read()
        spent.append(time.perf_counter() - began)
        assert answer.headers["X-Vantok-Stored"], cell
        seen[cell] = int(answer.headers["X-Vantok-Seen"])
        time.sleep(1.0)
    return spent


def cells_of(page: str) -> dict[str, int]:
    """Return a page's cells with the id of the reading that stands in each."""
    found = re.findall(r'action="/(jobs/\d+/cell/[^"]+)".*?name="seen" value="(\d+)"', page, re.DOTALL)
    return {cell: int(seen) for cell, seen in found}


def tape_reads(page: str) -> dict[str, int]:
    """Return what stands in a page's cells, in the reader's units where it was typed in others, else what the page expects there, mm."""
    found = {}
    for form in page.split("<form")[1:]:
        cell = re.search(r'action="/(jobs/\d+/cell/[^"]+)"', form)
        ways = (r'class="echo">([^<]+)<', r'name="text"\s+value="([^"]+)"', r'placeholder="~ ([^"]+)"')
        told = next((known[1] for way in ways if (known := re.search(way, form))), "")
        if cell is not None and told:
            found[cell[1]] = round(1000 * parse_length(told, "metric").value)
    return found


def _news(page: str, before: str) -> str:
    """Return where a page asks for what others wrote next."""
    found = re.search(r'hx-get="/(jobs/\d+/measure/since/[^"]+)"', page)
    return found[1].replace("&amp;", "&") if found else before


def growth(row: Row, client: Any) -> None:
    """Time the first look at a job as it grows: states, items, readings."""
    from django.urls import reverse

    from vantok.desk import load as desk
    from vantok.records.jobs.models import Job
    from vantok.records.shelf.models import KitRecord
    from vantok.urls import PAGES

    def first(job: Any, stage: str, clock: Callable[[], float] = time.perf_counter) -> float:
        times = []
        for _ in range(5):
            desk._LOOKED.clear()
            began = clock()
            assert client.get(reverse(stage, args=[job.pk])).status_code == 200
            times.append(clock() - began)
        return min(times)

    source = Job.objects.get(number="2026-041")
    worst, name, chosen = 0.0, "", 0.0
    for job in Job.objects.filter(number__in=("2026-034", "2026-038", "2026-039", "2026-041")):
        for stage in PAGES:
            spent = first(job, stage)
            if stage == "choose":
                began = time.perf_counter()
                assert client.get(reverse("odds", args=[job.pk]), headers={"hx-request": "true"}).status_code == 200
                chosen = max(chosen, spent + time.perf_counter() - began)
            worst, name = max((worst, name), (spent, f"{stage} of {job.number}"))
    row("first look at any page", "150 ms", f"{1000 * worst:.0f} ms ({name})", met=worst < 0.15)
    kits = KitRecord.objects.filter(offered=True).count()
    row(f"Choose with its odds, {kits} kits, 2000 draws", "1 s", f"{1000 * chosen:.0f} ms", met=chosen < 1.0)
    for words, wanted, small, large, times in (
        (
            "10 to 40 to 160 load states",
            "no faster than the job",
            _grown(source, 40, 3, 1),
            _grown(source, 160, 3, 1),
            4.0,
        ),
        ("100 to 800 items", "no faster than the job", _grown(source, 1, 100, 1), _grown(source, 1, 800, 1), 8.0),
        (
            "2,000 to 20,000 readings",
            "no faster than the job",
            _grown(source, 2, 3, 500),
            _grown(source, 2, 3, 5000),
            10.0,
        ),
    ):
        # How it grows is a ratio of two: in the program's own time, which another program on this machine does not stretch.
        few, many = (first(job, "measure", time.process_time) for job in (small, large))
        row(
            f"Measure, {words}",
            wanted,
            f"{1000 * few:.0f} ms to {1000 * many:.0f} ms ({many / few:.1f} x)",
            met=many / few <= times,
        )


def _grown(source: Any, states: int, items: int, readings: int) -> Any:
    from django.db import transaction

    from vantok.records.jobs.models import Job
    from vantok.records.measure.models import Reading
    from vantok.records.weigh.models import LoadItem, LoadState

    corners = (("FL", 0.87), ("FR", 0.87), ("RL", 0.95), ("RR", 0.95))
    with transaction.atomic():
        job = Job.objects.create(number=f"B{states}-{items}-{readings}", vehicle=source.vehicle)
        empty = LoadState.objects.create(job=job, key="empty", name="Empty", empty=True, front_kg=1240, rear_kg=910)
        for n in range(states):
            state = LoadState.objects.create(job=job, key=f"s{n}", name=f"S{n}", order=n + 1)
            LoadItem.objects.bulk_create(
                LoadItem(state=state, name=f"x{k}", mass_kg=300 / items, station_m=3 + k / items) for k in range(items)
            )
            Reading.objects.bulk_create(
                Reading(
                    job=job,
                    state=state,
                    datum="ground_arch",
                    place=p,
                    value_m=v - 0.05 * (p[0] == "R"),
                    text="x",
                    unit="mm",
                )
                for p, v in corners
            )
        Reading.objects.bulk_create(
            Reading(job=job, state=empty, datum="ground_arch", place=p, value_m=v + (n % 5) / 1000, text="x", unit="mm")
            for n in range(readings)
            for p, v in corners
        )
    return job


def memory(row: Row, client: Any, count: int) -> None:
    """Weigh the process before and after a number of slider steps, asked as the server asks: the tests' client keeps a little of every request itself."""
    from django.test import RequestFactory

    from vantok.records.jobs.models import Job
    from vantok.wsgi import application

    job, cookies = Job.objects.get(number="2026-038"), client.cookies.output(header="", sep=";")

    def started(*_: object) -> Callable[[bytes], object]:
        return len

    def steps(count: int, start: int) -> None:
        for n in range(start, start + count):
            told = {"left_pressure_pa": 200_000 + 37 * n, "right_pressure_pa": 310_000 + 41 * n}
            asked = RequestFactory(headers={"host": "127.0.0.1"}).get(f"/jobs/{job.pk}/set/trial/", told).environ
            answer = application(asked | {"HTTP_COOKIE": cookies}, started)
            assert answer.status_code == 200
            b"".join(answer)
            answer.close()

    steps(200, 0)
    before = _resident()
    steps(count, 200)
    grown = _resident() - before
    row(f"memory over {count:,} slider steps", "flat", f"{grown:+.1f} MB of {before:.0f} MB", met=grown < 0.02 * before)


def _resident() -> float:
    pages = int(Path("/proc/self/statm").read_text().split()[1])
    return pages * resource.getpagesize() / 1e6


class _Chatter(socketserver.BaseRequestHandler):
    """An instrument that tells a thousand lines a second, each with the number of the line as its kilograms."""

    def handle(self) -> None:
        """Tell until nobody listens."""
        from vantok.wire.line import Reading, write_line

        began, told = time.monotonic(), 0
        try:
            while True:
                due = int((time.monotonic() - began) * 1000)
                lines = "".join(
                    write_line(Reading(kind="TONGUE", channel="BALL", value=float(n % 100_000), state="steady")) + "\n"
                    for n in range(told, due)
                )
                self.request.sendall(lines.encode())
                told = self.server.told = due  # type: ignore[attr-defined]
                time.sleep(0.005)
        except OSError:
            return


def chatter(row: Row) -> None:
    """Ask how late a figure is shown of an instrument that sends a thousand lines a second."""
    from vantok.wire.link import let_go, look

    with socketserver.ThreadingTCPServer(("127.0.0.1", 0), _Chatter) as server:
        server.daemon_threads = True
        threading.Thread(target=server.serve_forever, daemon=True).start()
        link = look(f"socket://127.0.0.1:{server.server_address[1]}")
        late = []
        for _ in range(20):
            time.sleep(0.3)
            link.looked = time.monotonic()
            seen = link.latest().get("BALL")
            if seen is not None and seen.value is not None:
                late.append((server.told - seen.value) / 1000)  # type: ignore[attr-defined]
        let_go()
        server.shutdown()
    row("a figure of 1,000 lines a second is late by", "0.5 s", f"{max(late):.2f} s at most", met=max(late) < 0.5)
