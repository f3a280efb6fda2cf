"""What a job came for decides what it asks: aims, their complaints, their families, and the sentence of one that needs no height."""

from __future__ import annotations

import re
import unittest
from math import degrees

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from tests.core.samples import AIR, job
from vantok.shop.starter_kits import KITS
from vantok_core.aims.aim import AIMS
from vantok_core.aims.complaints import COMPLAINTS
from vantok_core.aims.of_job import answering, baseline_taken, job_aims, needs_heights
from vantok_core.aims.rolling import Rolling
from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.num import G
from vantok_core.benches.roll_rate import AIM, RollAxle, RollSpring, roll_rate
from vantok_core.facts import (
    AlreadyOn,
    Complaint,
    Fitting,
    Inspected,
    Job,
    JobReading,
    JobState,
    Kit,
    PlannedChange,
    Proving,
    TrailerItem,
)
from vantok_core.facts.classes import BODIES
from vantok_core.facts.proving import Drive
from vantok_core.facts.vehicle import Equipment
from vantok_core.judge.aimed import aim_verdict, apart_said, stops_choice, unlooked
from vantok_core.judge.choose.answered import answered_said, rolled_said
from vantok_core.judge.choose.by_aims import Scored, ruled_by, scored
from vantok_core.judge.diagnose.causes import likely_causes, table
from vantok_core.judge.hand_over.open_points import open_points
from vantok_core.judge.listen.inspect import AREAS
from vantok_core.judge.measure.checks import baseline_missing
from vantok_core.judge.prove.driving import CATEGORIES
from vantok_core.judge.prove.proof import Proof
from vantok_core.judge.prove.proving import prove
from vantok_core.judge.verdicts import choose_verdict
from vantok_core.kits.chances import chances
from vantok_core.kits.choose import shortlist
from vantok_core.kits.damping_left import damping_left
from vantok_core.kits.family import OF_HEIGHT
from vantok_core.kits.registry import FAMILIES, family_of, read_kit
from vantok_core.kits.tow import LESS_TONGUE
from vantok_core.loads.nose import window_of
from vantok_core.model import build_model
from vantok_core.physics.vehicle import AXLES, AxleName, Vehicle

SHELF = [read_kit(one) for one in KITS]
CODES = list(COMPLAINTS)


def came_for(*codes: str, **more: object) -> Job:
    """Return a job of which nothing is known but what it came for."""
    return Job(complaints=tuple(Complaint(code=code) for code in codes)).model_copy(update=more)


def drive(moment: str, **grades: str) -> Drive:
    return Drive(
        key=f"d-{moment}",
        moment=moment,
        rater="owner",
        course="usual",
        speed_kmh=60.0,
        grades=grades,
        by="Jude",
        at="2026-11-30T10:00:00+00:00",
    )  # type: ignore[arg-type]


