"""Options side by side, and kits together, against brute force."""

from __future__ import annotations

import unittest
from dataclasses import replace
from math import sqrt
from unittest.mock import patch

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.samples import AIR, INSERT, job
from tests.core.test_families import KITS
from vantok_core.base.errors import InputError
from vantok_core.base.say import Say
from vantok_core.facts import Job
from vantok_core.facts.kinds import MADE_KNOWN
from vantok_core.judge.choose.beside import beside
from vantok_core.judge.choose.deciding import Deciding, deciding
from vantok_core.kits.chances import DRAWS, REAR, SEED, Chance, Chances, cost_of
from vantok_core.kits.checks import FitCheck
from vantok_core.kits.choice import Choice, Shortlist
from vantok_core.kits.choose import shortlist
from vantok_core.kits.cost import beaten_by
from vantok_core.kits.family import KIT_ELEMENT, named
from vantok_core.kits.fit import fit_checks, with_kit
from vantok_core.kits.registry import FAMILIES, family_of
from vantok_core.kits.schools import DEBATES, debates_of
from vantok_core.kits.together import said_of, together
from vantok_core.kits.tradeoff import CRITERIA, undominated
from vantok_core.model import JobModel, build_model
from vantok_core.rates.strength import with_strength

HELPER, DAMPER, ASSIST = KITS["helper_leaf"], KITS["damper"], KITS["coil_assist"]


def _found(*kits: object) -> tuple[JobModel, Shortlist]:
    model = build_model(job())
    return model, shortlist(model, list(kits))  # type: ignore[arg-type]


def _choice(found: Shortlist, key: str) -> Choice:
    choice = found.choice(key)
    assert choice is not None
    return choice


class Bands(unittest.TestCase):
    def test_of_draws(self) -> None:
        """The band of a height with a kit, loaded and unladen, is the spread of the draws, its strength drawn with the rest."""
        model, found = _found(AIR, HELPER)
        rows = model.estimate.draws(DRAWS, SEED)
        strength = np.exp(MADE_KNOWN * np.random.default_rng(7).standard_normal(DRAWS))
        for code in (AIR.code, HELPER.code):
            choice = _choice(found, code)
            assert choice.vehicle and choice.drop and choice.empty_drop
            strong = with_strength(choice.vehicle, {KIT_ELEMENT: strength})
            for state, told in (("loaded", choice.drop), ("empty", choice.empty_drop)):
                drawn = model.estimate.problem.at(rows, state, REAR, strong)
                self.assertAlmostEqual(told.sigma / float(np.std(drawn)), 1.0, delta=0.06, msg=f"{code} {state}")
                self.assertAlmostEqual(told.value, float(np.mean(drawn)), delta=0.1 * told.sigma + 1e-4)


class Compared(unittest.TestCase):
    def test_heights_ride_and_who_carries(self) -> None:
        """The figures side by side are the model's own; shares make one; the dampers that are on damp a stiffer spring less."""
        model, found = _found(AIR)
        choice = _choice(found, AIR.code)
        told = beside(model, found, choice)
        self.assertEqual([s.state.key for s in told.states], ["empty", "loaded"])
        for state in told.states:
            heights = model.heights(state.state.key, "ground_arch", choice.vehicle)
            self.assertAlmostEqual(
                state.heights["rear"].value, (heights["RL"].value + heights["RR"].value) / 2, places=6
            )
            alone = model.estimate.height(state.state.key, REAR, choice.vehicle)
            self.assertGreater(state.heights["rear"].sigma, alone.sigma)  # its strength is not known either
            self.assertAlmostEqual(sum(s.load_share for s in state.budget.stages.values()), 1.0)
            self.assertAlmostEqual(sum(s.rate_share for s in state.budget.stages.values()), 1.0)
        loaded, plain = choice.loaded, model.solve()["loaded"]
        assert loaded is not None
        ratio = float(plain.bump_rate["RL"] + plain.bump_rate["RR"]) / float(
            loaded.bump_rate["RL"] + loaded.bump_rate["RR"]
        )
        self.assertAlmostEqual(told.states[1].damping, sqrt(ratio))
        self.assertGreater(told.states[1].stiffer, 1.0)

    def test_dampers_tell_their_ratio(self) -> None:
        """With dampers among the kits the ratio itself is told: that of their rate over a cycle, by wheel rate and sprung mass; a straight line's
        rate over a cycle is its own."""
        straight = DAMPER.model_copy(update={"clicks": [{"bump": [[0.3, 450]], "rebound": [[0.3, 450]]}]})
        self.assertAlmostEqual(family_of(straight).damping(straight, {}) or 0.0, 1500.0, delta=1.0)
        model, found = _found(straight)
        state = beside(model, found, _choice(found, straight.code)).states[1]
        report = model.solve()["loaded"]
        sprung = 0.5 * float(report.axle_load("rear")) / 9.80665 - float(model.vehicle.rear.unsprung)
        rate = 0.5 * float(report.bump_rate["RL"] + report.bump_rate["RR"])
        self.assertAlmostEqual(state.zeta or 0.0, 1500.0 / (2 * sqrt(rate * sprung)), delta=1e-3)
        self.assertIsNone(beside(model, found, _choice(found, "nothing")).states[1].zeta)

    def test_nothing_leaves_all_as_it_is(self) -> None:
        """Doing nothing costs nothing, leaves damping and roll alone, and its heights are the estimate's."""
        model, found = _found()
        told = beside(model, found, _choice(found, "nothing"))
        self.assertEqual((told.cost.cost, told.hours, told.bound), (0.0, 0, ()))
        for state in told.states:
            self.assertEqual((state.damping, state.stiffer), (1.0, 1.0))
            self.assertAlmostEqual(state.heights["rear"].value, model.estimate.height(state.state.key, REAR).value)

    def test_a_bar_rolls_less(self) -> None:
        """An anti-roll bar raises roll stiffness by what its bench says of it, and no height."""
        bar = KITS["anti_roll_bar"]
        model, found = _found(bar)
        state = beside(model, found, _choice(found, bar.code)).states[1]
        self.assertAlmostEqual(state.heights["rear"].value, model.estimate.height("loaded", REAR).value, places=6)
        before = beside(model, found, _choice(found, "nothing")).states[1]
        self.assertAlmostEqual(state.roll - before.roll, family_of(bar).of(bar).at(1.0), delta=3.0)

    def test_moved_load(self) -> None:
        """Load moved forward lifts the rear in its own state only, and takes off the rear axle's limit what it puts on the front's."""
        model, found = _found()
        choice = _choice(found, "move")
        if choice.shift is None:
            self.skipTest("nothing on this plan can be moved")
        told = beside(model, found, choice)
        plain = beside(model, found, _choice(found, "nothing"))
        self.assertAlmostEqual(told.states[0].heights["rear"].value, plain.states[0].heights["rear"].value)
        self.assertGreater(told.states[1].heights["rear"].value, plain.states[1].heights["rear"].value)


