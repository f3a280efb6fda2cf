"""The damper bench: whether a damper has room at bump and droop, where on the frame it stands best, what its lean wastes, and how it was found.

Source: method sections 6 and 14.
"""

from __future__ import annotations

from math import degrees
from typing import Any

from vantok_core.base.errors import InputError
from vantok_core.base.say import Quantity, Say, length
from vantok_core.benches.damper import DamperMount, damper_fit
from vantok_core.benches.valves import find_mount, lean
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
    chosen,
    lengths,
    maybe,
    number,
)
from vantok_core.judge.benches.thresholds import BESIDE, STROKE_LEFT
from vantok_core.kits.registry import family_of
from vantok_core.model import JobModel

AXLE = (0.0, 0.0, 0.0)
FACING = (
    ("", "not looked at"),
    ("forward", "forward"),
    ("rearward", "rearward"),
    ("inward", "inward"),
    ("outward", "outward"),
)
FOUND = (("", "not looked at"), ("yes", "yes"), ("no", "no"))
LOOKED = {
    "even": ("It does not push evenly along its stroke: it is worn, or has air in its oil.", "no"),
    "leaks": ("Oil runs down it: it leaks. Both of the axle are changed.", "yes"),
    "extends": ("It does not extend by itself: a gas damper that does not has lost its gas.", "no"),
    "holds": ("It does not hold when pushed and left: its valves do not close.", "no"),
}
"""What each look at a damper means, and by which answer."""


def _answer(values: Values) -> Answer:
    if number(values, "up") <= 0.0:
        raise InputError(
            "up", number(values, "up"), "the upper mount stands above the lower: past that the damper has tipped over"
        )
    draft, frame = Draft(), (number(values, "along"), number(values, "across"), number(values, "up"))
    mount = DamperMount(
        axle=AXLE,
        frame=frame,
        bump=number(values, "bump"),
        droop=number(values, "droop"),
        closed=number(values, "closed"),
        open_=number(values, "open"),
        margin_closed=STROKE_LEFT,
        margin_open=STROKE_LEFT,
    )
    fit, at = damper_fit(mount), lean(AXLE, frame)
    draft.row("At ride height", length(fit.ride))
    draft.row("Shortest, at bump", length(fit.shortest))
    draft.row("Longest, at droop", length(fit.longest))
    draft.row("Lean from the side, from the end", f"{degrees(at.side):.0f}°, {degrees(at.end):.0f}°")
    draft.row("Of its rate felt at the wheel", Quantity(at.cosine**2, "percent"))
    _end(
        draft,
        fit.closed_clearance,
        "It would be the bump stop: {short} too long shut. It breaks, or its mount does.",
        "shut",
    )
    _end(draft, fit.open_clearance, "It would be the limiting strap: {short} too short open.", "open")
    if min(fit.closed_clearance, fit.open_clearance) >= 0.0:
        text = "It has room at both ends: {bump} at bump, {droop} at droop, {margin} of margin taken off."
        draft.say(text, bump=length(fit.closed_clearance), droop=length(fit.open_clearance), margin=length(STROKE_LEFT))
    _places(draft, values, mount)
    _clocked(draft, values)
    _looked(draft, values)
    return draft.done(
        along=frame[0],
        across=frame[1],
        up=frame[2],
        bump=mount.bump,
        droop=mount.droop,
        closed=mount.closed,
        open=mount.open_,
    )


def _end(draft: Draft, kept: float, lacks: str, end: str) -> None:
    """Say what is left at an end of the stroke: nothing, or less than is kept for what flexes (kept: m, the margin taken off)."""
    if kept + STROKE_LEFT < 0.0:
        draft.say(lacks, "limit", short=length(-kept - STROKE_LEFT))
    elif kept < 0.0:
        draft.say(
            "{left} remain {end}, less than the {margin} that is kept for rubber and frame that flex.",
            "act",
            left=length(kept + STROKE_LEFT),
            margin=length(STROKE_LEFT),
            end=end,
        )


def _places(draft: Draft, values: Values, mount: DamperMount) -> None:
    """Say which of the places that the frame allows is best, where some were entered."""
    told = lengths(values, "places")
    if not told:
        return
    if len(told) % 3:
        raise InputError("places", len(told), "each place is three lengths: ahead, inward, above")
    places = [(told[n], told[n + 1], told[n + 2]) for n in range(0, len(told), 3)]
    best = find_mount(mount, places)
    rows = []
    for place in places:
        fit, at = (
            damper_fit(
                DamperMount(
                    axle=AXLE,
                    frame=place,
                    bump=mount.bump,
                    droop=mount.droop,
                    closed=mount.closed,
                    open_=mount.open_,
                    margin_closed=STROKE_LEFT,
                    margin_open=STROKE_LEFT,
                )
            ),
            lean(AXLE, place),
        )
        left = (
            Quantity(fit.closed_clearance, "length", signed=True),
            Quantity(fit.open_clearance, "length", signed=True),
        )
        rows.append((*(length(one) for one in place), *left, Quantity(at.cosine**2, "percent")))
    heads = ("Ahead", "Inward", "Above", "Left at bump", "Left at droop", "Felt at the wheel")
    draft.charts.append(Chart(words="Places on the frame", heads=heads, rows=tuple(rows), chosen=best.place))
    ahead, inward, above = (length(one) for one in places[best.place])
    where = Say("{ahead} ahead, {inward} inward, {above} above", {"ahead": ahead, "inward": inward, "above": above})
    if best.found:
        draft.say("Of the places the frame allows, {where} keeps both ends and stands most upright.", where=where)
        return
    ends = {"closed": "at bump", "open": "at droop", "both": "at both ends"}[best.fails or "both"]
    draft.say(
        "No place keeps both ends; {where} comes nearest and lacks {by} {ends}: another damper.",
        "act",
        where=where,
        by=length(best.by),
        ends=ends,
    )


