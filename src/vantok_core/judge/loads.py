"""What the weighing shows: odd figures said at their place, and the stage's sentence (method section 2)."""

from __future__ import annotations

from collections.abc import Sequence

from vantok_core.base.say import Finding, Quantity, Say, Tone, Verdict, length, mass
from vantok_core.facts import Job, JobState
from vantok_core.judge.lead import led_by_limits, limits_said, passed_limits
from vantok_core.judge.unweighed import Unweighed
from vantok_core.loads.adjust import WORTH_KG
from vantok_core.loads.limits import tongue_share_verdict
from vantok_core.loads.moves import clearing_moves, clearing_removals
from vantok_core.loads.plan import reach, scale_loads, state_load, worst_margin
from vantok_core.model import has_load

PADS_SHARE, PADS_LEAST = 0.03, 20.0
"""Two pads may miss their axle's own reading by this share, or this many kg."""
TONGUE_ADVICE = {
    "light": "Bring cargo forward on the trailer: a light tongue sways.",
    "heavy": "Move cargo back on the trailer, within the hitch's limits.",
}
WAYS = {
    "item": "Take {kg} of {name} off",
    "tank": "Drain {kg} of {name}",
    "tongue": "Bring the {name} down by {kg}, cargo back on the trailer,",
}


def check_loads(job: Job, state: JobState) -> list[Finding]:
    """Return what is odd about a state's figures, each with what to do; nothing is refused or lost."""
    return [*_pad_checks(state), *_place_checks(job, state), *_ticket_checks(job, state), *_tongue_checks(job, state)]


def _odd(key: str, what: Say, do: str, tone: Tone = "act") -> Finding:
    return Finding(key=key, tone=tone, topic="weigh", what=what, do=Say(do))


def _pad_checks(state: JobState) -> list[Finding]:
    if state.corners_kg is None:
        return []
    fl, fr, rl, rr = state.corners_kg
    found = []
    for name, pads, whole in (("front", fl + fr, state.front_kg), ("rear", rl + rr, state.rear_kg)):
        if whole is not None and abs(pads - whole) > max(PADS_SHARE * whole, PADS_LEAST):
            said = Say(
                f"The two {name} pads make {{pads}}; the axle scale says {{whole}}.",
                {"pads": mass(pads), "whole": mass(whole)},
            )
            found.append(_odd(f"pads-{name}", said, "Weigh that axle again; the pads are taken meanwhile."))
    return found


def _place_checks(job: Job, state: JobState) -> list[Finding]:
    place = reach(job)
    if place is None:
        return []
    found = []
    for item in state.contents:
        if not place.holds(item.station_m, item.lateral_m):
            words = f"“{item.name}” stands off the vehicle, {{s}} behind the front axle."
            said = Say(words, {"s": length(item.station_m)})
            found.append(_odd("off-vehicle", said, "Correct its place: its lever is wrong."))
    return found


def _ticket_checks(job: Job, state: JobState) -> list[Finding]:
    found = []
    if scale_loads(state) is not None and state.weighed_at and state.changed_at and state.changed_at > state.weighed_at:
        said = Say("The scale ticket is older than the last change of what is carried.")
        found.append(
            _odd("old-ticket", said, "Weigh again: until then the change is added to the scale's figures by its lever.")
        )
    load = state_load(job, state)
    if (
        load.short_front is not None
        and load.short_rear is not None
        and max(abs(load.short_front), abs(load.short_rear)) > 2 * WORTH_KG
    ):
        said = Say(
            "The plan differs from the scale by {f} at the front and {r} at the rear; the scale rules.",
            {"f": mass(load.short_front, signed=True), "r": mass(load.short_rear, signed=True)},
        )
        found.append(_odd("plan-scale", said, "Look for what is not listed, or adjust the plan to the scale.", "plain"))
    return found


