"""Target heights by school, as a rear ground drop from the empty vehicle (method section 5)."""

from __future__ import annotations

from dataclasses import dataclass

from vantok_core.base.errors import InputError
from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.names import ARCHES, BEAM_AT
from vantok_core.base.say import BEAM_WALL, Say, length
from vantok_core.base.units import both
from vantok_core.facts import Job
from vantok_core.facts.classes import BODIES
from vantok_core.kits.aim import Stands, beam_kept, gap_kept, raised_by, stated_height, to_empty, to_rake
from vantok_core.kits.empty_again import estimated_empty
from vantok_core.model import JobModel
from vantok_core.physics.elements.laws import Stop
from vantok_core.physics.stance.report import StateReport

ASK = "ask"
"""The wish of a vehicle that is never empty, until somebody says it: there is none by default."""
SCHOOLS = {
    ASK: "not said yet: ask what is wanted",
    "as_it_stands": "as it stands",
    "share_of_sag": "take out a share of the sag",
    "empty_height": "rear back to its empty height",
    "level": "level, front and rear the same height",
    "keep_rake": "keep a stated rake",
    "headlamp": "headlamp beam back",
    "raise_by": "raise the rear by a length",
    "stated_height": "a stated rear height, with its source",
    "stop_gap": "a bump-stop gap of at least",
}
OF_EMPTY = ("share_of_sag", "empty_height")
"""Schools that take an empty height: of a vehicle that is never empty it can only be estimated, where its empty load is known."""
SIDED = ("raise_by", "stated_height")
"""Schools whose left and right may differ."""


@dataclass(frozen=True, slots=True, kw_only=True)
class TargetDrop:
    """The wanted mean rear ground drop (m), half of what the left is to drop more than the right (m), the reason in words, and
    sigma (m) where the target is itself an estimate."""

    drop: float
    reason: Say
    apart: float = 0.0
    sigma: float = 0.0

    @property
    def sides(self) -> tuple[float, float]:
        """The wanted drops left and right (m)."""
        return self.drop + self.apart, self.drop - self.apart


def target_state(model: JobModel) -> str:
    """Return the key of the state the target is judged in: the chosen one, else the heaviest at the rear. Raises InputError without any."""
    chosen = model.job.target.state
    loaded = [s.key for s in model.job.judged if s.key in model.states]
    if chosen in loaded:
        return chosen
    if not loaded:
        raise InputError("target", "no loaded state", "a target needs a loaded state of known load")
    reports = model.solve()
    return max(loaded, key=lambda key: float(reports[key].axle_load("rear")))


def target_drop(model: JobModel, state: str) -> TargetDrop:
    """Return the wanted rear drop for the job's school in a state, as that stands without any kit; what is levelled, to the front as it stands now.

    The front drop is not the helper's to change: its load follows from where the mass sits. Raises InputError where a school needs
    heights that were not read, or an empty height of a vehicle that is never empty.
    """
    target, plain = model.job.target, model.solve(model.bare)[state]
    front, d_r = float(model.solve()[state].d_f), float(plain.d_r)
    if target.school == ASK:
        said = "say what height is wanted: as it stands, level, a rake, a lift or a height"
        raise InputError("target", "not said yet", said)
    if target.school == "headlamp":
        return _beam(model, front, d_r)
    if target.school in ("level", "keep_rake"):
        return _rake(model, front)
    if target.school in SAGGED:
        return _of_sag(model, d_r)
    return _length(model, plain)


SAGGED = ("as_it_stands", *OF_EMPTY)


def _of_sag(model: JobModel, d_r: float) -> TargetDrop:
    """Return the drop of a school that tells how much of the rear's sag is to stay: all of it, some, none. Raises InputError as `_of_estimated`."""
    target = model.job.target
    if target.school == "as_it_stands":
        return TargetDrop(drop=d_r, reason=Say("As it stands."))
    if model.job.never_empty:
        return _of_estimated(model, d_r)
    if target.school == "empty_height":
        return TargetDrop(drop=0.0, reason=Say("Rear back to its empty height."))
    return TargetDrop(
        drop=(1.0 - target.share) * d_r,
        reason=Say("Take out {share} of the rear sag.", {"share": f"{target.share:.0%}"}),
    )


def _of_estimated(model: JobModel, d_r: float) -> TargetDrop:
    """Return the drop of a school that takes an empty height, of a vehicle that nobody sees empty. Raises InputError where its load is not known."""
    target, found = model.job.target, estimated_empty(model)
    if found is None or model.job.empty_load is None:
        raise InputError(
            "target",
            f"“{SCHOOLS[target.school]}”",
            "nobody knows how this vehicle stands empty: say what it is raised by, or to what height, or what it carries empty",
        )
    told = Say(
        "estimated as {h} against as it came, ± {b}, by its empty load ({source}).",
        {
            "h": length(-found.value, signed=True),
            "b": length(NINE_IN_TEN * found.sigma),
            "source": model.job.empty_load.source,
        },
    )
    if target.school == "empty_height":
        return TargetDrop(
            drop=to_empty(found.value, known=True),
            sigma=found.sigma,
            reason=Say("Rear back to its empty height, {told}", {"told": told}),
        )
    drop = d_r - target.share * (d_r - found.value)
    return TargetDrop(
        drop=drop,
        sigma=target.share * found.sigma,
        reason=Say(
            "Take out {share} of the rear sag from its empty height, {told}",
            {"share": f"{target.share:.0%}", "told": told},
        ),
    )


