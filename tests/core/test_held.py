"""What the core holds: a shelf of any size, a limit of work, figures within bounds, sums to the cent, hands' minutes without their pauses."""

from __future__ import annotations

import unittest
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime, timedelta

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.samples import AIR, INSERT, job
from vantok_core.base.check import in_words
from vantok_core.base.errors import InputError, UnitError
from vantok_core.base.kept import LastByKey
from vantok_core.base.units import MOST, SHOWN, parse
from vantok_core.base.work import TooMuchWorkError, limited
from vantok_core.facts import CardMark, Kit
from vantok_core.facts.quote import QuoteSheet
from vantok_core.files.cases.run import run_case
from vantok_core.judge.benches.all import BENCHES
from vantok_core.judge.choose.fits import unfit_said
from vantok_core.judge.choose.offer import lines_for, offer
from vantok_core.judge.measure.checks import baseline_missing
from vantok_core.kits.choose import shortlist
from vantok_core.kits.fit import standing_unfit
from vantok_core.kits.screen import MOST as WORKED
from vantok_core.model import build_model
from vantok_core.procedure.card import card
from vantok_core.procedure.progress import progress


def shelf(count: int) -> list[Kit]:
    """Return so many kits of two families, some of another vehicle, each at a price of its own."""
    found = []
    for n in range(count):
        one = (AIR, INSERT)[n % 2]
        gross = {"gross_min_kg": 100.0, "gross_max_kg": 200.0} if n % 5 == 4 else {}
        found.append(one.model_copy(update={"code": f"{one.code}-{n}", "price": one.price * (1.0 + 0.01 * n), **gross}))
    return found


class Shelves(unittest.TestCase):
    def test_a_large_shelf_is_screened_and_names_what_it_left(self) -> None:
        """Out by data first, sixty worked out, the rest listed; nothing is lost, and the one recommended is as good as with all of them."""
        model = build_model(job())
        kits = shelf(300)
        found = shortlist(model, kits)
        named = {c.key for c in found.choices if c.kit} | {k.code for k in found.further}
        self.assertEqual(named, {k.code for k in kits})
        worked = [c for c in found.choices if c.vehicle is not None and c.kit]
        self.assertLessEqual(len(worked), WORKED)
        self.assertTrue(
            all(c.out and c.vehicle is None for c in found.choices if c.kit and c.kit.gross_max_kg == 200.0)
        )
        whole = shortlist(model, [k for k in kits if k.code.rsplit("-", 1)[1] in {str(n) for n in range(0, 59)}])
        best, small = found.choice(found.recommended), whole.choice(whole.recommended)
        assert best is not None and small is not None
        self.assertGreaterEqual(best.score, small.score - 1e-9)

    @given(st.integers(0, 140), st.permutations(range(140)))
    @settings(max_examples=5, deadline=None)
    def test_the_order_of_the_shelf_does_not_matter(self, count: int, order: list[int]) -> None:
        """Whatever order the kits stand in, the same ones are worked out."""
        model, kits = build_model(job()), shelf(140)
        one, other = shortlist(model, kits), shortlist(model, [kits[n] for n in order])
        self.assertEqual({c.key for c in one.choices}, {c.key for c in other.choices})
        self.assertEqual(one.recommended, other.recommended)


class Bounds(unittest.TestCase):
    @given(st.sampled_from(sorted(SHOWN)), st.integers(1, 400))
    def test_no_figure_outgrows_its_kind(self, kind: str, digits: int) -> None:
        """As many digits as somebody cares to type: within the kind's most, or a sentence."""
        try:
            found = parse(kind, "9" * digits, "metric").value
        except UnitError:
            return
        self.assertLessEqual(abs(found), MOST[kind])

    def test_every_bench_bounds_what_it_counts(self) -> None:
        """A count past what its field declares is refused at that field, whichever bench it is."""
        for bench in BENCHES.values():
            for ask in bench.asks:
                if ask.kind in ("count", "length", "mass", "force", "pressure"):
                    with self.subTest(bench=bench.key, field=ask.name), self.assertRaises(InputError) as refused:
                        bench.answer({a.name: a.first for a in bench.asks if a.first is not None} | {ask.name: 1e30})
                    self.assertEqual(refused.exception.field, ask.name)

    def test_work_has_a_limit(self) -> None:
        """Past it a solve ends, and is no fault of the figures; an inner limit never goes past an outer one."""
        with self.assertRaises(TooMuchWorkError), limited(0.0), limited(60.0):
            build_model(job()).solve()
        build_model(job()).solve()

    def test_faults_are_told_in_words(self) -> None:
        """Whatever kind of fault the form finds, no word of its own is passed on."""
        for fault in (
            {"type": "value_error", "msg": "Value error, it is upside down"},
            {"type": "missing", "msg": "Field required"},
            {"type": "less_than_equal", "msg": "Input should be", "ctx": {"le": 5.0}},
            {"type": "never_heard_of", "msg": "Input x"},
        ):
            self.assertNotRegex(in_words(fault), r"Value error|Input|Field")


