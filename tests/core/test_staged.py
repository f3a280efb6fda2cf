"""Kits that go on one after the other: each with its own before and after, each as strong as it was read to be, none lost."""

from __future__ import annotations

import unittest
from collections.abc import Sequence
from dataclasses import replace

from tests.core.samples import AIR, INSERT, job, reading
from tests.core.test_helper_leaf import KIT as LEAF
from vantok_core.base.errors import FileFormatError
from vantok_core.facts import AlreadyOn, Fitting, Job, JobReading, Kit, Target
from vantok_core.files.job_file import VERSION, read_job, solve_job, write_job
from vantok_core.judge.diagnose.already import already
from vantok_core.judge.diagnose.diagnosis import diagnose
from vantok_core.judge.diagnose.tail import tails
from vantok_core.judge.prove.after_causes import CAUSES
from vantok_core.judge.prove.proving import prove
from vantok_core.kits.already import fitted_effects
from vantok_core.kits.choose import shortlist
from vantok_core.kits.family import KIT_ELEMENT, Setting
from vantok_core.kits.fit import fit_checks, with_kit
from vantok_core.kits.registry import FAMILIES, family_of
from vantok_core.kits.staged import at_other_settings, part_name, staged
from vantok_core.model import JobModel, build_model
from vantok_core.physics.vehicle import CORNERS

FIRST = Fitting(kit=LEAF, setting={"hole_count": (3, 3)}, state="loaded", done=True)
SECOND = Fitting(kit=AIR, setting={"pressure_pa": (250e3, 250e3)}, state="loaded", done=True)
BOTH = job(earlier=(FIRST,), fitting=SECOND)


def really(kit: Kit, strength: float) -> Kit:
    """Return a kit so many times as strong as its data say."""
    return family_of(kit).scaled(kit, strength)


def read_with(model: JobModel, parts: list[tuple[Kit, Setting]], mark: str) -> tuple[JobReading, ...]:
    """Return what the tape reads in every state with some kits on, as the vehicle's own model has it."""
    vehicle = model.vehicle
    for n, (kit, setting) in enumerate(parts):
        vehicle = with_kit(model.job, vehicle, kit, setting, state="loaded")
        named = tuple(replace(e, name=f"on {n}") if e.name == "kit" else e for e in vehicle.rear.elements)
        vehicle = replace(vehicle, rear=replace(vehicle.rear, elements=named))
    found = []
    for state in ("empty", "loaded"):
        heights = model.heights(state, "ground_arch", vehicle)
        found += [
            reading(state, c, heights[c].value, phase="after").model_copy(update={"setting": mark}) for c in CORNERS
        ]
    return tuple(found)


def measured(first: float = 1.0, second: float = 1.0) -> Job:
    """Return the job with both kits on, each really so strong, and read with the first alone and with both."""
    model = build_model(job())
    one, two = (really(LEAF, first), FIRST.setting), (really(AIR, second), SECOND.setting)
    readings = (
        *read_with(model, [one], BOTH.as_of(1).mark),
        *read_with(model, [one, two], BOTH.mark),
    )
    return BOTH.model_copy(update={"readings": (*BOTH.readings, *readings)})


