"""The job card: for every family and condition each fastener is tightened once, what comes off goes back, and no gate comes after what it guards."""

from __future__ import annotations

import unittest
from typing import get_args

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.samples import job
from tests.core.test_families import KITS
from vantok.shop.starter_kits import KITS as SHELF
from vantok_core.facts import CardMark, Fitting, Kit, Learnt
from vantok_core.facts.classes import BODIES, SPRINGS
from vantok_core.facts.hanging import HANGINGS
from vantok_core.facts.vehicle import Equipment, Fitted
from vantok_core.judge.hand_over.label import label
from vantok_core.judge.listen.census import census_findings
from vantok_core.kits.registry import family_of, read_kit
from vantok_core.procedure.card import Card, card
from vantok_core.procedure.lifting import heavy, lifting
from vantok_core.procedure.progress import READ_FIRST, Progress, card_verdict, progress, torque_odd
from vantok_core.procedure.stuck import START, at, tree
from vantok_core.procedure.templates import SHEET, steps_of, usual_sheet, work_of
from vantok_core.upkeep.care import care_tasks

ACCESS = ("wheels", "air box", "wheel-arch liners", "dampers", "tool box")
NUTS = ("", "sound", "rusted", "gone")


def with_sheet(kit: Kit, access: int = 2, *, own: bool = True, spare: bool = False) -> Kit:
    """Return a kit with its family's usual sheet, so much that comes off first, and a fastener that no step names."""
    told = {k: usual_sheet(kit)[k] for k in SHEET}
    if own:
        told["steps"] = [
            step.model_dump()
            for step in steps_of(kit.model_copy(update={"fasteners": read_kit(kit.model_dump() | told).fasteners}))
        ]
    told["access"] = {ACCESS[n]: 0.2 for n in range(access)}
    if spare:
        told["fasteners"] = [*told.get("fasteners", []), {"name": "spare bolt"}]
    return read_kit(kit.model_dump() | told)


def found(kit: Kit, nuts: str = "", spring: str = "leaf_solid") -> Card:
    """Return the card of a kit on the sample vehicle."""
    one = job()
    return card(
        one.model_copy(update={"vehicle": one.vehicle.model_copy(update={"stop_nuts": nuts, "rear_spring": spring})}),
        kit,
    )


def ticked(card: Card, count: int, reached: str = "torque") -> Progress:
    """Return a card with its first steps done."""
    marks = [
        CardMark(key=s.key, each={f.name: 40.0 if reached == "torque" else "feel" for f in s.fasteners})
        for s in card.steps[:count]
    ]
    return progress(card, marks)


