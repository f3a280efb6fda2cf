"""Limits that docstrings state are held on entry: just inside a call goes through, just outside it is refused."""

from __future__ import annotations

import unittest
from collections.abc import Callable
from functools import partial

from vantok_core.base.errors import InputError
from vantok_core.benches.damper import damping_ratio, wheel_damping
from vantok_core.facts.sums import group_centre, tank_mass, trailer_tongue
from vantok_core.loads.limits import overhang_ratio, tyre_limit
from vantok_core.physics.effects import front_share_lost, headlamp_rise, load_moved_by_levelling, travel_left
from vantok_core.physics.elements.air import air_spring_rate, pressure_at_temperature, pressure_at_volume
from vantok_core.physics.levers import centre_of_mass, hitch_moment, item_lever
from vantok_core.physics.plane import pitch_change
from vantok_core.rates.simple import rate_for_frequency, restore_force_helper, series_rate
from vantok_core.readings.plane import lean
from vantok_core.readings.tape import reading_sigma

TINY = 1e-9
STATED: tuple[tuple[Callable[[float], object], float, float], ...] = (
    (partial(item_lever, 100.0, 1.0), TINY, 0.0),
    (partial(hitch_moment, 100.0, 1.0, 3.0), 1.0, 1.0 + TINY),
    (lambda d: hitch_moment(100.0, 1.0, d, 0.5), TINY, 0.0),
    (lambda d: trailer_tongue(d, [(500.0, 1.0)]), TINY, 0.0),
    (lambda f: centre_of_mass([0.0, 0.0, 0.0, f], 3.0, 1.6, 1.6), TINY, 0.0),
    (lambda f: tank_mass(100.0, f), 1.0, 1.0 + TINY),
    (lambda f: group_centre([3.0, 4.0], [0.0, f]), TINY, 0.0),
    (partial(series_rate, 3e4), TINY, 0.0),
    (partial(restore_force_helper, 3e4, 0.05), TINY, 0.0),
    (partial(rate_for_frequency, 400.0), TINY, 0.0),
    (partial(reading_sigma, 0.0), 0.0, -TINY),
    (partial(lean, 0.9, 0.89), TINY, 0.0),
    (partial(pitch_change, 0.0, 0.05), TINY, 0.0),
    (partial(headlamp_rise, 0.0, 0.05, 3.5, -0.7), TINY, 0.0),
    (partial(front_share_lost, 1000.0), TINY, 0.0),
    (partial(travel_left, 0.01), TINY, 0.0),
    (partial(load_moved_by_levelling, 2000.0, 0.7, 0.01), TINY, 0.0),
    (partial(damping_ratio, 1500.0, 3e4), TINY, 0.0),
    (lambda c: wheel_damping(c, 0.9), 0.0, -TINY),
    (partial(pressure_at_temperature, 3e5, 290.0), TINY, 0.0),
    (partial(pressure_at_volume, 3e5, 0.002), TINY, 0.0),
    (partial(air_spring_rate, 3e5, 0.012, -0.05), TINY, 0.0),
    (lambda r: overhang_ratio(r, 3.5), 0.0, -TINY),
    (lambda i: tyre_limit(int(i), 2), 60, 59),
)
"""A call of one figure, the last value it takes, and the first it does not."""


class Stated(unittest.TestCase):
    def test_just_inside_and_just_outside(self) -> None:
        """Each stated limit lets the last value in and refuses the first beyond it."""
        for n, (call, inside, outside) in enumerate(STATED):
            with self.subTest(n):
                call(inside)
                with self.assertRaises(InputError):
                    call(outside)
