"""The stabilizer bench: whether it has stroke left at both locks over bump and droop, where its clamp is best, how much it damps a kick and what it covers up.

Source: method sections 6 and 14.
"""

from __future__ import annotations

from math import degrees
from typing import Any

from vantok_core.base.errors import InputError
from vantok_core.base.say import Quantity, length
from vantok_core.benches.kick import kick
from vantok_core.benches.stabilizer import StabilizerMount, best_clamp, damping_factor, length_at, stabilizer_fit
from vantok_core.facts import Job
from vantok_core.judge.benches.bench import (
    Answer,
    Ask,
    Bench,
    Chart,
    Draft,
    Known,
    Question,
    Values,
    chosen,
    maybe,
    number,
)
from vantok_core.judge.benches.thresholds import BUMP_STEERS, CLAMP_REACH, STROKE_LEFT
from vantok_core.kits.registry import family_of
from vantok_core.model import JobModel

TRIALS = (("by_hand", "by hand"), ("wheels_off", "wheels off"), ("engine", "engine running"))
TRIED = (("", "not tried"), ("clear", "clear"), ("touches", "touches or stops short"))
KINDS = (("neutral", "neutral"), ("centring", "centring, with a spring"))
STEERING = (("", "not looked at"), ("box", "box with a drag link"), ("rack", "rack"))


def _answer(values: Values) -> Answer:
    draft, lock = Draft(), number(values, "lock")
    if lock <= 0.0:
        raise InputError("lock", lock, "the link moves to either side by something")
    across, along, up = number(values, "across"), number(values, "along"), number(values, "up")
    mount = StabilizerMount(
        link=(0.0, 0.0, 0.0),
        frame=(along, across, up),
        y_range=(-lock, lock),
        z_range=(-number(values, "droop"), number(values, "bump")),
        closed=number(values, "closed"),
        open_=number(values, "open"),
    )
    fit, clamp = stabilizer_fit(mount), best_clamp(mount, (-CLAMP_REACH, CLAMP_REACH))
    best = stabilizer_fit(mount, clamp)
    draft.row("Shortest", length(fit.shortest))
    draft.row("Longest", length(fit.longest))
    draft.row("Left shut", Quantity(fit.reserve_closed, "length"))
    draft.row("Left open", Quantity(fit.reserve_open, "length"))
    draft.row("Best with the clamp moved by", Quantity(clamp, "length"))
    draft.row("Of its damping felt at the link", Quantity(damping_factor(mount), "percent"))
    _curve(draft, mount)
    if chosen(values, "steering") == "rack" and chosen(values, "listed") != "yes":
        draft.say(
            "The steering is a rack, and nobody has said that the maker lists it for one: it is not fitted.", "limit"
        )
    if fit.reserve >= STROKE_LEFT:
        draft.say(
            "It never reaches either end: {shut} to spare shut, {open} open.",
            shut=length(fit.reserve_closed),
            open=length(fit.reserve_open),
        )
    elif best.reserve >= STROKE_LEFT:
        text = "As it sits it comes to {least} of its end; the clamp moved by {clamp} leaves {best} either way."
        draft.say(
            text, "act", least=length(max(fit.reserve, 0.0)), clamp=Quantity(clamp, "length"), best=length(best.reserve)
        )
    else:
        draft.say(
            "Nowhere on the link has it stroke enough: at best {best} remains. It would lock the steering.",
            "limit",
            best=Quantity(best.reserve, "length"),
        )
    _kick(draft, values)
    _bump_steer(draft, values)
    _tried(draft, values)
    draft.note(
        "By hand first, then wheels off, then with the engine running: assistance goes further. On the wheels, legs up, straight ahead."
    )
    draft.note(
        "A centring one pulls back to one place, and away from where the road wants the wheel; a neutral one holds in any place alike."
        if chosen(values, "kind") == "centring"
        else "A neutral one holds in any place alike; one with clicks is set by road, softer in town, harder where it is rough."
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
        "A kick of the road turns the wheels {peaks}, and is gone in {with_it} s instead of {without} s.",
        peaks=peaks,
        with_it=f"{with_.time_to_tenth:.2f}",
        without=f"{without.time_to_tenth:.2f}",
    )


def _curve(draft: Draft, mount: StabilizerMount) -> None:
    """Chart what is left of the stroke as the clamp is moved along its link, and where nothing is."""
    rows = []
    offsets = [CLAMP_REACH * (n / 4 - 1.0) for n in range(9)]
    left = []
    for offset in offsets:
        fit = stabilizer_fit(mount, offset)
        left.append(fit.reserve)
        rows.append(
            (
                Quantity(offset, "length", signed=True),
                Quantity(fit.reserve_closed, "length", signed=True),
                Quantity(fit.reserve_open, "length", signed=True),
            )
        )
    best = max(range(len(left)), key=left.__getitem__)
    draft.charts.append(
        Chart(words="Clamp moved along its link", heads=("By", "Left shut", "Left open"), rows=tuple(rows), chosen=best)
    )
    draft.curves["reserve"] = tuple(zip(offsets, left, strict=True))
    straight = length_at(mount, best_clamp(mount, (-CLAMP_REACH, CLAMP_REACH)))
    draft.row("Rod straight ahead at ride height, at the best clamp", length(straight))