class Aims(unittest.TestCase):
    def test_every_complaint_has_its_aim_and_every_family_answers_one(self) -> None:
        """A complaint brings aims that there are, with causes and grades that there are; what a family answers is an aim; a tape proves those that ask for
        heights; every aim but to find it has a family that answers."""
        causes = table()["causes"]
        for code, one in COMPLAINTS.items():
            self.assertTrue(one.aims and set(one.aims) | {one.against or "find"} <= set(AIMS), code)
            self.assertTrue(one.causes and set(one.causes) <= set(causes), code)
            self.assertLessEqual(set(one.grades), set(CATEGORIES), code)
        self.assertEqual({c for one in COMPLAINTS.values() for c in one.causes}, set(causes))
        self.assertEqual({a for f in FAMILIES.values() for a in f.answers}, set(AIMS) - {"find"})
        for family in FAMILIES.values():
            self.assertTrue(family.answers and set(family.answers) <= set(AIMS), family.key)
        self.assertEqual({key for key, aim in AIMS.items() if aim.heights}, set(OF_HEIGHT))
        for aim in AIMS.values():
            self.assertLessEqual(set(aim.first), set(AREAS))

    def test_no_aim_asks_what_it_does_not_need(self) -> None:
        """A job that came for one thing is asked for heights only where that needs them; another complaint, or a part that lifts, asks for them too."""
        for code in CODES:
            one = came_for(code)
            (aim,) = job_aims(one)
            self.assertEqual(needs_heights(one), aim.heights, code)
            self.assertEqual(baseline_missing(one), aim.heights, code)
            if not aim.heights:
                self.assertTrue(needs_heights(came_for(code, "sags")))
                self.assertTrue(needs_heights(one.model_copy(update={"fitting": Fitting(kit=AIR)})))
                self.assertFalse(baseline_taken(one))
                driven = one.model_copy(update={"proving": Proving(drives=(drive("before", wanders="poor"),))})
                self.assertTrue(baseline_taken(driven))
        self.assertEqual([a.key for a in job_aims(came_for())], ["height"])
        self.assertEqual([a.key for a in job_aims(came_for("wags", use=("tows",)))], ["steering", "tongue"])

    def test_the_technician_adds_and_drops(self) -> None:
        """What was added counts, what was dropped does not; with all dropped the complaint rules. An unknown aim is refused, with its place."""
        both = came_for("rolls", aims={"height": True})
        self.assertEqual([a.key for a in job_aims(both)], ["height", "roll"])
        self.assertTrue(needs_heights(both))
        other = came_for("sags", aims={"height": False, "ride": True})
        self.assertEqual([a.key for a in job_aims(other)], ["ride"])
        self.assertFalse(needs_heights(other))
        self.assertEqual([a.key for a in job_aims(came_for("rolls", aims={"roll": False}))], ["roll"])
        with self.assertRaisesRegex(ValidationError, "aims.comfort"):
            Job.model_validate({"aims": {"comfort": True}})

    def test_what_answers_an_aim_is_offered_and_nothing_else(self) -> None:
        """Without a single fact of the vehicle each aim without a height lists the families that answer it, what its maker rules out last."""
        for code in CODES:
            one = came_for(code)
            (aim,) = job_aims(one)
            found = answering(one, SHELF)
            if aim.heights:
                self.assertEqual(found, ())
                continue
            self.assertEqual(
                {a.kit.code for a in found}, {k.code for k in SHELF if aim.key in FAMILIES[k.family].answers}
            )
            outs = [bool(a.out) for a in found]
            self.assertEqual(outs, sorted(outs))
        racked = came_for("wanders", vehicle=job().vehicle.model_copy(update={"steering": "rack"}))
        ruled = {a.kit.code for a in answering(racked, SHELF) if a.out}
        self.assertTrue({"BS-N", "BS-C"} <= ruled and "BS-R" not in ruled)

    def test_the_sentence_goes_on_as_the_work_does(self) -> None:
        """Whole causes first, then the drive, the part, the drive again; a fault or a passed limit leads; no green over limits nobody knows."""
        told, said = came_for("wanders"), []
        stabilizer = next(k for k in SHELF if k.code == "BS-N")
        for step in (
            {},
            {"inspection": (Inspected(area="steering", grade="fine"), Inspected(area="tyres", grade="fine"))},
            {"proving": Proving(drives=(drive("before", wanders="poor"),))},
            {"fitting": Fitting(kit=stabilizer)},
            {"fitting": Fitting(kit=stabilizer, done=True)},
        ):
            told = told.model_copy(update=step)
            found = aim_verdict(told)
            self.assertEqual(found.tone, "act")
            said.append(found.in_units("metric"))
        self.assertEqual(len(set(said)), len(said))
        self.assertTrue(any("without proof" in s.in_units("metric") for s in open_points(told, None)))
        answered = {"fine": "fine now", "marginal": "not yet fine", "poor": "no better", "upgrade": "worse"}
        for grade, words in answered.items():
            drives = (drive("before", wanders="poor"), drive("after", wanders=grade))
            after = told.model_copy(update={"proving": Proving(drives=drives)})
            found = aim_verdict(after)
            self.assertIn(words, found.in_units("metric"))
            self.assertEqual(found.tone, "act")  # no limit of this vehicle is known
        fault = after.model_copy(update={"inspection": (Inspected(area="steering", grade="fault"),)})
        self.assertEqual(aim_verdict(fault).tone, "limit")
        self.assertEqual(unlooked(came_for("wanders")), ["steering", "tyres"])
        over = job(complaints=(Complaint(code="wanders"),))
        states = tuple(
            s.model_copy(update={"front_kg": 1200.0, "rear_kg": 2400.0}) if s.key == "loaded" else s
            for s in over.states
        )
        self.assertIn("over", aim_verdict(over.model_copy(update={"states": states})).sentences[0].in_units("metric"))


