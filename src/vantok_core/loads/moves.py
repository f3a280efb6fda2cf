"""What moving load would do: the smallest move or removal that clears an overload, the best place, the tongue still free.

Every change is linear in its size, so each limit allows an interval of it; what is offered lies in all of them.
Source: method section 2 (levers); own derivation of the intervals.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations
from math import ceil, inf

from vantok_core.base.errors import InputError
from vantok_core.base.num import G
from vantok_core.facts import Job, JobState, LoadItem, LoadZone
from vantok_core.facts.classes import BODIES
from vantok_core.loads.limits import LIMIT_NAMES, Margin
from vantok_core.loads.nose import nose_of, window_of
from vantok_core.loads.plan import ratings_of, reach, state_margins
from vantok_core.loads.zoning import open_zones, with_room
from vantok_core.physics.levers import hitch_effect, hitch_moment, item_lever
from vantok_core.physics.vehicle import Tongue

STEP_M = 0.01
"""Moves are offered in steps of this length, m."""
STEP_KG = 1.0
"""Removals are offered in steps of this mass, kg."""
REACH = 1.5
"""How far a thing is moved at most while nobody said where load can go, m (method section 24)."""
WORTH = 0.05
"""A move shorter than this is not worth a word, m."""
PARTS = {"axle": 1.0, "tyres": 1.0, "wheel": 0.5, "tyre": 0.5}
"""What of an axle's load stands on each of its limits, as a share."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Move:
    """Moving one item: how far forward (m, negative rearward), to which station and zone, and what it takes off the rear axle (kg)."""

    item: LoadItem
    forward: float
    relief: float
    zone: LoadZone

    @property
    def station(self) -> float:
        """Where the item goes, m behind the front axle."""
        return self.item.station_m - self.forward


@dataclass(frozen=True, slots=True, kw_only=True)
class Removal:
    """Taking some of one item off, or some of the tongue load: how much, kg. what: "item", "tank" or "tongue"; index: its
    place in the state's contents (-1: the tongue), for things of one name."""

    name: str
    kg: float
    what: str
    whole: bool = False
    index: int = -1


@dataclass(frozen=True, slots=True, kw_only=True)
class BestPlace:
    """The stations (m) between which an item leaves the largest smallest margin; that margin's limit and kg; the side
    that balances the load ("left", "right" or "either"); the zone it stands in."""

    start: float
    end: float
    limit: str
    margin: float
    side: str
    zone: LoadZone


def _item_rates(station: float, wheelbase: float) -> dict[str, float]:
    """Return what a kilogram at a station puts on each limit."""
    share = item_lever(1.0, station, wheelbase)
    front, rear = float(share.front), float(share.rear)
    return {"gross": 1.0, "combination": 1.0} | _on_axles(front, rear)


def _with_nose(
    job: Job, state: JobState, per_metre: float, span: tuple[float, float] | None
) -> tuple[float, float] | None:
    """Return the interval (m forward) of a move within which a trailer's nose stays in its window too; of any other vehicle as it is.

    per_metre: kg that a metre puts on its coupling. Source: method section 27.
    """
    nose = nose_of(job, state) if BODIES[job.vehicle.body].trailer else None
    if span is None or nose is None or not per_metre > 0.0:
        return span
    low, high = (share * nose.trailer - nose.tongue for share in nose.window)
    inside = max(span[0], low / per_metre), min(span[1], high / per_metre)
    return inside if inside[0] <= inside[1] else None


def _on_axles(front: float, rear: float) -> dict[str, float]:
    """Return what a change of both axles' loads puts on their limits: a wheel takes half of its axle's; a trailer's front "axle" is its coupling."""
    on = {"front": front, "rear": rear}
    return {"coupling": front} | {
        f"{axle}_{part}": kg * share for axle, kg in on.items() for part, share in PARTS.items()
    }


