"""The weighing by what its pages say: plan, scales, trailer, limits, coach sheet, files; bad figures kept with their reason."""

from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from tests.web.base import DemoCase, words
from vantok.desk.load import Desk
from vantok.people.models import User
from vantok.records.weigh.models import LoadItem, LoadState, ShopItem
from vantok_core.loads.plan import state_load

PORTABLE = ("alone_front", "alone_rear", "alone_both", "hitched_front", "hitched_rear", "hitched_both", "train")


class WeighCase(DemoCase):
    def state(self, number: str, key: str = "loaded") -> LoadState:
        return LoadState.objects.get(job=self.job(number), key=key)

    def send(self, state: LoadState, page: str = "weigh", **told: Any) -> str:
        return words(self.client.post(reverse(page, args=[state.job_id]), {"state": state.pk} | told, follow=True))

    def load(self, state: LoadState) -> Any:
        job = Desk.open(state.job_id).job
        found = job.state(state.key)
        assert found is not None
        return state_load(job, found)


class Plans(WeighCase):
    def test_an_overload_is_cleared_by_the_offered_move(self) -> None:
        """The stage's sentence, the board and the offer name the same move; done, every limit holds and the history has it."""
        state = self.state("042")
        self.assertIn("rear axle is 61 kg over. Move batteries 1390 mm forward", self.page("weigh", state.job))
        board = self.page("limits", state.job)
        self.assertRegex(board, r"Move batteries \(160 kg\) 1390 mm forward, to 2910 mm on the floor")
        item = LoadItem.objects.get(state=state, name="batteries")
        self.assertIn("Move it on the vehicle too", self.send(state, "limits", action="move", item=item.pk))
        self.assertIn("the error of the loads leaves some limits open", self.page("limits", state.job))
        self.assertIn("item batteries: behind the front axle", self.page("history", state.job))
        self.assertIn("That no longer clears it", self.send(state, "limits", action="move", item=item.pk))

    def test_two_things_of_one_name_are_told_apart(self) -> None:
        """Of two boxes called alike, the one that was offered is moved or made lighter, and the other stays."""
        state = self.state("042")
        LoadItem.objects.filter(state=state).exclude(name="stage and lights").update(name="box")
        rear, front = (
            LoadItem.objects.filter(state=state, name="box", mass_kg=160).get(),
            LoadItem.objects.filter(state=state, name="box", mass_kg=280).get(),
        )
        self.send(state, "limits", action="move", item=front.pk)
        front.refresh_from_db()
        self.assertAlmostEqual(front.station_m, 1.8)
        LoadItem.objects.filter(pk=front.pk).update(station_m=2.6)
        self.send(state, "limits", action="take", item=rear.pk)
        rear.refresh_from_db()
        self.assertEqual((rear.mass_kg, rear.station_m), (108.0, 4.3))
        self.assertEqual(
            sorted(LoadItem.objects.filter(state=state).values_list("mass_kg", flat=True)), [108.0, 190.0, 280.0, 420.0]
        )

    def test_an_item_follows_the_hand(self) -> None:
        """A place tried shows its loads, drawing and sentence and stores nothing; put down, it is stored; off the vehicle is refused."""
        state = self.state("042")
        item = LoadItem.objects.get(state=state, name="batteries")
        url = f"{reverse('place', args=[state.job_id])}?state={state.key}"
        tried = self.client.get(url, {"state": state.key, "item": item.pk, "station": "1.0", "lateral": "-0.5"})
        self.assertIn("Every known limit holds", words(tried))
        self.assertContains(tried, 'id="stance"')
        self.assertLess(len(tried.content), 20_000)
        item.refresh_from_db()
        self.assertEqual(item.station_m, 4.3)
        self.client.post(url, {"item": item.pk, "station": "1.004", "lateral": "-0.5"})
        item.refresh_from_db()
        self.assertEqual((item.station_m, item.lateral_m), (1.0, -0.5))
        for station in ("40", "nonsense", "nan"):
            self.assertEqual(
                self.client.post(url, {"item": item.pk, "station": station, "lateral": "0"}).status_code, 404
            )

    def test_usual_items_and_the_shop_s_own(self) -> None:
        """A usual item goes on by a touch, is changed, kept on the shop's list, and offered on another vehicle where it stood."""
        state = self.state("041")
        self.send(state, action="add-usual", usual="fresh water")
        tank = LoadItem.objects.get(state=state, kind="tank")
        said = self.send(
            state,
            action="save-item",
            item=tank.pk,
            **{
                "item-name": "live bait tank",
                "item-capacity_l": "60",
                "item-fill_percent": "120",
                "item-kg_per_l": "1",
                "item-station_m": "2500",
            },
        )
        self.assertIn("120 % cannot be: a tank is between empty (0) and full (100)", said)
        self.send(
            state,
            action="save-item",
            item=tank.pk,
            **{
                "item-name": "live bait tank",
                "item-capacity_l": "60",
                "item-fill_percent": "50",
                "item-kg_per_l": "1",
                "item-station_m": "2500",
            },
        )
        tank.refresh_from_db()
        self.assertEqual((tank.total_kg, tank.station_m), (30.0, 2.5))
        self.assertIn("“live bait tank” is on the shop's own list now", self.send(state, action="keep", item=tank.pk))
        self.assertEqual(ShopItem.objects.get().capacity_l, 60)
        other = self.state("043")
        self.send(other, action="add-usual", usual="live bait tank")
        self.assertAlmostEqual(LoadItem.objects.get(state=other, name="live bait tank").station_m, 2.5, delta=0.5)
        self.send(other, action="remove-item", item=LoadItem.objects.get(state=other, name="live bait tank").pk)
        self.assertFalse(LoadItem.objects.filter(state=other, name="live bait tank").exists())

    def test_bad_figures_stay_with_their_reason(self) -> None:
        """Off the vehicle, below nought, on the empty vehicle: each said at its field, the text as typed still there."""
        state = self.state("041")
        told = {"item-name": "anvil", "item-mass_kg": "-20", "item-station_m": "9 m", "item-lateral_m": "3 m"}
        response = self.client.post(
            reverse("weigh", args=[state.job_id]), {"action": "add-item", "state": state.pk} | told
        )
        self.assertEqual(response.status_code, 422)
        text = words(response)
        for said in ("9000 mm behind the front axle is off the vehicle", "below nought", "wide to each side"):
            self.assertIn(said, text)
        self.assertContains(response, 'value="9 m"', status_code=422)
        self.assertFalse(LoadItem.objects.filter(name="anvil").exists())
        empty = self.state("041", "empty")
        fine = {"item-name": "anvil", "item-mass_kg": "20", "item-station_m": "2 m"}
        self.assertIn("The empty state carries nothing", self.send(empty, action="add-item", **fine))
        self.assertIn("The empty state carries nothing", self.send(empty, action="add-usual", usual="tools"))

    def test_places_counted_from_the_rear_axle_and_the_hitch(self) -> None:
        """A place told from where the tape lies: stored behind the front axle; from a hitch nobody measured it is refused in words."""
        state = self.state("041")
        for origin, typed, station in (("rear", "-400", 3.15), ("rear", "0", 3.55), ("hitch", "-300", 4.5)):
            name = f"box {origin} {typed}"
            told = {"item-name": name, "item-mass_kg": "20", "item-station_m": typed, "item-counted_from": origin}
            self.send(state, action="add-item", **told)
            self.assertAlmostEqual(LoadItem.objects.get(name=name).station_m, station, places=6)
        state.job.vehicle.hitch_overhang_m = None
        state.job.vehicle.save()
        lost = {"item-name": "lost", "item-mass_kg": "20", "item-station_m": "0", "item-counted_from": "hitch"}
        self.assertIn("must be measured before", self.send(state, action="add-item", **lost))
        self.assertFalse(LoadItem.objects.filter(name="lost").exists())

    def test_zones_are_edited_and_suggestions_stay_in_them(self) -> None:
        """A rack's rating leads in red once passed, a refused row stays as typed, the file carries the zones, a trainee rates none."""
        state = self.state("042")
        page = reverse("zones", args=[state.job_id])
        rack = {
            "3-words": "rear rack",
            "3-use": "rack",
            "3-start": "4600",
            "3-end": "5200",
            "3-left": "900",
            "3-right": "-900",
        }
        told = self.send(state, "zones", action="save", **(rack | {"3-end": "4500"}))
        self.assertIn("It ends before it begins", told)
        told = self.send(state, "zones", action="save", **rack, **{"4-words": "step box", "4-start": "1"})
        self.assertIn("A zone takes all four edges", told)
        for wrong, why in (
            ({"3-rating": "0"}, "leave it empty where it is not known"),
            ({"3-end": "45 m"}, "more than any vehicle has"),
            ({f"{n}-words": "" for n in range(4)}, "keep at least one"),
        ):
            self.assertIn(why, self.send(state, "zones", action="save", **(rack | wrong)), wrong)
            state.job.vehicle.refresh_from_db()
            self.assertNotIn("zones", state.job.vehicle.beyond, wrong)
        self.send(state, "zones", action="save", **rack, **{"3-rating": "150"})
        self.assertIn("rear rack, 150 kg, carries 190 kg", self.page("weigh", state.job))
        self.assertIn("rear rack, 150 kg", self.page("zones", state.job))
        file = self.client.get(reverse("job-file", args=[state.job_id])).json()
        zone = next(z for z in file["vehicle"]["zones"] if z["key"] == "rack")
        self.assertEqual((zone["rating_kg"], zone["start"], zone["words"]), (150.0, 4.6, "rear rack"))
        self.client.force_login(User.objects.get(username="jude"))
        self.assertIn(
            "Entering ratings is not for a trainee",
            words(self.client.post(page, {"action": "save", "3-rating": "900"})),
        )
        self.assertEqual(self.client.post(page, {"action": "usual"}).status_code, 403)
        self.client.force_login(User.objects.get(username="marit"))
        self.assertIn("The usual zones of this body style again", self.send(state, "zones", action="usual"))
        self.assertNotIn("150 kg", self.page("zones", state.job))

    def test_a_state_is_copied_without_what_was_read(self) -> None:
        """A copy has items, tanks, people and trailer of the other, and neither its scale figures nor its heights."""
        state = self.state("044")
        LoadState.objects.filter(pk=state.pk).update(front_kg=1000, rear_kg=1200)
        self.send(state, action="add-state", preset="holiday", copy=state.pk)
        new = LoadState.objects.get(job=state.job, key="holiday-load")
        self.assertEqual([(i.kind, i.name) for i in new.items.all()], [(i.kind, i.name) for i in state.items.all()])
        self.assertEqual((new.tongue_kg, new.trailer_items.count(), new.front_kg), (90, 4, None))
        self.assertFalse(new.readings.exists())
        self.assertIn("removed; it can be put back", self.send(new, action="remove-state"))
        self.assertIn("never thrown away", self.send(self.state("041"), action="remove-state"))

    def test_the_same_unlisted_load(self) -> None:
        """Two states said to carry what nobody listed: stored, in the file, more than is listed; a state that is gone shares nothing."""
        state = self.state("042")
        self.send(state, action="add-state", name="Hitched up", copy="")
        other = LoadState.objects.get(job=state.job, name="Hitched up")
        self.assertIn("What is not listed is the same as in", self.page("weigh", state.job))
        self.send(other, action="name", name="Hitched up", same_as="gone")
        self.assertEqual(LoadState.objects.get(pk=other.pk).same_as, "")
        self.send(other, action="name", name="Hitched up", same_as=state.key)
        told = self.client.get(reverse("job-file", args=[state.job_id])).json()["states"]
        mine = next(s for s in told if s["key"] == other.key)
        self.assertEqual((mine["same_as"], mine["more"]), (state.key, True))

    def test_a_plan_goes_out_and_in_as_csv(self) -> None:
        """Exported and put on another state, the plan is the same; a faulty file is refused with its places and changes nothing."""
        state = self.state("044")
        out = self.client.get(reverse("plan-csv", args=[state.job_id]), {"state": state.key}).content
        self.send(state, action="add-state", name="Again")
        again = LoadState.objects.get(job=state.job, key="again")
        file = SimpleUploadedFile("plan.csv", out)
        self.assertIn("The plan of the file is on", self.send(again, action="file", file=file))
        self.assertEqual([i.total_kg for i in again.items.all()], [i.total_kg for i in state.items.all()])
        self.assertEqual(again.trailer_items.count(), 4)
        bad = SimpleUploadedFile("plan.csv", b"kind,name,mass_kg,station_m\nitem,a,heavy,1\n")
        said = self.send(again, action="file", file=bad)
        self.assertIn("Nothing was taken in. line 2, mass_kg", said)
        self.assertEqual(again.items.count(), state.items.count())

    def test_pounds_and_inches(self) -> None:
        """The same plan in a reader's own units."""
        self.sign_in("tobin")
        text = self.page("weigh", self.job("042"))
        self.assertIn("rear axle is 134 lb over. Move batteries 54 3/4 in forward", text)


