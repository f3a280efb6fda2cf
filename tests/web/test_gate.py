"""Nobody past the gate: rights by action, the same for page, fragment, file and history; first start; sessions; failures in words."""

import os
import re
import socket
import ssl
import stat
import subprocess
import sys
import tempfile
import time
from http.client import HTTPSConnection
from pathlib import Path
from threading import Thread
from typing import Any
from unittest.mock import patch

import trustme
from django.conf import settings
from django.core.files.storage import default_storage
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import OperationalError, connection
from django.http import HttpResponse
from django.test import Client, RequestFactory, TestCase
from django.urls import URLPattern, URLResolver, get_resolver, resolve, reverse
from tools.pages import addresses

from tests.web.base import FAST, DemoCase, words
from tests.web.test_measure import picture
from vantok.people.access import accesses, as_markdown
from vantok.people.acts import Acting, act
from vantok.people.gate import OPEN, right_of
from vantok.people.models import Act, Shop, User
from vantok.people.rights import RIGHTS, may
from vantok.records.choose.models import Fitting
from vantok.records.garage.models import Vehicle
from vantok.records.jobs.models import Inspection, Job
from vantok.records.measure.models import Photo, Reading
from vantok.records.shelf.models import KitRecord


def views() -> list[tuple[str, Any]]:
    """Return every address of the program with its view."""
    found: list[tuple[str, Any]] = []

    def walk(patterns: list[Any]) -> None:
        for pattern in patterns:
            if isinstance(pattern, URLResolver):
                walk(pattern.url_patterns)
            elif isinstance(pattern, URLPattern):
                found.append((str(pattern.name), pattern.callback))

    walk(get_resolver().url_patterns)
    return found


