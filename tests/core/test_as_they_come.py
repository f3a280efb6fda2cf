"""Jobs as they really come in: loads nobody weighed, kits already on, failures, odds. By properties and by known truths."""

from __future__ import annotations

import unittest
from dataclasses import replace

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.core.samples import AIR, loaded, pickup
from vantok_core.base.errors import InputError, MixedDatumError
from vantok_core.kits.aim import Stands, beam_kept, gap_kept, raised_by, stated_height, to_empty, to_rake
from vantok_core.kits.cost import Work, beaten_by, bundle, years_cost
from vantok_core.kits.families import air_spring
from vantok_core.kits.odds import in_ten, odds_within, right_choice
from vantok_core.loads.unweighed import gap_when_touching, plate_axle_load
from vantok_core.physics.settings import at_setting
from vantok_core.physics.stance.states import solve_states
from vantok_core.physics.vehicle import Element, Item, LoadState
from vantok_core.physics.what_if import BrokenLeaf, DeadBag, what_if
from vantok_core.practice.as_they_come import KINDS, coverage
from vantok_core.rates.calibrate import estimate
from vantok_core.rates.next_measurement import Candidate, next_measurement
from vantok_core.rates.off_springs import gain_band, margin_off, prior_sigma, read_off, unknown_load
from vantok_core.rates.places import Place, place_drop
from vantok_core.rates.problem import EstimationProblem, HeightReading
from vantok_core.readings.on_off import Read, force_of, further, lift_of

HEIGHTS = {"front": 0.88, "rear": 0.95}


def read_from(front: float, rear: float) -> EstimationProblem:
    """Return an estimation of a pickup whose load, truly so much at either axle (kg), nobody recorded."""
    vehicle = pickup()
    truth = LoadState(name="loaded", items=(Item(mass=front, station=0.0), Item(mass=rear, station=vehicle.wheelbase)))
    solved = solve_states(vehicle, [LoadState(name="empty"), truth], check_limits=False)
    readings = [
        HeightReading(
            state=state,
            place=Place(axle, "ground"),
            sigma=0.002,
            value=HEIGHTS[axle] - float(place_drop(one, Place(axle, "ground"))),
        )
        for state, one in solved.items()
        for axle in ("front", "rear")
    ]
    named = unknown_load(800.0, 950.0)
    items = (Item(name="u:front", mass=0.0, station=0.0), Item(name="u:rear", mass=0.0, station=vehicle.wheelbase))
    return EstimationProblem(
        vehicle=vehicle,
        states=[LoadState(name="empty"), LoadState(name="loaded", items=items)],
        readings=readings,
        loads={"u:front": named[0], "u:rear": named[1]},
        sigma_ln={"front": 0.25, "rear": 0.25},
    )


class Unweighed(unittest.TestCase):
    def test_a_load_is_read_off_the_springs_within_its_band(self) -> None:
        """The truth lies in the band of mass and centre; the band is as wide as the class's rates leave it."""
        found = estimate(read_from(40.0, 420.0))
        load = read_off(found, "u:front", "u:rear", 3.55)
        self.assertLess(abs(load.mass - 460.0), 1.645 * load.sigma_mass)
        self.assertGreater(load.sigma_rear, 40.0)
        assert load.centre is not None
        assert load.sigma_centre is not None
        self.assertLess(abs(load.centre - 3.55 * 420 / 460), 3 * load.sigma_centre)

    def test_no_load_has_no_centre(self) -> None:
        """Where the mass is not told apart from nothing, no centre is told."""
        load = read_off(estimate(read_from(0.0, 0.0)), "u:front", "u:rear", 3.55)
        self.assertIsNone(load.centre)
        self.assertLess(abs(load.mass), 1.645 * load.sigma_mass)

    @given(st.floats(500, 3000), st.floats(1, 300), st.floats(-900, 900), st.floats(1, 400), st.floats(500, 4000))
    def test_a_margin_off_the_springs_never_says_within(
        self, ref: float, s_ref: float, gain: float, s: float, limit: float
    ) -> None:
        """Only a whole band on one side says "probably", with "weigh it"; the load lies in its own band."""
        found = margin_off(ref, s_ref, gain, s, limit)
        self.assertLessEqual(found.band[0], found.load)
        self.assertGreaterEqual(found.band[1], found.load)
        if found.verdict == "cannot be told":
            self.assertLessEqual(found.band[0], limit)
            self.assertGreaterEqual(found.band[1], limit)
        else:
            self.assertIn("weigh it", found.verdict)
        low, high = gain_band(gain, s)
        self.assertLessEqual(low, high)

    def test_without_plate_or_scale_nothing_is_told(self) -> None:
        """Neither rating nor reference load: refused, with what to read; a rating stands in, give or take."""
        with self.assertRaises(InputError):
            prior_sigma(None, None)
        self.assertEqual(prior_sigma(None, 1000.0), 500.0)
        self.assertEqual(plate_axle_load(2000.0), (1800.0, 200.0))
        self.assertAlmostEqual(gap_when_touching(0.07, 0.061), -0.009)
        with self.assertRaises(InputError):
            gap_when_touching(0.06, 0.061)


