"""A real browser on a live server, watched: no request may leave the host, nothing may go wrong in the console."""

from __future__ import annotations

import os
import re
import shutil
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any, ClassVar
from urllib.parse import urlparse

from django.contrib.staticfiles.handlers import StaticFilesHandler
from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.test import TestCase
from playwright.sync_api import Browser, BrowserContext, Locator, Page, Playwright, expect, sync_playwright

from tests.web.base import FAST
from tests.world import demo_world
from vantok.demo.world import PASSWORD
from vantok_core.procedure.card import Step

WRITTEN = {"pressure_pa": "2.5 bar", "spacer_m": "6 mm", "hole_count": "2", "link_count": "2", "click_count": "3"}
"""What a hand writes down of a setting, as made."""
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = (
    "true"  # Playwright's loop runs in this thread; the ORM is used between its calls
)
expect.set_options(
    timeout=40_000
)  # a busy machine is no fault: what is promised is that it comes, `run.py bench` says how soon


class Kept(StaticFilesHandler):
    """Styles and scripts that a browser keeps, as those of a real server: else each page asks for all of them anew."""

    def get_response(self, request: HttpRequest) -> HttpResponseBase:
        response = super().get_response(request)
        response["Cache-Control"] = "max-age=3600"
        return response


@FAST
class BrowserCase(StaticLiveServerTestCase):
    """The demo world in Chromium at the tablet's size."""

    static_handler = Kept
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

    def __getstate__(self) -> dict[str, Any]:
        """Return what any test has: what it holds of the browser besides does not go from one process to another."""
        return {name: self.__dict__[name] for name in TestCase().__dict__ if name in self.__dict__}

    def setUp(self) -> None:
        demo_world()
        self.trouble: list[str] = []
        self.expected_trouble: tuple[str, ...] = ()
        self.outside: list[str] = []
        self.contexts: list[BrowserContext] = []

    def tearDown(self) -> None:
        trouble = [*self.trouble]  # what closing it cuts off is none
        for context in self.contexts:
            context.close()
        self.assertEqual(self.outside, [], "requests that left the host")
        self.assertEqual([t for t in trouble if not any(e in t for e in self.expected_trouble)], [], "console errors")

    def sign_in(self, name: str, *, keeps: bool = False) -> Page:
        """Return a page of a new browser profile, signed in; keeps: the device keeps pages, which a test that looks into requests cannot have."""
        context = self.browser.new_context(
            viewport={"width": 1280, "height": 800},
            base_url=self.live_server_url,
            service_workers="allow" if keeps else "block",
            reduced_motion="reduce",  # a bar that moves while the server works would be drawn by the processor the server wants
        )
        context.set_default_timeout(90_000)
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

    @contextmanager
    def anew(self, page: Page) -> Iterator[None]:
        """Wait until what is pressed in the block has brought a new page: not one that an earlier press was still on its way to."""
        page.wait_for_load_state()
        page.evaluate("document.documentElement.dataset.before = ''")
        yield
        expect(page.locator("html[data-before]")).to_have_count(0)
        page.wait_for_load_state()

    def on_to_set(self, page: Page) -> None:
        """Go on from the fitting card, which opens once a kit is taken, to its setting."""
        page.wait_for_url(re.compile("/fit/"))
        page.locator("nav.stages").get_by_role("link", name="Set").click()

    def pick(self, page: Page, group: str, words: str) -> None:
        """Choose by a small drawing: its group unfolded, the drawing touched."""
        box = page.get_by_role("group", name=group)
        box.locator("summary").click()
        box.get_by_text(words, exact=True).click()

    def grade(self, page: Page, what: str, grade: str) -> None:
        """Touch a grade of the drive sheet."""
        page.locator("fieldset.touched", has_text=what).get_by_text(grade, exact=True).click()

    def unfold(self, page: Page, words: str) -> None:
        """Open what is folded under a heading."""
        page.locator("summary", has_text=words).first.click()

    def read_cell(self, page: Page, label: str, text: str) -> None:
        """Type a height into its cell, and wait until it is stored."""
        cell = page.get_by_label(label)
        cell.fill(text)
        cell.press("Enter")
        expect(page.locator("form[data-cell]", has=cell)).to_contain_text(":")

    def drag(self, held: Locator, right: float, down: float, *, drop: bool = True) -> None:
        """Take hold of something by its middle and drag it, in pixels; let go of it unless it is to be held."""
        held.scroll_into_view_if_needed()
        box = held.bounding_box()
        assert box is not None
        x, y, mouse = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2, held.page.mouse
        mouse.move(x, y)
        mouse.down()
        mouse.move(x + right / 2, y + down / 2, steps=4)
        mouse.move(x + right, y + down, steps=4)
        if drop:
            mouse.up()

    def leave_step(self, page: Page, step: Step) -> None:
        """Leave a step of the card with gloves on, by keys alone: each point and each fastener for itself, what is to be written, a gate held for a second."""
        expect(page.locator(".step:visible .step-words").first).to_have_text(step.words)
        shown = page.locator(".step:visible")
        for _ in range(shown.locator(".so input").count()):
            page.keyboard.press("Space")
        fact = shown.locator("[name=fact]")
        if fact.count() and step.fact != "leftovers" and not fact.input_value():
            if fact.evaluate("e => e.tagName") == "SELECT":
                fact.select_option(index=1)
            else:
                page.keyboard.type(WRITTEN.get(step.fact, "as it was"))
                page.keyboard.press("Tab")
        for _ in range(shown.locator("fieldset.each").count()):
            page.keyboard.press("Space")  # its figure reached; by feel where it has none
        expect(shown.locator(".step-done")).to_be_focused()
        if step.gate:
            page.keyboard.down("Space")
            expect(page.locator(f".step input[value='{step.key}']")).to_have_count(0)
            page.keyboard.up("Space")
        else:
            page.keyboard.press("Space")

    def watch(self, request: object) -> None:
        url = urlparse(request.url)  # type: ignore[attr-defined]
        if url.scheme not in ("data", "blob") and url.hostname not in ("localhost", "127.0.0.1"):
            self.outside.append(request.url)  # type: ignore[attr-defined]