class Rights(DemoCase):
    def test_every_view_that_can_be_posted_to_names_its_rights(self) -> None:
        """Deny by default: each view with a post has rights, all of them known; an action it does not name is refused."""
        posting = 0
        for name, view in views():
            kind = getattr(view, "view_class", None)
            if name in OPEN or not hasattr(kind, "post"):
                continue
            posting += 1
            rights = kind.rights
            self.assertTrue(rights, name)
            for right in rights.values() if isinstance(rights, dict) else [rights]:
                self.assertIn(right, RIGHTS, name)
            if isinstance(rights, dict) and "*" not in rights:
                self.assertIsNone(right_of(kind, "no such action"), name)
        self.assertGreater(posting, 25)
        self.assertFalse(may(User.objects.get(username="marit"), "no such right"))

    def test_what_a_page_can_be_told_is_what_its_forms_tell(self) -> None:
        """Each act of a page has a form or a script that asks for it, and each name that a form asks by is some page's act or question: none is left behind."""
        pages = "".join(p.read_text(encoding="utf-8") for p in (settings.ROOT / "src/vantok/templates").rglob("*.html"))
        told = set(re.findall(r'name="action"\s+value="(?:\{% if [^%]*%\})?([a-z-]+)', pages))
        told |= set(re.findall(r"\{% else %\}([a-z-]+)\{% endif %\}\"", pages)) | {"", "*"}
        acts: dict[str, str] = {}
        for _, view in views():
            acts |= getattr(getattr(view, "view_class", None), "acts", {})
        self.assertGreater(len(acts), 60)
        self.assertLessEqual(set(acts), told)

    def test_an_act_is_done_by_its_own_right(self) -> None:
        """A method marked for two rights asks each for its own posts; one marked without a name takes every other post; an unmarked one takes none."""

        class Page(Acting):
            @act("set", "tick")
            @act("overrule", "pass")
            def _leave(self) -> HttpResponse:
                return HttpResponse(self.right)

            @act("measure")
            def _other(self) -> HttpResponse:
                return HttpResponse("other")

        self.assertEqual(Page.rights, {"tick": "set", "pass": "overrule", "*": "measure"})
        for asked, answer in (("tick", "set"), ("pass", "overrule"), ("leave", "other"), ("_leave", "other")):
            page = Page()
            page.request = RequestFactory().post("/", {"action": asked})
            self.assertEqual(page.post(page.request).content.decode(), answer)  # type: ignore[attr-defined]
        self.assertFalse(hasattr(Acting, "post"))

    def test_the_document_is_what_the_views_declare(self) -> None:
        """docs/security.md ends in the tables that are made of the views."""
        page = Path(settings.ROOT / "docs" / "security.md").read_text(encoding="utf-8")
        self.assertTrue(page.endswith(as_markdown()))

    def test_every_address_signed_out_and_as_each_role(self) -> None:
        """Signed out nothing opens but what is for strangers. Each role gets no page that is not theirs, and is refused every action whose right is not
        theirs, and told whose it is; on the lead's page all of it stands with who and where."""
        job, asked, refused = self.job("041"), 0, 0
        told = {one.name: one for one in accesses()}
        by_name: dict[str, str] = {}
        for address in addresses(job):
            by_name.setdefault(resolve(address.partition("?")[0]).url_name or "", address)
        self.assertEqual(set(told), set(by_name))
        stranger = Client()
        for name, address in by_name.items():
            with self.subTest(name, role="stranger"):
                for answer in (stranger.get(address), stranger.post(address, {"action": "x"})):
                    self.assertTrue(told[name].open or answer.status_code in (302, 401), answer.status_code)
                    self.assertTrue(told[name].open or answer.get("Location", "/sign-in/").startswith("/sign-in/"))
        for username in ("jude", "tobin"):
            person = User.objects.get(username=username)
            self.client.force_login(person)
            for name, address in by_name.items():
                one, asked = told[name], asked + 1
                if one.open:
                    continue
                with self.subTest(name, role=person.rank):
                    seen = self.client.get(address).status_code == 403
                    self.assertEqual(seen, bool(one.looks) and not may(person, one.looks))
                    for action, right in one.does:
                        if not may(person, right):
                            answer = self.client.post(address, {"action": action})
                            refused += 1
                            self.assertEqual(answer.status_code, 403)
                            self.assertIn(" is for ", words(answer))
        self.assertGreater(asked, 200)
        self.assertEqual(Act.objects.filter(refused=True).count(), refused)
        self.sign_in("marit")
        self.client.post(reverse("shop"), {"name": "Saltmarsh Towing"})
        page = words(self.client.get(reverse("audit")))
        self.assertIn("Jude", page)
        self.assertIn("refused", page)

    def refused(self, address: str, told: dict[str, Any], why: str) -> None:
        answer = self.client.post(address, told)
        self.assertEqual(answer.status_code, 403, (address, words(answer)[:300]))
        self.assertIn(why, words(answer))
        self.assertIn("To the day board", words(answer))

    def test_a_trainee_measures_inspects_and_proposes_and_no_more(self) -> None:
        """Each thing a trainee could do before and may not is refused on a page with a sentence, and changes nothing; what is theirs works."""
        job, fitted = self.job("041"), self.job("038")
        Inspection.objects.create(job=job, area="coils", grade="fault", note="broken")
        self.client.post(reverse("photos", args=[job.pk]), {"photo": picture((9, 9)), "caption": "the lead's"})
        photo = Photo.objects.get()
        pressure = Fitting.history.filter(job=fitted).latest("history_id")
        file = SimpleUploadedFile(
            "h.csv", b"job,state,empty,datum,place,value_m,at\nV9,Empty,1,ground_arch,FL,0.8,2024-01-01\n"
        )
        self.sign_in("jude")
        gross, page = Vehicle.objects.get(pk=job.vehicle_id).gross_kg, reverse("vehicle-page", args=[job.vehicle_id])
        for address, told, why in (
            (
                reverse("history", args=[fitted.pk]),
                {"kind": "fitting", "id": pressure.history_id, "field": "setting"},
                "technician or the lead",
            ),
            (reverse("report", args=[job.pk]), {"action": "hand-over", "anyway": "x"}, "is for the lead"),
            (reverse("report", args=[job.pk]), {"action": "reopen"}, "is for the lead"),
            (page, {"file": file}, "technician or the lead"),
            (reverse("choose", args=[job.pk]), {"kit": "FW-M"}, "technician or the lead"),
            (reverse("set", args=[fitted.pk]), {"left_pressure_pa": "4"}, "technician or the lead"),
            (reverse("photo", args=[photo.pk]), {}, "somebody else"),
            (reverse("bays"), {"name": "Bay 9"}, "technician or the lead"),
            (reverse("people"), {"action": "role"}, "is for the lead"),
            (reverse("inspect", args=[job.pk]), {"grade-coils": "fine"}, "calling a fault cured"),
            (reverse("import"), {}, "technician or the lead"),
            (reverse("weigh", args=[job.pk]), {"action": "fly"}, "Nobody may"),
            (reverse("backups"), {}, "is for the lead"),
        ):
            with self.subTest(address=address, told=str(told)):
                self.refused(address, told, why.capitalize() if why.startswith("calling") else why)
        rating = self.client.post(reverse("vehicle", args=[job.pk]), {"gross_kg": "9000"})
        overrule = self.client.post(
            reverse("inspect", args=[job.pk]), {"grade-coils": "fault", "overruled-coils": "never mind"}
        )
        self.assertEqual((rating.status_code, overrule.status_code), (422, 422))
        self.assertIn("Entering ratings is not for a trainee", words(rating))
        self.assertEqual(Vehicle.objects.get(pk=job.vehicle_id).gross_kg, gross)
        self.assertEqual(Inspection.objects.get(job=job, area="coils").overruled, "")
        self.assertFalse(Photo.objects.get().gone)
        self.client.post(reverse("choose", args=[job.pk]), {"action": "propose", "kit": "FW-M", "why": "it fits"})
        self.client.post(
            self.cell(job, "FL"), {"text": "886", "seen": self.seen(job, "FL")}, headers={"hx-request": "true"}
        )
        self.client.post(reverse("vehicle", args=[job.pk]), {"track_rear_m": "1710"})
        self.assertEqual(
            (Reading.objects.latest("pk").text, Vehicle.objects.get(pk=job.vehicle_id).track_rear_m), ("886", 1.71)
        )
        self.sign_in("marit")
        self.assertIn("Jude Pell proposes this one: it fits", self.page("choose", job))

    def test_a_script_is_told_in_headers(self) -> None:
        """Signed out, or signed in as somebody else than who typed: no page in a cell, the entry is not stored."""
        job = self.job("041")
        count, marit = Reading.objects.count(), User.objects.get(username="marit")
        told = {"text": "886", "seen": self.seen(job, "FL")}
        for client, person in ((Client(), marit.pk), (self.client, User.objects.get(username="tobin").pk)):
            answer = client.post(
                self.cell(job, "FL"), told, headers={"x-vantok-token": "t", "x-vantok-person": str(person)}
            )
            self.assertEqual((answer.status_code, answer["X-Vantok-Sign-In"] != ""), (401, True))
        self.assertEqual(Reading.objects.count(), count)
        stored = self.client.post(
            self.cell(job, "FL"),
            told,
            headers={"x-vantok-token": "t", "hx-request": "true", "x-vantok-person": str(marit.pk)},
        )
        self.assertEqual(stored["X-Vantok-Stored"], "t")
        form = self.client.post(reverse("listen", args=[job.pk]), {"later": "x"}, headers={"x-vantok-token": "u"})
        self.assertEqual(
            (form.status_code, form["X-Vantok-Stored"], form["X-Vantok-Next"]),
            (204, "u", reverse("listen", args=[job.pk])),
        )

    def test_sessions_end_when_idle_and_pages_are_not_kept(self) -> None:
        """A session nobody touched ends, though a page of it polls; signed-in pages forbid keeping; HEAD sends no body."""
        job = self.job("041")
        page = self.client.get(reverse("measure", args=[job.pk]))
        self.assertIn("no-store", page["Cache-Control"])
        self.assertEqual(len(self.client.head(reverse("measure", args=[job.pk])).content), 0)
        session = self.client.session
        session["at"] = time.time() - settings.IDLE_SECONDS + 5
        session.save()
        polled = self.client.get(
            reverse("since", args=[job.pk]),
            {"phase": "before", "datum": "ground_arch", "after": 10**9},
            headers={"hx-trigger": "watch", "hx-request": "true"},
        )
        self.assertEqual(polled.status_code, 204)
        session = self.client.session
        self.assertLess(session["at"], time.time() - settings.IDLE_SECONDS + 60)
        session["at"] = time.time() - settings.IDLE_SECONDS - 5
        session.save()
        self.assertEqual(self.client.get("/").status_code, 302)

    def test_the_lead_opens_a_locked_sign_in(self) -> None:
        """Locked out by wrong passwords, a person is let in again from the people's page; the last lead cannot be lost."""
        stranger = Client()
        for _ in range(settings.AXES_FAILURE_LIMIT):
            stranger.post(reverse("sign-in"), {"username": "tobin", "password": "wrong"})
        tobin = User.objects.get(username="tobin")
        self.assertIn("wrong passwords", self.page("people"))
        self.client.post(reverse("people"), {"action": "open", "person": tobin.pk})
        self.assertEqual(
            stranger.post(reverse("sign-in"), {"username": "tobin", "password": "ferry-landing"}).status_code, 302
        )
        self.client.post(
            reverse("people"), {"action": "role", "role": "trainee", "person": User.objects.get(username="marit").pk}
        )
        self.assertEqual(User.objects.get(username="marit").role, "lead")


