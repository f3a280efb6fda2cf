"""On the pages: nothing is claimed beyond the readings, in the reader's own units."""

from __future__ import annotations

import json
from typing import Any

from django.urls import reverse
from django.utils import timezone

from tests.web.base import DemoCase, words
from vantok.desk.load import Desk
from vantok.desk.settle import settle
from vantok.records.choose.models import Fitting
from vantok.records.jobs.models import Job
from vantok.records.measure.models import Reading
from vantok.records.shelf.models import KitRecord
from vantok.records.weigh.models import LoadItem, LoadState
from vantok_core.judge.prove.after_causes import CAUSES


class Limits(DemoCase):
    def test_what_is_planned_is_told_and_given_up(self) -> None:
        """A bar without its place and tyres of a metre are refused as typed; told, it stands on Diagnose and in the file, stops nothing, goes again."""
        job = self.job("041")
        url = reverse("diagnose", args=[job.pk])
        bar = {"action": "add-planned", "name": "steel {rear} bar", "state": "loaded", "mass_kg": "55"}
        self.assertIn("without its place it has no lever", words(self.client.post(url, bar)))
        self.assertIn(
            "more than any arch takes",
            words(self.client.post(url, bar | {"station_m": "4500", "larger_tyre_m": "1000"})),
        )
        before = self.page("report", job)
        self.client.post(url, bar | {"station_m": "4500"})
        self.assertRegex(
            self.page("diagnose", job),
            r"steel \{rear\} bar, 55 kg at 4500 mm\. The front would stand \+\d+ mm and the rear −\d+ mm against",
        )
        self.assertEqual(before, self.page("report", job))
        told = json.loads(self.client.get(reverse("job-file", args=[job.pk])).content)["planned"]
        self.assertEqual([(one["key"], one["mass_kg"]) for one in told], [("steel-rear-bar", 55.0)])
        self.client.post(url, {"action": "drop-planned", "planned": "steel-rear-bar"})
        self.assertNotIn("steel {rear} bar", self.page("diagnose", job))

    def test_an_empty_height_is_an_estimate_where_the_papers_tell_the_empty_load(self) -> None:
        """Half told is refused; told, the target is offered, its estimate and source stand by the choice, and it goes with the load."""
        job = Job.objects.filter(never_empty=True).first()
        assert job is not None
        url = reverse("measure", args=[job.pk])
        half = words(self.client.post(url, {"action": "empty-load", "front_kg": "1500", "rear_kg": "", "source": ""}))
        self.assertIn("without one of them nothing is estimated", half)
        self.assertNotIn("rear back to its empty height", self.page("choose", job))
        self.client.post(url, {"action": "empty-load", "front_kg": "1500", "rear_kg": "1400", "source": "its papers"})
        self.assertIn("rear back to its empty height", self.page("choose", job))
        self.client.post(
            reverse("choose", args=[job.pk]), {"action": "target", "school": "empty_height", "share": "70"}
        )
        self.assertRegex(
            self.page("choose", job),
            r"its empty height, estimated as \+\d+ mm against as it came, ± \d+ mm, by its empty load \(its papers\)",
        )
        self.assertRegex(self.page("choose", job), r"That target is itself an estimate, ± \d+ mm\.")
        told = json.loads(self.client.get(reverse("job-file", args=[job.pk])).content)
        self.assertEqual(told["empty_load"], {"front_kg": 1500.0, "rear_kg": 1400.0, "source": "its papers"})
        self.client.post(url, {"action": "empty-load", "front_kg": "", "rear_kg": "", "source": ""})
        job.refresh_from_db()
        self.assertEqual((job.empty_load, job.school), ({}, "ask"))

    def test_a_good_stance_dismisses_no_overload(self) -> None:
        """A proved job whose rear axle turns out over: board, Prove and Report lead with it and nothing is green."""
        job = self.job("038")
        settle(job.pk)
        self.assertEqual(Job.objects.get(pk=job.pk).tone, "level")
        job.vehicle.rear_axle_kg = 4000.0
        job.vehicle.save()
        settle(job.pk)
        told = Job.objects.get(pk=job.pk)
        self.assertEqual(told.tone, "limit")
        self.assertTrue(told.verdict.startswith("Clinic fitted out: rear axle is 870\u00a0kg over"))
        for stage in ("measure", "diagnose", "choose", "set", "prove", "report"):
            self.assertRegex(self.page(stage, job), r"rear axle is 870 kg over\. .*no helper raises a rating", stage)
            self.assertNotIn('verdict tone-level"', self.client.get(reverse(stage, args=[job.pk])).content.decode())

    def test_no_limit_known_is_not_every_limit_holds(self) -> None:
        """Without ratings the limits' page says that none is known."""
        job = self.job("041")
        for name in (
            "gross_kg",
            "front_axle_kg",
            "rear_axle_kg",
            "front_tyres_kg",
            "rear_tyres_kg",
            "hitch_kg",
            "towed_kg",
            "combination_kg",
            "front_tyre_index",
            "rear_tyre_index",
            "rear_dual_index",
        ):
            setattr(job.vehicle, name, None)
        job.vehicle.save()
        page = self.page("limits", job, state="loaded")
        self.assertIn("No limit is known in this state", page)
        self.assertNotIn("Every known limit holds", page)


