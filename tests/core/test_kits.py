"""Kits: catalogue entries, fit checks, spacer stacks, what each does to the vehicle."""

import itertools
import unittest

from hypothesis import given
from hypothesis import strategies as st

from tests.core.samples import AIR, INSERT, job, reading
from vantok_core.base.errors import FileFormatError
from vantok_core.facts import Target
from vantok_core.kits.choice import WEIGHTS
from vantok_core.kits.choose import shortlist
from vantok_core.kits.families.insert import ASSUMED_STOP_GAP, spacer_stack, unspaced_gap
from vantok_core.kits.fit import fit_checks, with_kit
from vantok_core.kits.registry import read_kit
from vantok_core.kits.target import empty_rake, target_drop
from vantok_core.model import build_model


class Catalogue(unittest.TestCase):
    def test_bad_entries_are_refused(self) -> None:
        """A table that is not full, limits left out, falling forces: each entry is refused as a whole."""
        good = AIR.model_dump()
        for change in (
            {"loads_n": ((1.0,),)},
            {"p_max_pa": None},
            {"pressures_pa": (0.0, 1.0)},
            {"surprise": 1},
            {"price": -1},
        ):
            with self.assertRaises(FileFormatError):
                read_kit(good | change)
        with self.assertRaises(FileFormatError):
            read_kit(INSERT.model_dump() | {"points": ((0.01, 500), (0.02, 400))})


class Fit(unittest.TestCase):
    @given(st.floats(0.0, 0.05))
    def test_the_nearest_stack(self, wanted: float) -> None:
        """No other stack of at most two of each size comes nearer."""
        best = abs(sum(spacer_stack(INSERT.own["spacers_m"], wanted)) - wanted)
        every = [a * 0.006 + b * 0.012 for a, b in itertools.product(range(3), range(3))]
        self.assertAlmostEqual(best, min(abs(s - wanted) for s in every), places=12)

    def test_unmeasured_is_never_a_pass(self) -> None:
        """Without pad and gap readings the checks say to measure; with them they pass or fail by the window."""
        bare = job().model_copy(update={"readings": tuple(r for r in job().readings if r.datum == "ground_arch")})
        self.assertEqual([c.status for c in fit_checks(bare, AIR)], ["pass", "pass", "measure", "measure"])
        self.assertEqual([c.status for c in fit_checks(job(), AIR)][2], "pass")
        low = bare.model_copy(
            update={"readings": (*bare.readings, *(reading("empty", p, 0.09, "pad_to_pad") for p in ("RL", "RR")))}
        )
        self.assertEqual([c.status for c in fit_checks(low, AIR)][2], "fail")
        self.assertEqual(unspaced_gap(bare, INSERT, 0.02)[0], ASSUMED_STOP_GAP - 0.02)

    def test_an_insert_takes_the_stops_place(self) -> None:
        """An insert in place of the bump stop removes it from the model; an air spring beside it does not."""
        model = build_model(job())
        names = {e.name for e in model.vehicle.rear.elements}
        self.assertEqual(names, {"rear bump stops"})
        self.assertEqual({e.name for e in with_kit(job(), model.vehicle, INSERT).rear.elements}, {"kit"})
        self.assertEqual(
            {e.name for e in with_kit(job(), model.vehicle, AIR).rear.elements}, {"rear bump stops", "kit"}
        )


class Variants(unittest.TestCase):
    def test_the_right_variant_is_named(self) -> None:
        """A variant for another gross mass is out, and the one of its family and maker that fits is named; of another maker or family none is."""
        heavy = AIR.model_copy(
            update={"code": "A-9", "name": "Test bellows, heavy", "gross_min_kg": 5000.0, "gross_max_kg": 9000.0}
        )
        other = heavy.model_copy(update={"code": "B-9", "maker": "Somebody else"})
        found = shortlist(build_model(job()), [AIR, INSERT, heavy, other])
        said = {code: " ".join(o.in_units("metric") for o in found.choice(code).out) for code in ("A-9", "B-9", "A-2")}  # type: ignore[union-attr]
        self.assertIn("For this vehicle: Test bellows.", said["A-9"])
        self.assertNotIn("For this vehicle", said["B-9"])
        self.assertEqual(said["A-2"], "")


class Aims(unittest.TestCase):
    def test_rake_and_headlamp(self) -> None:
        """A stated rake is met at the target drop, and the headlamp school brings the beam to its figure."""
        model = build_model(job(target=Target(school="keep_rake", rake_m=0.03)))
        plain = model.solve()["loaded"]
        aim = target_drop(model, "loaded").drop
        self.assertAlmostEqual((empty_rake(model) or 0.0) - (aim - float(plain.d_f)), 0.03)
        model = build_model(job(target=Target(school="headlamp", beam_m=0.02)))
        aim = target_drop(model, "loaded").drop
        theta = (aim - float(plain.d_f)) / 3.55
        self.assertAlmostEqual(10.0 * theta - (float(plain.d_f) - 0.75 * theta), 0.02, places=6)

    def test_weights_are_whole_and_ranking_follows_them(self) -> None:
        """The weights add up to one, every criterion is scored between 0 and 1, kits stand best first."""
        self.assertAlmostEqual(sum(WEIGHTS.values()), 1.0)
        kits = [c for c in shortlist(build_model(job()), [INSERT, AIR]).choices if c.kind == "kit"]
        for choice in kits:
            self.assertEqual(set(choice.scores), set(WEIGHTS))
            self.assertTrue(all(0.0 <= s <= 1.0 for s in choice.scores.values()), choice.scores)
        self.assertEqual([c.score for c in kits], sorted((c.score for c in kits), reverse=True))

    def test_a_helper_never_moves_the_margins(self) -> None:
        """With any kit at its setting, axle loads are what they were: no helper raises a rating or shifts the load."""
        model = build_model(job())
        plain = model.solve()["loaded"]
        for choice in shortlist(model, [AIR, INSERT]).choices:
            if choice.kind == "kit":
                assert choice.loaded is not None
                for axle in ("front", "rear"):
                    self.assertAlmostEqual(
                        float(choice.loaded.axle_load(axle)), float(plain.axle_load(axle)), delta=0.1
                    )
