"""Benches and upkeep against what must hold whatever the figures: limits, orders, and their own definitions worked another way."""

from __future__ import annotations

import unittest
from math import cos, exp

from hypothesis import given, settings
from hypothesis import strategies as st

from vantok_core.base.errors import InputError
from vantok_core.benches.air import DAY, air_at, air_line, leak, pressure_at, tee
from vantok_core.benches.bar import AxleBar, bar_choice
from vantok_core.benches.damper import DamperMount, damper_fit
from vantok_core.benches.kick import kick
from vantok_core.benches.leaf import LeafPack, axle_torque, eye_bush, recamber, stress_word
from vantok_core.benches.links import end_link
from vantok_core.benches.tongue import at_the_ball, by_board, by_scale, by_stack
from vantok_core.benches.tyre import brake_balance, tyre_pressure
from vantok_core.benches.valves import Valves, at_click, damping_word, fade, find_mount, lean, needed_rate
from vantok_core.upkeep.settling import Visit, settled, trend

thick = st.floats(0.004, 0.02)
halves = st.floats(0.3, 1.2)


class Tongue(unittest.TestCase):
    @given(st.floats(30.0, 400.0), st.floats(0.2, 0.9), st.floats(2.0, 8.0), st.floats(0.0, 0.2), st.floats(0.05, 5.0))
    def test_every_way_finds_the_same_tongue(
        self, true: float, share: float, axle: float, held: float, error: float
    ) -> None:
        """What statics puts on a scale, on a board's end and behind the axle is read back as the tongue it came from; never closer than the scale itself; the
        stack's true figure lies within its last step."""
        at_jack = true * axle / (axle - held * axle)
        plain = at_the_ball(by_scale(at_jack, error), held * axle, axle)
        board = at_the_ball(by_board(at_jack * share + 6.0, 6.0, 1.5, share * 1.5, error), held * axle, axle)
        for found in (plain, board):
            self.assertAlmostEqual(found.mass, true, places=6)
            self.assertGreater(found.sigma, 0.0)
        self.assertGreaterEqual(board.sigma, plain.sigma - 1e-9)
        lifted = by_stack(true * axle / 1.2 + 0.3 * error, error, 1.2, axle)
        self.assertLessEqual(abs(lifted.mass - true), 0.5 * error * 1.2 / axle + 1e-9)
        for wrong in (
            lambda: by_board(5.0, 6.0, 1.5, 0.5, 1.0),
            lambda: by_stack(5.0, 6.0, 1.0, 4.0),
            lambda: at_the_ball(plain, axle, axle),
        ):
            with self.assertRaises(InputError):
                wrong()


