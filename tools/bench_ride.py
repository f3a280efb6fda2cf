"""The ride on this machine: the course on one clock, beside `scipy.integrate.solve_ivp` on the same equations, and the animation's pictures a second."""

from __future__ import annotations

import shutil
import tempfile
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
from playwright.sync_api import sync_playwright
from scipy.integrate import solve_ivp

from tools.shots import free_port, sign_in, start
from vantok_core.files.cases.run import shipped
from vantok_core.files.vehicle_file import read_states, read_vehicle
from vantok_core.physics.stance.states import solve_states
from vantok_core.road.course import DURATION, PIECES, Body, driven_over
from vantok_core.road.figures import figures
from vantok_core.road.ride_set import Damper, RidePoint, RideSet
from vantok_core.road.simulate import Ridden, Run, _System, drive_all, ridden

ROOT = Path(__file__).resolve().parent.parent
EIGHT = ("bump", "staggered", "ditch", "rail", "potholes", "washboard", "gravel", "motorway")
SPEEDS = dict(zip(EIGHT, (5.6, 4.2, 2.2, 8.3, 8.3, 11.1, 13.9, 25.0), strict=True))
Row = Callable[..., None]
RATE = 250.0


def lanes() -> list[tuple[Ridden, RideSet]]:
    """Return the eight pieces by four configurations of a worked example's vehicle: its rear springs from soft to stiff."""
    case = next(c for c in shipped() if c["kind"] == "ride")
    vehicle = read_vehicle(case["inputs"]["vehicle"])
    states = read_states(case["inputs"]["states"], vehicle.wheelbase)
    dampers = {"front": Damper(bump=1500.0, rebound=2500.0), "rear": Damper(bump=1500.0, rebound=2500.0)}
    points = (RidePoint(name="driver", station=1.0, lateral=0.4),)
    found = []
    for factor in (0.8, 1.0, 1.25, 1.6):
        own = vehicle.rear.spring
        changed = replace(vehicle, rear=replace(vehicle.rear, spring=replace(own, k=own.k * factor)))
        solved = solve_states(changed, states)[states[-1].name]
        for key in EIGHT:
            road, _ = driven_over(key, SPEEDS[key], PIECES[key].side, Body(area=10.0, height=1.0))
            run = RideSet(
                speed=SPEEDS[key],
                duration=DURATION,
                road=road,
                dampers=dampers,  # type: ignore[arg-type]
                points=points,
                sample_rate=RATE,
                arm=0.5,
            )
            found.append((ridden(changed, solved, run), run))
    return found


def felt(runs: list[Run]) -> np.ndarray:
    """Return the weighted figures at the seat (m/s2)."""
    return np.array([figures(run).weighted_rms["driver"] for run in runs])


def by_solver(told: list[tuple[Ridden, RideSet]], tolerance: float) -> tuple[float, np.ndarray]:
    """Return the seconds that `solve_ivp` takes for some lanes, one after the other, and their weighted figures; the roads are read off as ours are."""
    begun, found = time.perf_counter(), []
    for lane in told:
        system = _System([lane], 0.001, round(DURATION / 0.001) + 1)
        times = np.arange(round(DURATION * RATE) + 1) / RATE

        def rates(t: float, s: np.ndarray, system: _System = system) -> np.ndarray:
            changed: np.ndarray = system.rates(s[None, :], min(round(t / 0.001), len(system.road) - 1))[0]
            return np.asarray(changed[0])

        other = solve_ivp(
            rates, (0.0, DURATION), np.zeros(14), t_eval=times, rtol=tolerance, atol=tolerance * 1e-2, max_step=0.02
        )
        acc = np.array([rates(t, s)[7:] for t, s in zip(times, other.y.T, strict=True)])
        found.append(Run(set=lane[1], ridden=lane[0], x=other.y[:7].T, acc=acc, tyres=np.ones((len(times), 4))))
    return time.perf_counter() - begun, felt(found)


def ride(row: Row) -> None:
    """Measure the course, the same by `solve_ivp` at like accuracy, and the pictures a second."""
    told = lanes()
    took = min(_timed(lambda: drive_all(told)) for _ in range(3))
    fine = felt(drive_all(told, longest=0.00025))
    off = float(np.max(np.abs(felt(drive_all(told)) - fine)))
    row("eight pieces x four configurations", "under 3 s", f"{took:.2f} s", met=took < 3.0)
    some = told[:8]
    for tolerance in (1e-3, 1e-4, 1e-5, 1e-6):
        seconds, values = by_solver(some, tolerance)
        theirs = float(np.max(np.abs(values - fine[:8])))
        if theirs <= max(off, 2e-4):
            break
    ratio = seconds * len(told) / len(some) / took
    what = f"solve_ivp, rtol {tolerance:g} (off by {theirs:.1e} m/s2; ours {off:.1e}), all 32 by 8 of them"
    row(what, "20 times slower", f"{ratio:.0f} times", met=ratio >= 20.0)
    frames(row)


def _timed(call: Callable[[], Any]) -> float:
    begun = time.perf_counter()
    call()
    return time.perf_counter() - begun


def frames(row: Row) -> None:
    """Measure the animation's pictures a second in Chromium, two and four configurations, the page's first answer among it."""
    port, var = free_port(), Path(tempfile.mkdtemp())
    server = start(port, var)
    try:
        with sync_playwright() as play:
            browser = play.chromium.launch(executable_path=shutil.which("chromium"), args=["--no-sandbox"])
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            base = f"http://127.0.0.1:{port}"
            sign_in(page, base, "marit")
            page.goto(f"{base}/jobs/1/choose/")
            for piece, more in (("bump", ""), ("potholes", "&with=now&with=move&with=FW-M&with=FW-T")):
                begun = time.perf_counter()
                page.goto(f"{base}/jobs/1/road/?piece={piece}{more}")
                page.locator("[data-stage]").wait_for()
                first = time.perf_counter() - begun
                row(f"first answer of the road page, {piece}", "under 1 s", f"{first:.2f} s", met=first < 1.0)
                page.wait_for_timeout(4000)
                page.locator("[data-play]").click()
                page.wait_for_timeout(3500)
                shown = int(page.locator("[data-ride]").get_attribute("data-frames") or 0)
                row(f"pictures a second, {piece}", "60", str(shown), met=shown >= 59)
    finally:
        server.terminate()
        shutil.rmtree(var, ignore_errors=True)
