"""Nothing claimed beyond the readings: what is not known is said so, and no sentence goes further than its figures."""

from __future__ import annotations

import json
import unittest
from math import atan2, degrees
from typing import Any

from tests.core.samples import AIR, INSERT, job, reading
from vantok_core.base.errors import InputError
from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.num import G
from vantok_core.base.say import Quantity
from vantok_core.facts import (
    AlreadyOn,
    Complaint,
    EmptyLoad,
    Equipment,
    Fitting,
    Inspected,
    Job,
    JobReading,
    JobState,
    LoadItem,
    NamedPoint,
    PlannedChange,
    Target,
)
from vantok_core.facts.classes import BODIES
from vantok_core.files.job_file import masked, read_job, solve_job, write_job
from vantok_core.judge.choose.planned import planned
from vantok_core.judge.diagnose.already import already
from vantok_core.judge.diagnose.causes import likely_causes
from vantok_core.judge.diagnose.diagnosis import diagnose
from vantok_core.judge.diagnose.tail import tails
from vantok_core.judge.grounds.next_step import next_step
from vantok_core.judge.grounds.shown import tape_view
from vantok_core.judge.grounds.unweighed import unweighed
from vantok_core.judge.hand_over.result import result_claims
from vantok_core.judge.measure.checks import check_sheet
from vantok_core.judge.prove.after_causes import CAUSES
from vantok_core.judge.prove.proving import Proof, prove
from vantok_core.judge.verdicts import choose_verdict, sheet_verdict
from vantok_core.judge.weigh.loads import loads_verdict
from vantok_core.kits.choice import MET
from vantok_core.kits.choose import shortlist
from vantok_core.kits.empty_again import estimated_empty
from vantok_core.kits.fit import fit_checks, with_kit
from vantok_core.kits.target import target_drop
from vantok_core.loads.limits import tyre_limit
from vantok_core.loads.moves import clearing_moves, moves
from vantok_core.loads.plan import by_load, gain_of, state_margins
from vantok_core.model import build_model, missing

OWN_BAG = {
    "law": "air",
    "name": "own bag",
    "y": 0.48,
    "h_ref": 0.2,
    "area": {"A0": 0.0122, "dA_dh": -0.021, "h0": 0.2},
    "p_set": [120e3, 140e3],
}
CORNER = ("FL", "FR", "RL", "RR")


def state(one: Job, **changes: Any) -> Job:
    """Return the job with its loaded state changed."""
    empty, loaded = one.states
    return one.model_copy(update={"states": (empty, loaded.model_copy(update=changes))})


def vehicle(one: Job, **changes: Any) -> Job:
    """Return the job with its vehicle changed."""
    return one.model_copy(update={"vehicle": one.vehicle.model_copy(update=changes)})


def said(one: Job) -> str:
    """Return the diagnosis's sentence."""
    return diagnose(build_model(one)).verdict.in_units("metric")


def fitted(pressure: float | None = None, **heights: float) -> Job:
    """Return the job with the bellows at their solved pressure (or another), read as predicted but for the heights given."""
    air = shortlist(build_model(job()), [AIR]).choice("A-2")
    assert air is not None
    set_at = air.setting["pressure_pa"] if pressure is None else (pressure, pressure)
    base = job(fitting=Fitting(kit=AIR, setting={"pressure_pa": set_at}, state="loaded", done=True))
    proof = prove(build_model(base))
    assert proof is not None
    after = [
        reading(key, row.corner, round(row.predicted.value, 3) + heights.get(f"{key}_{row.corner}", 0.0), phase="after")
        for key, rows in proof.rows.items()
        for row in rows
    ]
    return base.model_copy(update={"readings": (*base.readings, *after)})


def proof_of(one: Job) -> Proof:
    """Return a job's proof."""
    found = prove(build_model(one))
    assert found is not None
    return found


class Limits(unittest.TestCase):
    """A passed limit leads every later sentence, and nothing is green over it."""

    def test_no_good_stance_dismisses_an_overload(self) -> None:
        """With the rear axle over: measuring, diagnosis, choice and proof begin with it and none is green or says done."""
        over = vehicle(fitted(), rear_axle_kg=1250.0)
        model = build_model(over)
        found = diagnose(model)
        verdicts = [
            found.verdict,
            sheet_verdict(over, check_sheet(over), found),
            choose_verdict(over, shortlist(model, [AIR])),
            proof_of(over).verdict,
        ]
        for verdict in verdicts:
            self.assertEqual(verdict.tone, "limit")
            self.assertRegex(verdict.sentences[0].in_units("metric"), r"Boat on: rear axle is \d+.kg over")
            self.assertIn("no helper raises a rating", verdict.in_units("metric"))
        self.assertTrue(proof_of(fitted()).inside)
        self.assertEqual(proof_of(fitted()).verdict.tone, "level")

    def test_none_known_is_not_all_hold(self) -> None:
        """Without any rating neither the weighing nor the proof says that limits hold or that it may go."""
        bare = vehicle(
            fitted(),
            gross_kg=None,
            front_axle_kg=None,
            rear_axle_kg=None,
            hitch_kg=None,
            towed_kg=None,
            combination_kg=None,
        )
        self.assertNotIn("Within every known limit", loads_verdict(bare).in_units("metric"))
        proof = proof_of(bare).verdict
        self.assertEqual(proof.tone, "act")
        self.assertIn("No limit is known", proof.in_units("metric"))

    def test_heavy_tyres(self) -> None:
        """The common table of load indices goes on to what coaches roll on."""
        self.assertEqual(tyre_limit(126, 2), 3400.0)
        self.assertEqual(tyre_limit(152, 2), 7100.0)
        self.assertEqual(tyre_limit(152, 4, 148), 12600.0)


