"""The prover of cards: every card that the program can make is proved, and every planted fault is found at its step."""

from __future__ import annotations

import unittest
from collections.abc import Callable, Sequence
from dataclasses import replace

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.samples import job
from tests.told import held_against
from vantok.shop.starter_kits import KITS
from vantok_core.facts import Kit
from vantok_core.facts.classes import SPRINGS
from vantok_core.facts.kit import KitStep
from vantok_core.kits.registry import FAMILIES, family_of, read_kit
from vantok_core.procedure.card import Card, Step, card
from vantok_core.procedure.needs import head_words, needs
from vantok_core.procedure.picture import part_of, picture
from vantok_core.procedure.prover import Rule, faults
from vantok_core.procedure.standing import standing
from vantok_core.procedure.templates import constructions, steps_of, usual_sheet

SHELF = {one["code"]: read_kit(one) for one in KITS}
ACCESS = ("wheels", "air box", "wheel-arch liners", "dampers", "tool box", "axle bolts", "exhaust", "spare wheel")


def built(construction: str) -> Kit:
    """Return a kit of a construction: the shelf's first, else one of the shelf's whose data are told otherwise."""
    for kit in SHELF.values():
        if family_of(kit).construction(kit) == construction:
            return kit
    code, told = OTHERWISE[construction]
    kit = SHELF[code].model_copy(update=told)
    return kit.model_copy(
        update={"fasteners": read_kit(kit.model_dump() | {"fasteners": usual_sheet(kit)["fasteners"]}).fasteners}
    )


OTHERWISE = {
    "sleeve_at_stop": ("FW-M", {"shape": "sleeve", "replaces_stop": True}),
    "insert_clamped": ("SR-60", {"mount": "clamp"}),
    "strut": ("BD-F8", {"mounts": "strut"}),
    "damper_stem": ("BD-R8", {"mounts": "stem"}),
}
"""Constructions that no demo kit is of: made of one whose own data say so."""


def of(kit: Kit) -> Card:
    """Return a kit's card on the sample vehicle."""
    return card(job(), kit)


def changed(kit: Kit, change: Callable[[list[KitStep]], Sequence[KitStep]]) -> Card:
    """Return a kit's card with its steps changed, as a shop changes them."""
    return of(kit.model_copy(update={"steps": tuple(change(list(steps_of(kit))))}))


def without(word: str) -> Callable[[list[KitStep]], list[KitStep]]:
    """Return a change that loses the last step that says a word."""

    def change(steps: list[KitStep]) -> list[KitStep]:
        n = max(n for n, s in enumerate(steps) if word in s.words)
        return [s for m, s in enumerate(steps) if m != n]

    return change


def told(word: str, **more: object) -> Callable[[list[KitStep]], list[KitStep]]:
    """Return a change that makes the first step that says a word say more."""

    def change(steps: list[KitStep]) -> list[KitStep]:
        n = next(n for n, s in enumerate(steps) if word in s.words)
        return [s.model_copy(update=more) if m == n else s for m, s in enumerate(steps)]

    return change


def sooner(word: str, before: str) -> Callable[[list[KitStep]], list[KitStep]]:
    """Return a change that does the first step that says a word before another."""

    def change(steps: list[KitStep]) -> list[KitStep]:
        one = next(s for s in steps if word in s.words)
        rest = [s for s in steps if s is not one]
        n = next(n for n, s in enumerate(rest) if before in s.words)
        return [*rest[:n], one, *rest[n:]]

    return change


def cut(made: Card, lost: Callable[[Step], bool]) -> Card:
    """Return a card without some of its steps or gates."""
    return replace(made, steps=tuple(s for s in made.steps if not lost(s)))


