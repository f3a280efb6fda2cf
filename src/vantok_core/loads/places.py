"""Where things stand on a vehicle: its reach, its zones, and the usual items with their usual masses and zones.

Masses are everyday workshop estimates, there to be overwritten; water is 1 kg a litre, diesel 0.84, petrol 0.75.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from vantok_core.facts.classes import BODIES, BodyStyle
from vantok_core.facts.load import LoadZone, ZoneUse

RACK = 0.9
"""How far a rack, a generator or bikes may stand out behind the body, m."""
NOSE = 0.3
"""How far a winch or a spare may stand out ahead of it, m."""
LEAST = 0.1
"""A zone shorter than this (m) is none: a wheelbase mistyped leaves no room for it."""
LOCKERS = (BODIES["coach"], BODIES["box_truck"])
"""Body styles with lockers under the floor."""
ItemKind = Literal["item", "tank", "people"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Footprint:
    """The vehicle from above: stations of nose and tail, reach of anything on it (m), half width, body style, its zones as edited."""

    nose: float
    tail: float
    first: float
    last: float
    half_width: float
    wheelbase: float
    body: BodyStyle
    own: tuple[LoadZone, ...] = ()

    @property
    def wall(self) -> float:
        """The cab's rear wall, m behind the front axle; 0 where no cab divides the body. No load goes through it."""
        return next((z.end for z in self.own if z.key == "cab"), self.body.cab * self.wheelbase)

    def holds(self, station: float, lateral: float = 0.0) -> bool:
        """Tell whether a place is on the vehicle or one of its racks."""
        return self.first <= station <= self.last and abs(lateral) <= self.half_width + 0.15


def footprint(
    body: str,
    wheelbase: float,
    rear_overhang: float | None,
    hitch_overhang: float | None,
    own: tuple[LoadZone, ...] = (),
) -> Footprint:
    """Return the vehicle's footprint (m); an unknown rear overhang is the body style's, kept short of the ball.

    Arguments: body style key; wheelbase, rear_overhang, hitch_overhang: m or None; own: its zones as edited, none: the body
    style's. Source: own workshop estimates.
    """
    style = BODIES[body]
    behind = rear_overhang if rear_overhang is not None else style.overhang * wheelbase
    if rear_overhang is None and (hitch_overhang or 0.0) > 0.12:
        behind = min(behind, (hitch_overhang or 0.0) - 0.12)  # a ball stands clear of the body
    nose, tail = -style.front_overhang, wheelbase + behind
    return Footprint(
        nose=nose,
        tail=tail,
        first=min(nose, 0.0) - NOSE,
        last=tail + RACK,
        half_width=style.width / 2,
        wheelbase=wheelbase,
        body=style,
        own=own,
    )


@lru_cache(maxsize=64)
def zones(place: Footprint) -> tuple[LoadZone, ...]:
    """Return where load can go on a vehicle, from front to back: as edited, else as usual for its body style, nothing rated."""
    if place.own:
        return place.own
    cab, half = place.wall, place.half_width
    found: list[LoadZone] = []

    def zone(key: str, words: str, use: ZoneUse, span: tuple[float, float], height: float, side: float = half) -> None:
        if span[1] - span[0] > LEAST:
            found.append(
                LoadZone(
                    key=key, words=words, use=use, start=span[0], end=span[1], right=-side, left=side, height_m=height
                )
            )

    if cab:
        zone("cab", "cab", "seats", (0.30 * cab, cab), 0.9)
    bed = place.body.words == "pickup"
    start = max(cab, place.nose)
    zone("floor", "bed" if bed else "floor", "floor", (start, place.tail), 0.75)
    if place.body in LOCKERS:
        zone("lockers", "lockers under the floor", "locker", (start + 0.1, 0.8 * place.wheelbase), 0.5)
    if not bed:
        zone("roof", "roof", "roof", (start + 0.1, place.tail - 0.1), place.body.roof, 0.8 * half)
    if place.body.trailer:
        zone("drawbar", "drawbar box", "locker", (0.4 * place.nose, place.nose), 0.6, 0.5 * half)
    zone("rack", "rear rack", "rack", (place.tail, place.tail + 0.6), 0.6)
    return tuple(found)


@dataclass(frozen=True, slots=True, kw_only=True)
class UsualItem:
    """Something usually carried: its name, mass kg (of each person; of a full tank's litre), zone, share along the zone
    (0 front, 1 back), lateral share of half the width, height m, and for tanks litres and kg a litre."""

    name: str
    kind: ItemKind = "item"
    mass_kg: float = 0.0
    zone: str = "floor"
    along: float = 0.5
    lateral: float = 0.0
    height_m: float | None = None
    capacity_l: float | None = None
    kg_per_l: float = 1.0


USES: dict[str, ZoneUse] = {"cab": "seats", "floor": "floor", "rack": "rack"}
"""What a usual item's zone is used for: where the vehicle's own zones bear other names, the first of that use is taken."""
USUAL = (
    UsualItem(name="driver and passenger", kind="people", mass_kg=75.0, zone="cab", along=0.55),
    UsualItem(name="fresh water", kind="tank", capacity_l=100.0, along=0.3, lateral=-0.4, height_m=0.7),
    UsualItem(name="waste water", kind="tank", capacity_l=80.0, along=0.6, height_m=0.45),
    UsualItem(name="diesel", kind="tank", capacity_l=80.0, kg_per_l=0.84, along=0.1, lateral=-0.5, height_m=0.6),
    UsualItem(name="petrol", kind="tank", capacity_l=60.0, kg_per_l=0.75, along=0.1, lateral=-0.5, height_m=0.6),
    UsualItem(name="batteries", mass_kg=60.0, along=0.6, lateral=0.4, height_m=0.7),
    UsualItem(name="kitchen", mass_kg=90.0, along=0.3, lateral=0.6, height_m=1.0),
    UsualItem(name="tools", mass_kg=80.0, along=0.35, height_m=0.8),
    UsualItem(name="feed sacks", mass_kg=250.0, along=0.4, height_m=0.9),
    UsualItem(name="boat gear", mass_kg=70.0, along=0.8, height_m=0.9),
    UsualItem(name="two bikes on a rear rack", mass_kg=45.0, zone="rack", along=0.6, height_m=1.1),
    UsualItem(name="roof box", mass_kg=60.0, along=0.1, height_m=2.1),
)


def usual_place(usual: UsualItem, place: Footprint) -> tuple[float, float]:
    """Return the station and lateral place (m) at which a usual item starts out on this vehicle."""
    found = {z.key: z for z in zones(place)}
    alike = next((z for z in found.values() if z.use == USES.get(usual.zone, "floor")), None)
    zone = found.get(usual.zone) or alike or next(iter(found.values()))
    return zone.start + usual.along * (zone.end - zone.start), usual.lateral * (place.half_width - 0.15)
