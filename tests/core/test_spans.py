"""How far figures may lie and where they come from: envelope, assumptions, conditions, pasted blocks, photographs measured."""

from __future__ import annotations

import unittest
from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from tests.core.samples import job
from tests.core.test_claims import fitted
from vantok_core.base.errors import FileFormatError, InputError
from vantok_core.facts import LoadItem, People, Tank
from vantok_core.facts.load import Condition
from vantok_core.files.pasted import read_pasted
from vantok_core.judge.diagnose.assumptions import assumptions
from vantok_core.judge.grounds.shown import beam_moved
from vantok_core.judge.measure.catches import catches
from vantok_core.judge.measure.conditions import condition_findings
from vantok_core.judge.set.consequences import consequences
from vantok_core.judge.weigh.envelope import envelope, varying
from vantok_core.kits.fit import fitted_vehicle
from vantok_core.kits.target import target_state
from vantok_core.loads.couple import SIDE
from vantok_core.loads.plan import state_load
from vantok_core.model import build_model
from vantok_core.physics.stance.states import solve_states
from vantok_core.rates.places import Place, place_drop
from vantok_core.readings.pictured import pictured, tyre_diameter

STATES = {"empty": "Empty", "loaded": "Boat on"}
PLACES = {"FL": "front left", "RL": "rear left", "RR": "rear right", "FR": "front right"}
WATER = Tank(name="water", capacity_l=120.0, fill=0.5, kg_per_l=1.0, station_m=3.9)
CREW = People(count=2, mass_kg=80.0, station_m=1.4)


def with_tank(**limits: float):  # type: ignore[no-untyped-def]
    """Return a job whose loaded state has a tank and two people."""
    plain = job()
    states = tuple(s if s.empty else s.model_copy(update={"tanks": (WATER,), "people": (CREW,)}) for s in plain.states)
    return plain.model_copy(update={"states": states, "vehicle": plain.vehicle.model_copy(update=limits)})


class Envelopes(unittest.TestCase):
    def test_every_case_is_there_and_the_worst_is_named(self) -> None:
        """Four cases of a tank and a crew; full sinks the rear more; the listed load lies inside; a limit passed in one case is told, and which."""
        one = with_tank(gross_kg=3400.0)
        model = build_model(one)
        key = target_state(model)
        found = envelope(model, key)
        assert found is not None
        self.assertEqual(len(found.cases), 4)
        by_name = {c.name: c for c in found.cases}
        full, empty = by_name["water full, people aboard"], by_name["water empty, nobody aboard"]
        self.assertGreater(full.drops[1], empty.drops[1])
        self.assertTrue(found.drops[1][0] <= float(model.solve()[key].d_r) <= found.drops[1][1])
        gross = next(s for s in found.spans if "gross" in s.name)
        self.assertAlmostEqual(gross.most - gross.least, 120.0 + 160.0, places=6)
        load = state_load(one, one.state(key))  # type: ignore[arg-type]
        assert load.front is not None
        assert load.rear is not None
        self.assertAlmostEqual(gross.most, load.front + load.rear + 60.0, places=6)
        tight = build_model(with_tank(gross_kg=gross.most - 10.0))
        over = envelope(tight, key)
        assert over is not None
        self.assertEqual(over.said.tone, "limit")
        self.assertIn("with water full, people aboard its gross", over.said.in_units("metric"))
        self.assertEqual(found.said.tone, "level", found.said.in_units("metric"))
        self.assertIsNone(envelope(build_model(job()), key))
        self.assertEqual([v.now for v in varying(one.state(key))], [60.0, 160.0])  # type: ignore[arg-type]

    def test_without_a_limit_nothing_is_called_within(self) -> None:
        """No plate read: the sentence says so, and is never green."""
        bare = with_tank(
            gross_kg=None,
            front_axle_kg=None,
            rear_axle_kg=None,
            front_tyres_kg=None,
            rear_tyres_kg=None,
            hitch_kg=None,
            towed_kg=None,
            combination_kg=None,
        )  # type: ignore[arg-type]
        model = build_model(bare)
        found = envelope(model, target_state(model))
        assert found is not None
        self.assertEqual((found.spans, found.said.tone), ((), "act"))


