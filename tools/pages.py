"""Every address of the program and every form on its pages, found by walking: nothing is named by hand, so nothing new is left out."""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field, replace
from html.parser import HTMLParser
from itertools import cycle
from typing import Any

from django.apps import apps
from django.db import transaction
from django.urls import URLPattern, URLResolver, get_resolver

from vantok.desk.load import Desk
from vantok.people import once
from vantok.records.jobs.models import Job
from vantok.records.measure.models import Photo
from vantok.records.practice.models import Done
from vantok.records.shelf.models import KitRecord
from vantok_core.judge.benches.all import BENCHES
from vantok_core.practice.bay.drills import DRILLS

CODE = re.compile(
    r"\d-\d\dT\d\d:|\b20\d\d-\d\d-\d\d\b"  # a moment or a day as the database writes it
    r"|(?<![\w/])[a-z]+_[a-z_]+\b|\bNone\b|\bTrue\b|Value error|Traceback|<class|\{[\w%. ]*\}"  # names and values of the code
    r"|\[['\"\d][^\]]*\]|\b\d{4,} Pa\b|\b\d[\d.]* Pa\b"  # lists, pascals
    r"|\b(?:kg|lb|%) left\b|(?:gap|travel|droop|stroke|margin) left\b"  # left is a side
)
"""What no page says, and no answer to a form: words of the code, not of the trade."""
FILE = re.compile(r"\.(pdf|csv|zip|json|ics|js)$|/file/$")
"""Addresses of files: dear to make, and without a form."""
UNSEEN = ("csrfmiddlewaretoken", once.FIELD)


def patterns() -> Iterator[tuple[str, str, Any]]:
    """Yield every route of the address table: its text, its name, its view."""

    def walk(found: list[Any], before: str) -> Iterator[tuple[str, str, Any]]:
        for one in found:
            if isinstance(one, URLResolver):
                yield from walk(one.url_patterns, before + str(one.pattern))
            elif isinstance(one, URLPattern):
                yield before + str(one.pattern), str(one.name), one.callback

    yield from walk(get_resolver().url_patterns, "")


def addresses(job: Job) -> Iterator[str]:
    """Yield every address of the program, those of a job with this one's parts put in."""
    state, photo, kit = job.states.last(), Photo.objects.filter(job=job).first(), KitRecord.objects.first()
    act = Done.objects.filter(run__job=job, kind="log").first()
    parts = {
        "<int:state>": [str(state.pk) if state else ""],
        "<slug:phase>": ["before"],
        "<slug:datum>": ["ground_arch"],
        "<slug:place>": ["FL"],
        "<slug:code>": [kit.code if kit else ""],
        "<path:number>": [job.number],
        "<slug:kind>": ["bench"],
        "<int:act>": [str(act.pk if act else 0)],
    }
    for route, name, _ in patterns():
        keys = {"bench": list(BENCHES), "drill": list(DRILLS), "handbook-page": list(BENCHES)}.get(
            name, ["nothing", kit.code if kit else ""]
        )
        own = parts | {"<slug:key>": keys}
        pk = photo.pk if name == "photo" and photo else job.vehicle_id if route.startswith("garage") else job.pk
        found = [f"/{route}".replace("<int:pk>", str(pk))]
        for part, values in own.items():
            found = [one.replace(part, value) for one in found for value in values]
        for one in found:
            if "<" in one:
                raise AssertionError(f"nothing is known to put into {one}")
            yield from (
                [one] if name not in ("weigh", "scales", "trailer", "condition") else [one, f"{one}?state={state.key}"]
            )


@dataclass(frozen=True, slots=True, kw_only=True)
class Form:
    """A form of a page: where it goes, what it sends as it is shown, what its buttons add, and which of its fields a hand fills in."""

    page: str
    action: str
    shown: tuple[tuple[str, str], ...]
    buttons: tuple[tuple[str, str], ...]
    typed: tuple[str, ...]
    options: dict[str, tuple[str, ...]]
    files: tuple[str, ...] = ()
    keep: str = ""
    looks: bool = False

    @property
    def key(self) -> tuple[str, ...]:
        """What makes it another form than one seen before: the hidden fields' names, not their figures."""
        page = "".join(c for c in self.page.partition("?")[0] if not c.isdigit())
        action = "".join(c for c in self.action.partition("?")[0] if not c.isdigit())
        acts = tuple(f"{k}={v}" for k, v in (*self.shown, *self.buttons) if k == "action")
        return (page, action, *acts, *sorted(set(self.typed)))

    @property
    def data(self) -> dict[str, Any]:
        """What it sends untouched, with its first button."""
        told: dict[str, list[str]] = {}
        for name, value in (*self.shown, *(b for b in self.buttons[:1] if b[0])):
            told.setdefault(name, []).append(value)
        return told

    @property
    def seen(self) -> bool:
        """Whether it carries what it showed."""
        return any(name in ("seen", "shown") or name.endswith("-seen") for name, _ in self.shown)

    def filled(self, *texts: str) -> dict[str, Any]:
        """Return what it sends with these texts, in turn, in the fields that a hand fills in."""
        return self.data | {name: [text] for name, text in zip(sorted(self.typed), cycle(texts), strict=False)}

    def pressed(self, button: tuple[str, str]) -> Form:
        """Return it with another button pressed."""
        return replace(self, buttons=(button,))