class Roll(unittest.TestCase):
    """A job that rolls: what each part does to it, as a ratio, told with what it rests on."""

    BAR = next(k for k in SHELF if k.code == "GB-R2")

    def test_the_middle_is_the_formula_s(self) -> None:
        """The ratio of a rear bar on a vehicle of its class is that of the bench's own formula, by the very same figures; the factory's unknown front bar is in
        both, and gone where somebody looked and found none."""
        for looked in (False, True):
            equipment = (Equipment(kind="bar_front", fitted="none"),) if looked else ()
            rolling = Rolling(rolls(equipment=equipment))
            found, car, tall = (
                rolling.with_kit(self.BAR, {"link_count": (2.0, 2.0)}),
                rolling.base,
                BODIES["pickup"].roll_arm,
            )
            mass = sum(sum(map(float, car.axle(a).ref_load)) / G - 2.0 * car.axle(a).unsprung for a in AXLES)

            def axle(name: AxleName, bar: float, car: Vehicle = car, unknown: bool = not looked) -> RollAxle:
                own = car.axle(name)
                spring = RollSpring(rate=float(own.spring.k), place=own.spring.y if own.solid else None, main=True)
                return RollAxle(
                    solid=own.solid,
                    track=own.track,
                    tyre_rate=float(own.tyre_rate),
                    springs=(spring,),
                    bars=(bar,),
                    unknown_bars=int(name == "front" and unknown),
                )

            bar = family_of(self.BAR).of(self.BAR).at(2.0)
            before, after = (roll_rate(mass, tall, axle("front", 0.0), axle("rear", b)).rate for b in (0.0, bar))
            self.assertAlmostEqual(found.ratio, after / before, 9)
            self.assertAlmostEqual(found.before.value, degrees(before), 6)
            self.assertTrue(found.low < found.ratio < found.high < 1.0 and found.tail_looser and found.lost == 0.0)

    @given(st.floats(1.5e3, 2e5), st.floats(1.05, 3.0))
    @settings(max_examples=25, deadline=None)
    def test_more_bar_rolls_less_and_an_aim_met_stays_met(self, softest: float, times: float) -> None:
        """A stiffer hole rolls less, in the middle and at both ends of the band; a better part beside it takes nothing from one that meets the aim."""
        rolling, kit = Rolling(rolls()), with_holes(self.BAR, softest, softest * times)
        soft, firm = (rolling.with_kit(kit, {"link_count": (n, n)}) for n in (1.0, 2.0))
        self.assertTrue(
            firm.ratio < soft.ratio and firm.low < soft.low and firm.high < soft.high and firm.odds >= soft.odds
        )
        best = rolling.best(kit)
        assert best is not None
        self.assertEqual(best.meets, firm.meets)
        self.assertEqual(
            best.setting["link_count"][0], 1.0 if soft.meets or (not firm.meets and soft.ratio == firm.ratio) else 2.0
        )
        alone = {a.kit.code: a.rolled for a in answering(rolls(), [kit])}
        beside = {
            a.kit.code: a.rolled for a in answering(rolls(), [kit, self.BAR.model_copy(update={"code": "OTHER"})])
        }
        self.assertEqual(alone[kit.code], beside[kit.code])

    def test_what_is_said_of_them(self) -> None:
        """Lacking facts are named and no figure is told; a part that meets the aim is told with odds, band and which end gives first; where none does, that is
        said."""

        def told(one: Job, *kits: Kit) -> str:
            return " ".join(s.in_units("metric") for s in answered_said(one, answering(one, kits)))

        bare = came_for("rolls")
        self.assertIn("could be told with the front track", told(bare, self.BAR))
        self.assertTrue(all(a.rolled is None for a in answering(bare, SHELF)))
        firm = with_holes(self.BAR, 3e4, 6e4)
        self.assertRegex(
            told(rolls(), firm),
            r"hole 2: \d\d\s% of the roll now \(\d\d\s% to \d\d\s%\); over 9 in 10 .* loses grip first",
        )
        self.assertRegex(told(rolls(), self.BAR), r"^No single part here .* Nearest: ")
        nothing = with_holes(self.BAR, 1e3, 1.1e3).model_copy(update={"maker_data": False})
        self.assertIn("Nearest", told(rolls(), nothing))
        self.assertEqual(told(came_for("wanders", vehicle=job().vehicle), self.BAR), "")

    def test_an_option_is_scored_on_each_aim_with_a_figure(self) -> None:
        """A pickup that sags, dazzles and rolls: each option's beam and roll beside its height; bags on one line hold less than on two; a helper says nothing
        of roll; without those aims there is nothing beside the height; an option that is out is not scored."""

        def told(*codes: str) -> dict[str, dict[str, Scored]]:
            model = build_model(job(complaints=tuple(Complaint(code=c) for c in codes)))
            found = shortlist(model, SHELF)
            return {c.key: {s.words: s for s in scored(model, c, found.state.key)} for c in found.choices}

        three = told("sags", "nose_up", "rolls")
        share = [
            int(re.match(r"(\d+)", three[code]["the roll"].said.in_units("metric"))[1])  # type: ignore[index]
            for code in ("FW-M", "FW-T", "SR-35")
        ]
        self.assertTrue(share[2] < share[0] < share[1] < 100, share)
        self.assertEqual([three[code]["the roll"].met for code in ("FW-M", "SR-35")], [False, True])
        self.assertNotIn("the roll", three["CH-4"])
        beams = [three[key]["the headlamps’ beam"].said.values["b"].value for key in ("nothing", "FW-M")]
        self.assertGreater(beams[0], beams[1] + 0.05)
        self.assertEqual({len(one) for one in told("sags").values()}, {0})
        self.assertEqual(three["FW-B"], {})  # made for other springs
        more = told("harsh", "porpoises", "bottoms", "tail_drags")
        for code in ("CH-4", "FW-M"):
            ruled = {words: one.ruled for words, one in more[code].items() if one.ruled is not None}
            still = {words: one.ruled for words, one in more["nothing"].items() if one.ruled is not None}
            self.assertGreater(
                ruled["the ride"].value, still["the ride"].value
            )  # more spring, by hand: a higher frequency
            self.assertAlmostEqual(
                ruled["the damping"].value, still["the ride"].value / ruled["the ride"].value, delta=0.02
            )
            self.assertEqual(still["the damping"].value, 1.0)
            self.assertTrue(all(one.low <= one.value <= one.high for one in ruled.values()))
            self.assertEqual({one.met for one in more[code].values()}, {None})  # none of them is met by a figure alone

    def test_the_tongues_share_is_the_loads_and_no_parts(self) -> None:
        """A job for the trailer's calm: every part leaves the share as it stands, less tongue load brings it to the window's least; met inside the window, by
        hand; without a trailer there is no ruler."""
        base = job(complaints=(Complaint(code="trailer"), Complaint(code="sags")))
        loaded = next(s for s in base.states if s.tongue)
        for share, met in ((0.12, True), (0.18, False)):
            state = loaded.model_copy(update={"tongue_kg": 1400.0 * share, "trailer_kg": 1400.0})
            one = base.model_copy(update={"states": tuple(state if s.key == state.key else s for s in base.states)})
            model = build_model(one)
            found = shortlist(model, SHELF)
            told = ruled_by(found, model, "tongue")
            self.assertGreater(len(told), 3)
            for key, told_of in told.items():
                ruled = told_of.ruled
                assert ruled is not None
                least = window_of(one)[0]
                self.assertAlmostEqual(ruled.value, least if key == LESS_TONGUE else share, places=6)
                self.assertEqual(told_of.met, True if key == LESS_TONGUE else met)

    def test_what_is_planned_takes_part_in_the_odds_the_order_and_what_is_out(self) -> None:
        """A heavy bar is planned behind the axle: what only just reaches the target now is likelier to miss it then, and is not met; each option says where
        it then stands; a kit that the bar overloads is out with that reason; a plan on another state, or of tyres alone, changes nothing."""
        base = job()
        bar = PlannedChange(key="bar", name="rear bar", state="loaded", mass_kg=150.0, station_m=4.6)
        plain, then = (
            shortlist(build_model(one), SHELF) for one in (base, base.model_copy(update={"planned": (bar,)}))
        )
        model = build_model(base.model_copy(update={"planned": (bar,)}))
        known = chances(model, then).by, chances(build_model(base), plain).by
        kit = next(c for c in plain.choices if c.kit and c.meets and not c.out)
        later = then.choice(kit.key)
        assert later is not None and later.miss is not None
        self.assertEqual(later.miss, kit.miss)
        self.assertAlmostEqual(later.misses[1] - later.misses[0], later.later[0].sunk.value)
        self.assertGreater(later.later[0].sunk.value, 0.01)
        self.assertFalse(later.meets)
        said = then.reason.in_units("metric")
        self.assertRegex(
            said, "^Set for now, .* once what is planned is on: .* low of it then. What can be set is set anew"
        )
        self.assertLess(known[0][kit.key].within, known[1][kit.key].within)
        self.assertTrue(any("Once rear bar is on" in n.in_units("metric") for n in later.notes))
        tight = read_kit({**next(k for k in KITS if k["code"] == "CH-4"), "code": "FW-X", "rated_kg": 366.0})
        overloaded = shortlist(model, [tight]).choice("FW-X")
        assert overloaded is not None
        self.assertRegex(
            " ".join(o.in_units("metric") for o in overloaded.out), "Once rear bar is on, its own rating: .* passed"
        )
        self.assertNotIn("fail", {c.status for c in overloaded.checks})
        elsewhere = (
            bar.model_copy(update={"state": "empty"}),
            bar.model_copy(update={"mass_kg": 0.0, "larger_tyre_m": 0.02}),
        )
        for one in elsewhere:
            same = shortlist(build_model(base.model_copy(update={"planned": (one,)})), SHELF)
            self.assertEqual([(c.key, c.misses) for c in same.choices], [(c.key, c.misses) for c in plain.choices])

    def test_what_is_on_says_what_it_does_to_the_roll(self) -> None:
        """On Set and in the report: a bar in its hole by the ratio; separate bags by theirs, one line for both less; a stabilizer, or a job for something
        else, says nothing."""

        def said(code: str, job: Job, **setting: tuple[float, float]) -> str:
            kit = next(k for k in SHELF if k.code == code)
            one = job.model_copy(update={"fitting": Fitting(kit=kit, setting=setting)})
            return " ".join(s.in_units("metric") for s in rolled_said(one, None))

        self.assertRegex(
            said("GB-R2", rolls(), link_count=(3.0, 3.0)), r"leaves 8\d\s% of the roll there was .* slower does"
        )
        separate, teed = (said(code, rolls(), pressure_pa=(2e5, 2e5)) for code in ("FW-M", "FW-T"))
        self.assertIn("of the roll there was", separate)
        share = [int(re.search(r"leaves (\d+)", one)[1]) if "leaves" in one else 100 for one in (separate, teed)]  # type: ignore[index]
        self.assertLess(share[0], share[1])
        for code, one in (
            ("BS-N", rolls()),
            ("GB-R2", came_for("wanders", vehicle=rolls().vehicle)),
            ("GB-R2", came_for("rolls")),
        ):
            self.assertEqual(said(code, one), "")

    def test_doing_nothing_for_the_height_is_not_doing_nothing(self) -> None:
        """A vehicle that stands as it is wanted and rolls: nothing for the height, the roll by what answers it, and no green over it; one that came for the
        height alone is left alone."""
        for codes, green in ((("sags",), True), (("sags", "rolls"), False)):
            one = job(complaints=tuple(Complaint(code=c) for c in codes))
            one = one.model_copy(update={"target": one.target.model_copy(update={"school": "as_it_stands"})})
            said = choose_verdict(one, shortlist(build_model(one), SHELF))
            words = " ".join(s.in_units("metric") for s in said.sentences)
            self.assertEqual(said.tone == "level", green, words)
            self.assertEqual(
                "For the height: Do nothing." in words and "For the roll: choose" in words, not green, words
            )

    def test_rake_and_level_contradict(self) -> None:
        """Aimed at both, what each costs is said at once; a rake that is none, or another wish, contradicts nothing. Each option's rake has its band, and is
        met where it surely is."""
        base = job(complaints=(Complaint(code="sags"),), aims={"rake": True})

        def wanting(school: str, rake: float) -> Job:
            return base.model_copy(update={"target": base.target.model_copy(update={"school": school, "rake_m": rake})})

        (said,) = apart_said(wanting("level", 0.03))
        self.assertRegex(said.in_units("metric"), r"rake of \+30\smm contradict: level leaves the rear 30\smm below")
        for one in (wanting("level", 0.0), wanting("keep_rake", 0.03), base.model_copy(update={"aims": {}})):
            self.assertEqual(apart_said(one), ())
        raked = wanting("keep_rake", 0.03)
        model = build_model(raked)
        found = shortlist(model, SHELF)
        for c in found.choices:
            for one in scored(model, c, found.state.key, "rake"):
                ruled = one.ruled
                assert ruled is not None and c.loaded is not None
                if c.kit is not None and c.kit.axle == "rear" and c.miss is not None:  # moved load moves the front too
                    self.assertAlmostEqual(ruled.value - 0.03, -c.miss, delta=0.004)
                within = max(abs(ruled.low - 0.03), abs(ruled.high - 0.03)) <= 0.01
                self.assertEqual(one.met is True, within)
                errors = model.axle_errors(found.state.key, c.vehicle)
                assert errors is not None
                apart = float(np.array([1.0, -1.0]) @ errors @ np.array([1.0, -1.0])) ** 0.5
                self.assertAlmostEqual(
                    ruled.high - ruled.low, 2.0 * NINE_IN_TEN * apart, msg="front and rear err together"
                )

    def test_bags_found_unlike_weigh_in_a_lean(self) -> None:
        """Pressures as found of a kit nobody knows: unlike, the bag is likelier and that is said; alike, less likely than unread; within a gauge's step,
        alike."""
        chances = {}
        for found in (None, (3e5, 3e5), (3e5, 2.9e5), (3e5, 2e5)):
            on = AlreadyOn(what="bags", found_pa=found)
            (likely,) = likely_causes(came_for("leans", already=on), None)
            (bag,) = (c for c in likely.causes if c.key == "bag")
            chances[found] = bag.chance
            said = " ".join(s.in_units("metric") for s in bag.speaks_for)
            self.assertEqual("came with" in said, found == (3e5, 2e5))
        alike, near, unread, unlike = (chances[k] for k in ((3e5, 3e5), (3e5, 2.9e5), None, (3e5, 2e5)))
        self.assertTrue(alike == near < unread < unlike, chances)

    def test_dampers_are_asked_for_where_more_spring_leaves_too_little(self) -> None:
        """By hand: a quarter on the old springs comes under a fifth once less than four fifths are left. Each choice says so or stands over it; doubtful
        dampers sooner."""
        base = job()
        for grade in ("fine", "watch"):
            model = build_model(base.model_copy(update={"inspection": (Inspected(area="dampers", grade=grade),)}))
            found = shortlist(model, SHELF)
            before = model.solve(model.bare)[found.state.key]
            for one in found.choices:
                if one.kit is None or one.loaded is None or not family_of(one.kit).lifts:
                    continue
                left = damping_left(one.loaded, before, one.kit.axle)
                said = [n.in_units("metric") for n in one.notes if "Add dampers" in n.in_units("metric")]
                self.assertEqual(bool(said), left < 0.8 or (grade == "watch" and left < 1.0), (one.key, left))


