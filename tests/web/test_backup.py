"""A shop can rely on it: backups made while people write, proven before they replace anything; a stopped program's file is whole."""

import gzip
import json
import os
import re
import shutil
import signal
import socket
import sqlite3
import stat
import subprocess
import sys
import tarfile
import tempfile
import time
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from pathlib import Path
from threading import Event, Thread
from typing import Any
from unittest.mock import patch
from urllib.request import urlopen

from django.test import SimpleTestCase
from django.urls import reverse

from tests.web.base import DemoCase, words
from vantok.backup.archive import BackupError, check, digest, last, make, unpack
from vantok.backup.command import main, restore
from vantok.backup.folder import DATABASE, InUseError, finish, held, shop_of


class Backups(SimpleTestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.var = Path(folder.name) / "var"
        (self.var / "media" / "photos").mkdir(parents=True)
        (self.var / "media" / "photos" / "a.jpg").write_bytes(b"picture" * 1000)

    def django(self, *command: str) -> subprocess.CompletedProcess[str]:
        env = os.environ | {"VANTOK_VAR": str(self.var), "VANTOK_PLAIN_HTTP": "1"}
        return subprocess.run([sys.executable, *command], env=env, capture_output=True, text=True, check=True)

    def test_made_while_others_write_it_is_of_one_moment(self) -> None:
        """With a writer that keeps two tables equal, every backup has them equal; its checksums and photographs read back."""
        with sqlite3.connect(self.var / DATABASE) as setup:
            setup.execute("PRAGMA journal_mode=WAL")
            setup.execute("CREATE TABLE a (n)")
            setup.execute("CREATE TABLE b (n)")
        stop, written = Event(), []

        def write() -> None:
            link = sqlite3.connect(self.var / DATABASE, timeout=20)
            while not stop.is_set():
                with link:
                    link.execute("INSERT INTO a VALUES (1)")
                    link.execute("INSERT INTO b VALUES (1)")
                written.append(1)

        writer = Thread(target=write)
        writer.start()
        try:
            made = [make(self.var, self.var / "backups") for _ in range(5)]
        finally:
            stop.set()
            writer.join()
        self.assertGreater(len(written), 5)
        counts = []
        for one in made:
            with tempfile.TemporaryDirectory() as folder:
                sums = unpack(one.path, Path(folder))
                self.assertIn("media/photos/a.jpg", sums)
                with sqlite3.connect(Path(folder) / DATABASE) as link:
                    a, b = (link.execute(f"SELECT count(*) FROM {t}").fetchone()[0] for t in "ab")
                self.assertEqual(a, b)
                counts.append(a)
        self.assertEqual(len({one.path for one in made}), 5)
        self.assertLess(counts[0], counts[-1])
        self.assertEqual(last(self.var)["file"], str(made[-1].path))  # type: ignore[index]

    def shop(self) -> None:
        """Make a shop with a lead in the folder."""
        self.django("manage.py", "migrate", "-v0")
        lead = "from vantok.people.models import User; User.objects.create_user('lead', password='x', role='lead')"
        self.django("manage.py", "shell", "-v0", "-c", lead)

    def test_restored_only_when_proven(self) -> None:
        """A backup with a byte changed, cut short, or of something else replaces nothing; a good one does, and what it replaced is kept."""
        self.shop()
        good = make(self.var, self.var / "backups").path
        bad = good.with_name("bad.tar")
        data = bytearray(good.read_bytes())
        data[data.index(b"picturepicture") + 3] ^= 1
        (good.with_name("cut.tar")).write_bytes(good.read_bytes()[: len(data) // 2])
        bad.write_bytes(data)
        with tarfile.open(good.with_name("else.tar"), "w") as tar:
            tar.add(__file__, "../../evil.py")
        (self.var / "media" / "photos" / "b.jpg").write_bytes(b"later")
        with sqlite3.connect(self.var / DATABASE) as link:
            link.execute(
                "INSERT INTO people_shop (name, units, currency, hour, tax, day_ends, odds, address, caravan_from, caravan_to,"
                " ball_from, ball_to, pin_from, pin_to, quote_days, sheet)"
                " VALUES ('Later', 'us', 'EUR', 80, 0, '17:00:00', '{}', '', 0.04, 0.07, 0.1, 0.15, 0.15, 0.25, 30, 'a4')"
            )
        link.close()
        for name in ("bad", "cut", "else"):
            with self.assertRaises(BackupError):
                restore(good.with_name(f"{name}.tar"), self.var)
            self.assertTrue((self.var / "media" / "photos" / "b.jpg").exists())
        kept = restore(good, self.var)
        self.assertFalse((self.var / "media" / "photos" / "b.jpg").exists())
        self.assertTrue((kept / "media" / "photos" / "b.jpg").exists())
        for path, count in ((self.var / DATABASE, 0), (kept / DATABASE, 1)):
            with sqlite3.connect(path) as link:
                self.assertEqual(link.execute("SELECT count(*) FROM people_shop").fetchone()[0], count)

    def rebuilt(self, good: Path, name: str, change: Callable[[Path, dict[str, Any]], None]) -> Path:
        """Return a backup like another one, with something changed in it, its checksums right unless the change is of them."""
        path = good.with_name(f"{name}.tar")
        with tempfile.TemporaryDirectory() as folder:
            work = Path(folder)
            with tarfile.open(good) as tar:
                tar.extractall(work, filter="data")
            told = json.loads((work / "backup.json").read_text())
            change(work, told)
            (work / "backup.json").write_text(json.dumps(told))
            with tarfile.open(path, "w") as tar:
                for file in sorted(p for p in work.rglob("*") if p.is_file()):
                    tar.add(file, file.relative_to(work).as_posix())
        return path

    def test_what_is_no_shop_of_ours_is_refused_in_a_sentence(self) -> None:
        """No database, an empty one, another program's, a file not listed, a newer one, nobody in it, packed to burst: each says why, nothing is touched."""
        self.shop()
        good = make(self.var, self.var / "backups").path
        self.assertEqual(stat.S_IMODE(good.stat().st_mode), 0o600)

        def sql(*statements: str) -> Callable[[Path, dict[str, Any]], None]:
            def change(work: Path, told: dict[str, Any]) -> None:
                with sqlite3.connect(work / DATABASE) as link:
                    for one in statements:
                        link.execute(one)
                link.close()
                told["sha256"][DATABASE] = digest(work / DATABASE)

            return change

        def no_database(work: Path, told: dict[str, Any]) -> None:
            (work / DATABASE).unlink()
            told["sha256"].pop(DATABASE)

        def empty(work: Path, told: dict[str, Any]) -> None:
            (work / DATABASE).write_bytes(b"")
            told["sha256"][DATABASE] = digest(work / DATABASE)

        def unlisted(work: Path, told: dict[str, Any]) -> None:
            (work / "media" / "more.jpg").write_bytes(b"x")

        faults = {
            "no-database": (no_database, "holds no shop"),
            "empty": (empty, "no database of this program"),
            "unlisted": (unlisted, "other files than it lists"),
            "newer": (
                sql("INSERT INTO django_migrations (app, name, applied) VALUES ('people', '9999_later', '2030-01-01')"),
                "newer version",
            ),
            "nobody": (sql("UPDATE people_user SET is_active = 0"), "no lead in it"),
            "another": (sql("DROP TABLE people_user"), "no database of this program"),
            "odd-list": (lambda _, told: told.update(sha256=7), "cannot be read"),
            "odd-kind": (lambda _, told: told.update(version=[]), "a kind this program"),
        }
        before = digest(self.var / DATABASE)
        for name, (change, said) in faults.items():
            path = self.rebuilt(good, name, change)  # type: ignore[arg-type]
            with self.subTest(name=name), self.assertRaises(BackupError) as refused:
                restore(path, self.var)
            self.assertIn(said, str(refused.exception))
        with gzip.open(good.with_name("packed.tar"), "wb") as packed:
            packed.write(good.read_bytes())
        (good.with_name("words.tar")).write_text("no backup")
        with patch.dict(os.environ, {"VANTOK_VAR": str(self.var)}):
            for name in ("packed", "words", "not-there"):
                self.assertEqual(main(["restore", str(good.with_name(f"{name}.tar"))]), 2)
        self.assertEqual(digest(self.var / DATABASE), before)
        self.assertEqual([p.name for p in self.var.glob(".unpacked-*")], [])

    def test_whoever_serves_the_folder_keeps_it(self) -> None:
        """The folder is locked, whatever the port: nothing is restored under a server, two servers never share it, and of three backups at once one is made."""
        self.shop()
        good = make(self.var, self.var / "backups").path
        with shop_of(self.var, "serving"), self.assertRaisesRegex(BackupError, "in use.*serving"):  # type: ignore[attr-defined]
            restore(good, self.var)
        with (
            held(self.var / "backups", ".backup.lock", "a backup", otherwise="busy"),
            self.assertRaisesRegex(BackupError, "being made"),
        ):
            make(self.var, self.var / "backups")
        with shop_of(self.var, "one"), self.assertRaises(InUseError), shop_of(self.var, "another"):  # type: ignore[attr-defined]
            pass
        (self.var / "backups" / "vantok-dead.part").touch()
        (self.var / "backups" / ".work-dead").mkdir()
        make(self.var, self.var / "backups")
        self.assertEqual([p.name for p in (self.var / "backups").glob("*dead*")], [])

    def test_killed_at_any_moment_it_is_the_old_shop_or_the_new(self) -> None:
        """Stopped before each of its steps in turn, a restore leaves a whole database in place, and the next start brings it to its end."""
        self.shop()
        good = make(self.var, self.var / "backups").path
        (self.var / "media" / "photos" / "later.jpg").write_bytes(b"later")
        new = None
        for step in range(1, 12):
            with sqlite3.connect(self.var / DATABASE) as link:
                link.execute("UPDATE people_user SET first_name = 'Old'")
            link.close()
            (self.var / "media" / "photos" / "later.jpg").write_bytes(b"later")
            left = [step]

            def killed(real: Any, left: list[int] = left) -> Any:
                def run(*args: Any, **more: Any) -> Any:
                    left[0] -= 1
                    if left[0] == 0:
                        raise KeyboardInterrupt
                    return real(*args, **more)

                return run

            try:
                with (
                    patch("vantok.backup.command._up_to_date"),
                    patch.object(Path, "rename", killed(Path.rename)),
                    patch.object(Path, "replace", killed(Path.replace)),
                    patch("os.link", killed(os.link)),
                    patch.object(Path, "unlink", killed(Path.unlink)),
                ):
                    restore(good, self.var)
            except KeyboardInterrupt:
                pass
            with sqlite3.connect(self.var / DATABASE) as link:
                name = link.execute("SELECT first_name FROM people_user").fetchone()[0]
            link.close()
            self.assertIn(name, ("Old", ""), step)
            ended = finish(self.var)
            with sqlite3.connect(self.var / DATABASE) as link:
                now = link.execute("SELECT first_name FROM people_user").fetchone()[0]
            link.close()
            self.assertEqual((self.var / "media" / "photos" / "later.jpg").exists(), now == "Old", step)
            new = now if now == "" else new
            self.assertTrue(ended or name == now, step)
            self.assertFalse((self.var / "restoring.json").exists())
        self.assertEqual(new, "")

    def test_a_full_disk_leaves_nothing_half_written(self) -> None:
        """A backup that does not fit leaves no file and no note."""
        sqlite3.connect(self.var / DATABASE).execute("CREATE TABLE a (n)")
        with (
            patch("tarfile.TarFile.add", side_effect=OSError(28, "No space left on device")),
            self.assertRaises(OSError),
        ):
            make(self.var, self.var / "backups")
        self.assertEqual(list((self.var / "backups").glob("vantok*")), [])
        self.assertIsNone(last(self.var))

    def test_a_plain_copy_after_a_stop_holds_the_days_work(self) -> None:
        """A hundred and fifty connections that ask nothing keep nobody out, and a request under way when it is stopped is answered; after that a copy of the
        database's file alone has everything. The demo's instruments answer while it runs. Of its two processes each answers, a further one that ends is
        begun again, and where the first is killed the further one ends with it: the folder is free."""
        with socket.create_server(("127.0.0.1", 0)) as free:
            port = free.getsockname()[1]
        env = os.environ | {
            "VANTOK_VAR": str(self.var),
            "VANTOK_INSTRUMENTS_PORT": str(port),
            "VANTOK_PLAIN_HTTP": "1",
            "VANTOK_DEMO": "1",
            "VANTOK_PROCESSES": "2",
            "PYTHONUNBUFFERED": "1",
        }
        self.django("manage.py", "migrate", "-v0")
        self.django("manage.py", "collectstatic", "--noinput", "-v0")
        program, said = self.served(env, "demo")
        assert program.stdout is not None
        address = ("127.0.0.1", int(re.search(r":(\d+)/", said)[1]))  # type: ignore[index]
        idle = [socket.create_connection(address, 10) for _ in range(150)]
        urlopen(said.rsplit("at ", 1)[1].strip() + "sign-in/").close()
        with socket.create_connection(("127.0.0.1", port), 10) as bench:
            self.assertTrue(bench.makefile().readline().strip(), said)
        further = self.further(program)
        os.kill(further, signal.SIGKILL)
        self.assertTrue(any("begun again" in line for line in program.stdout))
        self.assertNotEqual(self.further(program), further)
        os.kill(program.pid, signal.SIGSTOP)
        urlopen(said.rsplit("at ", 1)[1].strip() + "sign-in/", timeout=60).close()
        os.kill(program.pid, signal.SIGCONT)
        with socket.create_connection(address, 20) as late:
            answer = late.makefile("rb")
            late.sendall(
                b"POST /sign-in/ HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 3\r\nExpect: 100-continue\r\nConnection: close\r\n\r\n"
            )
            self.assertIn(b"100 Continue", answer.readline() + answer.readline())
            program.terminate()
            for line in program.stdout:
                if "Stopping" in line:
                    break
            late.sendall(b"a=b")
            self.assertRegex(answer.read(), rb"^\s*HTTP/1.1 403")  # without its token, but answered
        for one in idle:
            one.close()
        self.assertEqual(program.wait(30), 0)
        copy = self.var / "copy.sqlite3"
        shutil.copyfile(self.var / DATABASE, copy)
        with sqlite3.connect(copy) as link:
            self.assertGreater(link.execute("SELECT count(*) FROM measure_reading").fetchone()[0], 50)
        self.assertEqual((self.var / DATABASE).stat().st_mode & 0o077, 0)
        program, said = self.served(env)
        further = self.further(program)
        program.kill()
        program.communicate()
        until = time.monotonic() + 20
        while Path(f"/proc/{further}").exists() and time.monotonic() < until:
            time.sleep(0.05)
        with shop_of(self.var, "a restore"), self.assertRaises(ConnectionRefusedError):
            socket.create_connection(("127.0.0.1", int(re.search(r":(\d+)/", said)[1])), 5)  # type: ignore[index]

    def served(self, env: dict[str, str], *more: str) -> tuple[subprocess.Popen[str], str]:
        """Serve the folder; return the program and what it said until it was there."""
        program = subprocess.Popen(
            [sys.executable, "-m", "vantok.serve", "0", *more], env=env, stdout=subprocess.PIPE, text=True
        )
        self.addCleanup(program.kill)
        assert program.stdout is not None
        said = ""
        for line in program.stdout:
            said += line
            if "http://" in line:
                break
        return program, said

    def further(self, program: subprocess.Popen[str]) -> int:
        """Return the process beside the first one at its door."""
        found = Path(f"/proc/{program.pid}/task/{program.pid}/children").read_text().split()
        self.assertEqual(len(found), 1)
        return int(found[0])


class Page(DemoCase):
    def test_the_lead_sees_the_last_good_one_and_is_told_when_it_is_old(self) -> None:
        """The page and the banner; nobody else sees them."""
        with tempfile.TemporaryDirectory() as folder, self.settings(VAR=Path(folder), DEMO=False):
            sqlite3.connect(Path(folder) / DATABASE).execute("CREATE TABLE a (n)")
            self.assertIn("Backed up: vantok-", words(self.client.post(reverse("backups"), follow=True)))
            self.assertNotIn("days old", self.page("board"))
            old = make(Path(folder), Path(folder) / "backups", now=datetime.now(UTC) - timedelta(days=3))
            check(old.path)
            self.assertIn("The last good backup is 3 days old. Back up now", self.page("board"))
            self.sign_in("tobin")
            self.assertNotIn("days old", self.page("board"))
            self.assertEqual(self.client.get(reverse("backups")).status_code, 403)