def _gap(job: Job, longer: float, *, contact: bool) -> str:
    """Return what is said of an insert's gap."""
    kit = INSERT.model_copy(update={"longer_m": longer, "gap_min_m": 0.0, "contact": contact})
    return next(c.why.in_units("metric") for c in fit_checks(job, kit) if c.key == "gap")


class Together(unittest.TestCase):
    def test_reaches_what_is_wanted(self) -> None:
        """Two kits as one option: what is solved is what stands when one is put on after the other at those settings."""
        model, found = _found(AIR, HELPER)
        both = together(model, found, [AIR, HELPER])
        self.assertEqual([k.code for k in both.kits], [HELPER.code, AIR.code])
        assert both.choice.drop is not None and both.choice.miss is not None
        vehicle = model.vehicle
        for n, kit in enumerate(both.kits):
            vehicle = named(with_kit(model.job, vehicle, kit, both.settings[kit.code], state="loaded"), f"one {n}")
        self.assertAlmostEqual(float(model.solve(vehicle)["loaded"].d_r), both.choice.drop.value, places=5)
        self.assertLess(abs(both.choice.miss), 0.012)
        self.assertAlmostEqual(both.hours.staged, AIR.hours + HELPER.hours)
        self.assertIn("stay separate", said_of(both)[0].in_units("metric"))
        self.assertAlmostEqual(cost_of(both.choice).fitted, AIR.price + HELPER.price + 80 * both.hours.at_once)

    def test_what_comes_off_comes_off_once(self) -> None:
        """Access that both name is counted once when fitted at once."""
        one, other = (k.model_copy(update={"access": {"wheels": 0.5}}) for k in (HELPER, DAMPER))
        model, found = _found(one, other)
        both = together(model, found, [other, one])
        self.assertAlmostEqual(both.hours.staged - both.hours.at_once, 0.5)
        self.assertEqual([k.family for k in both.kits], ["helper_leaf", "damper"])

    def test_an_insert_is_judged_with_what_goes_on_before_it(self) -> None:
        """One too long for the gap alone goes in once the springs that go on first have opened it; where they do not, it is still refused. Pressed a
        little on a kit whose maker allows contact, it is no refusal but a firmer ride, said; much, it is."""
        model, found = _found(AIR)
        lifted = -float(together(model, found, [AIR, DAMPER]).choice.empty.d_r)  # type: ignore[union-attr]
        self.assertGreater(lifted, 0.012)
        for more, goes in ((0.5 * lifted, True), (lifted + 0.02, False)):
            long = INSERT.model_copy(update={"longer_m": 0.06 + more, "gap_min_m": 0.0})
            model, found = _found(AIR, long)
            self.assertTrue(_choice(found, long.code).out)
            if goes:
                check = next(c for c in together(model, found, [AIR, long]).choice.checks if c.key == "gap")
                self.assertIn(check.status, ("pass", "marginal"))
            else:
                with self.assertRaisesRegex(InputError, "[Ss]top gap"):
                    together(model, found, [AIR, long])
        for pressed, status in ((0.006, "marginal"), (0.015, "fail")):
            touching = INSERT.model_copy(update={"longer_m": 0.06 + pressed, "gap_min_m": 0.0, "contact": True})
            check = next(c for c in fit_checks(model.job, touching) if c.key == "gap")
            self.assertEqual(check.status, status)
        self.assertNotIn("short", _gap(model.job, 0.066, contact=True))
        self.assertIn("rides firmer", _gap(model.job, 0.066, contact=True))

    def test_what_cannot_go_together(self) -> None:
        """Two in one place, and one that is out, are refused by name."""
        model, found = _found(HELPER, ASSIST, AIR)
        with self.assertRaisesRegex(InputError, "one place"):
            together(model, found, [HELPER, ASSIST])
        heavy = AIR.model_copy(update={"gross_min_kg": 9000.0, "gross_max_kg": 12000.0})
        model, found = _found(HELPER, heavy)
        with self.assertRaisesRegex(InputError, AIR.name):
            together(model, found, [HELPER, heavy])


