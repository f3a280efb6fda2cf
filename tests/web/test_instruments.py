"""Instruments over their line protocol: lines, a simulated set on a real socket, the panel, taking readings, a lost one."""

import os
import signal
import socket
import subprocess
import sys
import time
from collections import deque
from collections.abc import Callable
from datetime import timedelta
from unittest.mock import patch

from django.conf import settings
from django.test import SimpleTestCase
from django.urls import reverse
from django.utils import timezone
from hypothesis import given
from hypothesis import strategies as st

from tests.web.base import DemoCase, words
from vantok.desk.load import Desk
from vantok.instruments.simulated import Bench, Server
from vantok.records.instruments.models import ADDRESS, Instrument
from vantok.records.weigh.models import LoadState
from vantok.wire import shared
from vantok.wire.line import CHANNELS, READS, STATES, LineError, Reading, read_line, write_line
from vantok.wire.link import Link, let_go, look
from vantok_core.base.units import UNITS

channels = st.sampled_from([(kind, channel) for kind, found in CHANNELS.items() for channel in found])


class Lines(SimpleTestCase):
    @given(channels, st.one_of(st.none(), st.integers(-9000, 90_000)), st.sampled_from(sorted(STATES.values())))
    def test_every_reading_survives_the_wire(self, where: tuple[str, str], tenths: int | None, state: str) -> None:
        """Written and read again, a reading is the same, in its instrument's own unit; with any one character changed it is refused."""
        quantity, unit, _ = READS[where[0]]
        per = UNITS[quantity][unit]
        load = Reading(
            kind=where[0], channel=where[1], value=None if tenths is None else tenths / 10 * per, state=state
        )  # type: ignore[arg-type]
        line = write_line(load)
        found = read_line(line)
        self.assertEqual((found.kind, found.channel, found.state, write_line(found)), (*where, state, line))
        self.assertAlmostEqual((found.value or 0.0) / per, (load.value or 0.0) / per, places=6)
        garbled = line[:3] + chr(ord(line[3]) ^ 1) + line[4:]
        with self.assertRaises(LineError):
            read_line(garbled)

    def test_pounds_and_strangers(self) -> None:
        """A line in pounds reads as kilograms; text without a checksum, and an instrument nobody knows, are refused."""
        self.assertAlmostEqual(read_line("PADS RL 1000.0 lb S*5A").value or 0.0, 453.592, 2)
        for line in ("", "hello", "PADS RL 1000.0 lb S", "PADS RL 1000.0 lb S*56", "TYRE RL 10.0 kg S*00"):
            with self.assertRaises(LineError):
                read_line(line)

    def test_only_sockets_and_ports_may_be_listened_to(self) -> None:
        """Addresses that would open a file or another handler are not taken."""
        for good in ("socket://127.0.0.1:8711", "/dev/ttyUSB0", "COM3"):
            self.assertIsNotNone(ADDRESS.fullmatch(good))
        for bad in ("spy:///dev/ttyS0?file=/tmp/x", "loop://", "socket://host", "/etc/passwd", "http://host:80"):
            self.assertIsNone(ADDRESS.fullmatch(bad))

    def test_the_simulated_set_settles_and_drops_out(self) -> None:
        """It starts off the truth and moving, ends within a few kilograms and steady, and a pad that drops out says nothing."""
        bench = Bench(drops="RR", started=0.0)
        first = {load.channel: load for load in bench.readings(7.0)}
        self.assertEqual((first["RL"].state, "RR" in first), ("steady", True))
        self.assertAlmostEqual(first["RL"].value or 0.0, 1010.0, delta=4.0)
        self.assertEqual(next(bench.readings(0.1)).state, "moving")
        self.assertNotIn("RR", {load.channel for load in bench.readings(21.0)})


