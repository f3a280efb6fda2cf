#!/usr/bin/env python3
"""Vantok's one launcher. Standard library only; everything else it installs into `.venv` by itself.

python3 run.py demo          build what is missing, fill an empty database with the demo world, serve it
python3 run.py serve         the same without demo data
python3 run.py test [NAMES]  install what is missing, run every test (or those named)
python3 run.py check         format, lint, types, layers, migrations, the house, twelve rules broken, deploy check
python3 run.py shots [NAMES] refresh docs/screenshots from the demo world (or those named)
python3 run.py bench         measure the figures of the design and print the table
python3 run.py solve FILE    solve a job file, print the results as JSON
python3 run.py lead NAME      make a person of the shop a lead again, at this machine
python3 run.py backup [DIR]  back the shop up into one proven file, while it serves
python3 run.py doctor        look whether data, machine and arithmetic are well, and say what to do
python3 run.py restore FILE  prove a backup, then put it in place; what it replaces is kept
python3 run.py fuzz [N [SEED]] throw N pieces of nonsense at every address, form and file
python3 run.py mutants [N [SEED]] break N rules by chance, one at a time; print the share that tests notice
python3 run.py phrases [WORD] print all that Vantok says, room by room; WORD: of rooms whose name has it
python3 run.py instruments   serve a simulated set of wheel pads, axle scale and tongue scale on a socket
python3 run.py cases FILE    run a file of worked cases against the core
"""

from __future__ import annotations

import argparse
import hashlib
import os
import shutil
import subprocess
import sys
import time
import venv
from collections.abc import Callable
from pathlib import Path

ROOT = Path(__file__).resolve().parent
VENV = ROOT / ".venv"
PYTHON = VENV / "bin" / "python"
VAR = Path(os.environ.get("VANTOK_VAR", ROOT / "var"))
LIBRARIES = ("libpango-1.0-0", "libpangoft2-1.0-0")
PORT = 8710
TICK = 5.0
"""How often a long step says that it is still at it, s."""


LONG = {"migrate": "bringing the database up to date", "collectstatic": "gathering the static files"}
"""What of Django's commands may take long, and what it is at."""


def say(text: str) -> None:
    """Print progress at once."""
    print(text, flush=True)


def run(*command: object, env: dict[str, str] | None = None, check: bool = True, long: str = "") -> int:
    """Run a command in the project; leave with its code when it fails and must not. long: what it is at, said every few seconds until it ends."""
    process = subprocess.Popen([str(part) for part in command], cwd=ROOT, env=environment() | (env or {}))
    begun = time.monotonic()
    try:
        while True:
            try:
                code = process.wait(TICK if long else None)
                break
            except subprocess.TimeoutExpired:
                say(f"  {long}: {time.monotonic() - begun:.0f} s so far ...")
    except BaseException:
        process.terminate()
        process.wait()
        raise
    if code and check:
        sys.exit(code)
    return code


def environment() -> dict[str, str]:
    """Return the environment in which the project's own Python runs; the usual data folder is made, a named one is not."""
    if "VANTOK_VAR" not in os.environ:
        VAR.mkdir(parents=True, exist_ok=True)
    own = {
        "PYTHONPATH": f"{ROOT / 'src'}{os.pathsep}{ROOT}",
        "DJANGO_SETTINGS_MODULE": "vantok.settings",
        "VANTOK_VAR": str(VAR),
    }
    return os.environ | own


