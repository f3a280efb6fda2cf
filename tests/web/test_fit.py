"""The fitting card: ticked in order, gates held, overruled by the lead alone, wild torques asked about; what it leaves stands in report and file."""

from __future__ import annotations

from dataclasses import replace
from unittest.mock import Mock

from django.urls import reverse

from tests.web.base import DemoCase, words
from tests.web.test_measure import picture
from vantok.desk.load import Desk
from vantok.desk.sentences import WITHOUT_CARD, _on_the_card
from vantok.records.choose.models import Fitting, kind_of
from vantok.records.jobs.models import Job
from vantok.records.shelf.models import KitRecord, LearntRecord
from vantok.stages.fit.marks import stamp_of
from vantok_core.facts.kit import ANSWERS
from vantok_core.procedure.card import Step
from vantok_core.procedure.progress import Progress
from vantok_core.procedure.templates import steps_of

MADE = {"pressure_pa": "2.5 bar", "spacer_m": "6 mm", "hole_count": "2", "link_count": "2", "click_count": "3"}
"""What a hand writes down of a setting, as made."""


def said(step: Step) -> dict[str, str]:
    """Return what a step asks, as a hand answers it: each fastener to its figure, by feel where it has none; what is to be written down."""
    told = {f"reached-{n}": "told" if one.torque_nm else "feel" for n, one in enumerate(step.fasteners)}
    return told | ({"fact": MADE.get(step.fact) or ANSWERS.get(step.fact, ("as it was",))[0]} if step.fact else {})


class Drawn(DemoCase):
    def test_the_kit_is_drawn_from_set_on(self) -> None:
        """What a stage draws by itself: with the kit from Set on, before that without."""
        desk = Desk.look(self.job("038").pk)
        self.assertEqual(desk.stance("set"), desk.stance("set", state="+kit"))
        self.assertNotEqual(desk.stance("diagnose"), desk.stance("diagnose", state="+kit"))

    def test_a_card_nobody_ticked_is_told_so_only_where_every_kit_is_set(self) -> None:
        """Of two kits set without their cards the sentence says so; with one still to be set the card asks for its first step."""
        open_card = Desk.look(self.job("038").pk).cards[0]
        card = replace(open_card, marks={})
        for parts, told in (((True, True), True), ((True, False), False)):
            desk = Mock(cards=[card, card], job=Mock(parts=[Mock(done=one) for one in parts]))
            self.assertEqual(_on_the_card(desk).sentences == (WITHOUT_CARD,), told)


