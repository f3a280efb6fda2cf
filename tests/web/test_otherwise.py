"""Readings that come otherwise than by typing, how the vehicle stood, and what figures rest on, by their pages."""

from __future__ import annotations

from typing import Any

from django.urls import reverse

from tests.web.base import DemoCase, words
from vantok.desk.load import Desk
from vantok.records.measure.models import Reading
from vantok.records.weigh.models import LoadState
from vantok_core.readings.pictured import tyre_diameter


class Otherwise(DemoCase):
    def test_a_block_is_pasted_and_its_bad_rows_stay(self) -> None:
        """The good figures are taken, the bad ones told and kept in the field; what stands is overwritten only where that is wished."""
        job = self.job("044")
        address = reverse("paste", args=[job.pk])
        names = {s.key: s.name for s in job.states.all()}
        text = f"state\tFL\tFR\tRL\tRR\n{names['loaded']}\t640\tsix\t636\t\nNowhere\t1"
        answer = self.client.post(address, {"datum": "hub_arch", "phase": "before", "text": text})
        self.assertEqual(answer.status_code, 422)
        said = words(answer)
        self.assertTrue(
            "2 readings were taken" in said
            and "there is no state “Nowhere”" in said
            and "does not read as a length" in said,
            said[-900:],
        )
        self.assertContains(answer, "Nowhere", status_code=422)
        self.assertEqual(Reading.objects.filter(job=job, datum="hub_arch", place="FL").last().text, "640")  # type: ignore[union-attr]
        again = f"{names['loaded']}\t641\t\t636"
        stands = self.client.post(address, {"datum": "hub_arch", "text": f"state\tFL\tFR\tRL\n{again}"})
        self.assertTrue("640 stands there already" in words(stands))
        taken = self.client.post(address, {"datum": "hub_arch", "text": f"state\tFL\tFR\tRL\n{again}", "over": "1"})
        self.assertRedirects(
            taken, f"{reverse('measure', args=[job.pk])}?datum=hub_arch", fetch_redirect_response=False
        )
        self.assertEqual(Reading.objects.filter(job=job, datum="hub_arch", place="FL").last().text, "641")  # type: ignore[union-attr]
        self.assertEqual(self.client.post(address, {"text": ""}).status_code, 422)

    def test_a_photograph_is_a_reading_of_its_own_kind(self) -> None:
        """Marks and the tyre's size make hub to arch with its own sigma; what cannot be is said and nothing is stored."""
        job = self.job("044")
        state = LoadState.objects.get(job=job, key="loaded")
        scale, half = 1000.0, tyre_diameter("235/65 R16") / 2
        marks = {
            "hub": "800,900",
            "arch": f"800,{900 - 0.505 * scale}",
            "edge_1": f"{800 - half * scale},900",
            "edge_2": f"{800 + half * scale},900",
        }
        told: dict[str, Any] = {"state": state.pk, "place": "RL", "size": "235/65 R16"} | marks
        address = reverse("by-photo", args=[job.pk])
        self.assertEqual(self.client.post(address, told).status_code, 302)
        read = Reading.objects.filter(job=job, datum="hub_arch", place="RL", state=state).last()
        assert read is not None
        self.assertEqual((read.value_m, read.instrument, read.text), (0.505, "photo", "505 mm"))
        self.assertGreater(read.step_m, 0.02)
        count = Reading.objects.count()
        for change, said in (
            ({"size": "big"}, "write the tyre"),
            ({"arch": ""}, "set this mark"),
            ({"hub": "900,900"}, "midway"),
            ({"place": "hitch"}, "choose a corner"),
            ({"hub": "x"}, "two figures"),
            ({"hub": "1e9,0"}, "lies on the picture"),
        ):
            answer = self.client.post(address, told | change)
            self.assertTrue(answer.status_code == 422 and said in words(answer), (change, words(answer)[:600]))
        self.assertEqual(Reading.objects.count(), count)

    def test_how_it_stood_is_copied_and_compared(self) -> None:
        """Entered once, offered for the next state; a difference is said on the sheet with its worth; it goes into the job file."""
        job = self.job("041")
        empty, loaded = (LoadState.objects.get(job=job, key=key) for key in ("empty", "loaded"))
        address = reverse("condition", args=[job.pk])
        told = {
            "fuel": "1",
            "water": "0",
            "people": "0",
            "FL": "3",
            "FR": "3",
            "RL": "4.5",
            "RR": "4.5",
            "kelvin": "18 C",
            "ground": "bay 1",
            "odometer_km": "81250",
        }
        self.assertTrue(
            "is that °C or °F" in words(self.client.post(address, told | {"state": empty.pk, "kelvin": "18"}))
        )
        self.client.post(address, told | {"state": empty.pk})
        self.assertTrue("As in “Empty”" in words(self.client.get(address, {"state": loaded.pk})))
        self.assertContains(self.client.get(address, {"state": loaded.pk}), 'value="4.50"')
        self.client.post(address, told | {"state": loaded.pk, "RL": "3.6", "ground": "the yard"})
        sheet = self.page("measure", job)
        self.assertTrue("rear left tyre had 0.90 bar lower" in sheet and "no sag" in sheet and "the yard" in sheet)
        job.refresh_from_db()
        self.assertEqual(job.odometer_km, 81250.0)
        file = self.client.get(reverse("job-file", args=[job.pk])).json()
        self.assertEqual(file["states"][1]["condition"]["tyres_pa"]["RL"], 360000.0)
        self.assertEqual(Desk.look(job.pk).unfit, [])
        self.sign_in("tobin")
        self.assertTrue("psi lower" in self.page("measure", job))

    def test_what_the_core_does_not_hold_is_said_at_its_field(self) -> None:
        """A figure beyond its bound comes back as typed with the bound in the reader's units, and nothing is stored."""
        job = self.job("042")
        answer = self.client.post(reverse("condition", args=[job.pk]), {"RR": "50 bar", "FL": "4 bar"})
        self.assertContains(answer, "“50 bar” is over 20.0", status_code=422)
        self.assertContains(answer, 'value="50 bar"', status_code=422)
        self.assertFalse(any(state.condition for state in job.states.all()))

    def test_envelope_and_assumptions_are_pages(self) -> None:
        """A state with a tank shows its span and worst case; one with nothing that varies says so; what the job rests on is listed with where to better it."""
        job = self.job("041")
        loaded = LoadState.objects.get(job=job, key="loaded")
        self.assertTrue("Nothing in this state comes and goes" in self.page("envelope", job, state="loaded"))
        loaded.items.create(kind="tank", name="live well", capacity_l=200, fill=0.5, kg_per_l=1.0, station_m=3.8)
        text = self.page("envelope", job, state="loaded")
        self.assertTrue("live well full" in text and "live well empty" in text, text[-800:])
        rests = self.page("assumptions", job)
        self.assertTrue("rear spring rate" in rests.lower() and "tyre rate, by its class" in rests)
