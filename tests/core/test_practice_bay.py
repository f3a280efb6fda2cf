"""The practice bay: every case can be solved, every trap is caught by its own rule alone, answers are life's and leak nothing, drills and puzzles judge."""

from __future__ import annotations

import json
import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from vantok.shop.starter_kits import KITS
from vantok_core.base.errors import FileFormatError, InputError, UnitError, VantokError
from vantok_core.facts import Fitting
from vantok_core.judge.diagnose.diagnosis import diagnose
from vantok_core.kits.registry import read_kit
from vantok_core.model import build_model
from vantok_core.physics.vehicle import CORNERS
from vantok_core.practice.bay import answers, drills, ground
from vantok_core.practice.bay.case import SKILLS, Case
from vantok_core.practice.bay.case_file import read_case, write_case
from vantok_core.practice.bay.debrief import drives, opened
from vantok_core.practice.bay.difference import difference
from vantok_core.practice.bay.drafting import gap_left, sag
from vantok_core.practice.bay.from_job import case_from
from vantok_core.practice.bay.marks import TRAPS, marks, total
from vantok_core.practice.bay.puzzles import judged, puzzle
from vantok_core.practice.bay.run import Act, Run, Said, Standing, standing_after
from vantok_core.practice.bay.scripted import best_run, careless_run
from vantok_core.practice.bay.templates import BY_CODE, case_by_code, drawn_code
from vantok_core.practice.bay.truth import Now, heights, known_job, over_limits, reports

SHELF = [read_kit(data) for data in KITS]
PROMISED = (
    *(
        "tongue",
        "tired",
        "kitchen",
        "stops",
        "behind-level",
        "as-it-should",
        "variant",
        "strong",
        "droop",
        "tee",
        "coach",
    ),
    *("shimmy", "rolls", "stiff-coils", "tapered", "comes-back", "leak", "floor", "label", "nose", "on-stops"),
    *("by-datum", "by-fraction", "told-low"),
)


class Solvable(unittest.TestCase):
    def test_the_shipped_cases_are_there(self) -> None:
        """At least the twenty promised, each teaching something, together every skill; every trap there is stands in one of them."""
        self.assertEqual(tuple(one.key for one in BY_CODE.values()), PROMISED)
        self.assertEqual({s for one in BY_CODE.values() for s in one.skills}, set(SKILLS))
        self.assertEqual({one.trap for one in BY_CODE.values()} | {"none"}, set(TRAPS))

    def test_the_best_run_of_each_earns_every_mark(self) -> None:
        """And the careless one loses just the marks of what the case turns on."""
        for code in (*BY_CODE, *(f"G-{n}" for n in range(12))):
            case = case_by_code(code)
            with self.subTest(code=code, trap=case.trap):
                best = marks(best_run(case, SHELF), SHELF)
                self.assertEqual([(one.rule, one.why.in_units("metric")) for one in best if not one.whole], [])
                careless = marks(careless_run(case, SHELF), SHELF)
                self.assertEqual([one.rule for one in careless if not one.whole], ["trap"])
                self.assertLess(total(careless), total(best))

    def test_rules_take_marks_where_they_are_lost(self) -> None:
        """Nothing done at all, a guess, a wrong cause, an overload fitted over: each loses by its own rule, with a reason."""
        case = case_by_code("V-01")
        idle = {one.rule: one for one in marks(Run(case=case, acts=(), job=case.told), SHELF)}
        for rule in ("baseline", "weighed", "inspected", "cause", "deed", "height", "trap"):
            self.assertEqual(idle[rule].got, 0.0, rule)
            self.assertTrue(idle[rule].why.in_units("us"))
        said = Said(cause="damping", deed="nothing")
        guess = Run(case=case, acts=(Act(kind="say", what="damping"),), job=case.told, said=said)
        told = {one.rule: one for one in marks(guess, SHELF)}
        self.assertEqual((told["guessed"].got, told["cause"].got, told["deed"].got), (0.0, 0.0, 0.0))
        over = case_by_code("V-05")
        best = best_run(over, SHELF)
        kit = Fitting(kit=SHELF[0], setting={}, state="loaded", done=True)
        fitted = Run(
            case=over,
            acts=(*best.acts, Act(kind="fit", what=SHELF[0].code)),
            job=best.job.model_copy(update={"fitting": kit}),
            said=best.said,
        )
        self.assertEqual({one.rule: one.got for one in marks(fitted, SHELF)}["limits"], 0.0)

    def test_a_drawn_case_is_the_same_again_and_of_the_skill_asked(self) -> None:
        """By its code alone, which tells nothing of what it turns on."""
        for skill in SKILLS:
            code = drawn_code(4711, skill)
            self.assertIn(skill, case_by_code(code).skills)
        case_by_code.cache_clear()
        self.assertEqual(case_by_code("G-7"), case_by_code("G-7"))
        for wrong in ("G-", "G--1", "G-99999999", "V-99", "", "G-1.5"):
            self.assertRaises(InputError, case_by_code, wrong)


