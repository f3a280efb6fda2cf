"""What the springs say of a load nobody weighed, and of the limits it is held against: "weigh it", never "within".

Source: method section 8.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from math import hypot

from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.num import G
from vantok_core.base.say import Finding, Quantity, Say, Worded, length, mass
from vantok_core.facts import Job, JobState
from vantok_core.loads.limits import Margin
from vantok_core.loads.plan import ratings_of, state_load
from vantok_core.loads.unweighed import SHARE_SIGMA, USUAL_SHARE, reference_load
from vantok_core.model import JobModel
from vantok_core.model.states import unknown_at
from vantok_core.model.stops import may_touch
from vantok_core.physics.vehicle import AXLES, AxleName, LoadState
from vantok_core.rates.off_springs import MarginOff, ReadOff, axle_gain, margin_off, read_off

WHOLE = "whole"
HELD = {"gross": WHOLE, "front_axle": "front", "rear_axle": "rear", "front_tyres": "front", "rear_tyres": "rear"}
"""The limits that what stands on the axles is held against, and which of it."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Unweighed:
    """A state nobody weighed, as the springs tell it.

    read: what is not on the list (kg at both axles); None where all of it is listed; gain: what the state adds at "front", "rear"
    and as a "whole", and sigma (kg); margins: by limit, of those that can be told; stops: the axles whose stops may touch unread, and then
    carry part of it.
    """

    state: JobState
    read: ReadOff | None
    gain: Mapping[str, tuple[float, float]]
    margins: Mapping[str, MarginOff]
    stops: tuple[AxleName, ...] = ()

    @property
    def over(self) -> str:
        """The limit that is probably passed, by the largest share of it; empty where none is."""
        over = [key for key, m in self.margins.items() if m.verdict.startswith("probably over")]
        return min(
            over,
            key=lambda key: self.margins[key].margin / (self.margins[key].load + self.margins[key].margin),
            default="",
        )

    @property
    def nearest(self) -> str:
        """The limit whose band comes nearest to it as a share, or furthest past it; empty where none is known."""
        room = {key: 1.0 - m.band[1] / (m.load + m.margin) for key, m in self.margins.items()}
        return min(room, key=lambda key: room[key], default="")


def gain_told(model: JobModel, key: str) -> dict[str, tuple[float, float]] | None:
    """Return what a state adds at the front, the rear and as a whole, each with its sigma (kg), where the springs tell it; else None."""
    return _gains(model, key) if _off_springs(model, key) else None


def _off_springs(model: JobModel, key: str) -> bool:
    return bool(unknown_at(model.states[key], "rear"))


def unweighed(model: JobModel) -> tuple[Unweighed, ...]:
    """Return what the springs tell of every state with something on board that nobody knows; of a vehicle that is never empty and
    was never weighed, every state."""
    job, found = model.job, []
    for state in job.states:
        told = (
            state.key in model.states
            and not state.past
            and None in (state_load(job, state).front, state_load(job, state).rear)
        )
        if told and (job.never_empty or _off_springs(model, state.key)):
            found.append(_unweighed(model, state))
    return tuple(found)


def _unweighed(model: JobModel, state: JobState) -> Unweighed:
    names = [unknown_at(model.states[state.key], axle) for axle in AXLES]
    known = _off_springs(model, state.key)
    stops = may_touch(model, state.key) if known else ()
    gain = _gains(model, state.key)
    return Unweighed(
        state=state,
        gain=gain,
        margins=_margins(model.job, state, gain),
        stops=stops,
        read=read_off(model.estimate, names[0], names[1], model.vehicle.wheelbase) if known else None,
    )


def _margins(job: Job, state: JobState, gain: Mapping[str, tuple[float, float]]) -> dict[str, MarginOff]:
    """Return what the gains say of each known limit, nothing where the reference's own load is not known."""
    limits, reference = ratings_of(job, state), reference_load(job)
    if reference is None:
        return {}
    front, rear = reference["front"], reference["rear"]
    stands = {"front": front, "rear": rear, WHOLE: (front[0] + rear[0], hypot(front[1], rear[1]))}
    found = {}
    for key, part in HELD.items():
        limit = getattr(limits, key)
        if limit is not None:
            (load, own), (more, sigma) = stands[part], gain[part]
            found[key] = margin_off(load, own, more, sigma, limit)
    return found


