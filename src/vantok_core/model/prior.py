"""The vehicle as its class has it, before any reading: rates, tracks, loads, stops; what is assumed is listed.

Source: method sections 2 to 4.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from vantok_core.base.names import DEFAULT_TRACK
from vantok_core.base.num import G
from vantok_core.base.units import both
from vantok_core.facts import Job, JobVehicle
from vantok_core.facts.classes import BODIES, FACTORY_STOP, SPRINGS, TYRES, SpringClass
from vantok_core.facts.learnt import ClassLearnt
from vantok_core.facts.parts import ChangeForm, ElementForm
from vantok_core.loads.plan import scale_loads
from vantok_core.loads.unweighed import USUAL_SHARE, reference_load
from vantok_core.model.parts import sort_elements, spring_change
from vantok_core.physics.elements.curve import force_curve
from vantok_core.physics.elements.laws import Stop
from vantok_core.physics.vehicle import AXLES, Axle, AxleName, Element, Lamp, LoadState, MainSpring, Vehicle
from vantok_core.rates import traits
from vantok_core.rates.class_rate import MAKERS, SPREAD, class_rate
from vantok_core.rates.traits import Trait

COUPLING_MASS = 5.0
"""What a trailer's coupling counts for as unsprung at each side, kg: its "front axle" is a ball, not a pair of wheels."""


LEAST_SPRUNG = 50.0
"""The least that a corner's springs carry at rated load, kg, whatever the plate is read to say."""
Gaps = tuple[float, float, str]
"""Stop gaps of the empty vehicle, left and right (m), and what is assumed about them (nothing: both were read)."""


def prior_sigma(job: Job) -> dict[AxleName, float]:
    """Return the prior sigma of ln k: its maker's where the rate was given, else what the shop's own vehicles of the class leave, else the class's."""
    given = {"front": job.vehicle.front_rate_n_per_m, "rear": job.vehicle.rear_rate_n_per_m}
    own = {axle: learnt.sigma_ln if (learnt := learnt_of(job, axle)) else SPREAD for axle in AXLES}
    return {axle: MAKERS if given[axle] else own[axle] for axle in AXLES}


def learnt_of(job: Job, axle: AxleName) -> ClassLearnt | None:
    """Return what the shop had learnt of an axle's class; None where it had learnt nothing, or the rate is given."""
    given = job.vehicle.front_rate_n_per_m if axle == "front" else job.vehicle.rear_rate_n_per_m
    return None if given else next((one for one in job.class_learnt if one.axle == axle), None)


def prior_traits(job: Job, vehicle: Vehicle) -> tuple[Trait, ...]:
    """Return what of the vehicle nobody has read, beside its rates: tyres, a second stage, stop gaps. Source: method section 21."""
    found: list[Trait] = []
    for axle in AXLES:
        own = vehicle.axle(axle)
        if axle == "front" and BODIES[job.vehicle.body].trailer:
            continue
        if f"tyre-{axle}" not in job.vehicle.own:
            found.append(traits.tyres(axle))
        if has_second_stage(job, axle):
            found += [traits.contact(axle), traits.ratio(axle)]
        elif has_second_stage(job, axle) is None:
            found.append(traits.ratio(axle, 1.0))
        if any(e.name == f"{axle} {traits.UNREAD_STOPS}" for e in own.elements):
            found.append(
                traits.stops(axle)
                if not job.never_empty
                else traits.stops(axle, _gap_as_it_stands(job, axle, own), None)
            )
    return tuple(found)


def has_second_stage(job: Job, axle: AxleName) -> bool | None:
    """Tell whether an axle's springs have a second stage, by their kind or as looked for; None where nobody can tell."""
    kind = _known(job.vehicle, axle).kind
    if kind.stages is not None or axle == "front":
        return kind.stages or False
    looked = next((one.fitted for one in job.vehicle.equipment if one.kind == "second_stage"), None)
    return None if looked is None else looked in ("factory", "later")