class RestsOn(unittest.TestCase):
    def test_each_assumption_with_what_it_moves(self) -> None:
        """What moves most comes first; a softer spring sinks deeper, a stiffer one less; a track that was measured is not assumed, one that was not is."""
        model = build_model(job())
        rows = assumptions(model)
        self.assertEqual([r.worth for r in rows], sorted((r.worth for r in rows), reverse=True))
        rear = next(r for r in rows if r.key == "rate-rear")
        assert rear.moves is not None
        self.assertTrue(rear.moves[0] > 0.0 > rear.moves[1])
        v = model.job.vehicle
        keys = {r.key for r in rows}
        self.assertEqual("track-rear" in keys, v.track_rear_m is None)
        bare = build_model(job().model_copy(update={"vehicle": v.model_copy(update={"track_rear_m": None})}))
        self.assertIn("track-rear", {r.key for r in assumptions(bare)})

    def test_what_stood_otherwise_is_said_with_its_worth(self) -> None:
        """A softer tyre is worth millimetres, and is no sag; a fuller tank and another floor are said; alike or not looked at says nothing."""
        one = job()
        base = Condition(fuel=1.0, tyres_pa={"RL": 4.5e5, "RR": 4.5e5}, ground="bay 1")
        now = Condition(fuel=0.5, tyres_pa={"RL": 3.5e5, "RR": 4.5e5}, ground="the yard")

        def stamped(loaded: Condition | None):  # type: ignore[no-untyped-def]
            states = tuple(s.model_copy(update={"condition": base if s.empty else loaded}) for s in one.states)
            return one.model_copy(update={"states": states})

        model = build_model(one)
        told = " ".join(f.what.in_units("metric") for f in condition_findings(stamped(now), model))
        self.assertIn("rear left tyre had 1.00\u00a0bar lower", told)
        self.assertIn("which is no sag", told)
        self.assertIn("100\u00a0% in “Empty” and at 50\u00a0%", told)
        self.assertIn("the yard", told)
        self.assertNotIn("rear right", told)
        self.assertEqual(condition_findings(stamped(base), model), [])
        self.assertEqual(condition_findings(stamped(None), model), [])
        self.assertTrue(all("worth" not in f.what.in_units("metric") for f in condition_findings(stamped(now), None)))


class Slips(unittest.TestCase):
    def told(self, one, **moved: float) -> str:  # type: ignore[no-untyped-def]
        """Return what is asked about a job with some heights moved (m, by state, phase and corner)."""
        readings = tuple(
            r.model_copy(update={"value_m": r.value_m + moved.get(f"{r.state}_{r.phase}_{r.place}", 0.0)})
            for r in one.readings
        )
        changed = one.model_copy(update={"readings": readings})
        return " ".join(f.what.in_units("metric") for f in catches(changed, build_model(changed)))

    def test_a_good_sheet_asks_nothing(self) -> None:
        """Neither as it came nor with the kit on as predicted."""
        self.assertEqual(catches(job(), build_model(job())), [])
        self.assertEqual(self.told(fitted()), "")

    def test_each_slip_is_asked_about(self) -> None:
        """A gain no tape tells, one side alone though set alike, a lean that an equal gain left."""
        one = fitted()
        gain = {
            c: one.read("loaded", c, "ground_arch", "after").value_m - one.read("loaded", c, "ground_arch").value_m
            for c in ("RL", "RR")
        }  # type: ignore[union-attr]
        none = self.told(one, loaded_after_RL=-gain["RL"] + 0.001, loaded_after_RR=-gain["RR"])
        self.assertIn("not told apart from nothing", none)
        self.assertIn("only one side gained", self.told(one, loaded_after_RR=-gain["RR"]))
        lean = self.told(one, loaded_before_RL=0.02, loaded_after_RL=0.02 + gain["RR"] - gain["RL"])
        self.assertIn("is still there", lean)

    def test_swapped_sides_are_seen(self) -> None:
        """A load far to one side, read the right way round asks nothing; with left and right swapped it is asked about."""
        plain = job()
        heavy = tuple(
            s
            if s.empty
            else s.model_copy(
                update={
                    "items": (LoadItem(name="stone", mass_kg=420.0, station_m=3.4, lateral_m=0.75),),
                    "tongue_kg": 0.0,
                    "trailer_kg": 0.0,
                }
            )
            for s in plain.states
        )
        one = plain.model_copy(update={"states": heavy})
        model = build_model(one)
        plain_state = replace(
            model.states["loaded"], items=tuple(i for i in model.states["loaded"].items if i.name != SIDE)
        )
        solved = solve_states(model.vehicle, [plain_state], check_limits=False)["loaded"]
        right = {
            c: one.read("empty", c, "ground_arch").value_m - float(place_drop(solved, Place(c, "ground")))  # type: ignore[union-attr]
            for c in ("FL", "FR", "RL", "RR")
        }

        def read(heights: dict[str, float]) -> str:
            readings = tuple(
                r if r.state != "loaded" else r.model_copy(update={"value_m": heights[r.place]})
                for r in one.readings
                if r.place in heights
            )
            changed = one.model_copy(update={"readings": readings})
            return " ".join(f.what.in_units("metric") for f in catches(changed, model.for_job(changed)))

        self.assertEqual(read(right), "")
        self.assertIn("the other way round", read(right | {"RL": right["RR"], "RR": right["RL"]}))