class Settings(unittest.TestCase):
    """One kit read at several settings: all that was read is used, and none is judged at a setting it was not read at."""

    def at_settings(self, strength: float, pressures: tuple[float, ...]) -> Job:
        """Return the job with bags really so strong, read at some pressures, the last of them the present one."""
        model, readings = build_model(job()), []
        for p in pressures:
            part = SECOND.model_copy(update={"setting": {"pressure_pa": (p, p)}})
            readings += read_with(model, [(really(AIR, strength), part.setting)], part.mark)
        return job(fitting=part, readings=(*job().readings, *readings))

    def test_other_settings_tell_its_strength(self) -> None:
        """Bags weaker or stronger than their data are found so at two pressures, and the third is predicted better and more surely for it."""
        for strength in (0.9, 1.1):
            one = self.at_settings(strength, (150e3, 350e3, 250e3))
            model = build_model(one)
            plain, taught = prove(model), prove(at_other_settings(model))
            learned = at_other_settings(model).estimate.strength[KIT_ELEMENT]
            self.assertGreater((learned - 1.0) * (strength - 1.0), 0.0)
            assert plain is not None
            assert taught is not None
            for before, now in zip(plain.rows["loaded"], taught.rows["loaded"], strict=True):
                assert before.miss is not None
                assert now.miss is not None
                if before.corner[0] == "R":
                    self.assertLess(abs(now.miss), abs(before.miss))
                    self.assertLess(now.predicted.sigma, before.predicted.sigma)
            self.assertTrue(taught.inside)
            found = taught.strength
            assert found is not None
            self.assertTrue(found.told)
            self.assertTrue(found.band[0] < strength < found.band[1], found)
            self.assertIn("as strong as its data", taught.verdict.in_units("metric"))

    def test_nothing_read_elsewhere_changes_nothing(self) -> None:
        """Read at the present setting alone, the model is the one before any reading with the kit: a prediction has not seen what it is held against."""
        model = build_model(self.at_settings(0.9, (250e3,)))
        self.assertIs(at_other_settings(model), model)
        proof = prove(model)
        assert proof is not None
        assert proof.strength is not None
        self.assertTrue(0.85 < proof.strength.q < 1.0, proof.strength)

    def test_back_at_a_setting(self) -> None:
        """Set back to where it was read before, those heights count again; what was read in between does not."""
        one = self.at_settings(1.0, (150e3, 350e3))
        back = one.model_copy(
            update={"fitting": SECOND.model_copy(update={"setting": {"pressure_pa": (150e3, 150e3)}})}
        )
        low, high = (o.at("loaded", "RL", "ground_arch", "after") for o in (back, one))
        assert low is not None
        assert high is not None
        self.assertLess(low.value_m, high.value_m)

    def test_what_was_on_let_down_to_several(self) -> None:
        """Bags that were on when it came, read let down to a setting and taken off: each pair tells what they do, neither hides the other."""
        model, on = build_model(job()), {"pressure_pa": (300e3, 300e3)}
        stood = {p: read_with(model, [(AIR, {"pressure_pa": (p, p)})], "") for p in (300e3, 100e3)}
        low = AlreadyOn(what="bags", kit=AIR, setting=on, off={"pressure_pa": (100e3, 100e3)})

        def told(rows: Sequence[JobReading], phase: str, mark: str) -> list[JobReading]:
            return [r.model_copy(update={"phase": phase, "setting": mark}) for r in rows]

        bare = [r for r in job().readings if r.datum == "ground_arch" and r.state == "loaded"]
        kept = [r for r in job().readings if r.datum != "ground_arch" or r.state == "empty"]
        came = [r for r in told(stood[300e3], "before", "") if r.state == "loaded"]
        off = [r for r in told(stood[100e3], "off", low.off_mark) if r.state == "loaded"]
        one = job(already=low, readings=(*kept, *came, *off, *told(bare, "off", "off")))
        found = already(build_model(one))
        assert found is not None
        assert found.main is not None
        (other,) = found.others
        self.assertEqual(other.to.in_units("metric"), "taken off")
        rear = next(e for e in other.effects if e.axle == "rear")
        self.assertGreater(rear.lift.lift, found.main.lift.lift)
        self.assertGreater(found.main.lift.lift, 0.0)
        swapped = one.model_copy(update={"already": low.model_copy(update={"off": {}})})
        turned = already(build_model(swapped))
        assert turned is not None
        self.assertEqual([o.to.in_units("metric") for o in turned.others], ["let down to 1.00\u00a0bar"])
        unknown = already(build_model(one.model_copy(update={"already": low.model_copy(update={"kit": None})})))
        assert unknown is not None
        self.assertEqual([o.strength for o in unknown.others], [None] * len(unknown.others))
        self.assertTrue(unknown.others)

    def test_marks_are_read_again(self) -> None:
        """A mark tells its setting again, of any family; what is no mark of this kit tells none."""
        for family in FAMILIES.values():
            letters = [field.name[0] for field in family.settings]
            self.assertEqual(len(set(letters)), len(letters), family.key)
        for kit, setting in (
            (AIR, {"pressure_pa": (123456.0, 2e5)}),
            (INSERT, {"spacer_m": (0.0061, -0.002)}),
            (LEAF, {"hole_count": (3, 1)}),
        ):
            part = Fitting(kit=kit, setting=setting)
            names = [field.name for field in family_of(kit).settings]
            again = Fitting(kit=kit, setting={}).at_mark(part.mark, names)
            assert again is not None
            for name, pair in setting.items():
                for told, read in zip(pair, again.setting[name], strict=True):
                    self.assertAlmostEqual(told, read, places=9)
            for wrong in ("", "Z-9 p1,2", f"{kit.code} unset", f"{kit.code} q1,2", f"{kit.code} {part.mark}"):
                self.assertIsNone(part.at_mark(wrong, names))