def _gap_as_it_stands(job: Job, axle: AxleName, own: Axle) -> float:
    """Return the usual gap (m) of a vehicle that is never empty: the empty one's less the sag of what it usually carries; below nought it touches."""
    empty = _typical_axle_loads(job)[AXLES.index(axle)] * G
    carried = max(float(own.ref_load[0] + own.ref_load[1]) - empty, 0.0)
    return traits.GAP - 0.5 * carried / float(own.spring.k + own.spring.k2)


def rear_class(job: Job) -> str:
    """Return which class of rear springs a vehicle has (see `class_rate.REAR_HZ`), by its body, tyres and springs."""
    v = job.vehicle
    if v.body in ("van", "high_roof_van"):
        return "van"
    if v.body == "coach":
        return "coach"
    if v.tyres == "medium_duty" or v.body == "box_truck":
        return "medium_duty"
    kind = SPRINGS[v.rear_spring or "leaf_solid"]
    return "leaf_pickup" if kind.law in ("leaf", "parabolic") else "coil" if kind.solid else "independent"


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
    stands = reference_load(job)
    if loads is None and stands is not None:
        assumed.append(f"axle loads as it stands: {USUAL_SHARE:.0%} of its ratings, until it is weighed")
        loads = stands["front"][0], stands["rear"][0]
    if loads is None:
        assumed.append("empty axle loads from the class")
        loads = _typical_axle_loads(job)
    if v.defaults:
        assumed.append(
            f"{', '.join(name.removesuffix('_m').removesuffix('_kg').replace('_', ' ') for name in v.defaults)} from a starting vehicle"
        )
    for name, value in (("front track", v.track_front_m), ("rear track", v.track_rear_m)):
        if value is None:
            assumed.append(f"{name} of {both('length', DEFAULT_TRACK)}")
    return Vehicle(
        wheelbase=v.base_m,
        front=_prior_axle(job, "front", loads[0], gaps["front"]),
        rear=_prior_axle(job, "rear", loads[1], gaps["rear"]),
        lamp=Lamp(station=BODIES[v.body].lamp),
    )


def _typical_axle_loads(job: Job) -> tuple[float, float]:
    """Return typical empty axle loads (kg) from the ratings, or from the tyre class without them."""
    v = job.vehicle
    by_class = {"car": (900.0, 700.0), "light_truck": (1350.0, 1000.0), "medium_duty": (2200.0, 2600.0)}
    front, rear = by_class[v.tyres or "light_truck"]
    return (0.75 * v.front_axle_kg if v.front_axle_kg else front, 0.5 * v.rear_axle_kg if v.rear_axle_kg else rear)


def unsprung_mass(job: Job, axle: AxleName) -> float:
    """Return the unsprung mass of a corner (kg): as weighed, else the class's."""
    if (own := job.vehicle.own.get(f"unsprung-{axle}")) is not None:  # type: ignore[call-overload] # one of its names
        return float(own)
    tyres = TYRES[job.vehicle.tyres or "light_truck"]
    if axle == "front" and BODIES[job.vehicle.body].trailer:
        return COUPLING_MASS
    if axle == "front":
        return tyres.unsprung_front
    return tyres.unsprung_rear + (tyres.second_wheel if job.vehicle.dual_rear else 0.0)


@dataclass(frozen=True, slots=True)
class _Known:
    """What the facts tell of one axle: its kind of suspension, track (m), rating (kg), given rate (N/m), listed parts."""

    kind: SpringClass
    track: float
    rating: float | None
    rate: float | None
    elements: tuple[ElementForm, ...]
    changes: tuple[ChangeForm, ...]