class Weighing(WeighCase):
    def test_the_scale_rules_and_the_plan_is_brought_to_it(self) -> None:
        """The difference is shown, one touch changes the plan and says what it changed, and then they agree."""
        state = self.state("041")
        self.send(state, "scales", front_kg="1250", rear_kg="1700")
        text = self.page("scales", state.job)
        self.assertIn("off the scale", text)
        self.assertRegex(
            text, r"The plan differs from the scale by \S+ kg at the front and \S+ kg at the rear; the scale rules"
        )
        said = self.send(state, action="adjust")
        self.assertRegex(said, r"Plan adjusted to the scale: .*baskets and ropes 330 kg → \d+ kg")
        load = self.load(state)
        self.assertLess(abs(load.short_front) + abs(load.short_rear), 25.0)
        self.assertEqual(load.basis, "scale")

    def test_a_ticket_older_than_the_load_is_told(self) -> None:
        """An item put on after the weighing: the scale's figures get it by its lever, and the old ticket is said."""
        state = self.state("041")
        self.send(state, "scales", front_kg="1250", rear_kg="1600")
        before = self.load(state)
        self.send(state, action="add-usual", usual="tools")
        text = self.page("weigh", state.job)
        self.assertIn("The scale ticket is older than the last change", text)
        self.assertIn("off the scale, with what was moved since", text)
        after = self.load(state)
        self.assertAlmostEqual(after.front + after.rear, before.front + before.rear + 80.0)

    def test_readings_that_cannot_be(self) -> None:
        """Pads that do not make their axle, three pads of four, a tongue on the empty vehicle, a tag axle heavier than the rear."""
        state, empty = self.state("041"), self.state("041", "empty")
        self.assertIn(
            "The two pads make 1200 kg; the axle scale says 1400 kg",
            self.send(state, "scales", rear_kg="1400", rl_kg="600", rr_kg="600"),
        )
        self.assertIn("Four pads or none", self.send(state, "scales", fl_kg="600", fr_kg="600", rl_kg="600"))
        self.assertIn("The empty state tows nothing", self.send(empty, "scales", tongue_kg="90"))
        self.assertIn("cannot be more than it", self.send(state, "scales", rear_kg="1000", front_kg="1", tag_kg="1200"))
        self.assertIn("below nought", self.send(state, "scales", rear_kg="-5"))
        self.assertIsNone(LoadState.objects.get(pk=state.pk).rear_kg)

    def test_one_portable_scale(self) -> None:
        """Front and whole, alone and hitched, and the train come to axle loads, tongue and trailer, shown and taken into the sheet."""
        state = self.state("041")
        text = self.send(
            state,
            "scales",
            action="portable",
            alone_front="1300",
            alone_both="2500",
            hitched_front="1230",
            hitched_both="2700",
            train="4200",
        )
        self.assertIn("Alone: 1300 kg front, 1200 kg rear", text)
        self.assertIn("Tongue: 200 kg; the front’s loss of 70 kg alone would make it 199 kg", text)
        state.refresh_from_db()
        self.assertEqual(
            (state.front_kg, state.rear_kg, state.tongue_kg, state.trailer_kg, state.trailer_scale_kg),
            (1230, 1470, 200, 1700, 1500),
        )
        self.assertIn(
            "two of the three are needed",
            self.send(state, "scales", **(dict.fromkeys(PORTABLE, "") | {"action": "portable", "alone_front": "1300"})),
        )
        self.assertIn(
            "cannot weigh less than one of its axles",
            self.send(
                state,
                "scales",
                **(dict.fromkeys(PORTABLE, "") | {"action": "portable", "alone_front": "1300", "alone_both": "900"}),
            ),
        )