class Follows(unittest.TestCase):
    def test_what_follows_from_a_setting(self) -> None:
        """In the judged state its share of the sag is taken out as the heights say, the beam comes down, the rake up; empty it stands above."""
        one = fitted()
        assert one.fitting is not None
        model = build_model(one)
        key = target_state(model)
        found = {c.state: c for c in consequences(model, one.fitting)}
        plain, on = model.solve()[key], model.solve(fitted_vehicle(model, one.fitting))[key]
        loaded = found[key]
        assert loaded.restored is not None
        self.assertAlmostEqual(loaded.restored, 1.0 - float(on.d_r) / float(plain.d_r))
        self.assertTrue(0.4 < loaded.restored < 1.0 and loaded.over == 0.0)
        self.assertGreater(found["empty"].over, 0.0)
        self.assertIsNone(found["empty"].restored)
        assert loaded.beam is not None
        self.assertLess(loaded.beam.value, beam_moved(plain, model.vehicle.wheelbase, -0.6).value)
        self.assertGreater(loaded.rake, float(plain.d_f - plain.d_r))
        self.assertIsNotNone(loaded.front_lost)
        assert loaded.force is not None
        self.assertTrue(min(loaded.force) > 0.0)
        assert loaded.brakes is not None and found["empty"].brakes is not None
        self.assertLess(
            found["empty"].brakes.z_rear or 0.0, loaded.brakes.z_rear or 0.0
        )  # more on the rear, and it locks later


class Pasted(unittest.TestCase):
    def test_a_block_in_any_common_shape(self) -> None:
        """With a head in codes or words, or none; between tabs, bars or wide spaces; decimal commas stay; what is unknown is told and takes nothing else."""
        for text in (
            "State\tFL\tRL\tRR\tFR\nEmpty\t870\t948,5\t946\t\nBoat on\t\t886\t890\t885",
            "Empty  870  948,5  946\nBoat on | 885",
            "state | front right | front left\nempty | 871 | 870",
        ):
            found = read_pasted(text, STATES, PLACES)
            self.assertIn(("empty", "FL", "870"), [(c.state, c.place, c.text) for c in found.cells])
            self.assertEqual(found.faults, ())
        bad = read_pasted("Empty\t870\nFull\t871\nBoat on\t1\t2\t3\t4\t5", STATES, PLACES)
        self.assertEqual(([c.text for c in bad.cells], [n for n, _ in bad.faults]), (["870"], [2, 3]))
        for wrong in ("", "\n \n", "x\n" * 201):
            with self.assertRaises(FileFormatError):
                read_pasted(wrong, STATES, PLACES)

    @given(st.text(max_size=300))
    def test_any_text_ends_in_cells_or_faults(self, text: str) -> None:
        """Whatever is pasted, each line is a fault, or cells of known states and places."""
        try:
            found = read_pasted(text, STATES, PLACES)
        except FileFormatError:
            return
        self.assertTrue(all(c.state in STATES and c.place in PLACES and c.text for c in found.cells))


class Photographs(unittest.TestCase):
    def test_the_tyre_is_the_scale(self) -> None:
        """A made-up picture gives its height back, at any size, turned or not, with a band that holds a mark's slip; more pixels make it narrower."""
        d = tyre_diameter("235/65 R16")
        self.assertAlmostEqual(d, 16 * 0.0254 + 2 * 0.235 * 0.65)
        sigmas = []
        for scale in (400.0, 1600.0):
            marks = {
                "hub": (800.0, 900.0),
                "arch": (800.0, 900.0 - 0.512 * scale),
                "edge_1": (800.0 - d / 2 * scale, 900.0),
                "edge_2": (800.0 + d / 2 * scale, 900.0),
            }
            found = pictured(marks, d)
            self.assertAlmostEqual(found.height, 0.512, places=9)
            slipped = pictured(marks | {"arch": (801.0, marks["arch"][1] + 1.5)}, d)
            self.assertLess(abs(slipped.height - 0.512), found.sigma)
            sigmas.append(found.sigma)
        self.assertLess(sigmas[1], sigmas[0])

    def test_what_cannot_be_is_refused(self) -> None:
        """A mark that lacks, marks on one another, a hub out of the middle, a size that is none."""
        good = {"hub": (400.0, 500.0), "arch": (400.0, 200.0), "edge_1": (200.0, 500.0), "edge_2": (600.0, 500.0)}
        for marks, d in (
            (good | {"hub": (480.0, 500.0)}, 0.7),
            (good | {"edge_2": (205.0, 500.0)}, 0.7),
            ({k: v for k, v in good.items() if k != "arch"}, 0.7),
            (good, 3.0),
        ):
            with self.assertRaises(InputError):
                pictured(marks, d)
        with self.assertRaises(InputError):
            tyre_diameter("a large one")
