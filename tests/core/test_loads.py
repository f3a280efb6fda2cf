"""Levers, hitches, trailers, centre of mass: hand calculations and what must always hold."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from tests.core.samples import job
from vantok_core.base.errors import InputError
from vantok_core.base.num import G
from vantok_core.facts import JobState, LoadItem
from vantok_core.facts.sums import group_centre, trailer_tongue
from vantok_core.loads.plan import state_load, state_margins, worst_margin
from vantok_core.physics.levers import centre_of_mass, hitch_effect, hitch_moment, item_lever, tongue_lever
from vantok_core.physics.vehicle import Tongue

lengths = st.floats(2.2, 6.0)
masses = st.floats(1.0, 900.0)


class Levers(unittest.TestCase):
    @given(masses, st.floats(-1.0, 8.0), lengths)
    def test_shares_add_up(self, mass: float, station: float, wheelbase: float) -> None:
        """Both axles together gain exactly the item, and moments about the front axle balance."""
        share = item_lever(mass, station, wheelbase)
        self.assertAlmostEqual(float(share.front + share.rear), mass, places=6)
        self.assertAlmostEqual(float(share.rear) * wheelbase, mass * station, places=4)

    @given(masses, st.floats(0.5, 1.6), lengths, st.floats(3.0, 7.0), st.floats(0.0, 1.0))
    def test_spring_bars_give_back_what_was_asked(
        self, tongue: float, o: float, wheelbase: float, d: float, share: float
    ) -> None:
        """The front's loss is reduced by exactly the share asked for, and the three axles still carry the tongue."""
        moment = hitch_moment(tongue, o, d, share)
        effect = hitch_effect(Tongue(mass=tongue, overhang=o, bar_moment=moment, axle_distance=d), wheelbase)
        lost = float(tongue_lever(tongue, o, wheelbase).front) * G
        self.assertAlmostEqual(float(effect.front), (1.0 - share) * lost, delta=1e-6 * tongue * G)
        self.assertAlmostEqual(
            float(effect.front + effect.rear + effect.trailer_axle), tongue * G, delta=1e-6 * tongue * G
        )

    def test_a_pin_ahead_of_the_axle_loads_the_front(self) -> None:
        """A negative overhang puts part of the tongue on the front axle."""
        self.assertGreater(float(tongue_lever(400.0, -0.3, 3.5).front), 0.0)

    @given(st.lists(st.tuples(masses, st.floats(0.5, 6.0)), min_size=1, max_size=6))
    def test_trailer_balance(self, items: list[tuple[float, float]]) -> None:
        """Moving any item rearward never raises the tongue."""
        before = trailer_tongue(4.0, items).tongue
        moved = [(items[0][0], items[0][1] + 0.5), *items[1:]]
        self.assertLess(trailer_tongue(4.0, moved).tongue, before)

    @given(st.lists(st.floats(500.0, 9000.0), min_size=4, max_size=4), lengths)
    def test_centre_of_mass_lies_between_the_wheels(self, loads: list[float], wheelbase: float) -> None:
        """The centre of mass of four wheel loads lies inside the four wheels."""
        found = centre_of_mass(loads, wheelbase, 1.6, 1.7)
        self.assertTrue(0.0 < found.station < wheelbase)
        self.assertLess(abs(found.lateral), 0.85)

    def test_group_centre_and_refusals(self) -> None:
        """The load centre of a group is between its axles; what cannot be is refused by name."""
        self.assertAlmostEqual(group_centre([4.0, 5.2], [9000.0, 3000.0]), 4.3)
        refusals = (
            lambda: group_centre([4.0], [-1.0]),
            lambda: item_lever(10, 1, 0.0),
            lambda: trailer_tongue(0.0, [(1, 1)]),
            lambda: trailer_tongue(4.0, []),
            lambda: hitch_moment(100, 1, 5, 1.5),
            lambda: hitch_moment(100, 1, 0, 0.5),
            lambda: centre_of_mass([0, 0, 0, 0], 3, 1.6, 1.6),
            lambda: Tongue(mass=1, overhang=1, bar_moment=-5.0),
        )
        for call in refusals:
            with self.assertRaises(InputError):
                call()


class Plan(unittest.TestCase):
    def with_items(self, *items: LoadItem, **scale: float) -> JobState:
        return JobState(key="loaded", name="Loaded", items=items, **scale)

    def test_the_scale_rules_and_the_difference_is_told(self) -> None:
        """With plan and scale, the scale's figures stand and the plan's shortfall is given."""
        state = self.with_items(LoadItem(name="a", mass_kg=300, station_m=3.55), front_kg=1210, rear_kg=1254)
        base = job()
        found = state_load(base.model_copy(update={"states": (base.states[0], state)}), state)
        self.assertEqual((found.basis, found.rear), ("scale", 1254.0))
        self.assertAlmostEqual(found.short_rear or 0.0, 64.0)
        self.assertAlmostEqual(found.short_front or 0.0, 0.0)

    def test_corner_pads_make_axles(self) -> None:
        """Four pads give both axles."""
        state = JobState(key="loaded", name="L", corners_kg=(600, 610, 500, 520))
        self.assertEqual(state_load(job(), state).front, 1210.0)

    def test_worst_margin_over_all_states(self) -> None:
        """The smallest margin of the whole job is found among all states and limits."""
        base = job()
        found = worst_margin(base)
        assert found is not None
        everything = [m.share for s in base.states for m in state_margins(base, s) if m.share is not None]
        self.assertEqual(found[1].share, min(everything))