class Answering(unittest.TestCase):
    def test_premises_hold_on_the_truth(self) -> None:
        """What a case turns on is so of its vehicle: an overload over its plate, a stop that touches, a sag that is none, a floor that slopes."""
        self.assertGreater(over_limits(case_by_code("V-05"))["rear_axle_kg"], 60.0)
        self.assertEqual(gap_left(case_by_code("V-04")), 0.0)
        self.assertLess(sag(case_by_code("V-06")), 0.02)
        straight = case_by_code("V-18")
        facing = answers.tape(straight, 3, Standing(state="empty", settled=True), Now(), "ground_arch", 0.001)
        turned = answers.tape(
            straight, 3, Standing(state="empty", settled=True, turned=True), Now(), "ground_arch", 0.001
        )
        lean = [(told["FL"] - told["FR"] + told["RL"] - told["RR"]) / 2 for told in (facing, turned)]
        self.assertGreater(lean[0], 0.008)
        self.assertLess(lean[1], -0.008)

    @given(
        st.integers(0, 2**31 - 1),
        st.sampled_from(sorted(BY_CODE)),
        st.sampled_from(["ground_arch", "hub_arch", "stop_gap"]),
    )
    @settings(max_examples=40, deadline=None)
    def test_a_tape_reads_near_the_truth_and_never_it(self, seed: int, code: str, datum: str) -> None:
        """Within what friction, tape and floor leave; the same again for the same act, another figure after the body moved; on its step."""
        case = case_by_code(code)
        at = Standing(state=case.judged, epoch=seed % 7, settled=bool(seed % 2))
        told = answers.tape(case, seed, at, Now(), datum, 0.0254 / 16)
        true = heights(case, reports(case, only=(case.judged,))[case.judged], datum, Now())
        for place, value in told.items():
            floor = answers.floor_under(case, place, turned=False) if datum == "ground_arch" else 0.0
            self.assertLess(abs(value - true[place] - floor), 0.022)
            self.assertAlmostEqual(value / (0.0254 / 16), round(value / (0.0254 / 16)), places=6)
        self.assertEqual(told, answers.tape(case, seed, at, Now(), datum, 0.0254 / 16))

    def test_rolled_and_bounced_a_body_hides_less(self) -> None:
        """Friction left in heights, over many rests, is halved by rolling and bouncing."""
        case = case_by_code("V-08")
        spread = [
            sum(abs(answers.friction(case, n, Standing(state="empty", settled=s))["RL"]) for n in range(200))
            for s in (False, True)
        ]
        self.assertAlmostEqual(spread[0], 2 * spread[1], places=6)
        self.assertGreater(spread[0] / 200, 0.0015)

    def test_standing_follows_the_acts(self) -> None:
        """It comes empty and as it stands; loaded, turned, fitted or jacked up it is unsettled again; driven or bounced it is settled."""
        case = case_by_code("V-01")
        acts = [Act(kind="load", what="loaded"), Act(kind="settle"), Act(kind="turn")]
        told = [standing_after(case, acts[:n]) for n in range(4)]
        self.assertEqual([t.state for t in told], ["empty", "loaded", "loaded", "loaded"])
        self.assertEqual([t.settled for t in told], [False, False, True, False])
        self.assertEqual([t.turned for t in told], [False, False, False, True])

    def test_what_was_looked_at_is_found_and_no_more(self) -> None:
        """A fault is seen in its own area alone, and is fine once it is cured."""
        case = case_by_code("V-12")
        self.assertEqual(answers.looked(case, "bearings").grade, "fault")
        self.assertEqual(answers.looked(case, "tyres").grade, "fine")
        self.assertEqual(answers.looked(case, "bearings", frozenset({"bearings"})).grade, "fine")
        self.assertRaises(InputError, answers.looked, case, "ashtray")

    def test_a_drive_says_what_was_done(self) -> None:
        """Before the work the owner still feels it; after the best run it is gone; a log of the drive moves."""
        for code in ("V-01", "V-13"):
            case = case_by_code(code)
            run = best_run(case, SHELF)
            before = answers.driven(case, Now(), cured_cause=False)
            after = answers.driven(case, Now(parts=run.job.parts), cured_cause=False)
            self.assertIn("still there", before.words[0].in_units("metric"))
            self.assertIn("gone", after.words[0].in_units("us"))
        felt = [a for _, a in answers.logged(case_by_code("V-01"), Now())]
        self.assertGreater(max(felt) - min(felt), 1.0)

    def test_a_kit_lifts_by_its_true_strength(self) -> None:
        """As its case has it, not as its data has it."""
        case = case_by_code("V-01")
        part = best_run(case, SHELF).job.fitting
        assert part is not None
        weak = case.model_copy(update={"hidden": case.hidden.model_copy(update={"strength": 0.7})})
        drops = [float(reports(c, Now(parts=(part,)), ("loaded",))["loaded"].d_r) for c in (case, weak)]
        self.assertGreater(drops[1], drops[0] + 0.003)