class Unknown(unittest.TestCase):
    """Unknown is never nought."""

    def test_a_load_nobody_knows_is_read_off_the_springs(self) -> None:
        """No load, a weighing beside an unweighed empty vehicle, a tongue of unknown lever, a trailer whose tongue nobody read: what
        is on board is told with its band and the choice goes on; nothing is called within, and what would tell it is said.
        Without heights to read it off, nothing is judged."""
        base = job()
        empty = base.states[0].model_copy(update={"front_kg": None, "rear_kg": None})
        cases = {
            "the load of": state(base, items=(), tongue_kg=0.0, trailer_kg=0.0),
            "what else is on board": state(base, more=True),
            "the empty axle loads": state(
                base, items=(), tongue_kg=0.0, trailer_kg=0.0, front_kg=1200, rear_kg=1500
            ).model_copy(
                update={"states": (empty, JobState(key="loaded", name="Boat on", front_kg=1200, rear_kg=1500))}
            ),
            "the hitch overhang": vehicle(base, hitch_overhang_m=None),
            "the tongue load": state(base, tongue_kg=0.0),
        }
        cures = {
            "the load of": "Weigh it",
            "what else is on board": "Weigh it",
            "the empty axle loads": "empty axle loads",
            "the hitch overhang": "Measure from the rear axle",
            "the tongue load": "Read the tongue",
        }
        known = shortlist(build_model(base), [AIR])
        for words, one in cases.items():
            with self.subTest(words):
                self.assertTrue(any(m.what.startswith(words) for m in missing(one)), missing(one))
                found = build_model(one)
                verdict = diagnose(found).verdict
                self.assertIn("sits 59", verdict.in_units("metric"))
                self.assertIn(cures[words], verdict.in_units("metric"))
                choice = shortlist(found, [AIR])
                self.assertEqual(choice.recommended, known.recommended)
                wide, narrow = choice.choice(AIR.code), known.choice(AIR.code)
                assert wide and narrow and wide.drop and narrow.drop
                self.assertGreater(wide.drop.sigma, narrow.drop.sigma)
                told = diagnose(found).off_springs("loaded")
                if told is not None:  # the scale of the loaded state rules its limits
                    self.assertIn("Weigh it", verdict.in_units("metric"))
                    self.assertNotIn("Within", loads_verdict(one, (told,)).in_units("metric"))
                unread = one.model_copy(update={"readings": tuple(r for r in one.readings if r.state == "empty")})
                self.assertNotIn("loaded", build_model(unread).states)
                self.assertIn("error", solve_job(unread, [AIR])["choices"])

    def test_what_the_springs_say_of_a_limit(self) -> None:
        """Green is never shown over a load nobody weighed: far under the limit it is probably within, far over it probably over and
        first of all sentences, between the two it cannot be told; a list that passes a limit by itself passes it, whatever else is on board."""
        base = state(job(), items=(), tongue_kg=0.0, trailer_kg=0.0)
        said = {
            5000.0: "probably within its limit",
            1300.0: "cannot be told",
            900.0: "Weigh it before anything is fitted",
        }
        for rating, words in said.items():
            limits = {"rear_axle_kg": rating, "front_axle_kg": 3000.0, "gross_kg": None}
            found = diagnose(build_model(vehicle(base, **limits)))
            sentences = [s.in_units("metric") for s in found.verdict.sentences]
            with self.subTest(words):
                self.assertTrue(any(words in s for s in sentences), sentences)
                self.assertEqual(found.verdict.tone, "limit" if rating == 900.0 else "act")
                self.assertEqual(words in sentences[1], rating == 900.0)
        risen = base.model_copy(
            update={
                "readings": tuple(
                    r.model_copy(update={"value_m": r.value_m + 0.11})
                    if r.state == "loaded" and r.place[0] == "R" and r.datum == "ground_arch"
                    else r
                    for r in base.readings
                )
            }
        )
        self.assertIn("lighter than the reference", diagnose(build_model(risen)).verdict.in_units("metric"))
        heavy = state(job(), more=True, items=(LoadItem(name="stone", mass_kg=2500, station_m=3.5),))
        over = [m.key for m in state_margins(heavy, heavy.loaded[0]) if m.over]
        self.assertIn("rear_axle", over)
        light = state(job(), more=True)
        self.assertEqual(
            [m.margin for m in state_margins(light, light.loaded[0]) if m.key in ("gross", "rear_axle")], [None, None]
        )

    def test_states_said_to_carry_the_same_load_share_it(self) -> None:
        """Read without and with a known tongue, one unknown load is told alike in both and more surely than as two of them; a state
        that is gone, or was weighed since, is nobody's twin."""
        base = state(job(), items=(), tongue_kg=0, trailer_kg=0)
        twin = base.states[1].model_copy(
            update={"key": "hitched", "name": "Hitched", "tongue_kg": 340.0, "trailer_kg": 3000.0, "more": True}
        )
        heights = {"FL": 0.900, "FR": 0.902, "RL": 0.838, "RR": 0.842}
        base = base.model_copy(
            update={"readings": (*base.readings, *(reading("hitched", p, v) for p, v in heights.items()))}
        )
        told = {}
        for same in ("", "loaded", "gone"):
            both = base.model_copy(update={"states": (*base.states, twin.model_copy(update={"same_as": same}))})
            told[same] = {u.state.key: u for u in unweighed(build_model(both))}
            self.assertEqual(set(told[same]), {"loaded", "hitched"})
        shared, apart = told["loaded"], told[""]
        self.assertEqual(shared["loaded"].read, shared["hitched"].read)
        self.assertNotEqual(apart["loaded"].read, apart["hitched"].read)
        for key in ("loaded", "hitched"):
            mine, alone = shared[key].read, apart[key].read
            assert mine is not None
            assert alone is not None
            self.assertLess(mine.sigma_front, 0.95 * alone.sigma_front, key)
        self.assertEqual(told["gone"]["hitched"].read, apart["hitched"].read)

    def test_on_its_stop_is_never_left_alone(self) -> None:
        """A gap of a millimetre read loaded is used and told, and doing nothing is not recommended even where the height is met."""
        low = job(target=Target(school="share_of_sag", share=0.0))
        self.assertEqual(shortlist(build_model(low), [AIR]).recommended, "nothing")
        touching = low.model_copy(update={"readings": (*low.readings, reading("loaded", "RL", 0.001, "stop_gap"))})
        found = diagnose(build_model(touching))
        self.assertEqual(found.main.stop_gap["rear"] if found.main else None, 0.001)
        self.assertIn("1\u00a0mm from touching", found.verdict.in_units("metric"))
        chosen = shortlist(build_model(touching), [AIR])
        self.assertNotEqual(chosen.recommended, "nothing")
        self.assertIn("stands on its bump stop", chosen.reason.in_units("metric"))

    def test_a_gap_read_loaded_tells_the_empty_one(self) -> None:
        """The stop's gap read in the loaded state alone gives the model its stop; the loaded gap comes out as read."""
        kept = tuple(r for r in job().readings if r.datum != "stop_gap")
        one = job(readings=(*kept, *(reading("loaded", c, 0.012, "stop_gap") for c in ("RL", "RR"))))
        model = build_model(one)
        self.assertTrue(any("stop gap from the one read in “Boat on”" in a for a in model.assumed), model.assumed)
        sides = model.solve()["loaded"].elements["rear bump stops"]
        mean = sum(float(s.gap_left or 0.0) for s in sides.values()) / 2
        self.assertAlmostEqual(mean, 0.012, delta=0.0015)

    def test_pads_under_the_load_alone(self) -> None:
        """Pads read only loaded give the corner loads of that state; the empty split follows and is called inferred; the lean
        from the heights stays on."""
        pads = (590.0, 560.0, 760.0, 700.0)
        one = state(job(), corners_kg=pads, items=(), tongue_kg=0.0, trailer_kg=0.0)
        model = build_model(one)
        self.assertIn("loaded", model.side)
        loads = model.solve()["loaded"].load
        for i, corner in enumerate(CORNER):
            self.assertAlmostEqual(float(loads[corner]) / G, pads[i], delta=15.0)  # the scale's own sigma moves an axle
        for i in (0, 2):
            self.assertAlmostEqual(float(loads[CORNER[i]] - loads[CORNER[i + 1]]) / G, pads[i] - pads[i + 1], delta=1.0)
        self.assertTrue(any("split from the pads" in a for a in model.assumed))

    def test_one_state_that_cannot_be_takes_no_other_with_it(self) -> None:
        """A load that lifts the front is said for its state; the other states are judged as before."""
        stone = JobState(key="stone", name="Stone", items=(LoadItem(name="stone", mass_kg=9000, station_m=4.9),))
        one = job(states=(*job().states, stone))
        model = build_model(one)
        self.assertIn("would leave the ground", model.unsolved["stone"])
        self.assertEqual(set(model.states), {"empty", "loaded"})
        told = diagnose(model)
        self.assertIn("unsolved", [f.key for f in told.findings])
        self.assertIn("State “Stone”", tape_view(model, stone, "ground_arch").why)
        self.assertAlmostEqual(model.estimate.k["rear"], build_model(job()).estimate.k["rear"], delta=1.0)

    def test_own_air_set_in_a_state_nobody_knows(self) -> None:
        """The vehicle's own bag, set in a state whose load is unknown, is taken as set empty, and that is told."""
        data = job().model_dump(mode="json", exclude_none=True)
        data["vehicle"]["rear_elements"] = [OWN_BAG | {"set_state": "loaded"}]
        form = read_job(json.dumps(data))
        known = build_model(form)
        self.assertEqual(known.assumed, ())
        unread = form.model_copy(update={"readings": tuple(r for r in form.readings if r.state == "empty")})
        lost = build_model(state(unread, items=(), tongue_kg=0.0, trailer_kg=0.0))
        self.assertTrue(any("own bag set on the empty vehicle" in a for a in lost.assumed), lost.assumed)

    def test_a_bag_on_one_side(self) -> None:
        """A side without a bag has no pressure to be under its minimum; a volume nobody published is flagged as taken."""
        data = job().model_dump(mode="json", exclude_none=True)
        data["vehicle"]["rear_elements"] = [OWN_BAG | {"sides": "left", "p_min": 35e3, "p_max": 6e5}]
        found = build_model(read_job(json.dumps(data))).solve(check_limits=True)["loaded"]
        self.assertEqual(list(found.elements["own bag"]), ["left"])
        self.assertTrue(any("volume is not published" in flag for flag in found.flags), found.flags)


