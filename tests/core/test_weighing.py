"""Scale tickets reduced to loads, trailer and coach figures, odd figures said at their place, plans as CSV."""

import unittest
from dataclasses import replace
from datetime import UTC, datetime

from hypothesis import given
from hypothesis import strategies as st

from tests.core.samples import job as sample
from vantok_core.base.errors import FileFormatError, InputError
from vantok_core.facts import Job, JobReading, JobState, LoadItem, People, Tank, TrailerItem
from vantok_core.facts.parts import GroupForm
from vantok_core.files.plan_csv import read_plan, write_plan
from vantok_core.judge.diagnose.diagnosis import diagnose
from vantok_core.judge.grounds.towed import towed, towed_findings
from vantok_core.judge.weigh.coach import coach_sheet
from vantok_core.judge.weigh.loads import check_loads, loads_verdict, way_out
from vantok_core.judge.weigh.thresholds import TAG_MOST
from vantok_core.loads.nose import noses
from vantok_core.loads.places import USUAL, footprint, usual_place
from vantok_core.loads.plan import state_load, state_margins, trailer_wheels
from vantok_core.loads.weighing import AxleLoads, AxleWeighing, hitch_weighing, reduce_weighing
from vantok_core.model import JobModel, build_model
from vantok_core.physics.elements.laws import Spring
from vantok_core.physics.vehicle import Element

kilograms = st.floats(100.0, 5000.0)


class OnePortableScale(unittest.TestCase):
    @given(kilograms, kilograms)
    def test_any_two_readings_give_the_third(self, front: float, rear: float) -> None:
        """Front and rear, front and whole, rear and whole all reduce to the same two axle loads."""
        for taken in (
            AxleWeighing(front=front, rear=rear),
            AxleWeighing(front=front, both=front + rear),
            AxleWeighing(rear=rear, both=front + rear),
            AxleWeighing(front=front, rear=rear, both=front + rear),
        ):
            found = reduce_weighing(taken)
            assert found is not None
            self.assertAlmostEqual(found.front, front, 6)
            self.assertAlmostEqual(found.rear, rear, 6)
            self.assertTrue(found.closes)

    def test_a_misfit_is_shared_and_told(self) -> None:
        """By hand: 1200 and 900 against 2160 leave 60, a third to each axle; that is over 2 % and does not close."""
        found = reduce_weighing(AxleWeighing(front=1200, rear=900, both=2160))
        assert found is not None
        self.assertEqual((found.front, found.rear, found.closure), (1220.0, 920.0, 60.0))
        self.assertFalse(found.closes)

    def test_nonsense_is_refused(self) -> None:
        """A negative reading, and a whole lighter than one of its axles, are named; one reading gives nothing."""
        with self.assertRaisesRegex(InputError, "rear on the scale"):
            AxleWeighing(rear=-4.0)
        with self.assertRaisesRegex(InputError, "less than one of its axles"):
            reduce_weighing(AxleWeighing(front=1200, both=900))
        self.assertIsNone(reduce_weighing(AxleWeighing(front=1200)))

    def test_hitched_and_alone_give_tongue_and_trailer(self) -> None:
        """By hand: 190 kg on a ball 1.25 m behind an axle 3.55 m back takes 67 off the front; the train has 1310 on its own wheels."""
        lost = 190 * 1.25 / 3.55
        found = hitch_weighing(
            AxleLoads(front=1210, rear=890),
            AxleLoads(front=1210 - lost, rear=890 + 190 + lost),
            train=2100 + 190 + 1310,
            overhang=1.25,
            wheelbase=3.55,
        )
        self.assertAlmostEqual(found.tongue, 190.0, 6)
        self.assertAlmostEqual(found.tongue_by_lever or 0.0, 190.0, 6)
        self.assertAlmostEqual(found.trailer_axle or 0.0, 1310.0, 6)
        self.assertAlmostEqual(found.trailer or 0.0, 1500.0, 6)
        with self.assertRaises(InputError):
            hitch_weighing(
                AxleLoads(front=1, rear=1), AxleLoads(front=900, rear=900), train=100, overhang=1, wheelbase=3
            )


def with_state(**facts: object) -> Job:
    base = sample()
    told = {"key": "loaded", "name": "Boat on"} | facts
    return base.model_copy(update={"states": (base.states[0], JobState(**told)), "readings": ()})  # type: ignore[arg-type]