def _clocked(draft: Draft, values: Values) -> None:
    """Say whether reservoir, adjuster and hose stand clear, the way the damper is turned in its eyes."""
    facing = chosen(values, "facing")
    near = {
        words: left
        for name, words in (("reservoir", "reservoir"), ("adjuster", "adjuster"), ("hose", "hose"))
        if (left := maybe(values, name)) is not None
    }
    tight = {words: left for words, left in near.items() if left < BESIDE}
    way = f" turned {facing}" if facing else ""
    for words, left in tight.items():
        draft.say(
            "The {words} comes to {left} of what is beside it{way}: turn the damper a quarter in its eyes and look again "
            "at bump, droop and both locks.",
            "act",
            left=length(left),
            words=words,
            way=way,
        )
    if near and not tight:
        draft.say(
            "{near} stand clear{way} by {least} and more.",
            least=length(min(near.values())),
            near=", ".join(near).capitalize(),
            way=way,
        )


def _looked(draft: Draft, values: Values) -> None:
    """Say what the look at it found."""
    told = {name: chosen(values, name) for name in LOOKED}
    bad = [text for name, (text, answer) in LOOKED.items() if told[name] == answer]
    for text in bad:
        draft.say(text, "act")
    if not bad and all(told.values()):
        draft.say("By hand it pushes evenly, is dry, extends and holds.")


def _of_job(job: Job, model: JobModel | None) -> Known:
    found: dict[str, Any] = {}
    axle = job.fitting.kit.axle if job.fitting is not None else "rear"
    droop = job.vehicle.front_droop_m if axle == "front" else job.vehicle.rear_droop_m
    if droop is not None:
        found["droop"] = (droop, f"the vehicle's {axle} droop")
    if job.empty is not None:
        corners = ("FL", "FR") if axle == "front" else ("RL", "RR")
        gaps = [r.value_m for c in corners if (r := job.read(job.empty.key, c, "stop_gap"))]
        if gaps:
            found["bump"] = (min(gaps), "the stop gap read empty; add what the stop gives")
    if job.fitting is not None and family_of(job.fitting.kit).bench == "damper":
        own = job.fitting.kit.own
        found |= {"closed": (float(own["shut_m"]), "the kit's data"), "open": (float(own["open_m"]), "the kit's data")}
    return found


BENCH = Bench(
    key="damper",
    words="Dampers",
    questions=(
        Question(
            key="fits",
            words="Does it fit between bump and droop?",
            asks=(
                "bump",
                "droop",
                "closed",
                "open",
            ),
        ),
        Question(
            key="place",
            words="Where on the frame does it stand best?",
            asks=(
                "along",
                "across",
                "up",
                "places",
            ),
        ),
        Question(
            key="sound",
            words="Is the old one still sound?",
            asks=(
                "even",
                "leaks",
                "extends",
                "holds",
            ),
        ),
        Question(
            key="mount",
            words="How is it mounted?",
            asks=(
                "facing",
                "reservoir",
                "adjuster",
                "hose",
            ),
        ),
    ),
    asks=(
        Ask(name="along", words="Upper mount ahead of the lower, along the vehicle", kind="length", first=0.10),
        Ask(name="across", words="Upper mount inward of the lower", kind="length", first=0.06),
        Ask(name="up", words="Upper mount above the lower", kind="length", first=0.42),
        Ask(name="bump", words="Wheel up until the stop is pressed", kind="length", first=0.08),
        Ask(name="droop", words="Wheel down, hanging", kind="length", first=0.09),
        Ask(name="closed", words="Damper shut, eye to eye", kind="length", first=0.33),
        Ask(name="open", words="Damper open, eye to eye", kind="length", first=0.53),
        Ask(name="places", words="Places the frame allows: ahead, inward, above; the next", kind="list", needed=False),
        Ask(name="facing", words="Reservoir and adjuster turned", kind="choice", first="", choices=FACING),
        Ask(name="reservoir", words="Reservoir clear by, at worst", kind="length", needed=False),
        Ask(name="adjuster", words="Adjuster clear by", kind="length", needed=False),
        Ask(name="hose", words="Hose slack at droop", kind="length", needed=False),
        Ask(name="even", words="By hand: pushes evenly", kind="choice", first="", choices=FOUND),
        Ask(name="leaks", words="By hand: leaks", kind="choice", first="", choices=FOUND),
        Ask(name="extends", words="By hand: extends by itself", kind="choice", first="", choices=FOUND),
        Ask(name="holds", words="By hand: holds when left", kind="choice", first="", choices=FOUND),
    ),
    works=_answer,
    of_job=_of_job,
    places={"mounts": "up", "length": "closed", "travel": "bump", "margin": "closed", "damper": "up"},
)