class AlreadyOn(unittest.TestCase):
    def test_on_and_off(self) -> None:
        """A lift inside its band is not told; one datum only; force is the rate times the lift."""
        small = lift_of(Read(value=0.5, sigma=0.003, datum="hub"), Read(value=0.504, sigma=0.003, datum="hub"))
        clear = lift_of(Read(value=0.5, sigma=0.003, datum="hub"), Read(value=0.52, sigma=0.003, datum="hub"))
        self.assertFalse(small.told)
        self.assertTrue(clear.told)
        self.assertAlmostEqual(force_of(clear, 40e3, 0.1)[0], 800.0)
        self.assertAlmostEqual(further(small, clear).lift, 0.016)
        with self.assertRaises(MixedDatumError):
            lift_of(Read(value=0.5, sigma=0.003, datum="hub"), Read(value=0.8, sigma=0.003, datum="ground"))

    def bagged(self, p_set: float = 2e5) -> tuple[object, LoadState]:
        bags = air_spring.FAMILY.of(AIR).bag(0.17, p_set)
        element = Element(name="bags", left=bags, right=bags, y=0.5, set_state="loaded", p_min=35e3, p_max=690e3)
        return pickup(), (element, loaded(350, 3.4))  # type: ignore[return-value]

    def test_states_by_setting(self) -> None:
        """At one load a higher pressure stands higher, and one taken off stands as if it had never been there."""
        vehicle, (element, state) = self.bagged()  # type: ignore[misc]
        fitted = replace(vehicle, rear=replace(vehicle.rear, elements=(element,)))  # type: ignore[attr-defined, type-var]
        drops = []
        for setting in ("off", {"p": 1e5}, {"p": 3e5}):
            law = at_setting(element.left, setting, "bags")
            one = replace(state, name="loaded", laws={"bags": (law, law)})
            drops.append(float(place_drop(solve_states(fitted, [one])["loaded"], Place("rear", "ground"))))
        self.assertEqual(drops, sorted(drops, reverse=True))
        bare = float(place_drop(solve_states(vehicle, [state])[state.name], Place("rear", "ground")))  # type: ignore[arg-type]
        self.assertAlmostEqual(drops[0], bare, places=9)
        with self.assertRaises(InputError):
            at_setting(element.left, {"gap": 0.01}, "bags")


class Failing(unittest.TestCase):
    def test_a_burst_bag_lands_and_leans(self) -> None:
        """The dead side comes down further, onto metal where there is no stop; without a closed height that is refused."""
        bags = air_spring.FAMILY.of(AIR).bag(0.17, 3e5)
        element = Element(name="bags", left=bags, right=bags, y=0.5, set_state="loaded")
        vehicle = pickup()
        vehicle = replace(vehicle, rear=replace(vehicle.rear, elements=(element,)))
        states = [replace(loaded(600, 3.4), name="loaded")]
        found = what_if(vehicle, states, DeadBag(element="bags", sides=("left",), closed_height=0.08))["loaded"]
        self.assertGreater(found.leans, 0.0)
        self.assertGreater(found.further_drop["RL"], 0.0)
        self.assertIn(found.rests_on["left"], ("metal", "none"))
        self.assertEqual(found.rests_on["right"], "none")
        with self.assertRaises(InputError):
            what_if(vehicle, states, DeadBag(element="bags", sides=("left",)))

    def test_broken_leaves(self) -> None:
        """Leaves gone on the right let the right side down; all or none of them is refused."""
        found = what_if(
            pickup(),
            [replace(loaded(300, 3.4), name="loaded")],
            BrokenLeaf(axle="rear", side="right", gone=1, leaves=5),
        )
        self.assertLess(found["loaded"].leans, 0.0)
        for gone in (0, 5):
            with self.assertRaises(InputError):
                BrokenLeaf(axle="rear", side="left", gone=gone, leaves=5)