class Failing(DemoCase):
    def test_error_pages_are_the_programs_own(self) -> None:
        """400, 403, 404, 413 and 500 are said on the program's own page with a way back."""
        job = self.job("041")
        quiet = Client(raise_request_exception=False)
        quiet.cookies = self.client.cookies
        with patch("vantok.board.pages.Board.get_context_data", side_effect=ZeroDivisionError):
            broken = quiet.get("/")
        pages = {
            404: self.client.get("/nowhere/"),
            500: broken,
            403: self.client.post(reverse("weigh", args=[job.pk]), {"action": "fly"}),
            400: self.client.get("/", headers={"host": "evil.example"}),
            413: self.client.post("/people/", b"x", "text/plain", headers={"content-length": "99999999"}),
        }
        for status, answer in pages.items():
            self.assertEqual(answer.status_code, status)
            self.assertRegex(answer.content.decode(), r'<a [^>]*href="/', status)
            self.assertIn("<h1>", answer.content.decode())

    def test_a_full_disk_a_busy_database_and_a_lost_folder_are_said(self) -> None:
        """In words, with nothing half stored, no photograph of 0 bytes left, and the script told to try again."""
        job = self.job("041")
        told = {"text": "886", "seen": self.seen(job, "FL")}
        for error, status, said in (
            (OperationalError("database is locked"), 503, "Another program holds the database"),
            (OperationalError("database or disk is full"), 507, "The disk is full"),
            (OperationalError("attempt to write a readonly database"), 507, "cannot be written"),
        ):
            with patch.object(Reading, "save", side_effect=error):
                answer = self.client.post(self.cell(job, "FL"), told, headers={"x-vantok-token": "t"})
            self.assertEqual(answer.status_code, status)
            self.assertIn(said, answer.content.decode())
            self.assertFalse(answer.has_header("X-Vantok-Stored"))
        default_storage.exists("x")  # made when first used
        kind = type(default_storage._wrapped)  # type: ignore[attr-defined]
        real, begun = kind._save, list[str]()

        def full(storage: Any, name: str, content: Any) -> str:
            begun.append(real(storage, name, content))
            raise OSError(28, "No space left on device")

        with patch.object(kind, "_save", full):
            answer = self.client.post(reverse("photos", args=[job.pk]), {"photo": picture((9, 9))})
        self.assertEqual((answer.status_code, Photo.objects.count(), len(begun)), (507, 0, 1))
        self.assertFalse(default_storage.exists(begun[0]))
        with patch.dict(connection.settings_dict, {"NAME": "/nowhere/at/all.sqlite3"}):
            gone = self.client.get("/")
        self.assertEqual(gone.status_code, 507)
        self.assertIn("The data folder is not where it was", gone.content.decode())

    def test_started_on_what_is_not_there(self) -> None:
        """A named data folder that is missing stops the start with a sentence; an empty secret key is made anew; files are the owner's only."""
        env = os.environ | {"VANTOK_VAR": "/tmp/vantok-is-not-here", "DJANGO_SETTINGS_MODULE": "vantok.settings"}
        ask = [sys.executable, "-c", "from django.conf import settings; print(settings.SECRET_KEY)"]
        lost = subprocess.run(ask, env=env, capture_output=True, text=True, check=False)
        self.assertIn("The data folder /tmp/vantok-is-not-here is not there", lost.stderr)
        with tempfile.TemporaryDirectory() as folder:
            key = Path(folder) / "secret_key"
            key.touch()
            found = subprocess.run(ask, env=env | {"VANTOK_VAR": folder}, capture_output=True, text=True, check=True)
            self.assertEqual(found.stdout.strip(), key.read_text())
            self.assertGreater(len(key.read_text()), 40)
            self.assertEqual(stat.S_IMODE(key.stat().st_mode), 0o600)