def _gains(model: JobModel, key: str) -> dict[str, tuple[float, float]]:
    """Return what a state adds at both axles and as a whole (kg), each with its sigma."""
    solved, empty = model.solve(), next(iter(model.states))
    levers = load_levers(model, key)
    found = {}
    for axle in AXLES:
        gain = float(solved[key].axle_load(axle) - solved[empty].axle_load(axle)) / G
        found[axle] = gain, axle_gain(model.estimate, {n: share[axle] for n, share in levers.items()})[1]
    whole = axle_gain(model.estimate, {n: share["front"] + share["rear"] for n, share in levers.items()})[1]
    return found | {WHOLE: (found["front"][0] + found["rear"][0], whole)}


def load_levers(model: JobModel, key: str) -> dict[str, dict[str, float]]:
    """Return the share of each uncertain load of a state on both axles, by its name."""
    return _levers(model.states[key], model.vehicle.wheelbase, model.estimate.problem.loads)


def _levers(state: LoadState, length_m: float, loads: Mapping[str, object]) -> dict[str, dict[str, float]]:
    """Return the share of each uncertain load of a state on both axles."""
    at = {item.name: float(item.station) / length_m for item in state.items}
    if state.tongue is not None:
        at[f"{state.name}:tongue"] = 1.0 + float(state.tongue.overhang) / length_m
    return {name: {"front": 1.0 - rear, "rear": rear} for name, rear in at.items() if name in loads}


def told(one: Unweighed) -> Say:
    """Return what the springs say of a load, with its band; what is inside the band is nothing."""
    name = one.state.name
    if one.read is None:
        share = {"share": Quantity(USUAL_SHARE, "percent"), "band": Quantity(NINE_IN_TEN * SHARE_SIGMA, "percent")}
        return Say(
            "{name}: not weighed; its axles are taken at {share} (± {band}) of their ratings.", {**share, "name": name}
        )
    band, more = NINE_IN_TEN * one.read.sigma_mass, " more than is listed" if one.state.more else ""
    if abs(one.read.mass) <= band:
        return Say(
            "{name}: the springs tell nothing on board{more} that is outside their band of ± {band}.",
            {"name": name, "more": more, "band": mass(band)},
        )
    values = {"mass": mass(one.read.mass), "band": mass(band)}
    if one.read.mass < 0.0:
        than = "what is listed" if one.state.more else "the reference"
        return Say(
            "{name}: about {mass} (± {band}) lighter than {than}, by its springs: something was taken out, or a height is wrong.",
            {"name": name, "mass": mass(-one.read.mass), "band": mass(band), "than": than},
        )
    where, free = Say(""), Say("")
    if one.read.centre is not None and one.read.sigma_centre is not None:
        middle = {"at": length(one.read.centre), "band": length(NINE_IN_TEN * one.read.sigma_centre)}
        where = Say(", its middle {at} (± {band}) behind the front axle", middle)
    if one.stops:
        free = Say(", if the {stops} stops are free: read their gap", {"stops": " and ".join(one.stops)})
    return Say(
        "{name}: about {mass} (± {band}){more}, read off the springs{where}{free}.",
        {**values, "name": name, "more": more, "where": where, "free": free},
    )


UNHELD = "No limit can be held against it before the vehicle is weighed and the ratings are read. Weigh it."


def weigh_it(one: Unweighed) -> Say:
    """Return what that says of the limits: probably within, probably over, or that it cannot be told; weigh it, always."""
    key = one.over or one.nearest
    if not key:
        return Say(UNHELD, act="alone")
    margin = one.margins[key]
    values: dict[str, Worded] = {
        "name": Margin(key=key, limit=None, load=None).name,
        "load": mass(margin.load),
        "limit": mass(margin.load + margin.margin),
        "low": mass(margin.band[0]),
        "high": mass(margin.band[1]),
    }
    said = {
        "probably within, weigh it": "The {name} is probably within its limit: {low} to {high} of {limit}. Weigh it.",
        "cannot be told": "Whether the {name} holds cannot be told: {low} to {high} against {limit}. Weigh it.",
    }
    over = "The {name} is probably over its limit: {low} to {high} against {limit}. Weigh it before anything is fitted."
    return Say(said.get(margin.verdict, over), values, act="alone")


def unweighed_findings(found: tuple[Unweighed, ...]) -> list[Finding]:
    """Return a finding for each load read off the springs, the ones probably over first."""
    return [
        Finding(
            key="probably-over" if one.over else "unweighed",
            tone="limit" if one.over else "act",
            topic="weigh",
            what=told(one),
            do=weigh_it(one),
        )
        for one in sorted(found, key=lambda u: not u.over)
    ]
