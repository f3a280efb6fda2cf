"""Kits as files: out and in again to the last digit, all or nothing, every fault with its place."""

from __future__ import annotations

import json
import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.test_families import KITS
from vantok_core.base.errors import FileFormatError
from vantok_core.facts import Kit
from vantok_core.files.kits_file import FLAT, KitsRefusedError, read_kits, read_kits_csv, write_kits, write_kits_csv
from vantok_core.kits.curves import curves, read_so_far, read_typed, written
from vantok_core.kits.registry import family_of

SHELF = list(KITS.values())


class Files(unittest.TestCase):
    def test_out_and_in_again(self) -> None:
        """All families in one file, each alone, and the flat ones as tables: the same kits, to the last digit."""
        self.assertEqual(read_kits(write_kits(SHELF)), SHELF)
        for kit in SHELF:
            self.assertEqual(read_kits(kit.model_dump_json(exclude_none=True)), [kit])
            if kit.family in FLAT:
                self.assertEqual(read_kits_csv(write_kits_csv(SHELF, kit.family), kit.family), [kit])
            else:
                with self.assertRaisesRegex(FileFormatError, "does not go into a table"):
                    write_kits_csv(SHELF, kit.family)

    @settings(max_examples=60, deadline=None)
    @given(
        rate=st.floats(1.0, 1e6),
        price=st.floats(0.0, 1e5),
        name=st.text(st.characters(codec="utf-8", exclude_categories=("Cc", "Cs")), min_size=1, max_size=40).filter(
            lambda t: t.strip() == t and t
        ),
    )
    def test_any_figure_and_any_name(self, rate: float, price: float, name: str) -> None:
        """Whatever stands in a cell comes back the same, formulas and apostrophes included."""
        kit = KITS["coil_assist"].model_copy(update={"rate_n_per_m": rate, "price": price, "name": name})
        (again,) = read_kits_csv(write_kits_csv([kit], "coil_assist"), "coil_assist")
        self.assertEqual((again.name, again.price), (name, price))
        self.assertEqual(family_of(again).of(again).rate_n_per_m, rate)
        self.assertEqual(read_kits(write_kits([kit])), [kit])

    @settings(max_examples=150, deadline=None)
    @given(
        kit=st.sampled_from(SHELF),
        part=st.floats(0.0, 1.0),
        mistyped=st.text(st.characters(exclude_categories=("Cc", "Cs", "Zl", "Zp")), max_size=6),
    )
    def test_a_curve_half_typed(self, kit: Kit, part: float, mistyped: str) -> None:
        """Cut off at any letter, with anything after it, a curve has the points of its whole rows, and of no other row; written whole it has all of them."""
        for name, typed in family_of(kit).typed.items():
            text = written(kit, name, typed)
            self.assertEqual(read_so_far(text, name, typed), read_typed(text, name, typed) if text else {})
            cut = text[: int(part * len(text))]
            rows = {point for line in curves(read_so_far(text, name, typed), name, typed) for point in line.points}
            shown = curves(read_so_far(cut.rpartition("\n")[0] + "\n" + mistyped * 2 + " ?", name, typed), name, typed)
            self.assertLessEqual({point for line in shown for point in line.points}, rows)

    def test_every_fault_with_its_place(self) -> None:
        """A file with three bad kits tells all three and gives none; so does a table, by its line."""
        told = json.loads(write_kits(SHELF))
        told["kits"][0]["price"] = "dear"
        told["kits"][3]["family"] = "jet"
        told["kits"][5]["code"] = told["kits"][4]["code"]
        with self.assertRaises(KitsRefusedError) as caught:
            read_kits(json.dumps(told))
        for place in ("kits.0.price", "kits.3.family", "kits.5.code"):
            self.assertIn(place, " ".join(caught.exception.faults))
        self.assertEqual(len(caught.exception.faults), 3)
        table = write_kits_csv(SHELF, "coil_assist").splitlines()
        head = table[0].split(",")
        row = dict(zip(head, table[1].split(","), strict=True))
        bad = [
            ",".join((row | change).values())
            for change in ({"code": "X-1", "steps_max": "many"}, {"code": "X-2", "rate_n_per_m": "-4"})
        ]
        with self.assertRaises(KitsRefusedError) as caught:
            read_kits_csv("\n".join([table[0], *bad]), "coil_assist")
        self.assertRegex(" ".join(caught.exception.faults), r"line 2\.steps_max.*line 3\.rate_n_per_m")

    def test_no_file_of_kits(self) -> None:
        """Another file, another version, nonsense, strange columns: each refused in words."""
        for text, why in (
            ("{}", "no file of kits"),
            ('{"format": "vantok-kits", "version": 9, "kits": []}', "version 9"),
            ("[1]", "no file of kits"),
            ('{"format": "vantok-kits", "version": 1, "kits": [5]}', "kits.0"),
            ("{", "JSON"),
        ):
            with self.assertRaisesRegex(FileFormatError, why):
                read_kits(text)
        with self.assertRaisesRegex(FileFormatError, "not known: colour"):
            read_kits_csv("code,colour\nA,red\n", "added_leaf")
        with self.assertRaisesRegex(FileFormatError, "needed is code"):
            read_kits_csv("", "added_leaf")
