"""The vehicle as its class has it, before any reading: rates, tracks, loads, stops; what is assumed is listed.

Source: method sections 2 to 4.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from vantok_core.classes import (
    BODIES,
    FACTORY_STOP,
    FREQUENCY,
    SPRINGS,
    TYRES,
)
from vantok_core.elements.curve import force_curve
from vantok_core.elements.laws import Stop
from vantok_core.forms import sort_elements
from vantok_core.job import Job
from vantok_core.num import G
from vantok_core.plan import scale_loads
from vantok_core.rates.estimate import (
    SIGMA_LN_K,
)
from vantok_core.rates.simple import rate_for_frequency
from vantok_core.units import both
from vantok_core.vehicle import (
    AXLES,
    Axle,
    AxleName,
    Element,
    Lamp,
    LoadState,
    MainSpring,
    Vehicle,
)

DEFAULT_TRACK = 1.65


COUPLING_MASS = 5.0
"""What a trailer's coupling counts for as unsprung at each side, kg: its "front axle" is a ball, not a pair of wheels."""


Gaps = tuple[float, float, str]
"""Stop gaps of the empty vehicle, left and right (m), and what is assumed about them (nothing: both were read)."""


def prior_sigma(job: Job) -> dict[AxleName, float]:
    """Return the prior sigma of ln k: the class's, or five per cent where the rate was given."""
    given = {"front": job.vehicle.front_rate_n_per_m, "rear": job.vehicle.rear_rate_n_per_m}
    return {axle: 0.05 if given[axle] else SIGMA_LN_K for axle in AXLES}


def air_set_in(vehicle: Vehicle, states: Mapping[str, LoadState], assumed: list[str]) -> Vehicle:
    """Return the vehicle with air that was set in a state nobody can solve taken as set empty, and say so."""
    for name in AXLES:
        axle, elements = vehicle.axle(name), []
        for element in vehicle.axle(name).elements:
            if element.set_state and element.set_state not in states:
                assumed.append(f"{element.name} set on the empty vehicle, as “{element.set_state}” is not known")
                element = replace(element, set_state=next(iter(states)))  # noqa: PLW2901
            elements.append(element)
        axle = replace(axle, elements=tuple(elements))
        vehicle = replace(vehicle, front=axle) if name == "front" else replace(vehicle, rear=axle)
    return vehicle


def prior_vehicle(job: Job, gaps: Mapping[AxleName, Gaps | None], assumed: list[str]) -> Vehicle:
    """Return the vehicle at the class's rates, and list what was taken from the class. gaps: of the empty vehicle, by axle."""
    v = job.vehicle
    assert v.base_m is not None
    loads = scale_loads(job.empty) if job.empty else None
    if loads is None:
        assumed.append("empty axle loads from the class")
        loads = _typical_axle_loads(job)
    for name, value in (("front track", v.track_front_m), ("rear track", v.track_rear_m)):
        if value is None:
            assumed.append(f"{name} of {both('length', DEFAULT_TRACK)}")
    return Vehicle(
        wheelbase=v.base_m, front=_prior_axle(job, "front", loads[0], gaps["front"]),
        rear=_prior_axle(job, "rear", loads[1], gaps["rear"]),
        lamp=Lamp(station=BODIES[v.body].lamp),
    )  # fmt: skip


def _typical_axle_loads(job: Job) -> tuple[float, float]:
    """Return typical empty axle loads (kg) from the ratings, or from the tyre class without them."""
    v = job.vehicle
    by_class = {"car": (900.0, 700.0), "light_truck": (1350.0, 1000.0), "medium_duty": (2200.0, 2600.0)}
    front, rear = by_class[v.tyres or "light_truck"]
    return (0.75 * v.front_axle_kg if v.front_axle_kg else front, 0.5 * v.rear_axle_kg if v.rear_axle_kg else rear)


def unsprung_mass(job: Job, axle: AxleName) -> float:
    """Return the class's unsprung mass of a corner (kg)."""
    tyres = TYRES[job.vehicle.tyres or "light_truck"]
    if axle == "front" and BODIES[job.vehicle.body].trailer:
        return COUPLING_MASS
    if axle == "front":
        return tyres.unsprung_front
    return tyres.unsprung_rear + (tyres.second_wheel if job.vehicle.dual_rear else 0.0)


def _prior_axle(job: Job, axle: AxleName, load_kg: float, gaps: Gaps | None) -> Axle:
    v = job.vehicle
    kind = SPRINGS[(v.front_spring if axle == "front" else v.rear_spring) or "leaf_solid"]
    track = (v.track_front_m if axle == "front" else v.track_rear_m) or DEFAULT_TRACK
    tyres = TYRES[v.tyres or "light_truck"]
    unsprung = unsprung_mass(job, axle)
    rating = v.front_axle_kg if axle == "front" else v.rear_axle_kg
    rated = rating if rating and rating > load_kg else load_kg * (1.15 if axle == "front" else 1.5)
    given = v.front_rate_n_per_m if axle == "front" else v.rear_rate_n_per_m
    rate = given or rate_for_frequency(max(rated / 2 - unsprung, 50.0), FREQUENCY[axle])
    k2 = rate * kind.second_stage
    if k2 and not given:  # at rated load both stages carry: the class frequency is theirs together
        rate, k2 = rate / (1.0 + kind.second_stage), rate * kind.second_stage / (1.0 + kind.second_stage)
    place = None if not kind.solid else kind.place * track / 2
    left, right = _reference_sides(job, axle, load_kg)
    forms, changes = (v.front_elements, v.front_changes) if axle == "front" else (v.rear_elements, v.rear_changes)
    named = [(e.name or f"{axle} {e.law.replace('_', ' ')} {i + 1}", e) for i, e in enumerate(forms)]
    bars, others = sort_elements(axle, kind.law, named)
    return Axle(
        solid=kind.solid, track=track, unsprung=unsprung,
        tyre_rate=tyres.rate * (2 if axle == "rear" and v.dual_rear else 1), ref_load=(left * G, right * G),
        spring=MainSpring(
            name=f"{axle} springs", kind=kind.law, k=rate, k2=k2, z2=kind.second_at, y=place,
            changes=tuple(c.build() for c in changes),
        ),
        elements=(*_factory_stops(axle, gaps, place), *others), bars=bars,
    )  # fmt: skip


def _reference_sides(job: Job, axle: AxleName, load_kg: float) -> tuple[float, float]:
    corners = job.empty.corners_kg if job.empty else None
    if corners is None:
        return load_kg / 2, load_kg / 2
    return (corners[0], corners[1]) if axle == "front" else (corners[2], corners[3])


def _factory_stops(axle: AxleName, gaps: Gaps | None, place: float | None) -> tuple[Element, ...]:
    """Return the axle's bump stops, where their gaps are known."""
    if gaps is None:
        return ()
    curve = force_curve(FACTORY_STOP)
    left, right = (Stop(gap=gap, curve=curve) for gap in gaps[:2])
    return (Element(name=f"{axle} bump stops", left=left, right=right, y=place, fitted="reference"),)