def install(*names: str) -> None:
    """Make the virtual environment and install the locked requirements, when they have changed."""
    made_last = VENV / "bin" / "pip"  # without it the making was cut off, and is done again
    if not made_last.exists():
        say("Making the virtual environment in .venv ...")
        try:
            venv.create(VENV, with_pip=True)
        except (OSError, subprocess.CalledProcessError) as error:
            sys.exit(f"Could not make it ({error}). On Debian: apt-get install python3-venv")
    for name in names:
        lock = ROOT / "requirements" / f"{name}.txt"
        stamp = VENV / f"installed-{name}"
        digest = hashlib.sha256(lock.read_bytes()).hexdigest()
        if not stamp.exists() or stamp.read_text() != digest:
            say(f"Installing the {name} requirements (a few minutes the first time) ...")
            pip = (PYTHON, "-m", "pip", "install", "--quiet", "--disable-pip-version-check", "-r", lock)
            if run(*pip, check=False, long=f"installing the {name} requirements"):
                sys.exit(
                    f"That did not work. Run this again, it goes on where it stopped; or by hand: {' '.join(map(str, pip))}"
                )
            stamp.write_text(digest)


def system_packages(wanted: dict[str, bool]) -> None:
    """Install missing Debian packages where that is allowed, else say what to install."""
    lacking = [name for name, present in wanted.items() if not present]
    if not lacking:
        return
    by_hand = f"apt-get install {' '.join(lacking)}"
    if shutil.which("apt-get") is None or os.geteuid() != 0:
        say(f"Missing: {', '.join(lacking)}. Install them with: {by_hand}")
        return
    say(f"Installing {', '.join(lacking)} from Debian ...")
    quiet = {"DEBIAN_FRONTEND": "noninteractive"}
    run("apt-get", "update", "-qq", env=quiet, check=False, long="asking Debian what there is")
    wanted_now = ("apt-get", "install", "-y", "-qq", "--no-install-recommends", *lacking)
    if run(*wanted_now, env=quiet, check=False, long=f"installing {', '.join(lacking)}"):
        say(f"That did not work; install by hand: {by_hand}")


def has_library(name: str) -> bool:
    """Tell whether Debian's package is installed."""
    asked = subprocess.run(["dpkg-query", "-W", "-f=${Status}", name], capture_output=True, text=True, check=False)
    return "install ok installed" in asked.stdout


def pdf_libraries() -> dict[str, bool]:
    """Return WeasyPrint's system libraries and whether each is there."""
    if shutil.which("dpkg-query") is None:
        return {}
    return {name: has_library(name) for name in LIBRARIES}


def manage(*arguments: object, check: bool = True, env: dict[str, str] | None = None) -> int:
    """Run a Django command."""
    return run(PYTHON, "manage.py", *arguments, check=check, env=env, long=LONG.get(str(arguments[0]), ""))


def prepare() -> None:
    """Bring database and static files up to date; cheap when they are."""
    stamp = VAR / "prepared"
    state = source_state()
    if (
        stamp.exists()
        and stamp.read_text() == state
        and (VAR / "vantok.sqlite3").exists()
        and (VAR / "static").is_dir()
    ):
        return
    no_empty_shop()
    say("Bringing the database and the static files up to date ...")
    manage("migrate", "--verbosity", "0")
    manage("collectstatic", "--noinput", "--clear", "--verbosity", "0")
    stamp.write_text(state)


def no_empty_shop() -> None:
    """End an interrupted restore, and never make an empty database in silence where a shop was."""
    sys.path.insert(0, str(ROOT / "src"))
    from vantok.backup.folder import InUseError, finish, shop_of, was_used  # noqa: PLC0415 - standard library only, as here

    environment()  # makes the usual data folder, where somebody took it away to begin anew
    if not VAR.is_dir():
        sys.exit(f"The data folder {VAR} is not there. Put it back, or make it first if this is a new shop.")
    try:
        with shop_of(VAR, "starting"):
            if finish(VAR):
                say("A restore that was interrupted has been brought to its end.")
    except InUseError as error:
        sys.exit(str(error))
    if not (VAR / "vantok.sqlite3").exists() and was_used(VAR) and os.environ.get("VANTOK_NEW_SHOP") != "1":
        sys.exit(
            f"There was a shop in {VAR}, and its database is gone. Put it back, or bring a backup back: python3 run.py restore FILE.\n"
            "To begin a new, empty shop in this folder all the same: VANTOK_NEW_SHOP=1 python3 run.py serve"
        )