class Choosing(unittest.TestCase):
    @given(st.floats(-0.05, 0.05), st.floats(0.0005, 0.03))
    def test_odds(self, off: float, sigma: float) -> None:
        """Alike to either side of the target, at most one, and in words between 1 and 9 in 10."""
        self.assertAlmostEqual(odds_within(off, sigma, 0.0), odds_within(-off, sigma, 0.0), places=12)
        self.assertTrue(0.0 <= odds_within(off, sigma, 0.0) <= 1.0)
        self.assertTrue(1 <= in_ten(odds_within(off, sigma, 0.0)) <= 9)

    @given(st.integers(0, 2**31))
    def test_right_choices_add_up(self, seed: int) -> None:
        """One option or none is right in every draw; a dearer one never takes what a cheaper one holds."""
        draws = np.random.default_rng(seed).normal(0.0, 0.01, (50, 3, 2))
        found = right_choice(draws, [0.0, 0.0], [0.0, 100.0, 100.0])
        self.assertAlmostEqual(sum(found.right) + found.none, 1.0)
        self.assertAlmostEqual(found.right[0], found.within[0])

    def test_aims(self) -> None:
        """Each school's wanted drop; none asks to lower for gap or beam; what cannot be offered is refused."""
        now = Stands(wheelbase=3.6, d_f=-0.004, d_r=0.05, front_height=0.8, rear_height=0.85)
        self.assertAlmostEqual(raised_by(now, 0.02), 0.03)
        self.assertAlmostEqual(stated_height(now, 0.83, "sister vehicle"), 0.02)
        self.assertAlmostEqual(to_rake(now, 0.0), 0.046)
        self.assertEqual(gap_kept(now, 0.02, 0.06, 0.03), 0.05)
        low = replace(now, d_r=0.0)
        self.assertEqual(beam_kept(low, -0.7, 0.05), 0.0)
        for refused in (
            lambda: to_empty(0.0, known=False),
            lambda: stated_height(now, 0.83, " "),
            lambda: raised_by(now, 0.0),
            lambda: to_rake(Stands(wheelbase=3.6, d_f=0.0, d_r=0.0), 0.0),
            lambda: beam_kept(replace(now, d_r=-0.1), -0.7, 0.02),
        ):
            with self.assertRaises(InputError):
                refused()

    def test_costs_and_bundles(self) -> None:
        """A life that ends with the years is not renewed; access named twice is done once; twins do not beat one another."""
        self.assertEqual(years_cost(100.0, 1.0, 50.0, life=5.0).renewals, 0)
        self.assertEqual(years_cost(100.0, 1.0, 50.0, life=2.0).renewals, 2)
        works = [Work(name=n, axle="rear", family=n, hours=2.0, access={"wheels": 0.5}) for n in ("damper", "insert")]
        found = bundle(works)
        self.assertEqual((found.at_once, [w.name for w in found.order]), (3.5, ["insert", "damper"]))
        with self.assertRaises(InputError):
            bundle([works[0], works[0]])
        self.assertEqual(beaten_by([[1.0, 2.0], [1.0, 2.0], [1.0, 3.0]], [True, True]), [[], [], [0, 1]])

    @given(st.floats(0.001, 1.0), st.floats(0.001, 1.0))
    def test_a_measurement_never_makes_it_worse(self, sigma: float, shared: float) -> None:
        """Whatever is measured, the band left is no wider; what has nothing to do with the question saves nothing."""
        covariance = np.array([[0.04, 0.0], [0.0, 1.0]])
        found = next_measurement(
            covariance,
            np.array([1.0, 0.0]),
            [
                Candidate(name="told", slope=np.array([shared, 0.0]), sigma=sigma, minutes=5.0),
                Candidate(name="beside", slope=np.array([0.0, 1.0]), sigma=sigma, minutes=1.0),
            ],
        )
        self.assertLessEqual(found.worths[0].sigma_left, found.sigma)
        self.assertEqual(found.worths[1].band_saved, 0.0)
        self.assertEqual(found.order[0].candidate.name, "told")

    def test_a_measurement_has_an_error_and_takes_time(self) -> None:
        """Neither can be nought: it would be worth everything."""
        for sigma, minutes in ((0.0, 5.0), (0.001, 0.0)):
            with self.assertRaises(InputError):
                Candidate(name="free", slope=np.array([1.0]), sigma=sigma, minutes=minutes)

    def test_bands_hold_on_simulated_jobs(self) -> None:
        """On drawn vehicles of each kind nine bands in ten hold, give or take what so few can tell, and the readings have narrowed them."""
        rng = np.random.default_rng(4)
        for name, trial in KINDS.items():
            with self.subTest(name):
                found = coverage([trial(rng) for _ in range(60)])
                self.assertGreaterEqual(found.share, 0.78)
                self.assertLess(found.mean_band, 0.4 * found.mean_prior_band)
