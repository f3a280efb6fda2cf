"""One figure for one thing, with its place, its load and its band; a limit is a limit, whoever set it."""

from __future__ import annotations

import unittest
from math import degrees

import numpy as np

from tests.core.samples import AIR, job
from vantok_core.base.say import Say
from vantok_core.facts import Fitting, Job, JobState, LoadItem, LoadZone
from vantok_core.facts.load import Condition
from vantok_core.judge.diagnose.diagnosis import diagnose
from vantok_core.judge.grounds.lead import limits_said, unsure_said, zones_said
from vantok_core.judge.grounds.unweighed import told, unweighed
from vantok_core.judge.hand_over.label import label
from vantok_core.judge.measure.doubts import doubts
from vantok_core.judge.set.card_for import job_card
from vantok_core.judge.set.close_up import close_up
from vantok_core.judge.set.consequences import consequences
from vantok_core.kits.checks import TAPE, FitCheck, rated_check, room_check
from vantok_core.kits.choose import shortlist
from vantok_core.kits.fit import fit_checks, fitted_vehicle, rated_checks, with_kit
from vantok_core.kits.target import target_drop
from vantok_core.kits.why_set import set_reasons
from vantok_core.loads.holding import Held
from vantok_core.loads.nose import nose_of, window_of
from vantok_core.model import build_model, corner_sigma

SET = {"pressure_pa": (200e3, 200e3)}


def fitted(**changes: object) -> Job:
    """Return the sample job with bags on at two bar in its loaded state."""
    return job(fitting=Fitting(kit=AIR, setting=SET, state="loaded"), **changes)


class Bands(unittest.TestCase):
    def test_beam_and_caster_are_told_with_their_bands(self) -> None:
        """Both follow the pitch: their bands are the joint band of both axles' heights, and half the covariance leaves them narrower by root two."""
        model = build_model(job())
        view = diagnose(model).view("loaded")
        assert view is not None and view.beam is not None and view.caster is not None
        errors = model.axle_errors("loaded")
        assert errors is not None and view.caster.band is not None and view.beam.band is not None
        spread = np.array([-1.0, 1.0]) @ errors @ np.array([-1.0, 1.0])
        self.assertAlmostEqual(view.caster.band, 1.645 * degrees(1.0 / 3.55) * float(np.sqrt(spread)), 9)
        self.assertGreater(
            view.beam.band, view.caster.band / degrees(1.0) * 9.0
        )  # ten metres ahead, less what moves with it
        self.assertRegex(view.beam.in_units("metric"), r"mm ±.\d+.mm")
        self.assertRegex(view.beam.in_units("us"), r"in ±.[\d /]+.in")
        self.assertNotIn("±", view.beam.size.without_band.in_units("metric"))

    def test_a_kits_own_spread_widens_them(self) -> None:
        """What the kit may be stronger or weaker by is in the band of what follows from it."""
        model = build_model(fitted())
        own = model.job.fitting
        assert own is not None
        sure = own.model_copy(update={"kit": own.kit.model_copy(update={"maker_data": False})})
        bands = [
            c.beam.band for part in (own, sure) for c in consequences(model, part) if c.state == "loaded" and c.beam
        ]
        self.assertGreater(bands[1] or 0.0, bands[0] or 0.0)


