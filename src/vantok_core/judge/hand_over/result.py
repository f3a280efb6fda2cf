"""What was reached, in plain words for the customer: how it came, how it stands now, and under which load."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from vantok_core.base.say import Quantity, Say, length, mass
from vantok_core.facts import Job, JobState
from vantok_core.judge.diagnose.diagnosis import Diagnosis
from vantok_core.judge.grounds.shown import StateView, mean_of
from vantok_core.judge.grounds.unweighed import told, weigh_it
from vantok_core.judge.hand_over.thresholds import RECOVERED
from vantok_core.judge.prove.proof import Compared, Proof
from vantok_core.loads.plan import state_load

BASIS = {"scale": "weighed", "moved": "weighed, with what was moved since", "plan": "from the list of what is aboard"}


Grade = Literal["measured", "computed", "told"]
"""What a sentence rests on: tape or scale, the model or a list, somebody's word."""
RESTS: dict[str, Grade] = {"scale": "measured", "moved": "measured", "plan": "computed"}


@dataclass(frozen=True, slots=True, kw_only=True)
class Claim:
    """A sentence of the report, and what it rests on."""

    said: Say
    grade: Grade


def result_claims(job: Job, diagnosis: Diagnosis, proof: Proof | None) -> list[Claim]:
    """Return a sentence or two for each loaded state: its load and what that rests on, then the rear before and with the kit."""
    found: list[Claim] = []
    for view in diagnosis.views:
        if view.state.past or (view.state.empty and not job.never_empty):
            continue
        off = diagnosis.off_springs(view.state.key)
        found += (
            [_load(job, view.state)]
            if off is None
            else [_claim(told(off), "computed"), _claim(weigh_it(off), "computed")]
        )
        rows = proof.rows.get(view.state.key, ()) if proof is not None else ()
        rear = _gained(view, rows) if job.never_empty else _rear(view, rows)
        if rear is not None:
            found.append(_claim(rear, "measured"))
    found += [
        _claim(
            Say("{state}: {why} is not known; only its heights are told.", {"state": t.state.name, "why": t.why}),
            "measured",
        )
        for t in diagnosis.tapes
        if t.load
    ]
    return found


def _claim(said: Say, grade: Grade) -> Claim:
    return Claim(said=said, grade=grade)


def _load(job: Job, state: JobState) -> Claim:
    load = state_load(job, state)
    if load.front is None or load.rear is None:
        return _claim(
            Say("{state}: its axle loads are not known, as the empty vehicle was not weighed.", {"state": state.name}),
            "told",
        )
    values = {"f": mass(load.front), "r": mass(load.rear), "t": mass(load.front + load.rear)}
    towing = Say(", tongue {p} of it", {"p": mass(state.tongue)}) if state.tongue else ""
    said = Say(
        "{state}: {t} on the wheels ({f} front, {r} rear{towing}; {basis}).",
        {**values, "state": state.name, "towing": towing, "basis": BASIS[load.basis]},
    )
    return _claim(said, RESTS[load.basis])


def _rear(view: StateView, rows: tuple[Compared, ...]) -> Say | None:
    """Return how the rear stood against empty, and how it stands with the kit as read."""
    sag = mean_of(view.sag, ("RL", "RR"))
    if sag is None:
        return None
    before = _against_empty(sag, view.band)
    now = {r.corner: r.empty - r.read for r in rows if r.read is not None and r.empty is not None}
    after = mean_of(now, ("RL", "RR"))
    if after is None:
        return Say("Its rear stood {before}.", {"before": before})
    back = Say("")
    if sag > RECOVERED * view.band:
        back = Say(": {part} of its sag recovered", {"part": Quantity((sag - after) / sag, "percent")})
    return Say(
        "Its rear stood {before}; with the kit on it stands {after}{back}.",
        {"before": before, "after": _against_empty(after, view.band), "back": back},
    )


def _gained(view: StateView, rows: tuple[Compared, ...]) -> Say | None:
    """Return how high the rear of a vehicle that is never empty stood, and what the kit gained, side by side."""
    before, after = (
        {r.corner: height for r in rows if (height := getattr(r, told)) is not None} for told in ("before", "read")
    )
    stood, stands = mean_of(before or view.read, ("RL", "RR")), mean_of(after, ("RL", "RR"))
    if stood is None:
        return None
    if stands is None:
        return Say("Its rear stood at {before}.", {"before": length(stood)})
    lean = {name: length(abs(at["RL"] - at["RR"])) for name, at in (("then", before or view.read), ("now", after))}
    values = {"before": length(stood), "after": length(stands), "gain": length(stands - stood, signed=True), **lean}
    text = "Its rear stood at {before} and stands at {after} with the kit: {gain}. Left and right differed by {then}, and now by {now}."
    return Say(text, values)


def _against_empty(sag: float, band: float) -> Say:
    if abs(sag) <= band:
        return Say("where it does empty, within {band}", {"band": length(band)})
    return Say("{sag} lower than empty" if sag > 0 else "{sag} higher than empty", {"sag": length(abs(sag))})