class Cards(unittest.TestCase):
    @settings(max_examples=120, deadline=None)
    @given(
        st.sampled_from(sorted(KITS)),
        st.integers(0, 5),
        st.booleans(),
        st.booleans(),
        st.sampled_from(NUTS),
        st.sampled_from(sorted(SPRINGS)),
    )
    def test_whole_and_in_order(self, family: str, access: int, own: bool, spare: bool, nuts: str, spring: str) -> None:
        """Each fastener once a side; off before on, in reverse; a lifting gate before each work off the ground, a lowering one before it is down."""
        kit = with_sheet(KITS[family], access, own=own, spare=spare)
        made = found(kit, nuts, spring)
        keys = [s.key for s in made.steps]
        self.assertEqual(len(keys), len(set(keys)))
        sides = ("left", "right") if family_of(kit).both_sides else ("once",)
        for side in sides:
            tightened = [f.name for s in made.steps for f in s.fasteners if s.side in (side, "once")]
            self.assertEqual(sorted(tightened), sorted(f.name for f in kit.fasteners), (family, side))
        off, on = ([getattr(s, way) for s in made.steps if getattr(s, way)] for way in ("off", "on"))
        self.assertEqual(set(off), set(on))
        own = {name for step in made.steps for name in step.opens}
        left_out = set(kit.access) - set(off)  # what its own steps take off and put back is not done twice
        self.assertTrue(left_out <= {"dampers", "wheels"} and all(any(w[:5] in n for n in own) for w in left_out), own)
        for what in off:  # off before it is back, and nothing that stands in its way goes back before it
            self.assertLess(
                max(n for n, s in enumerate(made.steps) if s.off == what),
                min(n for n, s in enumerate(made.steps) if s.on == what),
            )
        bare = [what for what in kit.access if work_of(what) is None]
        self.assertEqual([s.on for s in made.steps if s.on in bare], bare[::-1])
        gate, weighed, baseline = "", False, False
        for step in made.steps:
            if step.gate in ("lift", "lower"):
                gate, weighed = step.gate, False
            weighed |= step.gate == "weight"
            baseline |= step.gate == "baseline"
            if step.stands == "stands":
                self.assertEqual(gate, "lift", step)
            elif not step.gate and not step.anywhere:
                self.assertNotEqual(gate, "lift", step)
            if step.stands == "ride_height" and (step.fasteners or step.on):
                self.assertTrue(weighed, step)
            if step.off or step.irreversible or step.key.startswith("kit"):
                self.assertTrue(baseline, step)
        self.assertEqual(made.steps[-1].gate, "end")

    @settings(max_examples=60, deadline=None)
    @given(st.sampled_from(sorted(KITS)), st.integers(0, 5))
    def test_each_gate_asks_what_is_its_own(self, family: str, access: int) -> None:
        """What stands must hold is asked once they carry, leftovers and the sheet's first days at the end, wheel nuts there too where a wheel was off."""
        kit = with_sheet(KITS[family], access)
        made, asked, first = found(kit), lifting(job(), kit).asks, set(usual_sheet(kit)["first"])
        wheel = any("wheel" in name.lower() for step in made.steps for name in (step.on, *step.closes))
        for step in made.steps:
            if not step.gate:
                continue
            self.assertEqual(step.fact == "leftovers", step.gate == "end", step)
            self.assertEqual(first <= {one.template for one in step.told}, step.gate == "end" or not first)
            self.assertEqual(any("wheel nuts to torque" in one for one in step.asks), wheel and step.gate == "end")
            self.assertEqual([one in step.asks for one in asked], [step.gate == "stands"] * len(asked), step.gate)

    def test_what_holds_and_what_is_said(self) -> None:
        """A step out of order, a gate not passed, a baseline not read: each is held with its sentence; the sides go on by themselves."""
        made = found(with_sheet(KITS["air_spring"]))
        start = ticked(made, 0)
        first = made.steps[0]
        self.assertEqual(start.held(first), "")
        lift = next(s for s in made.steps if s.gate == "lift")
        self.assertTrue(start.held(lift).startswith("First"))
        unread = progress(made, [CardMark(key=s.key) for s in made.steps[:2]], asked=READ_FIRST)
        gate = unread.next
        assert gate is not None
        self.assertEqual(gate.gate, "baseline")
        self.assertIn("not read", unread.held(gate))
        self.assertEqual(card_verdict(unread).tone, "limit")
        at = next(n for n, s in enumerate(made.steps) if s.side == "right")
        half = ticked(made, at)
        self.assertIn("Left side", card_verdict(half).sentences[1].in_units("metric"))
        self.assertEqual(half.side("right")[0], 0)
        left = next(n for n, s in enumerate(made.steps) if s.side == "left" and s.stands == "stands")
        both = ticked(made, left)  # from here on two people can work: the first step of either side is free
        right = next(s for s in made.steps if s.side == "right" and s.stands == "stands")
        self.assertEqual((both.held(made.steps[left]), both.held(right)), ("", ""))
        self.assertTrue(both.held(next(s for s in made.steps if s.gate == "end")))

    def test_the_end(self) -> None:
        """All ticked, the card is done; what was by feel, drilled, skipped or overruled is listed with its side and reason."""
        made = found(with_sheet(KITS["helper_leaf"].model_copy(update={"drilling": True})))
        done = ticked(made, len(made.steps), "feel")
        self.assertTrue(done.done)
        self.assertEqual(card_verdict(done).tone, "level")
        self.assertIn("roller bolt, left", done.by_feel)
        self.assertEqual([s.side for s in done.irreversible], ["left", "right"])
        marks = [
            CardMark(
                key=s.key,
                state="overruled" if s.gate == "lift" else "done",
                note="on a lift" if s.gate == "lift" else "",
            )
            for s in made.steps
        ]
        self.assertEqual([m.note for _, m in progress(made, marks).deviations], ["on a lift"])
        gone = progress(made, [CardMark(key="kit-99-left")])
        self.assertEqual(gone.next, made.steps[0])

    def test_a_stop_taken_out_and_none_in_the_kit(self) -> None:
        """Written at its step, it stands on the label; with a stop of the kit's own, or left in, nothing is said; unanswered neither."""
        for code, answer, said in (
            ("FW-B", "taken out", False),
            ("FW-C", "taken out", True),
            ("FW-C", "left in", False),
            ("FW-C", "", False),
        ):
            kit = read_kit(next(one for one in SHELF if one["code"] == code))
            made = card(job(), kit)
            marks = tuple(CardMark(key=s.key, said=answer) for s in made.steps if s.fact == "old_stop")
            self.assertEqual(progress(made, marks).no_stop, said, (code, answer))
            told = label(job(fitting=Fitting(kit=kit, card=marks)), "metric").parts[0].limits
            self.assertEqual("no stop beneath" in told, said, told)
        own = read_kit(next(one for one in SHELF if one["code"] == "FW-M"))
        made = card(job(), own)
        self.assertFalse(progress(made, [CardMark(key=s.key, said="taken out") for s in made.steps]).no_stop)

    def test_how_it_is_lifted(self) -> None:
        """Each body style has its points, stands are for the rating and not for today's weight, an axle that is unbolted is held; what nobody weighed is
        lifted by two."""
        pack = with_sheet(KITS["added_leaf"])
        for body in BODIES:
            vehicle = job().vehicle.model_copy(update={"body": body, "rear_axle_kg": 1900.0})
            plan = lifting(job().model_copy(update={"vehicle": vehicle}), pack)
            self.assertEqual(plan.told[1].values["side"].value, 950.0)
            self.assertTrue("axle" in plan.words and plan.told[0].in_units("metric"))
        blind = job().vehicle.model_copy(update={"rear_axle_kg": None})
        self.assertIn(
            "not read off its plate",
            lifting(job().model_copy(update={"vehicle": blind}), pack).told[1].in_units("metric"),
        )
        self.assertIn("Nobody has said", str(found(pack).steps[0].told))
        self.assertIn("Nothing".lower(), str(found(with_sheet(KITS["hitch_damper"], 0)).steps[0].told).lower())
        light, weight = (pack.model_copy(update={"mass_kg": m}) for m in (8.0, 38.0))
        self.assertIsNone(heavy(light))
        self.assertEqual(heavy(weight).values["mass"].value, 38.0)  # type: ignore[union-attr]

    def test_a_fastener_that_no_step_names_is_tightened_where_the_vehicle_stands(self) -> None:
        """Off the ground before it comes down; on its wheels where nothing of the kit is done off the ground."""
        kit = with_sheet(KITS["insert"], spare=True)
        down = kit.model_copy(update={"steps": tuple(s.model_copy(update={"stands": "wheels"}) for s in kit.steps)})
        for one, stands in ((kit, "stands"), (down, "wheels")):
            rest = [s for s in card(job(), one).steps if s.key.startswith("rest-")]
            self.assertEqual({s.stands for s in rest}, {stands})

    def test_what_was_learnt_comes_along(self) -> None:
        """A note at its step, a step of the shop's own after it, one whose place is gone at the end; nothing of the card is lost by it."""
        kit = with_sheet(KITS["insert"])
        plain = card(job(), kit)
        known = (
            Learnt(what="note", key="threads", words="Heat shield first."),
            Learnt(what="step", key="kit-1-left", words="Photograph the nut."),
            Learnt(what="step", key="kit-88-left", words="Look once more."),
        )
        taught = card(job(), kit, known)
        self.assertEqual([s.key for s in taught.steps if not s.key.startswith("learnt")], [s.key for s in plain.steps])
        keys = [s.key for s in taught.steps]
        self.assertEqual(keys[keys.index("kit-1-left") + 1], "learnt-1")
        self.assertEqual((taught.step("learnt-1").side, keys[-2:]), ("left", ["learnt-2", "gate-end-1"]))  # type: ignore[union-attr]
        self.assertEqual(taught.step("threads").learnt[0].words, "Heat shield first.")  # type: ignore[union-attr]

    def test_another_order(self) -> None:
        """A step goes after another of its side; never over a lifting or lowering, never to the other side; all else stays, and each stays tightened once."""
        kit = with_sheet(KITS["insert"])
        plain = card(job(), kit)
        keys = [s.key for s in plain.steps]
        lefts = [s.key for s in plain.steps if s.side == "left"]
        first, third = lefts[0], lefts[2]
        later = card(
            job(),
            kit,
            (Learnt(what="moved", key=first, after=third, words="First the look, then the tools."),),
        )
        moved = [s.key for s in later.steps]
        self.assertEqual(sorted(moved), sorted(keys))
        self.assertEqual(moved.index(first), moved.index(third) + 1)
        for after in (third.replace("left", "right"), lefts[-1], "unpack", "kit-99-left"):
            self.assertEqual(
                [s.key for s in card(job(), kit, (Learnt(what="moved", key=first, after=after, words="x"),)).steps],
                keys,
                after,
            )

    def test_time_left(self) -> None:
        """What is still open takes its share of the kit's hours; a break counts for nothing; a box that lacks something holds everything."""
        made = found(with_sheet(KITS["insert"]))
        marks = [
            CardMark(key=s.key, at=f"2026-03-04T{8 + n // 6:02}:{10 * (n % 6):02}:00+00:00")
            for n, s in enumerate(made.steps[:4])
        ]
        late = [*marks, CardMark(key=made.steps[4].key, at="2026-03-05T09:00:00+00:00")]
        self.assertEqual(progress(made, late).worked_minutes, 30.0)
        self.assertLess(progress(made, late).minutes_left, 60.0 * made.kit.hours)
        stopped = progress(made, [CardMark(key="unpack", state="stopped", missing=("bolts",))])
        self.assertIn("Missing: bolts", stopped.held(made.steps[1]))
        self.assertEqual(
            (stopped.held(made.steps[0]), card_verdict(stopped).tone, stopped.next), ("", "limit", made.steps[0])
        )

    def test_a_wild_torque(self) -> None:
        """Ten times the table's, or a tenth, is asked about; near it is not, nor where the table has none."""
        made = found(with_sheet(KITS["replacement_spring"]))
        told = next(s for s in made.steps if s.fasteners).fasteners[0].torque_nm
        assert told is not None
        self.assertIsNone(torque_odd(told, told * 1.1))
        for times in (10.0, 0.1):
            self.assertIsNotNone(torque_odd(told, told * times))
        self.assertIsNone(torque_odd(None, 50.0))


