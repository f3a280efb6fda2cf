"""Throw nonsense at everything: `python3 run.py fuzz [N [SEED]]`. What there is to throw at is found by walking the address table (`tools/pages.py`):
every page, fragment, file and fetched part with its queries, every form with its buttons, and every form that takes a file, given what the program
itself writes, spoilt. Nothing is named here, so nothing new is left out. A fixed seed, so that what breaks once breaks again; the count so far is printed.

A round throws at one job as one person; after it every address of that job is opened again: no server error, and nothing stored that breaks a page.
"""

from __future__ import annotations

import json
import os
import random
import shutil
import sys
import tempfile
from collections.abc import Callable, Iterator, Sequence
from contextlib import AbstractContextManager, contextmanager
from pathlib import Path
from typing import Any

if __name__ == "__main__":  # a database of its own; the tests bring theirs
    os.environ |= {
        "VANTOK_VAR": tempfile.mkdtemp(),
        "VANTOK_PLAIN_HTTP": "1",
        "DJANGO_SETTINGS_MODULE": "vantok.settings",
    }
    import django

    django.setup()

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.http import HttpResponse
from django.test import Client

from tools.forms import Form, read_page
from tools.pages import FILE, addresses
from vantok.desk.load import Desk
from vantok.people import once
from vantok.people.models import User
from vantok.records.jobs.models import Job

SEED = 20_261
ROUND = 1000
"""How many are thrown at a job before all its addresses are opened again."""
PEOPLE = ("marit", "marit", "tobin", "jude")
"""Who throws, in turn by chance: mostly whoever may do everything."""
REFUSED, FULL = 422, 507
"""What is answered to what cannot be, and where the disk is full: no fault of the program's where something strange was asked."""
PIECES = (
    "",
    "0",
    "-1",
    "-0",
    "1e9",
    "1e999",
    "nan",
    "inf",
    "²",
    "½",
    "1/0",
    "0/0",
    "12,5",
    "1,200",
    "5'",
    "9" * 60,
    "\u0000",
    "\u202e7",
    "😀",
    "<b>",
    "{x}",
    "%s",
    "'; --",
    "=1+1",
    "745 to 75",
    "to",
    "1 to 2 to 3",
    "true",
    "None",
    "[]",
    "on",
    "empty",
    "RL",
    "2026-13-45T99:99",
    "x" * 5000,
    "0.1",
    "50",
    "720",
    "3500",
    "12000",
    "1e-300",
    "0x10",
    "１２",
    "750 mm",
    "2' 5 1/2\"",
    "1200 lb",
    "40 psi",
    "-",
    ".",
    "e",
    " ",
)


def spoil(dice: random.Random, data: Any) -> Any:
    """Return a file's data with one entry, anywhere, replaced."""
    if isinstance(data, dict) and data and dice.random() < 0.9:
        key = dice.choice(sorted(data))
        return data | {key: spoil(dice, data[key])}
    if isinstance(data, list) and data and dice.random() < 0.9:
        place = dice.randrange(len(data))
        return [*data[:place], spoil(dice, data[place]), *data[place + 1 :]]
    return dice.choice([None, True, -1, 0, 10**30, 1e-300, -5.5, [], {}, "x" * 300, *PIECES])


def spoilt(dice: random.Random, name: str, whole: bytes) -> bytes:
    """Return a file the program wrote with one entry replaced, a cell of a table replaced, or cut off anywhere."""
    if dice.random() < 0.15:
        return whole[: dice.randrange(len(whole) + 1)]
    if name.endswith("json"):
        return json.dumps(spoil(dice, json.loads(whole))).encode("utf-8", "surrogatepass")
    lines = whole.decode("utf-8", "replace").splitlines() or [""]
    for _ in range(dice.randint(1, 3)):
        n = dice.randrange(len(lines))
        cells = lines[n].split(",")
        cells[dice.randrange(len(cells))] = dice.choice(PIECES)
        lines[n] = ",".join(cells)
    return "\n".join(lines).encode()