@dataclass
class _Page(HTMLParser):
    address: str
    forms: list[Form] = field(default_factory=list)
    ids: list[str] = field(default_factory=list)
    numbers: list[str] = field(default_factory=list)
    names: set[str] = field(default_factory=set)

    def __post_init__(self) -> None:
        super().__init__()
        self._form: dict[str, Any] | None = None
        self._select: dict[str, Any] | None = None
        self._area: str | None = None
        self._text = ""

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        told = {k: v or "" for k, v in attrs}
        if "id" in told:
            self.ids.append(told["id"])
        if tag == "form":
            self._form = {
                "told": told,
                "shown": [],
                "buttons": [],
                "typed": [],
                "options": {},
                "files": [],
                "looks": False,
            }
        if tag in ("input", "select", "textarea", "button") and told.get("name"):
            self.names.add(told["name"])
        if tag == "input" and told.get("type") == "number":
            self.numbers.append(told.get("name", ""))
        if self._form is not None and "data-looks" in told:
            self._form["looks"] = True
        if self._form is not None and not told.get("form"):
            self._field(tag, told, self._form)

    def _field(self, tag: str, told: dict[str, str], form: dict[str, Any]) -> None:
        if tag == "input":
            self._input(told)
        elif tag == "select":
            self._select = {"name": told.get("name", ""), "options": [], "chosen": []}
        elif tag == "option" and self._select is not None:
            self._select["options"].append(told.get("value", ""))
            if "selected" in told:
                self._select["chosen"].append(told.get("value", ""))
        elif tag == "textarea":
            self._area, self._text = told.get("name", ""), ""
        elif tag == "button" and told.get("type", "submit") == "submit":
            form["buttons"].append((told.get("name", ""), told.get("value", "")))

    def _input(self, told: dict[str, str]) -> None:
        assert self._form is not None
        name, kind = told.get("name", ""), told.get("type", "text")
        if kind == "file":
            self._form["files"] += [name] if name else []
        elif kind in ("checkbox", "radio"):
            self._form["options"].setdefault(name, []).append(told.get("value", "on"))
            if "checked" in told:
                self._form["shown"].append((name, told.get("value", "on")))
        elif name:
            self._form["shown"].append((name, told.get("value", "")))
            if kind not in ("hidden", "submit"):
                self._form["typed"].append(name)

    def handle_data(self, data: str) -> None:
        if self._area is not None:
            self._text += data

    def handle_endtag(self, tag: str) -> None:
        if tag == "textarea" and self._area is not None and self._form is not None:
            self._form["shown"].append((self._area, self._text.lstrip("\n")))
            self._form["typed"].append(self._area)
            self._area = None
        if tag == "select" and self._select is not None and self._form is not None:
            name, options = self._select["name"], self._select["options"]
            self._form["options"][name] = options
            self._form["shown"] += [(name, v) for v in self._select["chosen"] or options[:1]]
            self._select = None
        if tag == "form" and self._form is not None:
            found, self._form = self._form, None
            if found["told"].get("method", "get").lower() != "post":
                return
            self.forms.append(
                Form(
                    page=self.address,
                    action=found["told"].get("action") or self.address,
                    shown=tuple(found["shown"]),
                    buttons=tuple(found["buttons"]),
                    typed=tuple(found["typed"]),
                    options={k: tuple(v) for k, v in found["options"].items()},
                    files=tuple(found["files"]),
                    keep=found["told"].get("data-keep", ""),
                    looks=found["looks"],
                )
            )


def read_page(address: str, html: str) -> _Page:
    """Return what a page holds: its forms, its ids, the names of its fields, those that a browser would empty in silence."""
    found = _Page(address)
    found.feed(html)
    return found


@contextmanager
def undone() -> Iterator[None]:
    """Carry out the block and undo all it stored."""
    point = transaction.savepoint()
    try:
        yield
    finally:
        transaction.savepoint_rollback(point)
        once.forget_all()
        Desk.forget_all()


QUIET = (
    "django_session",
    "people_taken",
    "people_act",
    "axes_accessattempt",
    "axes_accesslog",
    "axes_accessfailurelog",
)


def counts() -> dict[str, int]:
    """Return how many rows each table has, but for those of sessions and names."""
    tables = apps.get_models(include_auto_created=True)
    return {one._meta.db_table: one._base_manager.count() for one in tables if one._meta.db_table not in QUIET}