class Leaking(unittest.TestCase):
    def test_the_job_as_it_comes_in_tells_nothing_of_the_truth(self) -> None:
        """Of no case: no true mass where another was told, no rating, no rate, no place across, no fault, no gap."""
        for code in BY_CODE:
            case = case_by_code(code)
            told = json.dumps(case.told.model_dump(mode="json", exclude_defaults=True))
            true = {one.name: one for load in case.hidden.loads for one in load.items}
            for state in case.told.states:
                for one in state.items:
                    self.assertEqual(one.lateral_m, 0.0)
                    if case.trap in ("scale", "strong") and one.name in true:
                        self.assertNotAlmostEqual(one.mass_kg, true[one.name].mass_kg)
            for figure in (case.hidden.rear.rate_n_per_m, case.hidden.rear.gap_m, case.hidden.ratings["rear_axle_kg"]):
                self.assertNotIn(f"{figure:g}", told.replace('"mass_kg": ', ""), code)
            for fault in case.hidden.faults:
                self.assertNotIn(fault.words, told)
            self.assertNotIn(case.lesson, told)


class Opening(unittest.TestCase):
    def test_the_debrief_opens_all_of_it(self) -> None:
        """Cause, loads told wrong, springs, faults, heights true and read, the best run with its cost, and the drives on one clock."""
        case = case_by_code("V-24")
        run = best_run(case, SHELF)
        found = opened(run, SHELF, build_model(known_job(case)), hour_price=100.0)
        text = " ".join(one.in_units("metric") for one in found.truth)
        self.assertIn("was told", text)
        self.assertEqual([h.place for h in found.before], list(CORNERS))
        for height in (*found.before, *found.after):
            assert height.read is not None
            self.assertLess(abs(height.read - height.true), 0.02)
        self.assertGreater(found.cost, found.minutes / 60.0 * 100.0)
        driven, over = drives(run, SHELF)
        self.assertEqual([one.configuration.key for one in driven], ["came", "left", "best"])
        self.assertTrue(all(one.run is not None for one in driven))
        self.assertEqual(over.piece, case.course)

    def test_a_wrong_finding_is_explained(self) -> None:
        """By what was read: what the tool holds likelier, what speaks for it, and what would tell."""
        job = known_job(case_by_code("V-05"))
        found = diagnose(build_model(job))
        right, wrong = (
            " ".join(s.in_units("metric") for s in difference(job, found, Said(cause=c, deed="unload")))
            for c in ("overload", "damping")
        )
        self.assertIn("You said the same", right)
        self.assertIn("overload at the rear", wrong)
        self.assertIn("Yours:", wrong)


class Files(unittest.TestCase):
    def test_a_case_file_comes_back_whole_and_a_damaged_one_is_refused_in_words(self) -> None:
        """Cut off, of another kind, with an unknown field, a figure that cannot be, a state nobody has."""
        case = case_by_code("V-02")
        text = write_case(case)
        self.assertEqual(read_case(text), case)
        told = json.loads(text)
        for damaged in (
            text[:-40],
            "[]",
            json.dumps(told | {"format": "vantok-job"}),
            json.dumps(told | {"more": 1}),
            json.dumps(told | {"minutes": -5}),
            json.dumps(told | {"causes": ["gremlins"]}),
            json.dumps(told | {"hidden": told["hidden"] | {"loads": [{"state": "moon"}]}}),
        ):
            with self.assertRaises(FileFormatError) as caught:
                read_case(damaged)
            self.assertNotIn("Value error", str(caught.exception))

    def test_a_case_of_a_job_has_its_model_for_truth_and_no_name_in_it(self) -> None:
        """Its vehicle then answers as the model foretells; owner, plate and notes are gone."""
        source = known_job(case_by_code("V-02"))
        job = source.model_copy(
            update={
                "customer": "Somebody Known",
                "words": "Ask Somebody Known",
                "vehicle": source.vehicle.model_copy(update={"plate": "AB 123", "label": "Old Faithful", "vin": "X1"}),
            }
        )
        model = build_model(job)
        case = case_from(model, code="S-01", title="It hangs", cause="tired", deed="repair")
        for name in ("Somebody", "AB 123", "Old Faithful", "X1"):
            self.assertNotIn(name, write_case(case))
        self.assertAlmostEqual(sag(case), float(model.solve()["loaded"].d_r), delta=0.004)
        self.assertEqual(Case.model_validate(case.model_dump()), case)
        for wrong in (("gremlins", "repair"), ("tired", "pray")):
            self.assertRaises(InputError, case_from, model, code="S-1", title="x", cause=wrong[0], deed=wrong[1])
        bare = build_model(job.model_copy(update={"complaints": ()}))
        self.assertRaises(VantokError, case_from, bare, code="S-1", title="x", cause="tired", deed="repair")


