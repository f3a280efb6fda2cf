"""How an option stands on each aim of a job beside its height: the figure with its band, what is wanted, whether that is met.

Source: method sections 4, 6, 14 and 20. What has no figure is judged by the drive, and not scored here.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from math import sqrt

from vantok_core.aims.aim import AIMS, Aim
from vantok_core.aims.of_job import job_aims
from vantok_core.aims.rolling import Rolled, Rolling, lacking
from vantok_core.base.errors import VantokError
from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.say import Quantity, Say, Worded, length
from vantok_core.base.units import Kind
from vantok_core.facts.classes import BODIES
from vantok_core.facts.kinds import AimKey
from vantok_core.judge.grounds.pitched import beam_moved
from vantok_core.kits.choice import MET, Choice, Shortlist
from vantok_core.kits.damping_left import LEAST, USUAL, damping_left
from vantok_core.kits.odds import EDGE, odds_in_words
from vantok_core.kits.registry import family_of
from vantok_core.kits.sides import lean_read
from vantok_core.kits.target import empty_rake
from vantok_core.kits.tow import LESS_TONGUE
from vantok_core.loads.nose import nose_of, window_words
from vantok_core.model import JobModel
from vantok_core.physics.stance.report import StateReport
from vantok_core.physics.vehicle import AXLE_CORNERS


@dataclass(frozen=True, slots=True, kw_only=True)
class Ruled:
    """An option's figure on an aim's own ruler, with its 90 % band (SI, of a kind); wanted: the line, and which side of it is right: at most, at least, or
    within so much of it (None: no figure is wanted, the drive tells)."""

    value: float
    low: float
    high: float
    kind: Kind
    wanted: float | None = None
    within: float = 0.0
    at_most: bool = True


@dataclass(frozen=True, slots=True, kw_only=True)
class Scored:
    """Where an option stands on an aim of the job, in words and on its ruler; whether it is met: surely, surely not, or not to be told (None)."""

    aim: Aim
    said: Say
    met: bool | None
    ruled: Ruled | None = None

    @property
    def words(self) -> str:
        """The aim's words."""
        return self.aim.words


@dataclass(frozen=True, slots=True, kw_only=True)
class _Asked:
    """What is scored: an option in the state judged (key), beside the same without it."""

    model: JobModel
    choice: Choice
    key: str
    loaded: StateReport
    before: StateReport


def scored(model: JobModel, choice: Choice, key: str, only: AimKey | None = None) -> tuple[Scored, ...]:
    """Return how an option stands on the aims of its job that have a figure beside the height; key: the state judged; only: one aim alone."""
    if choice.out or choice.vehicle is None or choice.loaded is None:
        return ()
    asked = _Asked(model=model, choice=choice, key=key, loaded=choice.loaded, before=model.solve(model.bare)[key])
    found = []
    for aim in job_aims(model.job):
        if aim.key in SCORES and only in (None, aim.key) and (told := SCORES[aim.key](asked)) is not None:
            found.append(replace(told, aim=aim))
    return tuple(found)


def ruled_by(found: Shortlist, model: JobModel, key: AimKey) -> Mapping[str, Scored]:
    """Return every option's figure on one aim, by the option's key; none of those that have none."""
    each = {c.key: scored(model, c, found.state.key, key) for c in found.choices}
    return {name: told[0] for name, told in each.items() if told and told[0].ruled is not None}


def rulers(model: JobModel) -> tuple[Aim, ...]:
    """Return the aims of a job that have a ruler beside the height's."""
    return tuple(aim for aim in job_aims(model.job) if aim.key in SCORES)


def _told(said: Say, met: bool | None, ruled: Ruled | None = None) -> Scored:
    return Scored(aim=AIMS["height"], said=said, met=met, ruled=ruled)


def _roll(asked: _Asked) -> Scored | None:
    model, choice = asked.model, asked.choice
    if lacking(model.job):
        return None
    aim = model.job.roll_wanted
    if choice.kind == "nothing":
        return _told(Say("as now"), aim >= 1.0, Ruled(value=1.0, low=1.0, high=1.0, kind="percent", wanted=aim))
    if choice.kit is None or "roll" not in family_of(choice.kit).answers:
        return None
    try:
        found = Rolling(model.job, model).with_kit(choice.kit, choice.setting)
    except VantokError:
        return None  # the option's own line says why it cannot be solved
    values = {n: Quantity(v, "percent") for n, v in (("r", found.ratio), ("low", found.low), ("high", found.high))}
    met = {"meets": True, "misses": False, "open": None}[found.word]
    return _told(
        Say(
            "{r} of it now ({low} to {high}); {odds} at most {aim}",
            values | {"aim": Quantity(found.aim, "percent"), "odds": odds_in_words(found.odds)},
        ),
        met,
        ruled_roll(found),
    )


def ruled_roll(found: Rolled) -> Ruled:
    """Return a roll's ratio as a figure on its ruler."""
    return Ruled(value=found.ratio, low=found.low, high=found.high, kind="percent", wanted=found.aim)


def _beam(asked: _Asked) -> Scored | None:
    model = asked.model
    body = BODIES[model.job.vehicle.body]
    if body.trailer:
        return None
    errors = model.axle_errors(asked.key, asked.choice.vehicle)
    moved = beam_moved(asked.loaded, model.vehicle.wheelbase, body.lamp, errors)
    return _told(Say("{b} from where it stood", {"b": moved}), None)