def _bump_steer(draft: Draft, values: Values) -> None:
    """Say beside the kick what the geometry steers by itself over a bump: the stabilizer does not change it."""
    gain, travel = maybe(values, "toe_gain"), maybe(values, "travel")
    if gain is None or travel is None:
        return
    draft.row("Bump steers the wheels by, whatever is fitted", f"{abs(gain * travel):.2f}°")
    draft.say(
        "Over {travel} of travel the geometry itself steers {steers}°: no stabilizer changes that, it only hides it.",
        "act" if abs(gain * travel) > BUMP_STEERS else "level",
        travel=length(travel),
        steers=f"{abs(gain * travel):.2f}",
    )


def _tried(draft: Draft, values: Values) -> None:
    """Say what was tried from lock to lock, and what is still to be."""
    told = {words: chosen(values, name) for name, words in TRIALS}
    if not any(told.values()):
        return
    if bad := [words for words, answer in told.items() if answer == "touches"]:
        draft.say(
            "Lock to lock {bad}: it touches or stops short. It does not go on the road so.", "limit", bad=", ".join(bad)
        )
    if chosen(values, "legs") == "down":
        draft.say("The levelling legs are down: lock to lock counts with the weight on the tyres, legs up.", "act")
    still = [words for words, answer in told.items() if not answer]
    if still and not bad:
        draft.say("Still to try, lock to lock: {still}.", "act", still=", ".join(still))
    if not still and not bad and chosen(values, "legs") == "up":
        draft.say("Tried lock to lock by hand, wheels off and with the engine running, weight on the tyres: clear.")


def _of_job(job: Job, model: JobModel | None) -> Known:
    found: dict[str, Any] = {}
    fitting, v = job.fitting, job.vehicle
    if v.steering:
        found["steering"] = (v.steering, "the vehicle")
    if v.front_toe_gain is not None:
        found["toe_gain"] = (v.front_toe_gain, "the vehicle")
    if v.front_droop_m is not None:
        found["droop"] = (v.front_droop_m, "the vehicle's front droop")
    if fitting is not None and family_of(fitting.kit).bench == "stabilizer":
        own = fitting.kit.own
        clicks, pair = own.get("clicks_ns_per_m") or (), fitting.setting.get("click_count")
        damping = (
            clicks[round(pair[0]) - 1]
            if clicks and pair and 1 <= round(pair[0]) <= len(clicks)
            else own["damping_ns_per_m"]
        )
        found |= {
            "damping": (float(damping), "the stabilizer that is on"),
            "listed": ("yes" if own.get("rack") else "no", "the kit's data"),
        }
    return found


BENCH = Bench(
    key="stabilizer",
    words="Steering stabilizer",
    questions=(
        Question(
            key="stroke",
            words="Has it stroke at both locks, over bump and droop?",
            asks=(
                "lock",
                "bump",
                "droop",
                "closed",
                "open",
            ),
        ),
        Question(
            key="place",
            words="Where does it stand?",
            asks=(
                "across",
                "along",
                "up",
            ),
        ),
        Question(
            key="kind",
            words="Which kind, and may it be listed?",
            asks=(
                "kind",
                "steering",
                "listed",
            ),
        ),
        Question(
            key="sound",
            words="What is felt by hand?",
            asks=(
                "by_hand",
                "wheels_off",
                "engine",
                "legs",
            ),
        ),
        Question(
            key="damps",
            words="What does it damp?",
            asks=(
                "damping",
                "lever",
                "travel",
                "toe_gain",
            ),
        ),
    ),
    asks=(
        Ask(name="across", words="Frame mount from the link, across", kind="length", first=0.53),
        Ask(name="along", words="along", kind="length", first=0.03),
        Ask(name="up", words="up", kind="length", first=0.04),
        Ask(name="lock", words="Link moves to either lock by", kind="length", first=0.085),
        Ask(name="bump", words="Link up in bump", kind="length", first=0.06),
        Ask(name="droop", words="Link down, hanging", kind="length", first=0.07),
        Ask(name="closed", words="Shut, eye to eye", kind="length", first=0.40),
        Ask(name="open", words="Open, eye to eye", kind="length", first=0.66),
        Ask(name="kind", words="It is", kind="choice", first="neutral", choices=KINDS),
        Ask(name="steering", words="Steering", kind="choice", first="", choices=STEERING),
        Ask(
            name="listed",
            words="Its maker lists it for a rack",
            kind="choice",
            first="no",
            choices=(("no", "no"), ("yes", "yes")),
        ),
        *(
            Ask(name=name, words=f"Lock to lock, {words}", kind="choice", first="", choices=TRIED)
            for name, words in TRIALS
        ),
        Ask(
            name="legs",
            words="Levelling legs",
            kind="choice",
            first="up",
            choices=(("up", "up, or none: weight on the tyres"), ("down", "down")),
        ),
        Ask(name="toe_gain", words="Toe gained by bump", kind="gain", needed=False),
        Ask(name="travel", words="over a travel of", kind="length", needed=False),
        Ask(name="damping", words="Its damping", kind="damping", needed=False),
        Ask(name="lever", words="Lever at the wheels' pins", kind="length", needed=False),
    ),
    works=_answer,
    of_job=_of_job,
    places={"mounts": "across", "length": "closed", "travel": "bump", "clamp range": "closed", "kick": "damping"},
)
