"""The valve bench: a damper's curves by click, what a hand feels, whether it damps these springs before and after a helper, and whether it fades.

Source: method section 14.
"""

from __future__ import annotations

from math import pi
from typing import Any

from vantok_core.base.num import G
from vantok_core.base.say import Quantity, Say
from vantok_core.base.units import NOUGHT
from vantok_core.benches.damper import damping_ratio
from vantok_core.benches.valves import Mixed, Valves, at_click, damping_word, fade, needed_rate
from vantok_core.facts import Job
from vantok_core.judge.benches.bench import (
    Answer,
    Ask,
    Bench,
    Chart,
    Draft,
    Known,
    Points,
    Question,
    Tone,
    Values,
    maybe,
    points,
)
from vantok_core.judge.benches.thresholds import HAND_SPEED, USUAL_SPEED, VALVED_FIRM, VALVED_SOFT, WANTED_RATIO
from vantok_core.kits.fit import fitted_vehicle
from vantok_core.kits.registry import family_of
from vantok_core.kits.target import target_state
from vantok_core.model import JobModel
from vantok_core.physics.vehicle import AXLE_CORNERS, AxleName

CLICK = "click_count"
"""What a damper kit is set by."""
SPEEDS = ("damper_speed", "force")
EXAMPLE = ((0.1, 180.0), (0.3, 420.0), (0.6, 700.0)), ((0.1, 320.0), (0.3, 800.0), (0.6, 1250.0))
"""An example's bump and rebound (m/s, N)."""


def _answer(values: Values) -> Answer:
    draft = Draft()
    count = round(maybe(values, "clicks") or 1.0)
    soft = Valves.from_points(points(values, "bump"), points(values, "rebound"))
    hard_points = points(values, "bump_hard"), points(values, "rebound_hard")
    hard = Valves.from_points(*hard_points) if all(hard_points) else soft
    clicks = [(1.0, soft), (float(count), hard)] if count > 1 else [(1.0, soft)]
    at = min(max(maybe(values, "click") or 1.0, 1.0), float(count))
    now = at_click(clicks, at)
    draft.curves |= {"bump": points(values, "bump"), "rebound": points(values, "rebound")}
    draft.curves |= {"bump_hard": hard_points[0], "rebound_hard": hard_points[1]} if all(hard_points) else {}
    draft.row("Rate over a cycle, at the damper", Quantity(now.equivalent(USUAL_SPEED), "damping"))
    bump, rebound = (Quantity(abs(now.force(way * HAND_SPEED)), "force") for way in (1.0, -1.0))
    felt = {"bump": bump, "rebound": rebound, "speed": Quantity(HAND_SPEED, "damper_speed")}
    draft.row("A hand feels, bump and rebound", Say("{bump}, {rebound} at {speed}", felt))
    best = _by_click(draft, values, clicks, count)
    _damps(draft, values, now, at, best)
    _fades(draft, values, now)
    if count > 1 and best is not None:
        draft.gives[CLICK] = float(best)
    draft.note(
        "Between its softest and its hardest click a straight mix is taken: the maker's own curves of each click come before it."
    )
    return draft.done(click=at)


def _wheel(values: Values) -> tuple[float, float, int]:
    """Return the damper's travel over the wheel's, the sprung mass (kg, nought: not known) and the number of dampers of a side."""
    return maybe(values, "ratio") or 1.0, maybe(values, "mass") or 0.0, round(maybe(values, "count") or 1.0)


def _zeta(values: Values, damper: Mixed, spring: float) -> float:
    ratio, mass, count = _wheel(values)
    return damping_ratio(count * ratio**2 * damper.equivalent(ratio * USUAL_SPEED), spring, mass)


