"""One walk over every address and every form on it: as shown, twice, empty, strange, too long, signed out, as each role, and from a stale page."""

from __future__ import annotations

from collections import defaultdict
from typing import Any

from django.http import HttpResponse
from django.test import Client
from django.urls import reverse
from tools.forms import Form, read_page
from tools.pages import CODE, FILE, addresses, counts, undone

from tests.web.base import DemoCase, words
from vantok.fields.finding import OFFERED
from vantok.records.garage.models import Customer, Vehicle
from vantok.records.jobs.models import STAGES, Job
from vantok.urls import PAGES

JOBS = ("038", "046", "031")
"""A job with its kit on, one with its card half done, and one that came for no height."""
_FORMS: dict[tuple[str, tuple[str, ...]], list[Form]] = {}
"""The forms found by a person's walk over some jobs: the demo world is the same for every test of a process."""
LONG = "9" * 150
STRANGE = (("",), (LONG, "\x00\ufeff𝟗½'\"><{{x}}", "9999-12-31"))
"""What is typed into the fields of a form, in turn: nothing at all; too much, what is no figure, a day that is none."""

DRAWN = "/practice/drills/"
"""Pages drawn by chance: another each time."""
MORE, PAGE_OF = 60, 30
"""Customers, vehicles and jobs more than the demo has; links that a page of a list may gain by them."""


class Walked(DemoCase):
    """Pages are read once for all tests of a role."""

    def setUp(self) -> None:
        super().setUp()
        self.client.raise_request_exception = False

    def forms(self, jobs: tuple[str, ...] = JOBS) -> list[Form]:
        """Return the forms of every page, one of each kind, as the person signed in sees them."""
        key = (self.client.session.get("_auth_user_id", ""), jobs)
        if key not in _FORMS:
            _FORMS[key] = self._walked(jobs)
        return _FORMS[key]

    def _walked(self, jobs: tuple[str, ...]) -> list[Form]:
        found: dict[tuple[str, ...], Form] = {}
        for address in dict.fromkeys(one for number in jobs for one in addresses(self.job(number))):
            if FILE.search(address):
                continue
            answer = self.client.get(address)
            self.assertLess(answer.status_code, 500, address)
            if answer.status_code == 200 and "html" in answer["Content-Type"]:
                for form in read_page(address, answer.content.decode()).forms:
                    found.setdefault(form.key, form)
        return [f for f in found.values() if not f.action.startswith(("/sign-", "/units/"))]

    def plain(self, answer: HttpResponse, where: object) -> None:
        """Hold a page to the words of the trade; what somebody typed is theirs."""
        if "html" in answer.get("Content-Type", ""):
            said = CODE.search(words(answer).replace(STRANGE[1][1], "").replace(STRANGE[1][2], ""))
            self.assertIsNone(said, (where, said and said.string[max(said.start() - 60, 0) : said.end() + 60]))

    def post(self, form: Form, data: dict[str, Any], client: Client | None = None, **headers: str) -> HttpResponse:
        told = {k: v for k, v in data.items() if k != "csrfmiddlewaretoken"}
        answer = (client or self.client).post(form.action, told, headers=headers or None)
        self.assertLess(answer.status_code, 500, (form.page, form.action, str(data)[:300], words(answer)[-400:]))
        self.plain(answer, (form.page, form.action))
        return answer


class EveryAddress(Walked):
    def test_every_page_of_every_job_opens_for_every_role(self) -> None:
        """No address answers with an error; no id stands twice; no field is of a kind that browsers empty in silence; no moment is told as the
        database writes it; every form carries its name."""
        walked: dict[str, set[str]] = defaultdict(set)
        for person, jobs in (
            ("marit", ("041", "038", "046", "044")),
            ("tobin", ("041",)),
            ("jude", ("038", "P-0001")),
        ):
            self.sign_in(person)
            for number in jobs:
                for address in sorted(set(addresses(self.job(number))) - walked[person]):
                    if FILE.search(address) and number != jobs[0]:
                        continue  # a file is made of each role's first job
                    walked[person].add(address)
                    answer = self.client.get(address)
                    with self.subTest(person=person, address=address):
                        self.assertIn(answer.status_code, (200, 204, 302, 403, 404, 405))
                        if answer.status_code != 200 or "html" not in answer["Content-Type"]:
                            continue
                        found = read_page(address, answer.content.decode())
                        self.assertEqual(sorted({i for i in found.ids if found.ids.count(i) > 1}), [])
                        self.assertEqual(found.numbers, [])
                        self.plain(answer, address)
                        for form in found.forms:
                            named = form.data.get("once", [""])[0] or form.looks or form.action.startswith("/sign-in")
                            self.assertTrue(named, form.action)

    def test_the_pages_of_every_demo_job_speak_the_trades_words(self) -> None:
        """Every page of all demo jobs, the stages of those under way in either unit system: no word of the code, no template, no figure that is none."""
        stages = tuple(stage for stage, _ in STAGES)
        for person, names, jobs in (
            ("marit", PAGES, Job.objects.all()),
            ("tobin", (*stages, "inspect"), Job.objects.filter(done=False)),
        ):
            self.sign_in(person)
            for job in jobs:
                for name in names:
                    with self.subTest(person=person, job=job.number, name=name):
                        self.plain(self.client.get(reverse(name, args=[job.pk])), name)

    def test_what_is_shown_for_filling_in_carries_what_it_showed(self) -> None:
        """A form with fields that show something stored knows what it showed, or only ever adds."""
        for form in self.forms():
            shows = [n for n, v in form.shown if v and n in form.typed]
            with self.subTest(form=form.key):
                self.assertTrue(form.seen or not shows or form.keep == "draft", shows)


