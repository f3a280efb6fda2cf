"""A hitch that gives load back against kits that lift the tail, in one table: heights, loads, lamps, and what each cannot do.

Source: method sections 2 (spring bars) and 4, each row solved on the calibrated model.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from vantok_core.base.num import G
from vantok_core.base.say import Quantity, Say, Verdict, length, mass
from vantok_core.facts import Job, JobState
from vantok_core.facts.classes import BODIES
from vantok_core.judge.grounds.pitched import beam_moved
from vantok_core.judge.weigh.thresholds import MOVE_WORTH
from vantok_core.kits.choice import Choice
from vantok_core.loads.plan import tongue_of
from vantok_core.model import JobModel
from vantok_core.physics.levers import hitch_effect
from vantok_core.physics.stance.report import StateReport, report
from vantok_core.physics.stance.states import solve_states

SHARES = (0.5, 1.0)
"""How much of the front's loss the hitch gives back in the rows shown: half, and all."""
KITS = 3
HITCH_CANNOT = "Does nothing unhitched, and nothing for load in the vehicle; loads the trailer’s axle more."
KIT_CANNOT = "Gives the front axle no load back, and raises no rating."
PLAIN_CANNOT = "Nothing is done: what is wrong stays."


@dataclass(frozen=True, slots=True, kw_only=True)
class Row:
    """A way: its words; front and rear height and rake against the reference (m); front and rear axle loads, the trailer's axle more (kg); the beam; what
    it cannot do; whether it is what is there now."""

    words: str
    front: float
    rear: float
    rake: float
    front_kg: float
    rear_kg: float
    trailer_kg: float
    beam: Quantity
    cannot: str
    now: bool = False


def back_or_up(model: JobModel, state: JobState, choices: Sequence[Choice] = ()) -> tuple[Row, ...]:
    """Return the rows for a hitched state: as it is without either, with the hitch, with the likeliest kits. None of them without a tongue and its lever.

    choices: of the shelf, best first; those that cannot be solved are left out. Raises VantokError where the state cannot be solved.
    """
    job, overhang = model.job, model.job.vehicle.hitch_overhang_m
    if not state.tongue or overhang is None or job.vehicle.base_m is None or state.key not in model.states:
        return ()
    rows = [_hitched(model, job, state, 0.0, "Neither", PLAIN_CANNOT)]
    if state.trailer_axle_m:
        for share in dict.fromkeys((*SHARES, *((state.restored,) if state.restored else ()))):
            words = f"Hitch giving back {share:.0%} of the front’s loss".replace("%", "\u00a0%")
            rows.append(_hitched(model, job, state, share, words, HITCH_CANNOT))
    lifting = [c for c in choices if c.kits and not c.out and c.vehicle is not None and c.loads is None]
    for choice in lifting[:KITS]:
        rows.append(_row(model, model.solve(choice.vehicle)[state.key], choice.name, KIT_CANNOT, rows[0].trailer_kg))
    return tuple(rows)


def said_of(rows: Sequence[Row]) -> Verdict | None:
    """Return what the table comes to: what each gives the front and the rear; None without a hitch's row to hold against, or with nothing to give back."""
    plain, whole = (
        rows[0] if rows else None,
        max((r for r in rows if r.cannot == HITCH_CANNOT), key=lambda r: r.front_kg, default=None),
    )
    if plain is None or whole is None or whole.front_kg - plain.front_kg < MOVE_WORTH:
        return None
    kit = max((r for r in rows if r.cannot == KIT_CANNOT), key=lambda r: r.rear, default=None)
    values = {"kg": mass(whole.front_kg - plain.front_kg), "up": length(whole.rear - plain.rear)}
    text = "A hitch can give the front axle up to {kg} back, and lifts the rear by {up}"
    if kit is None:
        return Verdict(tone="plain", sentences=(Say(text + ".", values),))
    return Verdict(
        tone="plain",
        sentences=(
            Say(
                text + "; a kit lifts the rear by {kit} and gives the front nothing.",
                values | {"kit": length(kit.rear - plain.rear)},
            ),
        ),
    )


def _hitched(model: JobModel, job: Job, state: JobState, share: float, words: str, cannot: str) -> Row:
    overhang = job.vehicle.hitch_overhang_m
    assert overhang is not None and job.vehicle.base_m is not None
    tongue = tongue_of(state.model_copy(update={"restored": share}), overhang)
    states = dict(model.states)
    states[state.key] = replace(states[state.key], tongue=tongue)
    solved = solve_states(model.vehicle, list(states.values()), check_limits=False)[state.key]
    more = float(hitch_effect(tongue, job.vehicle.base_m).trailer_axle) / G
    return _row(model, report(model.vehicle, solved), words, cannot, more, now=share == (state.restored or 0.0))


def _row(model: JobModel, told: StateReport, words: str, cannot: str, trailer: float, *, now: bool = False) -> Row:
    return Row(
        words=words,
        front=-float(told.d_f),
        rear=-float(told.d_r),
        rake=float(told.d_f - told.d_r),
        front_kg=float(told.axle_load("front")) / G,
        rear_kg=float(told.axle_load("rear")) / G,
        trailer_kg=trailer,
        beam=beam_moved(told, model.vehicle.wheelbase, BODIES[model.job.vehicle.body].lamp),
        cannot=cannot,
        now=now,
    )
