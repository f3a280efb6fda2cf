"""Over the road: shapes, weighting and the simulation, against textbook and by symmetry (method section 7)."""

import unittest
from dataclasses import replace

import numpy as np
from scipy.integrate import cumulative_trapezoid, solve_ivp

from tests.core.samples import INSERT, loaded, pickup
from vantok_core.base.errors import InputError
from vantok_core.kits.families import insert
from vantok_core.physics.stance.states import solve_states
from vantok_core.physics.vehicle import Element, LoadState, Vehicle
from vantok_core.road.comfort import running_rms, w_k_gain, weighted_rms
from vantok_core.road.figures import RideResult, jolts, rebounds, ride, settling_time
from vantok_core.road.profile import Manoeuvre, Road, gust_force, rms_height
from vantok_core.road.ride_set import Damper, ForceCurve, RidePoint, RideSet
from vantok_core.road.simulate import Ridden, drive, drive_all, ridden

DAMPERS = {"front": Damper(bump=1800, rebound=2400), "rear": Damper(bump=1900, rebound=2600, y=0.6)}


class Shapes(unittest.TestCase):
    def test_each_shape(self) -> None:
        """A bump rises and returns, a step stays up, a pothole is on its side, staggered sides come apart."""
        x = np.linspace(-1, 9, 2001)
        bump, _ = Road(kind="bump", height=0.05, length=1.0).left_right(x)
        self.assertAlmostEqual(float(bump.max()), 0.05, places=6)
        self.assertEqual((float(bump[0]), float(bump[-1])), (0.0, 0.0))
        step, _ = Road(kind="step", height=0.04, length=0.2).left_right(x)
        self.assertAlmostEqual(float(step[-1]), 0.04)
        left, right = Road(kind="pothole", height=0.06, length=0.5, sides="right").left_right(x)
        self.assertEqual(float(np.abs(left).max()), 0.0)
        self.assertAlmostEqual(float(right.min()), -0.06, places=6)
        left, right = Road(kind="bump", height=0.05, length=1.0, stagger=2.0).left_right(x)
        self.assertAlmostEqual(float(x[np.argmax(right)] - x[np.argmax(left)]), 2.0, places=2)

    def test_random_road_has_its_class_roughness(self) -> None:
        """A class C road is twice as high as a class B one, seed for seed, and each has the standard's spread."""
        x = np.arange(0.0, 400.0, 0.05)
        b, c = (Road(kind="iso8608", roughness=k).left_right(x)[0][400:] for k in "BC")
        self.assertAlmostEqual(float(c.std() / b.std()), 2.0, places=6)
        self.assertAlmostEqual(float(b.std()) / rms_height("B", 0.02, 3.0), 1.0, delta=0.35)
        with self.assertRaises(InputError):
            Road(kind="iso8608", roughness="Z")

    def test_manoeuvres(self) -> None:
        """A lane change ends as it began; a steady turn holds; a gust is over."""
        t = np.linspace(0, 10, 1001)
        self.assertAlmostEqual(float(Manoeuvre(kind="lane_change", a_y=3, period=2).at(t)[-1]), 0.0)
        self.assertAlmostEqual(float(Manoeuvre(kind="steady_turn", a_y=3, period=1).at(t)[-1]), 3.0)
        gust = Manoeuvre(kind="gust", push=gust_force(10.0, 15.0), push_height=0.9, period=1)
        self.assertLess(float(gust.couple(t)[0]), 0.0)
        self.assertEqual(float(gust.couple(t)[-1]), 0.0)


class Comfort(unittest.TestCase):
    def test_weights_of_the_standard(self) -> None:
        """W_k at its tabulated third-octave centres (ISO 2631-1 table 3)."""
        for frequency, factor in ((1.0, 0.482), (2.0, 0.531), (4.0, 0.967), (8.0, 1.036), (16.0, 0.768), (31.5, 0.405)):
            self.assertAlmostEqual(float(w_k_gain(np.array([frequency]))[0]), factor, delta=0.01)

    def test_a_sine_is_weighted_by_its_frequency(self) -> None:
        """A long 4 Hz sine keeps its r.m.s. times the weight."""
        t = np.arange(0, 60, 1e-3)
        self.assertAlmostEqual(weighted_rms(np.sin(2 * np.pi * 4 * t), 1000.0), 0.967 / 2**0.5, delta=0.01)