class Towing(WeighCase):
    def test_the_tongue_follows_the_trailer_s_items(self) -> None:
        """Cleared of its reading, the tongue comes from what stands on the trailer; moving cargo back makes it light, and it is said."""
        state = self.state("044")
        self.send(state, "trailer", tongue_kg="", trailer_kg="", trailer_axle_m="4600")
        text = self.page("trailer", state.job)
        self.assertIn("Tongue 100 kg 7 % of the trailer; 4 to 7 % is usual heavy", text)
        self.send(
            state, "trailer", action="add", **{"new-name": "bricks", "new-mass_kg": "90", "new-behind_ball_m": "7000"}
        )
        self.assertIn("Bring cargo forward on the trailer", self.page("trailer", state.job))
        self.assertIn("The empty state tows nothing", self.send(self.state("044", "empty"), "trailer", tongue_kg="50"))

    def test_spring_bars_and_the_hitch(self) -> None:
        """Bars give front load back, with their moment worked through; without the trailer's axle they are refused; a ball ahead of the axle is too."""
        state = self.state("041")
        told = {"tongue_kg": "210", "trailer_kg": "1680", "restored_percent": "50", "trailer_axle_m": ""}
        self.assertIn("Spring bars work against the trailer's axle", self.send(state, "trailer", **told))
        before = self.load(state).front
        text = self.send(state, "trailer", **(told | {"trailer_axle_m": "4100"}))
        self.assertIn("Moment of the spring bars", text)
        lost = 210 * 1.25 / 3.55
        self.assertAlmostEqual(self.load(state).front - before, 0.5 * lost, delta=0.1)
        hitch = {"hitch-hitch_kind": "ball", "hitch-hitch_overhang_m": "-300"}
        self.assertIn("A ball stands behind the rear axle", self.send(state, "trailer", action="hitch", **hitch))
        self.send(state, "trailer", action="hitch", **(hitch | {"hitch-hitch_kind": "gooseneck"}))
        self.assertEqual(self.job("041").vehicle.hitch_kind, "gooseneck")
        self.assertIn("15 to 25 % is usual", self.page("trailer", state.job))


