"""Suggestions against brute force: the smallest move and removal, the best place, the tongue still free, the adjusted plan."""

import unittest
from math import ceil, inf

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.samples import job as sample
from vantok_core.base.errors import InputError
from vantok_core.facts import Job, JobState, LoadItem, LoadZone, Tank
from vantok_core.judge.weigh.loads import loads_verdict
from vantok_core.loads.adjust import MOST, UNLISTED, adjust_plan
from vantok_core.loads.moves import REACH, best_place, clearing_moves, clearing_removals, free_tongue, moves
from vantok_core.loads.places import footprint
from vantok_core.loads.plan import reach, state_load, state_margins
from vantok_core.loads.zoning import carried_in, zone_of

masses = st.floats(20.0, 500.0)
stations = st.floats(0.5, 4.6)
items = st.lists(st.tuples(masses, stations), min_size=1, max_size=4)


def loaded(things: list[tuple[float, float]], tongue: float = 0.0, **facts: float | tuple[Tank, ...]) -> Job:
    """Return the sample pickup with items (mass, station) and a tongue, rated low enough that some loads are over."""
    base = sample()
    carried = tuple(LoadItem(name=f"item {n}", mass_kg=m, station_m=s, movable=True) for n, (m, s) in enumerate(things))
    state = JobState(key="loaded", name="Loaded", items=carried, tongue_kg=tongue, trailer_kg=10 * tongue, **facts)  # type: ignore[arg-type]
    vehicle = base.vehicle.model_copy(update={"gross_kg": 3000.0, "rear_axle_kg": 1700.0, "front_axle_kg": 1500.0})
    return base.model_copy(update={"states": (base.states[0], state), "vehicle": vehicle, "readings": ()})


def changed(job: Job, **update: object) -> JobState:
    return job.states[1].model_copy(update=update)


def over(job: Job, state: JobState) -> float:
    """Return by how many kg the worst limit is passed (nought or less: all hold)."""
    return max(-(m.margin or 0.0) for m in state_margins(job, state) if m.margin is not None)


