"""What closed jobs teach, what traces say, and what roll, wind and a trailer do: by properties that hold whatever the figures."""

from __future__ import annotations

import unittest
from math import exp, hypot, pi, sqrt

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from tests.core.samples import job, loaded, pickup
from vantok_core.base.errors import InputError
from vantok_core.base.num import G
from vantok_core.benches.bar import RollInstabilityError
from vantok_core.benches.roll_rate import (
    RollAxle,
    RollRatio,
    RollSpring,
    air_roll_rate,
    insert_roll_rate,
    roll_rate,
    tip_margin,
)
from vantok_core.facts import Pushed
from vantok_core.model import JobModel, build_model
from vantok_core.model.pushed import with_pushes
from vantok_core.physics.stance.report import report
from vantok_core.physics.stance.states import solve_states
from vantok_core.physics.vehicle import AXLE_CORNERS
from vantok_core.readings.pushed import swing_of
from vantok_core.readings.trace import before_after, frequency_datum, of_cycles, peaks, push_test
from vantok_core.road.plane import Car, Towed, Train, gust_plane
from vantok_core.road.squat import squat
from vantok_core.upkeep.learning import CLASS, RateTold, cause_shares, learn_class, learn_hours, learn_strength

CAR = Car(m=1900.0, a=1.3, b=1.5)
rates = st.floats(15e3, 120e3)


def train(nose: float = 75.0, **more: float) -> Train:
    """Return a wagon with a caravan."""
    trailer = Towed(m=1500.0, lever=3.9, nose=nose, inertia=more.get("inertia", 3920.0))
    return Train(car=CAR, trailer=trailer, hitch=2.5, damper=more.get("damper", 0.0))


class Taught(unittest.TestCase):
    @settings(max_examples=40, deadline=None)
    @given(st.lists(st.tuples(st.floats(0.4, 2.5), st.floats(0.02, 0.14)), min_size=2, max_size=12), st.randoms())
    def test_the_order_of_jobs_does_not_matter(self, told: list[tuple[float, float]], by: object) -> None:
        """Vehicles in any order teach alike; one that comes twice counts once, by its last visit; one not weighed or not sure enough teaches nothing."""
        jobs = [RateTold(vehicle=f"v{n}", k=40e3 * q, sigma_ln=s) for n, (q, s) in enumerate(told)]
        found, used = learn_class(40e3, jobs)
        mixed = list(jobs)
        by.shuffle(mixed)  # type: ignore[attr-defined]
        again, _ = learn_class(40e3, mixed)
        self.assertAlmostEqual(found.mu, again.mu, 12)
        self.assertAlmostEqual(found.sigma_ln, again.sigma_ln, 12)
        more = [
            RateTold(vehicle="v0", k=1e3, sigma_ln=0.05),
            *jobs,
            RateTold(vehicle="w", k=1e5, sigma_ln=0.2),
            RateTold(vehicle="x", k=1e5, sigma_ln=0.05, weighed=False),
        ]
        self.assertEqual(learn_class(40e3, more), (found, used))

    def test_two_in_three_hold_two_in_three(self) -> None:
        """Over simulated shops whose classes lie as the priors say, the next vehicle is inside the band in 60 to 73 %, for one, four and fourteen jobs."""
        rng = np.random.default_rng(35)
        for count in (1, 4, 14):
            inside = 0
            for _ in range(500):
                offset = rng.normal(0.0, CLASS.offset)
                own = rng.normal(offset, CLASS.spread, size=count + 1)
                sigma = rng.uniform(0.04, 0.14, size=count)
                jobs = [
                    RateTold(vehicle=str(n), k=40e3 * exp(y + rng.normal(0.0, s)), sigma_ln=s)
                    for n, (y, s) in enumerate(zip(own[:-1], sigma, strict=True))
                ]
                found, _ = learn_class(40e3, jobs)
                low, high = found.two_in_three(40e3 * found.factor)
                inside += low <= 40e3 * exp(own[-1]) <= high
            self.assertTrue(0.60 <= inside / 500 <= 0.73, (count, inside / 500))

    def test_nothing_taught_is_the_prior_and_nonsense_is_refused(self) -> None:
        """Without jobs the class stands with its own spread; a kit's data are its maker's or a like kit's; hours and weights are above nought."""
        found, used = learn_class(40e3, [])
        self.assertEqual((found.n, found.mu, found.sigma_ln, used), (0, 0.0, 0.39, ()))
        self.assertGreater(learn_strength("like", []).sigma_ln, learn_strength("maker", []).sigma_ln)
        for call in (
            lambda: learn_strength("said", []),
            lambda: learn_hours(2.0, [1.0, 0.0]),
            lambda: learn_class(0.0, []),
            lambda: cause_shares({"a": 0.0}, {}),
            lambda: cause_shares({"a": 1.0}, {"b": 1}),
        ):
            with self.assertRaises(InputError):
                call()

    @given(st.lists(st.floats(0.1, 9.0), min_size=2, max_size=6), st.integers(0, 40))
    def test_shares_of_causes_are_one_together(self, weights: list[float], proved: int) -> None:
        """All shares make one; a cause that was proved again has more, and is surer the more cases there are."""
        told = {str(n): w for n, w in enumerate(weights)}
        before, after = cause_shares(told, {"0": proved}), cause_shares(told, {"0": proved + 1})
        self.assertAlmostEqual(sum(share for share, _ in after.values()), 1.0, 12)
        self.assertGreater(after["0"][0], before["0"][0])


