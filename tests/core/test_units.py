"""Lengths and other quantities as people write them."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from vantok_core.base.errors import UnitError
from vantok_core.base.units import UNITS, inches_text, parse, parse_length, show

INCH = 0.0254


class Lengths(unittest.TestCase):
    def test_as_people_write_them(self) -> None:
        """Every way of writing the same height reads as that height, in either system."""
        for text in ("29 1/2", '29-1/2"', "29½", "2' 5 1/2\"", "2 ft 5 1/2 in", "29.5 in", "749.3 mm", "74.93 cm"):
            for system in ("metric", "us"):
                with self.subTest(text=text, system=system):
                    self.assertAlmostEqual(parse_length(text, system).value, 29.5 * INCH, delta=1e-9)  # type: ignore[arg-type]

    def test_bare_figures(self) -> None:
        """A bare figure is in the reader's unit; on a tape, inches beyond reason are mm."""
        self.assertAlmostEqual(parse_length("748", "metric").value, 0.748)
        self.assertAlmostEqual(parse_length("29.5", "us").value, 29.5 * INCH)
        self.assertAlmostEqual(parse_length("748", "us", bare_mm_above=120).value, 0.748)
        self.assertAlmostEqual(parse_length("74,8 cm").value, 0.748)
        self.assertAlmostEqual(parse_length("1,250").value, 1.250)

    def test_nonsense(self) -> None:
        """What is no length says so, with the text that was typed."""
        for text in ("abc", "", "-5", "29 3/0", "29 9/8", "12 cats", "1/", "' 3", "7..5", "1e3"):
            with self.subTest(text), self.assertRaises(UnitError) as caught:
                parse_length(text, "us")
            self.assertIn(text, str(caught.exception))

    @given(st.integers(0, 16 * 400))
    def test_sixteenths_round_trip(self, sixteenths: int) -> None:
        """What is shown in sixteenths reads back as the same sixteenth."""
        text = inches_text(sixteenths / 16 * INCH)
        self.assertAlmostEqual(parse_length(text, "us").value, sixteenths / 16 * INCH, delta=1e-12)

    @given(st.sampled_from(["mass", "force", "pressure", "rate"]), st.floats(0.1, 1e5))
    def test_units_round_trip(self, kind: str, value: float) -> None:
        """A figure written in any unit of its kind reads back within its printed digits."""
        for unit, factor in UNITS[kind].items():
            text = f"{value / factor:.9f} {unit}"
            self.assertAlmostEqual(parse(kind, text, "metric").value, value, delta=1e-6 * value + 1e-9 * factor)


class Shown(unittest.TestCase):
    def test_in_the_readers_units(self) -> None:
        """Quantities are shown with the system's unit, signed where asked, never as minus nought."""
        self.assertEqual(show("length", 0.0583, "metric"), "58\u00a0mm")
        self.assertEqual(show("length", 0.0583, "us"), "2\xa05/16\u00a0in")
        self.assertEqual(show("mass", 100.0, "us"), "220\u00a0lb")
        self.assertEqual(show("pressure", 413_685.0, "us"), "60\u00a0psi")
        self.assertEqual(show("length", -0.0002, "metric", signed=True), "0\u00a0mm")
        self.assertEqual(show("length", -0.012, "metric", signed=True), "−12\u00a0mm")
        self.assertEqual(show("length", 0.0002, "us", signed=True), "0\u00a0in")
        self.assertEqual(show("length", 0.0127, "us", signed=True), "+1/2\u00a0in")
        self.assertEqual([show("temperature", 233.15, s) for s in ("metric", "us")], ["−40\u00a0°C", "−40\u00a0°F"])
        for text, system in (("20", "metric"), ("68", "us"), ("68 F", "metric"), ("20 °C", "us"), ("293.15 K", "us")):
            self.assertAlmostEqual(parse("temperature", text, system).value, 293.15, places=9)  # type: ignore[arg-type]