class Floor(unittest.TestCase):
    @given(st.floats(1e5, 6e5), st.floats(260.0, 320.0), st.floats(260.0, 320.0), st.floats(3600.0, 4e5))
    def test_weather_is_no_leak(self, p: float, before: float, after: float, seconds: float) -> None:
        """A bag that lost nothing reads what its temperature says: never a leak; one that lost more than the gauge's error is told with its share."""
        shut = (p + 101_325.0) * after / before - 101_325.0
        if shut < 0.0:
            return
        self.assertEqual(leak(p, before, shut, after, seconds).verdict, "not told")
        lost = leak(p, before, shut * 0.5, after, seconds)
        self.assertGreater(lost.loss_per_day, 0.0)
        self.assertAlmostEqual(lost.share_per_day * p, lost.loss_per_day, delta=1e-6 * p)
        longer = leak(p, before, shut, after, 2.0 * seconds)
        self.assertLess(longer.least_loss_per_day, leak(p, before, shut, after, seconds).least_loss_per_day)

    def test_what_a_leak_test_is_called(self) -> None:
        """One, three and eight per cent a day; a pressure that rose; a time of nought, a bag without pressure: refused."""
        word = lambda share: leak(5e5, 290.0, 5e5 * (1.0 - share), 290.0, DAY).verdict  # noqa: E731
        self.assertEqual(
            [word(s) for s in (0.0, 0.015, 0.03, 0.08, -0.05)], ["not told", "fine", "watch", "fault", "gained"]
        )
        for wrong in (
            (0.0, 290.0, 1e5, 290.0, DAY),
            (5e5, 290.0, 4e5, 290.0, 0.0),
            (5e5, 290.0, 4e5, 0.0, DAY),
            (5e5, 290.0, -1.0, 290.0, DAY),
        ):
            with self.assertRaises(InputError):
                leak(*wrong)
        self.assertGreater(pressure_at(2000.0, 3e5), 3e5)
        self.assertAlmostEqual(pressure_at(0.0, pressure_at(2000.0, 3e5), 2000.0), 3e5, places=3)
        with self.assertRaises(InputError):
            air_at(20_000.0)
        self.assertGreater(
            tee(0.0025, 0.003, 2.0, 4e5, difference=3e4).tau, tee(0.0025, 0.006, 2.0, 4e5, difference=3e4).tau
        )
        self.assertEqual((air_line(1.5, 0.2, hot=0.3).ties, air_line(1.5, 0.2).length), (11, 1.7))

    @given(halves, halves, st.lists(thick, min_size=1, max_size=8), thick, st.floats(500.0, 20_000.0))
    def test_leaves(self, a: float, c: float, leaves: list[float], more: float, load: float) -> None:
        """One more leaf makes it stiffer and eases each of the others; equal halves give the cantilevers' sum; a thicker leaf is always the more stressed."""
        pack = LeafPack(front=a, rear=c, width=0.07, thicknesses=tuple(leaves))
        with_one = pack.with_leaf(more)
        self.assertGreater(with_one.rate, pack.rate)
        self.assertLess(max(with_one.stresses(load)[: len(leaves)]), max(pack.stresses(load)))
        self.assertEqual(max(pack.stresses(load)), pack.stresses(load)[leaves.index(max(leaves))])
        even = LeafPack(front=a, rear=a, width=0.07, thicknesses=tuple(leaves))
        self.assertAlmostEqual(even.rate, sum(even.halves), delta=1e-9 * even.rate)
        self.assertAlmostEqual(even.arch(0.1, load), 0.1 - load / even.rate, places=9)
        self.assertGreater(pack.wind_up(axle_torque(5000.0, 0.35, block=0.05)), pack.wind_up(axle_torque(5000.0, 0.35)))

    def test_bad_leaves(self) -> None:
        """A thickness of nought, a half of nought, a shape out of range; words at their edges; a bush and an arch by their own formulas."""
        for wrong in ({"thicknesses": (0.0,)}, {"thicknesses": ()}, {"front": 0.0}, {"shape": 1.7}):
            with self.assertRaises(InputError):
                LeafPack(**({"front": 0.6, "rear": 0.7, "width": 0.07, "thicknesses": (0.008,)} | wrong))  # type: ignore[arg-type]
        self.assertEqual([stress_word(s) for s in (550e6, 551e6, 701e6)], ["easy", "watch", "poor"])
        self.assertEqual(eye_bush(0.0, 0.6, 90.0).torque, 0.0)
        self.assertAlmostEqual(recamber(0.0, 0.02, 0.02, arch=0.1, load=5000.0, rate=4e4, new_rate=4e4).arch, 0.1)

    @given(st.floats(0.2, 1.0), st.floats(0.2, 0.8), st.floats(0.4, 1.4), st.floats(2.4, 6.0))
    def test_brakes(self, grip: float, rear: float, height: float, wheelbase: float) -> None:
        """At the deceleration of the axle that locks first neither axle has used more grip than there is; more weight behind locks the front sooner."""
        found = brake_balance(grip, rear, height, wheelbase)
        ahead, behind = 1.0 - rear + found.z * height / wheelbase, rear - found.z * height / wheelbase
        if behind > 0.0:
            self.assertLessEqual(0.65 * found.z, grip * ahead + 1e-9)
            self.assertTrue(
                abs(found.z_front * 0.65 - grip * (1.0 - rear + found.z_front * height / wheelbase)) < 1e-9
                if found.z_front
                else True
            )
        more = brake_balance(grip, min(rear + 0.05, 0.95), height, wheelbase)
        if found.z_front and more.z_front:
            self.assertLess(more.z_front, found.z_front)

    def test_tyres(self) -> None:
        """The maker's table first; under its first row its pressure; past its last an error; without one an estimate, never under the least."""
        table = [(2e5, 5000.0), (3e5, 7000.0)]
        self.assertEqual(
            (tyre_pressure(4000.0, table=table).pressure, tyre_pressure(6000.0, table=table).pressure), (2e5, 2.5e5)
        )
        with self.assertRaises(InputError):
            tyre_pressure(7001.0, table=table)
        with self.assertRaises(InputError):
            tyre_pressure(1.0, table=[(3e5, 5000.0), (2e5, 7000.0)])
        low = tyre_pressure(1000.0, most_load=9000.0, most_pressure=5e5, least=2e5)
        self.assertEqual((low.pressure, low.at_minimum, low.estimated), (2e5, True, True))


