"""The handbook's pages, made of what the program itself goes by: a new bench, construction or aim has its page by being there."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import cache, partial

from django.urls import reverse
from django.utils.safestring import SafeString

from vantok.drawing.bench import bench_svg
from vantok.drawing.datums import datum_svg
from vantok.drawing.families import family_svg
from vantok.drawing.rear import rear_svg
from vantok.drawing.side import stance_svg
from vantok.drawing.stance import Corner, Stance, stance_of
from vantok.drawing.underside import underside_svg
from vantok.handbook.stages import STAGES
from vantok.records.jobs.models import STAGES as NAMES
from vantok.shop.starter_kits import KITS
from vantok_core.aims.aim import AIMS
from vantok_core.aims.complaints import COMPLAINTS
from vantok_core.base.units import System
from vantok_core.base.words import WORDS
from vantok_core.facts import JobVehicle
from vantok_core.judge.benches.all import BENCHES
from vantok_core.judge.figures import tables
from vantok_core.judge.listen.inspect import AREAS
from vantok_core.kits.registry import FAMILIES, family_of, read_kit
from vantok_core.procedure.templates import constructions

KINDS = {
    "stage": "Stages of a job",
    "aim": "What a job is for",
    "construction": "What is fitted",
    "bench": "Benches",
    "figures": "From which figure",
}
STEPS = "The usual steps, where its maker has no other"
PROOFS = {
    "tape": "By the tape: heights before and after, at the same points, with the same load.",
    "drive": "By the drive: the same course before and after, graded by owner and technician.",
    "inspection": "By inspection: the cause is found, and gone.",
}


Draw = Callable[[System], SafeString]


def _alike(svg: SafeString) -> Draw:
    """Return how a drawing without figures is drawn: alike in all units."""
    return lambda units: svg


@dataclass(frozen=True, slots=True, kw_only=True)
class Entry:
    """A page: its kind and key, its title and first sentence, its parts (a heading and its lines), its drawing in the reader's units, where to go from it."""

    kind: str
    key: str
    title: str
    lead: str
    parts: tuple[tuple[str, tuple[str, ...]], ...]
    draw: Draw
    to: str = ""

    @property
    def ordered(self) -> tuple[str, ...]:
        """The headings whose lines are done one after the other."""
        return ("First", STEPS)

    @property
    def words(self) -> tuple[tuple[str, str, str, str], ...]:
        """The words of the trade that lead here."""
        return tuple(one for one in WORDS if one[3] == f"{self.kind}/{self.key}")


@cache
def entries() -> dict[tuple[str, str], Entry]:
    """Return every page by kind and key, in the order of the work."""
    return {(one.kind, one.key): one for one in (*_stages(), *_aims(), *_constructions(), *_benches(), *_figures())}


def _stages() -> Iterator[Entry]:
    for key, label in NAMES:
        told = STAGES[key]
        parts = (("First", told.first), ("What is told", (told.told,)), ("Mind", (told.mind,)))
        yield Entry(kind="stage", key=key, title=label, lead=told.lead, parts=parts, draw=partial(_of_stage, key))


def _of_stage(key: str, units: System) -> SafeString:
    """Return a stage's drawing: where the tape goes, the underside, or the vehicle it is about."""
    if key in ("measure", "prove"):
        return datum_svg("ground_arch", "ground to arch")
    if key in ("listen", "fit"):
        return underside_svg([], ("coil_independent", "leaf_solid"))
    return stance_svg(LOADED if key in TOLD else stance_of(VEHICLE, None), units)