class Launched(SimpleTestCase):
    def test_the_launcher_starts_the_simulated_set(self) -> None:
        """`run.py instruments` with its options serves lines that read, and says where."""
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            port = probe.getsockname()[1]
        options = ["--port", str(port), "--drops", "", "--tongue", "99"]
        command = [sys.executable, str(settings.ROOT / "run.py"), "instruments", *options]
        with subprocess.Popen(command, stdout=subprocess.PIPE, text=True, start_new_session=True) as launched:
            try:
                assert launched.stdout is not None
                self.assertIn(
                    f"socket://127.0.0.1:{port}", next(line for line in launched.stdout if "Simulated" in line)
                )
                with socket.create_connection(("127.0.0.1", port), timeout=10) as line, line.makefile() as told:
                    found = {load.channel: load for load in (read_line(told.readline()) for _ in range(9))}
            finally:
                os.killpg(launched.pid, signal.SIGTERM)
        self.assertEqual(set(found), {c for kind, channels in CHANNELS.items() if kind != "RIDE" for c in channels})
        self.assertAlmostEqual(found["BALL"].value or 0.0, 99.0, delta=12.0)


class Fast(SimpleTestCase):
    def test_of_an_instrument_that_talks_too_fast_only_the_newest_counts(self) -> None:
        """A thousand lines at once: the last figure of each channel stands, and no more lines are read than there are channels."""
        link = Link("socket://127.0.0.1:1", problem="")
        told = [
            Reading(kind="PADS", channel=c, value=float(n), state="steady") for n in range(500) for c in ("FL", "FR")
        ]
        with patch("vantok.wire.link.read_line", side_effect=read_line) as reading:
            link._take([write_line(load).encode() for load in told])
        self.assertEqual({c: load.value for c, load in link.latest().items()}, {"FL": 499.0, "FR": 499.0})
        self.assertEqual(reading.call_count, 2)


