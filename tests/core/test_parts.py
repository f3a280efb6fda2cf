"""Bars, roll, stabilizers, dampers and air by hand calculation and by what must hold (method section 6)."""

import unittest
from math import pi

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.core.samples import AIR
from vantok_core.base.errors import InputError
from vantok_core.benches.bar import BarGeometry, RollInstabilityError, axle_roll, bar_rate, roll_gradient
from vantok_core.benches.damper import DamperMount, damper_fit, damping_ratio, decay_of_peaks, wheel_damping
from vantok_core.benches.stabilizer import StabilizerMount, best_clamp, damping_factor, stabilizer_fit
from vantok_core.kits.families import air_spring
from vantok_core.physics.effects import (
    caster_change,
    front_share_lost,
    headlamp_rise,
    load_moved_by_levelling,
    travel_left,
    wheel_angle_change,
)
from vantok_core.physics.elements.air import (
    AreaTable,
    LinearArea,
    Volume,
    pressure_at_temperature,
    pressure_at_volume,
    pressure_when_joined,
)
from vantok_core.physics.elements.curve import Curve, force_curve


class Bars(unittest.TestCase):
    BAR = BarGeometry(centre=0.9, arm=0.25, arm_metal=0.28, diameter=0.026)

    def test_fourth_power(self) -> None:
        """A bar twice as thick is sixteen times as stiff; a bore takes away its own fourth power."""
        thick = BarGeometry(centre=0.9, arm=0.25, arm_metal=0.28, diameter=0.052)
        self.assertAlmostEqual(bar_rate(thick, 0.8, 1.7).k_end / bar_rate(self.BAR, 0.8, 1.7).k_end, 16.0)
        hollow = BarGeometry(centre=0.9, arm=0.25, arm_metal=0.28, diameter=0.026, bore=0.013)
        self.assertAlmostEqual(bar_rate(hollow, 0.8, 1.7).roll / bar_rate(self.BAR, 0.8, 1.7).roll, 1 - 0.5**4)

    def test_roll_adds_in_series_with_tyres(self) -> None:
        """An axle is never stiffer than its tyres or its springs; a body too tall for both is refused."""
        axle = axle_roll([(60e3, 1.0, 0.5)], 20e3, 300e3, 1.7)
        self.assertLess(axle.axle, min(axle.suspension, axle.tyres))
        steady = roll_gradient(2000.0, 0.5, axle.axle, axle.axle)
        self.assertAlmostEqual(steady.front_share, 0.5)
        with self.assertRaises(RollInstabilityError):
            roll_gradient(8000.0, 2.0, axle.axle, axle.axle)

    def test_no_bar(self) -> None:
        """Sizes that make no bar are refused."""
        with self.assertRaises(InputError):
            bar_rate(BarGeometry(centre=0.9, arm=0.25, arm_metal=0.28, diameter=0.02, bore=0.02), 0.8, 1.7)


class Stabilizer(unittest.TestCase):
    MOUNT = StabilizerMount(
        link=(0.0, 0.30, 0.0),
        frame=(0.05, 0.84, 0.05),
        y_range=(-0.09, 0.09),
        z_range=(-0.06, 0.06),
        closed=0.38,
        open_=0.68,
    )

    @given(st.floats(-0.09, 0.09), st.floats(-0.06, 0.06), st.floats(-0.05, 0.05))
    def test_no_place_is_outside_the_found_lengths(self, y: float, z: float, clamp: float) -> None:
        """Anywhere in the travel the unit is neither shorter nor longer than what was found."""
        fit = stabilizer_fit(self.MOUNT, clamp)
        length = float(np.linalg.norm(np.array([0.0, 0.30 + y + clamp, z]) - np.array(self.MOUNT.frame)))
        self.assertLessEqual(fit.shortest - 1e-12, length)
        self.assertGreaterEqual(fit.longest + 1e-12, length)

    def test_the_best_clamp_is_best(self) -> None:
        """No clamp place of a fine walk has a larger smaller-reserve."""
        best = stabilizer_fit(self.MOUNT, best_clamp(self.MOUNT, (-0.06, 0.06))).reserve
        self.assertGreaterEqual(
            best + 1e-9, max(stabilizer_fit(self.MOUNT, c).reserve for c in np.linspace(-0.06, 0.06, 401))
        )
        self.assertTrue(0.0 < damping_factor(self.MOUNT) <= 1.0)


class Dampers(unittest.TestCase):
    def test_lean_costs_the_square_of_the_cosine(self) -> None:
        """A damper leaned at 60 degrees keeps a quarter of its damping at the wheel."""
        self.assertAlmostEqual(wheel_damping(2000.0, 0.5), 500.0)

    @given(st.floats(0.0, 0.12), st.floats(0.0, 0.12))
    def test_lengths_over_the_travel(self, bump: float, droop: float) -> None:
        """Shortest and longest hold over a fine walk of the travel."""
        mount = DamperMount(
            axle=(3.5, 0.4, 0.25), frame=(3.4, 0.35, 0.62), bump=bump, droop=droop, closed=0.2, open_=0.7
        )
        fit = damper_fit(mount)
        across = ((3.5 - 3.4) ** 2 + 0.05**2) ** 0.5
        walk = [(across**2 + (0.37 - z) ** 2) ** 0.5 for z in np.linspace(-droop, bump, 101)]
        self.assertAlmostEqual(fit.shortest, min(walk), places=6)
        self.assertAlmostEqual(fit.longest, max(walk), places=6)

    @given(st.floats(0.05, 0.9))
    def test_a_trace_gives_back_its_damping(self, zeta: float) -> None:
        """Peaks made with a damping ratio give that ratio back; a stiffer spring lowers it."""
        delta = 2 * pi * zeta / (1 - zeta**2) ** 0.5
        peaks = [0.05 * float(np.exp(-n * delta)) for n in range(3)]
        self.assertAlmostEqual(decay_of_peaks(peaks).zeta, zeta, places=6)
        self.assertLess(damping_ratio(2000, 60e3, 500), damping_ratio(2000, 40e3, 500))

    def test_peaks_that_make_no_sense(self) -> None:
        """Peaks that grow or change sides are refused."""
        for peaks in ([0.01], [0.01, 0.02], [0.02, -0.01], [0.0, 0.0]):
            with self.assertRaises(InputError):
                decay_of_peaks(peaks)


