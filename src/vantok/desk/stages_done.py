"""Which stages of a job have what they need."""

from __future__ import annotations

from typing import TYPE_CHECKING

from vantok_core import facts as core
from vantok_core.aims.of_job import driven, needs_heights
from vantok_core.model import has_load, off_springs

if TYPE_CHECKING:
    from vantok.desk.load import Desk


HARD = {"wheelbase_m", "front_spring", "rear_spring"}
"""Figures nothing works without: a tick stands for somebody having said them, never for a starting estimate."""


def stages_done(desk: Desk) -> dict[str, bool]:
    """Return which stages have what they need."""
    job, arch, record = desk.job, arches_read(desk.job), desk.record
    loads = bool(job.judged) and all(has_load(job, s) or off_springs(job, s) for s in job.judged)
    measured = bool(job.judged) and all((s.key, "before") in arch for s in job.states if not s.past)
    return {
        "listen": bool(job.complaints or record.words),
        "vehicle": not any(m.hard for m in desk.missing if m.stage == "vehicle")
        and not HARD & set(record.vehicle.defaults),
        "weigh": loads,
        "measure": measured,
        "diagnose": measured and loads and desk.model is not None,
        "choose": job.fitting is not None,
        **hands_done(desk),
        "prove": any(phase == "after" for _, phase in arch) if needs_heights(job) else driven(job, "after"),
        "report": record.done,
    }


def not_asked(desk: Desk) -> tuple[str, ...]:
    """Return the stages that a job does not wait for: of an assessment what comes after it, of a job without a height what asks for heights alone."""
    if desk.job.assessment:
        return ("choose", "fit", "set", "prove")
    if needs_heights(desk.job):
        return ()
    nothing_fitted = ("choose", "fit", "set") if driven(desk.job, "after") and not desk.job.parts else ()
    return ("vehicle", "weigh", "measure", "diagnose", *nothing_fitted)


def arches_read(job: core.Job) -> set[tuple[str, str]]:
    """Return the states, and before or after the kit, in which an arch was read at the present setting."""
    found = [r for r in job.readings if r.datum.endswith("arch")]
    return {(r.state, r.phase) for r in found if job.at(r.state, r.place, r.datum, r.phase)}


def hands_done(desk: Desk) -> dict[str, bool]:
    """Return whether the kits on the job are fitted (their cards done, or their settings) and set."""
    parts = list(zip(desk.cards, desk.job.parts, strict=True))
    fitted = all(one.done or part.done for one, part in parts)
    return {"fit": bool(parts) and fitted, "set": bool(parts) and all(part.done for _, part in parts)}