def _beam(model: JobModel, d_f: float, d_r: float) -> TargetDrop:
    job, lamp = model.job, BODIES[model.job.vehicle.body].lamp
    if job.never_empty:
        now = Stands(wheelbase=model.vehicle.wheelbase, d_f=d_f, d_r=d_r)
        said = Say("Headlamp beam not above where it was as it came, {d} ahead.", {"d": BEAM_WALL})
        return TargetDrop(drop=beam_kept(now, lamp, job.target.beam_m), reason=said)
    theta = (job.target.beam_m + d_f) / (BEAM_AT - lamp)
    said = Say("Headlamp beam within {b} of where it was, {d} ahead.", {"b": length(job.target.beam_m), "d": BEAM_WALL})
    return TargetDrop(drop=d_f + model.vehicle.wheelbase * theta, reason=said)


def _rake(model: JobModel, d_f: float) -> TargetDrop:
    target, rake = model.job.target, empty_rake(model)
    if rake is None:
        which = "of it as it stands" if model.job.never_empty else "empty"
        raise InputError(
            "target", f"“{SCHOOLS[target.school]}”", f"it needs the front and rear heights {which} on one datum"
        )
    now = Stands(wheelbase=model.vehicle.wheelbase, d_f=d_f, d_r=0.0, front_height=0.0, rear_height=rake)
    wanted = 0.0 if target.school == "level" else target.rake_m
    words = "Level" if target.school == "level" else "Rake of {r}"
    when = "." if model.job.never_empty else " loaded."
    return TargetDrop(drop=to_rake(now, wanted), reason=Say(words + when, {"r": length(wanted)}))


def _length(model: JobModel, plain: StateReport) -> TargetDrop:
    """Return the drop of a school that states a length: raised by, a height, a stop gap. Raises InputError without it."""
    target = model.job.target
    if target.length_m is None:
        raise InputError("target", f"“{SCHOOLS[target.school]}”", "say how much: its figure is not entered")
    if target.school == "stop_gap":
        return _gap(model, plain, target.length_m)
    left, right = target.length_m, target.length_m if target.length_right_m is None else target.length_right_m
    drops = [_side(model, plain, corner, wanted) for corner, wanted in (("RL", left), ("RR", right))]
    words = "Raise the rear by {height}." if target.school == "raise_by" else "Rear at {height} ({source})."
    sides = {"l": length(left), "r": length(right)}
    height = sides["l"] if left == right else Say("{l} left and {r} right", sides)
    reason = Say(words, {"height": height, "source": target.source})
    return TargetDrop(drop=0.5 * (drops[0] + drops[1]), apart=0.5 * (drops[0] - drops[1]), reason=reason)


def _side(model: JobModel, plain: StateReport, corner: str, wanted: float) -> float:
    """Return one side's wanted drop (m). Raises InputError for no lift, a height without its source, one below the present."""
    now = float(plain.ground_drop[corner])
    stands = Stands(
        wheelbase=model.vehicle.wheelbase, d_f=float(plain.d_f), d_r=now, rear_height=_reference_height(model, corner)
    )
    if model.job.target.school == "raise_by":
        return raised_by(stands, wanted)
    drop = stated_height(stands, wanted, model.job.target.source)
    if drop > now:
        raise InputError(
            "stated height", both("length", wanted), "it stands higher than that already: a helper only raises"
        )
    return drop


def _reference_height(model: JobModel, corner: str) -> float | None:
    job = model.job
    found = job.read(job.empty.key, corner, main_arch(job)) if job.empty else None
    return None if found is None else found.value_m


def main_arch(job: Job) -> str:
    """Return the arch datum of the reference's rear: ground to arch where it was read, else hub to arch, else rim edge to arch."""
    empty = job.empty
    return next((d for d in ARCHES if empty is not None and job.read(empty.key, "RL", d) is not None), "hub_arch")


def _gap(model: JobModel, plain: StateReport, least: float) -> TargetDrop:
    """Return the drop that leaves a gap at the rear stops. Raises InputError where their gap was never read."""
    stops = next((e for e in model.vehicle.rear.elements if e.name == "rear bump stops"), None)
    if stops is None:
        raise InputError("target", f"“{SCHOOLS['stop_gap']}”", "read the rear bump stops' gap first")
    gap = min(float(law.gap) for law in (stops.left, stops.right) if isinstance(law, Stop))
    sag = max(float(plain.hub_drop["RL"]), float(plain.hub_drop["RR"]))
    now = Stands(wheelbase=model.vehicle.wheelbase, d_f=float(plain.d_f), d_r=float(plain.d_r))
    return TargetDrop(
        drop=gap_kept(now, sag, gap, least), reason=Say("A bump-stop gap of {g} at least.", {"g": length(least)})
    )


def empty_rake(model: JobModel) -> float | None:
    """Return the empty rake (m) on the first datum on which both axles were read."""
    assert model.job.empty is not None
    for datum in ARCHES:
        front, rear = (model.read_mean(model.job.empty.key, axle, datum) for axle in ("front", "rear"))
        if front is not None and rear is not None:
            return rear - front
    return None