class Stages(unittest.TestCase):
    def test_each_is_read_by_itself(self) -> None:
        """What was read with the first alone is the second's before; neither hides the other, and the first is judged as it was."""
        both = measured()
        alone = both.as_of(1)
        self.assertEqual([p.kit.code for p in alone.parts], ["H-1"])
        for corner in CORNERS:
            first, now = (one.at("loaded", corner, "ground_arch", "after") for one in (alone, both))
            assert first is not None
            assert now is not None
            self.assertEqual(both.stood("loaded", corner, "ground_arch"), first)
            self.assertEqual(alone.stood("loaded", corner, "ground_arch"), job().read("loaded", corner, "ground_arch"))
        rear = {"first": alone, "second": both, "together": None}
        lifts = {
            name: next(e.lift.lift for e in fitted_effects(one) if (e.state.key, e.axle) == ("loaded", "rear"))
            for name, one in rear.items()
            if one is not None
        }
        plain, now = (
            sum(one.value_m for c in ("RL", "RR") if (one := read(c))) / 2
            for read in (
                lambda c: job().read("loaded", c, "ground_arch"),
                lambda c: both.at("loaded", c, "ground_arch", "after"),
            )
        )
        self.assertGreater(lifts["first"], 0.003)
        self.assertGreater(lifts["second"], 0.005)
        self.assertAlmostEqual(lifts["first"] + lifts["second"], now - plain, places=9)

    def test_the_first_kits_strength_is_learned(self) -> None:
        """A first kit weaker than its data is found weaker by what was read with it, and the second is predicted on top of that."""
        for strength in (0.88, 1.0, 1.12):
            both = measured(first=strength)
            unread = both.model_copy(update={"readings": tuple(r for r in both.readings if r.setting != both.mark)})
            found = staged(build_model(unread))
            learned = found.estimate.strength[part_name(0)]
            self.assertLessEqual(abs(learned - strength), abs(1.0 - strength) + 1e-3)
            if strength != 1.0:
                self.assertGreater((learned - 1.0) * (strength - 1.0), 0.0)
            proof = prove(found)
            assert proof is not None
            for row in proof.rows["loaded"]:
                read = both.at("loaded", row.corner, "ground_arch", "after")
                assert read is not None
                self.assertFalse(row.predicted.differs(read.value_m), (strength, row))

    def test_what_was_read_narrows_the_second(self) -> None:
        """Reading the first by itself makes the second's prediction surer than leaving it unread."""
        both = measured()
        bare = both.model_copy(update={"readings": tuple(r for r in both.readings if r.phase == "before")})
        sure, unsure = (prove(staged(build_model(one))) for one in (both, bare))
        assert sure is not None
        assert unsure is not None
        for one, other in zip(sure.rows["loaded"], unsure.rows["loaded"], strict=True):
            if one.corner[0] == "R":
                self.assertLess(one.predicted.sigma, other.predicted.sigma)
        self.assertTrue(sure.inside)

    def test_the_target_stays_the_vehicles_own(self) -> None:
        """The height wanted is the one of the vehicle as it came, whatever is on already; what is on counts towards it."""
        first = job(fitting=FIRST)
        on = BOTH.model_copy(update={"fitting": FIRST.model_copy(update={"kit": INSERT, "setting": {}})})
        alone, further = shortlist(build_model(first), [AIR]), shortlist(staged(build_model(on)), [AIR])
        self.assertAlmostEqual(alone.target.drop, further.target.drop, places=4)
        nothing = further.choice("nothing")
        assert nothing is not None
        self.assertIn(LEAF.name, nothing.name)
        before = alone.choice("nothing")
        assert before is not None
        assert before.miss is not None
        assert nothing.miss is not None
        self.assertLess(nothing.miss, before.miss)
        pressures = [s.choice("A-2").setting["pressure_pa"][0] for s in (alone, further)]  # type: ignore[union-attr]
        self.assertLess(pressures[1], pressures[0])

    def test_front_first_then_the_rear_to_suit_it(self) -> None:
        """Levelled after a front kit went on, the rear aims at the front as it stands with it, and the proof of a front kit offers no rear setting."""
        bags = AIR.model_copy(update={"axle": "front", "springs": ("coil_independent",), "code": "A-F"})
        front = Fitting(kit=bags, setting={"pressure_pa": (300e3, 300e3)}, state="loaded", done=True)
        level = Target(school="level")
        alone = shortlist(build_model(job(target=level)), [LEAF])
        model = staged(build_model(job(target=level, earlier=(front,), fitting=FIRST)))
        after = shortlist(model, [LEAF])
        rise = -float(model.solve()["loaded"].d_f - model.solve(model.bare)["loaded"].d_f)
        self.assertGreater(rise, 0.003)
        self.assertAlmostEqual(alone.target.drop - after.target.drop, rise, places=3)
        plain = build_model(job(fitting=front))
        low = tuple(
            r.model_copy(update={"value_m": r.value_m - (0.12 if r.place[0] == "F" else 0.0)})
            for r in read_with(plain, [(bags, front.setting)], front.mark)
        )
        ruled = front.model_copy(update={"ruled_out": tuple(c.key for c in CAUSES)})
        proof = prove(build_model(job(fitting=ruled, readings=(*job().readings, *low))))
        assert proof is not None
        assert proof.suspect is not None
        self.assertEqual(proof.suspect.named, "front")
        self.assertIsNone(proof.next)
        self.assertNotIn("rear kit", proof.verdict.in_units("metric"))

    def test_two_in_one_place(self) -> None:
        """A second kit of the family that is on the axle is refused with its reason."""
        found = {c.key: c for c in fit_checks(BOTH, LEAF)}
        self.assertEqual(found["beside"].status, "fail")
        self.assertIn(LEAF.name, found["beside"].why.in_units("metric"))
        self.assertNotIn("beside", {c.key for c in fit_checks(BOTH, INSERT)})

    def test_in_a_file(self) -> None:
        """Both go out and in the same; an older file has none on before; a last one that is missing is named; all parts are solved."""
        both = measured()
        text = write_job(both)
        self.assertEqual(read_job(text), both)
        older = text.replace(f'"version": {VERSION}', '"version": 7').replace('"earlier"', '"fittings"')
        with self.assertRaises(FileFormatError):
            read_job(older)
        self.assertEqual(read_job(write_job(job()).replace(f'"version": {VERSION}', '"version": 7')), job())
        with self.assertRaisesRegex(ValueError, "the one in hand"):
            Job(earlier=(FIRST,))
        solved = solve_job(both)
        self.assertEqual([one["kit"] for one in solved["earlier"]], [LEAF.name])
        self.assertTrue(solved["earlier"][0]["proof"]["inside"])
        self.assertTrue(solved["proof"]["inside"])


class Unsolved(unittest.TestCase):
    def test_a_kit_that_cannot_be_solved_takes_nothing_with_it(self) -> None:
        """A kit so strong that no resting place is found: the tail is told without it, and the diagnosis stands as it did."""
        strong = family_of(AIR).scaled(AIR, 500.0)
        heights = (reading("empty", "hitch", 0.55, "ground_hitch"), reading("loaded", "hitch", 0.47, "ground_hitch"))
        plain = job(readings=(*job().readings, *heights))
        fitting = Fitting(kit=strong, setting={"pressure_pa": (690e3, 690e3)}, state="loaded")
        model = build_model(plain.model_copy(update={"fitting": fitting}))
        self.assertEqual([t.with_kit for t in tails(model)], [None, None])
        without = diagnose(build_model(plain))
        self.assertEqual(diagnose(model).verdict, without.verdict)