class Loads(unittest.TestCase):
    """A height is never paired with a load it was not read under."""

    def stamped(self) -> Job:
        """Return the job with the loaded heights stamped with the load of then."""
        one = job()
        gain = gain_of(one, one.states[1])
        assert gain is not None
        told = tuple(
            r.model_copy(update={"under_kg": gain[0], "under_basis": gain[1]}) if r.state == "loaded" else r
            for r in one.readings
        )
        return one.model_copy(update={"readings": told})

    def test_a_moved_load_keeps_the_heights_of_then(self) -> None:
        """An item moved after the reading: the heights stay with the load of then, rates do not move, the state is to be read."""
        one = self.stamped()
        self.assertIs(by_load(one), one)
        item = one.states[1].items[0]
        moved = state(one, items=(item.model_copy(update={"station_m": item.station_m - 1.0}),))
        kept = by_load(moved)
        self.assertEqual([s.past for s in kept.states], [False, False, True])
        before, after = build_model(one), build_model(kept)
        self.assertAlmostEqual(after.estimate.k["rear"] / before.estimate.k["rear"], 1.0, delta=0.02)
        self.assertIsNone(kept.read("loaded", "RL", "ground_arch"))
        self.assertEqual(state_margins(kept, kept.states[2]), [])
        self.assertIn("was changed after its heights were read", check_sheet(kept)[0].what.in_units("metric"))
        self.assertIn("is predicted to sit", said(kept))

    def test_a_first_weighing_is_the_same_load(self) -> None:
        """Weighed after it was read by a plan: the same load better known, and the heights stay with it."""
        weighed = state(self.stamped(), front_kg=1150.0, rear_kg=1450.0)
        self.assertIs(by_load(weighed), weighed)