class Trailers(unittest.TestCase):
    BOAT = (
        TrailerItem(name="trailer", mass_kg=400, behind_ball_m=3.2),
        TrailerItem(name="boat", mass_kg=900, behind_ball_m=3.4),
    )

    def test_tongue_from_the_trailer_s_items(self) -> None:
        """By hand: 400 at 3.2 and 900 at 3.4 on an axle at 3.9 make 187 on the ball; a scale reading rules over it and is held against it."""
        job = with_state(trailer_items=self.BOAT, trailer_axle_m=3.9)
        state = job.states[1]
        self.assertAlmostEqual(state.tongue, 400 * 0.7 / 3.9 + 900 * 0.5 / 3.9, 9)
        self.assertEqual(state.trailer, 1300)
        read = with_state(trailer_items=self.BOAT, trailer_axle_m=3.9, tongue_kg=120).states[1]
        self.assertEqual(read.tongue, 120)
        self.assertIn("tongue-plan", [f.key for f in check_loads(job, read)])

    def test_spring_bars_put_load_on_the_trailer_s_wheels(self) -> None:
        """With bars the ball carries less and the trailer's wheels more by the same; vehicle and trailer together weigh what they weigh."""
        slack, taut = (
            with_state(tongue_kg=200, trailer_kg=1600, trailer_axle_m=4.0, restored=r, trailer_axle_rating_kg=1500)
            for r in (0.0, 0.8)
        )
        sums = []
        for job in (slack, taut):
            load, wheels = state_load(job, job.states[1]), trailer_wheels(job, job.states[1])
            sums.append((load.front or 0) + (load.rear or 0) + (wheels or 0))
            margin = next(m for m in state_margins(job, job.states[1]) if m.key == "trailer_axle")
            self.assertAlmostEqual(margin.load or 0.0, wheels or 1.0, 9)
            combined = next(m for m in state_margins(job, job.states[1]) if m.key == "combination")
            self.assertAlmostEqual(combined.load or 0.0, sums[-1], 6)
        self.assertAlmostEqual(sums[0], sums[1], 6)
        self.assertGreater(trailer_wheels(taut, taut.states[1]) or 0, 1400.0)

    def test_how_a_trailer_stands_is_told_as_far_as_its_ball_is_read(self) -> None:
        """By hand: a ball at 460 against a level 420 over 4 m is 40/4000, 0.57 deg, up; 30 mm may be within half a degree or not; 5 mm is level.
        A level nobody read, or a ball nobody read, tells nothing; a stronger rear raises the ball."""
        towing = {"tongue_kg": 200, "trailer_kg": 1600, "trailer_axle_m": 4.0}

        def at(ball: float | None, level: float | None) -> JobModel:
            one = with_state(**towing, trailer_level_m=level)
            read = JobReading(state="loaded", datum="ground_hitch", place="hitch", value_m=ball or 1.0)
            return build_model(one.model_copy(update={"readings": (*one.readings, *((read,) if ball else ()))}))

        for ball, key, words in (
            (0.475, "trailer-nose-up", "nose up by 0.8° ± 0.1°: its coupling is 55 mm"),
            (0.365, "trailer-nose-down", "A higher ball"),
            (0.450, "trailer-level", "cannot be told"),
            (0.425, "trailer-level", "stands level within half a degree: its coupling is 5 mm"),
        ):
            with self.subTest(ball):
                (said,) = towed_findings(at(ball, 0.42))
                self.assertEqual(said.key, key)
                self.assertIn(
                    words, f"{said.what.in_units('metric')} {said.do.in_units('metric')}".replace("\u00a0", " ")
                )
                self.assertIn(said, [replace(f, where=said.where) for f in diagnose(at(ball, 0.42)).findings])
        self.assertEqual(towed_findings(at(None, 0.42)) + towed_findings(at(0.46, None)), [])
        model = at(0.46, 0.42)
        rear, helper = model.vehicle.rear, Spring(k=40_000.0, preload=1500.0)
        on = Element(name="helper", left=helper, right=helper)
        lifting = replace(model.vehicle, rear=replace(rear, elements=(*rear.elements, on)))
        state = model.job.states[1]
        as_it_is, lifted = towed(model, state), towed(model, state, lifting)
        assert as_it_is is not None and lifted is not None
        self.assertAlmostEqual(as_it_is.pitch.value, 0.01, 9)
        self.assertGreater(lifted.ball, as_it_is.ball + 0.005)

    def test_odd_tongues_are_named(self) -> None:
        """Tail-heavy, light, heavy and impossible tongues each get their own word; a pin is judged by its own band."""
        tail = with_state(trailer_items=(TrailerItem(name="t", mass_kg=800, behind_ball_m=4.4),), trailer_axle_m=4.0)
        heavy, light = with_state(tongue_kg=300, trailer_kg=1500), with_state(tongue_kg=90, trailer_kg=1500)
        cases = {"negative": tail, "light": light, "heavy": heavy}
        for word, job in cases.items():
            with self.subTest(word):
                self.assertEqual([one.word for one in noses(job)], [word])
                for verdict in (loads_verdict(job), diagnose(build_model(job)).verdict):
                    said = verdict.in_units("metric")
                    self.assertIn("lifts the ball" if word == "negative" else "is usual", said)
                    self.assertNotIn("nothing is needed", said)
                    self.assertNotEqual(verdict.tone, "level")
        for hitch, job, words in (
            ("pin", heavy, []),
            ("caravan", light, []),
            ("caravan", with_state(tongue_kg=150, trailer_kg=1500), ["heavy"]),
        ):
            other = job.model_copy(update={"vehicle": sample().vehicle.model_copy(update={"hitch_kind": hitch})})
            self.assertEqual([one.word for one in noses(other)], words)
        self.assertIn("cannot carry more", loads_verdict(with_state(tongue_kg=340, trailer_kg=300)).in_units("metric"))