class Live(DemoCase):
    def setUp(self) -> None:
        super().setUp()
        let_go()
        self.server: Server | None = None
        self.state = LoadState.objects.get(job=self.job("042"), key="loaded")

    def tearDown(self) -> None:
        let_go()
        self.stop()

    def start(self, bench: Bench) -> Server:
        self.server = Server(bench, 0).start()
        Instrument.objects.all().update(url=self.server.url)
        return self.server

    def stop(self) -> None:
        if self.server is not None:
            self.server.shutdown()
            self.server.server_close()
            self.server = None

    def wait(self, ready: Callable[[], bool]) -> None:
        for _ in range(100):
            if ready():
                return
            time.sleep(0.1)
        self.fail("the instruments never got there")

    def panel(self) -> str:
        return words(self.client.get(reverse("panel", args=[self.state.job_id]), {"state": self.state.pk}))

    def take(self, kind: str, **more: str) -> str:
        told = {"state": self.state.pk, "instrument": Instrument.objects.get(kind=kind).pk} | more
        return words(self.client.post(reverse("take", args=[self.state.job_id]), told, follow=True))

    def test_a_further_process_sees_what_the_first_listens_to(self) -> None:
        """Asked over its line, the first answers with the link as it stands: the same figures, and the trace of then."""
        url = self.start(Bench()).url
        look(url).traces["FL"] = deque([(0.0, 1.0)])
        self.wait(lambda: bool(look(url).latest()))
        with shared.answered() as line, patch.object(shared, "_first", line):
            seen = shared.look(url)
        look(url).traces["FL"].append((0.1, 2.0))
        self.assertEqual((seen.problem, seen.trace("FL", 9.0)), ("", ([0.0], [1.0])))
        self.assertLessEqual(set(seen.latest()), set(look(url).latest()))
        self.assertTrue(seen.latest())

    def test_pads_scale_and_tongue_are_taken_by_one_touch(self) -> None:
        """Steady pads, an axle scale and a tongue scale go into the sheet; the pads rule over the axle figures."""
        self.start(Bench(started=time.monotonic() - 60.0))
        self.wait(lambda: self.panel().count("✓ steady") == 6)
        self.assertRegex(self.take("TONGUE"), r"Tongue scale, simulated: 1(6[5-9]|7[01]) kg taken")
        self.assertIn("taken into “On tour”", self.take("AXLE", **{"as": "rear"}))
        self.state.refresh_from_db()
        self.assertAlmostEqual(self.state.rear_kg or 0.0, 2052.0, delta=4.0)
        self.take("PADS")
        self.state.refresh_from_db()
        self.assertIsNone(self.state.rear_kg)
        for field, kg in (("fl_kg", 634.0), ("fr_kg", 656.0), ("rl_kg", 1010.0), ("rr_kg", 1042.0)):
            self.assertAlmostEqual(getattr(self.state, field), kg, delta=4.0)
        self.assertIn("off the scale", self.page("scales", self.state.job))

    def test_nothing_unsteady_or_silent_is_taken(self) -> None:
        """While it settles, and while one pad is silent, nothing is stored and the pad is named."""
        self.start(Bench(settle=1e6, started=time.monotonic()))
        self.wait(lambda: "settling" in self.panel())
        self.assertIn("The front left pad is still settling. Nothing was taken", self.take("PADS"))
        self.stop()
        let_go()
        self.start(Bench(drops="RR", every=1e6, silent=1e6, started=time.monotonic() - 60.0))
        self.wait(lambda: "✓ steady" in self.panel())
        self.assertIn("The rear right pad is silent. Nothing was taken", self.take("PADS"))
        self.state.refresh_from_db()
        self.assertIsNone(self.state.fl_kg)

    def test_a_lost_instrument_is_said_plainly(self) -> None:
        """When the line goes dead the panel says so, keeps no stale figure, and typing still works."""
        self.start(Bench(started=time.monotonic() - 60.0))
        self.wait(lambda: "✓ steady" in self.panel())
        url = Instrument.objects.get(kind="PADS").url
        Instrument.objects.all().update(url="socket://127.0.0.1:9")
        self.wait(lambda: "nobody answers there" in self.panel())
        self.assertNotIn("steady", self.panel())
        self.assertIn("Nothing was taken; type the figures instead", self.take("PADS"))
        self.assertEqual(look(url).problem, "")
        answer = self.client.post(
            reverse("scales", args=[self.state.job_id]), {"state": self.state.pk, "rear_kg": "2050", "front_kg": "1290"}
        )
        self.assertEqual(answer.status_code, 302)

    def test_only_the_lead_sets_them_up(self) -> None:
        """A lead adds and removes an instrument; nonsense for an address is refused; a technician may only look."""
        told = {"name": "Yard pads", "kind": "PADS", "url": "spy://x"}
        self.assertIn("no socket and no serial port", words(self.client.post(reverse("instruments"), told)))
        self.client.post(reverse("instruments"), told | {"url": "/dev/ttyUSB1"})
        self.assertIn("Yard pads", self.page("instruments"))
        self.sign_in("tobin")
        self.assertEqual(
            self.client.post(reverse("instruments"), {"remove": Instrument.objects.first().pk}).status_code, 403
        )  # type: ignore[union-attr]
        self.assertIn("The lead sets them up", self.page("instruments"))

    def test_a_calibration_that_has_run_out_is_said_where_the_figure_is_used(self) -> None:
        """The lead keeps a date; from the day after it, the panel, the reading taken and the card's torques say so; a wrench with an address is refused."""
        wrench, pads = Instrument.objects.get(kind="WRENCH"), Instrument.objects.get(kind="PADS")
        fit = reverse("fit", args=[self.job("046").pk])
        self.assertNotIn("ran out", words(self.client.get(fit)))
        day = timezone.localdate() - timedelta(days=1)
        for one in (wrench, pads):
            told = {"calibrated": one.pk, "calibrated_to": day.isoformat()}
            self.assertIn("It ran out", words(self.client.post(reverse("instruments"), told, follow=True)))
        self.assertIn(f"{wrench.name}: its calibration ran out on", words(self.client.get(fit)))
        self.start(Bench(started=time.monotonic() - 60.0))
        self.wait(lambda: self.panel().count("✓ steady") == 6)
        self.assertIn(f"{pads.name}: its calibration ran out on", self.panel())
        self.assertIn(f"{pads.name}: its calibration ran out on", self.take("PADS"))
        self.client.post(reverse("instruments"), {"calibrated": wrench.pk, "calibrated_to": "31/31"})
        wrench.refresh_from_db()
        self.assertEqual(wrench.calibrated_to, day)
        new = {"name": "Short wrench", "kind": "WRENCH", "url": "/dev/ttyUSB1"}
        self.assertIn("A torque wrench has none", words(self.client.post(reverse("instruments"), new)))
        self.client.post(reverse("instruments"), new | {"url": ""})
        self.assertTrue(Instrument.objects.filter(name="Short wrench").exists())
        self.sign_in("tobin")
        self.assertEqual(self.client.post(reverse("instruments"), {"calibrated": pads.pk}).status_code, 403)

    def test_a_push_taken_off_the_logger(self) -> None:
        """The body pushed and let go, live: its swing is read as the simulated body has it, moves the model, and stands with its band; silent, it says so."""
        job = self.job("041")
        told = {"push-state": "loaded", "push-phase": "before", "push-axle": "rear", "action": "live"}
        before = Desk.look(job.pk).worked.model
        Instrument.objects.update(url="socket://127.0.0.1:9")
        let_go()
        self.assertIn("it is silent", words(self.client.post(reverse("by-phone", args=[job.pk]), told)))
        self.start(Bench(started=time.monotonic(), swing=(1.4, 0.22)))
        link = look(Instrument.objects.get(kind="RIDE").url)
        self.wait(lambda: bool(link.trace("SEAT", 8.0)[0]) and link.trace("SEAT", 8.0)[0][-1] > 4.0)
        self.assertIn("Kept.", words(self.client.post(reverse("by-phone", args=[job.pk]), told, follow=True)))
        push = Desk.look(job.pk).job.pushes[-1]
        self.assertAlmostEqual(push.frequency, 1.4, delta=0.03)
        self.assertAlmostEqual(push.damping, 0.22, delta=0.03)
        after = Desk.look(job.pk).worked.model
        assert before is not None and after is not None
        self.assertNotEqual(before.pushed, after.pushed)
        self.assertRegex(
            self.page("by-phone", job), "It moved what its class tells of the rear springs from .* to .* at the wheel"
        )

    def test_a_gauge_and_a_sensor_fill_their_field(self) -> None:
        """Asked beside a field, in the reader's units; settling, silent or not set up it says so, and gives no figure."""
        address = reverse("now")
        self.start(Bench(started=time.monotonic() - 60.0, gauges=(250e3, 310e3)))
        self.assertIn("GAUGE", self.client.get(address).json()["there"])

        def reads(**asked: str) -> dict[str, str]:
            return dict(self.client.get(address, asked).json())

        self.wait(lambda: "text" in reads(kind="HEIGHT"))
        self.assertRegex(reads(kind="GAUGE", side="left")["text"], r"2\.[45]\d\sbar")
        self.assertRegex(reads(kind="GAUGE", side="right")["text"], r"3\.[01]\d\sbar")
        self.sign_in("tobin")
        self.assertIn("in", reads(kind="HEIGHT")["text"])
        self.stop()
        let_go()
        self.assertIn("silent", reads(kind="GAUGE")["problem"])
        self.start(Bench(settle=1e6, started=time.monotonic()))
        let_go()
        self.wait(lambda: "settling" in reads(kind="GAUGE").get("problem", ""))
        self.assertEqual(self.client.get(address, {"kind": "PADS"}).status_code, 404)
