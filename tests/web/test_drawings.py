"""Drawings of any job: well-formed, every coordinate a figure, the same facts in words for who cannot see them."""

import re
import unittest
from datetime import UTC, datetime, timedelta
from functools import partial
from itertools import pairwise
from typing import get_args
from xml.etree import ElementTree

from django.urls import reverse
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.core.samples import job as sample
from tests.core.test_any_job import jobs, words
from tests.core.test_prover import built
from tests.web.base import DemoCase
from vantok.drawing.at_step import GROUND, WIDE, at_step_svg
from vantok.drawing.bodies import outline
from vantok.drawing.floor import FloorPlan, floor_svg
from vantok.drawing.history_plot import history_svg
from vantok.drawing.marks import finding_marks, from_behind, from_side
from vantok.drawing.orient import MARK, orient_svg
from vantok.drawing.rear import rear_svg
from vantok.drawing.side import DRAWN, WIDTH, Side, stance_svg, strip_svg
from vantok.drawing.stance import TIMES, Stance, against, stance_of
from vantok.records.choose.models import Fitting
from vantok.records.shelf.models import KitRecord
from vantok.records.weigh.models import LoadItem
from vantok_core.base.errors import VantokError
from vantok_core.base.say import Finding, Say, Spot
from vantok_core.facts import Fitting as CoreFitting
from vantok_core.facts import Job, JobVehicle
from vantok_core.facts.classes import BODIES
from vantok_core.judge.diagnose.diagnosis import diagnose
from vantok_core.kits.registry import FAMILIES, family_of
from vantok_core.loads.places import footprint, zones
from vantok_core.loads.plan import reach
from vantok_core.model import build_model
from vantok_core.procedure.card import card
from vantok_core.procedure.picture import picture

quick = settings(
    max_examples=25, deadline=None, suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large]
)
COORDINATES = ("x", "y", "x1", "y1", "x2", "y2", "cx", "cy", "r", "rx", "ry", "width", "height", "font-size")


