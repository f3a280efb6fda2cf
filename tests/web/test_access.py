"""Nothing is open by default: signed out, by role, and by header."""

from django.conf import settings
from django.test import Client
from django.urls import reverse

from tests.web.base import DemoCase
from vantok.records.choose.models import Fitting
from vantok.urls import PAGES


class Access(DemoCase):
    def test_trainee_may_measure_but_not_choose(self) -> None:
        """A trainee records readings; choosing and setting are refused, and nothing is changed."""
        self.sign_in("jude")
        job = self.job("041")
        self.assertEqual(self.client.post(reverse("choose", args=[job.pk]), {"kit": "FW-M"}).status_code, 403)
        self.assertFalse(Fitting.objects.filter(job=job).exists())
        answer = self.client.post(
            self.cell(self.job("044"), "FL"), {"text": "668", "seen": 0}, headers={"hx-request": "true"}
        )
        self.assertContains(answer, "668")

    def test_headers(self) -> None:
        """Pages carry a content policy without inline script or style, and the usual secure headers."""
        response = self.client.get("/")
        policy = response["Content-Security-Policy"]
        self.assertIn("script-src 'self'", policy)
        self.assertNotIn("unsafe-inline", policy)
        self.assertEqual((response["X-Frame-Options"], response["X-Content-Type-Options"]), ("DENY", "nosniff"))
        self.assertNotIn(" style=", response.content.decode())
        self.assertIn("Argon2", settings._wrapped.default_settings.PASSWORD_HASHERS[0])

    def test_a_stranger_is_locked_out_after_many_tries(self) -> None:
        """Wrong passwords in a row lock the name for that place."""
        stranger = Client()
        for _ in range(settings.AXES_FAILURE_LIMIT):
            answer = stranger.post(reverse("sign-in"), {"username": "marit", "password": "wrong"})
        self.assertEqual(answer.status_code, 429)
        self.assertContains(answer, "Wait a little", status_code=429)

    def test_queries_are_few(self) -> None:
        """Each stage and list is a fixed, small number of queries."""
        job = self.job("038")
        for name, pk in [("board", None), ("garage", None), ("shelf", None), *((s, job.pk) for s in PAGES)]:
            with self.subTest(name), self.assertNumQueriesAtMost(12):
                self.client.get(reverse(name, args=[pk] if pk else []))

    def assertNumQueriesAtMost(self, most: int):  # type: ignore[no-untyped-def]
        from contextlib import contextmanager

        from django.db import connection
        from django.test.utils import CaptureQueriesContext

        @contextmanager
        def watch():  # type: ignore[no-untyped-def]
            with CaptureQueriesContext(connection) as caught:
                yield
            self.assertLessEqual(len(caught), most, "\n".join(q["sql"][:120] for q in caught))

        return watch()