def _by_click(draft: Draft, values: Values, clicks: list[tuple[float, Valves]], count: int) -> int | None:
    """Chart what each click is like, and return the one nearest to what is wanted (None: springs or mass not known)."""
    spring, mass = maybe(values, "spring"), _wheel(values)[1]
    rows, zetas = [], []
    for n in range(1, count + 1):
        one = at_click(clicks, float(n))
        zeta = _zeta(values, one, spring) if spring and mass else None
        zetas.append(zeta)
        told = "" if zeta is None else f"{zeta:.2f}, {damping_word(zeta)}"
        rows.append(
            (
                f"{n}",
                Quantity(one.force(HAND_SPEED), "force"),
                Quantity(-one.force(-HAND_SPEED), "force"),
                Quantity(one.equivalent(USUAL_SPEED), "damping"),
                told,
            )
        )
    best = None if None in zetas else min(range(count), key=lambda n: abs((zetas[n] or 0.0) - WANTED_RATIO))
    heads = ("Click", "By hand, bump", "By hand, rebound", "Rate over a cycle", "Damping ratio")
    draft.charts.append(Chart(words="By click", heads=heads, rows=tuple(rows), chosen=best))
    return None if best is None else best + 1


def _damps(draft: Draft, values: Values, now: Mixed, at: float, best: int | None) -> None:
    """Say whether it damps its springs, before and with the helper, where their rate and mass are known."""
    spring, before = maybe(values, "spring"), maybe(values, "spring_before")
    ratio, mass, count = _wheel(values)
    if not spring or not mass:
        draft.say("Enter the wheel rate and the sprung mass on that wheel: then it says whether it damps them.", "act")
        return
    zeta = _zeta(values, now, spring)
    word = damping_word(zeta)
    tone: Tone = "act" if word in ("keeps bouncing", "harsh") else "level"
    old = f" Before the helper it was {_zeta(values, now, before):.2f}." if before else ""
    draft.row("Damping ratio", f"{zeta:.2f}, {word}")
    need = needed_rate(WANTED_RATIO, spring, mass, ratio, count)
    have = now.equivalent(ratio * USUAL_SPEED)
    side = "under-valved" if zeta < VALVED_SOFT else "over-valved" if zeta > VALVED_FIRM else "about right"
    draft.say(
        "At click {at} the damping ratio is {zeta}: {word}, {side} for this mass and these springs.{old}",
        tone,
        at=f"{at:g}",
        zeta=f"{zeta:.2f}",
        word=word,
        side=side,
        old=old,
    )
    draft.say(
        "For {wanted} {damper} needs {need}; it has {have}.",
        need=Quantity(need, "damping"),
        have=Quantity(have, "damping"),
        wanted=f"{WANTED_RATIO:g}",
        damper=f"each of {count} a side" if count > 1 else "it",
    )
    if best is not None and best != round(at):
        draft.say(
            "Click {best} comes nearest: set it by the drive, one click at a time, alike on both sides.",
            "act",
            best=best,
        )


def _fades(draft: Draft, values: Values, now: Mixed) -> None:
    """Say how soon it fades on a washboard, where one is told."""
    speed, wave, high = maybe(values, "speed"), maybe(values, "wave"), maybe(values, "high")
    if speed is None or not wave or high is None:
        return
    ratio, _, _ = _wheel(values)
    peak = ratio * 2.0 * pi * (0.5 * high) * speed / wave
    if peak <= 0.0:
        return
    found = fade(now.equivalent(peak) * peak**2 / 2.0)
    draft.row("End temperature on that washboard", Quantity(found.end + NOUGHT["°C"], "temperature"))
    if found.minutes_to_half is None:
        draft.say(
            "On that washboard it never loses half its damping; {factor_end} of it remains when it is hot through.",
            factor_end=f"{found.factor_end:.0%}",
        )
    else:
        draft.say(
            "On that washboard half its damping is gone after {minutes_to_half} minutes: slower, or one with more oil.",
            "act",
            minutes_to_half=f"{found.minutes_to_half:.0f}",
        )
    draft.note("The wheel is taken to follow the washboard. A comparison of dampers, not a forecast.")