class Card(DemoCase):
    def card(self, job: Job, part: int = 0) -> Progress:
        """Return the card as it stands."""
        return Desk.look(job.pk).cards[part]

    def leave(self, job: Job, key: str, action: str = "tick", **told: object) -> str:
        """Post a step, with every point of a gate ticked unless told otherwise."""
        step, fitting = self.card(job).card.step(key), Fitting.objects.filter(job=job).first()
        so = [str(n) for n in range(1, len(step.asks) + 1)] if step else []
        card = stamp_of(fitting.pk, step) if step and fitting else "0.gone"
        there = [str(n) for n in range(1, 20)] if key == "unpack" else []
        return words(
            self.client.post(
                reverse("fit", args=[job.pk]),
                {"key": key, "action": action, "so": so, "there": there, "card": card}
                | (said(step) if step else {})
                | told,
                follow=True,
            )
        )

    def begun(self) -> Job:
        """Return a job with a kit chosen and nothing of its card done."""
        job = self.job("041")
        answer = self.client.post(reverse("choose", args=[job.pk]), {"kit": "FW-M"})
        self.assertEqual(answer["Location"], reverse("fit", args=[job.pk]))
        return job

    def test_a_kit_that_is_ordered_is_waited_for_until_its_box_is_opened(self) -> None:
        """The board says for when it is promised, and the job's file too; no day is refused and nothing kept; with the box open nothing waits any more."""
        job = self.begun()

        def order(**told: str) -> str:
            return words(self.client.post(reverse("fit", args=[job.pk]), {"action": "ordered"} | told, follow=True))

        self.assertIn("that is no day", order(expected="31/31"))
        self.assertIsNone(Desk.look(job.pk).facts.job.parts[0].ordered)
        self.assertIn("promised for 24 December", order(expected="2026-12-24", of="A 4711"))
        board = "parts: Ferrywell bellows, middle, promised for 24 December"
        self.assertEqual(Job.objects.get(pk=job.pk).waits, board)
        self.assertIn(board, self.page("board"))
        kept = self.client.get(reverse("job-file", args=[job.pk])).json()["fitting"]["ordered"]
        self.assertEqual((kept["expected"], kept["of"], kept["by"]), ("2026-12-24", "A 4711", "Marit Solheim-Vane"))
        self.assertIn("unknown 24 December, A 4711", self.page("history", job))
        self.assertIn("Ordered", order(expected=""))
        self.assertEqual(Job.objects.get(pk=job.pk).waits, "parts: Ferrywell bellows, middle, ordered")
        self.leave(job, "unpack")
        self.assertEqual(Job.objects.get(pk=job.pk).waits, "")
        self.assertIn("its box is open already", order(expected="2026-12-24"))

    def test_from_the_box_to_set(self) -> None:
        """Every step in its order; the sentence says where it stands; at the end Set is next, and report, history and file have what is to remember."""
        job = self.begun()
        self.assertTrue("Next: Lay out the box" in self.page("fit", job))
        while (step := self.card(job).next) is not None:
            before = len(self.card(job).marks)
            feel = {f"reached-{n}": "feel" for n, _ in enumerate(step.fasteners)} if step.side == "left" else {}
            self.leave(job, step.key, **feel, **({"fact": "2 spacers, bagged"} if step.gate == "end" else {}))
            self.assertEqual(len(self.card(job).marks), before + 1, step)
        self.assertTrue("The card of Ferrywell bellows, middle is done" in self.page("fit", job))
        self.assertTrue(Desk.look(job.pk).done["fit"])
        self.assertTrue("By feel, to be looked at again" in self.page("report", job))
        self.assertIsNotNone(Job.objects.get(pk=job.pk).began)
        marks = self.client.get(reverse("job-file", args=[job.pk])).json()["fitting"]["card"]
        self.assertEqual(len(marks), len(self.card(job).card.steps))
        self.assertEqual({m["by"] for m in marks}, {"Marit Solheim-Vane"})
        self.assertTrue("Parts over: 2 spacers, bagged" in self.page("report", job))
        last = self.card(job).card.steps[-1].key
        self.assertTrue("only the last step" in self.leave(job, marks[0]["key"], "back"))
        self.leave(job, last, "back")
        self.assertFalse(self.card(job).done)

    def test_out_of_order_and_gates(self) -> None:
        """A step before its turn, a gate with a point open, one skipped: each with its sentence, nothing done is lost; the lead overrules, and it is kept."""
        job = self.begun()
        steps = self.card(job).card.steps
        lift = next(s for s in steps if s.gate == "lift")
        self.assertTrue("First: Lay out the box" in self.leave(job, lift.key))
        for step in steps[: steps.index(lift)]:
            self.leave(job, step.key)
        count = len(self.card(job).marks)
        self.assertTrue("A gate holds until each of its points is so" in self.leave(job, lift.key, so=["1"]))
        self.assertTrue("A gate is not skipped" in self.leave(job, lift.key, "skip", note="no time"))
        self.assertTrue("Say why" in self.leave(job, lift.key, "overrule"))
        self.assertTrue("This was for another card" in self.leave(job, "kit-77-left"))
        self.assertEqual(len(self.card(job).marks), count)
        self.sign_in("tobin")
        refused = self.client.post(
            reverse("fit", args=[job.pk]), {"key": lift.key, "action": "overrule", "note": "it is on a lift"}
        )
        self.assertEqual(refused.status_code, 403)
        self.sign_in("jude")
        self.assertEqual(
            self.client.post(reverse("fit", args=[job.pk]), {"key": lift.key, "action": "tick"}).status_code, 403
        )
        self.assertTrue("A technician or the lead ticks the card" in self.page("fit", job))
        self.sign_in("marit")
        self.leave(job, lift.key, "overrule", note="it is on a lift")
        self.assertTrue("it is on a lift" in self.page("report", job))
        self.leave(job, next(s for s in steps if s.gate == "stands").key)
        right = next(s for s in steps if s.side == "right" and s.stands == "stands")
        self.assertTrue("Right: " in self.page("fit", job))
        self.leave(job, right.key)
        self.leave(job, right.key)  # a second tap
        self.assertEqual([m.key for m in self.card(job).marks.values()].count(right.key), 1)

    def test_a_box_that_lacks_something(self) -> None:
        """What is not counted is asked for; what is missing stops the job with a sentence, everywhere, until it is there."""
        job = self.begun()
        but_the_valves = [str(n) for n in range(1, 20) if n != 6]
        self.assertTrue("Not counted: valves × 2" in self.leave(job, "unpack", there=but_the_valves))
        self.assertTrue("nothing is missing" in self.leave(job, "unpack", "stop"))
        self.leave(job, "unpack", "stop", there=but_the_valves)
        found = self.card(job)
        self.assertEqual((found.missing, found.open[0].key), (("valves × 2",), "unpack"))
        self.assertTrue("Missing: valves × 2" in self.leave(job, "threads"))
        self.assertTrue("Waits for parts: valves × 2" in self.page("board"))
        self.assertEqual(
            self.client.get(reverse("job-file", args=[job.pk])).json()["fitting"]["card"][0]["missing"], ["valves × 2"]
        )
        self.leave(job, "unpack", "stop", there=[str(n) for n in range(1, 8)])  # the tools are counted too
        self.assertIn("Missing: second jack for the axle", self.leave(job, "threads"))
        self.leave(job, "unpack")
        self.assertEqual((self.card(job).missing, len(self.card(job).marks)), ((), 1))

    def test_written_down_at_a_step(self) -> None:
        """The hole used, the old stop's fate, the line's way: written at the step, in the reader's units, and Set opens with them; past the kit's limits is
        refused."""
        job = self.job("041")
        self.client.post(reverse("choose", args=[job.pk]), {"kit": "CH-4"})
        for step in self.card(job).card.steps:
            if step.fact == "hole_count":
                self.assertTrue("past what the kit can be set to" in self.leave(job, step.key, fact="9"))
                self.assertTrue("does not read" in self.leave(job, step.key, fact="the third"))
                self.leave(job, step.key, fact="3")
                if step.side == "right":
                    break
            else:
                self.leave(job, step.key)
        self.assertEqual(Fitting.objects.get(job=job).setting["hole_count"], [3.0, 3.0])
        self.assertTrue("From the card: left 3; right 3" in self.page("set", job))
        self.assertEqual(Desk.look(job.pk).cards[0].written[0][1].figure, 3.0)

    def test_what_differs_between_the_sides_is_asked_about(self) -> None:
        """The old stop left in on one side and out on the other: asked about, and taken with a note that says why; an answer that is none is refused.
        With none in the kit, Set, report and label say that nothing carries when it is empty."""
        record = KitRecord.objects.get(code="FW-M")
        record.data = {**record.data, "own_stop": False}
        record.save()
        job = self.begun()
        for step in self.card(job).card.steps:
            if step.fact == "old_stop" and step.side == "left":
                self.assertIn("It is one of: left in, taken out", self.leave(job, step.key, fact="somewhere"))
                self.assertIn("Write it down first", self.leave(job, step.key, fact=""))
            if step.fact == "old_stop" and step.side == "right":
                self.assertIn("The other side was left in", self.leave(job, step.key, fact="taken out"))
                self.leave(job, step.key, fact="taken out", note="torn off before")
                self.assertEqual(self.card(job).marks[step.key].said, "taken out")
                for stage in ("set", "report", "label"):
                    self.assertRegex(self.page(stage, job), "There is no stop now|no stop beneath", stage)
                return
            self.leave(job, step.key)
        self.fail("the old stop was never asked for")

    def test_photographs_at_steps(self) -> None:
        """One taken at a step stands there; those of the baseline stand at the last gate, to be taken again from the same place; nonsense is no step."""
        job = self.begun()
        for step in ("0:gate-baseline-1", "0:unpack", "9:<b>"):
            self.client.post(reverse("photos", args=[job.pk]), {"photo": picture((9, 9)), "step": step})
        self.assertEqual([p.step for p in job.photos.all()], ["0:gate-baseline-1", "0:unpack", ""])
        self.assertTrue("Photograph (1)" in self.page("fit", job))
        for step in self.card(job).card.steps[:-1]:
            self.leave(job, step.key)
        gate = self.client.get(reverse("fit", args=[job.pk]))
        self.assertIn("As it came: take each again from the same place", words(gate))
        shown = gate.content.decode()
        self.assertTrue(reverse("photo", args=[job.photos.all()[0].pk]) in shown)

    def test_what_a_card_taught(self) -> None:
        """A note, a step of the shop's own, why one was left out: on this card at once, and on the next vehicle of this kind where it was kept; the minutes a
        card took stand by the next; no customer's name goes with it."""
        job = self.begun()
        keep = {"keep": "1"}
        self.leave(job, "threads", "learn", words="Heat shield bolt: 13 mm, from above.", what="note", **keep)
        self.leave(job, "unpack", "learn", words="Photograph the valve place.", what="step", **keep)
        self.assertTrue("Say what is to be known" in self.leave(job, "unpack", "learn", words=" ", **keep))
        self.assertEqual([s.key for s in self.card(job).card.steps[:3]], ["unpack", "learnt-1", "threads"])
        self.leave(job, "unpack")
        self.assertTrue("Photograph the valve place." in self.page("fit", job))
        moved = {"what": "moved", "words": "Bolts before the bracket."}
        self.assertTrue(
            "nothing lifted or lowered between" in self.leave(job, "kit-2-left", "learn", after="kit-2-right", **moved)
        )
        first, second = [s.key for s in self.card(job).card.steps if s.side == "left"][:2]
        self.leave(job, first, "learn", after=second, **moved)
        order = [s.key for s in self.card(job).card.steps]
        self.assertEqual(order.index(first), order.index(second) + 1)
        other = self.job("035")
        self.client.post(reverse("choose", args=[other.pk]), {"kit": "FW-M"})
        self.assertEqual(
            LearntRecord.objects.values_list("kind", flat=True)[0], kind_of(job.vehicle, self.card(job).card.kit)
        )
        kit = self.card(job).card.kit
        self.assertEqual(
            kind_of(other.vehicle, kit) == kind_of(job.vehicle, kit),
            "Photograph the valve place." in str(self.card(other).card.steps),
        )
        back = self.client.get(reverse("job-file", args=[job.pk])).json()["fitting"]["learnt"]
        self.assertEqual([one["what"] for one in back], ["note", "step", "moved"])
        self.assertFalse(LearntRecord.objects.filter(words__contains=job.vehicle.customer.name).exists())

    def test_a_wild_torque(self) -> None:
        """Ten times the table is asked about before it is stored; words for a torque are refused."""
        job = self.begun()
        for step in self.card(job).card.steps:
            if step.fasteners and any(f.torque_nm for f in step.fasteners):
                break
            self.leave(job, step.key)
        told = max(f.torque_nm or 0.0 for f in step.fasteners)
        at, name = next((n, f.name) for n, f in enumerate(step.fasteners) if f.torque_nm == told)
        self.assertTrue("look at the wrench" in self.leave(job, step.key, **{f"torque-{at}": f"{told * 10:.0f} N·m"}))
        self.assertTrue("does not read as a torque" in self.leave(job, step.key, **{f"torque-{at}": "tight"}))
        self.assertTrue(f"Say of {name}" in self.leave(job, step.key, **{f"reached-{at}": ""}))  # nobody's default
        self.assertFalse(step.key in self.card(job).marks)
        self.leave(job, step.key, **{f"torque-{at}": f"{told + 1:.0f} N·m"})
        each = self.card(job).marks[step.key].each
        self.assertEqual((each[name], set(each)), (told + 1.0, {f.name for f in step.fasteners}))

    def test_a_card_is_not_taught_what_cannot_be(self) -> None:
        """A step put where the spring it lets go of still carries is refused; a shop's sheet that lowers onto an empty bag is stopped, with the place; the lead
        sees which cards cannot be."""
        job = self.job("041")
        self.client.post(reverse("choose", args=[job.pk]), {"kit": "CH-4"})
        steps = self.card(job).card.steps
        clamps, roller = (
            next(s for s in steps if word in s.words and s.side == "left") for word in ("Clamps on", "Roller into")
        )
        refused = self.leave(job, clamps.key, "learn", what="moved", after=roller.key, words="Roller first.")
        self.assertIn("a spring is let go of that still carries load", refused)
        self.assertEqual(Fitting.objects.get(job=job).learnt, [])
        self.assertIn("every card of the shelf can be followed", words(self.client.get(reverse("cards"))))
        record = KitRecord.objects.get(code="FW-M")
        kit = record.to_core()
        bad = [s.model_dump(mode="json") for s in steps_of(kit) if "minimum" not in s.words]
        record.data = {**record.data, "steps": bad}
        record.save()
        page = words(self.client.get(reverse("cards")))
        self.assertIn("It is lowered onto an empty air spring", page)
        other = self.job("035")
        self.client.post(reverse("choose", args=[other.pk]), {"kit": "FW-M"})
        self.assertIn("This card cannot be: it is lowered onto an empty air spring", self.page("fit", other))
        self.assertIn("This card cannot be", self.leave(other, "unpack"))

    def test_a_kit_changed_half_way(self) -> None:
        """Another kit has a card of its own; the marks of the first stay in the history with it."""
        job = self.begun()
        for step in self.card(job).card.steps[:3]:
            self.leave(job, step.key)
        standing = Fitting.objects.get(job=job)
        self.client.post(reverse("choose", args=[job.pk]), {"kit": "CH-4", "instead_of": standing.pk})
        self.assertEqual(len(self.card(job).marks), 0)
        self.assertTrue(Fitting.history.filter(id=standing.pk).first().card)

    def test_half_way_in_the_demo(self) -> None:
        """The demo has a job whose left side is nearly done; both sides' next steps stand there."""
        shown = self.page("fit", self.job("046"))
        for text in ("Left side at step", "Left: ", "Right: "):
            self.assertTrue(text in shown, text)
        self.assertTrue("Gloves" in shown)
        self.assertFalse("To remember" in self.page("fit", self.job("046"), gloves="1"))
        self.assertTrue("No kit is chosen" in self.page("fit", self.job("044")))

    def test_when_it_fights(self) -> None:
        """The tree leads from a stuck bolt to its end; there what was tried goes on the card, with its time, and is looked at again."""
        job = self.job("046")
        before = self.card(job).worked_minutes
        address = reverse("stuck", args=[job.pk])
        for told, refused in (
            ({"words": " "}, "Say what was tried"),
            ({"words": "oil", "minutes": "long"}, "is no number"),
        ):
            self.assertIn(refused, words(self.client.post(address + "?at=cut", {"action": "fought", **told})))
        self.client.post(
            address, {"action": "fought", "of": "bag bolt", "words": "heat, then a longer bar", "minutes": "45"}
        )
        found = self.card(job)
        self.assertEqual((found.again, found.worked_minutes), (("bag bolt",), before + 45.0))
        self.assertIn("bag bolt: heat, then a longer bar, 45 min", self.page("fit", job))
        self.assertIn("It fought: bag bolt, heat, then a longer bar (45 min)", self.page("report", job))
        for place, said in (
            ("", "What does it do?"),
            ("start-hot", "extinguisher"),
            ("cut", "somebody else answers for it"),
            ("²", "What does it do?"),
        ):
            self.assertTrue(said in words(self.client.get(reverse("stuck", args=[job.pk]), {"at": place})), said)
