"""A machine that is not well is told, not hidden: each thing spoilt is found by the look that is for it, with what to do."""

import json
import shutil
import tempfile
from datetime import UTC, datetime, timedelta
from itertools import pairwise
from pathlib import Path
from unittest import TestCase
from unittest.mock import patch

from django.core.files.base import ContentFile
from django.test import override_settings
from django.urls import reverse
from django.utils import timezone
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.web.base import DemoCase, words
from vantok.backup import daily
from vantok.backup.archive import BackupError, make
from vantok.backup.daily import DAYS, MONTHS, WEEKS, back_up, due, kept, second_said
from vantok.backup.folder import DATABASE
from vantok.backup.pages import banner
from vantok.doctor.examine import Found, examine, report, told
from vantok.people.models import User
from vantok.records.instruments.models import Instrument
from vantok.records.jobs.models import Job
from vantok.records.measure.models import Photo
from vantok_core.files.cases import run as cases

DAY = timedelta(days=1)


class Doctor(DemoCase):
    def setUp(self) -> None:
        super().setUp()
        self.var = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, self.var)
        self.var.chmod(0o700)
        store = {"BACKEND": "django.core.files.storage.FileSystemStorage", "OPTIONS": {"location": self.var / "media"}}
        static = {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"}
        there = override_settings(VAR=self.var, STORAGES={"default": store, "staticfiles": static})
        there.enable()
        self.addCleanup(there.disable)
        (self.var / DATABASE).touch(mode=0o600)
        with (
            patch("vantok.backup.archive.snapshot", lambda _, copy: copy.touch()),
            patch("vantok.backup.archive.prove"),
        ):
            make(self.var, self.var / "backups")
        photo = Photo(job=Job.objects.first(), area="plate", width=1, height=1)
        photo.file.save("plate.jpg", ContentFile(b"picture"))
        self.photo = Path(photo.file.path)

    def looked(self) -> dict[str, Found]:
        """Return what each look found; exactly those it names are not well."""
        return {one.what: one for one in examine(short=True)}

    def ill(self) -> dict[str, Found]:
        return {what: one for what, one in self.looked().items() if not one.well}

    def test_a_well_shop_and_each_thing_spoilt(self) -> None:
        """All is well at first; then one thing at a time is spoilt, and that one alone is found, with what to do."""
        self.assertEqual(self.ill(), {})
        self.assertEqual(len(self.looked()), 9)
        self.assertEqual([one.do for one in self.looked().values() if one.do], [])

        moved = self.photo.rename(self.photo.with_suffix(".away"))
        self.assertEqual(list(found := self.ill()), ["Photographs"])
        self.assertIn("1 are listed and gone: ", found["Photographs"].said)
        moved.rename(self.photo)
        (self.photo.parent / "cut-off.jpg").write_bytes(b"half")
        self.assertIn("nobody’s", self.ill()["Photographs"].said)
        (self.photo.parent / "cut-off.jpg").unlink()

        wrench = Instrument.objects.create(name="Wrench 2", kind="WRENCH", calibrated_to=timezone.localdate())
        self.assertEqual(self.ill(), {})
        Instrument.objects.filter(pk=wrench.pk).update(calibrated_to=timezone.localdate() - DAY)
        self.assertEqual(list(found := self.ill()), ["Calibration"])
        self.assertIn("Wrench 2: its calibration ran out", found["Calibration"].said)
        wrench.delete()

        (self.var / DATABASE).chmod(0o644)
        self.assertEqual(list(found := self.ill()), ["Permissions"])
        self.assertIn(f"can read {DATABASE}", found["Permissions"].said)
        (self.var / DATABASE).chmod(0o600)

        with patch(
            "vantok.doctor.examine.SKEW", -10_000 * DAY
        ):  # as if the clock stood long before all that was written
            self.assertEqual(list(self.ill()), ["Clock"])

        with patch("vantok.doctor.examine.prove", side_effect=BackupError("vantok.sqlite3 is damaged: row 7")):
            self.assertIn("row 7", self.ill()["Database"].said)
        with patch("vantok.doctor.examine.MigrationExecutor.migration_plan", return_value=[1, 2]):
            self.assertIn("2 steps behind", self.ill()["Version"].said)
        with patch("vantok.doctor.examine.shutil.disk_usage", return_value=type("D", (), {"free": 1000})()):
            self.assertEqual(list(self.ill()), ["Disk"])
        with patch("vantok.doctor.examine.second_said", side_effect=ZeroDivisionError("odd")):
            self.assertIn("could not be looked at: ZeroDivisionError", self.ill()["Backup"].said)

        note = json.loads((self.var / "last_backup.json").read_text())
        Path(note["file"]).unlink()
        self.assertIn("its file is gone", self.ill()["Backup"].said)
        (self.var / "last_backup.json").unlink()
        self.assertEqual(self.ill()["Backup"].said, "there is none")
        self.assertTrue(all(one.do for one in self.ill().values()))

    def test_a_machine_that_reckons_otherwise(self) -> None:
        """One figure of one worked case off by a thousandth is said at the start, on the page and on the screen, with case, place and size of the error."""
        self.assertTrue(told().startswith("Arithmetic checked: "))
        every = cases.shipped(short=True)
        case = next(one for one in every if one["kind"] == "equilibrium")
        state = next(iter(case["expected"]["states"].values()))
        state["load"]["RL"] *= 1.001
        with patch("vantok.doctor.examine.shipped", return_value=every):
            self.assertIn("WRONG ARITHMETIC ON THIS MACHINE", told())
            self.assertIn(case["name"], told())
            page = words(self.client.get(reverse("doctor")))
            self.assertIn("1 to do", page)
            self.assertIn("times what is allowed at /states/", page)
            self.assertIn("Trust no figure of this machine", "\n".join(report(examine(short=True))))
        self.assertIn("All is well", words(self.client.get(reverse("doctor"))))
        self.client.force_login(User.objects.get(username="tobin"))
        self.assertEqual(self.client.get(reverse("doctor")).status_code, 403)


class ByThemselves(TestCase):
    """The daily backups: what is kept, when one is due, and what is said of the second folder."""

    def setUp(self) -> None:
        self.var = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, self.var)
        (self.var / DATABASE).touch()
        for name in ("snapshot", "prove"):
            stub = patch(f"vantok.backup.archive.{name}", lambda *told: told[1].touch() if len(told) > 1 else None)
            stub.start()
            self.addCleanup(stub.stop)

    @settings(deadline=None)
    @given(st.lists(st.integers(0, 3650 * 24 * 60), min_size=1, max_size=60))
    def test_what_is_kept(self, minutes: list[int]) -> None:
        """The newest always stays; so does the last of each of the last days, weeks and months; thinning twice is thinning once."""
        times = [datetime(2020, 1, 1, tzinfo=UTC) + timedelta(minutes=n) for n in minutes]
        stay = kept(times)
        self.assertIn(max(times), stay)
        self.assertEqual(kept(stay), stay)
        self.assertLessEqual(len(stay), DAYS + WEEKS + MONTHS)
        for most, of in ((DAYS, "%Y-%m-%d"), (WEEKS, "%G-%V"), (MONTHS, "%Y-%m")):
            last = sorted({time.strftime(of) for time in times}, reverse=True)[:most]
            for one in last:
                self.assertIn(max(time for time in times if time.strftime(of) == one), stay)

    def test_a_year_of_days(self) -> None:
        """A backup a day for a year leaves two weeks of days, then weeks, then months; one made by hand is never touched."""
        begun = datetime(2026, 1, 1, 3, tzinfo=UTC)
        by_hand = make(self.var, self.var / "backups", now=begun).path
        for n in range(365):
            self.assertTrue(due(self.var, begun + n * DAY))
            back_up(self.var, None, now=begun + n * DAY)
            self.assertFalse(due(self.var, begun + n * DAY + timedelta(hours=23)))
        times = sorted(at for p in (self.var / "backups" / "daily").iterdir() if (at := daily.made_at(p)))
        gaps = [(b - a).days for a, b in pairwise(times)]
        self.assertEqual(gaps[-13:], [1] * 13)
        self.assertEqual(len({at.month for at in times}), 12)
        self.assertLess(len(times), DAYS + WEEKS + 12)
        self.assertTrue(by_hand.exists())
        self.assertTrue(
            due(self.var, begun - 30 * DAY)
        )  # the clock was put back: what is dated later counts for nothing

    def test_the_second_folder(self) -> None:
        """A copy on another disk is read back; a disk that is not in is said on every page of the lead and never made up for by a folder of that name."""
        second = self.var / "disk"
        with patch.dict("os.environ", {daily.SECOND: str(second)}):
            self.assertIn("No backup has been copied", second_said(self.var))
            back_up(self.var, second)
            self.assertFalse(second.exists())
            self.assertIn("is its disk in?", second_said(self.var))
            lead = User(role="lead", username="tove", date_joined=timezone.now())
            with override_settings(VAR=self.var, DEMO=False):
                self.assertIn("is its disk in?", banner(lead))
            second.mkdir()
            made = back_up(self.var, second)
            self.assertEqual((second / made.name).read_bytes(), made.read_bytes())
            self.assertEqual((second / made.name).stat().st_mode & 0o077, 0)
            self.assertEqual(second_said(self.var), "")
            with patch("vantok.backup.daily.digest", side_effect=["a", "b"]):
                back_up(self.var, second, now=datetime.now(UTC) + DAY)
            self.assertIn("reads back as something else", second_said(self.var))
            self.assertEqual([p.name for p in second.iterdir()], [made.name])