def prepared_from() -> list[Path]:
    """Return every file that the database and the static files follow from, in whichever room it stands."""
    return [
        *ROOT.glob("src/vantok/**/migrations/*.py"),
        *ROOT.glob("src/vantok/static/**/*"),
        ROOT / "requirements/runtime.txt",
    ]


def source_state() -> str:
    """Return a digest of what migrations and static files depend on: their names, sizes and times."""
    rows = [f"{p}:{p.stat().st_size}:{p.stat().st_mtime_ns}" for p in sorted(prepared_from()) if p.is_file()]
    return hashlib.sha256("\n".join(rows).encode()).hexdigest()


def serve(port: int, *, demo: bool, tls_host: str = "") -> None:
    """Serve on this machine with the production server; `tls_host`: the name by which a TLS front end on it is reached."""
    if "VANTOK_VAR" in os.environ and not VAR.is_dir():
        sys.exit(f"The data folder {VAR} is not there. Put it back, or make it first if this is a new shop.")
    install("runtime")
    system_packages(pdf_libraries())
    if tls_host:
        os.environ |= {"VANTOK_HOSTS": tls_host, "VANTOK_BEHIND_PROXY": "1"}
        os.environ.pop("VANTOK_PLAIN_HTTP", None)
    else:
        os.environ |= {"VANTOK_PLAIN_HTTP": "1"} | ({"VANTOK_DEMO": "1"} if demo else {})
    prepare()
    os.execve(PYTHON, [str(PYTHON), "-m", "vantok.serve", str(port), *(["demo"] if demo else [])], environment())  # noqa: S606


def browser_packages() -> dict[str, bool]:
    """Return what browser tests need and whether it is there."""
    return {"chromium": shutil.which("chromium") is not None, **pdf_libraries()}


def check() -> None:
    """Run every check that needs no running application."""
    install("runtime", "dev")
    tool = VENV / "bin"
    steps: list[tuple[str, list[object], dict[str, str]]] = [
        ("format", [tool / "ruff", "format", "--check", "."], {}),
        ("lint", [tool / "ruff", "check", "."], {}),
        ("types", [tool / "mypy", "src", "tools"], {}),
        ("layers", [tool / "lint-imports"], {}),
        ("migrations", [PYTHON, "manage.py", "makemigrations", "--check", "--dry-run"], {}),
        ("house", [PYTHON, "manage.py", "test", "tests.core.test_house"], {"VANTOK_PLAIN_HTTP": "1"}),
        ("mutants", [PYTHON, "tools/mutants.py", "--named"], {}),
        ("deploy", [PYTHON, "manage.py", "check", "--deploy", "--fail-level", "WARNING"], {}),
    ]
    failed = []
    for name, command, env in steps:
        say(f"--- {name}")
        if run(*command, env=env, check=False):
            failed.append(name)
    if failed:
        sys.exit(f"Checks failed: {', '.join(failed)}")
    say("All checks pass.")


def test(names: list[str]) -> None:
    """Run the tests."""
    install("runtime", "dev")
    system_packages(browser_packages())
    plain = {"VANTOK_PLAIN_HTTP": "1", "VANTOK_VAR": str(VAR / "test")}
    (VAR / "test").mkdir(parents=True, exist_ok=True)
    manage("collectstatic", "--noinput", "--verbosity", "0", env=plain)
    sys.exit(
        manage(
            "test",
            *(names or ["tests"]),
            "-t",
            ".",
            "--timing",
            "--noinput",
            "--parallel",
            "auto",
            check=False,
            env=plain,
        )
    )


