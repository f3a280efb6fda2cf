"""Nonsense into every form of every page: never an error page, never a changed figure, always a reason in words."""

from html.parser import HTMLParser
from typing import Any
from urllib.parse import urljoin

from django.core import serializers
from django.urls import reverse

from tests.web.base import DemoCase, words
from vantok.records.garage.models import Vehicle
from vantok.records.jobs.models import Bay, Job
from vantok.records.measure.models import Reading
from vantok.records.weigh.models import LoadItem, LoadState, TrailerItem

NONSENSE = (
    "twelve",
    "-5",
    "nan",
    "1e999",
    "inf",
    "1/0",
    "3 4/0",
    "--",
    "<script>alert(1)</script>",
    "9" * 39,
    "0x1F",
    "1.2.3",
    "½½",
    "\u202e12",
    "1,2,3",
)
EACH = 4
"""How many pieces of it each field gets, in turn."""
"""What people, scanners and pasted text put into fields."""
QUIET = (
    "name",
    "conditions",
    "note",
    "caption",
    "customer",
    "label",
    "words",
    "later",
    "notes",
    "reason",
    "target_reason",
    "target_source",
    "variant",
    "plate",
    "vin",
    "what",
    "q",
)
"""Fields that take any words."""


class Forms(HTMLParser):
    """The POST forms of a page: where they go, and their fields with what stands in them."""

    def __init__(self) -> None:
        super().__init__()
        self.found: list[dict[str, Any]] = []
        self.all: list[dict[str, Any]] = []
        self.form: dict[str, Any] | None = None
        self.select = self.area = ""

    def handle_data(self, data: str) -> None:
        if self.area and self.form is not None:
            self.form["fields"][self.area] += data

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        told = {k: v or "" for k, v in attrs}
        if tag == "form":
            self.form = {
                "method": told.get("method", "get"),
                "action": told.get("action", ""),
                "fields": {},
                "texts": [],
                "buttons": [],
            }
        if self.form is None:
            return
        name = told.get("name", "")
        if tag == "input" and name and told.get("type", "text") not in ("file", "checkbox", "radio", "range"):
            self.form["fields"][name] = told.get("value", "")
            if told.get("type", "text") in ("text", "number"):
                self.form["texts"].append(name)
        if tag == "input" and name and told.get("type") in ("checkbox", "radio") and "checked" in told:
            self.form["fields"][name] = told.get("value", "on")
        if tag == "textarea" and name:
            self.form["fields"][name] = ""
            self.area = name
        if tag == "select":
            self.select = name
            self.form["fields"].setdefault(name, "")
        if tag == "option" and self.select and "selected" in told:
            self.form["fields"][self.select] = told.get("value", "")
        if tag == "button" and name:
            self.form["buttons"].append((name, told.get("value", "")))

    def handle_endtag(self, tag: str) -> None:
        if tag == "select":
            self.select = ""
        if tag == "textarea" and self.form is not None:
            self.form["fields"][self.area] = self.form["fields"][self.area].removeprefix("\n")
            self.area = ""
        if tag == "form" and self.form is not None:
            self.all.append(self.form)
            if self.form["method"] == "post" and self.form["texts"]:
                self.found.append(self.form)
            self.form = None


def figures() -> str:
    """Return everything measured, weighed and known, as text."""
    models = (Vehicle, LoadState, LoadItem, TrailerItem, Reading, Bay)
    return serializers.serialize("json", [row for model in models for row in model.objects.order_by("pk")])