class Proving(unittest.TestCase):
    """What was read with the kit on is held against what was predicted for that setting, and nothing more is said."""

    def test_another_setting_is_not_judged_by_old_heights(self) -> None:
        """Heights marked with their setting: the setting changed, they are shown as of then, not judged; no advice climbs."""
        one = fitted(loaded_RL=-0.02, loaded_RR=-0.02)
        assert one.fitting is not None
        marked = tuple(
            r.model_copy(update={"setting": one.fitting.mark}) if r.phase == "after" else r for r in one.readings
        )
        one = one.model_copy(update={"readings": marked})
        self.assertFalse(proof_of(one).inside)
        changed = one.fitting.model_copy(update={"setting": {"pressure_pa": (4e5, 4e5)}})
        other = one.model_copy(update={"fitting": changed})
        proof = proof_of(other)
        self.assertIsNone(proof.inside)
        self.assertIsNone(proof.next)
        self.assertIn("read at another setting", proof.verdict.in_units("metric"))
        self.assertTrue(all(r.stale is not None for rows in proof.rows.values() for r in rows))

    def test_a_front_that_came_up_is_no_matter_of_the_rear_kit(self) -> None:
        """Front back at its empty height against its axle load: named as such, and no setting is offered for it."""
        one = fitted(loaded_FL=-0.02, loaded_FR=-0.02)
        assert one.fitting is not None
        one = one.model_copy(
            update={"fitting": one.fitting.model_copy(update={"ruled_out": tuple(c.key for c in CAUSES)})}
        )
        proof = proof_of(one)
        assert proof.suspect is not None
        self.assertEqual(proof.suspect.named, "front")
        self.assertIsNone(proof.next)
        up = proof_of(fitted(loaded_FL=0.02, loaded_FR=0.02)).verdict.in_units("metric")
        self.assertIn(
            "Not by the kit: friction, or load put back elsewhere. Read the front again, settled, with the same load",
            up,
        )

    def test_one_corner_is_named_as_the_furthest_outside_its_band(self) -> None:
        """One corner misread by 25 mm is named, with its state; the first thing to do is to read it again."""
        proof = proof_of(fitted(empty_RR=0.025))
        assert proof.suspect is not None
        self.assertEqual((proof.suspect.named, proof.suspect.state, proof.suspect.corner), ("corner", "empty", "RR"))
        self.assertIn("Empty: rear right stands 25\u00a0mm high", proof.verdict.in_units("metric"))
        self.assertIn("read it again", proof.verdict.in_units("metric"))
        for how, words in (("", "one side"), ("drift", "drifting one way"), ("lifted", "read before it was settled")):
            one = fitted(empty_RR=0.09)
            read = tuple(
                r.model_copy(update={"unsettled": how})
                if (r.state, r.phase, r.place) == ("empty", "after", "RR")
                else r
                for r in one.readings
            )
            pattern = proof_of(one.model_copy(update={"readings": read})).pattern
            self.assertEqual(
                ("drifting" in pattern, "before it was settled" in pattern), (how == "drift", how == "lifted")
            )
            self.assertIn(words, pattern)

    def test_the_next_setting_waits_for_its_causes_and_goes_the_right_way(self) -> None:
        """Low means more, the state is named, and it is offered only once every cause before it is ruled out."""
        low = fitted(loaded_RL=-0.022, loaded_RR=-0.022, empty_RL=-0.022, empty_RR=-0.022)
        assert low.fitting is not None
        keys = [c.key for c in CAUSES]
        for n in range(len(keys) + 1):
            ruled = low.fitting.model_copy(update={"ruled_out": tuple(keys[:n])})
            proof = proof_of(low.model_copy(update={"fitting": ruled}))
            self.assertEqual(proof.next is not None, n == len(keys), keys[:n])
        assert proof.next is not None
        self.assertGreater(sum(proof.next.setting["pressure_pa"]), sum(low.fitting.setting["pressure_pa"]))
        self.assertIn("In “Boat on”, set", proof.verdict.in_units("metric"))
        twice = tuple(r.model_copy(update={"twice": True}) if r.phase == "after" else r for r in low.readings)
        self.assertNotIn("read", [c.key for c in proof_of(low.model_copy(update={"readings": twice})).open])

    def test_nothing_read_is_nothing_proved(self) -> None:
        """Without an empty baseline nothing can be predicted at the arches: the proof says what to read, and stands."""
        one = fitted()
        bare = proof_of(one.model_copy(update={"readings": ()}))
        self.assertIsNone(bare.inside)
        self.assertEqual(bare.verdict.tone, "act")
        self.assertIn("nothing is predicted", bare.verdict.in_units("metric"))

    def test_the_report_says_it_in_plain_words(self) -> None:
        """The load with what it rests on, and the rear before and with the kit."""
        one = fitted()
        told = [c.said.in_units("metric") for c in result_claims(one, diagnose(build_model(one)), proof_of(one))]
        self.assertRegex(told[0], r"Boat on: \d+.kg on the wheels .*tongue 190.kg of it; from the list")
        self.assertRegex(told[1], r"Its rear stood 59.mm lower than empty; with the kit on it stands \d+.mm lower")


class Choosing(unittest.TestCase):
    """What is out of reach is said, and the ranking is what the page says it is."""

    def test_out_of_reach_is_said(self) -> None:
        """An insert that leaves the rear far from the target is not taken: the sentence says by how much."""
        weak = INSERT.model_copy(update={"points": ((0.01, 20.0), (0.06, 60.0)), "gross_max_kg": 9000.0})
        found = shortlist(build_model(job(target=Target(school="empty_height"))), [weak])
        self.assertEqual(found.recommended, "")
        self.assertRegex(
            found.reason.in_units("metric"), r"nearer to the target than doing nothing does, by more than its band"
        )
        firmer = weak.model_copy(update={"points": ((0.01, 200.0), (0.06, 1600.0))})
        found = shortlist(build_model(job(target=Target(school="empty_height"))), [firmer])
        self.assertRegex(
            found.reason.in_units("metric"), r"Nothing on the shelf reaches the target: .* leaves the rear \d+.mm low"
        )

    def test_those_that_reach_it_come_first(self) -> None:
        """However cheap, a kit that misses the target stands behind one that meets it."""
        cheap = AIR.model_copy(update={"code": "A-0", "price": 1.0, "p_max_pa": 60e3})
        ranked = [c for c in shortlist(build_model(job()), [cheap, AIR]).choices if c.kit]
        self.assertEqual([c.key for c in ranked], ["A-2", "A-0"])
        self.assertGreater(abs(ranked[1].miss or 0.0), MET)

    def test_a_front_kit_is_not_set_to_the_rears_target(self) -> None:
        """It stands at its lowest setting, says that it does not bring the height wanted, and is never recommended for it."""
        front = AIR.model_copy(update={"axle": "front", "springs": ("coil_independent",)})
        found = shortlist(build_model(job()), [front])
        choice = found.choice("A-2")
        assert choice is not None
        self.assertEqual((choice.setting, choice.miss, choice.out), ({"pressure_pa": (35e3, 35e3)}, None, ()))
        self.assertIn("The height wanted is one at the rear", choice.notes[0].in_units("metric"))
        self.assertNotEqual(found.recommended, "A-2")

    def test_nothing_goes_through_the_cab(self) -> None:
        """No move of a pickup's load ends ahead of the cab's wall, and what rides in the cab stays there."""
        wall = BODIES["pickup"].cab * 3.55
        one = vehicle(job(), rear_axle_kg=1250.0)
        seat = LoadItem(name="bag", mass_kg=40, station_m=1.2, movable=True)
        one = state(one, items=(*one.states[1].items, seat))
        offered = [*moves(one, one.states[1], 0.4 * 3.55), *clearing_moves(one, one.states[1])]
        found = shortlist(build_model(one), [AIR]).moves
        self.assertTrue(found)
        for move in (*offered, *found):
            self.assertNotEqual(move.item.name, "bag")
        for move in found:
            self.assertGreaterEqual(move.station, wall - 1e-9)

    def test_a_load_at_the_wall_has_nowhere_to_go(self) -> None:
        """Everything already as far forward as it goes: that is said, not that nothing is on the plan."""
        one = state(
            job(),
            items=(LoadItem(name="box", mass_kg=200, station_m=BODIES["pickup"].cab * 3.55 + 0.01, movable=True),),
        )
        choice = shortlist(build_model(one), [AIR]).choice("move")
        assert choice is not None
        self.assertIn("Nothing on the plan can go further forward", choice.notes[0].in_units("metric"))

    def test_every_fit_check_can_be_answered(self) -> None:
        """Room and lines have their own figures: passed, failed, or still to measure."""
        answers = {
            "measure": {},
            "pass": {"space_left_m": 0.03, "space_right_m": 0.02, "lines": "clear"},
            "fail": {"space_left_m": 0.03, "space_right_m": 0.005, "lines": "clear"},
        }
        for status, told in answers.items():
            self.assertEqual({c.key: c.status for c in fit_checks(job(**told), AIR)}["space"], status)
        self.assertEqual({c.key: c.status for c in fit_checks(job(lines="close"), AIR)}["space"], "fail")


