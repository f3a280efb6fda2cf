"""Measure the figures of the design on this machine and print them as a table: `python3 run.py bench`.

It takes about ten minutes. Options: --full for as many vehicles as `docs/figures.md` tells of (half an hour more); names of parts (solves, bands, proofs,
loops, start, people, mistyped, kills, migrations, backup, shelf, pages, ride, learn, hands) for those alone.
"""

from __future__ import annotations

import gzip
import os
import shutil
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np
from scipy.optimize import root

from tools.bench_faults import backup, kills, kills_migrating
from tools.bench_hands import hands
from tools.bench_learn import learning
from tools.bench_ride import ride
from tools.bench_trust import chatter, growth, memory, mistyped, people, save
from vantok_core.facts.classes import SPRINGS
from vantok_core.files.cases.run import shipped
from vantok_core.files.vehicle_file import read_states, read_vehicle
from vantok_core.judge.measure.doubts import doubts
from vantok_core.physics.levers import resultant
from vantok_core.physics.stance.newton import _Problem, equilibrium
from vantok_core.physics.stance.states import SolvedState, solve_states
from vantok_core.practice.as_they_come import KINDS, UNITS, coverage
from vantok_core.practice.life import KINDS as KINDS_OF_LIFE
from vantok_core.practice.life import Fault, Held, lives, read_sheet
from vantok_core.practice.loops import loop_trials

ROOT = Path(__file__).resolve().parent.parent
QUICK = "--full" not in sys.argv
VEHICLES = 3_000
"""Vehicles, each its own customer's, that the jobs of a large shop are of."""
ROWS: list[tuple[str, str, str, str]] = []


def row(what: str, wanted: str, got: str, *, met: bool) -> None:
    """Keep one line of the table, and show it at once."""
    ROWS.append((what, wanted, got, "met" if met else "MISSED"))
    print("  ".join(ROWS[-1]), flush=True)


def best_of(
    call: Callable[[], object], repeats: int, rounds: int = 5, clock: Callable[[], float] = time.perf_counter
) -> float:
    """Return the least mean time of a call over some rounds, s: what the machine can do when nothing else runs."""
    times = []
    for _ in range(rounds):
        start = clock()
        for _ in range(repeats):
            call()
        times.append((clock() - start) / repeats)
    return min(times)


def worked_states() -> list[tuple[str, SolvedState, Any]]:
    """Return the last state of every equilibrium case of the worked examples, solved, with its load."""
    found = []
    for case in shipped():
        if case["kind"] == "equilibrium":
            vehicle = read_vehicle(case["inputs"]["vehicle"])
            states = read_states(case["inputs"]["states"], vehicle.wheelbase)
            found.append((case["name"], solve_states(vehicle, states)[states[-1].name], resultant(vehicle, states[-1])))
    return found


def by_root(solved: SolvedState, load: Any) -> Callable[[], object]:
    """Return the same equations handed to scipy.optimize.root, its own differences and all."""
    problem = _Problem(solved.assembly, load)
    length, track = problem.lengths

    def residual(x: np.ndarray) -> list[Any]:
        front, rear, body, _ = problem.evaluate(tuple(x.tolist()))
        return [body[0], body[1] / length, body[2] / track, *front[6:8], *rear[6:8]]

    return lambda: root(residual, np.zeros(7))


