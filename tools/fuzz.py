"""Throw nonsense at every form and every file: `python3 run.py fuzz [N [SEED]]`. A fixed seed, so that what breaks once breaks again;
another seed goes on where it left off. The count so far is printed on the way: a run that is stopped counts as far as it came.

After each input the job's pages are opened: no server error, and nothing stored that breaks a page.
"""

from __future__ import annotations

import json
import os
import random
import sys
import tempfile
from html.parser import HTMLParser
from typing import Any
from urllib.parse import urljoin

if __name__ == "__main__":  # a database of its own; the tests bring theirs
    os.environ |= {
        "VANTOK_VAR": tempfile.mkdtemp(),
        "VANTOK_PLAIN_HTTP": "1",
        "DJANGO_SETTINGS_MODULE": "vantok.settings",
    }
    import django

    django.setup()

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.urls import reverse

from vantok.records.jobs.models import Job
from vantok.urls import PAGES
from vantok_core.judge.benches.all import BENCHES
from vantok_core.practice.bay.drills import DRILLS

SEED = 20_261
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
QUICK = ("measure", "diagnose", "weigh")
FILES = {"import": "file", "readings-csv": "file", "photos": "photo", "by-phone": "push-file", "compare": "file"}


class Fields(HTMLParser):
    """The POST forms of a page: where they go, and every field with what stands in it."""

    def __init__(self) -> None:
        super().__init__()
        self.forms: list[tuple[str, dict[str, str]]] = []
        self.form: dict[str, str] | None = None
        self.select = ""

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        """Take in a form, a field, a button's own value."""
        told = {k: v or "" for k, v in attrs}
        if tag == "form":
            self.form = {}
            if told.get("method") == "post":
                self.forms.append((told.get("action", ""), self.form))
        elif self.form is not None and tag in ("input", "select", "textarea", "button") and told.get("name"):
            self.form.setdefault(told["name"], told.get("value", ""))
            self.select = told["name"] if tag == "select" else self.select
        elif tag == "option" and "selected" in told and self.form is not None:
            self.form[self.select] = told.get("value", "")


def spoil(dice: random.Random, data: Any) -> Any:
    """Return a file's data with one entry, anywhere, replaced."""
    if isinstance(data, dict) and data and dice.random() < 0.9:
        key = dice.choice(sorted(data))
        return data | {key: spoil(dice, data[key])}
    if isinstance(data, list) and data and dice.random() < 0.9:
        place = dice.randrange(len(data))
        return [*data[:place], spoil(dice, data[place]), *data[place + 1 :]]
    return dice.choice([None, True, -1, 0, 10**30, 1e-300, -5.5, [], {}, "x" * 300, *PIECES])


