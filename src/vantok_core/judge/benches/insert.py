"""The insert bench: which spacer and how many slices, how far each state presses it, and with what.

Source: method sections 4 and 10.
"""

from __future__ import annotations

from typing import Any

from vantok_core.base.errors import InputError
from vantok_core.base.say import Quantity, length
from vantok_core.facts import Job
from vantok_core.judge.benches.bench import (
    Answer,
    Ask,
    Bench,
    Chart,
    Draft,
    Known,
    Question,
    Values,
    lengths,
    maybe,
    number,
    points,
)
from vantok_core.judge.benches.thresholds import TOUCHING
from vantok_core.kits.registry import family_of
from vantok_core.model import JobModel
from vantok_core.physics.elements.curve import force_curve

SPACER = "spacer_m"
"""What an insert kit is set by."""


def _answer(values: Values) -> Answer:
    draft = Draft()
    gap, longer = number(values, "gap"), number(values, "longer")
    spacer, slices, thick = (
        maybe(values, "spacer") or 0.0,
        maybe(values, "slices") or 0.0,
        maybe(values, "slice") or 0.0,
    )
    for name, value in (("spacer", spacer), ("slices", slices), ("slice", thick)):
        if value < 0.0:
            raise InputError(name, value, "it is not below nought")
    left = gap - longer - spacer + slices * thick
    draft.row("Insert's gap, unladen", Quantity(left, "length", signed=True))
    touching = _by_state(draft, values, left)
    _stands(draft, left, touching)
    if slices:
        draft.note("A slice cut off does not go back on: mark it, mock it up, then cut.")
    draft.gives[SPACER] = spacer
    return draft.done(gap=gap, longer=longer, spacer=spacer, cut=slices * thick, left=left)


def _by_state(draft: Draft, values: Values, left: float) -> int:
    """Chart how far each state presses it, and return how many do; left: its gap unladen (m)."""
    told = points(values, "curve")
    curve = force_curve(told) if told else None
    rows, touching = [], 0
    for n, sag in enumerate((0.0, *(s for s in lengths(values, "sags") if s))):
        now = left - sag
        touching += now <= 0.0 and n > 0
        force = Quantity(float(curve.at(max(-now, 0.0))[0]), "force") if curve else ""
        rows.append(
            ("unladen" if n == 0 else f"load {n}", length(sag), Quantity(now, "length", signed=True), force, _word(now))
        )
    heads = ("", "Frame down by", "Gap", "Presses with, a side", "")
    draft.charts.append(Chart(words="Contact by state", heads=heads, rows=tuple(rows)))
    draft.curves["curve"] = told
    return touching


def _stands(draft: Draft, left: float, touching: int) -> None:
    """Say how it stands unladen, and in how many states it is touched."""
    if left <= 0.0:
        text = "It stands in contact unladen, pressed by {by}: it carries from the first, and rides harder empty."
        draft.say(text, "act", by=length(-left))
    elif left < TOUCHING:
        text = "Unladen it is {gap} clear: as good as touching. Say which is wanted, a gap or contact."
        draft.say(text, "act", gap=length(left))
    elif touching:
        draft.say(
            "Unladen it is {gap} clear and works only under load: touched in {touching} of the states.",
            gap=length(left),
            touching=touching,
        )
    else:
        text = "Unladen it is {gap} clear, and none of these states reaches it: a thicker spacer, or a slice less off."
        draft.say(text, "act", gap=length(left))


def _word(gap: float) -> str:
    return "pressed" if gap <= 0.0 else "as good as touching" if gap < TOUCHING else "clear"


def _of_job(job: Job, model: JobModel | None) -> Known:
    fitting = job.fitting
    corners = ("FL", "FR") if fitting is not None and fitting.kit.axle == "front" else ("RL", "RR")
    found = _as_read(job, model, corners)
    if fitting is not None and family_of(fitting.kit).bench == "insert":
        own = fitting.kit.own
        found |= {
            "longer": (float(own.get("longer_m", 0.0)), "the kit's data"),
            "curve": (tuple((float(x), float(f)) for x, f in own["points"]), "the kit's data"),
        }
        if pair := fitting.setting.get(SPACER):
            found["spacer"] = (pair[0], "as set")
    return found


def _as_read(job: Job, model: JobModel | None, corners: tuple[str, str]) -> dict[str, Any]:
    """Return the gap read unladen, and how far the model has the frame down in each state."""
    found: dict[str, Any] = {}
    unladen = job.empty.key if job.empty is not None else ""
    gaps = [r.value_m for c in corners if unladen and (r := job.read(unladen, c, "stop_gap"))]
    if gaps:
        found["gap"] = (sum(gaps) / len(gaps), "the stop gaps read unladen")
    reports = model.solve() if model is not None else {}
    sags = [0.5 * sum(float(one.hub_drop[c]) for c in corners) for key, one in reports.items() if key != unladen]
    if sags:
        found["sags"] = (tuple(round(s, 4) for s in sags), "the model, each state without the kit")
    return found


BENCH = Bench(
    key="insert",
    words="Bump-stop inserts",
    questions=(
        Question(
            key="spacer",
            words="Which spacer, and when does it touch?",
            asks=(
                "gap",
                "longer",
                "spacer",
                "sags",
                "curve",
            ),
        ),
        Question(
            key="slices",
            words="How many slices?",
            asks=(
                "gap",
                "longer",
                "slices",
                "slice",
                "sags",
            ),
        ),
    ),
    asks=(
        Ask(name="gap", words="Stop gap, unladen, without it", kind="length", first=0.045),
        Ask(name="longer", words="Insert longer than the stop it replaces", kind="length", first=0.02),
        Ask(name="spacer", words="Spacer", kind="length", first=0.005),
        Ask(name="slices", words="Slices cut off", kind="count", needed=False),
        Ask(name="slice", words="each slice", kind="length", needed=False),
        Ask(name="sags", words="Frame comes down in each state by, commas between", kind="list", first=(0.015, 0.04)),
        Ask(name="curve", words="Its force, pressed by: force", kind="points", needed=False),
    ),
    works=_answer,
    of_job=_of_job,
    places={"points": "curve", "curve": "curve"},
)