@FAST
class FirstStart(TestCase):
    def test_an_empty_shop_makes_its_first_lead_on_a_page(self) -> None:
        """No shell: the first page names shop and lead, fills the shelf where wished, signs in; then it is gone for good."""
        self.assertRedirects(self.client.get(reverse("sign-in")), reverse("first-run"))
        told = {
            "shop": "Slipway Springs",
            "currency": "EUR",
            "units": "us",
            "username": "ada",
            "first_name": "Ada",
            "last_name": "Fenn",
        }
        self.assertIn("too common", words(self.client.post(reverse("first-run"), told | {"password": "password"})))
        self.assertEqual(User.objects.count(), 0)
        self.assertRedirects(
            self.client.post(reverse("first-run"), told | {"password": "ropes-and-tides", "shelf": "on"}),
            reverse("people"),
        )
        self.assertEqual(
            (Shop.objects.get().name, User.objects.get().role, User.objects.get().units),
            ("Slipway Springs", "lead", "us"),
        )
        self.assertGreater(KitRecord.objects.count(), 3)
        self.assertRedirects(
            Client().post(reverse("first-run"), told | {"username": "eve", "password": "ropes-and-tides"}),
            reverse("sign-in"),
        )
        new = {
            "username": "bo",
            "first_name": "Bo",
            "role": "trainee",
            "units": "metric",
            "password": "ropes-and-tides",
        }
        self.client.post(reverse("people"), new)
        self.assertTrue(
            Client().login(request=self.client.request().wsgi_request, username="bo", password="ropes-and-tides")
        )
        self.assertEqual(self.client.get(reverse("start")).status_code, 200)
        self.client.post(reverse("start"), {"customer": "A", "label": "B", "body": "van"})
        self.assertEqual(Job.objects.count(), 1)