class Hanging(unittest.TestCase):
    def test_what_hangs_on_the_axle_is_told_at_its_gate_and_looked_at_after(self) -> None:
        """Each thing that is there is told where the card asks for it and nowhere else; what nobody looked at, or is not there, is not told of."""
        kit = next(k for k in map(read_kit, SHELF) if family_of(k).for_height)
        for kind, one in HANGINGS.items():
            for fitted in get_args(Fitted):
                vehicle = job().vehicle.model_copy(update={"equipment": (Equipment(kind=kind, fitted=fitted),)})
                hung = job().model_copy(
                    update={"vehicle": vehicle, "fitting": Fitting(kit=kit, setting={}, state="loaded")}
                )
                there = fitted in ("factory", "later", "perished")
                gates = {
                    step.gate: [said.in_units("metric") for said in step.told]
                    for step in card(hung, kit).steps
                    if step.gate
                }
                for gate, words in {"lift": one.lift, "end": one.end}.items():
                    told = words in gates.get(gate, ())
                    self.assertEqual(told, there and bool(words) and gate in gates, (kind, fitted, gate))
                self.assertEqual(
                    kind in {task.key for task in care_tasks(hung)}, there and bool(one.after), (kind, fitted)
                )
                faulty = [finding.key for finding in census_findings(hung)]
                self.assertEqual(faulty, [f"hangs-{kind}"] if fitted in ("perished", "missing") else [])


