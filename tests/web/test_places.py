"""The places beside the job: board, garage, shelf, start, settings; and the drawing's own promises."""

import re
from typing import get_args

from django.db.models import F
from django.urls import reverse

from tests.web.base import DemoCase, words
from vantok.board.pages import PAGE, TONES
from vantok.desk.load import Desk
from vantok.desk.worked import Worked, once
from vantok.drawing.bodies import outline
from vantok.drawing.rear import rear_svg
from vantok.drawing.side import stance_svg
from vantok.drawing.stance import Stance
from vantok.drawing.svg import tag
from vantok.people.models import User
from vantok.records.jobs.models import Job
from vantok_core.base.say import Quantity, Tone
from vantok_core.facts import JobVehicle
from vantok_core.facts.classes import BODIES
from vantok_core.loads.plan import state_margins


class Places(DemoCase):
    def test_the_board_finds_and_pages(self) -> None:
        """The board shows stage and sentence, finds by number, vehicle and customer, and pages what is many."""
        text = self.page("board")
        self.assertIn("2026-042 Corvane high-roof, the stage van Lantern & String Puppet Theatre Choose", text)
        for wanted in ("042", "corvane", "puppet"):
            found = self.page("board", q=wanted)
            self.assertIn("the stage van", found)
            self.assertNotIn("Library bus", found)
        self.assertIn("No job matches “zeppelin”", self.page("board", q="zeppelin"))
        vehicle = self.job("041").vehicle
        self.assertEqual(set(TONES), set(get_args(Tone)))  # else a job of another tone would be on no page
        self.page("board")  # sentences of the demo settled
        Job.objects.bulk_create(Job(number=f"2001-{n:03d}", vehicle=vehicle, tone=TONES[n * n % 4]) for n in range(60))
        Job.objects.filter(number__startswith="2001-").update(
            told_stamp=F("stamp"), verdict="Told.", verdict_us="Told."
        )
        pages = -(-Job.objects.filter(done=False).count() // PAGE)
        shown = [self.page("board", page=n) for n in range(1, pages + 1)]
        self.assertTrue(all(f"Page {n} of {pages}" in text for n, text in enumerate(shown, 1)))
        ranked = sorted(
            Job.objects.filter(done=False), key=lambda job: (TONES.index(job.tone), -job.opened.timestamp(), -job.pk)
        )
        found = re.findall(r"\b20\d\d-\d{3}\b", " ".join(text.split("Handed over", 1)[1] for text in shown))
        self.assertEqual(list(dict.fromkeys(found)), [job.number for job in ranked])

    def test_handing_over_moves_the_job(self) -> None:
        """A job that is closed leaves the board for the other list, and can be taken back."""
        job = self.job("038")
        self.client.post(reverse("report", args=[job.pk]), {"action": "hand-over", "anyway": "the customer fetches it"})
        listed = self.client.get(reverse("board")).content.decode().split('<ul class="board">')[1]
        self.assertNotIn("Clinic", listed)
        self.assertIn("Clinic", self.page("board", done="1"))
        self.client.post(reverse("report", args=[job.pk]), {"action": "reopen"})
        self.assertIn("Clinic", self.page("board"))

    def test_begun_from_a_kind_or_from_one_that_was_done(self) -> None:
        """Two touches give a vehicle its usual figures, marked as defaults: no limit is held against them, typed over or said to be read
        they are its own. A vehicle of a finished job serves the same way, without its identity."""
        self.client.post(
            reverse("start"), {"customer": "A", "label": "From a kind", "begun_from": "leaf_pickup", "body": "coach"}
        )
        job = Job.objects.latest("pk")
        self.assertEqual((job.vehicle.body, job.vehicle.rear_spring), ("pickup", "leaf_solid"))
        self.assertIn("rear_axle_kg", job.vehicle.defaults)
        page = words(self.client.get(reverse("vehicle", args=[job.pk])))
        self.assertIn("estimate as read", page)
        self.assertNotIn("Vehicle ✓", page)  # nobody has said yet that it is so
        self.assertIn("which of the starting vehicle’s figures are this one’s", page)
        state = job.states.get(empty=True)
        state.front_kg, state.rear_kg = 2000, 2000  # over every default
        state.save()
        self.assertEqual(
            [m.limit for m in state_margins(Desk.open(job.pk).job, Desk.open(job.pk).job.states[0])][:3], [None] * 3
        )
        fields = {
            name: getattr(job.vehicle, name) or ""
            for name in ("label", "body", "tyres", "front_spring", "rear_spring", "hitch_kind")
        }
        self.client.post(reverse("vehicle", args=[job.pk]), fields | {"rear_axle_kg": "1800"})
        job.vehicle.refresh_from_db()
        self.assertNotIn("rear_axle_kg", job.vehicle.defaults)
        self.assertIn("gross_kg", job.vehicle.defaults)
        for name in list(job.vehicle.defaults):
            self.client.post(reverse("vehicle", args=[job.pk]), {"action": "as-read", "fact": name})
        job.vehicle.refresh_from_db()
        self.assertEqual(job.vehicle.defaults, [])
        self.assertIn("Vehicle ✓", self.page("vehicle", job))
        done = Job.objects.get(number="2026-038")
        Job.objects.filter(pk=done.pk).update(done=True)
        done.vehicle.plate = "OLD 1"
        done.vehicle.save()
        self.client.post(reverse("start"), {"customer": "B", "label": "As that one", "like": "-038"})
        copied = Job.objects.latest("pk").vehicle
        self.assertEqual((copied.wheelbase_m, copied.plate), (done.vehicle.wheelbase_m, ""))

    def test_an_assessment_ends_in_its_offer(self) -> None:
        """Nothing is fitted: the job goes from the diagnosis to a report that offers the choice with its price, and nothing of a kit is open."""
        job = Job.objects.get(number="2026-041")
        job.assessment = True
        job.save()
        self.assertEqual(Desk.open(job.pk).next_stage, "report")
        page = words(self.client.get(reverse("report", args=[job.pk])))
        self.assertIn("Assessment and offer", page)
        self.assertIn("Ferrywell bellows, middle", page)
        self.assertNotIn("is not confirmed as set", page)

    def test_starting_a_job(self) -> None:
        """A job needs a vehicle or what a new one is called; a known customer is not made twice."""
        bad = self.client.post(reverse("start"), {"customer": "", "label": ""})
        self.assertContains(bad, "or touch a known vehicle", status_code=422)
        count = Job.objects.count()
        self.client.post(reverse("start"), {"customer": "Heathercomb Bees", "label": "The other truck", "body": "van"})
        job = Job.objects.latest("pk")
        self.assertEqual(Job.objects.count(), count + 1)
        self.assertEqual(job.vehicle.customer, self.job("043").vehicle.customer)
        self.assertEqual([s.key for s in job.states.all()], ["empty", "loaded"])
        worked = Desk.look(job.pk).worked
        for name in (name for name, part in vars(Worked).items() if isinstance(part, once)):
            getattr(worked, name)
        self.assertEqual((worked.model, worked.problems), (None, {}), "what is not known yet is no fault")
        self.client.post(reverse("start"), {"vehicle": job.vehicle.pk})
        self.assertEqual(Job.objects.latest("pk").vehicle, job.vehicle)
        self.assertNotEqual(Job.objects.latest("pk").number, job.number)

    def test_garage_and_shelf(self) -> None:
        """The garage finds vehicles and lists their jobs; a kit's page shows its published data."""
        self.assertIn("Tow wagon of the club", self.page("garage", q="glider"))
        page = self.client.get(reverse("vehicle-page", args=[self.job("039").vehicle_id]))
        self.assertContains(page, "2026-039")
        self.assertIn("Slipway rubber 35", self.page("shelf"))
        kit = self.client.get(reverse("kit", args=["FW-M"]))
        self.assertContains(kit, "Force of one bag by height and pressure")
        self.assertEqual(self.client.get(reverse("kit", args=["NO-SUCH"])).status_code, 404)

    def test_units_are_one_s_own(self) -> None:
        """Changing one's units changes one's own pages and nobody else's."""
        self.client.post(reverse("settings"), {"first_name": "Marit", "last_name": "S", "units": "us"})
        self.assertIn(" in low", self.page("diagnose", self.job("041")))
        self.assertEqual(User.objects.get(username="jude").units, "metric")

    def test_states_are_added_and_removed(self) -> None:
        """Another load state gets a key of its own; one with readings is not removed."""
        job = self.job("044")
        url = reverse("weigh", args=[job.pk])
        for _ in range(2):
            self.client.post(url, {"action": "add-state", "name": "Holiday load!"})
        self.assertEqual([s.key for s in job.states.all()], ["empty", "loaded", "holiday-load", "holiday-load-2"])
        self.client.post(url, {"action": "remove-state", "state": job.states.last().pk})
        self.client.post(url, {"action": "remove-state", "state": job.states.first().pk})
        self.assertEqual(job.states.count(), 3)

    def test_what_is_not_there_is_not_found(self) -> None:
        """Jobs, cells and datums that do not exist are not found, never an error."""
        job = self.job("044")
        for address in (
            "/jobs/999999/diagnose/",
            f"/jobs/{job.pk}/measure/?datum=nonsense",
            f"/jobs/{job.pk}/walk/?datum=nonsense",
            f"/jobs/{job.pk}/cell/999/before/ground_arch/FL/",
            self.cell(job, "FL").replace("ground_arch", "pad_to_pad"),
            self.cell(job, "FL").replace("before", "sometime"),
        ):
            self.assertEqual(self.client.get(address).status_code, 404, address)


class Drawing(DemoCase):
    def test_every_body_is_drawn_to_scale(self) -> None:
        """Each body style has an outline whose wheels stand the wheelbase apart, at any enlargement; a trailer has a drawbar instead."""
        for body, style in BODIES.items():
            vehicle = JobVehicle(body=body, wheelbase_m=3.2, hitch_overhang_m=1.2)  # type: ignore[arg-type]
            shape, _ = outline(vehicle)
            self.assertGreater(max(h for _, h in shape), 1.4)
            stance = Stance(
                vehicle=vehicle,
                name="x",
                known=True,
                d_f=-0.01,
                d_r=0.06,
                rake=0.0,
                lean=0.0,
                beam=Quantity(0.1, "length", us=0.0762),
            )
            drawn = stance_svg(stance, "metric", 10.0)
            centres = sorted(
                {float(c) for c in re.findall(r'<circle cx="([\d.]+)" cy="[\d.]+" r="[\d.]+" fill="#2c3a33"', drawn)}
            )
            self.assertGreater(centres[-1] - centres[0], 120.0)
            self.assertIn("rear down 60\u00a0mm from empty", drawn)
            self.assertEqual("beam ▲ 100\u00a0mm" in drawn, not style.trailer)
            self.assertEqual("25\u00a0ft ahead" in stance_svg(stance, "us", 10.0), not style.trailer)

    def test_lean_is_seen_from_behind(self) -> None:
        """The side that stands lower is drawn lower, on the side of the page where it is seen from behind."""
        heights = {"FL": 0.8, "FR": 0.8, "RL": 0.85, "RR": 0.90}
        empty = dict.fromkeys(heights, 0.9)
        drawn = rear_svg(
            Stance(vehicle=JobVehicle(), name="x", known=True, heights=heights, empty=empty, lean=-0.05), "metric", 3.0
        )
        self.assertIn("right rear higher by 50\u00a0mm", drawn)
        body = re.findall(r'<polygon points="([^"]+)"', drawn)[0].split()
        left, right = (tuple(map(float, body[i].split(","))) for i in (0, 5))
        self.assertLess(left[0], right[0])
        self.assertGreater(left[1], right[1] + 5.0)

    def test_two_states_are_compared(self) -> None:
        """Any state can be drawn against any other, with the kit or without; all stand side by side in the strip."""
        job = self.job("038")
        text = self.page("prove", job, state="loaded+kit", against="loaded")
        self.assertIn("dashed: Clinic fitted out", text)
        drawn = self.client.get(
            reverse("prove", args=[job.pk]), {"state": "loaded+kit", "against": "loaded"}
        ).content.decode()
        self.assertRegex(drawn, r"rear up \d+\s*mm from Clinic fitted out")
        strip = self.page("diagnose", job, view="all")
        for name in ("Empty", "Clinic fitted out", "Clinic fitted out, read with the kit"):
            self.assertIn(name, strip)
        self.assertIn("rear axle, from behind", self.page("diagnose", job, view="rear"))
        self.assertIn("rear axle, from behind", self.page("diagnose", job))

    def test_nothing_typed_gets_into_the_drawing_as_markup(self) -> None:
        """A state's name is text, whatever it holds; no inline style is ever written."""
        drawn = stance_svg(Stance(vehicle=JobVehicle(), name="<script>x</script>"), "us")
        self.assertNotIn("<script>", drawn)
        self.assertIn("&lt;script&gt;", drawn)
        self.assertNotIn("style=", drawn)
        self.assertEqual(tag("text", 'a"b', x=1.0, y=None, data_k='"'), '<text x="1" data-k="&quot;">a&quot;b</text>')

    def test_the_look_is_remembered(self) -> None:
        """The enlargement asked for stays for the session; a state can be drawn by name, nonsense is ignored."""
        job = self.job("041")
        self.page("diagnose", job, x="10")
        self.assertIn("changes drawn ×10, dashed: empty", self.page("diagnose", job))
        self.assertIn("Empty changes drawn", self.page("diagnose", job, state="empty"))
        self.assertIn("changes drawn ×10", self.page("diagnose", job, x="77", state="nowhere"))
