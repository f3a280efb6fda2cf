"""What is still open before a job is handed over: states unread, misses unexplained, checks and complaints unanswered."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import get_args

from vantok_core.aims.of_job import driven, needs_heights
from vantok_core.base.names import PLACES
from vantok_core.base.say import Say, length, mass
from vantok_core.base.units import System
from vantok_core.facts import Job
from vantok_core.judge.grounds.lead import noses_said, passed_limits, unsure_said, zones_said
from vantok_core.judge.grounds.leaking import still_open, stopping
from vantok_core.judge.grounds.unweighed import Unweighed, weigh_it
from vantok_core.judge.listen.inspect import standing_faults
from vantok_core.judge.prove.proof import Compared, Proof
from vantok_core.kits.fit import all_checks
from vantok_core.loads.plan import state_margins


def open_points(
    job: Job, proof: Proof | None, complaints: Mapping[str, str] | None = None, unweighed: Sequence[Unweighed] = ()
) -> list[Say]:
    """Return what is open, limits first; an empty list lets the job go.

    complaints: what each code is called; unweighed: what the springs tell of the loads nobody weighed.
    """
    called = complaints or {}
    found = _limits_open(job, unweighed)
    found += [Say("A fault stands: {area}.", {"area": area.words.split(":")[0]}) for area, _ in standing_faults(job)]
    found += [*stopping(job), *still_open(job)]
    if job.fitting is not None:
        found += _fitted(job, proof) if needs_heights(job) else _driven(job)
    found += [
        Say("Nobody has said what became of the complaint “{called}”.", {"called": called.get(c.code, c.code)})
        for c in job.complaints
        if not c.answer
    ]
    return found


def _limits_open(job: Job, unweighed: Sequence[Unweighed]) -> list[Say]:
    """Return what is open about limits: passed, of zones, in doubt, of a nose, of loads nobody weighed."""
    found = [
        Say(
            "“{state}” is {over} over its {name}.",
            {"over": mass(-(m.margin or 0.0)), "state": state.name, "name": m.name},
        )
        for state in job.states
        for m in state_margins(job, state)
        if m.over
    ]
    zone = zones_said(job)
    if zone is not None:
        found.append(zone)
    found += [said for said in (unsure_said(job), *noses_said(job)[:1]) if said is not None]
    for one in unweighed:
        if not passed_limits(job):
            said = weigh_it(one)
            found.append(
                Say(
                    "“{state}” was never weighed. {said}",
                    {"state": one.state.name, "said": said},
                )
            )
    return found


def _driven(job: Job) -> list[Say]:
    """Return what is open of a job that the drive proves."""
    found = _parts(job)
    if not driven(job, "before") or not driven(job, "after"):
        found.append(Say("It was not driven and graded before and after: it closes without proof."))
    return found


def _parts(job: Job) -> list[Say]:
    """Return which kits are not confirmed as set, and which of their fit checks are unanswered."""
    found = [
        Say("{part} is not confirmed as set on the vehicle.", {"part": part.kit.name})
        for part in job.parts
        if not part.done
    ]
    asked = [
        c.words
        for n, part in enumerate(job.parts, 1)
        for c in all_checks(job.as_of(n), part.kit)
        if c.status == "measure"
    ]
    found += [Say("Fit check unanswered: {words}.", {"words": words}) for words in dict.fromkeys(asked)]
    return found


def _fitted(job: Job, proof: Proof | None) -> list[Say]:
    """Return what is open about the kits on the job."""
    found = _parts(job)
    if proof is None:
        return [*found, Say("The heights with the kit on cannot be held against a prediction.")]
    names = {s.key: s.name for s in job.states}
    if proof.reached is not None and not proof.reached.met:
        side = "above" if proof.reached.above > 0.0 else "below"
        values = {"a": length(abs(proof.reached.above))}
        found.append(
            Say(
                "“{name}”: the rear stands {a} {side} the height wanted.",
                {**values, "name": names[proof.reached.state], "side": side},
            )
        )
    for key, rows in proof.rows.items():
        unread = [PLACES[r.corner] for r in rows if r.read is None]
        if len(unread) == len(rows):
            found.append(Say("“{name}” is not read with the kit on.", {"name": names[key]}))
        elif unread:
            found.append(
                Say(
                    "“{name}” is read with the kit on, but not {unread}.",
                    {"name": names[key], "unread": ", ".join(unread)},
                )
            )
        if proof.inside is False:  # of many that lie well together one in ten stands off by chance
            found += [_off(names[key], r) for r in rows if r.inside is False]
    return found


def _off(name: str, row: Compared) -> Say:
    """Return that a height lies outside its band; one that prints as the band does lies just outside."""
    miss, band = length(row.miss or 0.0, signed=True), row.predicted.width
    alike = any(miss.size.in_units(system) == band.in_units(system) for system in get_args(System))
    return Say(
        "“{name}”, {place}: {miss} from the prediction, {just}outside ± {band}.",
        {"name": name, "place": PLACES[row.corner], "miss": miss, "band": band, "just": "just " if alike else ""},
    )
