"""Less tongue, and a hitch that gives load back, against the job as it would be with them; variants, contact and the front as they are wanted."""

from __future__ import annotations

import unittest
from dataclasses import replace

from tests.core.samples import AIR, INSERT, job
from tests.core.test_families import KITS
from vantok.shop.starter_kits import KITS as SHELF
from vantok_core.facts import Job
from vantok_core.files.job_file import read_job, write_job
from vantok_core.judge.choose.beside import beside
from vantok_core.kits.choice import Choice
from vantok_core.kits.choose import shortlist
from vantok_core.kits.fit import fit_checks, with_kit
from vantok_core.kits.registry import family_of, read_kit
from vantok_core.model import build_model
from vantok_core.model.states import core_states
from vantok_core.physics.stance.assembly import changed_spring
from vantok_core.physics.vehicle import AXLES

HITCH = KITS["weight_hitch"]


def towing(**changes: object) -> Job:
    """Return the sample job with its trailer's axle measured, its loaded state changed."""
    one = job()
    loaded = one.states[1].model_copy(update={"trailer_axle_m": 4.2} | changes)
    return one.model_copy(update={"states": (one.states[0], loaded)})


def choice_of(model_job: Job, key: str, *kits: object) -> Choice:
    """Return a choice of a job."""
    found = shortlist(build_model(model_job), list(kits)).choice(key)  # type: ignore[arg-type]
    assert found is not None
    return found


COIL_BLOCK = {
    "code": "B-1",
    "name": "Test block",
    "maker": "Nobody Rubber",
    "family": "coil_block",
    "springs": ["coil_solid"],
    "price": 40,
    "hours": 1,
    "gross_min_kg": 1000,
    "gross_max_kg": 4000,
    "blocked_coils": 1.0,
    "gap_min_m": 0.01,
    "gap_max_m": 0.04,
}


class LoadMoved(unittest.TestCase):
    def assert_alike(self, choice: Choice, other: Job) -> None:
        """What a choice changes on either axle and in height is what another job's loads change."""
        model = build_model(towing())
        plain, there = (replace(model, states=core_states(one)[0]).solve()["loaded"] for one in (towing(), other))
        now = model.solve()["loaded"]
        assert choice.loaded is not None
        for axle in AXLES:
            self.assertAlmostEqual(
                float(choice.loaded.axle_load(axle) - now.axle_load(axle)),
                float(there.axle_load(axle) - plain.axle_load(axle)),
                delta=0.5,
            )
        self.assertAlmostEqual(float(choice.loaded.d_r - now.d_r), float(there.d_r - plain.d_r), delta=2e-4)

    def test_less_tongue_is_the_job_with_less_tongue(self) -> None:
        """What the option predicts is what the same vehicle does with that tongue; the trailer keeps its tenth."""
        choice = choice_of(towing(), "tongue")
        self.assert_alike(choice, towing(tongue_kg=150.0))
        self.assertIsNone(shortlist(build_model(towing(tongue_kg=150.0)), []).choice("tongue"))
        self.assertIsNone(shortlist(build_model(towing(tongue_kg=0.0, trailer_kg=0.0)), []).choice("tongue"))

    def test_a_hitch_gives_back_what_its_share_says(self) -> None:
        """What it predicts is what the vehicle does with that share entered as given back; the limits feel it; no rating is raised."""
        choice = choice_of(towing(), HITCH.code, HITCH)
        self.assert_alike(choice, towing(restored=0.6))
        assert choice.shift is not None
        self.assertGreater(choice.shift[0], 0.0)
        self.assertLess(choice.shift[1], 0.0)
        model = build_model(towing())
        found = shortlist(model, [HITCH])
        told, plain = (beside(model, found, c) for c in (choice, found.choices[0]))
        assert told.nearest is not None and plain.nearest is not None
        self.assertEqual(told.nearest.limit, plain.nearest.limit)
        self.assertGreater(told.states[1].heights["rear"].value, plain.states[1].heights["rear"].value)
        self.assertLess(told.states[1].heights["front"].value, plain.states[1].heights["front"].value)

    def test_its_checks(self) -> None:
        """Without a trailer it is out; without ball to axle it is to measure, and nothing is predicted; plates are always to look at."""
        told = {c.key: c.status for c in fit_checks(job(), HITCH)}
        self.assertEqual((told["levers"], told["plates"], told["tongue"]), ("measure", "measure", "pass"))
        self.assertIsNone(choice_of(job(), HITCH.code, HITCH).miss)
        without = choice_of(towing(tongue_kg=0.0, trailer_kg=0.0), HITCH.code, HITCH)
        self.assertTrue(without.out)
        heavy = HITCH.model_copy(update={"trailer_max_kg": 900.0})
        self.assertIn("trailer", [c.key for c in fit_checks(towing(), heavy) if c.status == "fail"])