class Undominated(unittest.TestCase):
    @settings(max_examples=60)
    @given(st.lists(st.tuples(st.integers(0, 4), st.integers(0, 4)), min_size=1, max_size=9))
    def test_against_brute_force(self, rows: list[tuple[int, int]]) -> None:
        """An option is unbeaten exactly when no other is at least as good in both and better in one."""
        beaten = beaten_by([list(map(float, r)) for r in rows], [True, False])
        for own, by in zip(rows, beaten, strict=True):
            worse = [n for n, (a, b) in enumerate(rows) if a <= own[0] and b >= own[1] and (a, b) != own]
            self.assertEqual(by, worse)

    def test_nothing_is_never_beaten_on_cost(self) -> None:
        """What costs nothing is beaten only by what costs nothing and is nearer; the nearest stands; a criterion has a figure or none."""
        _, found = _found(AIR, HELPER, ASSIST)
        able = [c for c in found.choices if c.miss is not None and not c.out]
        best = undominated(able, ("miss", "cost"))
        self.assertTrue({"nothing", "move"} & best)
        nearest = min(able, key=lambda c: abs(c.miss or 0.0))
        self.assertIn(nearest.key, best)
        for one in CRITERIA.values():
            self.assertTrue(all(v is None or v == v for v in map(one.of, able)))


class Schools(unittest.TestCase):
    def test_both_sides_are_told(self) -> None:
        """Every family argues only questions that are written out, each with both sides."""
        for kit in KITS.values():
            self.assertTrue(debates_of([kit]))
        self.assertEqual({key for family in FAMILIES.values() for key in family.debates}, set(DEBATES))
        for debate in DEBATES.values():
            self.assertTrue(all(debate.one) and all(debate.other))
        questions = [d.question for d in debates_of([AIR, HELPER])]
        self.assertEqual(len(questions), len(set(questions)))


class Decided(unittest.TestCase):
    def told(self, model: JobModel, found: Shortlist, **within: float) -> Deciding:
        by = {key.replace("_", "-"): Chance(within=w, right=w, cost=1.0) for key, w in within.items()}
        answer = deciding(model, found, Chances(by=by, none=0.0))
        assert answer is not None
        return answer

    def test_enough_or_what_would_decide(self) -> None:
        """Sure of the best one and of every rival, enough has been measured; else the one it is unsure of is asked about, by what narrows it most
        a minute; what the kit's own strength leaves open no measurement takes away."""
        loose = build_model(
            job(states=job().states[:1] + tuple(s.model_copy(update={"more": True}) for s in job().states[1:]))
        )
        for model in (build_model(job()), loose):
            found = replace(shortlist(model, [AIR, HELPER]), recommended=AIR.code)
            sure = self.told(model, found, **{found.recommended.replace("-", "_"): 0.97})
            self.assertTrue(sure.enough)
            self.assertNotIn("for less", sure.say.in_units("metric"))
            both = self.told(model, found, **{found.recommended.replace("-", "_"): 0.97, "H_1": 0.95})
            self.assertTrue(both.enough)
            self.assertIn("for less", both.say.in_units("metric"))
            unsure = self.told(model, found, **{found.recommended.replace("-", "_"): 0.97, "H_1": 0.6})
            self.assertIn(HELPER.name, unsure.say.in_units("metric"))
            self.assertTrue(unsure.enough == ("p" not in unsure.say.values))
        best = found.choice(found.recommended)
        assert best is not None
        open_ = tuple(
            FitCheck(key=key, words=words, status="measure", why=Say("."))
            for key, words in (("a", "the gap"), ("b", "the hose"))
        )
        asks = replace(found, choices=tuple(replace(c, checks=open_) if c is best else c for c in found.choices))
        asked = self.told(loose, asks, **{found.recommended.replace("-", "_"): 0.97}).say.in_units("metric")
        self.assertTrue("measure the gap" in asked and "hose" not in asked, asked)
        share = self.told(loose, found, **{found.recommended.replace("-", "_"): 0.5}).say.values["p"].value
        self.assertTrue(0.05 < share < 1.0, share)
        with patch("vantok_core.judge.choose.deciding.LEAST_SHARE", 1.0):  # nothing takes the whole band away
            told = self.told(loose, found, **{found.recommended.replace("-", "_"): 0.5})
        self.assertIn("nothing that could be read now narrows", told.say.in_units("metric"))