class Drawn(unittest.TestCase):
    def whole(self, svg: str) -> ElementTree.Element:
        """Return the drawing's tree after checking that it is XML, in which every coordinate is a finite figure and nothing is styled inline;
        a table of its figures beside it has a name for every row and no row without a figure."""
        root, *tables = ElementTree.fromstring(f"<div>{svg}</div>")
        for row in (r for table in tables for r in table.iter("tr")):
            self.assertTrue(all(cell.text for cell in row), ElementTree.tostring(row))
            self.assertGreater(len(row), 1)
        for element in root.iter():
            self.assertNotIn("style", element.attrib)
            for name in COORDINATES:
                if name in element.attrib:
                    self.assertRegex(element.attrib[name], r"^-?\d+(\.\d+)?$", (element.tag, name))
            for pair in element.attrib.get("points", "").split():
                self.assertRegex(pair, r"^-?\d+\.\d,-?\d+\.\d$")
        self.assertTrue(root.attrib["aria-label"])
        return root

    def stances(self, job: Job) -> dict[str, Stance]:
        """Return the stance of each state that can be drawn, by its key; of a job with none, the outline."""
        try:
            found = diagnose(build_model(job))
        except VantokError:
            return {"": stance_of(job.vehicle, None)}
        seen = [s.key for s in job.states if found.view(s.key)]
        return {key: stance_of(job.vehicle, found, key) for key in seen or [""]}

    @quick
    @given(jobs(), st.sampled_from(["metric", "us"]), st.sampled_from(TIMES))
    def test_any_job_from_the_side_from_behind_and_in_a_strip(self, job: Job, units: str, times: float) -> None:
        """Each state of any job is drawn whole in each view, alone and against another; one that no tape has read says it is estimated."""
        by_state = self.stances(job)
        found = [*by_state.values()]
        read = {r.state for r in job.readings} | {s.key for s in job.states if s.empty}
        for key, stance in by_state.items():
            if stance.known and key not in read:
                svg = stance_svg(stance, units, times)  # type: ignore[arg-type]
                self.assertIn(", estimated", self.whole(svg).attrib["aria-label"])
                self.assertTrue(("▲" not in svg and "▼" not in svg) or svg.count(", estimated") > 1)
        for stance in found:
            for drawn in (stance, against(stance, found[0])):
                self.whole(stance_svg(drawn, units, times))  # type: ignore[arg-type]
                self.whole(rear_svg(drawn, units, times))  # type: ignore[arg-type]
        root = self.whole(strip_svg(found, units, times))  # type: ignore[arg-type]
        shown = [e.text for e in root.iter() if e.tag.endswith("text")]
        for stance in found:
            self.assertIn(stance.name, shown)

    @quick
    @given(jobs(), st.lists(st.sampled_from(get_args(Spot)), max_size=7))
    def test_findings_are_marked_where_they_are(self, job: Job, places: list[Spot]) -> None:
        """Each finding that has a place is marked once by its number in the list, from the side and from behind, no mark upon another; one of the
        whole vehicle by none."""
        findings = [Finding(key="k", tone="act", what=Say("x"), at=at) for at in places]
        stance = stance_of(job.vehicle, None)
        side = stance_svg(stance, "metric", more=lambda side: finding_marks(partial(from_side, side), findings))
        for svg in (side, rear_svg(stance, "metric", more=finding_marks(from_behind, findings))):
            faces = [e for e in self.whole(svg).iter() if e.tag.endswith("circle") and e.attrib.get("cy") == "15"]
            placed = [n for n, at in enumerate(places, 1) if at]
            self.assertEqual(len(faces), len(placed))
            across = sorted(float(e.attrib["cx"]) for e in faces)
            self.assertTrue(all(b - a > 24.0 for a, b in pairwise(across)))

    @quick
    @given(jobs())
    def test_any_plan_from_above(self, job: Job) -> None:
        """What is carried is drawn on a plan to scale: each item can be reached by keys, is named, and stands where it stands."""
        place = reach(job)
        if place is None:
            return
        for state in job.loaded:
            items = [
                LoadItem(
                    pk=n + 1, kind="item", name=i.name, mass_kg=i.mass_kg, station_m=i.station_m, lateral_m=i.lateral_m
                )
                for n, i in enumerate(state.items)
            ]
            plan = FloorPlan(
                place=place,
                tracks=(1.6, 1.7),
                dual=job.vehicle.dual_rear,
                hitch=job.vehicle.hitch_overhang_m,
                items=items,
                corners={"FL": 500.0},
                centre=(1.5, 0.1),
                tongue=state.tongue,
            )
            root = self.whole(floor_svg(plan, "metric"))
            scale = float(root.attrib["data-scale"])
            drawn = [e for e in root.iter() if e.attrib.get("class") == "plan-item"]
            self.assertEqual(len(drawn), len(items))
            spots = []
            for element, item in zip(drawn, items, strict=True):
                self.assertEqual((element.attrib["tabindex"], element.attrib["role"]), ("0", "button"))
                self.assertTrue(element.attrib["aria-label"].startswith(item.name))
                x, y = map(float, re.findall(r"-?[\d.]+", element.attrib["transform"]))
                spots.append((x - item.station_m * scale, y - item.lateral_m * scale))
            for x, y in spots:
                self.assertAlmostEqual(x, spots[0][0], delta=0.2)
                self.assertAlmostEqual(y, spots[0][1], delta=0.2)

    def test_every_body_keeps_to_its_page_and_its_zones_to_the_body(self) -> None:
        """At the longest and shortest wheelbases the side view fits its frame; zones follow one another from front to back."""
        for body in BODIES:
            for wheelbase in (2.2, 3.6, 6.5):
                vehicle = JobVehicle(body=body, wheelbase_m=wheelbase, hitch_overhang_m=1.0)  # type: ignore[arg-type]
                side = Side(vehicle, 1.0)
                xs = [side.at(s, h)[0] for s, h in outline(vehicle)[0]]
                self.assertGreaterEqual(min(xs), 0.0)
                self.assertLessEqual(max(xs), DRAWN)
                self.assertLess(DRAWN, WIDTH)
                place = footprint(body, wheelbase, None, 1.0)
                found = zones(place)
                spans = {z.key: (z.start, z.end) for z in found}
                self.assertLessEqual(spans.get("cab", (0.0, place.wall))[1], spans["floor"][0] + 1e-9, body)
                self.assertLessEqual(spans["floor"][1], spans["rack"][0] + 1e-9, body)
                for zone in found:
                    middle = 0.5 * (zone.start + zone.end)
                    self.assertTrue(place.first - 0.1 <= middle <= place.last and zone.left <= place.half_width, zone)

    @given(
        st.lists(
            st.tuples(words, st.lists(st.tuples(st.integers(0, 4000), st.floats(0.3, 1.3)), min_size=1, max_size=6)),
            min_size=1,
            max_size=9,
        )
    )
    @quick
    def test_any_history(self, lines: list[tuple[str, list[tuple[int, float]]]]) -> None:
        """One visit or many, one day or years, every height has its mark and every line its name."""
        start = datetime(2015, 1, 1, tzinfo=UTC)
        dated = [(name, [(start + timedelta(days=d), v) for d, v in sorted(points)]) for name, points in lines]
        root = self.whole(history_svg(dated, "us"))
        marks = [e for e in root.iter() if e.tag.endswith(("circle", "rect"))]
        self.assertEqual(len(marks), sum(len(points) for _, points in lines) + len(lines))


class WaysDown(unittest.TestCase):
    def test_what_sags_is_drawn_lower(self) -> None:
        """By their coordinates: a rear that came down by some length stands that much lower on the page, times what is told; the front, which did not, where it
        stood; a point between them in between."""
        for times in TIMES:
            side = Side(sample().vehicle, times)
            points = [(0.0, 0.9), (side.length / 2.0, 0.9), (side.length, 0.9)]
            still, sagged = (side.moved(points, drops) for drops in ((0.0, 0.0), (0.0, 0.06)))
            lower = [down[1] - up[1] for up, down in zip(still, sagged, strict=True)]
            for got, share in zip(lower, (0.0, 0.5, 1.0), strict=True):
                self.assertAlmostEqual(got, share * 0.06 * times * side.scale, places=6)
            self.assertEqual([p[0] for p in still], [p[0] for p in sagged])