class OneFigure(unittest.TestCase):
    def test_a_target_takes_one_force(self) -> None:
        """Without a kit it is told what the wish takes; Diagnose tells the same force for the way all the way back, and a kit that gets there presses it."""
        model = build_model(job())
        takes = shortlist(model, []).takes
        assert takes is not None
        main = diagnose(model)
        back = next(w.result for w in main.restore if w.key == "restore_wheel")
        drop = target_drop(model, "loaded").drop
        lift = float(model.solve()["loaded"].d_r) - drop
        self.assertAlmostEqual(takes.values["f"].value, model.lifting_force("loaded", "rear", lift), 6)
        self.assertAlmostEqual(back.value, model.lifting_force("loaded", "rear", float(model.solve()["loaded"].d_r)), 6)
        chosen = shortlist(model, [AIR]).choice(AIR.code)
        assert chosen is not None and chosen.setting is not None and chosen.vehicle is not None
        stood = float(model.solve()["loaded"].d_r) - float(model.solve(chosen.vehicle)["loaded"].d_r)
        held = model.lifting_force("loaded", "rear", stood)
        found = consequences(model, Fitting(kit=AIR, setting=chosen.setting, state="loaded"))
        force = next(c.force for c in found if c.state == "loaded")
        assert force is not None
        self.assertAlmostEqual(sum(force) / 2.0, held, delta=0.01 * held)

    def test_what_presses_is_told_at_the_wheel_everywhere(self) -> None:
        """What follows from a setting and the drawing of the axle show one force."""
        model = build_model(fitted())
        own = model.job.fitting
        assert own is not None
        force = next(c.force for c in consequences(model, own) if c.state == "loaded")
        seen = close_up(model, "rear", "loaded", fitted_vehicle(model, own), own)
        assert seen is not None
        drawn = [k.force for side in seen.sides for k in side.kits]
        self.assertEqual(force, tuple(drawn))

    def test_card_and_label_say_for_which_load(self) -> None:
        """The card tells how the kit is set now and for what, beside what it asks of other loads; so does the label; the least is one figure."""
        on = fitted()
        card = job_card(build_model(on), on.fitting)  # type: ignore[arg-type]  # it has one
        self.assertIn("Set now for “Boat on”, cold: 2.00\u00a0bar", card.as_set.in_units("metric"))
        self.assertEqual(card.least.value, AIR.own["p_min_pa"])
        part = label(on, "metric").parts[0]
        self.assertEqual(part.setting, "pressure 2.00\u00a0bar")
        self.assertEqual(label(on, "metric").load, "Set for “Boat on”, cold.")
        self.assertIn(card.least.in_units("metric"), part.limits)

    def test_what_is_to_spare_comes_behind_the_rating(self) -> None:
        """Up to its maximum a kit has so much to spare; the axle's rating is named with it, known or not."""
        for rating, says in (
            (1900.0, r"the axle’s rating leaves \d+.kg, and comes first"),
            (None, "is not known, and comes first"),
            (1000.0, "is used up"),
        ):
            base = fitted()
            on = base.model_copy(update={"vehicle": base.vehicle.model_copy(update={"rear_axle_kg": rating})})
            model = build_model(on)
            said = [
                s.in_units("metric") for s in set_reasons(model, on.fitting, "loaded", target_drop(model, "loaded"))
            ]  # type: ignore[arg-type]
            self.assertRegex(" ".join(said), r"To its maximum of 6.90.bar it has \d+.kg more")
            self.assertRegex(" ".join(said), says)


class Room(unittest.TestCase):
    def test_room_passes_is_marginal_or_fails_with_its_figure(self) -> None:
        """Inside by more than a tape tells it passes, outside by more it fails, and between nothing is claimed but the figure."""
        band = 1.645 * TAPE
        for spare, status in (
            (2 * band, "pass"),
            (0.9 * band, "marginal"),
            (-0.9 * band, "marginal"),
            (-1.1 * band, "fail"),
        ):
            for low, high, read in ((0.02, 0.5, 0.02 + spare), (0.0, 0.06, 0.06 - spare)):
                found = room_check("x", "room", Say("Read."), (read, read), low, high, final=True)
                self.assertEqual(
                    (found.status, found.final, found.open), (status, status == "fail", status == "marginal")
                )
                self.assertAlmostEqual(found.why.values["spare"].value, abs(spare), 12)

    def test_every_room_of_a_kit_is_told_so(self) -> None:
        """Space beside the tyre one millimetre short is read again, not ruled out; thirty short is."""
        for space, status in ((0.014, "marginal"), (0.030, "pass"), (0.005, "fail")):
            on = job(space_left_m=space, space_right_m=space, lines="clear")
            self.assertEqual(_check(fit_checks(on, AIR), "space").status, status)


