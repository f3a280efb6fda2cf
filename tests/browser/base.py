"""A real browser on a live server, watched: no request may leave the host, nothing may go wrong in the console."""

from __future__ import annotations

import os
import re
import shutil
from typing import ClassVar
from urllib.parse import urlparse

from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from playwright.sync_api import Browser, BrowserContext, Page, Playwright, expect, sync_playwright

from tests.web.base import FAST
from tests.world import demo_world
from vantok.demo.world import PASSWORD

os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = (
    "true"  # Playwright's loop runs in this thread; the ORM is used between its calls
)
expect.set_options(timeout=10_000)


@FAST
class BrowserCase(StaticLiveServerTestCase):
    """The demo world in Chromium at the tablet's size."""

    playwright: ClassVar[Playwright]
    browser: ClassVar[Browser]

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.playwright = sync_playwright().start()
        cls.browser = cls.playwright.chromium.launch(executable_path=shutil.which("chromium"), args=["--no-sandbox"])

    @classmethod
    def tearDownClass(cls) -> None:
        cls.browser.close()
        cls.playwright.stop()
        super().tearDownClass()

    def setUp(self) -> None:
        demo_world()
        self.trouble: list[str] = []
        self.expected_trouble: tuple[str, ...] = ()
        self.outside: list[str] = []
        self.contexts: list[BrowserContext] = []

    def tearDown(self) -> None:
        for context in self.contexts:
            context.close()
        self.assertEqual(self.outside, [], "requests that left the host")
        self.assertEqual(
            [t for t in self.trouble if not any(e in t for e in self.expected_trouble)], [], "console errors"
        )

    def sign_in(self, name: str) -> Page:
        """Return a page of a new browser profile, signed in."""
        context = self.browser.new_context(viewport={"width": 1280, "height": 800}, base_url=self.live_server_url)
        self.contexts.append(context)
        page = context.new_page()
        page.on("console", lambda m: self.trouble.append(m.text) if m.type == "error" else None)
        page.on("pageerror", lambda e: self.trouble.append(str(e)))
        page.on("request", self.watch)
        page.goto("/sign-in/")
        page.get_by_label("Name").fill(name)
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        expect(page.get_by_role("heading", name="Day board")).to_be_visible()
        return page

    def on_to_set(self, page: Page) -> None:
        """Go on from the fitting card, which opens once a kit is taken, to its setting."""
        page.wait_for_url(re.compile("/fit/"))
        page.locator("nav.stages").get_by_role("link", name="Set").click()

    def watch(self, request: object) -> None:
        url = urlparse(request.url)  # type: ignore[attr-defined]
        if url.scheme not in ("data", "blob") and url.hostname not in ("localhost", "127.0.0.1"):
            self.outside.append(request.url)  # type: ignore[attr-defined]