class Sums(unittest.TestCase):
    def test_a_quote_is_exact(self) -> None:
        """2.50 h at 80 is 200, whatever the hours of one side come to: rounded is the money, once."""
        kit = AIR.model_copy(update={"price": 560.0, "hours": 2.5, "access": {}})
        lines = [one for one in lines_for(job(), [kit]) if one.kind != "consumables"]
        sums = offer(QuoteSheet(lines=tuple(lines), rate=80.0)).sums
        self.assertEqual((sums.total[0], round(sums.hours, 9)), (760.0, 2.5))

    def test_minutes_are_those_of_hands(self) -> None:
        """A card left for nine months between two ticks of a side took minutes, not 392796."""
        own = card(job(), AIR)
        left = [s for s in own.steps if s.side == "left"][:3]
        at = datetime(2026, 1, 5, 9, 0, tzinfo=UTC)
        times = (at, at + timedelta(minutes=12), at + timedelta(days=272))
        marks = [CardMark(key=s.key, at=t.isoformat()) for s, t in zip(left, times, strict=True)]
        found = progress(own, marks)
        self.assertEqual((found.minutes("left"), found.worked_minutes), (12.0, 12.0))


class Fits(unittest.TestCase):
    def test_final_is_final(self) -> None:
        """A check that is final stands though somebody wrote that it is overruled; another one goes with its reason, and the card with it."""
        fitted = job()
        wrong = AIR.model_copy(update={"gross_min_kg": 7000.0, "gross_max_kg": 9000.0, "years": (1990, 1991)})
        vehicle = fitted.vehicle.model_copy(update={"year": 2020})
        fitting = (fitted.fitting or with_air()).model_copy(
            update={"kit": wrong, "overruled": {"variant": "it will do", "years": "same frame"}}
        )
        on = fitted.model_copy(update={"vehicle": vehicle, "fitting": fitting})
        self.assertEqual([c.key for c in standing_unfit(on, 0)], ["variant"])
        said = unfit_said(on, 0)
        assert said is not None
        held = progress(card(on, wrong), (), stopped=said)
        self.assertTrue(all("does not fit" in held.held(step) for step in held.open))

    def test_a_hitch_height_is_a_baseline(self) -> None:
        """Read empty at the hitch alone, the reference is read."""
        bare = job().model_copy(update={"readings": ()})
        self.assertTrue(baseline_missing(bare))
        one = (
            job()
            .readings[0]
            .model_copy(update={"state": bare.empty.key, "datum": "ground_hitch", "place": "hitch", "value_m": 0.5})
        )  # type: ignore[union-attr]
        self.assertFalse(baseline_missing(bare.model_copy(update={"readings": (one,)})))


class Kept(unittest.TestCase):
    def test_what_is_kept_by_key(self) -> None:
        """So many and no more, the first put in gives way, one put in again counts as new; many threads at once break nothing."""
        kept = LastByKey[int, str](3)
        for n in (1, 2, 3, 1, 4):
            self.assertEqual(kept.put(n, str(n)), str(n))
        self.assertEqual([kept.get(n) for n in (1, 2, 3, 4)], ["1", None, "3", "4"])

        def hammer(seed: int) -> int:
            for n in range(2000):
                kept.put((seed * 7 + n) % 11, "x")
                kept.get(n % 11)
            return seed

        with ThreadPoolExecutor(8) as pool:
            self.assertEqual(list(pool.map(hammer, range(8))), list(range(8)))
        self.assertEqual(sum(kept.get(n) is not None for n in range(12)), 3)
        kept.clear()
        self.assertIsNone(kept.get(4))


class Cases(unittest.TestCase):
    def test_every_input_that_kinds_names_is_taken(self) -> None:
        """A kick's pulse by its own name changes what it does; nothing known is refused."""
        case = {
            "name": "k",
            "kind": "kick",
            "inputs": {"M": 150.0, "c_d": 1400.0, "r_d": 0.16, "pulse": 0.08},
            "expected": {},
            "tolerance": {},
        }
        longer = run_case(case)
        self.assertEqual(longer.message, "")


def with_air():  # type: ignore[no-untyped-def] # a sample of this file
    """Return the air kit as fitted."""
    from vantok_core.facts import Fitting

    return Fitting(kit=AIR, setting={"pressure_pa": (3e5, 3e5)})