class LoadsOfThen(DemoCase):
    def put(self, job: Job, place: str, text: str, phase: str = "before") -> str:
        answer = self.client.post(
            self.cell(job, place, phase=phase),
            {"text": text, "seen": self.seen(job, place, phase=phase)},
            headers={"hx-request": "true"},
        )
        self.assertEqual(answer.status_code, 200)
        return words(answer)

    def test_a_plan_edited_after_reading_is_said_and_kept_apart(self) -> None:
        """Heights read, an item moved: the sheet says so, the rates stay, and the state is to be read again, or the load is
        called the same."""
        job = self.job("041")
        for place, text in (("FL", "885"), ("FR", "885"), ("RL", "882"), ("RR", "887")):
            self.put(job, place, text)
        stamped = Reading.objects.filter(job=job, place="RL").latest("pk")
        self.assertEqual(stamped.under_basis, "plan" if stamped.under_basis == "plan" else "scale")
        self.assertIsNotNone(stamped.under_rear_kg)
        before = Desk.open(job.pk).model
        state = LoadState.objects.get(job=job, key="loaded")
        item = LoadItem.objects.filter(state=state).order_by("-mass_kg").first()
        assert item is not None and before is not None
        item.station_m -= 0.9
        item.save()
        page = self.page("measure", job)
        self.assertIn("read under the load of then", page)
        self.assertIn("was changed after its heights were read", page)
        self.assertIn("Boat on, as it was read", self.page("diagnose", job))
        after = Desk.open(job.pk).model
        assert after is not None
        self.assertAlmostEqual(after.estimate.k["rear"] / before.estimate.k["rear"], 1.0, delta=0.03)
        answer = self.client.post(reverse("measure", args=[job.pk]), {"action": "same-load", "state": state.pk})
        self.assertEqual(answer.status_code, 302)
        self.assertNotIn("read under the load of then", self.page("measure", job))

    def test_the_programs_own_move_keeps_the_heights_with_the_load_of_then(self) -> None:
        """Moved by the offer: the heights read before it are not paired with the load after it, nor is the sheet green."""
        job = self.job("042")
        state = LoadState.objects.get(job=job, key="loaded")
        Reading.objects.filter(job=job).update(under_front_kg=None, under_rear_kg=None, under_basis="none")
        item = LoadItem.objects.filter(state=state, name="batteries").get()
        answer = self.client.post(
            reverse("limits", args=[job.pk]) + "?state=loaded", {"action": "move", "item": item.pk, "state": state.pk}
        )
        self.assertEqual(answer.status_code, 302)
        self.assertIn("read under the load of then", self.page("measure", job))
        self.assertNotIn("All states read", self.page("measure", job))

    def test_older_heights_under_a_plan_changed_since_are_said(self) -> None:
        """Read by a version that noted no load, the plan changed afterwards: asked, and one touch says that it is the same."""
        job = self.job("041")
        state = LoadState.objects.get(job=job, key="loaded")
        Reading.objects.filter(job=job).update(under_front_kg=None, under_rear_kg=None, under_basis="")
        self.assertNotIn("load of then", self.page("measure", job))
        state.changed_at = timezone.now()
        state.save()
        self.assertIn("read under the load of then", self.page("measure", job))
        self.client.post(reverse("measure", args=[job.pk]), {"action": "same-load", "state": state.pk})
        self.assertIn("All states read", self.page("measure", job))

    def test_a_state_of_unknown_load_is_read_off_the_springs(self) -> None:
        """Everything taken off the plan and the scale: the load is read off the springs, the choice goes on, and every stage says to
        weigh it; with the front unread only its sag is shown, and no choice, force or lamp is made from it."""
        job = self.job("041")
        state = LoadState.objects.get(job=job, key="loaded")
        state.items.all().delete()
        LoadState.objects.filter(pk=state.pk).update(tongue_kg=0.0, trailer_kg=0.0, front_kg=None, rear_kg=None)
        for stage in ("weigh", "measure", "diagnose", "choose", "report"):
            page = self.page(stage, job)
            self.assertIn("read off the springs", page)
            self.assertIn("Weigh it", page)
            self.assertIn("Worth measuring next: Weigh the", page)
        self.assertNotIn("A choice needs", self.page("choose", job))
        self.assertNotIn("Every known limit holds", self.page("limits", job))
        Reading.objects.filter(job=job, state=state, place__in=("FL", "FR")).delete()
        page = self.page("diagnose", job)
        self.assertIn("by tape alone", page)
        self.assertIn("To find out: the load of “Boat on”", page)
        self.assertIn("A choice needs", self.page("choose", job))


