"""Odds and weights of the choice, against brute force."""

from __future__ import annotations

import unittest

import numpy as np

from tests.core.samples import AIR, job
from tests.core.test_families import KITS
from vantok_core.base.errors import InputError
from vantok_core.facts import Kit
from vantok_core.facts.kinds import MADE_KNOWN
from vantok_core.kits.chances import DRAWS, REAR, SEED, chances, cost_of
from vantok_core.kits.choice import WEIGHTS, Choice
from vantok_core.kits.choose import shortlist
from vantok_core.kits.fit import with_kit
from vantok_core.kits.odds import TOLERANCE
from vantok_core.kits.quote import Labour, Part, quote
from vantok_core.kits.ranking import by_weights, weights_of
from vantok_core.kits.registry import family_of
from vantok_core.model import build_model
from vantok_core.physics.stance.states import solve_states
from vantok_core.rates.places import place_drop
from vantok_core.rates.trial import with_masses, with_rates


def _alone(kit: Kit) -> Choice:
    return Choice(key=kit.code, name=kit.name, kind="kit", kit=kit)


SHELF = [KITS[family] for family in ("air_spring", "helper_leaf", "coil_assist", "added_leaf", "replacement_spring")]


class Odds(unittest.TestCase):
    def test_against_draws_solved_one_by_one(self) -> None:
        """Each option's share of draws within tolerance is what solving the same draws one after the other gives, kit's strength included."""
        model = build_model(job())
        found = shortlist(model, [AIR])
        told = chances(model, found).by[AIR.code]
        choice = found.choice(AIR.code)
        assert choice is not None
        rows = model.estimate.draws(DRAWS, SEED)
        # Nothing, taking the load off and the kit are the options, in this order.
        strengths = np.exp(MADE_KNOWN * np.random.default_rng(SEED + 1).standard_normal((DRAWS, 3)))[:, -1]
        problem, inside, count = model.estimate.problem, 0, 120
        for row, strength in zip(rows[:count], strengths[:count], strict=True):
            really = family_of(AIR).scaled(AIR, float(strength))
            vehicle = with_kit(model.job, model.vehicle, really, choice.setting, state="loaded")
            vehicle = with_rates(vehicle, float(np.exp(row[0])), float(np.exp(row[1])), problem.vehicle)
            masses = problem.masses(row[2 + len(problem.places) :], ["loaded"])
            state = with_masses(
                next(s for s in problem.states if s.name == "loaded"), {n: float(m) for n, m in masses.items()}
            )
            empty = next(s for s in problem.states if s.name == "empty")
            drop = float(place_drop(solve_states(vehicle, [empty, state], check_limits=False)["loaded"], REAR))
            inside += abs(drop - found.target.drop) <= TOLERANCE
        batch = problem.at(rows[:count], "loaded", REAR, model.on)
        self.assertEqual(batch.shape, (count,))
        self.assertAlmostEqual(inside / count, told.within, delta=0.12)

    def test_right_choices_and_none_make_one(self) -> None:
        """The shares of being the right one and that of none are the whole; doing nothing is right where it is within, since nothing is cheaper."""
        model = build_model(job())
        told = chances(model, shortlist(model, SHELF))
        self.assertAlmostEqual(sum(c.right for c in told.by.values()) + told.none, 1.0, places=9)
        self.assertEqual(told.by["nothing"].right, told.by["nothing"].within)
        self.assertEqual(told, chances(model, shortlist(model, SHELF)))
        for key, chance in told.by.items():
            self.assertLessEqual(chance.right, chance.within, key)

    def test_five_years(self) -> None:
        """What is renewed costs its price again; without a life it never is."""
        plain = cost_of(_alone(AIR.model_copy(update={"life_years": None})))
        short = cost_of(_alone(AIR.model_copy(update={"life_years": 2.0})))
        self.assertEqual((plain.renewals, short.renewals), (0, 2))
        self.assertAlmostEqual(short.cost - plain.cost, 2 * AIR.price)


class Weights(unittest.TestCase):
    def test_ranked_by_what_counts(self) -> None:
        """With one criterion alone, those that reach the target stand in its order, by sorting them by hand; nothing is solved again."""
        model = build_model(job())
        found = shortlist(model, SHELF)
        for name in WEIGHTS:
            again = by_weights(found, dict.fromkeys(WEIGHTS, 0.0) | {name: 1.0})
            reach = [c for c in again.choices if c.kind == "kit" and c.meets and not c.out]
            self.assertEqual(
                [c.scores[name] for c in reach], sorted((c.scores[name] for c in reach), reverse=True), name
            )
            self.assertEqual({c.key for c in again.choices}, {c.key for c in found.choices})
            for one in again.choices:
                self.assertIs(one.vehicle, found.choice(one.key).vehicle)  # type: ignore[union-attr]
        self.assertEqual(by_weights(found, WEIGHTS), found)

    def test_a_jobs_own(self) -> None:
        """What a job has set counts; what it has not, as usual; all at nought leaves the order by target alone, and breaks nothing."""
        one = job(weights={"cost": 0.9})
        self.assertEqual(weights_of(one), WEIGHTS | {"cost": 0.9})
        model = build_model(one)
        self.assertEqual(shortlist(model, SHELF).choices[-1].weights["cost"], 0.9)
        nought = by_weights(shortlist(model, SHELF), dict.fromkeys(WEIGHTS, 0.0))
        self.assertTrue(all(c.score == 0.0 for c in nought.choices))


class Quotes(unittest.TestCase):
    def test_adds_up_to_the_cent(self) -> None:
        """Every sum is of its lines, access counted once at its longest, the reserve on all hours, tax on both ends; nothing below nought."""
        works = [
            Labour(name="bags", hours=1.37, access={"wheels off": 0.3, "spare down": 0.25}),
            Labour(name="lines", hours=0.55, sides=1, access={"wheels off": 0.45}),
        ]
        parts = [Part(price=19.995, count=3), Part(price=7.5)]
        found = quote(parts, works, rate=83.3, reserve_share=0.1, consumables=4.005, tax=0.19)
        hours = 1.37 * 1.8 + 0.55 + 0.45 + 0.25
        self.assertAlmostEqual(found.hours, hours, places=9)
        self.assertEqual(found.parts, 67.49)
        self.assertEqual(found.consumables, 4.01)
        self.assertAlmostEqual(found.reserve, round(hours * 0.1 * 83.3, 2), places=2)
        self.assertAlmostEqual(found.net[0], found.parts + found.labour + found.access + found.consumables, places=9)
        self.assertAlmostEqual(found.net[1] - found.net[0], found.reserve, places=9)
        for net, tax, total in zip(found.net, found.tax, found.total, strict=True):
            self.assertAlmostEqual(tax, 0.19 * net, delta=0.005)
            self.assertAlmostEqual(total, net + tax, places=9)
        self.assertTrue(found.is_range)
        self.assertFalse(quote(parts, works, rate=80.0).is_range)
        for wrong in ({"rate": -1.0}, {"rate": 80.0, "tax": -0.1}, {"rate": float("nan")}):
            with self.assertRaises(InputError):
                quote(parts, works, **wrong)
        with self.assertRaisesRegex(InputError, "one side or two"):
            quote(parts, [Labour(name="x", hours=1.0, sides=3)], rate=80.0)