class EveryForm(Walked):
    def test_as_shown_twice_empty_and_strange(self) -> None:
        """Sent as shown it is taken or says why, and never quarrels with itself; sent twice it is stored once; nothing in a field breaks a page."""
        self._each(self.forms())

    def test_those_of_the_practice_bay_likewise(self) -> None:
        """A trainee's own practice job and the bay's pages, where everything of a job is the trainee's to do."""
        self.sign_in("jude")
        own = f"/jobs/{self.job('P-0001').pk}/"
        self._each(
            [
                f
                for f in self.forms(("P-0001",))
                if f.page.startswith((f"{own}bay", f"{own}choose", f"{own}prove", "/practice/"))
            ]
        )

    def _each(self, forms: list[Form]) -> None:
        for form in forms:
            for button in form.buttons or (("", ""),):
                one = form.pressed(button) if button[0] else form
                with self.subTest(form=one.key, button=button), undone():
                    first = self.post(one, one.data)
                    if one.seen and one.keep != "draft" and "baseline stands" not in words(first):
                        self.assertIn(first.status_code, (200, 204, 302), words(first)[-600:])
                    after = counts()
                    self.post(one, one.data)
                    self.assertEqual(counts(), after)
            for text in STRANGE if form.typed else ():
                with self.subTest(form=form.key, text=text[0][:20]), undone():
                    if self.post(form, form.filled(*text)).status_code in (204, 302):
                        self.assertLess(self.client.get(form.page).status_code, 500)


class SignedOut(Walked):
    def test_signed_out_nothing_is_taken(self) -> None:
        """Without a sign-in every form leads to it, a script is told so, and nothing is stored."""
        stranger = Client()
        for form in self.forms(("041",)):
            before = counts()
            with self.subTest(form=form.key):
                self.assertEqual(self.post(form, form.data, stranger).status_code, 302)
                self.assertEqual(self.post(form, form.data, stranger, x_vantok_token="t").status_code, 401)
                self.assertEqual(counts(), before)


class Stale(Walked):
    def test_a_stale_page_overwrites_nothing(self) -> None:
        """A field changed elsewhere since the page was shown is a conflict said at it: what stands stays."""
        held = 0
        for form in self.forms():
            texts = [(n, v) for n, v in form.shown if n in form.typed and v and v.replace(".", "", 1).isdigit()]
            if not form.seen or not texts:
                continue
            name, value = texts[0]
            mine, theirs = (f"{float(value) + more:.6g}" for more in (7.0, 3.0))
            with self.subTest(form=form.key, field=name), undone():
                other = self.post(form, form.data | {name: [theirs], "once": ["x"]})
                if other.status_code != 302:
                    continue
                again = self.post(form, form.data | {name: [mine]})
                conflict = 409 if again.get("X-Vantok-Refused") == "conflict" else again.status_code
                self.assertEqual(conflict, 409, (name, value, words(again)[-300:]))
                held += 1
        self.assertGreater(held, 8)


class Grown(Walked):
    def seen(self, job: Job) -> dict[str, tuple[int, int]]:
        """Return how much each page offers to choose from, and how many links it has."""
        found = {}
        for address in dict.fromkeys(one for one in addresses(job) if not FILE.search(one) and DRAWN not in one):
            answer = self.client.get(address)
            if answer.status_code == 200 and "html" in answer["Content-Type"]:
                text = answer.content.decode()
                found[address] = (text.count("<option"), text.count("<a "))
        return found

    def test_no_page_grows_with_the_shop(self) -> None:
        """With sixty customers, vehicles and jobs more there is no more to choose from on any page, nor more than a page of anything."""
        job = self.job("046")
        before = self.seen(job)
        owners = [Customer(name=f"Customer {n}") for n in range(MORE)]
        Customer.objects.bulk_create(owners)
        Vehicle.objects.bulk_create(Vehicle(customer=one, label=f"Vehicle of {one}", body="van") for one in owners)
        for vehicle in Vehicle.objects.filter(customer__in=owners):
            n = int(vehicle.label.split()[-1])
            Job.objects.create(number=f"1998-{n:03d}", vehicle=vehicle, done=bool(n % 2))
        after = self.seen(job)
        self.assertGreater(len(before), 90)
        self.assertEqual(
            {page: (before[page][0], one[0]) for page, one in after.items() if one[0] > before[page][0]}, {}
        )
        self.assertEqual({page: one[1] for page, one in after.items() if one[1] > before[page][1] + PAGE_OF}, {})
        for text, number in (("Vehicle of Customer 17", "1998-017"), ("1998-017", "1998-017"), ("17", "")):
            said = self.client.get(reverse("find-job"), {"as": "with", "with": text}).content.decode()
            self.assertLessEqual(said.count("<option"), OFFERED)
            self.assertTrue(not number or f'value="{number}"' in said)
        known = words(self.client.get(reverse("find-vehicle"), {"label": "vehicle", "customer": "customer 17"}))
        self.assertIn("Vehicle of Customer 17", known)
        self.assertNotIn("Vehicle of Customer 16", known)