class Bands(unittest.TestCase):
    """A difference inside its band is no finding."""

    def test_about_equal_frequencies_are_no_fault(self) -> None:
        """A ratio below one whose band reaches over one is called about equal; no pitching is found."""
        found = diagnose(build_model(job()))
        assert found.main is not None and found.main.ratio is not None and found.main.ratio_band is not None
        low, high = found.main.ratio_band
        self.assertLess(low, found.main.ratio)
        for view in found.views:
            assert view.ratio_band is not None
            if view.ratio_band[0] <= 1.0 <= view.ratio_band[1]:
                self.assertEqual(view.rides, "about equal")
        if high >= 1.0:
            self.assertNotIn("pitching", [f.key for f in found.findings])

    def test_a_sag_inside_its_band_is_where_it_stood(self) -> None:
        """Three millimetres on leaves are within the tape and the settling: said so, with the band."""
        one = job()
        near = tuple(
            r.model_copy(update={"value_m": 0.944}) if (r.state, r.place) in {("loaded", "RL"), ("loaded", "RR")} else r
            for r in one.readings
        )
        self.assertRegex(said(one.model_copy(update={"readings": near})), r"where it does empty, within \d.mm")

    def test_a_caravan_is_no_car(self) -> None:
        """No headlamp, no caster, no front ride and no front axle lost for what is towed."""
        found = diagnose(build_model(vehicle(job(), body="caravan")))
        assert found.main is not None
        view = found.main
        self.assertEqual(
            (view.beam, view.caster, view.ratio, view.front_lost, view.rides), (None, None, None, None, "")
        )
        self.assertEqual(list(view.frequency), ["rear"])
        self.assertFalse({"lamps", "pitching", "front-light"} & {f.key for f in found.findings})

    def test_a_point_is_called_by_its_name(self) -> None:
        """A named point that contradicts the others is named, not the hitch."""
        point = {"key": "bumper", "name": "bumper edge", "station_m": 4.4}
        one = vehicle(job()).model_dump(mode="json", exclude_none=True)
        one["vehicle"]["points"] = [point]
        base = read_job(json.dumps(one))
        more = [
            JobReading(state=s, datum="ground_point", place="bumper", value_m=v)
            for s, v in (("empty", 0.60), ("loaded", 0.62))
        ]
        found = diagnose(build_model(base.model_copy(update={"readings": (*base.readings, *more)})))
        told = [f.what.in_units("metric") for f in found.findings if f.key == "contradicts"]
        self.assertTrue(any("bumper edge" in t for t in told), told)
        self.assertFalse(any("hitch" in t for t in told), told)

    def test_a_baseline_on_a_missing_stop_is_marked(self) -> None:
        """The inspection found the stop gone: the diagnosis says what the baseline still tells."""
        one = job(inspection=(Inspected(area="stops", grade="fault"),))
        found = diagnose(build_model(one))
        self.assertIn("baseline-stop", [f.key for f in found.findings])
        sheet = check_sheet(one)
        self.assertIn("baseline-stop", [f.key for f in sheet])
        self.assertEqual(sheet_verdict(one, sheet, found).tone, "level", "marked, and no hindrance to reading on")


class Files(unittest.TestCase):
    """What is new goes through the file, and older files come in."""

    def test_version_4_comes_in_and_5_comes_back(self) -> None:
        """A file of the version before is read; settings, loads of then and ruled-out causes are kept by this one."""
        one = fitted()
        assert one.fitting is not None
        told = tuple(
            r.model_copy(
                update={"setting": one.fitting.mark, "twice": True, "under_kg": (-30.0, 400.0), "under_basis": "plan"}
            )
            for r in one.readings
        )
        kept = one.model_copy(
            update={
                "readings": told,
                "fitting": one.fitting.model_copy(update={"ruled_out": ("read", "leak")}),
                "space_left_m": 0.03,
                "lines": "clear",
            }
        )
        self.assertEqual(read_job(write_job(kept)), kept)
        old = write_job(one).replace('"version": 5', '"version": 4')
        self.assertEqual(read_job(old), one)


class PlannedForLater(unittest.TestCase):
    def test_a_planned_change_is_told_at_once(self) -> None:
        """A bar behind the rear axle sinks the rear and lifts the front as an item put there would, its overload is told as what would
        be and stops nothing today; tyres lift both axles alike; on a state that is gone nothing is told; unweighed, no limit holds."""
        base = job()
        base = base.model_copy(update={"readings": tuple(r for r in base.readings if r.state == "empty")})
        bar = PlannedChange(key="bar", name="rear bar", state="loaded", mass_kg=60.0, station_m=4.5)
        tyres = PlannedChange(key="tyres", name="tyres", state="loaded", larger_tyre_m=0.02)
        gone = PlannedChange(key="gone", name="gone", state="nowhere", mass_kg=10.0, station_m=1.0)
        one = base.model_copy(update={"planned": (bar, tyres, gone)})
        model = build_model(one)
        found = {p.change.key: p for p in planned(model)}
        self.assertEqual(set(found), {"bar", "tyres"})
        laden = state(base, items=(*base.states[1].items, LoadItem(name="bar", mass_kg=60.0, station_m=4.5)))
        there = build_model(laden)
        for axle, drop in (("front", "d_f"), ("rear", "d_r")):
            sunk = getattr(there.solve(model.vehicle)["loaded"], drop) - getattr(model.solve()["loaded"], drop)
            self.assertAlmostEqual(found["bar"].rise[axle].value, -float(sunk), places=6)  # type: ignore[index]
        self.assertLess(found["bar"].rise["rear"].value, -0.005)
        self.assertGreater(found["bar"].rise["front"].value, 0.0)
        loads = {m.key: m.load for m in state_margins(laden, laden.states[1])}
        self.assertAlmostEqual(
            {m.key: m.load for m in found["bar"].margins}["rear_axle"] or 0.0, loads["rear_axle"] or 1.0, places=6
        )
        self.assertEqual([round(found["tyres"].rise[a].value, 9) for a in ("front", "rear")], [0.02, 0.02])
        self.assertIn("room in the arches", found["tyres"].do.in_units("metric"))
        tight = vehicle(one, rear_axle_kg=(loads["rear_axle"] or 0.0) - 10.0)
        over = next(p for p in planned(build_model(tight)) if p.change.key == "bar")
        self.assertEqual(over.tone, "limit")
        self.assertIn("would be 10\u00a0kg over", over.said.in_units("metric"))
        self.assertNotEqual(loads_verdict(tight).tone, "limit")
        unweighed_one = state(job(planned=(bar,)), more=True)
        blind = next(p for p in planned(build_model(unweighed_one)) if p.change.key == "bar")
        self.assertIn("weigh it", blind.said.in_units("metric"))
        self.assertEqual(blind.tone, "act")