def main() -> None:
    """Read the command line and do it."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    commands = parser.add_subparsers(dest="command", required=True)
    for name in ("demo", "serve"):
        commands.add_parser(name).add_argument("--port", type=int, default=PORT)
    commands.choices["serve"].add_argument("--tls-host", default="")
    commands.add_parser("backup").add_argument("folder", nargs="?")
    commands.add_parser("restore").add_argument("file")
    commands.add_parser("lead").add_argument("name")
    commands.add_parser("fuzz").add_argument("count", nargs="*", type=int, default=[2000])
    commands.add_parser("mutants").add_argument("count", nargs="*", type=int, default=[100])
    commands.add_parser("test").add_argument("names", nargs="*")
    commands.add_parser("phrases").add_argument("word", nargs="*")
    for name in ("check", "shots", "bench", "doctor"):
        commands.add_parser(name)
    commands.add_parser("instruments", add_help=False)  # its own options go through to it
    solve = commands.add_parser("solve")
    solve.add_argument("file")
    solve.add_argument("--units", choices=["metric", "us"], default="metric")
    solve.add_argument("--working", action="store_true")
    commands.add_parser("cases").add_argument("file")
    asked, more = parser.parse_known_args()
    if more and asked.command not in ("instruments", "bench", "shots", "mutants"):
        parser.error(f"not known: {' '.join(more)}")
    DO[asked.command](asked, more)


def tool(asked: argparse.Namespace, more: list[str]) -> None:
    """Run one of the tools that need everything."""
    install("runtime", "dev")
    system_packages(browser_packages())
    count = getattr(asked, "count", [])
    env = {"VANTOK_PLAIN_HTTP": "1", "VANTOK_DEMO": "1"}
    sys.exit(run(PYTHON, ROOT / "tools" / f"{asked.command}.py", *count, *more, env=env, check=False))


def archive(asked: argparse.Namespace, _: list[str]) -> None:
    """Back up, or bring a backup back."""
    install("runtime")
    told = [Path(t).absolute() for t in (getattr(asked, "folder", None), getattr(asked, "file", None)) if t]
    sys.exit(run(PYTHON, "-m", "vantok.backup.command", asked.command, *told, check=False))


def doctor(*_: object) -> None:
    """Look whether all is well; at a shop that is there."""
    install("runtime")
    if not (VAR / "vantok.sqlite3").exists():
        sys.exit(f"There is no shop in {VAR}.")
    sys.exit(run(PYTHON, "-m", "vantok.doctor.command", env={"VANTOK_PLAIN_HTTP": "1"}, check=False))


def lead(asked: argparse.Namespace, _: list[str]) -> None:
    """Make a person a lead, by whoever has this machine."""
    install("runtime")
    if not (VAR / "vantok.sqlite3").exists():
        sys.exit(f"There is no shop in {VAR}.")
    prepare()
    sys.exit(run(PYTHON, "-m", "vantok.people.lead", asked.name, env={"VANTOK_PLAIN_HTTP": "1"}, check=False))


def instruments(_: argparse.Namespace, more: list[str]) -> None:
    """Serve the simulated instruments."""
    install("runtime")
    sys.exit(run(PYTHON, "-m", "vantok.instruments.simulated", *more, check=False))


def core(asked: argparse.Namespace, _: list[str]) -> None:
    """Solve a job file, or run worked cases."""
    install("runtime")
    how = ["--units", asked.units, *(["--working"] if asked.working else [])] if asked.command == "solve" else []
    sys.exit(run(PYTHON, "-m", "vantok_core.files.command", asked.command, asked.file, *how, check=False))


DO: dict[str, Callable[[argparse.Namespace, list[str]], None]] = {
    "demo": lambda asked, _: serve(asked.port, demo=True),
    "serve": lambda asked, _: serve(asked.port, demo=False, tls_host=asked.tls_host),
    "test": lambda asked, _: test(asked.names),
    "check": lambda *_: check(),
    "instruments": instruments,
    "lead": lead,
    "doctor": doctor,
    "phrases": lambda asked, _: run(sys.executable, ROOT / "tools" / "phrases.py", *asked.word),
    **dict.fromkeys(("shots", "bench", "fuzz", "mutants"), tool),
    **dict.fromkeys(("backup", "restore"), archive),
    **dict.fromkeys(("solve", "cases"), core),
}


if __name__ == "__main__":
    main()