class AsWanted(unittest.TestCase):
    def test_a_tee_has_one_pressure_and_no_roll_support(self) -> None:
        """Both sides of a tee are solved to one pressure, it resists roll less than two lines do, and that is said."""
        tee = AIR.model_copy(update={"line": "tee"})
        model = build_model(job())
        found = shortlist(model, [AIR])
        apart = found.choice(AIR.code)
        joined = shortlist(model, [tee]).choice(tee.code)
        assert apart is not None and joined is not None
        left, right = joined.setting["pressure_pa"]
        self.assertEqual(left, right)
        self.assertTrue(any("no side trim" in n.in_units("metric") for n in joined.notes))
        self.assertTrue(family_of(tee).alike(tee))
        one, two = (beside(model, found, c).states[1].roll for c in (joined, apart))
        self.assertLess(one, two)

    def test_a_bag_in_a_coil_asks_for_the_coil(self) -> None:
        """A bag inside a coil is to be measured for it; too thick a bag is out."""
        inside = AIR.model_copy(update={"shape": "in_coil", "diameter_m": 0.09, "springs": ("coil_solid",)})
        told = [c for c in fit_checks(job(), inside) if c.key == "coil_inside_m"]
        self.assertEqual([c.status for c in told], ["measure"])
        narrow = job().model_copy(
            update={"vehicle": job().vehicle.model_copy(update={"sizes": {"rear_coil_inside_m": 0.08}})}
        )
        self.assertEqual([c.status for c in fit_checks(narrow, inside) if c.key == "coil_inside_m"], ["fail"])

    def test_a_bag_in_a_coil_that_stands_extended_lifts_nothing_there(self) -> None:
        """Figure and words agree: seats further apart than the bag reaches, it presses nothing unladen and the words say so; nearer, it presses and they
        say that; unread, what is to be read. Beside a leaf the same table presses as before."""
        one = job()
        for seats, presses in ((0.26, False), (0.19, True), (None, None)):
            apart = tuple(
                r.model_copy(update={"value_m": seats}) if r.datum == "pad_to_pad" and seats else r
                for r in one.readings
                if seats or r.datum != "pad_to_pad"
            )
            there = one.model_copy(update={"readings": apart})
            inside = AIR.model_copy(update={"shape": "in_coil"})
            model = build_model(there)
            words = " ".join(n.in_units("metric") for n in family_of(inside).does(model, inside, {}, "loaded"))
            self.assertIn(
                {True: "presses there too", False: "lifts nothing there", None: "Read seat to seat"}[presses], words
            )
            setting = {"pressure_pa": (3e5, 3e5)}
            empty = model.solve(with_kit(there, model.vehicle, inside, setting, state="loaded"))["empty"]
            force = float(empty.elements["kit"]["left"].force)
            beside = float(
                model.solve(with_kit(there, model.vehicle, AIR, setting, state="loaded"))["empty"]
                .elements["kit"]["left"]
                .force
            )
            self.assertGreater(beside, 500.0)
            if presses is not None:
                self.assertEqual(force > 1.0, presses, force)

    def test_a_block_lifts_by_what_it_holds_open(self) -> None:
        """By hand: rigid, it lifts by its own height less the gap at ride height, and is stiffer by coils over coils left; a wider gap, or none told, and it
        lifts nothing; a front one raises the front."""
        one = job()
        for gap, lifts in ((0.020, 0.006), (0.030, 0.0), (None, 0.0)):
            sizes = {"rear_coils": 7.0} | ({"rear_coil_gap_m": gap} if gap else {})
            there = one.model_copy(
                update={"vehicle": one.vehicle.model_copy(update={"rear_spring": "coil_solid", "sizes": sizes})}
            )
            block = read_kit(COIL_BLOCK | {"holds_m": 0.026})
            spring = with_kit(there, build_model(there).vehicle, block, {}, state=None).rear.spring
            law = changed_spring(spring, 5000.0)
            self.assertAlmostEqual(law.at(-lifts)[0], 5000.0, places=3)
            self.assertAlmostEqual(law.at(0.0)[1], spring.k * 7.0 / 6.0, places=3)
            words = family_of(block).does(build_model(there), block, {}, "loaded")[0].in_units("metric")
            told = "by what it holds open" if lifts else "lifts nothing there" if gap else "taken to lift nothing"
            self.assertIn(told, words)
        front = next(k for k in SHELF if k["code"] == "SB-F")
        there = one.model_copy(
            update={
                "vehicle": one.vehicle.model_copy(
                    update={"sizes": {"front_coils": 8.0, "front_coil_gap_m": 0.018}, "gross_kg": 2800.0}
                )
            }
        )
        found = shortlist(build_model(there), [read_kit(front)]).choice("SB-F")
        assert found is not None and found.loaded is not None
        plain = build_model(there).solve()["loaded"]
        self.assertLess(float(found.loaded.d_f), float(plain.d_f) - 0.0003)

    def test_contact_or_gap(self) -> None:
        """An insert is set in contact, or untouched when empty, as the job wants it; its gap in the empty vehicle shows it."""
        loose = read_kit(INSERT.model_dump() | {"spacers_m": [0.001, 0.003, 0.01, 0.02]})
        gaps = {}
        for school in ("", "contact", "gap"):
            one = job().model_copy(
                update={
                    "target": job().target.model_copy(
                        update={"contact": school, "share": 1.0, "school": "share_of_sag"}
                    )
                }
            )
            choice = choice_of(one, loose.code, loose)
            assert choice.empty is not None
            gaps[school] = min(
                float(s.gap_left) for s in choice.empty.elements["kit"].values() if s.gap_left is not None
            )
        self.assertLess(gaps["contact"], 0.002)
        self.assertGreaterEqual(gaps["gap"], 0.003)
        self.assertEqual(read_job(write_job(one)).target.contact, "gap")

    def test_captive_nuts(self) -> None:
        """A screwed insert asks for the nut: nobody looked and rust are to measure, sound passes, gone is out."""
        screwed = read_kit(INSERT.model_dump() | {"screw_in": True})
        for nuts, status in (("", "measure"), ("rusted", "measure"), ("sound", "pass"), ("gone", "fail")):
            one = job().model_copy(update={"vehicle": job().vehicle.model_copy(update={"stop_nuts": nuts})})
            self.assertEqual([c.status for c in fit_checks(one, screwed) if c.key == "nuts"], [status])
        self.assertFalse([c for c in fit_checks(job(), INSERT) if c.key == "nuts"])

    def test_eyes_and_brackets(self) -> None:
        """A shackle whose eye is as wide as the old bush and goes into its bracket passes; one that does not is out."""
        shackle = KITS["rubber_shackle"].model_copy(update={"bush_m": 0.060})
        for sizes, said in (
            ({}, ["measure", "measure"]),
            ({"rear_bush_m": 0.0605, "rear_bracket_m": 0.063}, ["pass", "pass"]),
            ({"rear_bush_m": 0.064, "rear_bracket_m": 0.059}, ["fail", "fail"]),
        ):
            one = job().model_copy(update={"vehicle": job().vehicle.model_copy(update={"sizes": sizes})})
            self.assertEqual([c.status for c in fit_checks(one, shackle) if c.key in ("bush_m", "bracket_m")], said)

    def test_the_front_as_it_is_wanted(self) -> None:
        """A front kit is set for what the front is to be raised by; without that it stands at its least, and says so."""
        front = AIR.model_copy(update={"axle": "front", "springs": ("coil_independent",), "place": 0.8})
        model = build_model(job())
        plain = model.solve()["loaded"]
        least = shortlist(model, [front]).choice(front.code)
        assert least is not None and least.loaded is not None
        self.assertTrue(any("say what the front is to be" in n.in_units("metric") for n in least.notes))
        wanted = float(plain.d_f - least.loaded.d_f) + 0.008
        one = job().model_copy(update={"target": job().target.model_copy(update={"front_raise_m": wanted})})
        choice = choice_of(one, front.code, front)
        assert choice.loaded is not None
        self.assertAlmostEqual(float(plain.d_f - choice.loaded.d_f), wanted, delta=0.002)
