"""The bar bench: what an anti-roll bar holds, how its links lean, and which end of the vehicle it makes work harder.

Source: method sections 6 and 14.
"""

from __future__ import annotations

from collections.abc import Mapping

from vantok_core.base.say import Quantity, length
from vantok_core.benches.bar import BarGeometry, bar_rate
from vantok_core.benches.links import end_link
from vantok_core.facts import Job
from vantok_core.judge.benches.bench import Answer, Ask, Bench, Draft, Values, maybe, number
from vantok_core.model import JobModel


def _answer(values: Values) -> Answer:
    draft, arm, track = Draft(), number(values, "arm"), number(values, "track")
    metal, bore = maybe(values, "metal") or arm, maybe(values, "bore") or 0.0
    bar = BarGeometry(
        centre=number(values, "centre"), arm=arm, arm_metal=metal, diameter=number(values, "diameter"), bore=bore
    )
    found = bar_rate(bar, maybe(values, "ratio") or 1.0, track)
    pivot, at, height = (number(values, name) for name in ("pivot", "link_at", "link_height"))
    bump, droop = number(values, "bump"), number(values, "droop")
    link = end_link((0.0, pivot), arm, (at, height), bump, droop)
    roll, one = Quantity(found.roll, "roll_stiffness"), Quantity(found.roll / track**2, "rate")
    draft.row("Roll stiffness at the axle", roll)
    draft.row("End rate, both ends moving", Quantity(found.k_end, "rate"))
    draft.row("One wheel over a stone feels", one)
    draft.row("Link for a level arm", length(link.length))
    draft.row("Arm at bump, at droop", f"{link.arm_bump:+.0f}°, {link.arm_droop:+.0f}°")
    draft.row("Link from upright, at worst", f"{link.link_worst:.0f}°")
    draft.say("It holds {roll}; a wheel over a stone alone feels {one} of it.", roll=roll, one=one)
    if link.may_turn_over:
        draft.say(
            "Arm and link come near one line: the link may turn over and lock the bar. Other link, other mount.",
            "limit",
        )
    elif link.poor:
        text = f"The link leans {link.link_worst:.0f}° at worst: it wears and pulls sideways. A longer one, or a drop bracket on a lifted vehicle."
        draft.say(text, "act")
    else:
        draft.say(
            "A link of {length} holds the arm level at ride height and stays near upright over the travel.",
            length=length(link.length),
        )
    draft.note(
        "Stiffer at the rear turns in sharper, towards oversteer; stiffer at the front throws heads on uneven ground."
    )
    draft.note("Under a tall permanent body no softer bar is wanted.")
    return draft.done(pivot=pivot, arm=arm, link_at=at, link_height=height, bump=bump, droop=droop)


def _of_job(job: Job, model: JobModel | None) -> Mapping[str, tuple[float | str, str]]:
    track = job.vehicle.track_rear_m
    return {"track": (track, "the vehicle's rear track")} if track else {}


BENCH = Bench(
    key="bar", words="Anti-roll bar", question="What does this bar hold, and do its links follow?",
    asks=(
        Ask(name="centre", words="Centre part, between the bends", kind="length", first=1.05), Ask(name="arm", words="Arm, square to the centre",
        kind="length", first=0.28),
        Ask(name="metal", words="Arm along the metal, if bent", kind="length", needed=False), Ask(name="diameter", words="Diameter", kind="length",
        first=0.028),
        Ask(name="bore", words="Bore, of a hollow one", kind="length", needed=False), Ask(name="track", words="Track", kind="length", first=1.7),
        Ask(name="ratio", words="Bar's end over the wheel's travel", kind="count", needed=False), Ask(name="pivot", words="Bar on the frame, height",
        kind="length", first=0.42),
        Ask(name="link_at", words="Link on the axle, behind the bar", kind="length", first=0.30), Ask(name="link_height", words="Link on the axle, height",
        kind="length", first=0.24),
        Ask(name="bump", words="Wheel up", kind="length", first=0.08), Ask(name="droop", words="Wheel down", kind="length", first=0.09),
    ),
    answer=_answer, of_job=_of_job,
)  # fmt: skip
