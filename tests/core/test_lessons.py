"""What closed jobs teach: by their readings alone, damped by their errors, whatever order they came in; and what it does to the next estimate."""

from __future__ import annotations

import unittest
from datetime import date, timedelta
from math import log, sqrt

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.samples import AIR
from vantok_core.facts import Fitting
from vantok_core.facts.learnt import ClassLearnt
from vantok_core.judge.diagnose.causes import likely_causes, table, with_proved
from vantok_core.judge.diagnose.diagnosis import diagnose
from vantok_core.kits.staged import refitted
from vantok_core.model import build_model
from vantok_core.model.rate_band import rate_of
from vantok_core.practice.bay.templates import case_by_code
from vantok_core.practice.bay.truth import known_job
from vantok_core.practice.life import KINDS, drawn, tape
from vantok_core.upkeep.foretold import Miss, by, drift, held, worst
from vantok_core.upkeep.learning import CLASS, STRENGTH
from vantok_core.upkeep.lessons import (
    Lesson,
    as_learnt,
    band_of,
    class_learnt,
    class_of,
    last_of_each,
    learn,
    outliers,
    rates_told,
    strength_told,
    weighed_throughout,
)


def told(value: float, sigma: float = 0.1, vehicle: str = "") -> Lesson:
    return Lesson(kind="rate", key="k", value=value, sigma=sigma, vehicle=vehicle)


class Calibrated(unittest.TestCase):
    def test_two_in_three_hold_two_in_three(self) -> None:
        """Over 500 shops, each with its own offset and spread about it, for the next vehicle after 1, 4 and 14 of a class."""
        for n in (1, 4, 14):
            rng, inside = np.random.default_rng(35), 0
            for _ in range(500):
                mu, spread = rng.normal(0.0, CLASS.offset), CLASS.spread
                sigmas = rng.uniform(0.05, 0.14, n)
                seen = [told(float(rng.normal(mu, sqrt(spread**2 + s**2))), float(s)) for s in sigmas]
                low, high = learn(seen).two_in_three(1.0)
                factor = learn(seen).factor
                inside += log(low * factor) <= rng.normal(mu, spread) <= log(high * factor)
            self.assertTrue(0.60 <= inside / 500 <= 0.73, (n, inside / 500))

    def test_a_shop_s_own_twentieth_is_known_better_than_its_class(self) -> None:
        """Of vehicles drawn from life in a shop whose springs lie to one side: the band is narrower, and holds."""
        rng, misses, wide = np.random.default_rng(7), {"class": 0, "own": 0}, [0.0, 0.0]
        for _ in range(300):
            mu = rng.normal(-0.3, 0.1)
            own = learn([told(float(rng.normal(mu, 0.32)), 0.1) for _ in range(19)])
            y = rng.normal(mu, 0.30)
            misses["own"] += abs(y - own.mu) > 1.645 * own.sigma_ln
            misses["class"] += abs(y) > 1.645 * 0.39
            wide[0] += own.sigma_ln / 300
            wide[1] += 0.39 / 300
        self.assertLess(wide[0], 0.9 * wide[1])
        self.assertLessEqual(misses["own"] / 300, 0.14)
        self.assertLess(misses["own"], misses["class"])


class Damped(unittest.TestCase):
    @given(st.lists(st.tuples(st.floats(-0.8, 0.8), st.floats(0.03, 0.15)), min_size=1, max_size=12), st.randoms())
    @settings(max_examples=60, deadline=None)
    def test_the_order_of_jobs_does_not_matter(self, rows: list[tuple[float, float]], dice: object) -> None:
        """Of vehicles that each came once."""
        lessons = [told(y, s, f"v{n}") for n, (y, s) in enumerate(rows)]
        other = list(lessons)
        dice.shuffle(other)  # type: ignore[attr-defined]
        one, two = learn(lessons), learn(other)
        self.assertAlmostEqual(one.mu, two.mu, places=9)
        self.assertAlmostEqual(one.sigma_ln, two.sigma_ln, places=9)

    def test_one_vehicle_counts_once_by_its_last_visit(self) -> None:
        """A vehicle split in two counts twice, and no more can be known of it."""
        rows = [told(0.5, vehicle="a"), told(0.1, vehicle="b"), told(-0.2, vehicle="a")]
        self.assertEqual([one.value for one in last_of_each(rows)], [0.1, -0.2])
        self.assertEqual(learn(rows).n, 2)

    def test_an_odd_job_is_damped_and_named(self) -> None:
        """By its own error; all alike leave no less spread than the least; one alone teaches gently."""
        rows = [told(0.02 * n, vehicle=str(n)) for n in range(8)]
        odd = [*rows, told(1.6, 0.6, "odd")]
        self.assertLess(abs(learn(odd).mu - learn(rows).mu), 0.08)
        self.assertEqual([o.vehicle for o in outliers([*rows, told(1.6, 0.1, "odd")])], ["odd"])
        self.assertEqual(outliers(rows), [])
        alike = learn([told(0.3, vehicle=str(n)) for n in range(9)])
        self.assertGreaterEqual(alike.tau, 0.3 * CLASS.spread - 1e-12)
        self.assertLess(abs(learn([told(0.6)]).mu), 0.35)


