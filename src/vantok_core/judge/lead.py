"""Limits lead: over a passed limit every later sentence begins with it, and nothing is called done (method section 2).

A load read off the springs alone never counts as within: it is to be weighed, and first of all where it is probably over (section 8).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from vantok_core.base.say import Say, Verdict, mass
from vantok_core.facts import Job, JobState
from vantok_core.judge.unweighed import Unweighed, told, weigh_it
from vantok_core.loads.limits import Margin
from vantok_core.loads.plan import reach, state_margins
from vantok_core.loads.zoning import passed_zones

LOAD_FIRST = Say("Move or remove load first: no helper raises a rating.")


def passed_limits(job: Job) -> list[tuple[JobState, Margin]]:
    """Return every limit that a state passes, the one passed furthest (as a share of it) first."""
    over = [(s, m) for s in job.states for m in state_margins(job, s) if m.margin is not None and m.over]
    return sorted(over, key=lambda pair: pair[1].share or 0.0)


def limits_said(job: Job) -> Say | None:
    """Return the sentence on the limits that are passed, the vehicle's before those of its zones; None while none is known to be."""
    over = passed_limits(job)
    if not over:
        return zones_said(job)
    state, margin = over[0]
    more = f" {len(over) - 1} more limit{'s are' if len(over) > 2 else ' is'} passed." if len(over) > 1 else ""
    return Say(f"{state.name}: {margin.name} is {{over}} over.{more}", {"over": mass(-(margin.margin or 0.0))})


def zones_said(job: Job) -> Say | None:
    """Return the sentence on the zone furthest over its rating (rack, roof, locker); None while none is known to be."""
    place = reach(job)
    over = [(s, *pair) for s in job.states for pair in passed_zones(place, s)] if place else []
    if not over:
        return None
    state, zone, kg = max(over, key=lambda one: one[2] / (one[1].rating_kg or one[2]))
    values = {"kg": mass(kg), "rating": mass(zone.rating_kg or 0.0)}
    return Say(f"{state.name}: the {zone.words} carries {{kg}} on the plan; it is rated for {{rating}}.", values)


def led_by_limits(job: Job, verdict: Verdict, unweighed: Sequence[Unweighed] = ()) -> Verdict:
    """Return a stage's verdict behind the limits that are passed or probably are; a load nobody weighed is never within.

    unweighed: what the springs tell of the loads nobody weighed.
    """
    said = limits_said(job)
    if said is not None:
        return replace(verdict, tone="limit", sentences=(said, LOAD_FIRST, *verdict.sentences))
    over = next((one for one in unweighed if one.over), None)
    if over is not None:
        return replace(verdict, tone="limit", sentences=(told(over), weigh_it(over), *verdict.sentences))
    if not unweighed:
        return verdict
    tone = "act" if verdict.tone == "level" else verdict.tone
    return replace(verdict, tone=tone, sentences=(*verdict.sentences, told(unweighed[0]), weigh_it(unweighed[0])))
