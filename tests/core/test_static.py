"""The static solve by properties that must hold for every vehicle."""

import unittest
from dataclasses import replace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.samples import AIR, INSERT, loaded, pickup
from vantok_core.base.errors import (
    InputError,
    PressureLimitError,
    StateError,
    UnstableBodyError,
    VantokError,
    WheelOffGroundError,
)
from vantok_core.base.num import G, Real
from vantok_core.kits.families import air_spring, insert
from vantok_core.kits.setting import set_pressures
from vantok_core.physics.elements.laws import Helper, Shackled, Spring, Stop
from vantok_core.physics.levers import resultant
from vantok_core.physics.stance.report import StateReport, solve_reports
from vantok_core.physics.stance.states import solve_states
from vantok_core.physics.vehicle import CORNERS, Element, Item, LoadState, Overturning, Tongue, Vehicle

masses = st.floats(20, 900)
stations = st.floats(0.5, 4.6)
laterals = st.floats(-0.5, 0.5)


def solve(vehicle: Vehicle, *states: LoadState, **more: bool) -> dict[str, StateReport]:
    return solve_reports(vehicle, [LoadState(name="empty"), *states], **more)


def with_rear(vehicle: Vehicle, *elements: Element) -> Vehicle:
    return replace(vehicle, rear=replace(vehicle.rear, elements=(*vehicle.rear.elements, *elements)))


AIR_BAGS = Element(
    name="kit",
    left=air_spring.FAMILY.of(AIR).bag(0.17, 200e3),
    right=air_spring.FAMILY.of(AIR).bag(0.17, 200e3),
    y=0.48,
    set_state="loaded",
    p_min=1e3,
    p_max=690e3,
)
INSERTS = Element(
    name="inserts", left=insert.FAMILY.of(INSERT).stop(0.02), right=insert.FAMILY.of(INSERT).stop(0.02), y=0.5
)


