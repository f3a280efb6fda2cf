"""What the weighing shows: odd figures said at their place, and the stage's sentence (method section 2)."""

from __future__ import annotations

from collections.abc import Sequence

from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.say import Finding, Quantity, Say, Tone, Verdict, Worded, length, mass
from vantok_core.facts import Job, JobState
from vantok_core.facts.classes import BODIES
from vantok_core.judge.grounds.lead import led_by_limits, limits_said, passed_limits
from vantok_core.judge.grounds.unweighed import Unweighed
from vantok_core.judge.weigh.thresholds import NEAR, PADS_LEAST, PADS_SHARE, PLAN_APART
from vantok_core.loads.holding import HOLDS, PROBABLY, AllHeld, Held
from vantok_core.loads.limits import LIMIT_NAMES, Margin
from vantok_core.loads.moves import clearing_moves, clearing_removals, movable
from vantok_core.loads.nose import noses
from vantok_core.loads.plan import ratings_of, reach, scale_loads, state_load, state_margins, worst_margin
from vantok_core.model import has_load, unsprung_mass
from vantok_core.physics.vehicle import AXLES

WAYS = {
    "item": "Take {kg} of {name} off",
    "tank": "Drain {kg} of {name}",
    "tongue": "Bring the {name} down by {kg}, cargo back on the trailer,",
}


def check_loads(job: Job, state: JobState) -> list[Finding]:
    """Return what is odd about a state's figures, each with what to do; nothing is refused or lost."""
    return [
        *_axle_checks(job, state),
        *_pad_checks(state),
        *_place_checks(job, state),
        *_ticket_checks(job, state),
        *_tongue_checks(job, state),
    ]


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
                "The two {name} pads make {pads}; the axle scale says {whole}.",
                {"pads": mass(pads), "whole": mass(whole), "name": name},
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
            said = Say(
                "“{item}” stands off the vehicle, {s} behind the front axle.",
                {"s": length(item.station_m), "item": item.name},
            )
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
        and max(abs(load.short_front), abs(load.short_rear)) > PLAN_APART
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
    if trailer and tongue > trailer:
        said = Say(
            "The tongue ({t}) cannot carry more than the whole trailer ({m}).", {"t": mass(tongue), "m": mass(trailer)}
        )
        found.append(_odd("tongue-heavy", said, "Correct one of the two."))
    if state.tongue_kg and state.balance and abs(state.tongue_kg - state.balance.tongue) > PLAN_APART:
        values = {"r": mass(state.tongue_kg), "p": mass(state.balance.tongue)}
        said = Say("The tongue reads {r}; the trailer's items make it {p}. The reading rules.", values)
        found.append(_odd("tongue-plan", said, "Look for what stands elsewhere on the trailer.", "plain"))
    return found


def _axle_checks(job: Job, state: JobState) -> list[Finding]:
    """Find an axle that weighs less than its own wheels; a trailer's coupling may well be light."""
    found = []
    for axle, kg in zip(AXLES, scale_loads(state) or (state.front_kg, state.rear_kg), strict=True):
        if kg is None or (axle == "front" and BODIES[job.vehicle.body].trailer):
            continue
        wheels = 2.0 * unsprung_mass(job, axle)
        if kg < wheels:
            said = Say(
                "The {axle} axle reads {kg}, less than its wheels weigh ({w}).",
                {"kg": mass(kg), "w": mass(wheels), "axle": axle},
            )
            found.append(_odd(f"axle-{axle}", said, "Weigh that axle again, all its wheels on the scale."))
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
        return led_by_limits(job, _act(*lacking))
    if unweighed:
        return led_by_limits(job, Verdict(tone="act", sentences=()), unweighed)
    if worst_margin(job) is None or not job.judged:
        return _act(Say("Weigh it, and take the ratings off the plate: no margin is known yet."))
    return led_by_limits(job, _within(job))


def _known(job: Job) -> list[tuple[JobState, Margin, Held]]:
    """Return every known limit with what is known to stand on it, of the loads the job is judged by; of all where none of those is known."""
    every = [(s, m, m.held) for s in job.states for m in state_margins(job, s) if m.held]
    judged = {s.key for s in job.judged}
    return [one for one in every if one[0].key in judged] or every