class Fuzz:
    """A signed-in client that throws things at a job; `broken` lists what went wrong."""

    def __init__(self, client: Client, seed: int = SEED) -> None:
        self.client, self.dice = client, random.Random(seed)
        self.broken: list[str] = []
        self.thrown = 0

    def forms(self, job: Job) -> list[tuple[str, dict[str, str]]]:
        """Return every form of every page of a job."""
        found = []
        pages = [reverse(name, args=[job.pk]) for name in PAGES]
        pages += [
            f"{reverse('measure', args=[job.pk])}?datum={d}"
            for d in (
                "hub_arch",
                "ground_point",
                "stop_gap",
                "bracket",
                "pad_to_pad",
                "ground_hitch",
                "rim_arch",
                "coil_gap",
                "access_hole",
            )
        ]
        pages += [
            reverse(name)
            for name in ("start", "bays", "shop", "instruments", "settings", "day", "recalls", "taught", "causes")
        ]
        pages.append(reverse("vehicle-page", args=[job.vehicle_id]))
        pages += [
            f"{reverse('kit-new')}?family=insert",
            *(reverse("kit-edit", args=[code]) for code in ("FW-M", "BD-R8", "CH-2")),
        ]
        item = job.states.filter(items__isnull=False).values_list("key", "items__pk").first()
        if item:
            pages.append(f"{reverse('weigh', args=[job.pk])}?state={item[0]}&item={item[1]}")
        for page in pages:
            reader = Fields()
            reader.feed(self.client.get(page).content.decode())
            found += [
                (urljoin(page, action), fields)
                for action, fields in reader.forms
                if not urljoin(page, action).startswith("/sign-")
            ]
        return found

    def throw(self, address: str, told: dict[str, Any], **headers: str) -> None:
        """Post something, and note an answer that is a server error."""
        self.thrown += 1
        try:
            answer = self.client.post(address, told, headers=headers or None)
            if answer.status_code >= 500 and answer.status_code != 507:
                self.broken.append(f"{answer.status_code} {address} {str(told)[:300]}")
        except Exception as error:
            self.broken.append(f"{type(error).__name__}: {error} at {address} {str(told)[:300]}")

    def look(self, address: str, told: dict[str, str] | None = None) -> None:
        """Open a page by its address, and note where it does not."""
        try:
            answer = self.client.get(address, told)
            if answer.status_code not in (200, 302):  # to the choice, where there is nothing to compare
                self.broken.append(f"{answer.status_code} at {address} {told or ''}")
        except Exception as error:
            self.broken.append(f"{type(error).__name__}: {error} at {address} {told or ''}")

    def open(self, job: Job, names: tuple[str, ...]) -> None:
        """Open pages of a job, and note what does not."""
        for name in names:
            self.look(reverse(name, args=[job.pk]))

    def run(self, jobs: list[Job], count: int) -> list[str]:
        """Throw a number of things at jobs in turn, forms and files; return what broke."""
        files = {job.pk: json.loads(self.client.get(reverse("job-file", args=[job.pk])).content) for job in jobs}
        while self.thrown < count and len(self.broken) < 20:
            job = self.dice.choice(jobs)
            forms = self.forms(job)
            for _ in range(min(40, count - self.thrown)):
                kind = self.dice.random()
                if kind < 0.15:
                    self._file(job, files[job.pk])
                elif kind < 0.25:
                    self._bench(job)
                elif kind < 0.3:
                    self._practice()
                else:
                    self._form(forms)
                if self.dice.random() < 0.2:
                    self.open(job, QUICK)
            self.open(job, PAGES)
            Job.objects.filter(pk=job.pk).update(done=False)
            if self.thrown % 2000 < 40:
                print(f"{self.thrown} thrown so far, {len(self.broken)} broke something", flush=True)
        return self.broken

    def _form(self, forms: list[tuple[str, dict[str, str]]]) -> None:
        address, fields = self.dice.choice(forms)
        told: dict[str, Any] = dict(fields)
        for name in self.dice.sample(sorted(told), min(len(told), self.dice.randint(1, 3))):
            told[name] = self.dice.choice(PIECES)
        if address.endswith("/report/") or "history" in address:
            told.pop("action", None)
        self.throw(
            address,
            told,
            **({"hx-request": "true", "x-vantok-token": f"f{self.thrown}"} if "/cell/" in address else {}),
        )

    def _bench(self, job: Job) -> None:
        """Spoil some fields of a bench, by its address and by its button."""
        bench = self.dice.choice(list(BENCHES.values()))
        names = [ask.name for ask in bench.asks]
        told = {
            name: self.dice.choice(PIECES) for name in self.dice.sample(names, min(len(names), self.dice.randint(1, 3)))
        }
        self.look(reverse("bench", args=[bench.key]), told | {"job": str(job.pk)})
        self.throw(
            reverse("bench", args=[bench.key]),
            told | {"job": str(job.pk), "to": self.dice.choice(("report", "kit", "card", "quote", "x"))},
        )

    def _practice(self) -> None:
        """Spoil what the practice bay is asked: the playground by its address, drills and cases by their buttons."""
        self.look(reverse("ground"), {name: self.dice.choice(PIECES) for name in ("vehicle", "load", "at", "question")})
        told = {
            name: self.dice.choice(PIECES) for name in ("n", "answer", "guess", "question", "code", "place-x", "due")
        }
        name = self.dice.choice(("ground", "puzzle", "wrong", "bay", "cases", "debates"))
        self.throw(reverse(name), told | {"action": self.dice.choice(("begin", "draw", "set", "make", "x"))})
        self.throw(reverse("drill", args=[self.dice.choice(sorted(DRILLS))]), told)

    def _file(self, job: Job, data: Any) -> None:
        name = self.dice.choice(sorted(FILES))
        address = reverse(name, args=[] if name == "import" else [job.pk])
        whole = name in ("import", "compare")
        text = (
            json.dumps(spoil(self.dice, data))
            if whole
            else "\n".join(",".join(self.dice.choices(PIECES, k=6)) for _ in range(5))
        )
        if self.dice.random() < 0.1:
            text = text[: self.dice.randrange(len(text) + 1)]
        more = (
            {"action": "push", "push-state": "loaded", "push-phase": "before", "push-axle": "rear"}
            if name == "by-phone"
            else {}
        )
        self.throw(address, more | {FILES[name]: SimpleUploadedFile("f.json", text.encode("utf-8", "surrogatepass"))})
        if name == "import":
            newest = Job.objects.latest("pk")
            if newest.pk != job.pk:
                self.open(newest, PAGES)


def main() -> None:
    """Run it on a demo world of its own."""
    from django.core.management import call_command

    from vantok.demo.world import build
    from vantok.people.models import User

    call_command("migrate", verbosity=0)
    call_command("collectstatic", verbosity=0, interactive=False)
    build()
    client = Client(headers={"host": "127.0.0.1"})
    client.force_login(User.objects.get(username="marit"), backend="django.contrib.auth.backends.ModelBackend")
    fuzz = Fuzz(client, int(sys.argv[2]) if len(sys.argv) > 2 else SEED)
    broken = fuzz.run(
        list(Job.objects.filter(number__startswith="2026-").order_by("pk")),
        int(sys.argv[1]) if len(sys.argv) > 1 else 2000,
    )
    print("\n".join(broken))
    print(f"{fuzz.thrown} thrown, {len(broken)} broke something")
    sys.exit(bool(broken))


if __name__ == "__main__":
    main()