class Equilibrium(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(masses, stations, laterals, st.sampled_from([(), (AIR_BAGS,), (INSERTS,), (AIR_BAGS, INSERTS)]))
    def test_forces_and_moments_balance(self, m: float, s: float, y: float, kit: tuple[Element, ...]) -> None:
        """Whatever is fitted, the wheel loads carry exactly what was put on, where it was put."""
        vehicle = with_rear(pickup(), *kit)
        state = loaded(m, s, y)
        found = solve(vehicle, state, check_limits=False)["loaded"].load
        gained = {c: float(found[c]) - (6900.0 if c[0] == "F" else 5100.0) for c in CORNERS}
        self.assertAlmostEqual(sum(gained.values()), m * G, delta=0.1)
        self.assertAlmostEqual((gained["RL"] + gained["RR"]) * 3.55, m * G * s, delta=0.5)
        lateral = sum((0.85 if c[1] == "L" else -0.85) * gained[c] for c in CORNERS)
        self.assertAlmostEqual(lateral, m * G * y, delta=0.5)

    @settings(max_examples=40, deadline=None)
    @given(masses, stations, laterals)
    def test_mirror(self, m: float, s: float, y: float) -> None:
        """A load moved to the other side gives the mirror image."""
        vehicle = with_rear(pickup(), AIR_BAGS, INSERTS)
        one, other = (solve(vehicle, loaded(m, s, side * y), check_limits=False)["loaded"] for side in (1, -1))
        for left, right in (("FL", "FR"), ("RL", "RR")):
            self.assertAlmostEqual(float(one.hub_drop[left]), float(other.hub_drop[right]), delta=1e-8)
        self.assertAlmostEqual(float(one.phi), -float(other.phi), delta=1e-9)

    @settings(max_examples=40, deadline=None)
    @given(masses, st.floats(5, 300))
    def test_more_load_never_rises(self, m: float, more: float) -> None:
        """More mass over the rear axle never lifts the rear, nor a helper."""
        vehicle = with_rear(pickup(), AIR_BAGS, INSERTS)
        light, heavy = (
            solve(vehicle, loaded(x, 3.55), loaded(450, 3.55, name="set"), check_limits=False) for x in (m, m + more)
        )
        self.assertGreater(float(heavy["loaded"].d_r), float(light["loaded"].d_r) - 1e-9)

    def test_a_kit_that_is_not_there_changes_nothing(self) -> None:
        """A helper of no rate and a stop out of reach leave every figure as it was, to the last digit."""
        nothing = Element(name="none", left=Helper(preload=0.0, k=0.0), right=Helper(preload=0.0, k=0.0), y=0.5)
        far = Element(
            name="far",
            left=replace(insert.FAMILY.of(INSERT).stop(0.5)),
            right=replace(insert.FAMILY.of(INSERT).stop(0.5)),
            y=0.5,
        )
        plain, fitted = (
            solve(v, loaded(450, 3.5, 0.1))["loaded"] for v in (pickup(), with_rear(pickup(), nothing, far))
        )
        self.assertEqual(
            (plain.d_r, plain.phi, plain.load, plain.tangent_rate),
            (fitted.d_r, fitted.phi, fitted.load, fitted.tangent_rate),
        )

    def test_tangent_is_the_slope(self) -> None:
        """The reported wheel rate is the change of force per metre of the same solve, nudged."""
        vehicle = with_rear(pickup(), INSERTS)
        base, more = (solve(vehicle, loaded(m, 3.55))["loaded"] for m in (450.0, 451.0))
        slope = (float(more.load["RL"]) - float(base.load["RL"])) / (
            float(more.hub_drop["RL"]) - float(base.hub_drop["RL"])
        )
        self.assertAlmostEqual(slope / float(base.tangent_rate["RL"]), 1.0, delta=0.01)

    def test_energy(self) -> None:
        """Loading in small steps does the work that the springs and tyres then hold (trapezoid sum)."""
        vehicle = with_rear(pickup(), INSERTS)
        steps = [solve(vehicle, loaded(m, 3.55))["loaded"] for m in np.linspace(1, 600, 240)]
        mass = np.linspace(1, 600, 240)
        drop = np.array([float(r.d_r) for r in steps])
        work = float(np.trapezoid(mass * G, drop))
        held = 0.0
        for corner in ("RL", "RR"):
            force = np.array([float(r.load[corner]) for r in steps]) - 5100.0
            held += float(np.trapezoid(force, [float(r.ground_drop[corner]) for r in steps]))
        self.assertAlmostEqual(work / held, 1.0, delta=1e-3)

    def test_batch_equals_one_by_one(self) -> None:
        """A batch of variants gives the same heights as solving each alone."""
        mass = np.linspace(50, 700, 25)
        batch = solve(
            with_rear(pickup(), INSERTS), LoadState(name="loaded", items=(Item(mass=mass, station=3.5, lateral=0.1),))
        )
        for i, m in enumerate(mass):
            alone = solve(with_rear(pickup(), INSERTS), loaded(float(m), 3.5, 0.1))
            self.assertAlmostEqual(float(batch["loaded"].d_r[i]), float(alone["loaded"].d_r), delta=1e-9)  # type: ignore[index]

    def test_states_solved_as_rows_are_those_solved_alone(self) -> None:
        """Several states of several variants, bags shut in one of them, come out as each of them alone; one that cannot rest is named."""
        rates = np.linspace(30e3, 50e3, 7)
        states = [
            loaded(),
            LoadState(name="empty"),
            replace(loaded(250.0, 2.0, 0.3, "warm"), temperature_ratio=1.1),
            LoadState(
                name="towing",
                items=(Item(mass=np.linspace(80.0, 200.0, 7), station=4.0, lateral=0.0),),
                overturning=Overturning(sprung_mass=2000.0, arm=0.4),
            ),
        ]

        def at(k: Real) -> Vehicle:
            fitted = with_rear(pickup(), AIR_BAGS, INSERTS)
            return replace(fitted, rear=replace(fitted.rear, spring=replace(fitted.rear.spring, k=k)))

        rows = solve_states(at(rates), states)
        for i, k in enumerate(rates):
            towing = replace(states[3], items=(replace(states[3].items[0], mass=float(states[3].items[0].mass[i])),))  # type: ignore[index]
            alone = solve_states(at(float(k)), [*states[:3], towing])
            for name, one in alone.items():
                for unknown, row in zip(one.at.unknowns, rows[name].at.unknowns, strict=True):
                    self.assertAlmostEqual(float(unknown), float(np.broadcast_to(row, 7)[i]), delta=1e-9)
        with self.assertRaisesRegex(WheelOffGroundError, "too far back"):
            solve_states(at(rates), [*states, loaded(600.0, 12.0, 0.0, "too far back")], check_limits=False)

    def test_separate_pressures_do_what_they_were_solved_for(self) -> None:
        """Two pressures bring both rear corners to their targets."""
        vehicle = with_rear(pickup(), AIR_BAGS)
        states = [LoadState(name="empty"), loaded(450, 3.5, 0.12)]
        found = set_pressures(vehicle, states, element="kit", state="loaded", target=(0.01, 0.012))
        drops = solve_reports(found.vehicle, states, check_limits=False)["loaded"].ground_drop
        self.assertAlmostEqual(float(drops["RL"]), 0.010, delta=1e-6)
        self.assertAlmostEqual(float(drops["RR"]), 0.012, delta=1e-6)

    def test_sealed_air_conserves(self) -> None:
        """Carried sealed to another state, (p + p_atm) V is what it was where the valve was shut."""
        vehicle = with_rear(pickup(), AIR_BAGS)
        solved = solve_states(vehicle, [LoadState(name="empty"), loaded(450, 3.5, 0.1)])
        products = []
        for state in ("empty", "loaded"):
            axle, stance = solved[state].axle("rear")
            bag = next(line for line in axle.lines if line.name == "kit")
            c = bag.compressions(*stance.z)[0]
            products.append((bag.left.pressure(c) + 101_325.0) * bag.left.volume_at(c)[0])  # type: ignore[union-attr]
        self.assertAlmostEqual(products[0] / products[1], 1.0, delta=1e-9)


class Laws(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(st.floats(-0.1, 0.2), st.floats(20e3, 90e3), st.floats(0, 90e3), st.floats(0.0, 0.08))
    def test_rates_are_slopes(self, c: float, k: float, k2: float, z2: float) -> None:
        """Each law's rate is the derivative of its force, at floats and at arrays alike."""
        spring = Spring(k=k, preload=3000.0, k2=k2, z2=z2)
        for law in (
            spring,
            Shackled(leaf=spring, k_s=120e3),
            Stop(gap=0.02 + 1e-5, curve=insert.FAMILY.of(INSERT).stop(0).curve),
        ):
            h = 1e-7
            force, rate = law.at(c)
            slope = (law.at(c + h)[0] - law.at(c - h)[0]) / (2 * h)
            self.assertAlmostEqual(float(slope), float(rate), delta=2e-3 * (abs(float(rate)) + 1000))
            both = law.at(np.array([c, c + 0.01]))
            self.assertAlmostEqual(float(both[0][0]), float(force), delta=1e-6)  # type: ignore[index]

    @settings(max_examples=60, deadline=None)
    @given(st.floats(0.05, 0.30), st.floats(20e3, 800e3))
    def test_air_volume_grows_with_height(self, h: float, p: float) -> None:
        """The volume's slope with height is the area, and the table never gives a negative area."""
        bag = air_spring.FAMILY.of(AIR).bag(0.17, p)
        volume, slope = bag.volume_at(0.17 - h)
        above = bag.volume_at(0.17 - h - 1e-6)[0]
        self.assertGreater(float(slope), 0.0)
        self.assertAlmostEqual((float(above) - float(volume)) / 1e-6, float(slope), delta=2e-4)


class Refusals(unittest.TestCase):
    def test_a_lifted_wheel_is_named(self) -> None:
        """A load far behind that would lift the front is refused by name, not computed."""
        with self.assertRaises(WheelOffGroundError) as caught:
            solve(pickup(), loaded(1500, 8.0))
        self.assertEqual((caught.exception.wheel[0], caught.exception.state), ("F", "loaded"))

    def test_an_unstable_body_is_refused(self) -> None:
        """A centre of mass too high for the roll stiffness is an error that names the state."""
        tall = replace(loaded(300), overturning=Overturning(sprung_mass=20_000.0, arm=3.0))
        with self.assertRaises(UnstableBodyError):
            solve(pickup(), tall)

    def test_pressure_limits_are_hard(self) -> None:
        """A pressure over the element's maximum is refused where it would occur."""
        high = replace(AIR_BAGS, p_max=150e3)
        with self.assertRaises(PressureLimitError):
            solve(with_rear(pickup(), high), loaded())

    def test_added_leaf_on_a_parabolic(self) -> None:
        """A tapered leaf takes no added leaf."""
        leaf = {"law": "add_a_leaf", "k": 11e3, "arch": 0.04, "y": 0.52}
        with self.assertRaises(VantokError):
            pickup(elements=[leaf, {"law": "parabolic", "role": "main", "k": 38e3, "y": 0.5}])

    @settings(max_examples=80, deadline=None)
    @given(st.floats(-2000, 6000), st.floats(-3, 12), st.floats(-2, 2), st.floats(0, 800e3))
    def test_nothing_in_range_gives_nan_or_a_traceback(self, m: float, s: float, y: float, p: float) -> None:
        """Any load, place and pressure gives finite figures or an error a technician can read."""
        bags = replace(
            AIR_BAGS,
            left=air_spring.FAMILY.of(AIR).bag(0.17, p),
            right=air_spring.FAMILY.of(AIR).bag(0.17, p),
            p_min=None,
            p_max=None,
        )
        try:
            found = solve(with_rear(pickup(), bags), loaded(m, s, y))["loaded"]
        except StateError as error:
            self.assertIn("State", str(error))
            return
        self.assertTrue(np.all(np.isfinite([*map(float, found.load.values()), float(found.d_r), float(found.phi)])))

    def test_weight_distribution_needs_its_distance(self) -> None:
        """Spring bars without the distance to the trailer axle are refused."""
        with self.assertRaises(InputError):
            Tongue(mass=200.0, overhang=1.2, bar_moment=1500.0)
        bars = Tongue(mass=200.0, overhang=1.2, bar_moment=1500.0, axle_distance=5.0)
        force = resultant(pickup(), LoadState(name="tow", tongue=bars))
        self.assertAlmostEqual(float(force.force), 200.0 * G - 1500.0 / 5.0, places=6)
