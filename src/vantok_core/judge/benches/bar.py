"""The bar bench: what an anti-roll bar holds, how its links lean, what another one would do, and which end of the vehicle it makes work harder.

Source: method sections 6 and 14.
"""

from __future__ import annotations

from typing import Any

from vantok_core.base.errors import VantokError
from vantok_core.base.say import Quantity, length
from vantok_core.benches.bar import AxleBar, BarGeometry, BarRate, bar_choice, bar_rate
from vantok_core.benches.links import end_link
from vantok_core.facts import Job
from vantok_core.judge.benches.bench import (
    Answer,
    Ask,
    Bench,
    Cell,
    Chart,
    Draft,
    Known,
    Question,
    Values,
    chosen,
    maybe,
    number,
)
from vantok_core.judge.benches.thresholds import ROLL_MOVED, TYRE_TO_BAR
from vantok_core.model import JobModel
from vantok_core.physics.stance.budget import roll_stiffness

TALL = (("", "no"), ("tall", "tall or heavy, for good"))


def _bar(values: Values, end: str) -> BarRate | None:
    """Return one bar's rate (end: of its fields' names); None where its diameter is not entered."""
    diameter = maybe(values, "diameter" + end)
    if diameter is None:
        return None
    arm = maybe(values, "arm" + end) or number(values, "arm")
    bar = BarGeometry(
        centre=maybe(values, "centre" + end) or number(values, "centre"),
        arm=arm,
        arm_metal=maybe(values, "metal" + end) or arm,
        diameter=diameter,
        bore=maybe(values, "bore" + end) or 0.0,
    )
    return bar_rate(bar, maybe(values, "ratio") or 1.0, number(values, "track"))


def _answer(values: Values) -> Answer:
    draft, track = Draft(), number(values, "track")
    number(values, "diameter")
    found, other = _bar(values, ""), _bar(values, "_2")
    assert found is not None
    roll, one = Quantity(found.roll, "roll_stiffness"), Quantity(found.roll / track**2, "rate")
    draft.row("Roll stiffness at the axle", roll)
    draft.row("End rate, both ends moving", Quantity(found.k_end, "rate"))
    draft.row("One wheel over a stone feels", one)
    draft.say("It holds {roll}; a wheel over a stone alone feels {one} of it.", roll=roll, one=one)
    drawn = _links(draft, values)
    _both_axles(draft, values, found.roll, other.roll if other else None)
    if other is not None:
        _compared(draft, values, found, other)
    if (clear := maybe(values, "clear")) is not None and clear < TYRE_TO_BAR:
        draft.say(
            "The tyre comes to {clear} of the bar at lock: lock stops, or another bar.", "limit", clear=length(clear)
        )
    draft.note(
        "Stiffer at the rear turns in sharper, towards oversteer; stiffer at the front throws heads on uneven ground."
    )
    return draft.done(**drawn)


def _links(draft: Draft, values: Values) -> dict[str, float]:
    """Say how the links stand over the travel; on a lifted vehicle, what the bar's drop brackets are to be."""
    arm, lift = number(values, "arm"), maybe(values, "lift") or 0.0
    pivot, at, height = (number(values, name) for name in ("pivot", "link_at", "link_height"))
    bump, droop = number(values, "bump"), number(values, "droop")
    link = end_link((0.0, pivot), arm, (at, height), bump, droop)
    draft.row("Link for a level arm", length(link.length))
    draft.row("Arm at bump, at droop", f"{link.arm_bump:+.0f}°, {link.arm_droop:+.0f}°")
    draft.row("Link from upright, at worst", f"{link.link_worst:.0f}°")
    if link.may_turn_over:
        draft.say(
            "Arm and link come near one line: the link may turn over and lock the bar. Other link, other mount.",
            "limit",
        )
    elif link.poor:
        draft.say(
            "The link leans {worst}° at worst: it wears and pulls sideways. A longer one, or a drop bracket on a lifted vehicle.",
            "act",
            worst=f"{link.link_worst:.0f}",
        )
    else:
        draft.say(
            "A link of {length} holds the arm level at ride height and stays near upright over the travel.",
            length=length(link.length),
        )
    if lift:
        text = "Lifted by {lift}, the bar on the frame comes down by as much on drop brackets, or its links grow by {lift}: then look again at droop."
        draft.say(text, "act", lift=length(lift))
    return {"pivot": pivot, "arm": arm, "link_at": at, "link_height": height, "bump": bump, "droop": droop}