class WaysRound(unittest.TestCase):
    def test_they_are_drawn_as_they_go(self) -> None:
        """By their coordinates: each leaf below is shorter than the one above it, the marked one among them; a roll plate's corners are rounded on the side
        the bag hangs from, and the wrong one's on the other; the taper's nut stands at its thin end."""
        leaves = re.findall(
            r'<rect x="[\d.]+" y="([\d.]+)" width="([\d.]+)" height="9"[^>]*fill="(#\w+)"', orient_svg("leaf_order")
        )
        self.assertEqual(len(leaves), 4)
        wide = [float(w) for _, w, _ in sorted(leaves, key=lambda one: float(one[0]))]
        self.assertEqual(wide, sorted(wide, reverse=True))
        marked = [n for n, one in enumerate(sorted(leaves, key=lambda one: float(one[0]))) if one[2] == MARK]
        self.assertEqual(marked, [1])
        right, wrong = re.findall(r'd="(M[^"]+)Z"', orient_svg("roll_plate"))
        for path, towards in ((right, True), (wrong, False)):  # the bag hangs below the plate
            lowest = max(float(y) for y in re.findall(r"[MLQ][\d.]+ ([\d.]+)", path))
            self.assertEqual({float(y) == lowest for y in re.findall(r"Q[\d.]+ ([\d.]+)", path)}, {towards}, path)
        pin = re.findall(r'd="(M[^"]+)Z"', orient_svg("taper"))[1]
        points = [tuple(map(float, p)) for p in re.findall(r"[ML]([\d.]+) ([\d.]+)", pin)]
        (nut,) = re.findall(rf'<rect x="[\d.]+" y="([\d.]+)"[^>]*fill="{MARK}"', orient_svg("taper"))
        across = {y: max(x for x, at in points if at == y) - min(x for x, at in points if at == y) for _, y in points}
        self.assertEqual(min(across, key=lambda y: across[y]), float(nut))


class AtSteps(unittest.TestCase):
    def test_the_axle_as_a_step_finds_it(self) -> None:
        """The right side is the left one's mirror; a lifted wheel stands clear of the ground; what is off is drawn as off, what the step is about as marked,
        stands only where it is lifted."""
        made = card(sample(), built("coil_change"))
        part = CoreFitting(kit=made.kit)

        def drawn(word: str, side: str) -> str:
            step = next(s for s in made.steps if word in s.words and s.side == side)
            return at_step_svg(picture(made, step), "coil_independent", part)

        left, right = (drawn("New coil in", side) for side in ("left", "right"))
        halves = [re.search(r'class="halo"><polyline points="([^"]+)"', one) for one in (left, right)]
        points = [[tuple(map(float, p.split(","))) for p in found[1].split()] for found in halves if found]
        for (x, y), (xr, yr) in zip(*points, strict=True):
            self.assertAlmostEqual(x + xr, WIDE, places=6)
            self.assertEqual(y, yr)
        wheel = re.search(r'cy="([\d.]+)" r="112"', left)
        assert wheel is not None
        self.assertLess(float(wheel[1]) + 112.0, GROUND - 10.0)
        self.assertEqual((left.count('class="part off"'), left.count('class="halo"')), (4, 1))
        on_wheels = drawn("Damper bolt and link nut", "left")
        self.assertEqual((on_wheels.count('class="part loose"'), on_wheels.count("off:")), (2, 0))
        self.assertLess(on_wheels.count("<polygon"), left.count("<polygon"))


class CloseUps(DemoCase):
    def test_every_family_is_drawn_on_its_axle(self) -> None:
        """A kit of each family on a measured job: its axle close up, with handles where it is set on the vehicle, in both unit systems; bare before."""
        job = self.job("038")
        fitting = Fitting.objects.get(job=job)
        drawn = set()
        for record in {r.family: r for r in KitRecord.objects.all()}.values():
            kit = record.to_core()
            family = family_of(kit)
            fitting.kit = kit.model_dump(mode="json")
            fitting.setting = {name: [span.low, span.low] for name, span in family.spans(kit).items()}
            fitting.save()
            for user in ("marit", "tobin"):
                self.sign_in(user)
                page = self.client.get(reverse("set", args=[job.pk]), {"view": "axle"}).content.decode()
                self.assertTrue("close-up" in page, record.family)
                self.assertEqual(
                    'class="handle"' in page, bool(family.spans(kit)) and not family.gives_back, record.family
                )
                drawn.add(record.family)
        self.assertEqual(drawn, set(FAMILIES))
        bare = self.client.get(reverse("diagnose", args=[self.job("041").pk]), {"view": "axle"}).content.decode()
        self.assertTrue("close-up" in bare and "main spring" in bare)
        self.client.get(reverse("diagnose", args=[self.job("041").pk]), {"view": "side"})
