"""Rates with honest bands, on simulated vehicles whose springs are known."""

import unittest
from dataclasses import replace
from unittest.mock import patch

import numpy as np

from tests.core.samples import AIR, job, loaded, pickup
from vantok_core.base.errors import InputError, StateError
from vantok_core.facts import Fitting
from vantok_core.judge.diagnose.diagnosis import diagnose
from vantok_core.judge.measure.doubts import doubts
from vantok_core.kits.fit import fitted_vehicle
from vantok_core.model import build_model
from vantok_core.physics.vehicle import AntiRollBar, Item, LoadState
from vantok_core.practice.life import KINDS, lives, read_sheet
from vantok_core.rates.calibrate import estimate
from vantok_core.rates.lived import lived
from vantok_core.rates.places import Place
from vantok_core.rates.problem import EstimationProblem, HeightReading, UncertainLoad
from vantok_core.rates.search import MOST_TRIED
from vantok_core.rates.traits import contact, ratio

REAR = Place("rear", "ground")


class Estimation(unittest.TestCase):
    def problem(self, sag: float, sigma: float = 0.002, mass_sigma: float = 0.0) -> EstimationProblem:
        readings = [
            HeightReading(state="empty", place=REAR, value=0.95, sigma=sigma),
            HeightReading(state="loaded", place=REAR, value=0.95 - sag, sigma=sigma),
        ]
        return EstimationProblem(
            vehicle=pickup(),
            states=[LoadState(name="empty"), loaded(400, 3.55)],
            readings=readings,
            loads={"item": UncertainLoad(mass=400, sigma=mass_sigma)},
            sigma_ln={"front": 0.25, "rear": 0.25},
        )

    def test_a_soft_spring_is_found_soft(self) -> None:
        """More sag than the class gives means a softer spring, less sag a stiffer one."""
        soft, stiff = (estimate(self.problem(sag)).k["rear"] for sag in (0.075, 0.045))
        self.assertLess(soft, 38e3)
        self.assertGreater(stiff, 38e3)

    def test_bands_shrink_with_better_readings_and_grow_with_worse_loads(self) -> None:
        """Finer readings narrow the band; a load that is only guessed widens it."""
        fine, coarse = (estimate(self.problem(0.06, s)).sigma_ln["rear"] for s in (0.001, 0.006))
        guessed = estimate(self.problem(0.06, 0.001, mass_sigma=60)).sigma_ln["rear"]
        self.assertLess(fine, coarse)
        self.assertLess(coarse, 0.25)
        self.assertGreater(guessed, fine)

    def test_a_search_for_what_cannot_be_is_ended(self) -> None:
        """Sheets of vehicles as in life settle; with figures 10 cm off here and there they soon stop: the sheet says so, and nothing else is told of it."""
        ended = 0
        for seed in range(12):
            rng = np.random.default_rng(seed)
            sheet = read_sheet(rng, KINDS[seed % len(KINDS)], wrong=False)
            self.assertTrue(build_model(sheet).estimate.settled, seed)
            off = [r.model_copy(update={"value_m": r.value_m + float(rng.normal(0.0, 0.1))}) for r in sheet.readings]
            wrong = sheet.model_copy(update={"readings": tuple(off)})
            with patch.object(
                EstimationProblem, "residuals", autospec=True, side_effect=EstimationProblem.residuals
            ) as asked:
                model = build_model(wrong)
            self.assertLess(asked.call_count, 3 * 2 * MOST_TRIED)
            told = [one for one in doubts(wrong, model) if one.key == "unsettled"]
            self.assertEqual(bool(told), not model.estimate.settled)
            ended += not model.estimate.settled
            self.assertEqual(diagnose(model).verdict.tone, "act")
        self.assertGreater(ended, 0)

    def test_draws_tell_what_the_bell_curve_tells_where_there_is_no_kink(self) -> None:
        """Without a second stage, draws and slopes agree on how far a height may lie from what is foretold; a reading that no draw is near tells nothing."""
        problem = self.problem(0.06, 0.004, mass_sigma=15)
        found = estimate(problem)
        wanted = [("empty", REAR), ("loaded", REAR)]
        drawn = lived(problem, found.points)
        assert drawn is not None
        here = [found.height(*one).value for one in wanted]
        np.testing.assert_allclose(drawn.about(here, wanted, None), found.joint(wanted), rtol=0.15, atol=1e-6)
        self.assertIsNone(lived(self.problem(0.6, 1e-5), found.points))

    def test_a_joint_band_near_a_kink_is_that_of_the_whole_posterior(self) -> None:
        """Where a second stage may have met or not, the joint band is what trying very many vehicles, each weighed by the readings, comes to."""
        less = LoadState(name="less", items=(Item(mass=-300.0, station=3.5, name="a bed taken off"),))
        problem = self.problem(0.06, 0.004)
        problem = replace(problem, states=[*problem.states, less], traits=(contact("rear"), ratio("rear")))
        found, wanted = estimate(problem), [("less", REAR), ("loaded", REAR)]
        rng = np.random.default_rng(4)
        tried = np.tile(problem.start(), (20000, 1))
        tried[:, :2] += 0.25 * rng.standard_normal((20000, 2))
        tried[:, 3:] = rng.standard_normal((20000, tried.shape[1] - 3))
        rise, sag = problem.all_at(tried, wanted)
        weight = np.exp(-0.5 * ((sag - 0.06) / (0.004 * 2**0.5)) ** 2)
        weight /= weight.sum()
        stands = 0.95 + (sag - 0.06) / 2  # the best reference by both readings
        away = np.array([stands - rise, stands - sag]) - np.array([[found.height(*one).value] for one in wanted])
        self.assertEqual(len(found.branches), 3)
        slopes = [found.drop_slope(state, REAR)[problem.kinked] for state in ("less", "loaded")]
        self.assertEqual(slopes, [0.0, 0.0])  # it is tried at several places, and not stepped besides
        np.testing.assert_allclose(found.joint(wanted), (away * weight) @ away.T + 0.004**2 / 2, rtol=0.15, atol=1e-6)
        off = tried[:, 1] - found.best[1]  # the branches' own errors, and how far apart they lie
        np.testing.assert_allclose(found.sigma_ln["rear"], np.sqrt(weight @ off**2), rtol=0.15)
        for column in range(3, tried.shape[1]):  # where the kinks are likeliest, and what vehicles are drawn
            meant = float(weight @ tried[:, column])
            drawn = found.draws(4000, 1)[:, column]
            np.testing.assert_allclose(
                [sum(b.weight * (b.at + b.found.best)[column] for b in found.branches), drawn.mean()], meant, atol=0.12
            )

    def test_a_cell_read_twice_two_ways_tells_its_mean(self) -> None:
        """Two readings of one height far apart tell what one at their mean tells: how far apart they are weighs on no vehicle more than on another."""
        one = self.problem(0.06, 0.002)
        apart = [replace(r, value=r.value + off, sigma=0.002 * 2**0.5) for r in one.readings for off in (-0.1, 0.1)]
        twice = replace(one, readings=apart)
        wanted = [("empty", REAR), ("loaded", REAR)]
        found = [lived(p, estimate(p).points) for p in (one, twice)]
        here = [estimate(one).height(*at).value for at in wanted]
        bands = [drawn.about(here, wanted, None) for drawn in found if drawn is not None]
        self.assertEqual(len(bands), 2)
        np.testing.assert_allclose(bands[1], bands[0], rtol=0.02)

    def test_states_solved_together_stand_as_each_does_alone(self) -> None:
        """Heights asked of several states at once, also where a bag is shut, are those asked of each."""
        bag = job(fitting=Fitting(kit=AIR, setting={"pressure_pa": (2e5, 2e5)}, state="loaded"))
        assert bag.fitting is not None
        model = build_model(bag)
        plain, bars = model.estimate.problem, (AntiRollBar(name="bar", stiffness=20e3),)
        barred = replace(pickup(), rear=replace(pickup().rear, bars=bars))
        heavy = loaded(400, 3.55, 0.6)
        off = replace(
            self.problem(0.06), vehicle=barred, states=[heavy, replace(heavy, name="off", off_bars=("bar",))], loads={}
        )
        for problem, used in ((plain, model.vehicle), (plain, fitted_vehicle(model, bag.fitting)), (off, barred)):
            at = [problem.start() if problem is off else model.estimate.best]
            wanted = [(state.name, Place("RL", "ground")) for state in problem.states]
            together = problem.drops(at, wanted, used)[0]
            for one, told in zip(wanted, together, strict=True):
                alone = problem.drops(at, [one], used)[0][0]
                self.assertAlmostEqual(float(told.values[0]), float(alone.values[0]), places=7)
            self.assertGreater(abs(float(together[0].values[0] - together[1].values[0])), 1e-4)

    def test_where_a_draw_cannot_stand_the_slopes_tell_the_band(self) -> None:
        """A state in which some draws lift a wheel off the ground still has its band, by the slopes at the best values."""
        less = LoadState(name="less", items=(Item(mass=-930.0, station=3.5, name="less"),))
        problem = self.problem(0.06, 0.004)
        problem = replace(
            problem,
            states=[*problem.states, less],
            loads={"less": UncertainLoad(mass=-930, sigma=60)},
            traits=(contact("rear"), ratio("rear")),
        )
        found = estimate(problem)
        drawn = lived(problem, found.points)
        assert drawn is not None
        with self.assertRaises(StateError):
            drawn.about([1.0], [("less", REAR)], None)
        self.assertAlmostEqual(found.joint([("less", REAR)])[0, 0] ** 0.5, found.height("less", REAR).sigma, places=9)

    def test_no_readings_leave_the_class(self) -> None:
        """With nothing read, the rate is the class's and its band is the prior's."""
        found = estimate(
            EstimationProblem(
                vehicle=pickup(),
                states=[LoadState(name="empty")],
                readings=[],
                loads={},
                sigma_ln={"front": 0.25, "rear": 0.25},
            )
        )
        self.assertAlmostEqual(found.sigma_ln["rear"], 0.25, delta=1e-9)
        self.assertAlmostEqual(found.k["rear"], 38e3, delta=1e-3)

    def test_a_place_never_read_has_no_height(self) -> None:
        """A height that nothing refers to is refused, not made up."""
        with self.assertRaises(InputError):
            estimate(self.problem(0.06)).height("loaded", Place("front", "ground"))
        with self.assertRaises(InputError):
            Place("point", "hub", 4.8)

    def test_bands_hold_on_vehicles_as_in_life(self) -> None:
        """At nominal 90 %, bands of axle means and of corners hold in 80 to 98 % of a small set of vehicles drawn from life (the full one is in the bench)."""
        held: dict[str, list[bool]] = {}
        for one in lives(np.random.default_rng(7), 63):
            for figure in one.held:
                held.setdefault(figure.what, []).append(figure.inside)
        self.assertEqual(set(held), {"F corner", "R corner", "front axle", "rear axle"})
        for what, inside in held.items():
            with self.subTest(what):
                self.assertTrue(0.80 <= np.mean(inside) <= 0.98, np.mean(inside))