class Ratings(unittest.TestCase):
    def test_a_kits_own_ratings_are_limits(self) -> None:
        """The axle it may stand on, and what the pair may press with: held with the load's error, and overruled by nobody."""
        on = job()
        for most, status in ((2500.0, "pass"), (1100.0, "fail")):
            kit = AIR.model_copy(update={"axle_max_kg": most})
            found = _check(fit_checks(on, kit), "axle")
            self.assertEqual((found.status, found.final), (status, True))
        model = build_model(on)
        loaded = model.solve(with_kit(on, model.vehicle, AIR, SET, state="loaded"))["loaded"]
        pressed = sum(float(s.force) for s in loaded.elements["kit"].values()) / 9.80665
        for rated, status in ((2.0 * pressed, "pass"), (0.5 * pressed, "fail"), (pressed, "marginal")):
            (found,) = rated_checks(AIR.model_copy(update={"rated_kg": rated}), on.states[1], loaded)
            self.assertEqual(found.status, status)
        self.assertEqual(
            rated_check("x", "y", Held(name="z", limit=100.0, load=99.0, sigma=5.0), "Now").status, "marginal"
        )

    def test_a_roof_is_a_limit_with_its_error(self) -> None:
        """A rack one kilogram over by the plan cannot be told; thirty over is said; ten under holds."""
        rack = LoadZone(
            key="rack",
            words="roof rack",
            use="roof",
            start=1.0,
            end=3.0,
            left=0.6,
            right=-0.6,
            height_m=1.9,
            rating_kg=60.0,
        )
        for mass, over, unsure in ((45.0, False, False), (61.0, False, True), (95.0, True, False)):
            item = LoadItem(name="boxes", mass_kg=mass, station_m=2.0, lateral_m=0.0, height_m=1.9)
            base = job()
            state = base.states[1].model_copy(update={"items": (item,)})
            on = base.model_copy(
                update={
                    "states": (base.states[0], state),
                    "vehicle": base.vehicle.model_copy(update={"zones": (rack,)}),
                }
            )
            self.assertEqual(zones_said(on) is not None, over, mass)
            self.assertEqual(limits_said(on) is not None, over, mass)
            said = unsure_said(on)
            self.assertEqual(said is not None and "roof rack" in said.in_units("metric"), unsure, mass)

    def test_a_shops_own_window(self) -> None:
        """What a shop asks of a tongue rules every word on it."""
        usual, own = job(), job(noses={"ball": (0.05, 0.12)})
        self.assertEqual((window_of(usual), window_of(own)), ((0.10, 0.15), (0.05, 0.12)))
        words = [nose_of(one, one.states[1]).word for one in (usual, own)]  # type: ignore[union-attr]
        self.assertEqual(words, ["good", "heavy"])  # 190 of 1500 kg


class Settled(unittest.TestCase):
    def test_rolled_and_bounced_halves_the_friction(self) -> None:
        """What friction leaves in a reading is halved where the state was settled before it was read; one lifted since is not helped by it."""
        plain = job()
        stamped = plain.states[1].model_copy(update={"condition": Condition(settled=True)})
        settled = plain.model_copy(update={"states": (plain.states[0], stamped)})
        one = next(r for r in plain.readings if r.state == "loaded" and r.place == "RL")
        self.assertLess(corner_sigma(settled, one), corner_sigma(plain, one))
        lifted = one.model_copy(update={"unsettled": "lifted"})
        self.assertEqual(corner_sigma(settled, lifted), corner_sigma(plain, lifted))

    def test_a_load_off_the_springs_says_if_the_stops_are_free(self) -> None:
        """Where a stop nobody read may carry part of it, the sentence says so and asks for the gap; where it stands clear it does not."""
        base = job()
        unknown = JobState(key="loaded", name="Boat on", more=True)
        for low, says in ((0.075, True), (0.015, False)):
            heights = tuple(
                r.model_copy(update={"value_m": r.value_m if r.place[0] == "F" else 0.947 - low})
                if r.state == "loaded"
                else r
                for r in base.readings
                if r.datum == "ground_arch"
            )
            model = build_model(base.model_copy(update={"states": (base.states[0], unknown), "readings": heights}))
            (found,) = unweighed(model)
            self.assertEqual("if the rear stops are free: read their gap" in told(found).in_units("metric"), says, low)


def _check(found: list[FitCheck], key: str) -> FitCheck:
    return next(c for c in found if c.key == key)


class OverHubs(unittest.TestCase):
    def test_corners_read_over_hubs_are_one_body_too(self) -> None:
        """A wrong figure of forty millimetres is told over hubs as over ground, once the model tells the tyres' squash; a right sheet is not doubted."""
        plain = job()
        for off, told_wrong in ((0.0, False), (0.04, True), (-0.04, True)):
            readings = tuple(
                r.model_copy(
                    update={
                        "datum": "hub_arch",
                        "value_m": r.value_m - 0.33 + (off if (r.state, r.place) == ("loaded", "RL") else 0.0),
                    }
                )
                for r in plain.readings
                if r.datum == "ground_arch"
            )
            over_hubs = plain.model_copy(update={"readings": readings})
            model = build_model(over_hubs)
            self.assertEqual(any(f.key.startswith("corners-") for f in doubts(over_hubs, model)), told_wrong, off)
            self.assertEqual(doubts(over_hubs), [])  # without a model nobody knows the tyres' squash