class BehindTls(TestCase):
    def test_a_tls_front_end_on_this_machine_serves(self) -> None:
        """Through a front end that ends TLS the sign-in page comes, over https and without going round in circles."""
        authority = trustme.CA()
        leaf = authority.issue_cert("shop.test")
        with tempfile.TemporaryDirectory() as folder:
            env = os.environ | {
                "VANTOK_VAR": folder,
                "VANTOK_HOSTS": "shop.test",
                "VANTOK_BEHIND_PROXY": "1",
                "PYTHONUNBUFFERED": "1",
            }
            env.pop("VANTOK_PLAIN_HTTP", None)
            subprocess.run([sys.executable, "manage.py", "migrate", "-v0"], env=env, check=True)
            (Path(folder) / "static").mkdir()
            subprocess.run([sys.executable, "manage.py", "collectstatic", "--noinput", "-v0"], env=env, check=True)
            program = subprocess.Popen(
                [sys.executable, "-m", "vantok.serve", "0"], env=env, stdout=subprocess.PIPE, text=True
            )
            assert program.stdout is not None
            try:
                port = int(next(line for line in program.stdout if "http://" in line).rsplit(":", 1)[1].strip(" /\n"))
                front = Front(leaf, port)
                answer = front.get(authority, "/first-run/")
                self.assertEqual(answer, 200)
            finally:
                program.terminate()
                program.wait()


class Front:
    """A small TLS front end: ends TLS, says so in a header, and hands the request on."""

    def __init__(self, leaf: trustme.LeafCert, port: int) -> None:
        self.behind = port
        self.context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
        leaf.configure_cert(self.context)
        self.socket = socket.create_server(("127.0.0.1", 0))
        Thread(target=self.run, daemon=True).start()

    def run(self) -> None:
        while True:
            plain, _ = self.socket.accept()
            with (
                self.context.wrap_socket(plain, server_side=True) as near,
                socket.create_connection(("127.0.0.1", self.behind)) as far,
            ):
                head = near.recv(65536)
                first, rest = head.split(b"\r\n", 1)
                far.sendall(first + b"\r\nX-Forwarded-Proto: https\r\nConnection: close\r\n" + rest)
                while data := far.recv(65536):
                    near.sendall(data)

    def get(self, authority: trustme.CA, path: str) -> int:
        context = ssl.create_default_context()
        authority.configure_trust(context)
        link = HTTPSConnection("127.0.0.1", self.socket.getsockname()[1], context=context, timeout=20)
        link.sock = context.wrap_socket(
            socket.create_connection(("127.0.0.1", self.socket.getsockname()[1])), server_hostname="shop.test"
        )
        link.request("GET", path, headers={"Host": "shop.test"})
        answer = link.getresponse()
        body = answer.read().decode()
        assert answer.status != 301, answer.headers["Location"]
        assert "A new shop" in body, body[:200]
        return answer.status