class Damping(unittest.TestCase):
    @given(st.floats(100.0, 6000.0), st.floats(100.0, 6000.0), st.floats(0.05, 1.5))
    def test_a_rate_is_its_own_equivalent(self, bump: float, rebound: float, speed: float) -> None:
        """Straight curves take out of a cycle what the mean of their rates does; clicks between two are a straight mix; outside them is refused."""
        unit = Valves.from_points(bump, rebound)
        self.assertAlmostEqual(unit.equivalent(speed), 0.5 * (bump + rebound), delta=1e-3 * (bump + rebound))
        other = Valves.from_points(2.0 * bump, 2.0 * rebound)
        self.assertAlmostEqual(
            at_click([(1, unit), (3, other)], 2).force(speed), 1.5 * unit.force(speed), delta=1e-6 * bump
        )
        with self.assertRaises(InputError):
            at_click([(1, unit), (3, other)], 3.5)

    def test_words_and_bad_curves(self) -> None:
        """Damping ratios at the edges of their words; a curve that falls, speeds out of order: refused at their way."""
        self.assertEqual(
            [damping_word(z) for z in (0.149, 0.15, 0.20, 0.41, 0.61)],
            ["keeps bouncing", "soft", "usual", "firm", "harsh"],
        )
        for wrong in ([(0.1, 500.0), (0.3, 400.0)], [(0.3, 500.0), (0.1, 600.0)], []):
            with self.assertRaises(InputError):
                Valves.from_points(wrong, 1000.0)
        upright = lean((3.6, 0.5, 0.3), (3.6, 0.5, 0.7))
        self.assertEqual((upright.cosine, upright.side, upright.end), (1.0, 0.0, 0.0))
        for flat in ((3.6, 0.5, 0.3), (3.2, 0.5, 0.3)):
            with self.assertRaises(InputError):
                lean((3.6, 0.5, 0.3), flat)
        self.assertAlmostEqual(needed_rate(0.3, 4e4, 500.0, 0.5), 4.0 * needed_rate(0.3, 4e4, 500.0, 1.0))

    @given(st.lists(st.tuples(st.floats(3.2, 3.8), st.floats(0.3, 0.6), st.floats(0.5, 0.9)), min_size=1, max_size=6))
    def test_the_mount_found_is_the_most_upright_that_keeps_both(
        self, places: list[tuple[float, float, float]]
    ) -> None:
        """Whatever the places: the one found keeps both margins and none of those that do is more upright; else none keeps both."""
        mount = DamperMount(axle=(3.55, 0.45, 0.3), frame=places[0], bump=0.08, droop=0.09, closed=0.28, open_=0.5)
        found, keeping = find_mount(mount, places), []
        for place in places:
            fit = damper_fit(DamperMount(axle=mount.axle, frame=place, bump=0.08, droop=0.09, closed=0.28, open_=0.5))
            if min(fit.closed_clearance, fit.open_clearance) >= 0.0:
                keeping.append(cos(fit.angle))
        self.assertEqual(found.found, bool(keeping))
        if keeping:
            self.assertAlmostEqual(found.cosine, max(keeping))
        else:
            self.assertGreater(found.by, 0.0)

    def test_fade(self) -> None:
        """The temperature after a time lies on its exponential; a cool damper never gets to half; a hot one starts there."""
        found = fade(500.0, seconds=600.0)
        self.assertAlmostEqual(found.at or 0.0, 120.0 - 100.0 * exp(-600.0 * 5.0 / 2500.0))
        self.assertEqual((fade(100.0).minutes_to_half, fade(500.0, start=150.0).minutes_to_half), (None, 0.0))

    @settings(max_examples=25, deadline=None)
    @given(st.floats(0.0, 6000.0), st.floats(0.05, 0.3))
    def test_a_damper_takes_off_the_kick(self, damping: float, lever: float) -> None:
        """With a damper the wheels go less far, whether the motion swings or creeps."""
        self.assertLessEqual(kick(damping, lever).peak, kick().peak + 1e-12)

    def test_links_and_bars(self) -> None:
        """A long upright link over a short travel hardly leans; one that cannot follow, or has no length, is refused; bars shift the balance to their end."""
        long = end_link((3.2, 0.8), 0.3, (3.5, 0.2), 0.02, 0.02)
        self.assertLess(long.link_worst, 1.0)
        self.assertFalse(long.poor or long.may_turn_over)
        for wrong in (
            ((3.2, 0.4), 0.3, (3.5, 0.4), 0.05, 0.05),
            ((3.2, 0.4), 0.1, (3.32, 0.36), 0.3, 0.3),
            ((3.2, 0.4), 0.0, (3.3, 0.2), 0.1, 0.1),
        ):
            with self.assertRaises(InputError):
                end_link(*wrong)  # type: ignore[arg-type]
        mirrored = end_link((3.2, 0.42), 0.28, (2.88, 0.24), 0.09, 0.1, "front")
        straight = end_link((3.2, 0.42), 0.28, (3.52, 0.24), 0.09, 0.1)
        self.assertAlmostEqual(mirrored.arm_bump, straight.arm_bump)
        plain = AxleBar(springs=5e4, track=1.7, tyre_rate=2.6e5)
        stiff = AxleBar(springs=5e4, track=1.7, tyre_rate=2.6e5, bar=3e4)
        self.assertLess(bar_choice(plain, stiff).front_share, bar_choice(plain, plain).front_share)
        self.assertAlmostEqual(bar_choice(plain, plain).front_share, 0.5)