class NeverEmpty(unittest.TestCase):
    """A vehicle nobody will see empty: no empty height is claimed, every target that needs none is kept to."""

    @staticmethod
    def van(*heights: float, **changes: Any) -> Job:
        """Return a job on the pickup as it stands, read FL, FR, RL, RR."""
        one = job()
        stands = JobState(key="empty", name="As it stands", empty=True)
        read = tuple(reading("empty", c, h) for c, h in zip(CORNER, heights, strict=True))
        return one.model_copy(update={"never_empty": True, "states": (stands,), "readings": read} | changes)

    def test_each_target_from_as_it_stands(self) -> None:
        """Raised by, a stated height, level, rake, a stop gap, the lamps: each asks for the lift it means, side by side where they differ;
        one that takes an empty height, lacks its figure or source, or lies below, is refused in words."""
        gap = tuple(reading("empty", c, 0.02, "stop_gap") for c in ("RL", "RR"))
        one = self.van(0.88, 0.88, 0.85, 0.87)
        one = one.model_copy(update={"readings": one.readings + gap})
        wanted = {
            "raise_by": (Target(school="raise_by", length_m=0.03), (-0.03, -0.03)),
            "sides": (Target(school="raise_by", length_m=0.04, length_right_m=0.02), (-0.04, -0.02)),
            "stated": (Target(school="stated_height", length_m=0.90, source="a sister vehicle"), (-0.05, -0.03)),
            "level": (Target(school="level"), (-0.02, -0.02)),
            "rake": (Target(school="keep_rake", rake_m=0.01), (-0.03, -0.03)),
            "gap": (Target(school="stop_gap", length_m=0.05), (-0.03, -0.03)),
            "gap held": (Target(school="stop_gap", length_m=0.01), (0.0, 0.0)),
            "lamps": (Target(school="headlamp"), (0.0, 0.0)),
        }
        for words, (target, drops) in wanted.items():
            with self.subTest(words):
                model = build_model(one.model_copy(update={"target": target}))
                found = target_drop(model, "empty")
                for told, meant in zip(found.sides, drops, strict=True):
                    self.assertAlmostEqual(told, meant, places=9)
        refused = {
            "nobody knows how this vehicle stands empty": Target(school="share_of_sag"),
            "say how much": Target(school="raise_by"),
            "needs its source": Target(school="stated_height", length_m=0.9),
            "stands higher than that already": Target(school="stated_height", length_m=0.8, source="the maker"),
        }
        for why, target in refused.items():
            with self.subTest(why):
                self.assertIn(why, solve_job(one.model_copy(update={"target": target}), [AIR])["choices"]["error"])

    def test_back_to_an_empty_height_only_where_the_empty_load_is_known(self) -> None:
        """By its papers it would be lighter: how it would stand is solved, told as an estimate with its band and source, and aimed at;
        as heavy as it stands it is where it stands; heavier than everything on board is refused."""
        one = self.van(0.88, 0.88, 0.85, 0.87)
        light = EmptyLoad(front_kg=1300, rear_kg=1000, source="its papers {1}")
        found = {}
        for school in ("empty_height", "share_of_sag"):
            model = build_model(
                one.model_copy(update={"empty_load": light, "target": Target(school=school, share=0.5)})
            )
            told = target_drop(model, "empty")
            words = told.reason.in_units("metric")
            self.assertRegex(
                words, r"estimated as \+\d+.mm against as it came, ±.\d+.mm, by its empty load \(its papers \{1\}\)"
            )
            found[school] = told.drop
        self.assertLess(found["empty_height"], -0.02)
        self.assertAlmostEqual(found["share_of_sag"], 0.5 * found["empty_height"], places=6)
        same = one.model_copy(
            update={"empty_load": EmptyLoad(front_kg=0.9 * 1600, rear_kg=0.9 * 1900, source="a guess")}
        )
        figure = estimated_empty(build_model(same))
        assert figure is not None
        self.assertAlmostEqual(figure.value, 0.0, places=6)
        self.assertGreater(figure.sigma, 0.005)
        heavy = one.model_copy(update={"empty_load": EmptyLoad(front_kg=1500, rear_kg=2900, source="papers")})
        with self.assertRaisesRegex(InputError, "more than stands on the rear axle"):
            estimated_empty(build_model(heavy))

    def test_no_empty_height_is_claimed(self) -> None:
        """As it stands alone it is diagnosed, chosen for, set and told in gained height; its axles are taken from the plate, said so,
        and its limits say to weigh it. Without rating or load nothing is worked out, and what to read is said."""
        one = self.van(0.88, 0.88, 0.85, 0.87, target=Target(school="raise_by", length_m=0.04, length_right_m=0.02))
        model = build_model(one)
        found = diagnose(model)
        told = found.verdict.in_units("metric")
        self.assertIn("rear arches stand 20\u00a0mm lower than the front", told)
        self.assertIn("Weigh it", told)
        self.assertNotIn("sag", told)
        self.assertEqual(model.vehicle.rear.ref_load, (0.9 * 1900 / 2 * G,) * 2)
        self.assertTrue(any("90% of its ratings" in a for a in model.assumed), model.assumed)
        choice = shortlist(model, [AIR]).choice(AIR.code)
        assert choice is not None and choice.vehicle is not None
        left, right = choice.setting["pressure_pa"]
        self.assertGreater(left, right)
        now = model.heights("empty", "ground_arch", choice.vehicle)
        self.assertAlmostEqual(now["RL"].value, 0.89, delta=0.003)
        self.assertAlmostEqual(now["RR"].value, 0.89, delta=0.003)
        after = tuple(reading("empty", c, round(f.value, 3), phase="after") for c, f in now.items())
        fitting = Fitting(kit=AIR, setting=choice.setting, state="empty", done=True)
        proved = one.model_copy(update={"readings": one.readings + after, "fitting": fitting})
        proof = prove(build_model(proved))
        assert proof is not None
        self.assertTrue(proof.inside)
        self.assertNotEqual(proof.verdict.tone, "level")
        said = " ".join(c.said.in_units("metric") for c in result_claims(proved, diagnose(build_model(proved)), proof))
        self.assertIn("differed by 20\u00a0mm", said)
        self.assertNotIn("empty", said)
        sand = JobState(key="loaded", name="Sand on", front_kg=1450, rear_kg=1850)
        read = tuple(reading("loaded", r.place, round(r.value_m - 0.03, 3)) for r in one.readings)
        lower = one.model_copy(update={"states": (*one.states, sand), "readings": one.readings + read})
        told = diagnose(build_model(lower)).verdict.in_units("metric")
        self.assertIn("Sand on: the rear stands 30\u00a0mm lower than as it came", told)
        unrated = vehicle(one, rear_axle_kg=None)
        self.assertTrue(any(m.hard and "ratings off the plate" in m.what for m in missing(unrated)))
        self.assertIn("ratings off the plate", solve_job(unrated)["diagnosis"]["error"])
        light = state_scaled(one, front_kg=1300, rear_kg=1500)
        self.assertNotIn(
            "weigh it", loads_verdict(light, diagnose(build_model(light)).unweighed).in_units("metric").lower()
        )

    def test_a_stop_touched_as_it_stands(self) -> None:
        """A stop pressed by 12 mm where it was measured carries its share of the axle there, and the share is told."""
        pressed = tuple(reading("empty", c, -0.012, "stop_gap") for c in ("RL", "RR"))
        one = self.van(0.88, 0.88, 0.85, 0.85, target=Target(school="raise_by", length_m=0.03))
        one = one.model_copy(update={"readings": one.readings + pressed})
        told = [f.what.in_units("metric") for f in diagnose(build_model(one)).findings if f.key == "stop-rear"]
        self.assertRegex(told[0], r"touching and carries about \d+\u00a0% of the axle")