def solves() -> None:
    """Time single and batch solves against scipy's root."""
    repeats = 20 if QUICK else 60
    ratios, roots = [], []
    for _, solved, load in worked_states():
        own = best_of(partial(equilibrium, solved.assembly, load, "bench"), repeats)
        theirs = best_of(by_root(solved, load), repeats // 4)
        ratios.append(own / theirs)
        roots.append(theirs)
    middle = statistics.median(ratios)
    row(
        "static solve, one state",
        "0.25 of root",
        f"{middle:.2f} (median of {len(ratios)}; {min(ratios):.2f}-{max(ratios):.2f})",
        met=middle <= 0.25,
    )
    _, solved, load = next(w for w in worked_states() if "foam inserts" in w[0])
    variants = replace(load, force=np.linspace(200, 6000, 1000), pitch=np.linspace(200, 6000, 1000) * 3.4)
    batch = best_of(lambda: equilibrium(solved.assembly, variants, "bench"), 3) / 1000
    alone = best_of(by_root(solved, load), 20)
    row(
        "static solves, batch of 1000",
        "40 x root",
        f"{alone / batch:.0f} x ({batch * 1e6:.1f} us each)",
        met=alone / batch >= 40,
    )


def bands() -> None:
    """Foretell unseen states of vehicles drawn from life, and count how often each kind of band holds, and at each kind of rear spring."""
    count = 350 if QUICK else 2100
    told: dict[str, list[Held]] = {}
    for one in lives(np.random.default_rng(20), count):
        for figure in one.held:
            told.setdefault(figure.what, []).append(figure)
            if figure.what == "rear axle":
                told.setdefault(f"rear axle, {SPRINGS[one.spring].words}", []).append(figure)
    for what, held in sorted(told.items()):
        _share(f"90 % bands, {what}", held)
    rng, count = np.random.default_rng(20), 200 if QUICK else 400
    for name, trial in KINDS.items():
        found, (unit, of) = coverage([trial(rng) for _ in range(count)]), UNITS[name]
        text = f"{found.share:.1%} of {count}; half width {of * found.mean_band:.1f} {unit} (before reading {of * found.mean_prior_band:.1f})"
        row(f"90 % bands, {name}", "88-97 %", text, met=0.88 <= found.share <= 0.97)


def _share(what: str, held: Sequence[Held]) -> None:
    share = sum(h.inside for h in held) / len(held)
    text = f"{share:.1%} of {len(held)}; half width {1000 * sum(h.band for h in held) / len(held):.1f} mm"
    row(what, "88-95 %", text, met=0.88 <= share <= 0.95)


def proofs() -> None:
    """Prove right jobs of vehicles drawn from life, and jobs with one planted fault, and count what is said of them."""
    count = 240 if QUICK else 1500
    right = lives(np.random.default_rng(4), count, "")
    for end in ("F", "R"):
        _share(f"90 % bands with the kit on, {end} corners", [h for one in right for h in one.held if h.what[0] == end])
    share = sum(bool(t.inside) for t in right) / count
    row("right jobs that end inside", "at least 88 %", f"{share:.1%} of {count}", met=share >= 0.88)
    faults: tuple[Fault, ...] = ("corner", "rear", "front")
    wrong = {f: lives(np.random.default_rng(5), count // 3, f) for f in faults}
    told = ", ".join(f"{f} {sum(t.named for t in n) / len(n):.0%}" for f, n in wrong.items())
    every = sum(t.named for n in wrong.values() for t in n) / sum(map(len, wrong.values()))
    row("planted faults named", "85 %", f"{every:.1%} of {count} ({told})", met=every >= 0.85)
    _doubted()


def _doubted() -> None:
    """Plant a wrong datum at one corner in sheets of two states, and none; count the sheets that are doubted."""
    rng, count = np.random.default_rng(8), 300 if QUICK else 1500
    told = {True: 0, False: 0}
    for wrong in told:
        for n in range(count):
            job = read_sheet(rng, KINDS_OF_LIFE[n % len(KINDS_OF_LIFE)], wrong=wrong)
            told[wrong] += any(f.key.startswith("corners-") for f in doubts(job))
    row(
        "wrong readings over 25 mm told, two states at four corners",
        "90 %",
        f"{told[True] / count:.1%} of {count}",
        met=told[True] >= 0.9 * count,
    )
    row("right sheets doubted", "at most 5 %", f"{told[False] / count:.1%} of {count}", met=told[False] <= 0.05 * count)


def loops() -> None:
    """Set, read and set again simulated vehicles, and count the changes until the tape says it is there."""
    count = 60 if QUICK else 300
    for known, words in ((True, "its maker's data"), (False, "a like kit's data")):
        found = loop_trials(np.random.default_rng(6), count, known=known)
        told = [sum(t.changes == n for t in found) for n in range(4)]
        text = f"{sum(told) / count:.1%} of {count} (at once {told[0]}, one change {told[1]}, two {told[2]}, three {told[3]})"
        row(f"loops that converge within three changes, {words}", "95 %", text, met=sum(told) >= 0.95 * count)


def demo_client() -> Any:
    """Return a client signed in as the lead of the demo world, in a database of its own."""
    os.environ |= {
        "VANTOK_VAR": tempfile.mkdtemp(),
        "VANTOK_PLAIN_HTTP": "1",
        "DJANGO_SETTINGS_MODULE": "vantok.settings",
    }
    import django

    django.setup()
    from django.core.management import call_command
    from django.test import Client

    from vantok.demo.world import build
    from vantok.people.models import User

    call_command("migrate", verbosity=0)
    call_command("collectstatic", verbosity=0, interactive=False)
    build()
    client = Client(headers={"host": "127.0.0.1"})
    client.force_login(User.objects.get(username="marit"), backend="django.contrib.auth.backends.ModelBackend")
    return client


def shelf() -> None:
    """Time Choose, its plot and the shelf with 2,000 kits, the desk read anew each time."""
    client = demo_client()
    from vantok.desk.load import Desk
    from vantok.records.jobs.models import Job
    from vantok.records.shelf.models import KitRecord, offered_kits

    models, count = list(KitRecord.objects.all()), 2000
    for n in range(count - len(models)):
        one = models[n % len(models)]
        data = one.data | {"code": f"N{n}", "name": f"{one.data['name']} {n}", "price": one.data["price"] + n % 97}
        KitRecord(code=data["code"], family=one.family, name=data["name"], data=data, offered=True).save()
    began = time.perf_counter()
    offered_kits()
    print(f"    kits read once, at the start of the program: {time.perf_counter() - began:.1f} s", flush=True)
    job = Job.objects.get(number="2026-041")
    worst = 0.0
    for address in (f"/jobs/{job.pk}/choose/", f"/jobs/{job.pk}/choose/plot/"):

        def page(asked: str = address) -> None:
            Desk.forget_all()
            assert client.get(asked).status_code == 200, asked

        spent = best_of(page, 1, 3)
        worst = max(worst, spent)
        print(f"    {address:28} {spent:6.2f} s", flush=True)
    row(f"Choose and its plot, {count} kits, the desk anew", "2 s", f"{worst:.2f} s", met=worst < 2.0)


def pages() -> None:
    """Time pages with 10,000 jobs in the database against an empty signed-in page."""
    client = demo_client()
    from django.db import connection
    from django.db.models import F
    from django.urls import reverse

    from vantok.records.garage.models import Customer, Vehicle
    from vantok.records.jobs.models import Job
    from vantok.urls import PAGES

    owners = Customer.objects.bulk_create(Customer(name=f"Customer {n}") for n in range(VEHICLES))
    vehicles = Vehicle.objects.bulk_create(Vehicle(customer=one, label="Pickup, leaf", body="pickup") for one in owners)
    Job.objects.bulk_create(
        Job(
            number=f"1999-{n:05d}",
            vehicle=vehicles[n % VEHICLES],
            verdict="Nothing is needed.",
            verdict_us="Nothing is needed.",
            stage="report",
        )
        for n in range(10_000)
    )
    Job.objects.filter(number__startswith="1999-").update(told_stamp=F("stamp"))
    repeats = 5 if QUICK else 15
    own = time.process_time  # a ratio of two: in the program's own time, which another program does not stretch
    empty = best_of(lambda: client.get("/jobs/import/"), repeats, clock=own)
    job = Job.objects.get(number="2026-038")
    worst, most = 0.0, 0
    for address in (
        "/",
        "/?q=clinic",
        "/garage/",
        "/shelf/",
        "/jobs/new/",
        "/find/job/?as=with&with=leaf",
        "/find/vehicle/?label=leaf",
        *(reverse(page, args=[job.pk]) for page in PAGES),
    ):
        caught: list[str] = []

        def count(execute: Any, sql: str, *rest: Any, log: list[str] = caught) -> Any:
            log.append(sql)
            return execute(sql, *rest)

        with connection.execute_wrapper(count):
            assert client.get(address).status_code == 200, address
        spent = best_of(partial(client.get, address), repeats, clock=own)
        most = max(most, len(caught))
        worst = max(worst, spent / empty)
        print(
            f"    {address:28} {spent * 1000:6.1f} ms  {spent / empty:4.1f} x empty ({empty * 1000:.1f} ms)  {len(caught)} queries",
            flush=True,
        )
    row(
        "a page, 10,000 jobs, against an empty page",
        "3 x, 12 queries",
        f"{worst:.1f} x, {most} queries",
        met=worst <= 3.0 and most <= 12,
    )
    live(client, job)
    first_load(client)
    save(row)
    growth(row, client)
    memory(row, client, 2_000 if QUICK else 20_000)
    chatter(row)


def live(client: Any, job: Any) -> None:
    """Time a live change and weigh its swap."""
    spent = best_of(
        lambda: client.get(f"/jobs/{job.pk}/set/trial/", {"left_pressure_pa": 310000, "right_pressure_pa": 320000}), 10
    )
    size = len(
        client.get(f"/jobs/{job.pk}/set/trial/", {"left_pressure_pa": 310000, "right_pressure_pa": 320000}).content
    )
    row(
        "a live change (slider)",
        "150 ms, 20 KB",
        f"{spent * 1000:.0f} ms on the server, {size / 1000:.1f} KB",
        met=spent < 0.15 and size < 20_000,
    )


SHEETS = ("base", "frame", "sheet", "board", "measure", "weigh", "walk", "choose", "report", "narrow")


def first_load(client: Any) -> None:
    """Add up what the first page brings over the wire, compressed as whitenoise serves it."""
    from django.contrib.staticfiles.storage import staticfiles_storage

    total = len(gzip.compress(client.get("/").content))
    names = [
        "vendor/bootstrap/bootstrap.min.css",
        *(f"vantok/{n}.css" for n in SHEETS),
        "vendor/htmx/htmx.min.js",
        *(f"vantok/{n}.js" for n in ("main", "send", "drafts", "cell", "walk", "plan", "keys")),
        "vantok/mark.svg",
    ]
    names += [
        f"vendor/fonts/barlow-{f}-normal.woff2"
        for f in ("latin-400", "latin-600", "condensed-latin-500", "condensed-latin-600")
    ]
    for name in names:
        path = Path(staticfiles_storage.path(staticfiles_storage.stored_name(name)))  # type: ignore[attr-defined] # of those with hashed names
        compressed = path.with_name(path.name + ".gz")
        total += (compressed if compressed.exists() else path).stat().st_size
    row("first load", "300 KB", f"{total / 1000:.0f} KB", met=total < 300_000)


def start() -> None:
    """Time a second start of the demo until it answers."""
    var = Path(tempfile.mkdtemp())
    env = os.environ | {"VANTOK_VAR": str(var)}
    times = []
    for _ in range(2):
        began = time.perf_counter()
        server = subprocess.Popen(
            [sys.executable, "run.py", "demo", "--port", "8799"], cwd=ROOT, env=env, stdout=subprocess.PIPE, text=True
        )
        assert server.stdout is not None
        for line in server.stdout:
            if line.startswith("Vantok is at"):
                break
        times.append(time.perf_counter() - began)
        server.terminate()
        server.wait()
    shutil.rmtree(var, ignore_errors=True)
    row(
        "start of the demo once installed",
        "5 s",
        f"{times[1]:.1f} s (first, building its data: {times[0]:.1f} s)",
        met=times[1] < 5.0,
    )


def main() -> None:
    """Measure all and print the table."""
    parts: dict[str, Callable[[], None]] = {
        "solves": solves,
        "bands": bands,
        "proofs": proofs,
        "loops": loops,
        "start": start,
        "people": lambda: people(row),
        "mistyped": lambda: mistyped(row),
        "kills": lambda: kills(row),
        "migrations": lambda: kills_migrating(row),
        "backup": lambda: backup(row),
        "shelf": shelf,
        "pages": pages,
        "ride": lambda: ride(row),
        "learn": lambda: learning(row),
        "hands": lambda: hands(row),
    }
    pace = best_of(lambda: sum(range(10_000_000)), 1)
    print(f"This machine: {os.cpu_count()} cores; ten million numbers added up in {pace:.2f} s.", flush=True)
    for name in [a for a in sys.argv[1:] if a in parts] or parts:
        begun = time.perf_counter()
        parts[name]()
        print(f"({name}: {time.perf_counter() - begun:.0f} s)", flush=True)
    width = [max(len(r[i]) for r in ROWS) for i in range(4)]
    print("\n" + "\n".join("  ".join(cell.ljust(w) for cell, w in zip(r, width, strict=True)) for r in ROWS))


if __name__ == "__main__":
    main()
