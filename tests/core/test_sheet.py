"""A kit's sheet typed and read back; a stabilizer by its clicks."""

from __future__ import annotations

import unittest

from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_families import KITS
from vantok_core.base.errors import FileFormatError
from vantok_core.base.say import Say
from vantok_core.facts.kit import Care, Fastener, KitStep
from vantok_core.kits.registry import checked, family_of
from vantok_core.kits.sheet import care_written, fasteners_written, read_care, read_fasteners, read_steps, steps_written

words = st.text(st.characters(categories=("Ll", "Lu"), include_characters=" "), min_size=1, max_size=20).map(
    lambda t: f"a {t.strip()} b"
)
fasteners = st.builds(
    Fastener,
    name=words,
    count=st.integers(1, 64),
    torque_nm=st.none() | st.integers(1, 900).map(float),
    state=st.sampled_from(["dry", "oiled", "locker"]),
    at_ride_height=st.booleans(),
    stages=st.integers(1, 5),
    crosswise=st.booleans(),
    whose=st.sampled_from(["kit", "vehicle"]),
)
cares = st.builds(
    Care, what=words, months=st.integers(1, 120).map(float), km=st.none() | st.integers(1, 90_000).map(float)
)
steps = st.builds(
    KitStep,
    words=words,
    side=st.sampled_from(["each", "once", "left", "right"]),
    stands=st.sampled_from(["wheels", "stands", "ride_height"]),
    irreversible=st.booleans(),
    tightens=st.lists(words, max_size=3).map(tuple),
    caution=words | st.just(""),
    check=words | st.just(""),
    if_fails=words | st.just(""),
    opens=st.lists(words, max_size=2).map(tuple),
    closes=st.lists(words, max_size=2).map(tuple),
    moves=st.booleans(),
    alone=st.booleans(),
    air=st.sampled_from(["", "out", "minimum", "working"]),
    energy=st.sampled_from(["", "unloads", "releases", "loads"]),
    trial=st.sampled_from(["", "dry", "read"]),
)


class Sheet(unittest.TestCase):
    @given(st.lists(fasteners, max_size=4), st.lists(cares, max_size=3), st.lists(steps, max_size=4))
    def test_what_is_written_reads_back(self, bolts: list[Fastener], later: list[Care], work: list[KitStep]) -> None:
        """A sheet written as it is typed, and read again, is the same sheet."""
        self.assertEqual([Fastener(**row) for row in read_fasteners(fasteners_written(bolts))], bolts)
        self.assertEqual([Care(**row) for row in read_care(care_written(later))], later)
        self.assertEqual([KitStep(**row) for row in read_steps(steps_written(work))], work)

    def test_a_stabilizer_by_its_clicks(self) -> None:
        """Each click damps by its own figure; clicks that do not rise are refused; one without clicks has nothing to set."""
        plain = KITS["steering_stabilizer"]
        kit = plain.model_copy(update={"clicks_ns_per_m": [700.0, 1_000.0, 2_800.0]})
        family = family_of(kit)
        ((name, span),) = family.spans(kit).items()
        self.assertEqual((name, span.high), ("click_count", 3.0))
        said = {click: family.does(None, kit, {name: (click, click)}, "")[0] for click in (1.0, 3.0)}  # type: ignore[arg-type]  # asks no model
        self.assertEqual([said[c].values["c"].value for c in (1.0, 3.0)], [700.0, 2_800.0])
        self.assertTrue(isinstance(said[1.0], Say) and "one click at a time" in said[1.0].in_units("metric"))
        self.assertEqual((family.spans(plain), family.both_sides), ({}, False))
        with self.assertRaisesRegex(FileFormatError, "harder than the one before"):
            checked(kit.model_copy(update={"clicks_ns_per_m": [900.0, 800.0]}), "kit")