PLANTED: tuple[tuple[str, Callable[[list[KitStep]], Sequence[KitStep]], Rule], ...] = (
    ("bag_in_coil", without("Damper's lower end in"), "left off"),
    ("bag_in_coil", without("Bar link in"), "left off"),
    ("bag_in_coil", without("back into their clips"), "lowered open"),
    ("bag_in_coil", without("kit's minimum"), "empty bag"),
    ("bag_in_coil", told("Fill both", air="working"), "working off the ground"),
    ("bag_in_coil", told("Damper bolt and link nut", stands="stands"), "clamped hanging"),
    ("bag_in_coil", without("Let the axle down"), "stored energy"),
    ("bag_in_coil", without("seats have closed"), "relieved at the end"),
    ("bag_in_coil", told("Let the axle down", caution=""), "no caution"),
    ("bag_in_coil", sooner("Coil out", "Let the axle down"), "stored energy"),
    ("bag_between_windings", without("coil carries again"), "lowered loose"),
    ("bag_between_windings", told("Fill both", caution=""), "no caution"),
    ("bellows", without("kit's minimum"), "empty bag"),
    ("bellows", sooner("Fill to the pressure", "Fill both"), "empty bag"),
    ("bellows", told("Old stop", irreversible=True, caution="Goggles."), "drilled"),
    (
        "bellows",
        told(
            "Tighten upper bracket", tightens=("upper bracket bolt", "bag bolt", "clamp bolt at the pad", "air fitting")
        ),
        "tightened twice",
    ),
    ("sleeve_at_stop", without("Upper bracket where the stop was"), "left off"),
    ("insert_screwed", sooner("locker on its thread", "Down on its wheels"), "locker before the gap"),
    ("insert_screwed", without("read the gap"), "locker before the gap"),
    ("insert_bracketed", sooner("Locker, then bracket", "Down on its wheels"), "locker before the gap"),
    ("insert_clamped", told("read the gap", trial=""), "trial not read"),
    ("winding_block", without("watch it seat"), "relieved at the end"),
    ("winding_block", told("Let the axle down", caution=""), "no caution"),
    ("helper_leaf", without("Let the clamps off"), "left off"),
    ("helper_leaf", sooner("Roller into", "Clamps on both ends"), "stored energy"),
    ("added_leaf", without("Clamp off"), "lowered open"),
    ("added_leaf", without("New axle bolts"), "left off"),
    ("added_leaf", told("New axle bolts", energy=""), "relieved at the end"),
    ("added_leaf", sooner("Axle bolts off", "Raise the axle"), "stored energy"),
    ("leaf_pack", told("Eye bolts and damper bolt", stands="wheels"), "clamped hanging"),
    ("leaf_pack", without("new spring up"), "left off"),
    ("coil_change", sooner("Coil out", "Spring compressor on"), "stored energy"),
    ("coil_change", without("New coil in"), "left off"),
    ("strut", sooner("Centre nut off", "On the bench"), "stored energy"),
    ("strut", without("Strut up"), "left off"),
    ("rubber_shackle", sooner("Old shackle out", "Take the weight off"), "stored energy"),
    ("torsion_adjuster", sooner("Change the key", "Unload the bar"), "stored energy"),
    ("anti_roll_bar", told("On the ground", stands="stands"), "clamped hanging"),
    ("damper_eye", without("New one up"), "left off"),
    ("damper_eye", sooner("New one up", "Lower end off"), "back before off"),
    ("damper_stem", told("Lower bolt with", stands="stands"), "clamped hanging"),
    ("stabilizer", without("Wheels on"), "left off"),
    ("weight_hitch", sooner("Bars in", "Coupled and locked"), "stored energy"),
    ("hitch_damper", without("Couple, chains"), "left off"),
)
"""A construction, what is spoilt of its steps, and the rule that must speak."""


SIGN = {"wheels": "on its wheels", "stands": "on stands", "ride_height": "at ride height"}


