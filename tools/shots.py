"""Refresh docs/screenshots from the demo world: `python3 run.py shots`. With names, only those; --out for a look elsewhere."""

from __future__ import annotations

import os
import shutil
import socket
import subprocess
import sys
import time
from pathlib import Path
from urllib.error import URLError
from urllib.request import urlopen

from playwright.sync_api import Page, sync_playwright

ROOT = Path(__file__).resolve().parent.parent
OUT = Path(sys.argv[sys.argv.index("--out") + 1]) if "--out" in sys.argv else ROOT / "docs" / "screenshots"
NAMES = [a for a in sys.argv[1:] if not a.startswith("--") and a != str(OUT)]
JOBS = {
    "oyster": 1,
    "puppets": 2,
    "bees": 3,
    "wagon": 4,
    "clinic": 5,
    "glider": 6,
    "dig": 7,
    "library": 8,
    "trees": 9,
    "reed": 10,
    "soup": 11,
    "rowing": 12,
    "joinery": 13,
    "kiln": 14,
    "choir": 15,
    "milk": 16,
    "looms": 17,
    "practice": 20,
}
OWN = {"practice": "jude"}
"""Who looks, where it is not the lead."""
VIEWS = {
    "board": "/",
    "inspect": f"/jobs/{JOBS['dig']}/inspect/",
    "vehicle": f"/jobs/{JOBS['dig']}/vehicle/",
    "weigh": f"/jobs/{JOBS['puppets']}/weigh/",
    "measure": f"/jobs/{JOBS['rowing']}/measure/#off",
    "diagnose": f"/jobs/{JOBS['reed']}/diagnose/",
    "choose": f"/jobs/{JOBS['oyster']}/choose/",
    "road": f"/jobs/{JOBS['trees']}/road/?piece=ditch&speed=8",
    "day": "/day/",
    "fit": f"/jobs/{JOBS['trees']}/fit/?gloves=1",
    "set": f"/jobs/{JOBS['clinic']}/set/",
    "bench": "/benches/yaw/?load_at=4.6 m",
    "prove": f"/jobs/{JOBS['glider']}/prove/",
    "report": f"/jobs/{JOBS['clinic']}/report/",
    "handbook": "/help/",
    "doctor": "/shop/doctor/",
    "audit": "/shop/audit/",
    "practice": f"/jobs/{JOBS['practice']}/measure/",
    "learnt": "/garage/learnt/",
}


def free_port() -> int:
    """Return a port that nobody uses."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def start(port: int, var: Path) -> subprocess.Popen[bytes]:
    """Start the demo on a fresh database and wait until it answers."""
    shutil.rmtree(var, ignore_errors=True)
    var.mkdir(parents=True)
    env = os.environ | {"VANTOK_VAR": str(var), "VANTOK_PLAIN_HTTP": "1", "VANTOK_DEMO": "1"}
    for command in (["migrate", "--verbosity", "0"], ["collectstatic", "--noinput", "--verbosity", "0"]):
        subprocess.run([sys.executable, "manage.py", *command], cwd=ROOT, env=env, check=True)
    server = subprocess.Popen([sys.executable, "-m", "vantok.serve", str(port), "demo"], cwd=ROOT, env=env)
    for _ in range(150):
        try:
            urlopen(f"http://127.0.0.1:{port}/sign-in/").close()
            return server
        except URLError:
            time.sleep(0.2)
    raise SystemExit("the demo did not start")


def sign_in(page: Page, base: str, name: str) -> None:
    """Sign in as a person of the demo."""
    page.goto(base + "/sign-in/")
    page.fill("#id_username", name)
    page.fill("#id_password", "ferry-landing")
    page.click("main button")


def main() -> None:
    """Take the pictures."""
    OUT.mkdir(parents=True, exist_ok=True)
    port = free_port()
    server = start(port, ROOT / "var" / "shots")
    try:
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=shutil.which("chromium"), args=["--no-sandbox"])
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            base = f"http://127.0.0.1:{port}"
            sign_in(page, base, "marit")
            for name, address in VIEWS.items():
                if not NAMES or name in NAMES:
                    if name in OWN:
                        page.context.clear_cookies()
                        sign_in(page, base, OWN[name])
                    page.goto(base + address)
                    if page.locator("#instruments").count():
                        page.locator(".live-steady").first.wait_for()
                    else:
                        page.wait_for_load_state("networkidle")
                    page.screenshot(path=OUT / f"{name}.png", full_page="--full" in sys.argv)
                    print(f"took {name}")
            browser.close()
    finally:
        server.terminate()


if __name__ == "__main__":
    main()