class OfAJob(unittest.TestCase):
    def test_rates_are_told_by_readings_alone(self) -> None:
        """Whatever had been learnt of the class before, a job teaches the same; near its truth; nothing where the maker gives the rate."""
        rng = np.random.default_rng(11)
        one = drawn(rng, KINDS[2])
        job = one.job.model_copy(update={"readings": tuple(tape(rng, one, one.truth, ("empty", "seen"), "before"))})
        states = tuple(
            s if s.empty else s.model_copy(update={"front_kg": _axles(one, s.key)[0], "rear_kg": _axles(one, s.key)[1]})
            for s in job.states
            if s.key != "unseen"
        )
        job = job.model_copy(update={"states": states})
        self.assertTrue(weighed_throughout(job))
        plain = {one.key: one for one in rates_told(build_model(job))}
        learnt = tuple(ClassLearnt(axle=a, factor=1.4, sigma_ln=0.3, n=5) for a in ("front", "rear"))  # type: ignore[arg-type]
        after = {one.key: one for one in rates_told(build_model(job.model_copy(update={"class_learnt": learnt})))}
        key = class_of(job, "rear")
        self.assertIn(key, plain)
        self.assertAlmostEqual(plain[key].value, after[key].value, delta=0.04)
        self.assertAlmostEqual(plain[key].sigma, after[key].sigma, delta=0.02)
        model = build_model(job)
        true = log(float(one.truth.rear.spring.k) / float(model.prior.rear.spring.k))
        self.assertLess(abs(plain[key].value - true), 3.0 * plain[key].sigma + 0.05)
        given_ = job.model_copy(update={"vehicle": job.vehicle.model_copy(update={"rear_rate_n_per_m": 40e3})})
        self.assertNotIn(key, {one.key for one in rates_told(build_model(given_))})
        self.assertFalse(weighed_throughout(one.job))

    def test_the_next_one_is_estimated_with_it_and_says_so(self) -> None:
        """Centre and spread of the prior follow; a maker's rate stands; the band told is two in three of the shop's own."""
        job = known_job(case_by_code("V-24"))
        bare = job.model_copy(
            update={
                "vehicle": job.vehicle.model_copy(update={"rear_rate_n_per_m": None, "front_rate_n_per_m": None}),
                "readings": (),
            }
        )
        key = class_of(bare, "rear")
        lessons = {key: [told(-0.5, vehicle=str(n)) for n in range(14)]}
        learnt = class_learnt(bare, lessons)
        self.assertEqual([(one.axle, one.n) for one in learnt], [("rear", 14)])
        plain, taught = (build_model(bare.model_copy(update={"class_learnt": had})) for had in ((), learnt))
        ratio = float(taught.prior.rear.spring.k) / float(plain.prior.rear.spring.k)
        self.assertAlmostEqual(ratio, learnt[0].factor, places=6)
        band = rate_of(taught, "rear")
        self.assertEqual(band.own, 14)
        self.assertLess(band.spread[0], band.usual)
        self.assertLess(band.high - band.low, rate_of(plain, "rear").high - rate_of(plain, "rear").low)
        maker = bare.model_copy(
            update={"class_learnt": learnt, "vehicle": bare.vehicle.model_copy(update={"rear_rate_n_per_m": 50e3})}
        )
        self.assertEqual(float(build_model(maker).prior.rear.spring.k), 50e3)
        self.assertEqual(class_learnt(bare, {}), ())
        self.assertEqual((band_of(None), band_of(399.0), band_of(401.0)), ("", "400-520", "400-520"))

    def test_a_kit_s_strength_is_told_by_heights_alone_and_used(self) -> None:
        """A weak kit teaches that it is weak, whatever was believed before; the next one is as much weaker, with what spread is left."""
        from vantok_core.practice.planted import fitted, measured
        from vantok_core.practice.planted_jobs import EMPTY, LOADED

        found = []
        for strength in (0.75, 1.0):
            job = fitted(measured((EMPTY, LOADED)), strength, 220e3)
            fitting = job.fitting
            assert isinstance(fitting, Fitting)
            one = strength_told(refitted(build_model(job), fitting), "kit", "SIM", fitting.kit.strength_sigma)
            assert one is not None
            found.append(one)
        self.assertLess(found[0].value, found[1].value - 0.12)
        self.assertLess(abs(found[1].value), 2.0 * found[1].sigma)
        lessons = [Lesson(kind="strength", key="x", value=log(0.85), sigma=0.05, vehicle=str(n)) for n in range(6)]
        seen = as_learnt(AIR, lessons)
        assert seen.seen is not None
        self.assertEqual(seen.seen.count, 6)
        self.assertTrue(0.85 < seen.seen.ratio < 0.95)
        self.assertLess(seen.strength_sigma, 0.09)
        self.assertIs(as_learnt(AIR, []), AIR)
        gentle = as_learnt(AIR, lessons[:1]).seen
        assert gentle is not None
        self.assertGreater(gentle.ratio, seen.seen.ratio)
        self.assertAlmostEqual(learn(lessons, STRENGTH["like"]).factor, 0.85, delta=0.01)