def _tongue_checks(job: Job, state: JobState) -> list[Finding]:
    if not state.hitched:
        return []
    found, tongue, trailer = [], state.tongue, state.trailer
    if tongue < 0.0:
        said = Say("The trailer is tail-heavy: it lifts the ball by {t}.", {"t": mass(-tongue)})
        found.append(_odd("tongue-lifts", said, "Bring its cargo forward before it is driven: it will sway."))
    elif trailer and tongue > trailer:
        said = Say(
            "The tongue ({t}) cannot carry more than the whole trailer ({m}).", {"t": mass(tongue), "m": mass(trailer)}
        )
        found.append(_odd("tongue-heavy", said, "Correct one of the two."))
    elif trailer:
        share = tongue / trailer
        verdict = tongue_share_verdict(share, "ball" if job.vehicle.hitch_kind == "ball" else "pin")
        if verdict != "good":
            usual = "10 to 15 %" if job.vehicle.hitch_kind == "ball" else "15 to 25 %"
            said = Say(f"The tongue carries {{s}} of the trailer; {usual} is usual.", {"s": Quantity(share, "percent")})
            found.append(_odd(f"tongue-{verdict}", said, TONGUE_ADVICE[verdict]))
    if state.tongue_kg and state.balance and abs(state.tongue_kg - state.balance.tongue) > 2 * WORTH_KG:
        values = {"r": mass(state.tongue_kg), "p": mass(state.balance.tongue)}
        said = Say("The tongue reads {r}; the trailer's items make it {p}. The reading rules.", values)
        found.append(_odd("tongue-plan", said, "Look for what stands elsewhere on the trailer.", "plain"))
    return found


def loads_verdict(job: Job, unweighed: Sequence[Unweighed] = ()) -> Verdict:
    """Return the sentence of the weighing: limits first with the way out, then odd figures, then the smallest margin.

    unweighed: what the springs tell of the loads nobody weighed.
    """
    said = limits_said(job)
    if said is not None:
        over = passed_limits(job)
        out = way_out(job, over[0][0]) if over else Say("Take of it what it is not made for, or put it on the floor.")
        return Verdict(tone="limit", sentences=(said, out, Say("No spring raises a rating.")))
    lacking = _lacking(job, {one.state.key for one in unweighed})
    if lacking is not None:
        return _act(*lacking)
    if unweighed:
        return led_by_limits(job, Verdict(tone="act", sentences=()), unweighed)
    worst = worst_margin(job)
    if worst is None or not job.judged:
        return _act(Say("Weigh it, and take the ratings off the plate: no margin is known yet."))
    state, margin = worst
    share = margin.share or 0.0
    values = {"margin": mass(margin.margin or 0.0), "share": Quantity(share, "percent")}
    text = f"Within every known limit. The nearest is the {margin.name} in {state.name}: {{margin}} left ({{share}})."
    return Verdict(tone="level" if share > 0.05 else "act", sentences=(Say(text, values),))


def _lacking(job: Job, told: set[str]) -> tuple[Say, ...] | None:
    """Return what keeps the margins from being told: a load not recorded, a figure that cannot be, the empty vehicle unweighed.

    told: states that the springs tell of.
    """
    unknown = next((s for s in job.loaded if s.key not in told and not has_load(job, s)), None)
    if unknown is not None:
        part = "The rest of the load" if unknown.more else "The load"
        return (Say(f"{part} of {unknown.name} is not recorded: {_tell_load(job, unknown)}"),)
    for state in job.states:
        odd = next((f for f in check_loads(job, state) if f.tone == "act"), None)
        if odd is not None:
            return Say(f"{state.name}:"), odd.what, odd.do
    blind = next((s.name for s in job.states if s.key not in told and state_load(job, s).front is None), None)
    if blind is None:
        return None
    return (Say(f"Weigh the empty vehicle: without it the margins of {blind} stay unknown."),)


def _tell_load(job: Job, state: JobState) -> str:
    """Return what would tell a load: the scale, the list, or its heights once the plate says how much there could be."""
    if job.empty is None or state.past:
        return "weigh it, or list what is on it."
    if job.vehicle.front_axle_kg is None or job.vehicle.rear_axle_kg is None:
        return "weigh it, or list what is on it. With the axle ratings off the plate, its heights tell it too."
    return "weigh it, or list what is on it. Else read its heights: they tell what it is, with a band."


def _act(*sentences: Say) -> Verdict:
    return Verdict(tone="act", sentences=sentences)


def way_out(job: Job, state: JobState) -> Say:
    """Return the smallest single thing that clears a state's overload: a move before a removal."""
    moves = clearing_moves(job, state)
    if moves:
        best = moves[0]
        way = "forward" if best.forward > 0 else "back"
        name = best.item.name
        return Say(f"Move {name} {{d}} {way} and every known limit holds.", {"d": length(abs(best.forward))})
    removals = clearing_removals(job, state)
    if removals:
        least = removals[0]
        words = WAYS[least.what].replace("{name}", least.name)
        return Say(f"{words} and every known limit holds.", {"kg": mass(least.kg)})
    less = "take more than one thing off" if not state.hitched else (
        "carry less, take tongue load off, or fit a hitch that gives load back to the front axle"
    )  # fmt: skip
    return Say(f"No single move or removal on the plan clears it: weigh what is aboard, and {less}.")