class Round:
    """What one person finds at one job, and what is thrown there; `broken` lists what went wrong."""

    def __init__(self, client: Client, job: Job, dice: random.Random) -> None:
        self.client, self.job, self.dice = client, job, dice
        self.broken: list[str] = []
        self.forms: list[Form] = []
        self.files: dict[str, bytes] = {}
        self.names: dict[str, list[str]] = {}

    def walk(self) -> None:
        """Open every address of the job, and take in its forms, its fields and its files."""
        self.forms, self.names = [], {}
        for address in dict.fromkeys(addresses(self.job)):
            if FILE.search(address) and self.files:
                continue  # dear to make, and thrown at like the others
            answer = self.asked("get", address, {})
            if answer is None:
                continue
            if answer.status_code == REFUSED:
                self.broken.append(f"a page that refuses to open at {address}")
            body = b"".join(answer) if answer.streaming else answer.content
            if address.endswith((".json", ".csv", "/file/")) and answer.status_code == 200:
                self.files[address] = body
            self.names[address] = []
            if "html" in answer.get("Content-Type", ""):
                page = read_page(address, body.decode())
                self.names[address] = sorted(page.names - {once.FIELD, "csrfmiddlewaretoken"})
                self.forms += [form for form in page.forms if not form.action.startswith("/sign-")]

    def throw(self) -> None:
        """Throw one thing at something."""
        kind = self.dice.random()
        takes_files = [form for form in self.forms if form.files]
        if kind < 0.12 and takes_files and self.files:
            self._file(self.dice.choice(takes_files))
        elif kind < 0.7 and self.forms:
            self._form(self.dice.choice(self.forms))
        else:
            self._address()

    def asked(self, how: str, address: str, told: dict[str, Any], **headers: str) -> HttpResponse | None:
        """Ask something; an answer that is a server's error is noted."""
        try:
            answer: HttpResponse = getattr(self.client, how)(address, told, headers=headers or None)
        except Exception as error:  # whatever breaks is what is looked for
            self.broken.append(f"{type(error).__name__}: {error} at {how} {address} {str(told)[:400]}")
            return None
        if answer.status_code >= 500 and answer.status_code != FULL:
            self.broken.append(f"{answer.status_code} at {how} {address} {str(told)[:400]}")
            return None
        return answer

    def _form(self, form: Form) -> None:
        """Send a form with one of its buttons, up to three of whatever it sends spoilt."""
        told = (form.pressed(self.dice.choice(form.buttons)) if form.buttons else form).data
        told.pop("csrfmiddlewaretoken", None)
        fields = sorted({*told, *form.options, *form.typed} - {once.FIELD, "action"}) or ["action"]
        for name in self.dice.sample(fields, min(len(fields), self.dice.randint(1, 3))):
            told[name] = [self.dice.choice((*form.options.get(name, ()), *PIECES))]
        self.asked("post", form.action, told, **self._by_script())

    def _file(self, form: Form) -> None:
        """Send a file the program itself wrote, spoilt, where a file is taken."""
        name = self.dice.choice(sorted(self.files))
        spoiled = spoilt(self.dice, name, self.files[name])
        self.asked("post", form.action, form.data | {form.files[0]: SimpleUploadedFile(f"f{name[-5:]}", spoiled)})

    def _address(self) -> None:
        """Ask an address, any of them, with up to three fields of its own page or of another's."""
        address = self.dice.choice([a for a in self.names if not FILE.search(a) or self.dice.random() < 0.05])
        own = self.names[address] or self.names[self.dice.choice(sorted(self.names))] or ["action"]
        told = {name: self.dice.choice(PIECES) for name in self.dice.choices(own, k=self.dice.randint(1, 3))}
        how = "post" if self.dice.random() < 0.4 and not address.startswith("/sign-") else "get"
        self.asked(how, address.partition("?")[0], told, **self._by_script())

    def _by_script(self) -> dict[str, str]:
        """Return the headers with which a page's own script asks, half of the time."""
        token = f"f{self.dice.random()}"
        return self.dice.choice(({}, {"hx-request": "true"}, {"hx-request": "true", "x-vantok-token": token}))


def run(
    jobs: Sequence[Job], count: int, seed: int, fresh: Callable[[], AbstractContextManager[object]], most: int = 200
) -> list[str]:
    """Throw a number of things at jobs in turn by chance, each round on the world as it was; return what broke, `most` of it."""
    dice, broken, thrown = random.Random(seed), list[str](), 0
    while thrown < count and len(broken) < most:
        with fresh():
            client = Client(headers={"host": "127.0.0.1"})
            person = User.objects.get(username=dice.choice(PEOPLE))
            client.force_login(person, backend="django.contrib.auth.backends.ModelBackend")
            one = Round(client, dice.choice(jobs), dice)
            one.walk()
            for _ in range(min(ROUND, count - thrown)):
                one.throw()
                thrown += 1
            one.walk()
        broken += [f"{person.username}, {one.job.number}: {told}" for told in one.broken]
        print(f"{thrown} thrown so far, {len(broken)} broke something", flush=True)
    return broken


def main() -> None:
    """Run it on a demo world of its own, put back as a file after each round."""
    from django.core.management import call_command

    from vantok.demo.world import build

    call_command("migrate", verbosity=0)
    call_command("collectstatic", verbosity=0, interactive=False)
    build()
    here = Path(connection.settings_dict["NAME"])
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    connection.close()
    kept = Path(shutil.copy(here, here.with_suffix(".kept")))

    @contextmanager
    def put_back() -> Iterator[None]:
        yield
        connection.close()
        for beside in (here.with_name(f"{here.name}-wal"), here.with_name(f"{here.name}-shm")):
            beside.unlink(missing_ok=True)
        shutil.copy(kept, here)
        once.forget_all()
        Desk.forget_all()

    count, seed = (*(int(a) for a in sys.argv[1:]), *(2000, SEED)[len(sys.argv) - 1 :])
    broken = run(list(Job.every.order_by("pk")), count, seed, put_back)
    print("\n".join(broken))
    print(f"{count} thrown, {len(broken)} broke something")
    sys.exit(bool(broken))


if __name__ == "__main__":
    main()