def rolls(**vehicle: object) -> Job:
    """Return a pickup that rolls, known by tracks, springs and ratings."""
    return came_for("rolls", vehicle=job().vehicle.model_copy(update=vehicle))


def with_holes(kit: Kit, *stiffness: float) -> Kit:
    """Return a bar with other holes (N m/rad)."""
    told = next(one for one in KITS if one["code"] == kit.code)
    return read_kit(told | {"stiffness_nm_per_rad": list(stiffness)})


class Towing(unittest.TestCase):
    LOOKED = (Inspected(area="tyres", grade="fine"),)

    def said(self, tongue: float, trailer: float, **more: object) -> str:
        state = JobState(key="on", name="Caravan on", tongue_kg=tongue, trailer_kg=trailer)
        one = came_for("trailer", inspection=self.LOOKED, states=(state,), **more)
        return aim_verdict(one).in_units("metric")

    def test_the_tongue_stands_before_any_part(self) -> None:
        """A trailer that sways is weighed at its nose first; out of its window that leads and no part is named; good, the drive comes."""
        self.assertIn("Weigh the tongue", self.said(0.0, 0.0))
        light = self.said(40.0, 1400.0)
        self.assertRegex(light, r"a light tongue sways\. That comes before any part")
        self.assertNotIn("Choose", light)
        self.assertIn("Drive it before", self.said(170.0, 1400.0))

    def test_a_trailer_that_lifts_the_ball_lets_nothing_be_chosen(self) -> None:
        """By its items' moments: 800 kg half a metre behind the axle; and a tongue over the hitch's rating; a good one stops nothing."""
        behind = (TrailerItem(name="load", mass_kg=800.0, behind_ball_m=4.5),)
        lifting = JobState(key="on", name="On", trailer_items=behind, trailer_axle_m=4.0)
        over = JobState(key="on", name="On", tongue_kg=170.0, trailer_kg=1400.0)
        hitch = job().vehicle.model_copy(update={"hitch_kg": 100.0})
        for state, vehicle, words in ((lifting, None, "lifts the ball"), (over, hitch, "hitch"), (over, None, "")):
            one = came_for("trailer", states=(state,), **({"vehicle": vehicle} if vehicle else {}))
            stops = stops_choice(one)
            self.assertEqual(stops is not None, bool(words))
            self.assertIn(words, stops.in_units("metric") if stops else "")
        self.assertIsNone(stops_choice(came_for("rolls", states=(lifting,))))

    def test_what_no_part_answers_says_so(self) -> None:
        """Creaks are found, not bolted over: looked at and driven, the sentence asks for the cure; driven again it says what became of it."""
        looked = tuple(Inspected(area=area, grade="fine") for area in AIMS["find"].first)
        one = came_for("creaks", inspection=looked, proving=Proving(drives=(drive("before", noise="poor"),)))
        self.assertIn("No part answers the cause", aim_verdict(one).in_units("metric"))
        self.assertEqual(answering(one, SHELF), ())
        again = one.model_copy(update={"proving": Proving(drives=(*one.proving.drives, drive("after", noise="fine")))})
        self.assertIn("is fine now", aim_verdict(again).in_units("metric"))