class Air(unittest.TestCase):
    def test_gas_laws(self) -> None:
        """Cold lowers the pressure by the absolute ratio; halving the volume doubles the absolute pressure; a tee evens out."""
        self.assertAlmostEqual(pressure_at_temperature(300e3, 293.15, 293.15), 300e3)
        self.assertAlmostEqual(pressure_at_volume(100e3, 0.004, 0.002), 2 * (100e3 + 101_325) - 101_325)
        self.assertAlmostEqual(pressure_when_joined(300e3, 100e3, 0.002, 0.002), 200e3)
        with self.assertRaises(InputError):
            pressure_at_temperature(300e3, 0.0, 300.0)

    @given(st.floats(0.05, 0.28), st.floats(60e3, 690e3))
    def test_the_table_reads_as_published(self, h: float, p: float) -> None:
        """On the table's own lines the force is the maker's; off its edges it is held and flagged."""
        bag = air_spring.FAMILY.of(AIR).bag(0.17, p)
        on_line = air_spring.FAMILY.of(AIR).bag(0.17, 400e3)
        self.assertAlmostEqual(float(on_line.press(0.17 - 0.13, 400e3)[0]), 400e3 * 0.0135, places=3)
        outside = h < 0.10 or h > 0.22
        self.assertEqual(bool(bag.beyond_data(0.17 - h, p)), outside)

    def test_volume_is_the_integral_of_area(self) -> None:
        """Summed in thin slices, the area gives the volume gained."""
        for area in (
            LinearArea(a0=0.012, slope=-0.02, h0=0.2),
            AreaTable.from_loads([0.1, 0.15, 0.2], [1e5, 3e5], [[1400, 4300], [1290, 3960], [1100, 3400]]),
        ):
            heights = np.linspace(0.08, 0.24, 20_001)
            slices = np.array([float(area.at(float(h), 2e5)[0]) for h in heights])
            exact = float(area.integral(0.08, 0.24, 2e5))
            self.assertAlmostEqual(float(np.trapezoid(slices, heights)) / exact, 1.0, places=6)
        self.assertGreater(
            float(Volume(v0=0.002, h0=0.2).at(-1.0, 1e5, LinearArea(a0=0.012, slope=0.0, h0=0.2))[0]), 0.0
        )

    def test_bad_tables(self) -> None:
        """Tables that do not rise, are not full, or are negative are refused; so are curves."""
        for h, p, f in (
            ([0.2, 0.1], [1e5], [[1], [1]]),
            ([0.1, 0.2], [0.0], [[1], [1]]),
            ([0.1, 0.2], [1e5], [[1]]),
            ([0.1, 0.2], [1e5], [[1], [-1]]),
        ):
            with self.assertRaises(InputError):
                AreaTable.from_loads(h, p, f)
        for points in ([], [(0.01, 5.0), (0.02, 4.0)], [(-0.01, 5.0)]):
            with self.assertRaises(InputError):
                force_curve(points)
        with self.assertRaises(InputError):
            Curve(((0.0, 1.0),))

    @given(st.floats(-0.02, 0.12))
    def test_curves_are_monotone_and_pass_their_points(self, x: float) -> None:
        """A maker's curve never falls, passes its points, and agrees for floats and arrays."""
        curve = force_curve(((0.01, 450), (0.02, 1150), (0.035, 3000), (0.05, 6400)))
        value, slope = curve.at(x)
        self.assertGreaterEqual(float(slope), 0.0)
        self.assertAlmostEqual(float(curve.at(0.035)[0]), 3000.0)
        self.assertAlmostEqual(float(curve.at(np.array([x]))[0][0]), float(value), places=6)  # type: ignore[index]


class Effects(unittest.TestCase):
    def test_by_hand(self) -> None:
        """Beam, caster, camber, grip, travel and levelling on plain figures."""
        self.assertAlmostEqual(float(headlamp_rise(0.0, 0.06, 3.0, 0.0, 10.0)), 0.2)
        self.assertAlmostEqual(caster_change(pi / 180), 1.0)
        self.assertAlmostEqual(wheel_angle_change(-12.0, 0.05), -0.6)
        self.assertAlmostEqual(front_share_lost(900.0, 1000.0), 0.1)
        self.assertAlmostEqual(travel_left(0.03, 0.06), 0.5)
        self.assertLess(load_moved_by_levelling(2600.0, 0.75, 0.02, 3.55), 15 * 9.81)
        for call in (
            lambda: headlamp_rise(0, 0, 3, 0, 0.0),
            lambda: front_share_lost(1, 0),
            lambda: travel_left(1, 0),
            lambda: load_moved_by_levelling(1, 1, 1, 0),
        ):
            with self.assertRaises(InputError):
                call()