def _known(v: JobVehicle, axle: AxleName) -> _Known:
    if axle == "front":
        kind, track, rating, rate = v.front_spring, v.track_front_m, v.front_axle_kg, v.front_rate_n_per_m
        return _Known(
            SPRINGS[kind or "leaf_solid"], track or DEFAULT_TRACK, rating, rate, v.front_elements, v.front_changes
        )
    kind, track, rating, rate = v.rear_spring, v.track_rear_m, v.rear_axle_kg, v.rear_rate_n_per_m
    return _Known(SPRINGS[kind or "leaf_solid"], track or DEFAULT_TRACK, rating, rate, v.rear_elements, v.rear_changes)


def _prior_axle(job: Job, axle: AxleName, load_kg: float, gaps: Gaps | None) -> Axle:
    known, v = _known(job.vehicle, axle), job.vehicle
    tyres, unsprung = TYRES[v.tyres or "light_truck"], unsprung_mass(job, axle)
    place = None if not known.kind.solid else v.own.get(f"place-{axle}", known.kind.place * known.track / 2)  # type: ignore[call-overload] # one of its names
    tyre_rate = v.own.get(f"tyre-{axle}", tyres.rate * (2 if axle == "rear" and v.dual_rear else 1))  # type: ignore[call-overload] # one of its names
    left, right = _reference_sides(job, axle, load_kg)
    named = [(e.name or f"{axle} {e.law.replace('_', ' ')} {i + 1}", e) for i, e in enumerate(known.elements)]
    bars, others = sort_elements(axle, known.kind.law, named)
    rate, k2 = _class_rates(job, known, axle, load_kg)
    done_left, done_right = (tuple(spring_change(c, n) for c in known.changes) for n in (0, 1))
    return Axle(
        solid=known.kind.solid,
        track=known.track,
        unsprung=unsprung,
        tyre_rate=tyre_rate,
        ref_load=(left * G, right * G),
        spring=MainSpring(
            name=f"{axle} springs",
            kind=known.kind.law,
            k=rate,
            k2=k2,
            z2=traits.CONTACT if k2 else traits.MAYBE_CONTACT,
            y=place,
            changes=done_left,
            changes_right=done_right if done_right != done_left else None,
        ),
        elements=(*(() if axle == "front" and BODIES[v.body].trailer else _factory_stops(axle, gaps, place)), *others),
        bars=bars,
    )


def _class_rates(job: Job, known: _Known, axle: AxleName, load_kg: float) -> tuple[float, float]:
    """Return the rates of both stages (N/m): the first as given, else the two together from the class's ride frequency at rated load."""
    more = traits.RATIO - 1.0 if has_second_stage(job, axle) else 0.0
    if known.rate:
        return known.rate, known.rate * more
    usual = load_kg * (1.15 if axle == "front" else 1.5)
    unsprung = unsprung_mass(job, axle)
    rated = max(known.rating if known.rating and known.rating > load_kg else usual, 2.0 * (unsprung + LEAST_SPRUNG))
    learnt = learnt_of(job, axle)
    both = class_rate(axle, rear_class(job), rated, unsprung).k * (learnt.factor if learnt else 1.0)
    return both / (1.0 + more), both * more / (1.0 + more)


def _reference_sides(job: Job, axle: AxleName, load_kg: float) -> tuple[float, float]:
    corners = job.empty.corners_kg if job.empty else None
    if corners is None:
        return load_kg / 2, load_kg / 2
    return (corners[0], corners[1]) if axle == "front" else (corners[2], corners[3])


def _factory_stops(axle: AxleName, gaps: Gaps | None, place: float | None) -> tuple[Element, ...]:
    """Return the axle's bump stops; where their gaps were not read they are named so and stand at the usual gap, a trait of the vehicle."""
    curve = force_curve(FACTORY_STOP)
    name = f"{axle} {traits.UNREAD_STOPS if gaps is None else 'bump stops'}"
    left, right = (Stop(gap=gap, curve=curve) for gap in (gaps or (traits.GAP,) * 2)[:2])
    return (Element(name=name, left=left, right=right, y=place, fitted="reference"),)