def _within(job: Job) -> Verdict:
    """Return what is left of the limits that are known, which they are, and that the job's own is not, where it is not."""
    known = _known(job)
    state, nearest, held = min(known, key=lambda one: one[1].share or 0.0)
    values: dict[str, Worded] = {
        "limit": nearest.name,
        "state": state.name,
        "margin": mass(held.margin),
        "band": mass(NINE_IN_TEN * held.sigma),
        "share": Quantity(nearest.share or 0.0, "percent"),
    }
    if held.p < PROBABLY or noses(job):
        return Verdict(tone="act", sentences=())  # the lead says what of it is open
    near = Say("the {limit} in {state}: {margin} to spare ({share}, ± {band})", values)
    if not AllHeld(limits=tuple(h for _, _, h in known), unknown=()).every_known:
        said = "probably holds: weigh it" if held.p < HOLDS else "holds by itself, but not surely with the others"
        return _act(Say("Nearest its limit is {near}. It {said}.", {"near": near, "said": said}))
    own = own_limit_unknown(job)
    if own:
        unknown = "The {own} is the limit that matters here, and nobody knows its rating: take it off the plate. Nearest of the others is {near}."
        return _act(Say(unknown, {"own": own, "near": near}))
    names = sorted({m.name for _, m, _ in known}, key=list(LIMIT_NAMES.values()).index)
    holds = Say(
        "Every known limit holds ({count}: {names}). The nearest is {near}.",
        {"count": len(names), "names": ", ".join(names), "near": near},
    )
    return Verdict(tone="level" if (nearest.share or 0.0) > NEAR else "act", sentences=(holds,))


def own_limit_unknown(job: Job) -> str:
    """Return the limit that belongs to the job and is not known, in words; empty where it is: the ball's with a tongue on it, else the rear axle's."""
    states = job.judged or job.states
    if any(s.tongue > 0.0 and ratings_of(job, s).hitch is None for s in states):
        return LIMIT_NAMES["hitch"]
    return LIMIT_NAMES["rear_axle"] if any(ratings_of(job, s).rear_axle is None for s in states) else ""


def _lacking(job: Job, told: set[str]) -> tuple[Say, ...] | None:
    """Return what keeps the margins from being told: a load not recorded, a figure that cannot be, the empty vehicle unweighed.

    told: states that the springs tell of.
    """
    unknown = next((s for s in job.loaded if s.key not in told and not has_load(job, s)), None)
    if unknown is not None:
        part = "The rest of the load" if unknown.more else "The load"
        return (
            Say(
                "{part} of {unknown} is not recorded: {tell_load}",
                {"part": part, "unknown": unknown.name, "tell_load": _tell_load(job, unknown)},
            ),
        )
    for state in job.states:
        odd = next((f for f in check_loads(job, state) if f.tone == "act"), None)
        if odd is not None:
            return Say("{state}:", {"state": state.name}), odd.what, odd.do
    blind = next(
        (
            s.name
            for s in job.states
            if s.key not in told and None in (state_load(job, s).front, state_load(job, s).rear)
        ),
        None,
    )
    if blind is None:
        return None
    return (Say("Weigh the empty vehicle: without it the margins of {blind} stay unknown.", {"blind": blind}),)


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
        return Say(
            "Move {name} {d} {way} and by the figures every known limit is kept: weigh it then.",
            {"d": length(abs(best.forward)), "name": name, "way": way},
        )
    removals = clearing_removals(job, state)
    if removals:
        least = removals[0]
        way_off = Say(WAYS[least.what], {"name": least.name, "kg": mass(least.kg)})
        return Say("{way} and by the figures every known limit is kept: weigh it then.", {"way": way_off})
    less = (
        "take more than one thing off"
        if not state.hitched
        else ("carry less, take tongue load off, or fit a hitch that gives load back to the front axle")
    )
    unmarked = " Nothing is marked as a thing that can be moved." if state.items and not movable(state) else ""
    return Say(
        "No single move or removal on the plan clears it: weigh what is aboard, and {less}.{unmarked}",
        {"less": less, "unmarked": unmarked},
    )