def _of_job(job: Job, model: JobModel | None) -> Known:
    found: dict[str, Any] = {}
    fitting = job.fitting
    axle: AxleName = "front" if fitting is not None and fitting.kit.axle == "front" else "rear"
    if fitting is not None and family_of(fitting.kit).damping(fitting.kit, {}) is not None:
        clicks = fitting.kit.own["clicks"]
        found |= _curves(clicks[0], "", "the kit's softest click") | {"clicks": (float(len(clicks)), "the kit's data")}
        if len(clicks) > 1:
            found |= _curves(clicks[-1], "_hard", "the kit's hardest click")
        if pair := fitting.setting.get(CLICK):
            found["click"] = (pair[0], "as set")
    if model is not None:
        state = target_state(model)
        corner = AXLE_CORNERS[axle][0]
        plain = model.solve()[state]
        found["spring_before"] = (float(plain.bump_rate[corner]), "the springs as calibrated, without the kit")
        on = model.solve(fitted_vehicle(model, fitting))[state] if fitting is not None else plain
        found["spring"] = (float(on.bump_rate[corner]), "the model, with what is on")
        found["mass"] = (
            float(on.load[corner]) / G - float(model.vehicle.axle(axle).unsprung),
            "the load on that wheel in the state judged",
        )
    return found


def _curves(click: Any, end: str, source: str) -> dict[str, tuple[Points, str]]:
    return {f"{way}{end}": (tuple((float(v), float(f)) for v, f in click[way]), source) for way in ("bump", "rebound")}


BENCH = Bench(
    key="valves",
    words="Damper curves",
    questions=(
        Question(
            key="feels",
            words="Which click, and what does the hand feel?",
            asks=(
                "bump",
                "rebound",
                "clicks",
                "click",
                "ratio",
                "count",
            ),
        ),
        Question(
            key="springs",
            words="Does it damp these springs?",
            asks=(
                "spring",
                "spring_before",
                "mass",
                "click",
                "clicks",
            ),
        ),
        Question(
            key="road",
            words="What does it do on this road?",
            asks=(
                "mass",
                "spring",
                "speed",
                "wave",
                "high",
            ),
        ),
        Question(
            key="hard",
            words="What at its hardest?",
            asks=(
                "bump_hard",
                "rebound_hard",
                "clicks",
                "click",
            ),
        ),
    ),
    asks=(
        Ask(name="bump", words="Bump, softest click, speed: force", kind="points", axes=SPEEDS, first=EXAMPLE[0]),
        Ask(name="rebound", words="Rebound, softest click", kind="points", axes=SPEEDS, first=EXAMPLE[1]),
        Ask(name="bump_hard", words="Bump, hardest click", kind="points", axes=SPEEDS, needed=False),
        Ask(name="rebound_hard", words="Rebound, hardest click", kind="points", axes=SPEEDS, needed=False),
        Ask(name="clicks", words="How many clicks", kind="count", most=40.0, first=1.0),
        Ask(name="click", words="Set at click", kind="count", first=1.0),
        Ask(name="ratio", words="Damper's travel over the wheel's, lean counted", kind="count", needed=False),
        Ask(name="count", words="Dampers on that side", kind="count", first=1.0),
        Ask(name="spring", words="Wheel rate, springs with the helper", kind="rate", needed=False),
        Ask(name="spring_before", words="Wheel rate before it", kind="rate", needed=False),
        Ask(name="mass", words="Sprung mass on that wheel", kind="mass", needed=False),
        Ask(name="speed", words="Washboard: speed", kind="speed", needed=False),
        Ask(name="wave", words="from crest to crest", kind="length", needed=False),
        Ask(name="high", words="from trough to crest", kind="length", needed=False),
    ),
    works=_answer,
    of_job=_of_job,
    places={"speed": "bump", "damping": "spring", "clicks": "clicks", "rate": "spring", "fade": "speed"},
)