VEHICLE = JobVehicle(wheelbase_m=3.55, body="pickup", hitch_overhang_m=1.25)
LOADED = Stance(
    vehicle=VEHICLE,
    name="Loaded",
    known=True,
    d_f=-0.012,
    d_r=0.062,
    front=Corner(height=0.886, change=0.012, load=1145.0),
    rear=Corner(height=0.890, change=-0.062, load=1590.0, stop=0.015),
    tongue=210.0,
    rake=0.004,
    lean=0.005,
    heights={"FL": 0.886, "FR": 0.886, "RL": 0.893, "RR": 0.887},
    empty={"FL": 0.874, "FR": 0.874, "RL": 0.952, "RR": 0.952},
)
"""An example to draw: a pickup with a boat on."""
TOLD = ("weigh", "diagnose", "choose", "set", "report")
"""Stages that are drawn with figures."""


def _aims() -> Iterator[Entry]:
    for key, aim in AIMS.items():
        asked = tuple(one.words for one in COMPLAINTS.values() if key in one.aims)
        first = tuple(AREAS[area].words for area in aim.first)
        parts = [
            ("It comes as", asked),
            ("Look at first", first),
            ("What it is proved by", (PROOFS[aim.proof],)),
            ("Heights", ("Read before and after." if aim.heights else "None are asked for; read, they tell more.",)),
        ]
        title = aim.words.removeprefix("the ").capitalize()
        drawn = rear_svg if key in ("lean", "roll") else stance_svg
        yield Entry(
            kind="aim",
            key=key,
            title=title,
            lead=f"A job for {aim.words}{', where it tows' if aim.towing else ''}.",
            parts=tuple((head, lines) for head, lines in parts if lines),
            draw=partial(drawn, LOADED),
        )


def _constructions() -> Iterator[Entry]:
    kits = {family_of(kit).construction(kit): kit for kit in map(read_kit, KITS)}
    for key, told in constructions().items():
        family = FAMILIES[kits[key].family] if key in kits else None
        steps = tuple(_step(step) for step in told["steps"])
        parts = [
            ("Laid out", (*told["contents"], *told["tools"])),
            (STEPS, steps),
            ("Afterwards", (*told["first"], *(_care(one) for one in told["care"]))),
            ("Off and back", tuple(told["label"])),
        ]
        yield Entry(
            kind="construction",
            key=key,
            title=key.replace("_", " ").capitalize(),
            lead=f"{family.words.capitalize()}: how it goes on, in the usual order."
            if family
            else "How it goes on, in the usual order.",
            parts=tuple((head, lines) for head, lines in parts if lines),
            draw=_alike(family_svg(family.drawn, family.words) if family else SafeString()),
            to=f"{reverse('bench', args=[family.bench])}" if family and family.bench else "",
        )


def _step(step: dict[str, object]) -> str:
    """Return a usual step in a line: its words, and the caution it bears."""
    caution = f" Caution: {step['caution']}" if step.get("caution") else ""
    return f"{step['words']}{caution}"


def _care(one: dict[str, object]) -> str:
    """Return what is looked at again, in words; when, the kit's own card says in the reader's units."""
    return f"Again: {one['what']}."


def _benches() -> Iterator[Entry]:
    for key, bench in BENCHES.items():
        first = {ask.name: ask.first for ask in bench.asks if isinstance(ask.first, float)}
        yield Entry(
            kind="bench",
            key=key,
            title=bench.words,
            lead="A question a page; from a job it opens filled with what is known there.",
            parts=(("It answers", tuple(one.words for one in bench.questions)),),
            draw=partial(bench_svg, key, first),
            to=reverse("bench", args=[key]),
        )


def _figures() -> Iterator[Entry]:
    for table in tables():
        lines = tuple(f"{one.words}: {one.why}{_of(one.source)}." for one in table.figures.values())
        yield Entry(
            kind="figures",
            key=table.room,
            title=table.words,
            lead="From these figures something is said; a reading’s own band, the maker’s figure and the job’s come before them.",
            parts=(("Figures", lines),),
            draw=_alike(SafeString()),
        )


def _of(source: str) -> str:
    """Return whose figure it is, where it is not the program's own."""
    return "" if source == "ours" else f" ({source})"