class Stuck(unittest.TestCase):
    def test_every_way_ends(self) -> None:
        """From the beginning every answer leads on to a place there is, none goes round for ever, and each end says what to do."""
        places = tree()
        reached: set[str] = set()

        def walk(key: str, way: tuple[str, ...]) -> None:
            self.assertNotIn(key, way, way)
            node = places[key]
            reached.add(key)
            self.assertEqual(bool(node.asks), not node.ends, key)
            self.assertTrue(node.options or node.ends, key)
            for _, to in node.options:
                walk(to, (*way, key))

        walk(START, ())
        self.assertEqual(reached, set(places))
        for key in ("start-hot", "cut", "nut", "extract"):
            self.assertTrue(places[key].danger, key)
        self.assertEqual(at("nowhere").key, START)


class Minutes(unittest.TestCase):
    def test_the_second_side_is_foretold_from_the_first(self) -> None:
        """What the left took is from its first mark to its last; the right is foretold by the shop's share until it is done; one mark tells nothing."""
        made = found(with_sheet(KITS["air_spring"]))
        left = [s for s in made.steps if s.side == "left"]
        marks = [
            CardMark(key=s.key, at=f"2026-03-02T10:{10 + 6 * n:02d}:00{'+00:00' if n % 2 else ''}")
            for n, s in enumerate(left)
        ]
        told = progress(made, marks)
        self.assertEqual(told.minutes("left"), 6 * (len(left) - 1))
        self.assertIsNone(told.minutes("right"))
        self.assertAlmostEqual(told.foretold or 0.0, 0.8 * 6 * (len(left) - 1))
        self.assertIsNone(progress(made, marks[:1]).foretold)
        self.assertIsNone(progress(made, [CardMark(key=left[0].key, at="noon")]).minutes("left"))