def _rake(asked: _Asked) -> Scored | None:
    """Return the rear's height less the front's; None where they were not read on one datum. Wanted only where the target is a rake."""
    stood, target = empty_rake(asked.model), asked.model.job.target
    if stood is None:
        return None
    errors = asked.model.axle_errors(asked.key, asked.choice.vehicle)
    if errors is None:
        return None
    rake = stood + float(asked.loaded.d_f - asked.loaded.d_r)
    band = NINE_IN_TEN * sqrt(max(float(errors[0, 0] + errors[1, 1] - 2.0 * errors[0, 1]), 0.0))
    wanted = {"keep_rake": target.rake_m, "level": 0.0}.get(target.school)
    off = 0.0 if wanted is None else abs(rake - wanted)
    met = None if wanted is None else True if off + band <= MET else False if off - band > MET else None
    told = Say(
        "rear {r} {way}", {"r": Quantity(abs(rake), "length", band=band), "way": "high" if rake >= 0.0 else "low"}
    )
    ruled = Ruled(value=rake, low=rake - band, high=rake + band, kind="length", wanted=wanted, within=MET)
    return _told(told, met, ruled)


def _lean(asked: _Asked) -> Scored | None:
    """Return the rear's left less right: as it was read, and what the option makes of it; None where it was not read."""
    read = lean_read(asked.model, asked.key, "rear")
    if read is None:
        return None
    apart, band = read[0] + _left_up(asked.loaded) - _left_up(asked.before), read[1]
    values = {"d": Quantity(abs(apart), "length", band=band)}
    side = "left" if apart < 0.0 else "right"
    said = (
        Say("sides alike within {b}", {"b": length(band)})
        if abs(apart) <= band
        else Say("{side} {d} low", {**values, "side": side})
    )
    met = True if abs(apart) + band <= MET else False if abs(apart) - band > MET else None
    ruled = Ruled(value=apart, low=apart - band, high=apart + band, kind="length", wanted=0.0, within=MET)
    return _told(said, met, ruled)


def _left_up(one: StateReport) -> float:
    left, right = (float(one.ground_drop[c]) for c in AXLE_CORNERS["rear"])
    return right - left


def _travel(asked: _Asked) -> Scored | None:
    """Return the least gap to a stop or insert, as it stands; whether that is enough over a bump is the drive's to say."""
    gaps, before = asked.loaded.gaps, asked.before.gaps
    if not gaps:
        return None
    now = Say("touching") if min(gaps) <= 0.0 else Say("{g} to the stop", {"g": length(min(gaps))})
    then: dict[str, Worded] = {"then": now, "now": length(max(min(before), 0.0))} if before else {}
    told = Say("{then} (now {now})", then) if before and asked.choice.kind != "nothing" else now
    error = NINE_IN_TEN * asked.choice.drop.sigma if asked.choice.drop is not None else 0.0
    ruled = Ruled(value=min(gaps), low=min(gaps) - error, high=min(gaps) + error, kind="length", at_most=False)
    return _told(told, False if min(gaps) + error <= 0.0 else None, ruled)


def _ride(asked: _Asked) -> Scored | None:
    now, then = (_bounce(one) for one in (asked.before, asked.loaded))
    values = {"f": Quantity(then, "frequency"), "n": Quantity(now, "frequency")}
    said = Say("{f}", values) if asked.choice.kind == "nothing" else Say("{f} (now {n})", values)
    return _told(said, None, Ruled(value=then, low=then, high=then, kind="frequency"))


def _bounce(one: StateReport) -> float:
    return 0.5 * sum(float(one.ride_frequency[c]) for c in AXLE_CORNERS["rear"])


def _damping(asked: _Asked) -> Scored | None:
    """Return what is left of the damping ratio with the same dampers; new dampers, whose curve is their own, are told by the push test."""
    kit = asked.choice.kit
    if kit is not None and family_of(kit).damping(kit, asked.choice.setting) is not None:
        return _told(Say("new dampers: push and drive"), None)
    left, least = damping_left(asked.loaded, asked.before, "rear"), LEAST / USUAL
    ruled = Ruled(value=left, low=left, high=left, kind="percent", wanted=least, at_most=False)
    return _told(Say("{z} of the damping ratio now", {"z": Quantity(left, "percent")}), None, ruled)


def _clearance(asked: _Asked) -> Scored | None:
    overhang, base = asked.model.job.vehicle.hitch_overhang_m, asked.model.vehicle.wheelbase
    if overhang is None:
        return None
    up = float(asked.before.drop_at(base, base + overhang) - asked.loaded.drop_at(base, base + overhang))
    band = NINE_IN_TEN * asked.choice.drop.sigma * (1.0 + overhang / base) if asked.choice.drop is not None else 0.0
    ruled = Ruled(value=up, low=up - band, high=up + band, kind="length", at_most=False)
    return _told(Say("{g} at the tail", {"g": Quantity(up, "length", signed=True, band=band)}), None, ruled)


def _tongue(asked: _Asked) -> Scored | None:
    """Return the share of the trailer that its tongue carries, against its window: no part changes it, the trailer's load does."""
    state = asked.model.job.state(asked.key)
    nose = nose_of(asked.model.job, state) if state is not None else None
    if nose is None:
        return None
    low, high = nose.window
    share = low if asked.choice.key == LESS_TONGUE else nose.share
    said = Say(
        "{s} of the trailer ({window_words} wanted)",
        {"s": Quantity(share, "percent"), "window_words": window_words(nose.window)},
    )
    ruled = Ruled(
        value=share, low=share, high=share, kind="percent", wanted=0.5 * (low + high), within=0.5 * (high - low) + EDGE
    )
    return _told(said, low - EDGE <= share <= high + EDGE, ruled)


SCORES: Mapping[AimKey, Callable[[_Asked], Scored | None]] = {
    "rake": _rake,
    "roll": _roll,
    "beam": _beam,
    "lean": _lean,
    "travel": _travel,
    "ride": _ride,
    "damping": _damping,
    "clearance": _clearance,
    "tongue": _tongue,
}
"""How an option is scored on each aim that has a figure."""