def _tongue_rates(job: Job, state: JobState) -> dict[str, float] | None:
    """Return what a kilogram of tongue load puts on each limit, the trailer's mass and the bars' share staying."""
    v = job.vehicle
    if v.base_m is None or v.hitch_overhang_m is None:
        return None
    tongue = Tongue(mass=1.0, overhang=v.hitch_overhang_m)
    if state.restored and state.trailer_axle_m:
        d, o = state.trailer_axle_m, v.hitch_overhang_m
        # Ahead of the axle the front loses nothing that bars could give back.
        moment = max(hitch_moment(1.0, o, d, state.restored), 0.0)
        tongue = Tongue(mass=1.0, overhang=o, bar_moment=moment, axle_distance=d)
    effect = hitch_effect(tongue, v.base_m)
    front, rear = float(effect.front) / G, float(effect.rear) / G
    own = float(effect.trailer_axle) / G - 1.0
    return {
        "gross": front + rear,
        "hitch": 1.0,
        "trailer_axle": own,
        "trailer_tyres": own,
    } | _on_axles(front, rear)


def allowed(margins: Sequence[Margin], rates: Mapping[str, float]) -> tuple[float, float] | None:
    """Return the interval of a change within which every known limit holds, None when there is none.

    Formula: for each limit `rate x <= margin`. Arguments: margins: kg; rates: kg per unit of the change, by limit; a limit
    without a rate does not feel the change. Result: lower and upper end, in the change's unit. Source: own derivation.
    """
    low, high = -inf, inf
    for m in margins:
        if m.margin is None:
            continue
        rate = rates.get(m.key, 0.0)
        if rate == 0.0:
            if m.past:
                return None
        elif rate > 0.0:
            high = min(high, m.margin / rate)
        else:
            low = max(low, m.margin / rate)
    return (low, high) if low <= high else None


def _over(margins: Sequence[Margin]) -> bool:
    return any(m.past for m in margins)


def moves(job: Job, state: JobState, furthest_forward: float) -> list[Move]:
    """Return the moves of single things that can be moved, as far forward as zones, limits and reach allow, at most to a station (m),
    those that relieve the rear axle most first."""
    length, place = job.vehicle.base_m, reach(job)
    if length is None or place is None:
        return []
    found, margins = [], [m for m in state_margins(job, state) if not m.past]
    for item in movable(state):
        per_metre = item.mass_kg / length
        span = _with_nose(job, state, per_metre, allowed(margins, _on_axles(per_metre, -per_metre)))
        most = min(_furthest(job), span[1] if span is not None else 0.0)
        for zone in open_zones(place, state, item):
            forward = min(item.station_m - max(furthest_forward, zone.start, place.wall), most)
            if forward > WORTH and item.mass_kg > 0.0 and item.station_m - forward <= zone.end:
                relief = float(item_lever(item.mass_kg, forward, length).rear)
                found.append(Move(item=item, forward=forward, relief=relief, zone=zone))
    best = {id(m.item): m for m in sorted(found, key=lambda m: m.relief)}
    return sorted(best.values(), key=lambda m: -m.relief)


def clearing_moves(job: Job, state: JobState) -> list[Move]:
    """Return, for each item that can do it alone, the shortest move that brings every known limit back within its load.

    The lightest item comes first (any of them needs the same mass times distance). A move stays inside the zones that take the item,
    behind the cab's wall, and does not pass another limit; it is offered in whole centimetres. Empty when nothing is over or no
    single move does it.
    """
    length, place = job.vehicle.base_m, reach(job)
    margins = state_margins(job, state)
    if length is None or place is None or not _over(margins):
        return []
    found = []
    for item in movable(state):
        per_metre = item.mass_kg / length
        span = _with_nose(job, state, per_metre, allowed(margins, _on_axles(per_metre, -per_metre)))
        if span is None:
            continue
        ways = [
            (forward, zone)
            for zone in open_zones(place, state, item)
            if (forward := _nearest_step(*_within(span, item, zone, place.wall), STEP_M)) is not None
            and abs(forward) <= _furthest(job)
        ]
        if ways:
            forward, zone = min(ways, key=lambda way: abs(way[0]))
            found.append(Move(item=item, forward=forward, relief=per_metre * forward, zone=zone))
    return sorted(found, key=lambda m: (m.item.mass_kg, abs(m.forward)))