class Drills(unittest.TestCase):
    @given(st.sampled_from(sorted(drills.DRILLS)), st.integers(0, 10**6))
    @settings(max_examples=60, deadline=None)
    def test_the_right_answer_counts_and_another_does_not(self, key: str, seed: int) -> None:
        """In either unit system; its picture stands at the answer."""
        one = drills.asked(key, seed)
        if isinstance(one.answer, str):
            self.assertEqual(drills.answer(key, seed, one.answer, "us").share, 1.0)
            others = [drills.answer(key, seed, o, "us").share for o in one.options if o != one.answer]
            self.assertTrue(all(share < 1.0 for share in others))
            self.assertRaises(InputError, drills.answer, key, seed, "nothing of it", "us")
            return
        for system in ("metric", "us"):
            unit, per = ("in", 0.0254) if one.tape_in else (("mm", 0.001) if one.kind == "length" else ("kg", 1.0))
            self.assertEqual(drills.answer(key, seed, f"{one.answer / per:.4f} {unit}", system).share, 1.0)  # type: ignore[arg-type]
            self.assertEqual(drills.answer(key, seed, f"{one.answer / per * 1.3 + 2:.4f} {unit}", system).share, 0.0)  # type: ignore[arg-type]
        self.assertRaises(UnitError, drills.answer, key, seed, "", "metric")
        if one.tape_m is not None:
            self.assertEqual(one.tape_m, one.answer)

    def test_a_puzzle_judges_an_order_by_the_card_itself(self) -> None:
        """The card's own order can be followed; one turned round would have gone wrong, and it is said where and how."""
        wrong = 0
        for seed in range(8):
            one = puzzle(SHELF, seed)
            own = [s.key for s in one.card.steps if s.key in {t.key for t in one.shown}]
            self.assertTrue(judged(one, own).right)
            self.assertNotEqual([s.key for s in one.shown], own)
            found = judged(one, own[::-1])
            wrong += not found.right
            self.assertTrue(all(words for _, words in found.wrong))
            self.assertRaises(InputError, judged, one, own[:-1])
        self.assertEqual(wrong, 8)
        self.assertRaises(InputError, puzzle, [], 1)


class Ground(unittest.TestCase):
    @given(
        st.sampled_from(sorted(ground.VEHICLES)),
        st.fixed_dictionaries({n: st.floats(h.low, h.high) for n, h in ground.HANDLES.items()}),
    )
    @settings(max_examples=40, deadline=None)
    def test_loads_add_up_wherever_they_are_dragged(self, key: str, told: dict[str, float]) -> None:
        """Both axles carry what stands on them; more behind lowers the rear and takes load off the front."""
        found = ground.answered(key, told)
        one, figures = ground.stands(key), ground.pushed(told)
        put = figures["load"] + figures["tongue"] + 75.0 * figures["people"]
        self.assertAlmostEqual(sum(found.axles), float(one.truth.weight) / 9.80665 + put, delta=0.5)
        more = ground.answered(key, figures | {"tongue": min(figures["tongue"] + 50.0, 350.0)})
        self.assertGreaterEqual(more.front_lost, found.front_lost - 1e-9)

    def test_questions_are_worth_asking_and_marked_with_tolerance(self) -> None:
        """A near guess counts, a far one does not."""
        for seed in range(20):
            one = ground.question(seed)
            true = ground.answer_of(one)
            self.assertGreaterEqual(true, ground.WORTH[one.asks])
            self.assertTrue(ground.near_enough(one, true * 1.1))
            self.assertFalse(ground.near_enough(one, true * 1.9 + one.least))
        self.assertRaises(InputError, ground.answered, "boat", {})