class Wishes(unittest.TestCase):
    def test_a_wish_is_a_constraint_of_the_choice(self) -> None:
        """A kit that breaks a wish is out, with the reason; one nobody can answer for is to be asked; the empty ride is judged by the model."""
        kit = AIR.model_copy(update={"drilling": True})
        wished = job(wishes=("no_drilling", "no_upkeep", "cheap", "reversible", "one_day", "empty_ride"))
        choice = shortlist(build_model(wished), [kit]).choice(kit.code)
        assert choice is not None
        told = {c.key: c.status for c in choice.checks}
        self.assertEqual(
            [told[w] for w in ("no_drilling", "no_upkeep", "cheap", "reversible", "one_day", "empty_ride")],
            ["fail", "fail", "fail", "measure", "pass", "fail"],
        )
        out = " ".join(o.in_units("metric") for o in choice.out)
        for why in ("drilled", "looked after every year", "counts as cheap", "Empty its rear moves"):
            self.assertIn(why, out)
        free = shortlist(build_model(job()), [kit]).choice(kit.code)
        assert free is not None
        self.assertEqual(free.out, ())

    def test_a_tail_that_drags(self) -> None:
        """The lowest point behind the rear axle: its clearance and the ramp it clears, in every state; with a kit on, what it gains."""
        point = NamedPoint(key="skirt", name="skirt", station_m=5.0)
        step = NamedPoint(key="step", name="step", station_m=4.0)
        base = vehicle(job(complaints=(Complaint(code="tail_drags"),)), points=(point, step))
        read = (reading("empty", "skirt", 0.30, "ground_point"), reading("loaded", "skirt", 0.21, "ground_point"))
        read += (reading("empty", "step", 0.41, "ground_point"), reading("loaded", "step", 0.35, "ground_point"))
        one = base.model_copy(update={"readings": base.readings + read})
        rows = tails(build_model(one))
        self.assertEqual(
            [(t.state.key, t.height) for t in rows if t.point == "skirt"], [("empty", 0.30), ("loaded", 0.21)]
        )
        self.assertEqual([t.height for t in rows if t.point == "step"], [0.41, 0.35])
        worst = next(t for t in rows if t.point == "skirt" and t.state.key == "loaded")
        self.assertAlmostEqual(worst.angle, degrees(atan2(0.21, 5.0 - 3.5)), delta=0.3)
        findings = [f for f in diagnose(build_model(one)).findings if f.key == "tail-low"]
        self.assertIn("210\u00a0mm above ground", findings[0].what.in_units("metric"))
        causes = likely_causes(one, diagnose(build_model(one)))[0].causes
        self.assertEqual(causes[0].words, "a long or low tail")
        raised = one.model_copy(
            update={"fitting": Fitting(kit=AIR, setting={"pressure_pa": (4e5, 4e5)}, state="loaded")}
        )
        with_kit = next(t for t in tails(build_model(raised)) if t.state.key == "loaded" and t.point == "skirt")
        assert with_kit.angle_with_kit is not None
        self.assertGreater(with_kit.angle_with_kit, with_kit.angle + 1.0)