def movable(state: JobState) -> list[LoadItem]:
    """Return the things of a state that are marked as ones that can be moved."""
    return [item for item in state.items if item.movable and item.mass_kg > 0.0]


def _furthest(job: Job) -> float:
    """Return how far a thing may be moved (m): within reach of its place, unless somebody said where load can go."""
    return inf if job.vehicle.zones else REACH


def _within(span: tuple[float, float], item: LoadItem, zone: LoadZone, wall: float) -> tuple[float, float]:
    """Return how far forward an item may go so that it ends in a zone, within what the limits allow."""
    return max(span[0], item.station_m - zone.end), min(span[1], item.station_m - max(zone.start, wall))


def _nearest_step(low: float, high: float, step: float) -> float | None:
    """Return the multiple of a step nearest to nought within an interval, None when none lies in it."""
    if low <= 0.0 <= high:
        return 0.0
    count = ceil(low / step - 1e-9) if low > 0.0 else -ceil(-high / step - 1e-9)
    return count * step if low - 1e-9 <= count * step <= high + 1e-9 else None


def clearing_removals(job: Job, state: JobState) -> list[Removal]:
    """Return, for each thing that can do it alone, the least of it to take off so that every known limit holds.

    Items, what stands in tanks, and tongue load (cargo moved back on the trailer, its tongue kept above the light share).
    The least mass comes first; whole kilograms. Empty when nothing is over.
    """
    length = job.vehicle.base_m
    margins = state_margins(job, state)
    if length is None or not _over(margins):
        return []
    items, tanks = len(state.items), len(state.tanks)
    found = []
    for index, item in enumerate(state.contents[: items + tanks]):  # people are asked, not taken off
        kg = _least(margins, _item_rates(item.station_m, length), item.mass_kg)
        if kg is not None:
            what = "tank" if index >= items else "item"
            found.append(Removal(name=item.name, kg=kg, what=what, whole=kg >= item.mass_kg - 1e-9, index=index))
    rates = _tongue_rates(job, state)
    spare = state.tongue - window_of(job)[0] * state.trailer
    if rates and state.tongue > 0.0 and state.trailer > 0.0:
        kg = _least(margins, rates, spare)
        if kg is not None:
            found.append(Removal(name="tongue load", kg=kg, what="tongue"))
    return sorted(found, key=lambda r: r.kg)


def _least(margins: Sequence[Margin], rates: Mapping[str, float], most: float) -> float | None:
    """Return the least mass to take off (kg, whole steps, at most `most`), None when it cannot clear every limit."""
    span = allowed(margins, {key: -rate for key, rate in rates.items()})
    low = max(span[0], 0.0) if span is not None else 0.0
    if span is None or low > most or span[1] < low:
        return None
    kg = ceil(low / STEP_KG - 1e-9) * STEP_KG
    return min(kg, most) if kg <= span[1] + 1e-9 else None


TONGUES = ("hitch", "towed", "gross", "rear_axle")
"""Limits that tongue load is held against, whether they are known or not."""


def unknown_for_tongue(job: Job, state: JobState) -> list[str]:
    """Return which of the limits that tongue load meets nobody knows, in words: what is free of it says nothing of those."""
    rated = ratings_of(job, state)
    return [LIMIT_NAMES[key] for key in TONGUES if getattr(rated, key) is None]


def free_tongue(job: Job, state: JobState) -> float | None:
    """Return how much more tongue load (kg) every known limit still allows, negative when over; None where unknown.

    The trailer's mass stays; limits that tongue load does not touch do not count.
    """
    rates = _tongue_rates(job, state)
    if rates is None:
        return None
    bounds = [
        m.margin / rates[m.key]
        for m in state_margins(job, state)
        if m.margin is not None and rates.get(m.key, 0.0) > 0.0
    ]
    if job.vehicle.hitch_kg is not None and not state.hitched:
        bounds.append(job.vehicle.hitch_kg)
    return min(bounds) if bounds else None


