"""Limits lead: over a passed limit every later sentence begins with it, and nothing is called done (method section 2).

A load read off the springs alone never counts as within: it is to be weighed, and first of all where it is probably over (section 8).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.say import Say, Tone, Verdict, mass
from vantok_core.facts import Job, JobState
from vantok_core.judge.grounds.unweighed import Unweighed, told, weigh_it
from vantok_core.loads.holding import OPEN, OVER, PROBABLY, Held
from vantok_core.loads.limits import Margin
from vantok_core.loads.nose import noses, window_words
from vantok_core.loads.plan import reach, state_margins, worst_margin
from vantok_core.loads.zoning import zones_held

NO_LIMIT = Say("No limit is known: take the ratings off the plate and weigh it before it goes.", act="alone")
LOAD_FIRST = Say("Move or remove load first: no helper raises a rating.", act="alone")


def passed_limits(job: Job) -> list[tuple[JobState, Margin]]:
    """Return every limit that a state passes, the one passed furthest (as a share of it) first."""
    over = [(s, m) for s in job.states for m in state_margins(job, s) if m.over]
    return sorted(over, key=lambda pair: pair[1].share or 0.0)


def limits_said(job: Job) -> Say | None:
    """Return the sentence on the limits that are passed, the vehicle's before those of its zones; None while none is known to be."""
    over = passed_limits(job)
    if not over:
        return zones_said(job)
    state, margin = over[0]
    more = f" {len(over) - 1} more limit{'s are' if len(over) > 2 else ' is'} passed." if len(over) > 1 else ""
    return Say(
        "{state}: {margin} is {over} over.{more}",
        {"over": mass(-(margin.margin or 0.0)), "state": state.name, "margin": margin.name, "more": more},
    )


def zones_said(job: Job) -> Say | None:
    """Return the sentence on the zone furthest over its rating (rack, roof, locker); None while none is known to be."""
    over = [(s, held) for s, held in _zones(job) if held.p < OVER]
    if not over:
        return None
    state, held = max(over, key=lambda one: one[1].load / one[1].limit)
    values = {"kg": mass(held.load), "rating": mass(held.limit)}
    return Say(
        "{state}: the {held} carries {kg} on the plan; it is rated for {rating}.",
        {**values, "state": state.name, "held": held.name},
    )


def _zones(job: Job) -> list[tuple[JobState, Held]]:
    """Return every rated zone of every state as a limit with its error."""
    place = reach(job)
    return [(s, held) for s in job.states if not s.past for _, held in zones_held(place, s)] if place else []


def _unsure(job: Job) -> list[tuple[JobState, Held]]:
    """Return the limits that may be passed and may not, of the vehicle and of its zones, the likeliest passed first."""
    found = [(s, m.held) for s in job.states for m in state_margins(job, s) if m.unsure and m.held]
    found += [(s, held) for s, held in _zones(job) if OVER <= held.p < PROBABLY]
    return sorted(found, key=lambda pair: pair[1].p)


def unsure_said(job: Job) -> Say | None:
    """Return the sentence on the limit that the load's error leaves most in doubt; None where none is."""
    unsure = _unsure(job)
    if not unsure:
        return None
    state, held = unsure[0]
    values = {"load": mass(held.load), "limit": mass(held.limit), "band": mass(NINE_IN_TEN * held.sigma)}
    so = "is probably over its limit" if held.p < OPEN else "may be within its limit or over it, which cannot be told"
    return Say(
        "{state}: the {held} {so}: {load} (± {band}) against {limit}. Weigh it.",
        {**values, "state": state.name, "held": held.name, "so": so},
    )


def probably_over(job: Job) -> bool:
    """Tell whether a limit is likelier passed than not, by a load that is not known well enough to say so."""
    return any(held.p < OPEN for _, held in _unsure(job))


def noses_said(job: Job) -> tuple[Say, ...]:
    """Return what is wrong with a trailer's nose, and what to do; nothing where it is within its window, or not known."""
    out = noses(job)
    if not out:
        return ()
    one, state = out[0], out[0].state.name
    if one.word == "negative":
        return (
            Say(
                "{state}: the trailer is tail-heavy and lifts the ball by {t}.",
                {"state": state, "t": mass(-one.tongue)},
            ),
            Say("Bring its cargo forward before it is driven: it will sway.", act="alone"),
        )
    share = f"{100.0 * one.share:.1f} %"
    said = Say(
        "{state}: the tongue carries {t}, {share} of the trailer; {window} is usual.",
        {"t": mass(one.tongue), "state": state, "share": share, "window": window_words(one.window)},
    )
    return said, Say(NOSE_DO[one.word], act="alone")


NOSE_DO = {
    "light": "Bring cargo forward on the trailer: a light tongue sways.",
    "heavy": "Move cargo back on the trailer, within the hitch's limits.",
}


def led_by_limits(job: Job, verdict: Verdict, unweighed: Sequence[Unweighed] = ()) -> Verdict:
    """Return a stage's verdict behind the limits that are passed or probably are, and behind a trailer's nose; a load nobody weighed is never
    within, and where no limit is known nothing is green.

    unweighed: what the springs tell of the loads nobody weighed.
    """
    said, nose = limits_said(job), noses_said(job)
    if said is not None:
        return replace(verdict, tone="limit", sentences=(said, LOAD_FIRST, *nose, *verdict.sentences))
    over = next((one for one in unweighed if one.over), None)
    if over is not None:
        return replace(verdict, tone="limit", sentences=(told(over), weigh_it(over), *nose, *verdict.sentences))
    unsure = unsure_said(job)
    lead = (*((unsure,) if unsure else ()), *nose)
    tone: Tone = (
        "limit"
        if nose and noses(job)[0].word == "negative"
        else "act"
        if lead and verdict.tone == "level"
        else verdict.tone
    )
    led = replace(verdict, tone=tone, sentences=(*lead, *verdict.sentences))
    if not unweighed:
        return _no_limit_known(job, led)
    tone = "act" if led.tone == "level" else led.tone
    return replace(led, tone=tone, sentences=(*led.sentences, told(unweighed[0]), weigh_it(unweighed[0])))


def _no_limit_known(job: Job, verdict: Verdict) -> Verdict:
    """Return a verdict with what is lacking said, where nobody knows any limit and all else would be well."""
    if verdict.tone != "level" or worst_margin(job) is not None:
        return verdict
    return replace(verdict, tone="act", sentences=(*verdict.sentences, NO_LIMIT))
