"""Target heights by school, as a rear ground drop from the empty vehicle (method section 5)."""

from __future__ import annotations

from dataclasses import dataclass

from vantok_core.classes import BODIES
from vantok_core.errors import InputError
from vantok_core.model import JobModel
from vantok_core.say import Say, length
from vantok_core.stance.report import StateReport

SCHOOLS = {
    "share_of_sag": "take out a share of the sag",
    "empty_height": "rear back to its empty height",
    "level": "level, front and rear the same height",
    "keep_rake": "keep a stated rake",
    "headlamp": "headlamp beam back",
}
BEAM_DISTANCE = 10.0


@dataclass(frozen=True, slots=True, kw_only=True)
class TargetDrop:
    """The wanted mean rear ground drop (m) and the reason in words."""

    drop: float
    reason: Say


def target_state(model: JobModel) -> str:
    """Return the key of the state the target is judged in: the chosen one, else the heaviest at the rear."""
    chosen = model.job.target.state
    loaded = [s.key for s in model.job.loaded if s.key in model.states]
    if chosen in loaded:
        return chosen
    if not loaded:
        raise InputError("target", "no loaded state", "a target needs a loaded state of known load")
    reports = model.solve()
    return max(loaded, key=lambda key: float(reports[key].axle_load("rear")))


def target_drop(model: JobModel, plain: StateReport) -> TargetDrop:
    """Return the wanted rear drop for the job's school in a state (given its report without any kit).

    The front drop is not the helper's to change: its load follows from where the mass sits.
    """
    target = model.job.target
    d_f, d_r, wheelbase = float(plain.d_f), float(plain.d_r), model.vehicle.wheelbase
    if target.school == "empty_height":
        return TargetDrop(drop=0.0, reason=Say("Rear back to its empty height."))
    if target.school == "share_of_sag":
        share = f"{target.share:.0%}"
        return TargetDrop(drop=(1.0 - target.share) * d_r, reason=Say(f"Take out {share} of the rear sag."))
    if target.school == "headlamp":
        lamp = BODIES[model.job.vehicle.body].lamp
        theta = (target.beam_m + d_f) / (BEAM_DISTANCE - lamp)
        return TargetDrop(
            drop=d_f + wheelbase * theta,
            reason=Say("Headlamp beam within {b} of where it was, 10 m ahead.", {"b": length(target.beam_m)}),
        )
    rake = empty_rake(model)
    if rake is None:
        raise InputError("target", target.school, "it needs the empty front and rear heights on one datum")
    wanted = 0.0 if target.school == "level" else target.rake_m
    words = "Level" if target.school == "level" else "Rake of {r}"
    return TargetDrop(drop=d_f + rake - wanted, reason=Say(words + " loaded.", {"r": length(wanted)}))


def empty_rake(model: JobModel) -> float | None:
    """Return the empty rake (m) on the first datum on which both axles were read."""
    assert model.job.empty is not None
    for datum in ("ground_arch", "hub_arch"):
        front, rear = (model.read_mean(model.job.empty.key, axle, datum) for axle in ("front", "rear"))
        if front is not None and rear is not None:
            return rear - front
    return None