class Apart(unittest.TestCase):
    def test_aims_that_pull_apart_are_said_with_what_each_costs(self) -> None:
        """Harsh empty and sagging, rolling and harsh: each pair once, with its cost; one aim alone, or the other dropped, says nothing."""
        self.assertEqual(
            next(s.in_units("metric") for s in apart_said(came_for("harsh", "sags"))).count("rides harder empty"), 1
        )
        both = apart_said(came_for("rolls", "top_heavy", "harsh", "head_tossed"))
        self.assertEqual([s.in_units("metric").split(" pull")[0] for s in both], ["The roll and the ride"])
        self.assertEqual(apart_said(came_for("rolls")) + apart_said(came_for("wanders", "harsh")), ())
        self.assertEqual(apart_said(came_for("harsh", "sags", aims={"height": False})), ())
        self.assertTrue(all(bool(one.against) == bool(one.costs) for one in COMPLAINTS.values()))

    def test_the_figure_of_the_roll_is_the_technician_s(self) -> None:
        """A milder wish is met by what misses the usual one; the usual one is the method's."""
        self.assertEqual(Job().roll_wanted, AIM)
        told = [
            next(a.rolled for a in answering(rolls().model_copy(update={"roll_wanted": w}), [Roll.BAR]))
            for w in (0.8, 0.95)
        ]
        self.assertEqual([bool(one and one.meets) for one in told], [False, True])


