"""A kit entered with its curve and used at once, changed, and refused at the place where it cannot be."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.urls import reverse

from tests.web.base import DemoCase, words
from vantok.desk.load import Desk
from vantok.records.choose.models import Fitting
from vantok.records.shelf.models import KitRecord
from vantok.stages.choose.sizes import SizesForm
from vantok_core.kits.fit import fit_checks
from vantok_core.kits.registry import FAMILIES

INSERT: dict[str, Any] = {
    "code": "NB-30",
    "name": "Nobody rubber 30",
    "maker": "Nobody",
    "axle": "rear",
    "springs": ["leaf_solid", "two_stage_leaf_solid"],
    "gross_min_kg": "2400",
    "gross_max_kg": "4600 kg",
    "price": "199,50",
    "hours": "1.2",
    "drilling": "no",
    "reversible": "yes",
    "maker_data": "yes",
    "points": "8 mm; 400 N\n1 cm; 600 N\n0,05 m; 8 kN",
    "gap_min_m": "0",
    "gap_max_m": "45",
    "longer_m": "20",
    "spacers_m": "6\n12 mm",
    "access": "wheels: 0.4",
    "contents": "2 inserts\n4 spacers",
}


class Editor(DemoCase):
    def save(self, code: str, **told: Any) -> HttpResponse:
        """Post an edit of a kit; what is not told stays, but ticks are always sent."""
        springs = list(KitRecord.objects.get(code=code).to_core().springs)
        answer: HttpResponse = self.client.post(reverse("kit-edit", args=[code]), {"springs": springs} | told)
        return answer

    def test_entered_and_used_at_once(self) -> None:
        """Typed with units as they come, plotted while it is typed, on the shelf when saved, among the choices of a job at once; a kit on a job
        keeps its copy when the shelf's is changed."""
        address = reverse("kit-new") + "?family=insert"
        live = self.client.post(f"{address}&plot=1", INSERT).content.decode()
        self.assertTrue("<polyline" in live)
        self.assertFalse(KitRecord.objects.filter(code="NB-30").exists())
        self.assertEqual(self.client.post(address, INSERT).status_code, 302)
        kit = KitRecord.objects.get(code="NB-30").to_core()
        self.assertEqual(kit.own["points"], [[0.008, 400.0], [0.01, 600.0], [0.05, 8000.0]])
        self.assertEqual(
            (kit.own["spacers_m"], kit.price, kit.access, kit.contents[1]),
            ([0.006, 0.012], 199.5, {"wheels": 0.4}, "4 spacers"),
        )
        job = self.job("041")
        choice = Desk.look(job.pk).shortlist.choice("NB-30")  # type: ignore[union-attr]
        assert choice is not None
        self.assertIsNotNone(choice.miss)
        self.client.post(reverse("choose", args=[job.pk]), {"kit": "NB-30"})
        saved = self.save("NB-30", price="250", points=INSERT["points"].replace("8 kN", "9 kN"))
        self.assertEqual(saved.status_code, 302)
        changed = KitRecord.objects.get(code="NB-30").to_core()
        self.assertEqual((changed.price, changed.own["points"][-1][1], changed.hours), (250.0, 9000.0, 1.2))
        self.assertEqual(Fitting.objects.get(job=job).kit["price"], 199.5)
        self.assertTrue("on the shelf already" in words(self.client.post(address, INSERT)))

    def test_its_sheet_and_its_variant(self) -> None:
        """Fasteners, steps and care are typed a line or a block each, by a reader of inches too, and lead the hands on the card at once; a variant of other
        years, or for what the vehicle does not have, is out, and asked about until somebody looked."""
        sheet = {
            "fasteners": "bag bolt; 2; 20 Nm; locker; crosswise; 2 stages\nlink nut; 1; by feel; at ride height",
            "steps": "Press it home.\non stands\ntightens: bag bolt\ncheck: It turns.\n\nNuts last.\nat ride height\nonce for both sides\ntightens: link nut",
            "care": "bolts again; 3 months; 50 miles",
            "hardware": "bolted stops",
            "year_from": "2001",
            "year_to": "2020",
        }
        self.assertEqual(self.client.post(reverse("kit-new") + "?family=insert", INSERT | sheet).status_code, 302)
        kit = KitRecord.objects.get(code="NB-30").to_core()
        bolt, nut = kit.fasteners
        self.assertEqual((bolt.torque_nm, bolt.state, bolt.stages, bolt.crosswise), (20.0, "locker", 2, True))
        self.assertEqual((nut.torque_nm, nut.at_ride_height, kit.years), (None, True, (2001, 2020)))
        self.assertEqual(
            [(s.side, s.stands, s.tightens) for s in kit.steps],
            [("each", "stands", ("bag bolt",)), ("once", "ride_height", ("link nut",))],
        )
        self.assertAlmostEqual(kit.care[0].km or 0.0, 80.4672)
        job = self.job("041")
        job.vehicle.year = 2012
        job.vehicle.save()
        choice = Desk.look(job.pk).shortlist.choice("NB-30")  # type: ignore[union-attr]
        assert choice is not None
        asked = {c.key: c.status for c in choice.checks}
        self.assertEqual((asked["hardware-0"], asked["years"]), ("measure", "pass"))
        form = SizesForm(vehicle=job.vehicle)
        answer = {f"hardware_{form.lines.index('bolted stops')}": "no"}
        self.client.post(reverse("choose", args=[job.pk]), {"action": "sizes"} | answer)
        choice = Desk.look(job.pk).shortlist.choice("NB-30")  # type: ignore[union-attr]
        assert choice is not None
        self.assertTrue("does not have it: bolted stops" in choice.out[0].in_units("metric"))
        file = self.client.get(reverse("job-file", args=[job.pk])).json()
        self.assertEqual(file["vehicle"]["hardware"], {"bolted stops": False})
        job.vehicle.year = 1999
        job.vehicle.save()
        self.assertEqual([c.status for c in fit_checks(Desk.open(job.pk).job, kit) if c.key == "years"], ["fail"])
        self.sign_in("tobin")
        self.assertEqual(self.save("NB-30", fasteners=sheet["fasteners"].replace("20 Nm", "15 lb·ft")).status_code, 302)
        self.assertAlmostEqual(
            KitRecord.objects.get(code="NB-30").to_core().fasteners[0].torque_nm or 0.0, 20.34, delta=0.01
        )
        self.client.post(
            reverse("kit-edit", args=["NB-30"]), {"springs": ["leaf_solid"], "year_from": "", "year_to": ""}
        )
        self.assertIsNone(KitRecord.objects.get(code="NB-30").to_core().years)

    def test_nothing_is_lost_in_other_units(self) -> None:
        """Saved untouched by somebody who reads inches, a kit of each family stays what it was, to the last digit; one figure changed changes that."""
        self.sign_in("tobin")
        for family in FAMILIES:
            record = KitRecord.objects.filter(family=family).first()
            assert record is not None, family
            before = record.to_core()
            page = self.client.get(reverse("kit-edit", args=[record.code])).content.decode()
            self.assertTrue("Its own data" in page)
            self.assertEqual(self.save(record.code, price=f"{before.price + 1:g}").status_code, 302, family)
            after = KitRecord.objects.get(pk=record.pk).to_core()
            self.assertEqual(after, before.model_copy(update={"price": before.price + 1}), family)

    def test_refused_at_its_place(self) -> None:
        """A curve that falls, a table with a hole, a window upside down, a price in words: each at its field, with what was typed kept."""
        address = reverse("kit-new") + "?family=insert"
        table = reverse("kit-edit", args=["FW-M"])
        for to, wrong, said in (
            (address, {"points": "10 mm; 900 N\n20 mm; 400 N"}, "must not fall"),
            (address, {"points": "10 mm 900 N"}, "Row 1"),
            (address, {"gross_min_kg": "5000"}, "upside down"),
            (address, {"price": "a lot"}, "Write it in figures"),
            (address, {"access": "wheels"}, "needs a name, a colon and hours"),
            (address, {"fasteners": "bolt; two; 20 Nm"}, "Row 1: it needs a name; how many"),
            (address, {"fasteners": "bolt; 2; 20 bar"}, "Row 1"),
            (address, {"steps": "Turn it.\nlefty"}, "Step 1: “lefty” is none of"),
            (address, {"steps": "Turn it.\ntightens: no bolt"}, "is not in the fastener table"),
            (address, {"care": "look; soon"}, "neither months nor a distance"),
            (address, {"year_from": "2010"}, "both years"),
            (address, {"year_from": "2010", "year_to": "2001"}, "first year comes after"),
            (address, {"springs": []}, "required"),
            (table, {"loads_n": "; 1 bar; 2 bar\n100 mm; 1400 N; 2800 N\n120 mm; 1300 N"}, "the table has a hole"),
        ):
            answer = self.client.post(to, (INSERT if to == address else {"springs": ["leaf_solid"]}) | wrong)
            self.assertEqual(answer.status_code, 422, said)
            self.assertTrue(said in words(answer), said)
        self.assertFalse(KitRecord.objects.filter(code="NB-30").exists())
        self.assertEqual(self.client.get(reverse("kit-new") + "?family=wings").status_code, 404)
        self.sign_in("jude")
        self.assertEqual(self.client.post(address, INSERT).status_code, 403)

    def test_data_of_nobody(self) -> None:
        """A kit whose data were taken from a like one is told in a wider band, and that is said."""
        self.save("CH-4", maker_data="no")
        job = self.job("041")
        found = Desk.look(job.pk).shortlist
        assert found is not None
        one, other = found.choice("CH-4"), found.choice("CA-8")
        assert one and other and one.drop and other.drop
        self.assertGreater(one.drop.sigma, 2 * other.drop.sigma)
        self.assertTrue("data of a like kit" in self.page("choose", job))