class OddFigures(unittest.TestCase):
    def test_each_is_said_with_what_to_do(self) -> None:
        """Pads that miss their axle, an item off the vehicle, a ticket older than the load, a plan off the scale."""
        job = with_state(
            front_kg=1250,
            rear_kg=1300,
            corners_kg=(620, 630, 690, 700),
            items=(LoadItem(name="stone {1}", mass_kg=200, station_m=9.0),),
            weighed_at=datetime(2026, 5, 1, 9, tzinfo=UTC),
            changed_at=datetime(2026, 5, 1, 10, tzinfo=UTC),
        )
        found = {f.key: f.what.in_units("metric") for f in check_loads(job, job.states[1])}
        self.assertEqual(set(found), {"pads-rear", "off-vehicle", "old-ticket", "plan-scale"})
        self.assertIn("1390\u00a0kg; the axle scale says 1300\u00a0kg", found["pads-rear"])
        self.assertIn("stone {1}", found["off-vehicle"])
        self.assertEqual(loads_verdict(job).tone, "act")

    def test_the_sentence_offers_the_way_out(self) -> None:
        """Over the rear axle, the sentence names the item, how far and which way, before it says that springs raise nothing."""
        job = with_state(items=(LoadItem(name="anvil", mass_kg=700, station_m=4.6, movable=True),))
        job = job.model_copy(update={"vehicle": job.vehicle.model_copy(update={"rear_axle_kg": 1650.0})})
        said = loads_verdict(job).in_units("metric")
        self.assertRegex(
            said,
            r"Boat on: rear axle is 1\d\d\u00a0kg over\. Move anvil \d+\u00a0mm forward and by the figures every known limit is kept",
        )
        self.assertIn("No spring raises a rating", said)

    def test_where_nothing_listed_clears_it_the_sentence_says_what_is_left(self) -> None:
        """Over with nothing on the plan that could be moved or left out: more than one thing off, or with a trailer on, less tongue load or a hitch too."""
        for tongue, less in ((0.0, "take more than one thing off"), (300.0, "fit a hitch that gives load back")):
            job = with_state(front_kg=1500.0, rear_kg=2600.0, tongue_kg=tongue)
            said = way_out(job, job.states[1]).in_units("metric")
            self.assertRegex(said, "^No single move or removal on the plan clears it")
            self.assertIn(less, said)
            self.assertNotIn("Nothing is marked", said)