def _both_axles(draft: Draft, values: Values, bar: float, other: float | None) -> None:
    """Say what the bar does to the balance of both axles, where their springs' roll stiffness is known."""
    front, rear = maybe(values, "front_roll"), maybe(values, "rear_roll")
    tyre, track = maybe(values, "tyre_rate"), number(values, "track")
    if front is None or rear is None or tyre is None:
        return
    at_front = chosen(values, "axle") == "front"

    def share(own: float) -> tuple[float, float, float]:
        ahead = AxleBar(springs=front, track=track, tyre_rate=tyre, bar=own if at_front else 0.0)
        behind = AxleBar(springs=rear, track=track, tyre_rate=tyre, bar=0.0 if at_front else own)
        both = bar_choice(ahead, behind)
        mine = both.front if at_front else both.rear
        return both.front_share, both.front_share_without_bars, mine.bar_share

    now, without, part = share(bar)
    rows: list[tuple[Cell, ...]] = [
        ("without this bar", Quantity(without, "percent"), Quantity(1.0 - without, "percent"), "")
    ]
    rows.append(("with it", Quantity(now, "percent"), Quantity(1.0 - now, "percent"), Quantity(part, "percent")))
    if other is not None:
        more = share(other)
        rows.append(
            (
                "with the other",
                Quantity(more[0], "percent"),
                Quantity(1.0 - more[0], "percent"),
                Quantity(more[2], "percent"),
            )
        )
    draft.charts.append(
        Chart(
            words="Roll stiffness of both axles", heads=("", "Front", "Rear", "Of its axle, the bar"), rows=tuple(rows)
        )
    )
    way = "rear" if now < without else "front"
    sense = "turns in sharper, towards oversteer" if way == "rear" else "pushes straight on, towards understeer"
    draft.say(
        "Front share of the roll stiffness {now} with it, {without} without: more at the {way}, it {sense}.",
        "act" if abs(now - without) > ROLL_MOVED else "level",
        now=Quantity(now, "percent"),
        without=Quantity(without, "percent"),
        way=way,
        sense=sense,
    )


def _compared(draft: Draft, values: Values, one: BarRate, other: BarRate) -> None:
    """Say how the other bar compares, and flag a softer one under a tall body."""
    ratio = other.roll / one.roll
    draft.row("The other's roll stiffness", Quantity(other.roll, "roll_stiffness"))
    draft.say(
        "The other bar holds {other}, {ratio} times as much; a wheel over a stone feels it as much more.",
        other=Quantity(other.roll, "roll_stiffness"),
        ratio=f"{ratio:.2f}",
    )
    if chosen(values, "tall") and ratio < 1.0:
        draft.say(
            "Under a tall body that stays on, the softer bar is not wanted: it leans further, and wind and bends ask for the harder one.",
            "act",
        )