class Settings(DemoCase):
    def test_a_reading_belongs_to_the_setting_it_was_read_at(self) -> None:
        """Another pressure entered: what was read before is shown as of then and is not judged; read again, it is."""
        job = self.job("039")
        fitting = Fitting.objects.get(job=job)
        self.assertFalse(Desk.open(job.pk).proof.inside)  # type: ignore[union-attr]
        LoadsOfThen.put(self, job, "RL", "903", "after")  # type: ignore[arg-type]
        core = Desk.open(job.pk).facts.job.fitting
        assert core is not None and fitting.setting
        self.assertEqual(Reading.objects.latest("pk").setting, core.mark)
        Reading.objects.filter(job=job, phase="after").update(setting=core.mark)
        fitting.setting["pressure_pa"][0] += 50_000.0
        fitting.save()
        page = self.page("prove", job)
        self.assertIn("read at another setting", page)
        self.assertIsNone(Desk.open(job.pk).proof.inside)  # type: ignore[union-attr]
        self.assertNotIn("then set", page)

    def test_causes_are_ruled_out_before_a_setting_is_offered(self) -> None:
        """Each cause has its tick; with all ticked the next setting is in the sentence; another setting begins anew."""
        job = self.job("039")
        self.assertNotIn(", set ", self.page("prove", job).split("Heights with the kit")[0])
        self.sign_in("jude")
        told: dict[str, Any] = {"action": "rule-out", "cause": [c.key for c in CAUSES]}
        self.assertEqual(self.client.post(reverse("prove", args=[job.pk]), told).status_code, 403)
        self.sign_in("marit")
        self.client.post(reverse("prove", args=[job.pk]), told)
        self.assertEqual(len(Fitting.objects.get(job=job).ruled_out), len(CAUSES))
        self.assertRegex(self.page("prove", job), r"In “Glider trailer”, set [\d.]+ bar left and [\d.]+ bar right")
        form = {"left_pressure_pa": "3.0", "right_pressure_pa": "3.0"}
        self.tell(reverse("set", args=[job.pk]), form)
        self.assertEqual(Fitting.objects.get(job=job).ruled_out, [])

    def test_done_with_a_side_not_read_is_refused(self) -> None:
        """A blank pressure is no setting; limits are told in the reader's units."""
        job = self.job("039")
        address = reverse("set", args=[job.pk])
        answer = self.tell(address, {"left_pressure_pa": "", "right_pressure_pa": "2.5", "done": "on"})
        self.assertEqual(answer.status_code, 422)
        self.assertIn("a setting is done when it is entered, on both sides", words(answer))
        self.sign_in("tobin")
        answer = self.tell(address, {"left_pressure_pa": "400", "right_pressure_pa": "30"})
        self.assertIn("Over the kit's maximum of 100 psi.", words(answer))
        self.assertNotIn(" bar", words(answer).split("As set on the vehicle")[1].split("Save the setting")[0])

    def test_room_for_a_kit_is_answered_and_stays_answered(self) -> None:
        """Entered once, the check passes on Choose and is no open point of the hand-over."""
        job = self.job("038")
        self.assertIn("Fit check unanswered: space to tyre", self.page("report", job))
        told = {"action": "space", "space_left_m": "34", "space_right_m": "31", "lines": "clear"}
        self.assertEqual(self.client.post(reverse("choose", args=[job.pk]), told).status_code, 302)
        self.assertIn("Read 34 mm left and 31 mm right", self.page("choose", job))
        self.assertNotIn("Fit check unanswered", self.page("report", job))

    def test_an_insert_is_told_no_pressure(self) -> None:
        """The cautions are those of what is fitted."""
        job = self.job("041")
        insert = KitRecord.objects.get(code="SR-35")
        Fitting.objects.create(job=job, kit=insert.data, state_key="loaded", setting={"spacer_m": [0.012, 0.012]})
        text = self.page("report", job)
        self.assertIn("An insert carries only when it is touched", text)
        self.assertNotIn("Set the pressure", text)

    def test_sides_are_known_by_pads_alone(self) -> None:
        """Without pads nothing says that a vehicle is even from side to side; with four that differ, by how much."""
        job = self.job("041")
        self.assertIn("Side to side – to weigh", self.page("weigh", job, state="loaded"))
        pads = {"fl_kg": 580.0, "fr_kg": 565.0, "rl_kg": 830.0, "rr_kg": 760.0}
        LoadState.objects.filter(job=job, key="loaded").update(**pads)
        self.assertIn("Side to side 85 kg more on the left", self.page("weigh", job, state="loaded"))