def best_place(job: Job, state: JobState, mass_kg: float) -> BestPlace | None:
    """Return where to put something heavy (kg) so that the smallest margin, as a share of its limit, is as large as can be.

    Each limit's share is linear in the station, so the best lies at a crossing of two of them or at an end; where a limit
    that no place changes rules, every station that does as well is in the answer. Only zones that hold the mass beside what
    they carry are looked at. None without wheelbase or any known limit. Raises InputError for a mass not above zero or that no
    zone takes.
    """
    if not mass_kg > 0.0:
        raise InputError("mass", mass_kg, "it must be above zero")
    length, place = job.vehicle.base_m, reach(job)
    known = [m for m in state_margins(job, state) if m.margin is not None and m.limit]
    lines = [_share_line(m, mass_kg, length) for m in known] if length else []
    if length is None or place is None or not lines:
        return None
    open_to = with_room(place, state, mass_kg)
    if not open_to:
        raise InputError("mass", mass_kg, "no zone takes it beside what it carries: less load, or a trailer")
    start, end, zone = _roomiest(lines, open_to, place.wall)
    middle = 0.5 * (start + end)
    limit = min(range(len(known)), key=lambda i: lines[i][0] + lines[i][1] * middle)
    share = lines[limit][0] + lines[limit][1] * middle
    return BestPlace(
        start=start,
        end=end,
        limit=known[limit].name,
        margin=share * (known[limit].limit or 0.0),
        side=lighter_side(state),
        zone=zone,
    )


def _roomiest(
    lines: Sequence[tuple[float, float]], open_to: Sequence[LoadZone], wall: float
) -> tuple[float, float, LoadZone]:
    """Return the stations (m) between which the smallest share of all limits is as large as can be, in the first zone that has them."""
    worst = {
        (s, n): min(a + b * s for a, b in lines)
        for n, z in enumerate(open_to)
        for s in _crossings(lines, max(z.start, wall), z.end)
    }
    best = max(worst.values()) - 1e-9
    first = min(n for (_, n), value in worst.items() if value >= best)
    good = [s for (s, n), value in worst.items() if value >= best and n == first]
    return min(good), max(good), open_to[first]


def _crossings(lines: Sequence[tuple[float, float]], first: float, last: float) -> set[float]:
    """Return the ends and the stations between them (m) at which two limits' shares are alike."""
    found = {first, last}
    for (a, b), (c, d) in combinations(lines, 2):
        if abs(b - d) > 1e-12 and first < (c - a) / (b - d) < last:
            found.add((c - a) / (b - d))
    return found


def _share_line(margin: Margin, mass: float, length: float) -> tuple[float, float]:
    """Return a limit's margin share as intercept and slope over the station of a mass."""
    at_front, at_rear = (_item_rates(s, length).get(margin.key, 0.0) for s in (0.0, length))
    limit = margin.limit or 1.0
    return ((margin.margin or 0.0) - mass * at_front) / limit, -mass * (at_rear - at_front) / length / limit


def side_moment(state: JobState) -> float:
    """Return the load's side moment (kg m, left positive) from what is on the plan."""
    return sum(i.mass_kg * i.lateral_m for i in state.contents)


def lighter_side(state: JobState) -> str:
    """Return the side on which something more would balance the load: off the corner pads, else the plan."""
    if state.corners_kg is not None:
        fl, fr, rl, rr = state.corners_kg
        lean = (fl + rl - fr - rr) / max(fl + fr + rl + rr, 1.0)
        return "either" if abs(lean) < 0.01 else "right" if lean > 0 else "left"
    moment = side_moment(state)
    return "either" if abs(moment) < 5.0 else "right" if moment > 0 else "left"
