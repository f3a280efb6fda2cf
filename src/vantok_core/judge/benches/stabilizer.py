"""The stabilizer bench: whether it has stroke left at both locks over bump and droop, where its clamp is best, how much it damps a kick and what it covers up.

Source: method sections 6 and 14.
"""

from __future__ import annotations

from collections.abc import Mapping
from math import degrees

from vantok_core.base.say import Quantity, length
from vantok_core.benches.kick import kick
from vantok_core.benches.stabilizer import StabilizerMount, best_clamp, damping_factor, stabilizer_fit
from vantok_core.facts import Job
from vantok_core.judge.benches.bench import Answer, Ask, Bench, Draft, Values, maybe, number
from vantok_core.model import JobModel

LEAST = 0.010
"""What is to be left of the stroke at either end, m (setting)."""
REACH = 0.08
"""How far a clamp can be moved along its link, m (setting)."""


def _answer(values: Values) -> Answer:
    draft, lock = Draft(), number(values, "lock")
    across, along, up = number(values, "across"), number(values, "along"), number(values, "up")
    mount = StabilizerMount(
        link=(0.0, 0.0, 0.0), frame=(along, across, up), y_range=(-lock, lock), z_range=(-number(values, "droop"), number(values, "bump")),
        closed=number(values, "closed"), open_=number(values, "open"),
    )  # fmt: skip
    fit, clamp = stabilizer_fit(mount), best_clamp(mount, (-REACH, REACH))
    best = stabilizer_fit(mount, clamp)
    draft.row("Shortest, longest", f"{1000.0 * fit.shortest:.0f} to {1000.0 * fit.longest:.0f} mm")
    draft.row("Left shut", Quantity(fit.reserve_closed, "length"))
    draft.row("Left open", Quantity(fit.reserve_open, "length"))
    draft.row("Best with the clamp moved by", Quantity(clamp, "length"))
    draft.row("Of its damping felt at the link", Quantity(damping_factor(mount), "percent"))
    if fit.reserve >= LEAST:
        draft.say(
            "It never reaches either end: {shut} left shut, {open} left open.",
            shut=length(fit.reserve_closed),
            open=length(fit.reserve_open),
        )
    elif best.reserve >= LEAST:
        text = "As it sits it comes to {least} of its end; the clamp moved by {clamp} leaves {best} either way."
        draft.say(
            text, "act", least=length(max(fit.reserve, 0.0)), clamp=Quantity(clamp, "length"), best=length(best.reserve)
        )
    else:
        draft.say(
            "Nowhere on the link has it stroke enough: at best {best} is left. It would lock the steering.",
            "limit",
            best=Quantity(best.reserve, "length"),
        )
    _kick(draft, values)
    draft.note(
        "By hand first, then wheels off, then with the engine running: assistance goes further. On the wheels, legs up, straight ahead."
    )
    draft.note(
        "Never on a rack unless its maker lists it. Play, joints, balance and toe come before it; bump steer it does not change."
    )
    return draft.done(along=along, across=across, up=up, lock=lock, closed=mount.closed, open=mount.open_)


def _kick(draft: Draft, values: Values) -> None:
    """Say what it takes off a kick at the wheels, where its damping and lever are known."""
    damping, lever = maybe(values, "damping"), maybe(values, "lever")
    if damping is None or lever is None:
        return
    without, with_ = kick(), kick(damping, lever)
    draft.row(
        "A kick turns the wheels by, without and with", f"{degrees(without.peak):.1f}°, {degrees(with_.peak):.1f}°"
    )
    peaks = f"{degrees(with_.peak):.1f}° instead of {degrees(without.peak):.1f}°"
    draft.say(
        f"A kick of the road turns the wheels {peaks}, and is gone in {with_.time_to_tenth:.2f} s instead of {without.time_to_tenth:.2f} s."
    )


def _of_job(job: Job, model: JobModel | None) -> Mapping[str, tuple[float | str, str]]:
    fitting = job.fitting
    if fitting is None or fitting.kit.family != "steering_stabilizer":
        return {}
    return {"damping": (float(fitting.kit.own["damping_ns_per_m"]), "the stabilizer that is on")}


BENCH = Bench(
    key="stabilizer", words="Steering stabilizer", question="Has it stroke at both locks, over bump and droop, and what does it damp?",
    asks=(
        Ask(name="across", words="Frame mount from the link, across", kind="length", first=0.53), Ask(name="along", words="along", kind="length", first=0.03),
        Ask(name="up", words="up", kind="length", first=0.04), Ask(name="lock", words="Link moves to either lock by", kind="length", first=0.085),
        Ask(name="bump", words="Link up in bump", kind="length", first=0.06), Ask(name="droop", words="Link down, hanging", kind="length", first=0.07),
        Ask(name="closed", words="Shut, eye to eye", kind="length", first=0.40), Ask(name="open", words="Open, eye to eye", kind="length", first=0.66),
        Ask(name="damping", words="Its damping", kind="damping", needed=False), Ask(name="lever", words="Lever at the wheels' pins", kind="length",
        needed=False),
    ),
    answer=_answer, of_job=_of_job,
)  # fmt: skip
