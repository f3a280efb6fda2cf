"""Helper leaves: set by the hole that comes nearest, on packs alone, felt loaded and empty."""

from __future__ import annotations

import unittest

from tests.core.samples import job
from vantok_core.base.errors import FileFormatError
from vantok_core.facts import Fitting
from vantok_core.files.job_file import read_job, write_job
from vantok_core.kits.choose import shortlist
from vantok_core.kits.families.helper_leaf import FAMILY, HOLE
from vantok_core.kits.fit import fit_checks, fitted_vehicle, with_kit
from vantok_core.kits.registry import read_kit
from vantok_core.model import build_model

ENTRY = {
    "code": "H-1",
    "name": "Test helper",
    "maker": "Nobody Springs",
    "family": "helper_leaf",
    "springs": ["leaf_solid"],
    "price": 200,
    "hours": 1.5,
    "rate_n_per_m": 20e3,
    "preloads_n": [200, 500, 900, 1400],
}
KIT = read_kit(ENTRY)


class HelperLeaf(unittest.TestCase):
    def test_the_hole_that_comes_nearest(self) -> None:
        """The same hole on both sides, and no other brings the rear nearer to the target."""
        model = build_model(job())
        found = shortlist(model, [KIT])
        choice = found.choice("H-1")
        assert choice is not None
        assert choice.miss is not None
        key = found.state.key
        misses = {
            hole: abs(
                float(model.solve(with_kit(model.job, model.vehicle, KIT, {HOLE: (hole, hole)}, state=key))[key].d_r)
                - found.target.drop
            )
            for hole in (1.0, 2.0, 3.0, 4.0)
        }
        left, right = choice.setting[HOLE]
        self.assertEqual(left, right)
        self.assertAlmostEqual(abs(choice.miss), min(misses.values()), places=3)

    def test_a_harder_hole_lifts_more(self) -> None:
        """Loaded and empty, each hole stands the rear higher than the one before."""
        model = build_model(job())
        stands = [
            model.solve(fitted_vehicle(model, Fitting(kit=KIT, setting={HOLE: (h, h)}, state="loaded")))
            for h in (1, 2, 3, 4)
        ]
        for state in ("empty", "loaded"):
            drops = [float(s[state].d_r) for s in stands]
            self.assertEqual(drops, sorted(drops, reverse=True))

    def test_only_on_a_pack(self) -> None:
        """On a tapered single leaf it is out, on an unknown spring it is to be looked at."""
        for spring, status in (("leaf_solid", "pass"), ("parabolic_solid", "fail"), (None, "measure")):
            vehicle = job().vehicle.model_copy(update={"rear_spring": spring})
            found = {c.key: c.status for c in fit_checks(job().model_copy(update={"vehicle": vehicle}), KIT)}
            self.assertEqual(found["pack"], status)

    def test_data_that_cannot_be(self) -> None:
        """Holes that do not press harder one after another, no hole, no rate: refused with the place."""
        for change in ({"preloads_n": [500, 400]}, {"preloads_n": []}, {"rate_n_per_m": 0}, {"points": [[0.01, 3]]}):
            with self.assertRaises(FileFormatError):
                read_kit(ENTRY | change)

    def test_its_setting_goes_out_and_in(self) -> None:
        """A job with it on is written and read again the same, and its mark tells the holes."""
        one = job(fitting=Fitting(kit=KIT, setting={HOLE: (2, 3)}, state="loaded"))
        self.assertEqual(read_job(write_job(one)), one)
        assert one.fitting is not None
        self.assertEqual(one.fitting.mark, "H-1 h2.00,3.00")
        self.assertEqual(FAMILY.of(KIT).preload(9), 1400)
