"""Nonsense into every form of every page: never an error page, never a changed figure, always a reason in words."""

from django.core import serializers
from django.urls import reverse
from tools.forms import read_page

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
"""What people, scanners and pasted text put into fields."""
TOO_MUCH = "88888"
"""A figure that reads, and lies over the bounds of whatever is asked there."""
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
EITHER_WAY = (
    "station_m",
    "lateral_m",
    "overhang_m",
    "gain",
    "behind_ball_m",
    "station",
    "lateral",
    "rake_m",
)
"""A place may lie ahead of the axle, a gain may be either way."""


def figures() -> str:
    """Return everything measured, weighed and known, as text."""
    models = (Vehicle, LoadState, LoadItem, TrailerItem, Reading, Bay)
    return serializers.serialize("json", [row for model in models for row in model.objects.order_by("pk")])


class Nonsense(DemoCase):
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
            for form in read_page(address, self.client.get(address).content.decode()).forms:
                for field in form.typed:
                    if field.split("-")[-1] in QUIET:
                        continue
                    for text in (TOO_MUCH, NONSENSE[tried % len(NONSENSE)]):
                        tried += 1
                        if text == "-5" and field.endswith(EITHER_WAY):
                            continue
                        answer = self.client.post(
                            form.action,
                            form.data | {field: [text]},
                            headers={"hx-request": "true"} if "/cell/" in form.action else None,
                        )
                        self.assertLess(answer.status_code, 500, (form.action, field, text))
                        for never in ("<script>alert", "Ensure this"):
                            self.assertNotIn(never, answer.content.decode(), (form.action, field, text))
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