class Traced(unittest.TestCase):
    @settings(max_examples=40, deadline=None)
    @given(st.floats(0.9, 2.6), st.floats(0.05, 0.4), st.floats(-0.005, 0.005), st.integers(0, 10**6))
    def test_a_push_test_is_read_right(self, f: float, zeta: float, drift: float, seed: int) -> None:
        """A made trace gives its frequency to 2 % and its damping within its own band, up to 0.4 of critical, with noise and a line under it."""
        t = np.arange(0.0, 4.0, 0.01)
        w = 2.0 * pi * f
        x = 0.05 * np.exp(-zeta * w * t) * np.cos(w * sqrt(1.0 - zeta**2) * t) + 0.7 + drift * t
        x += np.random.default_rng(seed).normal(0.0, 0.0003, len(t))
        pushed, swung = push_test(x, t), swing_of(t, x)
        for found, told in ((pushed.f, pushed.zeta), (swung.frequency, swung.damping)):
            self.assertAlmostEqual(found, f, delta=0.02 * f)
            self.assertAlmostEqual(told, zeta, delta=0.02)

    def test_noise_is_no_swing(self) -> None:
        """A trace of noise, one that is short or stands still, and one that goes back in time are refused; peaks that drown are left out."""
        rng = np.random.default_rng(4)
        t = np.arange(0.0, 3.0, 0.02)
        for x, at in ((rng.normal(0.0, 1.0, len(t)), t), (np.ones(5), t[:5]), (np.sin(t), t[::-1])):
            with self.assertRaises(InputError):
                push_test(x, at)
        self.assertEqual(peaks([0.04, 0.012, 0.0037, 0.0013], [0.0, 0.7, 1.4, 2.1], 0.0006).used, 3)
        for sizes, times in (([0.04], [0.0]), ([0.04, 0.05], [0.0, 0.7]), ([0.04, 0.01], [0.7, 0.0])):
            with self.assertRaises(InputError):
                peaks(sizes, times)

    @settings(max_examples=20, deadline=None)
    @given(st.lists(st.floats(0.3, 2.0), min_size=4, max_size=20), st.floats(0.4, 0.8))
    def test_the_same_road_is_no_difference(self, run: list[float], share: float) -> None:
        """A run against itself tells none; every piece less by one share gives that ratio, within its band."""
        self.assertFalse(before_after(run, run).told)
        found = before_after(run, [share * one for one in run])
        self.assertAlmostEqual(found.ratio, share, 12)
        self.assertTrue(found.band[0] <= share * (1 + 1e-9) and share <= found.band[1] * (1 + 1e-9))
        self.assertEqual(found.few, len(run) < 8)
        with self.assertRaises(InputError):
            before_after(run[:2], run)

    @given(st.floats(25e3, 90e3), st.floats(300.0, 900.0))
    def test_a_frequency_tells_the_rate_that_makes_it(self, k_w: float, sprung: float) -> None:
        """The rate read off a bounce is the one it was made with, the tyre in series; one cycle is told to 5 %, and no corner is stiffer than its tyre."""
        k_t = 260e3
        f = sqrt(k_w * k_t / (k_w + k_t) / sprung) / (2.0 * pi)
        cycles, sigma = of_cycles([1.0 / f])
        found = frequency_datum(cycles, sigma, sprung, k_t)
        self.assertAlmostEqual(found.k_w, k_w, delta=1e-6 * k_w)
        self.assertAlmostEqual(sigma / cycles, 0.05, 12)
        with self.assertRaises(InputError):
            frequency_datum(8.0, 0.1, sprung, 200e3)