class AtTheHitch(unittest.TestCase):
    def test_a_tail_read_at_the_hitch_alone_is_chosen_and_proved_there(self) -> None:
        """Two heights of the hitch, empty and loaded: a baseline, a choice, and with the kit on a proof at that point, said to be of that point alone; 60 mm
        off is not it."""
        base = job()
        read = tuple(
            JobReading(state=s, datum="ground_hitch", place="hitch", value_m=v)
            for s, v in (("empty", 0.545), ("loaded", 0.458))
        )
        one = came_for("tail_drags", vehicle=base.vehicle, states=base.states, readings=read)
        self.assertFalse(baseline_missing(one))
        found = shortlist(build_model(one), SHELF)
        choice = found.choice(found.recommended)
        assert choice is not None and choice.kit is not None
        fitting = Fitting(kit=choice.kit, setting=choice.setting, state=found.state.key, done=True)

        def proved(**heights: float) -> Proof:
            after = [
                JobReading(state=s, phase="after", datum="ground_hitch", place="hitch", value_m=v)
                for s, v in heights.items()
            ]
            told = prove(build_model(one.model_copy(update={"fitting": fitting, "readings": (*read, *after)})))
            assert told is not None
            return told

        by_state = {p.state: p.predicted.value for p in proved().points}
        self.assertGreater(by_state["loaded"], 0.48)
        self.assertIn("not read", proved().verdict.in_units("metric"))
        half = proved(loaded=by_state["loaded"]).verdict
        self.assertRegex(
            half.in_units("metric"), r"the hitch stands .* held\. Still to read at this setting: hitch in “Empty”"
        )
        whole = proved(**by_state)
        self.assertTrue(all(p.inside for p in whole.points) and whole.inside is None)
        self.assertIn("It is proved at that point; nothing is said of the others", whole.verdict.in_units("metric"))
        off = proved(**by_state | {"loaded": by_state["loaded"] - 0.060}).verdict
        self.assertEqual(off.tone, "act")
        self.assertRegex(off.in_units("metric"), r"that is off the prediction .* Read it again, settled")