class Words(DemoCase):
    def test_an_inch_reader_sees_inches(self) -> None:
        """Board, garage and history speak the reader's units; codes come as words; money has its currency."""
        job = self.job("041")
        settle(job.pk)
        Fitting.objects.filter(job=self.job("038")).first().save()  # type: ignore[union-attr]
        job.school, job.rake_m = "keep_rake", 0.05
        job.save()
        self.sign_in("tobin")
        board = self.page("board")
        self.assertRegex(board, r"Boat on: the rear sits \d+( \d+/\d+)? in low")
        self.assertNotIn(" mm", board)
        history = self.page("history", job)
        self.assertIn("keep a stated rake", history)
        self.assertIn("1 15/16 in", history)
        self.assertNotIn("e+05", self.page("history", self.job("038")))
        self.assertIn("at 25 ft", self.page("diagnose", job))
        self.assertIn("€ 480", self.page("choose", job))
        self.assertNotIn("% %", self.page("choose", job))

    def test_the_header_marks_where_one_is(self) -> None:
        """Each place is marked on its own pages, and a job's pages stand on the board."""
        for name, words_ in (
            ("board", "Day board"),
            ("garage", "Garage"),
            ("taught", "Garage"),
            ("shelf", "Kit shelf"),
        ):
            html = self.client.get(reverse(name)).content.decode()
            self.assertRegex(html, rf'aria-current="page">{words_}<')
        html = self.client.get(reverse("measure", args=[self.job("041").pk])).content.decode()
        self.assertRegex(html, r'aria-current="page">Day board<')

    def test_state_names_are_told_apart(self) -> None:
        """A second state of a name gets a number; renaming to a taken one is refused."""
        job = self.job("041")
        address = reverse("weigh", args=[job.pk])
        for _ in range(2):
            self.client.post(address, {"action": "add-state", "name": "Boat on"})
        self.assertEqual({s.name for s in job.states.all()}, {"Empty", "Boat on", "Boat on 2", "Boat on 3"})
        answer = self.client.post(address, {"action": "add-state", "name": "\x07"})
        self.assertEqual(answer.status_code, 422)
        self.assertIn("has characters that cannot be shown", words(answer))
        second = job.states.get(name="Boat on 2")
        answer = self.client.post(
            f"{address}?state={second.key}", {"action": "name", "state": second.pk, "name": "boat ON", "conditions": ""}
        )
        self.assertIn("There is a state called “boat ON” already", words(answer))

    def test_a_wheelbase_corrected_moves_the_tag_axle_with_it(self) -> None:
        """The rear group stands where the wheelbase says, with the spacing entered."""
        job = self.job("041")
        job.vehicle.wheelbase_m = 3.5
        job.vehicle.beyond = {"rear_group": {"stations": [3.5, 4.7], "loads": [12000.0, 6000.0]}}
        job.vehicle.save()
        self.assertAlmostEqual(Desk.open(job.pk).job.vehicle.base_m or 0.0, 3.9, 9)
        job.vehicle.wheelbase_m = 3.8
        job.vehicle.save()
        self.assertAlmostEqual(Desk.open(job.pk).job.vehicle.base_m or 0.0, 4.2, 9)