class Rolling(unittest.TestCase):
    @given(rates, rates, st.just(0.0) | st.floats(1.0, 40e3), st.just(0.0) | st.floats(1.0, 60e3))
    def test_a_ratio_says_what_stiffness_does(self, front: float, rear: float, bar: float, helper: float) -> None:
        """More stiffness never rolls more; at the rear it makes the tail looser, at the front it does not; nothing changed is one."""
        plain = RollAxle(
            solid=False, track=1.7, tyre_rate=270e3, springs=(RollSpring(rate=front, main=True),), unknown_bars=1
        )
        behind = RollAxle(
            solid=True, track=1.7, tyre_rate=270e3, springs=(RollSpring(rate=rear, place=0.55, main=True),)
        )
        more = RollAxle(
            solid=True,
            track=1.7,
            tyre_rate=270e3,
            springs=(*behind.springs, RollSpring(rate=helper, place=0.5)),
            bars=(bar,),
        )
        before, after = roll_rate(900.0, 0.5, plain, behind), roll_rate(900.0, 0.5, plain, more)
        found = RollRatio(before=before, after=after)
        self.assertLessEqual(found.ratio, 1.0)
        self.assertEqual(found.tail_looser, after.rear > before.rear)
        self.assertEqual(RollRatio(before=before, after=before).ratio, 1.0)
        self.assertFalse(RollRatio(before=before, after=before).meets_aim)

    def test_what_adds_nothing_adds_nothing(self) -> None:
        """A tee adds nothing from its pressure's spring, an open insert none; an axle without main springs, and a body its springs do not hold, are refused."""
        one = {"pressure": 2e5, "area": 0.0118, "slope": -0.019, "volume": 0.0026}
        self.assertAlmostEqual(air_roll_rate(**one, teed=True), 2e5 * 0.019, 6)
        self.assertGreater(air_roll_rate(**one), air_roll_rate(**one, teed=True))
        self.assertGreater(air_roll_rate(**one, n=1.38), air_roll_rate(**one))
        points = [(0.01, 450.0), (0.03, 2000.0)]
        self.assertEqual(insert_roll_rate(points, -0.002), 0.0)
        self.assertEqual(insert_roll_rate(points, 0.05), insert_roll_rate(points, 0.04))
        with self.assertRaises(InputError):
            RollAxle(solid=True, track=1.7, tyre_rate=2e5, springs=(RollSpring(rate=1e4),))
        soft = RollAxle(solid=False, track=1.7, tyre_rate=2e5, springs=(RollSpring(rate=9e3, main=True),))
        with self.assertRaises(RollInstabilityError):
            roll_rate(4000.0, 1.4, soft, soft)

    @given(st.floats(1.4, 2.0), st.floats(0.6, 2.0), st.floats(0.0, 0.6))
    def test_a_body_that_rolls_tips_sooner(self, track: float, height: float, roll: float) -> None:
        """Never later than a rigid one, and as late as that where its axis goes through its mass."""
        a_y, rigid = tip_margin(track, height, roll, 0.4)
        self.assertLessEqual(a_y, rigid)
        self.assertAlmostEqual(tip_margin(track, height, roll, height)[0], rigid, 12)

    def test_a_squat_moves_load_and_loses_none(self) -> None:
        """What the front gives the rear takes; nothing pushed, nothing moved; braking is the mirror."""
        states = [loaded()]
        found = squat(pickup(), states, "loaded", 2800.0, 2.5, 0.8)
        front = found.squatting.axle_load("front") - found.before.axle_load("front")
        rear = found.squatting.axle_load("rear") - found.before.axle_load("rear")
        self.assertAlmostEqual(float(front), -found.load_moved, delta=1.0)
        self.assertAlmostEqual(float(rear), found.load_moved, delta=1.0)
        self.assertEqual(squat(pickup(), states, "loaded", 2800.0, 0.0, 0.8).load_moved, 0.0)
        self.assertLess(squat(pickup(), states, "loaded", 2800.0, -2.0, 0.8).load_moved, 0.0)


