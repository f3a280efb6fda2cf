"""Logged roads: files as phones and loggers write them, read alike; told after against before only where both are alike."""

from __future__ import annotations

import unittest

import numpy as np

from tests.core.samples import job
from vantok_core.base.errors import InputError
from vantok_core.base.num import FloatArray, G
from vantok_core.facts.proving import Proving, RoadLog
from vantok_core.judge.prove.road_logs import log_of, road_logs_told, weighted
from vantok_core.road.comfort import weighted_rms
from vantok_core.road.trace_file import RoadTrace, read_file, road_trace

RATE = 100.0


def shaken(seconds: float = 30.0, size: float = 1.0, seed: int = 3) -> tuple[FloatArray, FloatArray]:
    """Return times (s) and an acceleration (m/s2) as a road gives it: bounce, hop and noise."""
    rng = np.random.default_rng(seed)
    t = np.arange(0.0, seconds, 1.0 / RATE)
    sines = sum(a * np.sin(2 * np.pi * f * t + rng.uniform(0, 6)) for f, a in ((1.4, 0.8), (5.0, 0.5), (11.0, 0.6)))
    return t, size * (sines + 0.2 * rng.standard_normal(len(t)))


def file(t: FloatArray, *columns: FloatArray, heads: str = "", mark: str = ",", decimal: str = ".") -> str:
    """Return a file of some columns."""
    rows = [mark.join(f"{v:.6f}".replace(".", decimal) for v in row) for row in zip(t, *columns, strict=True)]
    return "\n".join([heads, *rows] if heads else rows)


class Files(unittest.TestCase):
    def test_one_road_in_many_files(self) -> None:
        """Seconds or milliseconds, m/s2 or g, gravity in or out, commas or semicolons with decimal commas, the upright column among three: one road."""
        t, a = shaken()
        rng = np.random.default_rng(1)
        x, y = (0.3 * rng.standard_normal(len(t)) for _ in range(2))
        wanted = road_trace(read_file(file(t, a, heads="time,acc")))
        self.assertEqual(len(wanted.pieces), 6)
        self.assertAlmostEqual(wanted.pieces[0], weighted_rms(a[:500] - a.mean(), RATE), delta=1e-6)
        for text in (
            file(t, a + G),
            file(1e3 * t, x, y, a + G, heads="time (ms),acc x,acc y,acc z"),
            file(t, a / G + 1.0, x / G, heads="seconds;vertical;side", mark=";", decimal=","),
            file(t, a / G, mark="\t"),
        ):
            found = read_file(text)
            self.assertAlmostEqual(found.rate, RATE, delta=0.01)
            self.assertEqual(found.gaps, ())
            np.testing.assert_allclose(road_trace(found).pieces, wanted.pieces, rtol=0.01)

    def test_gaps_and_flat_tops(self) -> None:
        """A stretch that is missing is a gap, and no piece reaches over it; a logger that reached its end is told."""
        t, a = shaken(40.0)
        kept = (t < 12.0) | (t > 19.0)
        found = read_file(file(t[kept], a[kept]))
        self.assertEqual([(round(at, 1), round(long, 1)) for at, long in found.gaps], [(12.0, 7.0)])
        self.assertEqual(len(road_trace(found).pieces), 2 + 4)
        self.assertGreater(read_file(file(t, np.clip(3.0 * a, -2.0, 2.0))).flat, 3)
        self.assertEqual(found.flat, 0)

    def test_stretches_between_marks(self) -> None:
        """A button pressed on the way, as a number, a word or a count, parts the road; each stretch is read by itself, the marks are no time and no figure."""
        t, a = shaken(40.0)
        rough = np.where(t < 20.0, a, 0.5 * a)
        for cells in (("", "1"), ("", "start"), ("0", "7"), ("1", "2")):
            rows = [
                f"{s:.2f},{v:.6f},{cells[int(s >= 20.0 and (cells[0] == '1' or s < 20.3))]}"
                for s, v in zip(t, rough + G, strict=True)
            ]
            found = read_file("\n".join(["time,up,marker", *rows]))
            self.assertEqual((found.time, found.value, found.left_out), (0, 1, 0), cells)
            self.assertEqual([(round(b, 1), round(e, 1)) for b, e in found.stretches], [(0.0, 20.0), (20.0, 40.0)])
            first, second = road_trace(found, 0), road_trace(found, 1)
            self.assertEqual((len(first.pieces), len(road_trace(found).pieces)), (4, 8))
            self.assertAlmostEqual(second.weighted / first.weighted, 0.5, delta=0.05)
            with self.assertRaises(InputError):
                road_trace(found, 2)

    def test_what_is_no_road(self) -> None:
        """Two points, no figures, one column, a time that falls, a logger too slow, a figure that stands still, three seconds: each says what it lacks."""
        t, a = shaken()
        for text, words in (
            (file(t[:2], a[:2]), "20 rows at least"),
            ("a,b\nc,d\n" * 30, "20 rows at least"),
            ("\n".join(str(v) for v in t), "20 rows at least"),
            (file(t[::-1], a), "a time that rises"),
            (file(t[::4], a[::4]), "samples a second at least"),
            (file(t, 0.0 * t), "stand still"),
            (file(t[:300], a[:300]), "five seconds without a gap"),
        ):
            with self.subTest(words), self.assertRaises(InputError) as caught:
                road_trace(read_file(text))
            self.assertIn(words, str(caught.exception))


class Told(unittest.TestCase):
    def log(self, moment: str, trace: RoadTrace, **more: object) -> RoadLog:
        told = {"key": moment[:1], "moment": moment, "course": "rail", "speed_kmh": 40.0, "state": "loaded"}
        return RoadLog.model_validate(told | log_of(trace) | more)

    def said(self, *logs: RoadLog) -> str:
        one = job().model_copy(update={"proving": Proving(logs=logs)})
        return " ".join(s.in_units("metric") for s in road_logs_told(one)[-1].said.sentences)

    def test_after_against_before(self) -> None:
        """Half as rough is softer, with its band about a half; the same road again is no difference; a little faster still compares, a fifth does not."""
        rough, soft = (road_trace(read_file(file(*shaken(45.0, size, 7)))) for size in (1.0, 0.5))
        before = self.log("before", rough)
        self.assertAlmostEqual(weighted(before), rough.weighted, places=4)
        self.assertRegex(
            self.said(before, self.log("after", soft)), r"Softer than before: 50\s% of it \(\d\d\s% to \d\d\s%\)"
        )
        self.assertIn("no difference can be told", self.said(before, self.log("after", rough)))
        self.assertIn("Softer", self.said(before, self.log("after", soft, speed_kmh=43.0)))
        for other in ({"speed_kmh": 48.0}, {"course": "gravel"}, {"state": "empty"}):
            self.assertIn("compared with nothing", self.said(before, self.log("after", soft, **other)))
        harsh = road_logs_told(
            job().model_copy(update={"proving": Proving(logs=(self.log("before", soft), self.log("after", rough)))})
        )[1].said
        self.assertEqual(harsh.tone, "act")

    def test_what_it_cannot_tell(self) -> None:
        """Two pieces are too few to compare, five are few and say so; a logger at its end says that the blows were harder."""
        short, longer = (road_trace(read_file(file(*shaken(s, 1.0, 7)))) for s in (11.0, 26.0))
        self.assertIn("three pieces", self.said(self.log("before", short), self.log("after", short)))
        self.assertIn("Few pieces", self.said(self.log("before", longer), self.log("after", longer)))
        self.assertIn("harder than it says", self.said(self.log("before", longer, flat=4)))


if __name__ == "__main__":
    unittest.main()