def printed_card(kit: Kit) -> str:
    """Return a card as a list: gates, then step by step with its side, where the vehicle stands, what is off after it, and the torques; of what is the same
    on both sides the left alone."""
    made, lines = of(kit), [f"{family_of(kit).construction(kit).upper()}: {kit.name}"]
    for n, step in enumerate(made.steps):
        if step.side == "right" and not step.one_sided:
            continue
        torques = [f"{f.name} {f.torque_nm:g} N m" if f.torque_nm else f"{f.name} by feel" for f in step.fasteners]
        stands = standing(s for s in made.steps[: n + 1] if s.side != "right")
        off = ", ".join(name for name, _ in stands.off)
        told = [*torques, *([f"off: {off}"] if off else []), *([f"air {step.air}"] if step.air else [])]
        told += ["relieved"] if stands.relieved else []
        where = f"GATE {step.gate}" if step.gate else f"{step.side}, {SIGN[step.stands]}"
        lines.append(f"  {where}: {step.words}" + (f" [{' · '.join(told)}]" if told else ""))
        lines += [f"      ! {step.caution}"] if step.caution else []
        lines += [f"      = {step.check}"] if step.check else []
    return "\n".join(lines)


class Prover(unittest.TestCase):
    def test_every_construction_is_of_some_kit_and_every_kit_of_one(self) -> None:
        """Each family's kits are of a construction that is written out; each construction is made; its sheet names no fastener that it has not."""
        for kit in SHELF.values():
            self.assertIn(family_of(kit).construction(kit), constructions(), kit.code)
        self.assertEqual({kit.family for kit in SHELF.values()}, set(FAMILIES))
        for name, sheet in constructions().items():
            kit = built(name)
            self.assertEqual(family_of(kit).construction(kit), name)
            known = {one["name"] for one in sheet["fasteners"]}
            self.assertTrue(sheet["tools"] and sheet["first"] and len(sheet["label"]) == 2, name)
            self.assertEqual(
                [str(s.told[0].in_units("metric")) for s in of(kit).steps if s.gate == "end"], sheet["first"]
            )
            named = {n for step in sheet["steps"] for n in step.get("tightens", ())}
            self.assertEqual(named, known, name)

    def test_the_vehicles_state_is_carried_through(self) -> None:
        """After every step of every demo kit's card what is off is what was opened and not closed since; at the end nothing is off, it stands on its wheels,
        no spring is relieved; a bag in a coil by hand."""
        for kit in SHELF.values():
            steps = of(kit).steps
            ends = standing(steps)
            self.assertEqual((ends.lifted, ends.off, ends.relieved), (False, (), False), kit.code)
            let_go: set[str] = set()
            for n, step in enumerate(steps):
                if step.stands == "stands":
                    self.assertTrue(standing(steps[: n + 1]).lifted, (kit.code, step.words))
                let_go |= {step.side} if step.energy == "unloads" else set()
                let_go -= (
                    ({"left", "right", "once"} if step.side == "once" else {step.side, "once"})
                    if step.energy == "loads"
                    else set()
                )
                self.assertEqual(standing(steps[: n + 1]).relieved, bool(let_go), (kit.code, step.words))
        steps = of(SHELF["FW-B"]).steps
        at = next(n for n, s in enumerate(steps) if s.side == "right" and "Squeeze the bag" in s.words)
        now = standing(steps[: at + 1])
        self.assertEqual((now.lifted, now.air, now.relieved), (True, "out", True))
        self.assertIn(("coil spring", "right"), now.off)
        self.assertNotIn(("coil spring", "left"), now.off)
        self.assertIn("on stands · off: line clips, left", now.said.in_units("metric"))
        self.assertEqual(standing(steps[:2]).said.in_units("metric"), "")
        off, on = (next(s for s in steps if s.energy == way) for way in ("unloads", "loads"))
        both = [replace(off, side="left"), replace(off, side="right"), replace(on, side="left")]
        self.assertTrue(standing(both).relieved)
        self.assertFalse(standing([*both, replace(on, side="right")]).relieved)

    def test_what_is_laid_out_first(self) -> None:
        """Every fastener once with how many there are on both sides, a wrench that spans the figures, locker where one is locked, stands where it is lifted,
        air's own tools for air; nothing that this card does not need."""
        for code in ("FW-M", "SR-35", "HF-1", "CC-2"):
            made = of(SHELF[code])
            found = needs(made)
            told = " ".join(one.in_units("metric") for one in found.tools)
            sides = 2 if family_of(made.kit).both_sides else 1
            self.assertEqual(
                {t.fastener.name: t.count for t in found.torques}, {f.name: f.count * sides for f in made.kit.fasteners}
            )
            figures = [f.torque_nm for f in made.kit.fasteners if f.torque_nm is not None]
            self.assertEqual(
                f"{min(figures):.0f}" in told and f"{max(figures):.0f}" in told if figures else "wrench" not in told,
                True,
            )
            self.assertEqual("stands" in told, any(s.stands == "stands" for s in made.steps))
            self.assertEqual("thread locker" in told, any(f.state == "locker" for f in made.kit.fasteners))
            self.assertEqual("line cutter" in told, family_of(made.kit).sealed)
            self.assertEqual("vehicle maker's torques" in told, any(f.whose == "vehicle" for f in made.kit.fasteners))
            self.assertEqual(found.parts, made.kit.contents)

    def test_the_cards_as_they_are_printed(self) -> None:
        """One card of each construction, as the hands read it: what changes in a card is seen here line by line, and read before it is kept."""
        printed = "\n\n".join(printed_card(built(name)) for name in constructions()) + "\n"
        held_against(self, "cards", printed.splitlines())

    def test_every_demo_kit(self) -> None:
        """The card of each demo kit, on this vehicle, can be followed."""
        for code, kit in SHELF.items():
            with self.subTest(kit=kit.name, construction=family_of(kit).construction(kit)):
                self.assertEqual([(f.key, f.words) for f in faults(of(kit))], [], code)

    @settings(max_examples=150, deadline=None)
    @given(
        st.sampled_from(sorted(constructions())),
        st.sets(st.sampled_from(ACCESS), max_size=4),
        st.sampled_from(sorted(SPRINGS)),
        st.sampled_from((True, False, None)),
        st.sampled_from(("front", "rear")),
    )
    def test_every_card_there_can_be(
        self, name: str, access: set[str], spring: str, drilled: bool | None, axle: str
    ) -> None:
        """Whatever must come off first, on any spring, drilled, not, or not known, at either axle."""
        kit = built(name).model_copy(
            update={"access": dict.fromkeys(sorted(access), 0.2), "drilling": drilled, "axle": axle}
        )
        one = job()
        made = card(one.model_copy(update={"vehicle": one.vehicle.model_copy(update={"rear_spring": spring})}), kit)
        self.assertEqual([(f.key, f.words) for f in faults(made)], [])
        self.assertEqual(any(s.irreversible for s in made.steps) and drilled is not True, False)

    def test_the_bolt_by_its_spacer_the_washer_by_its_year(self) -> None:
        """Of alike fasteners the one that goes is asked for; while nobody can tell which, the step says what hangs on it and waits."""

        def asked(code: str, step: str, year: int | None, setting: dict[str, tuple[float, float]]) -> list[object]:
            one = job()
            on = one.model_copy(update={"vehicle": one.vehicle.model_copy(update={"year": year})})
            made = card(on, SHELF[code], (), setting)
            self.assertEqual(faults(made), ())
            return [s.lacks or [f.name for f in s.fasteners] for s in made.steps if step in s.words and not s.gate]

        bolts = asked("SR-35", "locker on its thread", None, {"spacer_m": (0.006, 0.012)})
        self.assertEqual(bolts, [["insert bolt, short"], ["insert bolt, long"]])
        self.assertIn("hangs on what it is set to", str(asked("SR-35", "locker on its thread", 2012, {})[0]))
        for year, washer in ((2014, "plain"), (2015, "stepped")):
            self.assertEqual(asked("GB-R7", "links last", year, {}), [[f"link bolt, {washer} washer"]])
        self.assertIn("hangs on the model year", str(asked("GB-R7", "links last", None, {})[0]))
        self.assertIn("no bolt for this", str(asked("SR-35", "locker on", 2012, {"spacer_m": (0.0085, 0.1)})[0]))

    def test_every_picture_is_of_the_vehicle_as_it_stands(self) -> None:
        """Over every demo card: what a picture has off is off by the steps before it, and nothing is at the end; stands where it is lifted; the part that a
        step takes off or puts back is the one marked."""
        shown = 0
        for kit in SHELF.values():
            made = of(kit)
            for n, step in enumerate(made.steps):
                seen = picture(made, step)
                if seen is None:
                    continue
                shown += 1
                stands = standing(s for s in made.steps[:n] if "once" in (s.side, step.side) or s.side == step.side)
                off = {part_of(name) for name, _ in stands.off} - {None}
                with self.subTest(kit=kit.name, step=step.words, side=step.side):
                    self.assertEqual({part for part, state in seen.parts.items() if state == "off"}, off)
                    self.assertEqual(seen.lifted, stands.lifted)
                    named = {part_of(name) for name in (*step.opens, *step.closes) if name} - {None}
                    self.assertLessEqual(named, set(seen.marked))
                    self.assertTrue(seen.marked or seen.marks_jack or seen.marks_stands)
                    self.assertFalse(seen.jack and not seen.lifted)
                    since = [s.gate for s in made.steps[: n + 1]][::-1].index("lift") if seen.lifted else 0
                    held = made.steps[n - since : n + 1] if seen.lifted else ()
                    here = [s for s in held if "once" in (s.side, step.side) or s.side == step.side]
                    self.assertEqual(seen.jack, any(s.moves or (s is step and s.gate == "move") for s in here))
                    if (
                        step.fact
                        and step.key.startswith("kit")
                        and not (named or step.off or step.on or step.fasteners)
                    ):
                        place = "stop" if step.fact == "old_stop" else usual_sheet(kit)["place"]
                        self.assertEqual(seen.marked, (place,))
            last = picture(made, replace(made.steps[-2], key=made.steps[-2].key))
            self.assertFalse(last and "off" in last.parts.values(), kit.name)
        self.assertGreater(shown, 400)

    def test_a_stop_taken_out_is_not_drawn_any_more(self) -> None:
        """After the step that takes a side's old stop out, its picture has none; before it, and where it stayed in, it stands there."""
        shown = 0
        for kit in SHELF.values():
            made = of(kit)
            for n, step in enumerate(made.steps):
                before = [s for s in made.steps[:n] if s.side == step.side or "once" in (s.side, step.side)]
                gone = any(s.fact == "old_stop" for s in before)
                for out in (True, False) if gone else ():
                    seen = picture(made, step, stop_out=out)
                    if seen is not None and "stop" in seen.parts:
                        shown += 1
                        self.assertEqual(seen.parts["stop"] == "off", out, (kit.code, step.words))
        self.assertGreater(shown, 20)

    def test_heads_in_both_systems(self) -> None:
        """A metric head by its millimetres, an inch head by its fraction, each with the other beside it."""
        self.assertEqual(head_words(0.017), "17 mm (0.67 in)")
        self.assertEqual(head_words(0.0142875), "9/16 in (14.3 mm)")
        self.assertEqual(head_words(0.028575), "1 1/8 in (28.6 mm)")

    def test_planted_faults_are_found(self) -> None:
        """Each of them, by its own rule; before it was planted nothing is found."""
        self.assertGreaterEqual(len(PLANTED), 30)
        lines = []
        for name, change, rule in PLANTED:
            kit = built(name)
            with self.subTest(construction=name, rule=rule, change=change.__qualname__):
                self.assertEqual(faults(of(kit)), ())
                found = faults(changed(kit, change))
                self.assertIn(rule, {f.rule for f in found}, [f.words for f in found])
                lines.append(f"{name}: {' | '.join(f'{f.rule} at {f.key}: {f.words}' for f in found)}")
        held_against(self, "faults", lines)

    def test_planted_in_the_gates_and_sides(self) -> None:
        """A gate lost, one too many, one side's step lost, both sides begun that go one at a time, a part put on and never off."""
        kit = built("added_leaf")
        made = of(kit)
        for lost, rule in (
            (lambda s: s.gate == "lift", "gate missing"),
            (lambda s: s.gate == "lower", "moved without a gate"),
            (lambda s: s.gate == "move", "moved without a gate"),
            (lambda s: s.gate == "baseline", "gate missing"),
            (lambda s: s.gate == "end", "gate missing"),
            (lambda s: s.side == "right" and "Clamp the pack" in s.words, "not alike"),
            (lambda s: s.side == "right" and bool(s.fasteners), "not tightened"),
        ):
            self.assertIn(rule, {f.rule for f in faults(cut(made, lost))}, rule)
        gate = next(s for s in made.steps if s.gate == "move")
        more = replace(made, steps=(*made.steps[:3], replace(gate, key="gate-move-9"), *made.steps[3:]))
        self.assertIn("gate for nothing", {f.rule for f in faults(more)})
        alone = [n for n, s in enumerate(made.steps) if s.alone]
        steps = list(made.steps)
        left, right = alone[1], next(n for n in alone if made.steps[n].side == "right")
        steps[left], steps[right] = steps[right], steps[left]
        self.assertIn("one side at a time", {f.rule for f in faults(replace(made, steps=tuple(steps)))})
        still = of(built("hitch_damper"))
        lift = next(s for s in made.steps if s.gate == "lift")
        nothing = [f for f in faults(replace(still, steps=(*still.steps, lift))) if f.rule == "gate for nothing"]
        self.assertEqual([f.key for f in nothing], [lift.key], "told at the gate itself")
        box = of(kit.model_copy(update={"access": {"tool box": 0.3}}))
        self.assertIn("left off", {f.rule for f in faults(cut(box, lambda s: bool(s.on)))})

    def test_a_step_of_one_side_alone(self) -> None:
        """It stands at its side, in its place, and the other has none; a card with it can be followed; of a fastener that only it tightens the other side is
        still asked."""
        kit = SHELF["CH-4"]
        trim = KitStep(words="Trim the bracket beside the exhaust.", side="right", fact="old_stop")
        steps = list(steps_of(kit))
        made = of(kit.model_copy(update={"steps": (*steps[:2], trim, *steps[2:])}))
        self.assertEqual(faults(made), ())
        words = [(s.side, s.words) for s in made.steps if s.key.startswith("kit")]
        at = words.index(("right", trim.words))
        self.assertEqual([w for w in words if w[1] == trim.words], [("right", trim.words)])
        self.assertEqual(words[at - 1], ("right", steps[1].words))
        lone = [s.model_copy(update={"side": "left"}) if "Roller into" in s.words else s for s in steps]
        self.assertIn("not tightened", {f.rule for f in faults(of(kit.model_copy(update={"steps": tuple(lone)})))})

    def test_a_shops_old_steps_that_declare_nothing_are_not_accused(self) -> None:
        """A sheet typed before steps said what they do to the vehicle: nothing is claimed of it but what it shows."""
        plain = [
            KitStep(words=s.words, stands=s.stands, side=s.side, tightens=s.tightens)
            for s in steps_of(built("bag_in_coil"))
        ]
        made = of(built("bag_in_coil").model_copy(update={"steps": tuple(plain)}))
        self.assertEqual(faults(made), ())


if __name__ == "__main__":
    unittest.main()