class Boards(WeighCase):
    def test_the_board_says_what_each_figure_rests_on(self) -> None:
        """Every limit in every state with its basis; tyres by load index; the free tongue load and the best place by the core."""
        job = self.job("041")
        job.vehicle.front_tyre_index = 121
        job.vehicle.save()
        text = self.page("limits", job, mass="150 kg", state="loaded")
        self.assertIn("Empty off the scale Boat on from the plan", text)
        self.assertIn("load index 121, two tyres 2900 kg", text)
        self.assertRegex(text, r"\d+ kg more tongue load would still hold every known limit")
        self.assertRegex(text, r"behind the front axle, .*The smallest margin is then the")

    def test_the_coach_sheet(self) -> None:
        """Corner loads off the pads, overhang ratio with its band and effect; a tag axle moves the wheelbase to the load centre."""
        job = self.job("038")
        text = self.page("coach", job)
        self.assertIn("Overhang ratio 0.54 watch", text)
        self.assertIn("FL 1225 kg · FR 1255 kg · RL 2490 kg · RR 2380 kg", text)
        state = self.state("038")
        self.assertIn("All three are needed", self.send(state, "coach", spacing="1300"))
        text = self.send(state, "coach", spacing="1300", drive="2200", tag="1100")
        self.assertIn("Wheelbase 5033 mm to the load centre of drive and tag axle", text)

    def test_pages_ask_the_database_a_fixed_number_of_times(self) -> None:
        """Ten more items do not make a page ask more often, and none asks more than a dozen times."""
        state = self.state("041")
        self.page("weigh", state.job)
        for page in ("weigh", "scales", "trailer", "limits", "coach"):
            counts = []
            for _ in range(2):
                LoadItem.objects.bulk_create(
                    LoadItem(state=state, name=f"n{n}", mass_kg=1, station_m=2) for n in range(10)
                )
                with self.subTest(page), self.assertNumQueriesAtMost(12) as count:
                    self.client.get(reverse(page, args=[state.job_id]))
                counts.append(count())
            self.assertEqual(counts[0], counts[1], page)