class Coaches(unittest.TestCase):
    def test_ratio_bands_and_what_they_do(self) -> None:
        """By hand: 2.5 m over 4.6 m is 0.54, to watch; a light front and a heavy side are each named."""
        base = sample()
        vehicle = base.vehicle.model_copy(update={"body": "coach", "wheelbase_m": 4.6, "rear_overhang_m": 2.5})
        job = with_state(corners_kg=(500, 460, 2100, 1800), tag_kg=2100, rear_kg=3900, front_kg=960).model_copy(
            update={"vehicle": vehicle}
        )
        sheet = coach_sheet(job, job.states[1])
        self.assertAlmostEqual(sheet.overhang or 0.0, 0.5435, 4)
        self.assertEqual((sheet.band, round(sheet.front_share or 0, 3)), ("watch", round(960 / 4860, 3)))
        self.assertEqual([f.key for f in sheet.findings], ["overhang", "light-front", "side", "tag"])
        self.assertGreater(sheet.lateral or 0.0, 0.0)
        poor = job.model_copy(update={"vehicle": vehicle.model_copy(update={"rear_overhang_m": 2.9})})
        self.assertEqual(coach_sheet(poor, poor.states[1]).band, "poor")

    def test_a_tag_axle_brings_load_to_the_front(self) -> None:
        """Set to carry half of the rear, behind the drive axle, it presses the front down by what it takes more, over the wheelbase; its own rating ends that,
        and of one that nobody weighed nothing is told."""
        base = sample()
        vehicle = base.vehicle.model_copy(
            update={"body": "coach", "rear_group": GroupForm(stations=(4.0, 5.2), loads=(2500.0, 1000.0))}
        )

        def brings(tag: float | None, rating: float | None = None) -> list[float]:
            job = with_state(tag_kg=tag, rear_kg=3500, front_kg=960)
            job = job.model_copy(
                update={"vehicle": vehicle.model_copy(update={"tag_axle_kg": rating, "wheelbase_m": 4.0})}
            )
            found = coach_sheet(job, job.states[1]).target
            return [w.brings for w in found.ways if "tag axle" in w.words.template] if found else []

        most = TAG_MOST * 3500.0
        self.assertAlmostEqual(brings(1000.0)[0], (most - 1000.0) * 1.2 / 4.0)
        self.assertAlmostEqual(brings(1000.0, 1300.0)[0], 300.0 * 1.2 / 4.0)
        self.assertEqual((brings(None), brings(most), brings(1000.0, 1000.0)), ([], [], []))

    def test_tyres_by_load_index(self) -> None:
        """Load index 121 singles on two wheels carry 2900 kg, dual index 120 on four 5600 kg; a figure in kg rules."""
        base = sample()
        tyres = {"front_tyre_index": 121, "rear_tyre_index": 121, "rear_dual_index": 120, "dual_rear": True}
        job = base.model_copy(update={"vehicle": base.vehicle.model_copy(update=tyres)})
        found = {m.key: m.limit for m in state_margins(job, job.states[1])}
        self.assertEqual((found["front_tyres"], found["rear_tyres"]), (2900.0, 5600.0))


class PlanFiles(unittest.TestCase):
    PLAN = with_state(
        items=(LoadItem(name="nets, wet", mass_kg=120.5, station_m=3.1, lateral_m=-0.2, height_m=1.1),),
        tanks=(Tank(name="water", capacity_l=90, fill=0.5, station_m=2.0),),
        people=(People(count=2, station_m=1.4),),
        trailer_items=Trailers.BOAT,
        trailer_axle_m=3.9,
    )

    def test_out_and_in_again(self) -> None:
        """What is written reads back as the same plan."""
        state = self.PLAN.states[1]
        again = read_plan(write_plan(state))
        self.assertEqual(
            (again.items, again.tanks, again.people, again.trailer_items),
            (state.items, state.tanks, state.people, state.trailer_items),
        )

    def test_every_fault_has_its_place(self) -> None:
        """An overfilled tank, a word for a mass, a missing station, an unknown kind and a stray column are all named with their lines."""
        text = "kind,name,mass_kg,capacity_l,fill,station_m,colour\nitem,a,heavy,,,2.0,\ntank,b,,80,1.2,2.0,\nitem,c,5,,,,\nboat,d,5,,,1,\n"
        with self.assertRaises(FileFormatError) as raised:
            read_plan(text)
        for place in (
            "line 1: column “colour”",
            "line 2, mass_kg",
            "line 3, fill",
            "line 4, station_m: is missing",
            "line 5, kind",
        ):
            self.assertIn(place, str(raised.exception))

    def test_usual_items_stand_on_the_vehicle(self) -> None:
        """Every usual item starts out on every body style."""
        for body in ("pickup", "van", "coach", "caravan", "camper_trailer"):
            place = footprint(body, 3.6, None, 1.1)
            for usual in USUAL:
                self.assertTrue(place.holds(*usual_place(usual, place)), (body, usual.name))