class Simulation(unittest.TestCase):
    def run_over(self, road: Road, vehicle: Vehicle | None = None, **more: object) -> RideResult:
        vehicle = vehicle or pickup()
        solved = solve_states(vehicle, [LoadState(name="empty"), loaded(300, 3.4)])["loaded"]
        run = RideSet(
            speed=6.0,
            duration=2.5,
            road=road,
            dampers=DAMPERS,
            sample_rate=500.0,
            points=(RidePoint(name="driver", station=1.2, lateral=0.4), RidePoint(name="rear", station=3.55)),
            **more,  # type: ignore[arg-type]
        )
        return ride(vehicle, solved, run)

    def test_a_flat_road_is_quiet(self) -> None:
        """Started from its equilibrium on a flat road, nothing moves."""
        found = self.run_over(Road())
        self.assertLess(found.peak_acc["driver"], 1e-6)
        self.assertLess(found.peak_drop_rear, 1e-9)
        self.assertEqual(found.defaults, ("pitch inertia", "roll inertia"))

    def test_mirror_and_rest(self) -> None:
        """A pothole on the other side rolls the other way as far; afterwards the body comes back to rest."""
        left, right = (
            self.run_over(Road(kind="pothole", height=0.05, length=0.6, sides=side)) for side in ("left", "right")
        )
        self.assertAlmostEqual(left.peak_roll, right.peak_roll, places=9)
        self.assertGreater(left.peak_roll, 1e-3)
        self.assertLess(abs(left.final_roll), 0.1 * left.peak_roll)

    def test_stops_strike_and_soften_nothing(self) -> None:
        """On a hard bump an insert near its pad is struck, with a force; one far away is not."""
        near, far = (
            Element(
                name="inserts", left=insert.FAMILY.of(INSERT).stop(g), right=insert.FAMILY.of(INSERT).stop(g), y=0.5
            )
            for g in (0.065, 0.30)
        )
        base = pickup()
        hit, clear = (
            self.run_over(
                Road(kind="bump", height=0.10, length=1.6), replace(base, rear=replace(base.rear, elements=(e,)))
            )
            for e in (near, far)
        )
        self.assertGreaterEqual(hit.stops["inserts"]["left"]["strikes"], 1)
        self.assertGreater(hit.stops["inserts"]["left"]["peak_force"], 0.0)
        self.assertEqual(clear.stops["inserts"]["left"]["strikes"], 0)

    def test_a_steady_turn_leans_outward(self) -> None:
        """In a left turn the body rises on the left and settles at a lean near the static gradient."""
        found = self.run_over(Road(), manoeuvre=Manoeuvre(kind="steady_turn", a_y=2.0, period=0.5), arm=0.5)
        self.assertGreater(found.final_roll, 0.0)
        self.assertLess(found.least_tyre_load["FL"], found.least_tyre_load["FR"])

    def test_what_is_read_off_a_trace(self) -> None:
        """Settling counts from the final height, each jolt once, and only swings after the shape are rebounds."""
        t = np.arange(0.0, 5.0, 0.002)
        height = 0.01 + 0.05 * np.exp(-1.0 * t) * np.cos(2 * np.pi * t)
        self.assertAlmostEqual(settling_time(height, 500.0, 0.01), np.log(10.0), delta=0.3)
        self.assertGreater(rebounds(height, 500.0, 0.0, 0.01), rebounds(height, 500.0, 1.2, 0.01))
        self.assertEqual(jolts(np.array([0.0, 4.0, 4.0, 0.0, -5.0, 0.0])), 2)

    def test_a_damper_by_its_points(self) -> None:
        """Points on a straight line are a rate; past the last one it goes on straight; either way it works against the motion."""
        line = ForceCurve(((0.1, 200.0), (0.5, 1000.0)))
        damper = Damper(bump=line, rebound=3000.0)
        for speed in (0.05, 0.3, 0.9):
            self.assertAlmostEqual(damper.force(speed), 2000.0 * speed, places=6)
        self.assertAlmostEqual(damper.force(-0.2), -600.0)

    def test_refusals(self) -> None:
        """A run without speed, or a road shape without length, is refused."""
        with self.assertRaises(InputError):
            RideSet(speed=0.0, duration=1.0, road=Road(), dampers=DAMPERS)
        with self.assertRaises(InputError):
            Road(kind="bump", length=0.0)