class Clearing(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(items)
    def test_the_offered_move_clears_and_no_lighter_item_or_shorter_way_does(
        self, things: list[tuple[float, float]]
    ) -> None:
        """Walking every item over every centimetre of the vehicle finds nothing smaller than what is offered."""
        job = loaded(things)
        state = job.states[1]
        offered = clearing_moves(job, state)
        if over(job, state) <= 0.0:
            self.assertEqual(offered, [])
            return
        place = reach(job)
        assert place is not None
        able: dict[str, float] = {}
        places: dict[
            str, int
        ] = {}  # at how many of them an item would clear it: at a single one it lies within the centimetre's rounding
        for item in state.items:
            others = [i for i in state.items if i is not item]
            if item.station_m < place.wall:
                continue  # nothing goes through the cab's wall, out of it or in
            for step in range(ceil(place.wall * 100), int(place.tail * 100) + 1):
                moved = item.model_copy(update={"station_m": step / 100})
                if abs(item.station_m - step / 100) > REACH:
                    continue
                if over(job, changed(job, items=(*others, moved))) <= 0.0:
                    able[item.name] = min(able.get(item.name, inf), abs(item.station_m - step / 100))
                    places[item.name] = places.get(item.name, 0) + 1
        for move in offered:
            self.assertGreaterEqual(move.station, place.wall - 1e-9)
            others = [i for i in state.items if i is not move.item]
            moved = move.item.model_copy(update={"station_m": move.station})
            self.assertLessEqual(over(job, changed(job, items=(*others, moved))), 1e-6)
            self.assertLess(abs(move.forward), able.get(move.item.name, inf) + 0.0101)
        self.assertTrue(
            {name for name, n in places.items() if n > 1} <= {m.item.name for m in offered}, (able, offered)
        )
        self.assertEqual([m.item.mass_kg for m in offered], sorted(m.item.mass_kg for m in offered))

    @settings(max_examples=60, deadline=None)
    @given(items, st.floats(0.0, 300.0))
    def test_the_offered_removal_clears_and_a_kilogram_less_does_not(
        self, things: list[tuple[float, float]], tongue: float
    ) -> None:
        """Taking off what is offered brings every limit back; two kilograms less leaves one passed."""
        job = loaded(things, tongue)
        state = job.states[1]
        for removal in clearing_removals(job, state):
            for kg, holds in ((removal.kg, True), (removal.kg - 2.0, False)):
                if removal.what == "tongue":
                    after = changed(job, tongue_kg=max(tongue - kg, 1e-9))
                else:
                    lighter = (
                        i.model_copy(update={"mass_kg": max(i.mass_kg - kg * (i.name == removal.name), 0.0)})
                        for i in state.items
                    )
                    after = changed(job, items=tuple(lighter))
                self.assertEqual(over(job, after) <= 1e-6, holds, removal)

    def test_a_tank_is_drained_and_a_gross_overload_is_never_moved_away(self) -> None:
        """Over the gross mass, no move is offered; draining the tank that can do it alone is."""
        tank = Tank(name="fresh water", capacity_l=300, fill=1.0, station_m=2.0)
        job = loaded([(600.0, 2.8), (140.0, 2.8)], tanks=(tank,))
        self.assertEqual(clearing_moves(job, job.states[1]), [])
        self.assertIn(("fresh water", "tank"), [(r.name, r.what) for r in clearing_removals(job, job.states[1])])


class Places(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(items, masses)
    def test_no_other_place_leaves_a_larger_smallest_margin(
        self, things: list[tuple[float, float]], mass: float
    ) -> None:
        """Walked along the whole vehicle, no station beats the one given, and both its ends are as good as each other."""
        job = loaded(things)
        found = best_place(job, job.states[1], mass)
        assert found is not None

        def smallest(station: float) -> float:
            more = LoadItem(name="heavy", mass_kg=mass, station_m=station)
            margins = state_margins(job, changed(job, items=(*job.states[1].items, more)))
            return min(m.share for m in margins if m.share is not None)

        place = reach(job)
        assert place is not None
        best = smallest(found.start)
        self.assertAlmostEqual(best, smallest(found.end), 6)
        self.assertGreaterEqual(
            best + 1e-9, max(smallest(s / 50) for s in range(ceil(place.wall * 50), int(place.tail * 50) + 1))
        )

    def test_nothing_weighs_nothing(self) -> None:
        """A mass of nought is refused."""
        with self.assertRaises(InputError):
            best_place(loaded([(50.0, 2.0)]), loaded([(50.0, 2.0)]).states[1], 0.0)

    @settings(max_examples=60, deadline=None)
    @given(items, st.floats(20.0, 150.0), st.floats(0.0, 1.0))
    def test_the_free_tongue_load_is_all_there_is(
        self, things: list[tuple[float, float]], tongue: float, restored: float
    ) -> None:
        """With all of it on, the limits that feel a tongue just hold; with a kilogram more one of them is passed. Spring bars too."""
        job = loaded(things, tongue, restored=restored, trailer_axle_m=4.0)
        free = free_tongue(job, job.states[1])
        assert free is not None
        felt = ("gross", "front_axle", "rear_axle", "hitch")
        for more, holds in ((free, True), (free + 1.0, False)):
            if tongue + more <= 0.0:
                continue
            after = changed(job, tongue_kg=tongue + more)
            margins = {m.key: m.margin for m in state_margins(job, after)}
            rising = [margins[k] or 0.0 for k in felt if k != "front_axle"]
            self.assertEqual(min(rising) >= -1e-6, holds)


class Adjusting(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(items, st.floats(-60.0, 200.0), st.floats(-60.0, 200.0))
    def test_the_adjusted_plan_comes_to_the_scale(
        self, things: list[tuple[float, float]], front: float, rear: float
    ) -> None:
        """No listed mass moves by more than a quarter, and what still differs is what the answer says differs."""
        job = loaded(things)
        plan = state_load(job, job.states[1])
        assert plan.front is not None
        assert plan.rear is not None
        weighed = changed(job, front_kg=max(plan.front + front, 0.0), rear_kg=max(plan.rear + rear, 0.0))
        found = adjust_plan(job, weighed)
        new = [i.model_copy(update={"mass_kg": found.masses.get(n, i.mass_kg)}) for n, i in enumerate(weighed.items)]
        for old, item in zip(weighed.items, new, strict=True):
            self.assertLessEqual(abs(item.mass_kg - old.mass_kg), MOST * old.mass_kg + 0.51)
        if found.unlisted is not None:
            self.assertEqual(found.unlisted.name, UNLISTED)
            new.append(found.unlisted)
        load = state_load(job, weighed.model_copy(update={"items": tuple(new)}))
        self.assertAlmostEqual(load.short_front or 0.0, found.left_front, 6)
        self.assertAlmostEqual(load.short_rear or 0.0, found.left_rear, 6)

    def test_what_nobody_listed_is_found_at_its_place(self) -> None:
        """Ninety kilograms more at the rear than the plan has, with one light item listed: an unlisted item stands there."""
        job = loaded([(20.0, 1.0)])
        plan = state_load(job, job.states[1])
        weighed = changed(job, front_kg=plan.front, rear_kg=(plan.rear or 0.0) + 90.0)
        found = adjust_plan(job, weighed)
        assert found.unlisted is not None
        self.assertAlmostEqual(found.unlisted.mass_kg, 90.0, delta=6.0)
        self.assertAlmostEqual(found.unlisted.station_m, 3.55, delta=0.25)

    def test_without_a_scale_there_is_nothing_to_adjust_to(self) -> None:
        """A plan alone is refused with what is lacking."""
        job = loaded([(20.0, 1.0)])
        with self.assertRaisesRegex(InputError, "scale figures"):
            adjust_plan(job, job.states[1])


def zone(key: str, start: float, end: float, rating: float | None, use: str = "floor", side: float = 1.0) -> LoadZone:
    return LoadZone(
        key=key.replace(" ", "-"), words=key, use=use, start=start, end=end, right=-side, left=side, rating_kg=rating
    )  # type: ignore[arg-type]


class Zones(unittest.TestCase):
    ratings = st.one_of(st.none(), st.floats(50.0, 900.0))

    @settings(max_examples=80, deadline=None)
    @given(items, ratings, ratings, ratings)
    def test_what_is_offered_stays_inside_zones_and_ratings(
        self, things: list[tuple[float, float]], bed: float | None, box: float | None, rack: float | None
    ) -> None:
        """A move ends in a zone of its own name that still holds the item; an unrated box or rack is never offered, nor a way through the wall."""
        own = (
            zone("cab", 0.7, 2.2, None, "seats"),
            zone("bed", 2.3, 3.9, bed),
            zone("box", 3.4, 4.0, box, "locker"),
            zone("rack", 4.1, 4.8, rack, "rack"),
        )
        job = loaded(things)
        job = job.model_copy(update={"vehicle": job.vehicle.model_copy(update={"zones": own})})
        state, place = job.states[1], reach(job)
        assert place is not None
        self.assertEqual(place.wall, 2.2)
        for move in (*clearing_moves(job, state), *moves(job, state, 0.9)):
            self.assertGreaterEqual(move.item.station_m, place.wall)
            self.assertTrue(move.zone.start - 1e-6 <= move.station <= move.zone.end + 1e-6, move)
            was = zone_of(place, move.item.station_m, 0.0)
            if move.zone == was:
                continue
            self.assertTrue(move.zone.use == "floor" or move.zone.rating_kg is not None, move)
            left = [i for i in state.items if i is not move.item]
            carried = carried_in(place, changed(job, items=tuple(left)))[move.zone.key]
            self.assertLessEqual(carried + move.item.mass_kg, (move.zone.rating_kg or inf) + 1e-6)

    def test_a_passed_zone_is_told_and_never_green(self) -> None:
        """A rack over its rating leads the weighing and the hand-over; what no zone takes has no best place."""
        job = loaded([(60.0, 2.8), (90.0, 4.4)])
        kinder = {"gross_kg": 4000.0, "rear_axle_kg": 3000.0, "front_axle_kg": 2500.0}
        own = (zone("bed", 2.3, 4.0, 200.0), zone("rear rack", 4.1, 4.8, 75.0, "rack"))
        job = job.model_copy(update={"vehicle": job.vehicle.model_copy(update={"zones": own, **kinder})})
        said = loads_verdict(job)
        self.assertEqual(said.tone, "limit")
        self.assertRegex(
            said.sentences[0].in_units("metric"),
            r"the rear rack carries \d+\s*kg on the plan; it is rated for \d+\s*kg",
        )
        place = best_place(job, job.states[1], 100.0)
        assert place is not None
        self.assertEqual((place.zone.key, place.start >= 2.3), ("bed", True))
        with self.assertRaisesRegex(InputError, "no zone takes it"):
            best_place(job, job.states[1], 150.0)

    def test_one_above_the_other(self) -> None:
        """On the roof, on the floor or in a locker: the height tells; without one it is the floor."""
        own = (
            zone("floor", 1.0, 5.0, None),
            zone("roof", 1.0, 5.0, 100.0, "roof").model_copy(update={"height_m": 2.6}),
        )
        place = footprint(
            "van", 3.6, None, None, tuple(z if z.height_m else z.model_copy(update={"height_m": 0.7}) for z in own)
        )
        found = [zone_of(place, 3.0, 0.0, h) for h in (2.4, 0.9, None)]
        self.assertEqual([z.key if z else "" for z in found], ["roof", "floor", "floor"])
        self.assertIsNone(zone_of(place, 6.0, 0.0))
