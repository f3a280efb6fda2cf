"""What the web tests share: the demo world, signed-in clients, pages as text."""

from __future__ import annotations

import re
import zlib
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from html import unescape
from typing import Any

from django.db import connection
from django.http import HttpResponse
from django.test import TestCase, override_settings
from django.test.utils import CaptureQueriesContext
from django.urls import reverse
from tools.forms import read_page

from tests.world import demo_world
from vantok.people.models import User
from vantok.records.jobs.models import Job
from vantok.records.measure.models import Reading
from vantok.records.weigh.models import LoadState

FAST = override_settings(
    PASSWORD_HASHERS=["django.contrib.auth.hashers.MD5PasswordHasher"],
    STORAGES={
        "default": {"BACKEND": "django.core.files.storage.InMemoryStorage"},
        "staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"},
    },
)


def words(response: HttpResponse) -> str:
    """Return a page's text without its tags."""
    html = re.sub(r"<(script|style|title).*?</\1>", " ", response.content.decode(), flags=re.DOTALL)
    return re.sub(r"\s+", " ", unescape(re.sub(r"<[^>]+>", " ", html)).replace("\u00a0", " "))


def pages_of(pdf: bytes) -> int:
    """Return how many pages a PDF has; its objects are packed into streams."""
    packed = re.findall(rb"stream\r?\n(.*?)\r?\nendstream", pdf, flags=re.DOTALL)
    told = b" ".join([pdf, *(_unpacked(one) for one in packed)])
    return len(re.findall(rb"/Type\s*/Page\b(?!s)", told))


def _unpacked(data: bytes) -> bytes:
    try:
        return zlib.decompress(data)
    except zlib.error:
        return b""  # a picture, or a font


@FAST
class DemoCase(TestCase):
    """The demo world, with Marit (lead, mm) signed in."""

    @classmethod
    def setUpTestData(cls) -> None:
        demo_world()

    def setUp(self) -> None:
        self.sign_in("marit")

    def sign_in(self, name: str) -> User:
        user = User.objects.get(username=name)
        self.client.force_login(user, backend="django.contrib.auth.backends.ModelBackend")
        return user

    def job(self, number: str) -> Job:
        return Job.every.get(number=number if "-" in number else f"2026-{number}")

    def page(self, name: str, job: Job | None = None, **more: Any) -> str:
        address = reverse(name, args=[job.pk] if job else [])
        response = self.client.get(address, more)
        self.assertEqual(response.status_code, 200, address)
        return words(response)

    @contextmanager
    def assertNumQueriesAtMost(self, most: int) -> Iterator[Callable[[], int]]:
        """Hold a block to a number of queries; gives what it took."""
        with CaptureQueriesContext(connection) as caught:
            yield lambda: len(caught)
        self.assertLessEqual(len(caught), most, [q["sql"][:90] for q in caught.captured_queries])

    def tell(self, page: str, told: dict[str, Any], **more: Any) -> HttpResponse:
        """Post what a hand fills in, as the form of the page that takes it would: with what that form carries unseen besides."""
        found = read_page(page, self.client.get(page).content.decode()).forms
        for form in found:
            hidden = {
                n: v
                for n, v in form.shown
                if n not in form.typed and n not in form.options and n != "csrfmiddlewaretoken"
            }
            takes = {*form.typed, *form.options, *(n for n, _ in form.buttons)}
            pressed = {n: v for n, v in told.items() if n in dict(form.buttons)}
            if all(n in takes or hidden.get(n) == str(v) for n, v in told.items()) and all(
                one in form.buttons for one in pressed.items()
            ):
                return self.client.post(form.action, hidden | told, **more)
        raise AssertionError(f"{page} has no form that takes {told}")

    def cell(
        self, job: Job, place: str, state: str = "loaded", phase: str = "before", datum: str = "ground_arch"
    ) -> str:
        record = LoadState.objects.get(job=job, key=state)
        return reverse("cell", args=[job.pk, record.pk, phase, datum, place])

    def seen(self, job: Job, place: str, state: str = "loaded", phase: str = "before") -> int:
        last = Reading.objects.filter(job=job, state__key=state, place=place, phase=phase, datum="ground_arch").last()
        return last.pk if last else 0
