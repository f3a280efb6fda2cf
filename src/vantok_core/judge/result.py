"""What was reached, in plain words for the customer: how it came, how it stands now, and under which load."""

from __future__ import annotations

from vantok_core.job import Job, JobState
from vantok_core.judge.diagnose import Diagnosis
from vantok_core.judge.prove import Compared, Proof
from vantok_core.judge.views import StateView, mean_of
from vantok_core.plan import state_load
from vantok_core.say import Quantity, Say, length, mass

BASIS = {"scale": "weighed", "moved": "weighed, with what was moved since", "plan": "from the list of what is aboard"}


def result_sentences(job: Job, diagnosis: Diagnosis, proof: Proof | None) -> list[Say]:
    """Return a sentence or two for each loaded state: its load and what that rests on, then the rear before and with the kit."""
    found = []
    for view in diagnosis.views:
        if view.state.empty or view.state.past:
            continue
        found.append(_load(job, view.state))
        rows = proof.rows.get(view.state.key, ()) if proof is not None else ()
        told = _rear(view, rows)
        if told is not None:
            found.append(told)
    found += [
        Say(f"{t.state.name}: {t.why} is not known; only its heights are told.") for t in diagnosis.tapes if t.load
    ]
    return found


def _load(job: Job, state: JobState) -> Say:
    load = state_load(job, state)
    if load.front is None or load.rear is None:
        return Say(f"{state.name}: its axle loads are not known, as the empty vehicle was not weighed.")
    values = {"f": mass(load.front), "r": mass(load.rear), "t": mass(load.front + load.rear)}
    towing = ""
    if state.tongue:
        towing, values = ", tongue {p} of it", values | {"p": mass(state.tongue)}
    return Say(f"{state.name}: {{t}} on the wheels ({{f}} front, {{r}} rear{towing}; {BASIS[load.basis]}).", values)


def _rear(view: StateView, rows: tuple[Compared, ...]) -> Say | None:
    """Return how the rear stood against empty, and how it stands with the kit as read."""
    sag = mean_of(view.sag, ("RL", "RR"))
    if sag is None:
        return None
    before, values = _against_empty(sag, view.band, "before")
    now = {r.corner: r.empty - r.read for r in rows if r.read is not None and r.empty is not None}
    after = mean_of(now, ("RL", "RR"))
    if after is None:
        return Say(f"Its rear stood {before}.", values)
    told, more = _against_empty(after, view.band, "after")
    return Say(f"Its rear stood {before}; with the kit on it stands {told}.", values | more)


def _against_empty(sag: float, band: float, name: str) -> tuple[str, dict[str, Quantity]]:
    if abs(sag) <= band:
        return f"where it does empty, within {{{name}}}", {name: length(band)}
    return f"{{{name}}} {'lower' if sag > 0 else 'higher'} than empty", {name: length(abs(sag))}