class Nonsense(DemoCase):
    def forms(self, address: str) -> list[dict[str, Any]]:
        parser = Forms()
        parser.feed(self.client.get(address).content.decode())
        return parser.found

    def pages(self) -> list[str]:
        job, fitted = self.job("042"), self.job("038")
        item = LoadItem.objects.filter(state__job=job).first()
        assert item is not None
        weigh = reverse("weigh", args=[job.pk])
        own = [
            reverse(name, args=[job.pk])
            for name in ("vehicle", "scales", "trailer", "coach", "measure", "walk", "choose")
        ]
        bay = Bay.objects.first()
        assert bay is not None
        return [
            *own,
            f"{weigh}?item={item.pk}",
            f"{weigh}?new=1",
            f"{reverse('measure', args=[job.pk])}?datum=ground_point",
            reverse("set", args=[fitted.pk]),
            reverse("prove", args=[fitted.pk]),
            f"{reverse('bays')}?bay={bay.pk}",
        ]

    def test_no_field_takes_what_is_no_figure(self) -> None:
        """Each figure's field of each form, given each piece of nonsense, answers with a page, and every stored figure stands."""
        before, tried = figures(), 0
        for address in self.pages():
            for form in self.forms(address):
                action = urljoin(address, form["action"])
                button = dict(form["buttons"][:1])
                for field in form["texts"]:
                    if field.split("-")[-1] in QUIET:
                        continue
                    tried += EACH
                    for n in range(EACH):
                        text = NONSENSE[(tried + n) % len(NONSENSE)]
                        if text == "-5" and field.endswith(
                            (
                                "station_m",
                                "lateral_m",
                                "overhang_m",
                                "gain",
                                "behind_ball_m",
                                "station",
                                "lateral",
                                "rake_m",
                            )
                        ):
                            continue  # a place may lie ahead of the axle, a gain may be either way
                        told = form["fields"] | button | {field: text}
                        answer = self.client.post(
                            action, told, headers={"hx-request": "true"} if "/cell/" in action else None
                        )
                        self.assertLess(answer.status_code, 500, (action, field, text))
                        self.assertNotIn("<script>alert", answer.content.decode(), (action, field, text))
        self.assertGreater(tried, 250)
        self.maxDiff = 600
        self.assertEqual(figures(), before)

    def test_the_reason_names_what_was_typed(self) -> None:
        """A figure that does not read is quoted in its reason, beside a field that still holds it."""
        job = self.job("042")
        answer = self.client.post(
            reverse("vehicle", args=[job.pk]),
            {"label": "x", "body": "van", "hitch_kind": "ball", "wheelbase_m": "three metres"},
        )
        self.assertContains(answer, 'value="three metres"', status_code=422)
        self.assertIn("“three metres” does not read as a length; write it like 748, 75 cm, 29 1/2", words(answer))

    def test_ids_that_are_not_ours_find_nothing(self) -> None:
        """An item, state, point, instrument, bay or photograph of another job, or none, is not found and changes nothing."""
        job, other = self.job("042"), LoadItem.objects.filter(state__job=self.job("041")).first()
        state = LoadState.objects.get(job=job, key="loaded")
        assert other is not None
        before = figures()
        for page, told in (
            ("weigh", {"action": "remove-item", "item": other.pk}),
            ("weigh", {"action": "save-item", "item": "x"}),
            ("weigh", {"action": "add-usual", "usual": "moon rock"}),
            ("limits", {"action": "move", "item": other.pk}),
            ("trailer", {"action": "remove", "item": "0"}),
            ("take", {"instrument": "0"}),
        ):
            try:
                answer = self.client.post(reverse(page, args=[job.pk]), {"state": state.pk} | told)
            except ValueError:
                self.fail(f"{page} {told} broke")
            self.assertEqual(answer.status_code, 404, (page, told))
        for told in ({"action": "fly"}, {}):  # what nobody has a right to is refused before anything is looked for
            self.assertEqual(
                self.client.post(reverse("weigh", args=[job.pk]), {"state": state.pk} | told).status_code, 403
            )
        self.assertEqual(self.client.get(reverse("weigh", args=[job.pk]), {"state": "elsewhere"}).status_code, 404)
        self.assertEqual(self.client.get(reverse("photo", args=[77])).status_code, 404)
        self.assertEqual(figures(), before)
        self.assertTrue(Job.objects.filter(pk=job.pk).exists())