class OnThePlane(unittest.TestCase):
    @given(st.floats(5.0, 40.0), st.floats(-3000.0, 3000.0), st.floats(-0.5, 0.5))
    def test_a_gust_is_mirrored(self, speed: float, push: float, centre: float) -> None:
        """From the other side it does the same the other way; no gust does nothing; after it is over the car goes on straight or turns, never grows."""
        one, other = gust_plane(CAR, speed, push, centre), gust_plane(CAR, speed, -push, centre)
        self.assertAlmostEqual(one.side_offset, -other.side_offset, 9)
        self.assertEqual(gust_plane(CAR, speed, 0.0, centre).yaw_rate, 0.0)

    def test_the_trailer_as_it_is_integrated(self) -> None:
        """The roots are those of the motion: a swing integrated step by step falls as the least damped pair says, above the critical speed it grows."""
        for speed in (15.0, 35.0):
            one = train()
            found = one.at(speed)
            assert found.damping is not None and found.frequency is not None
            motion = one._motion(speed)
            run = solve_ivp(
                lambda _, x, m=motion: m @ x, (0.0, 12.0), [0.0, 0.0, 0.05, 0.0], rtol=1e-9, dense_output=True
            )
            early, late = (np.max(np.abs(run.sol(np.linspace(a, a + 2.5, 400))[2])) for a in (4.0, 9.0))
            fall = exp(-found.damping * 2.0 * pi * found.frequency * 5.0)
            self.assertAlmostEqual(late / early, fall, delta=0.12 * fall)

    def test_what_calms_a_trailer(self) -> None:
        """More on the nose, something that damps at the hitch and less mass at the ends each raise the speed at which it is no longer damped."""
        critical = train().falls_to(0.0)
        assert critical is not None
        for calmer in (train(150.0), train(damper=2000.0), train(inertia=2500.0)):
            self.assertGreater(calmer.falls_to(0.0) or 1e9, critical)
        self.assertLess(train().falls_to(0.10) or 0.0, critical)
        self.assertIsNone(train().diverges())
        loose = Car(m=1900.0, a=1.5, b=1.3, c_f=110e3, c_r=60e3)
        self.assertIsNotNone(Train(car=loose, trailer=train().trailer, hitch=2.3).diverges())
        with self.assertRaises(InputError):
            train().at(0.0)


class PushedIntoTheModel(unittest.TestCase):
    def pushed(self, axle: str, factor: float, state: str = "loaded") -> tuple[JobModel, JobModel]:
        """Return the sample's model, and with a push test that swings as springs so many times as stiff as the class's would."""
        base = build_model(job())
        told = report(base.prior, solve_states(base.prior, list(base.states.values()))[state])
        left, right = AXLE_CORNERS[axle]  # type: ignore[index]
        own = base.prior.axle(axle)  # type: ignore[arg-type]
        mass = 0.5 * float(told.load[left] + told.load[right]) / G - own.unsprung
        rate = factor * 0.5 * float(told.bump_rate[left] + told.bump_rate[right])
        both = rate * own.tyre_rate / (rate + own.tyre_rate)
        push = Pushed(
            state=state,
            axle=axle,
            frequency=sqrt(both / mass) / (2.0 * pi),
            frequency_sigma=0.01,
            damping=0.2,
            damping_sigma=0.02,
        )
        return base, build_model(job(pushes=(push,)))

    def test_it_moves_its_own_axle_alone_and_narrows_it(self) -> None:
        """A front on coils that swings as the class's own moves nothing; one a fifth stiffer moves it that way, not the whole way; the rear's class stays."""
        _, same = self.pushed("front", 1.0)
        before, after = same.pushed["front"]
        self.assertAlmostEqual(after / before, 1.0, places=2)
        base, stiffer = self.pushed("front", 1.2)
        before, after = stiffer.pushed["front"]
        self.assertTrue(1.05 < after / before < 1.25)
        self.assertNotIn("rear", stiffer.pushed)
        self.assertEqual(stiffer.prior.rear.spring.k, base.prior.rear.spring.k)
        self.assertLess(stiffer.estimate.covariance[0, 0], base.estimate.covariance[0, 0])

    def test_leaves_stick(self) -> None:
        """The same on a leaf rear is believed less: its ln-sigma is a quarter at least, a coil's a tenth."""
        for axle, least in (("front", 0.10), ("rear", 0.25)):
            _, model = self.pushed(axle, 1.3)
            _, left, moved = with_pushes(model.job, build_model(job()).prior, model.states, {"front": 0.4, "rear": 0.4})
            self.assertGreater(moved[axle][1], moved[axle][0])  # type: ignore[index]
            self.assertGreaterEqual(left[axle] + 1e-12, 0.4 * least / hypot(0.4, least))  # type: ignore[index]
            self.assertLess(left[axle], 0.4)  # type: ignore[index]

    def test_of_a_state_nobody_knows_it_tells_nothing(self) -> None:
        """In a state that is not there, and of a frequency no spring under that tyre could give, the class stands."""
        for told in ({"state": "gone"}, {"frequency": 15.0}):
            push = Pushed(
                **{
                    "state": "loaded",
                    "axle": "rear",
                    "frequency": 1.5,
                    "frequency_sigma": 0.05,
                    "damping": 0.2,
                    "damping_sigma": 0.02,
                }
                | told  # type: ignore[arg-type]
            )
            self.assertEqual(build_model(job(pushes=(push,))).pushed, {})
