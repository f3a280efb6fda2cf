"""Which zone a thing stands in, what each zone carries, and where a thing may go (method-2 section 8).

No zone is taken to hold more than its rating; where a rating is unknown only the floor itself is offered.
"""

from __future__ import annotations

from vantok_core.facts import JobState, LoadItem, LoadZone
from vantok_core.loads.holding import Held, planned
from vantok_core.loads.places import Footprint, zones


def zone_of(place: Footprint, station: float, lateral: float, height: float | None = None) -> LoadZone | None:
    """Return the zone that a thing stands in, None for none: of several above one another the one nearest to its height, the first
    one listed where its height is unknown.

    Arguments: station, lateral, height: m. Source: method-2 section 8.
    """
    found = [z for z in zones(place) if z.holds(station, lateral)]
    if height is None or not found:
        return found[0] if found else None
    return min(found, key=lambda z: abs((z.height_m if z.height_m is not None else height) - height))


def carried_in(place: Footprint, state: JobState) -> dict[str, float]:
    """Return what stands in each zone (kg, by its key): items, tanks and people.

    Source: method-2 section 8.
    """
    found = {z.key: 0.0 for z in zones(place)}
    for thing in state.contents:
        zone = zone_of(place, thing.station_m, thing.lateral_m, thing.height_m)
        if zone is not None:
            found[zone.key] += thing.mass_kg
    return found


def zones_held(place: Footprint, state: JobState) -> list[tuple[LoadZone, Held]]:
    """Return every rated zone (roof, rack, locker) as a limit with its error, the likeliest over first: its things are planned, not weighed.

    Source: method section 23.
    """
    told: dict[str, list[tuple[float, float]]] = {z.key: [] for z in zones(place)}
    for thing in state.contents:
        if (zone := zone_of(place, thing.station_m, thing.lateral_m, thing.height_m)) is not None:
            told[zone.key].append((thing.mass_kg, 1.0))
    found = []
    for zone in zones(place):
        if zone.rating_kg is not None:
            load, sigma = planned(0.0, 0.0, told[zone.key])
            found.append((zone, Held(name=zone.words, limit=zone.rating_kg, load=load, sigma=sigma)))
    return sorted(found, key=lambda pair: pair[1].p)


def open_zones(place: Footprint, state: JobState, item: LoadItem) -> list[LoadZone]:
    """Return the zones in which an item may be put down at its own lateral place: the one it stands in, and those with room for it.

    Nothing goes through the cab's wall, and what is in the cab stays. Source: method-2 section 8.
    """
    if item.station_m < place.wall:
        return []
    own = zone_of(place, item.station_m, item.lateral_m, item.height_m)
    others = [z for z in with_room(place, state, item.mass_kg) if z != own]
    return [z for z in (own, *others) if z is not None and z.right - 0.15 <= item.lateral_m <= z.left + 0.15]


def with_room(place: Footprint, state: JobState, mass: float) -> list[LoadZone]:
    """Return the zones behind the cab's wall that hold a mass (kg) besides what they carry.

    A floor whose rating is unknown is offered, a locker or rack is not; nothing is lifted onto the roof. Source: method-2
    section 8.
    """
    carried, found = carried_in(place, state), []
    for zone in zones(place):
        if zone.use in ("seats", "roof") or zone.end <= place.wall:
            continue
        if zone.use == "floor" if zone.rating_kg is None else carried[zone.key] + mass <= zone.rating_kg + 1e-9:
            found.append(zone)
    return found