class OneClock(unittest.TestCase):
    def lanes(self, count: int = 1) -> list[tuple[Ridden, RideSet]]:
        """Return a loaded pickup, and one with an insert, over unlike roads."""
        base = pickup()
        stop = insert.FAMILY.of(INSERT).stop(0.03)
        with_insert = replace(
            base, rear=replace(base.rear, elements=(Element(name="x", left=stop, right=stop, y=0.5),))
        )
        roads = (
            Road(kind="bump", height=0.08, length=1.2, at=(2.0,)),
            Road(kind="pothole", height=0.05, length=0.6, sides="left", at=(2.0,)),
            Road(kind="iso8608", roughness="D"),
        )
        found = []
        for vehicle in (base, with_insert)[:count]:
            solved = solve_states(vehicle, [LoadState(name="empty"), loaded(300, 3.4)])["loaded"]
            for road in roads:
                run = RideSet(speed=6.0, duration=2.0, road=road, dampers=DAMPERS, sample_rate=500.0, arm=0.5)
                found.append((ridden(vehicle, solved, run), run))
        return found

    def test_together_as_alone(self) -> None:
        """Driven together on one clock, each goes as it goes alone."""
        told = self.lanes(2)
        for one, alone in zip(drive_all(told), (drive_all([lane])[0] for lane in told), strict=True):
            np.testing.assert_allclose(one.x, alone.x, atol=1e-12)
            np.testing.assert_allclose(one.acc, alone.acc, atol=1e-8)

    def test_beside_another_solver(self) -> None:
        """The same equations, with the springs' own laws instead of the table, by scipy's solver to eight digits: the seat's acceleration to 0.01 m/s2."""
        for one, run in self.lanes(2)[1::3]:
            found = drive_all([(one, run)])[0]
            track = one.apart

            def rates(
                t: float, s: np.ndarray, one: Ridden = one, run: RideSet = run, track: float = track
            ) -> np.ndarray:
                """Return how the state changes, force by force."""
                x, v, acc = s[:7], s[7:], np.zeros(7)
                front = run.road.left_right(np.array([run.speed * t]), track)
                rear = run.road.left_right(np.array([run.speed * t - one.wheelbase]), track)
                over, road = np.zeros(4), [float(h[0]) for h in (*front, *rear)]
                for a, name in enumerate(("front", "rear")):
                    i, j = 2 * a, 2 * a + 1
                    z, u = [], []
                    for k in (i, j):
                        z.append(one.z0[k] + x[0] + one.to_s[k] * x[1] - one.to_y[k] * x[2] - x[3 + k])
                        u.append(v[0] + one.to_s[k] * v[1] - one.to_y[k] * v[2] - v[3 + k])
                    still = one.axles[a].press(one.z0[i], one.z0[j])
                    pressed = one.axles[a].press(z[0], z[1])
                    near, far = DAMPERS[name].parts(one.vehicle.axle(name))
                    f_l, f_r = (float(DAMPERS[name].force(near * p + far * q)) for p, q in (u, u[::-1]))
                    over[i] = pressed[0] - still[0] + near * f_l + far * f_r
                    over[j] = pressed[1] - still[1] + near * f_r + far * f_l
                for k in range(4):
                    tyre = max(one.n0[k] + one.tyre_rate[k] * (x[3 + k] + road[k]), 0.0)
                    acc[3 + k] = (over[k] - (tyre - one.n0[k])) / one.unsprung[k]
                acc[0] = -over.sum() / one.body.mass
                acc[1] = -np.dot(one.to_s, over) / one.body.pitch
                acc[2] = (np.dot(one.to_y, over) + one.body.topple * x[2]) / one.body.roll
                return np.concatenate([v, acc])

            times = np.arange(len(found.x)) / run.sample_rate
            other = solve_ivp(
                rates, (0.0, run.duration), np.zeros(14), t_eval=times, rtol=1e-8, atol=1e-10, max_step=0.005
            )
            np.testing.assert_allclose(found.x[:, :3], other.y[:3].T, atol=2e-6)
            seat = np.array([rates(t, s)[7] - 0.9 * rates(t, s)[8] for t, s in zip(times, other.y.T, strict=True)])
            np.testing.assert_allclose(found.acc[:, 0] - 0.9 * found.acc[:, 1], seat, atol=0.01)

    def test_momentum_and_energy(self) -> None:
        """What the tyres press more than at rest is what all masses take up; without dampers nothing is lost once the road is level again."""
        vehicle = pickup()
        solved = solve_states(vehicle, [LoadState(name="empty")])["empty"]
        road = Road(kind="bump", height=0.02, length=2.0)
        run = RideSet(speed=6.0, duration=3.0, road=road, dampers={}, sample_rate=1000.0)
        one = ridden(vehicle, solved, run)
        found = drive_all([(one, run)])[0]
        pressed = found.tyres.sum(axis=1) - sum(one.n0)
        taken = -one.body.mass * found.acc[:, 0] - found.acc[:, 3:] @ np.array(one.unsprung)
        np.testing.assert_allclose(pressed, taken, atol=1e-6 * sum(one.n0))
        place, _ = one.sees()
        mass = np.array([one.body.mass, one.body.pitch, one.body.roll, *one.unsprung])
        speed = np.gradient(found.x, 0.001, axis=0)
        stored = 0.5 * (speed**2) @ mass - 0.5 * one.body.topple * found.x[:, 2] ** 2
        for row, element in zip(place, one.forces.elements, strict=True):
            if not element.damps:
                half = len(element.force) // 2
                grid = element.step * (np.arange(len(element.force)) - half)
                well = cumulative_trapezoid(element.force, grid, initial=0.0)
                stored += np.interp(found.x @ row, grid, well - well[half])
        squash = np.array(one.tyre_rate) * found.x[:, 3:] ** 2
        stored += 0.5 * squash.sum(axis=1)
        level = slice(1200, -1)  # both axles are past it
        self.assertLess(float(np.ptp(stored[level]) / np.max(stored[level])), 0.01)
        self.assertGreater(float(np.max(stored)), 1.0)

    def test_clocks_and_falls(self) -> None:
        """Runs of two clocks are refused; one that falls over is told with its time, and stops no other."""
        (one, run), *_ = self.lanes()
        with self.assertRaises(InputError):
            drive_all([(one, run), (one, replace(run, duration=1.0))])
        over = replace(run, manoeuvre=Manoeuvre(kind="steady_turn", a_y=60.0, period=0.5))
        fell, stood = drive_all([(one, over), (one, run)])
        self.assertIsNone(stood.fell)
        self.assertGreater(fell.fell or 0.0, 0.1)
        toppling = replace(one, body=replace(one.body, topple=1e9))  # grows beyond any figure before the run ends
        gone, beside = drive_all([(toppling, over), (one, run)])
        self.assertTrue(np.isnan(gone.x[-1]).any() and gone.fell is not None and beside.fell is None)
        with self.assertRaises(InputError):
            drive(one.vehicle, solve_states(one.vehicle, [LoadState(name="empty")])["empty"], over)

    def test_the_greatest_second(self) -> None:
        """A second of shaking in a minute of rest is told as that second, not as the minute's mean."""
        t = np.arange(0.0, 60.0, 0.004)
        shaken = np.where((t > 20.0) & (t < 21.2), np.sin(2 * np.pi * 5.0 * t), 0.0)
        self.assertAlmostEqual(running_rms(shaken, 250.0), 0.72, delta=0.05)
        self.assertLess(weighted_rms(shaken, 250.0), 0.12)
        self.assertAlmostEqual(running_rms(shaken[:100], 250.0), weighted_rms(shaken[:100], 250.0), places=9)