def _of_job(job: Job, model: JobModel | None) -> Known:
    found: dict[str, Any] = {}
    axle = job.fitting.kit.axle if job.fitting is not None else "rear"
    if track := (job.vehicle.track_front_m if axle == "front" else job.vehicle.track_rear_m):
        found["track"] = (track, f"the vehicle's {axle} track")
    found["axle"] = (axle, "the kit's axle" if job.fitting is not None else "the rear")
    if (clear := job.vehicle.sizes.get(f"{axle}_tyre_bar_m")) is not None:  # type: ignore[call-overload]  # a name made of two
        found["clear"] = (clear, "the vehicle's sizes")
    if "tall" in job.use:
        found["tall"] = ("tall", "its use")
    if model is not None:
        try:
            solved = next(iter(model.solved().values()))
        except VantokError:
            return found
        for name in ("front", "rear"):
            bars = sum(float(b.stiffness) for b in model.vehicle.axle(name).bars)
            found[f"{name}_roll"] = (roll_stiffness(solved, name) - bars, "the springs as calibrated")
        found["tyre_rate"] = (float(model.vehicle.rear.tyre_rate), "the class of tyre")
    return found


BENCH = Bench(
    key="bar",
    words="Anti-roll bar",
    questions=(
        Question(
            key="holds",
            words="What does this bar hold?",
            asks=(
                "diameter",
                "bore",
                "arm",
                "centre",
                "track",
                "metal",
            ),
        ),
        Question(
            key="links",
            words="Do its links follow?",
            asks=(
                "pivot",
                "link_at",
                "link_height",
                "bump",
                "droop",
                "tall",
            ),
        ),
        Question(
            key="ends",
            words="Which end works harder?",
            asks=(
                "axle",
                "front_roll",
                "rear_roll",
                "tyre_rate",
                "ratio",
            ),
        ),
        Question(
            key="room",
            words="Does it clear, lifted?",
            asks=(
                "lift",
                "clear",
                "link_at",
                "link_height",
            ),
        ),
        Question(
            key="other",
            words="This bar or another?",
            asks=(
                "diameter",
                "arm",
                "diameter_2",
                "arm_2",
                "bore_2",
            ),
        ),
    ),
    asks=(
        Ask(
            name="axle",
            words="On the axle",
            kind="choice",
            first="rear",
            choices=(("rear", "rear"), ("front", "front")),
        ),
        Ask(name="centre", words="Centre part, between the bends", kind="length", first=1.05),
        Ask(name="arm", words="Arm, square to the centre", kind="length", first=0.28),
        Ask(name="metal", words="Arm along the metal, if bent", kind="length", needed=False),
        Ask(name="diameter", words="Diameter", kind="length", first=0.028),
        Ask(name="bore", words="Bore, of a hollow one", kind="length", needed=False),
        Ask(name="track", words="Track", kind="length", first=1.7),
        Ask(name="ratio", words="Bar's end over the wheel's travel", kind="count", needed=False),
        Ask(name="pivot", words="Bar on the frame, height", kind="length", first=0.42),
        Ask(name="link_at", words="Link on the axle, behind the bar", kind="length", first=0.30),
        Ask(name="link_height", words="Link on the axle, height", kind="length", first=0.24),
        Ask(name="bump", words="Wheel up", kind="length", first=0.08),
        Ask(name="droop", words="Wheel down", kind="length", first=0.09),
        Ask(name="lift", words="Vehicle lifted by", kind="length", needed=False),
        Ask(name="clear", words="Tyre to bar at lock", kind="length", needed=False),
        Ask(name="front_roll", words="Front springs' roll stiffness", kind="roll_stiffness", needed=False),
        Ask(name="rear_roll", words="Rear springs' roll stiffness", kind="roll_stiffness", needed=False),
        Ask(name="tyre_rate", words="Tyre's rate", kind="rate", needed=False),
        Ask(name="tall", words="Body", kind="choice", first="", choices=TALL),
        Ask(name="diameter_2", words="Another bar: diameter", kind="length", needed=False),
        Ask(name="arm_2", words="its arm, if other", kind="length", needed=False),
        Ask(name="bore_2", words="its bore", kind="length", needed=False),
    ),
    works=_answer,
    of_job=_of_job,
    places={
        "bar": "diameter",
        "link": "link_at",
        "axle": "front_roll",
        "track": "track",
        "ratio": "ratio",
        "travel": "bump",
        "arm": "arm",
    },
)
