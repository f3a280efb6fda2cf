"""What is planned for later (a heavy rear bar, larger tyres), shown at once: how it would stand, and what its limits would say.

Source: method sections 2 to 4; method-2 section 8.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from vantok_core.base.figure import NINE_IN_TEN, Figure
from vantok_core.base.say import Say, Tone, Worded, length, mass
from vantok_core.facts import JobState, PlannedChange
from vantok_core.kits.fit import fitted_vehicle
from vantok_core.kits.later import rise_of
from vantok_core.kits.staged import staged
from vantok_core.loads.limits import Margin, StateLoads, margins
from vantok_core.loads.plan import ratings_of, state_load, trailer_wheels
from vantok_core.model import JobModel
from vantok_core.physics.levers import item_lever
from vantok_core.physics.vehicle import AxleName

TYRES = Say("Look first at the room in the arches at full lock and full bump, and at the larger tyres' own load index.")


@dataclass(frozen=True, slots=True, kw_only=True)
class Planned:
    """A planned change on top of a state. rise: how each axle would stand against that state on the ground (m, up positive), also
    with the job's kit on; margins: every limit with it; said, do: the sentence with its tone, and what to look at first."""

    change: PlannedChange
    state: JobState
    rise: Mapping[AxleName, Figure]
    with_kit: Mapping[AxleName, Figure]
    margins: tuple[Margin, ...]
    said: Say
    do: Say
    tone: Tone


def planned(model: JobModel) -> tuple[Planned, ...]:
    """Return what each planned change would do; one on a state that is gone or cannot be solved is left out."""
    found = []
    for change in model.job.planned:
        state = model.job.state(change.state)
        if state is not None and state.key in model.states:
            found.append(_planned(model, change, state))
    return tuple(found)


def _planned(model: JobModel, change: PlannedChange, state: JobState) -> Planned:
    kit = fitted_vehicle(staged(model), model.job.fitting) if model.job.fitting else None
    rise, found = rise_of(model, change, model.vehicle), tuple(_margins(model, change, state))
    said, tone = _said(change, state, rise, found)
    return Planned(
        change=change,
        state=state,
        rise=rise,
        with_kit=rise_of(model, change, kit) if kit is not None else {},
        margins=found,
        said=said,
        do=TYRES if change.larger_tyre_m > 0.0 else Say(""),
        tone=tone,
    )


def _said(
    change: PlannedChange, state: JobState, rise: Mapping[AxleName, Figure], found: Sequence[Margin]
) -> tuple[Say, Tone]:
    """Return what a change would do, in words, and the tone of it."""
    over = sorted((m for m in found if m.over), key=lambda m: m.share or 0.0)
    tone: Tone = "act"
    known = any(m.margin is not None for m in found if m.key in ("gross", "front_axle", "rear_axle"))
    if over:
        passed: dict[str, Worded] = {"limit": over[0].name, "over": mass(-(over[0].margin or 0.0))}
        limits, tone = Say("The {limit} would be {over} over: no helper raises a rating.", passed), "limit"
    elif known:
        limits, tone = Say("Every known limit would hold."), "plain"
    else:
        limits = Say("Whether its axles would hold it is not known: weigh it.")
    band = length(NINE_IN_TEN * max(f.sigma for f in rise.values()))
    values: dict[str, Worded] = {
        "front": length(rise["front"].value, signed=True),
        "rear": length(rise["rear"].value, signed=True),
        "state": state.name,
        "band": Say(", ± {band}", {"band": band}) if change.mass_kg else "",
        "limits": limits,
    }
    return Say("The front would stand {front} and the rear {rear} against “{state}”{band}. {limits}", values), tone


def _margins(model: JobModel, change: PlannedChange, state: JobState) -> list[Margin]:
    """Return every limit's margin with the change; of a load that nobody weighed nothing is told."""
    job, load = model.job, state_load(model.job, state)
    share = item_lever(change.mass_kg, change.station_m, model.vehicle.wheelbase)
    known = load.front is not None and load.rear is not None
    loads = StateLoads(
        front=(load.front or 0.0) + float(share.front) if known else None,
        rear=(load.rear or 0.0) + float(share.rear) if known else None,
        tongue=state.tongue,
        trailer=state.trailer,
        tag=None,
        trailer_axle=trailer_wheels(job, state),
    )
    found = margins(ratings_of(job, state), loads)
    return [
        m for m in found if not (change.larger_tyre_m and m.key.endswith("_tyres"))
    ]  # other tyres carry what is theirs