def _axles(one: object, key: str) -> tuple[float, float]:
    """Return what both axles of a drawn vehicle truly stand with in a state, kg."""
    from vantok_core.base.num import G
    from vantok_core.physics.stance.report import report
    from vantok_core.physics.stance.states import solve_states

    solved = solve_states(one.truth, list(one.states.values()), check_limits=False)  # type: ignore[attr-defined]
    load = report(one.truth, solved[key]).load  # type: ignore[attr-defined]
    return float(load["FL"] + load["FR"]) / G, float(load["RL"] + load["RR"]) / G


class Causes(unittest.TestCase):
    def test_proved_cases_count_beside_what_is_usual(self) -> None:
        """Twenty tired packs among the sags make it the likelier; nothing proved changes nothing; shares still add up."""
        job = known_job(case_by_code("V-08"))
        found = diagnose(build_model(job))
        chance = [
            {c.key: c.chance for c in likely_causes(job, found, None, had)[0].causes}
            for had in (None, {"sags": {"tired": 20}}, {"sags": {"gremlins": 5}})
        ]
        self.assertGreater(chance[1]["tired"], chance[0]["tired"] + 0.1)
        self.assertEqual(chance[0], chance[2])
        own = with_proved(table(), "sags", {"tired": 20})
        keys = ("overload", "tired", "behind", "side")
        before = sum(table()["causes"][k]["usual"] for k in keys) + table()["something_else"]
        after = sum(own["causes"][k]["usual"] for k in keys) + own["something_else"]
        self.assertAlmostEqual(before, after, places=9)


class Foretelling(unittest.TestCase):
    def test_what_it_did_to_the_predictions(self) -> None:
        """Share inside, bias by kit with its error by jobs, drift, and the worst; chance alone is no bias."""
        rng, day = np.random.default_rng(3), date(2024, 1, 10)
        rows = [
            Miss(
                miss=float(rng.normal(-0.012 if kit == "weak" else 0.0, 0.004)),
                band=0.0066,
                job=f"{kit}{n}",
                kit=kit,
                klass="pickup rear",
                at=day + timedelta(days=30 * n),
            )
            for kit in ("sound", "weak")
            for n in range(20)
            for _ in range(4)
        ]
        parts = {one.of: one for one in by(rows, lambda r: r.kit)}
        self.assertEqual(next(iter(parts)), "weak")
        self.assertTrue(parts["weak"].biased)
        self.assertAlmostEqual(parts["weak"].bias, -0.012, delta=0.002)
        self.assertFalse(parts["sound"].biased)
        self.assertTrue(0.83 <= parts["sound"].inside <= 0.97)
        self.assertEqual(
            [one.of for one in drift(rows)],
            ["2024, first half", "2024, second half", "2025, first half", "2025, second half"],
        )
        found = worst(rows)
        self.assertEqual(len({one.job for one in found}), len(found))
        self.assertTrue(all(one.kit == "weak" for one in found))
        self.assertEqual(held(rows).n, 160)