class WhatIsFitted(unittest.TestCase):
    def test_the_census_speaks(self) -> None:
        """A missing stop is mended first; bags fitted later are to be named and read on and off, until they are."""
        one = vehicle(
            job(), equipment=(Equipment(kind="stops", fitted="missing"), Equipment(kind="bags", fitted="later"))
        )
        self.assertIn("The bump stops are missing", said(one))
        self.assertIn("came-with", [f.key for f in diagnose(build_model(one)).findings])
        named = one.model_copy(update={"already": AlreadyOn(what="bags")})
        self.assertNotIn("came-with", [f.key for f in diagnose(build_model(named)).findings])

    def test_topping_out(self) -> None:
        """What a kit raises the empty vehicle by, its wheels have less to hang: told where the droop is read, asked for where it is not."""
        for droop, status in ((None, "measure"), (0.10, "pass"), (0.03, "fail")):
            choice = shortlist(build_model(vehicle(job(), rear_droop_m=droop)), [AIR]).choice(AIR.code)
            assert choice is not None
            check = next(c for c in choice.checks if c.key == "droop")
            self.assertEqual(check.status, status)
            self.assertEqual(bool(choice.out), status == "fail")

    def test_a_default_is_no_limit_and_a_file_can_be_masked(self) -> None:
        """A rating that a starting vehicle gave holds nothing and passes nothing; registration and VIN leave the shop only as their ends."""
        light = vehicle(job(), rear_axle_kg=900.0)
        self.assertTrue(any(m.over for m in state_margins(light, light.loaded[0])))
        default = vehicle(light, defaults=("rear_axle_kg",))
        rear = next(m for m in state_margins(default, default.loaded[0]) if m.key == "rear_axle")
        self.assertIsNone(rear.limit)
        file = write_job(masked(vehicle(job(), plate="AB 12 CDE", vin="XYZ00012345678901")))
        self.assertNotIn("AB 12", file)
        self.assertIn("…CDE", file)
        self.assertIn("…901", file)


class WorthMeasuring(unittest.TestCase):
    def test_the_next_measurement_and_what_it_would_settle(self) -> None:
        """Nobody weighed it: the axle scale, with the band before and after, and after it has been used, nothing of the kind; a rate only
        the class tells, for a kit over a deep sag: a known load over the axle or the scale; heights read within a few millimetres: nothing."""
        unknown = state(job(), items=(), tongue_kg=0.0, trailer_kg=0.0)
        model = build_model(unknown)
        step = next_step(model, diagnose(model).unweighed)
        assert step is not None
        self.assertEqual((step.key, step.state), ("weigh", "loaded"))
        self.assertIn("Weigh the rear axle of “Boat on”", step.say.in_units("metric"))
        told = diagnose(model).unweighed[0].margins["rear_axle"]
        self.assertAlmostEqual(step.before.value, NINE_IN_TEN * told.sigma, delta=2.0)
        weighed = state(unknown, front_kg=1150, rear_kg=1480)
        after = build_model(weighed)
        self.assertNotEqual(getattr(next_step(after, diagnose(after).unweighed), "key", ""), "weigh")
        self.assertLess(step.after.value, 0.2 * step.before.value)
        known = build_model(fitted())
        self.assertIsNone(next_step(known, diagnose(known).unweighed))


class AlreadyOnIt(unittest.TestCase):
    """A kit that was on when it came is judged by what is read on and off, and by nothing else."""

    @staticmethod
    def came(lift: float, hitch: float | None = None, **told: Any) -> Job:
        """Return the job with a kit on, its rear read lower by so much with it off, and the hitch too."""
        base = job()
        off = tuple(
            reading("loaded", r.place, round(r.value_m - (lift if r.place[0] == "R" else 0.0), 3), phase="off")
            for r in base.readings
            if r.state == "loaded" and r.datum == "ground_arch"
        )
        if hitch is not None:
            at = [(0.5, "before"), (0.5 - hitch, "off")]
            off += tuple(reading("loaded", "hitch", round(v, 3), "ground_hitch", phase=phase) for v, phase in at)
        return base.model_copy(
            update={"readings": base.readings + off, "already": AlreadyOn(**({"what": "bags"} | told))}
        )

    def test_keep_replace_remove(self) -> None:
        """A clear lift is told with its force, and taking it off is predicted to stand where it was read off; inside its band it is told
        apart from nothing nowhere, and nothing is predicted of it; perished, it goes whatever it lifts; unread, it is asked for."""
        clear = self.came(0.03, 0.035)
        model = build_model(clear)
        found = already(model)
        assert found is not None and found.force is not None
        self.assertEqual([e.place for e in found.effects if e.lift.told], ["rear axle", "hitch"])
        self.assertIn("It works: keep it", found.verdict.in_units("metric"))
        pushes = next(s for s in found.verdict.sentences if "a side at the wheel" in s.template).values["f"]
        self.assertEqual(pushes, Quantity(found.force[0], "force"))
        choices = {c.key: c for c in shortlist(model, [AIR]).choices}
        self.assertEqual(choices["nothing"].name, "Keep what is on: bags")
        kept, taken = choices["nothing"].drop, choices["remove"].drop
        assert kept and taken
        self.assertAlmostEqual(taken.value - kept.value, 0.03, delta=1e-4)
        self.assertGreater(taken.sigma, kept.sigma)
        plain = {c.key: c for c in shortlist(build_model(job()), [AIR]).choices}
        self.assertGreater(
            choices[AIR.code].setting["pressure_pa"][0], plain[AIR.code].setting["pressure_pa"][0]
        )  # it must do the old one's work too
        for one, said in (
            (self.came(0.002, 0.001), "Nothing tells that it does anything"),
            (self.came(0.03, condition="perished"), "remove or replace it"),
            (job(already=AlreadyOn(what="helper springs")), "What it does is not told yet"),
            (self.came(-0.03), "lowers the vehicle"),
        ):
            with self.subTest(said):
                told = already(build_model(one))
                assert told is not None
                self.assertIn(said, told.verdict.in_units("metric"))
        none = {c.key: c for c in shortlist(build_model(self.came(0.002)), [AIR]).choices}
        self.assertIsNone(none["remove"].miss)

    def test_its_strength_against_its_data(self) -> None:
        """Set as the shelf's data have it, what it was read to lift is held against what they promise; a pair at one setting is refused."""
        low, high = {"pressure_pa": (35e3, 35e3)}, {"pressure_pa": (3e5, 3e5)}
        model = build_model(job())
        states = [model.solve(with_kit(job(), model.vehicle, AIR, at, state="loaded"))["loaded"] for at in (low, high)]
        promised = float(states[0].d_r - states[1].d_r)
        for share, apart in ((1.0, False), (0.4, True)):
            told = already(build_model(self.came(share * promised, kit=AIR, setting=high, off=low)))
            assert told is not None and told.strength is not None
            self.assertAlmostEqual(told.strength[0], share, delta=0.05)
            self.assertTrue(told.strength[1] < 0.9 * share < 1.1 * share < told.strength[2], told.strength)
            self.assertEqual("Its data say otherwise" in told.verdict.in_units("metric"), apart)
        with self.assertRaisesRegex(ValueError, "a pair at one setting tells nothing"):
            AlreadyOn(what="bags", kit=AIR, setting=low, off=low)


def state_scaled(one: Job, **kg: float) -> Job:
    """Return the job with its reference weighed."""
    return one.model_copy(update={"states": (one.states[0].model_copy(update=kg),)})