class Upkeep(unittest.TestCase):
    @settings(max_examples=60)
    @given(
        st.lists(
            st.tuples(st.integers(0, 2000), st.floats(-2.0, 2.0)), min_size=3, max_size=8, unique_by=lambda v: v[0]
        ),
        st.floats(-5e-5, 5e-5),
    )
    def test_a_slope_is_told_only_outside_its_band(self, visits: list[tuple[int, float]], slope: float) -> None:
        """A line read with errors is told when the band excludes nought, and then the day it reaches a floor lies on it."""
        rows = [Visit(day=d, value=0.03 + slope * d + 0.0005 * e) for d, e in visits]
        found = trend(rows, sigma=0.0005, limit=0.0)
        self.assertEqual(found.told, abs(found.slope) > found.band)
        if isinstance(found.day_reached, float):
            last = max(d for d, _ in visits)
            self.assertAlmostEqual(found.value_last + found.slope * (found.day_reached - last), 0.0, places=9)

    def test_settling(self) -> None:
        """Within the joint band it is as expected, beyond it more or less; one visit, or two on a day, make no trend."""
        word = lambda now: settled(0.9, now, 0.003).word  # noqa: E731
        self.assertEqual(
            [word(n) for n in (0.897, 0.889, 0.905)], ["as expected", "more than expected", "less than expected"]
        )
        with self.assertRaises(InputError):
            trend([Visit(day=1.0, value=0.1), Visit(day=1.0, value=0.2)])
        with self.assertRaises(InputError):
            trend([Visit(day=1.0, value=3e5, kelvin=290.0), Visit(day=9.0, value=2.9e5, kelvin=280.0)])
