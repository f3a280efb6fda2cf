"""Worked cases of jobs as they come in: loads nobody weighed, kits already on, what to measure next."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from vantok_core.base.errors import InputError
from vantok_core.base.figure import Figure
from vantok_core.base.num import FloatArray
from vantok_core.facts.kinds import UNKNOWN_MAKE
from vantok_core.facts.parts import ElementForm
from vantok_core.files.cases.asked import bare
from vantok_core.files.cases.plain import Inputs, Outputs
from vantok_core.kits.odds import TOLERANCE, odds_within, right_choice
from vantok_core.model.parts import element_of
from vantok_core.physics.elements.laws import Law, Mean
from vantok_core.physics.levers import item_lever
from vantok_core.physics.settings import at_setting
from vantok_core.physics.vehicle import AXLES, Axle, AxleName, Element, Item, LoadState, MainSpring, Vehicle
from vantok_core.rates.calibrate import estimate
from vantok_core.rates.directions import shares_of
from vantok_core.rates.estimate import Estimate
from vantok_core.rates.next_measurement import LEAST_SHARE, Candidate, next_measurement
from vantok_core.rates.off_springs import axle_gain, margin_off, prior_sigma, read_off, unknown_load
from vantok_core.rates.places import Place
from vantok_core.rates.problem import EstimationProblem, HeightReading, UncertainLoad

CALLS_OWN = 0.05
"""Spread of a kit's force by its maker's data where a case does not say (a call's own default)."""
AT_REFERENCE = {
    "air": {"p": 0.0},
    "stop": {"gap": 1.0},
    "helper_leaf": {"preload": 0.0},
    "coil_assist": {"preload": 0.0},
    "add_a_leaf": {"arch": 0.0},
}
"""What a kit taken off is put together with; it presses nothing."""


@dataclass(frozen=True, slots=True)
class Job:
    """A case read: its vehicle of axle means, states by name, loads, and the estimate."""

    q: Inputs
    vehicle: Vehicle
    states: dict[str, LoadState]
    loads: dict[str, UncertainLoad]
    found: Estimate


def _kit(name: str, kit: Inputs) -> tuple[AxleName, Element]:
    """Return a kit as an element that is there at the reference, as set there."""
    told = {k: v for k, v in bare(kit).items() if k not in ("axle", "maker_data", "sigma_ln", "reference")}
    reference = kit.get("reference", "off")
    first = AT_REFERENCE[kit["law"]] if reference == "off" else bare(reference)
    key, value = next(iter(first.items()))
    side = value[0] if isinstance(value, list) else value
    form = ElementForm.model_validate(told | {"name": name, "fitted": "reference", {"p": "p_set"}.get(key, key): side})
    law = _as_set(element_of(form, name).left, reference, name)
    return kit["axle"], Element(name=name, left=law, right=law, ratio=kit.get("i", 1.0), fitted="reference")


def _as_set(law: Law | None, setting: Any, name: str) -> Law:
    """Return a kit's law as set, both sides' mean where they differ."""
    assert law is not None
    if setting == "off":
        return _certain(at_setting(law, "off", name))
    ((key, value),) = bare(setting).items()
    sides = [_certain(at_setting(law, {key: v}, name)) for v in (value if isinstance(value, list) else [value, value])]
    return sides[0] if sides[0] == sides[1] else Mean(left=sides[0], right=sides[1])


def _certain(law: Law | None) -> Law:
    assert law is not None
    return law


def _vehicle(q: Inputs, kits: dict[str, tuple[AxleName, Element]]) -> Vehicle:
    def axle(name: AxleName) -> Axle:
        prior = q["prior"][name]
        spring = MainSpring(
            name=name,
            kind="coil",
            k=float(prior["k"]),
            k2=prior["k"] * prior.get("k2_ratio", 0.0),
            z2=prior.get("z2", 0.0),
            width=prior.get("w", 0.003),
        )
        return Axle(
            solid=False,
            track=1.6,
            unsprung=0.0,
            tyre_rate=q["tyre_rate"][name],
            ref_load=(2e4, 2e4),
            spring=spring,
            elements=tuple(element for where, element in kits.values() if where == name),
        )

    return Vehicle(wheelbase=q["wheelbase"], front=axle("front"), rear=axle("rear"))


def _items(q: Inputs, row: Inputs, loads: dict[str, UncertainLoad]) -> tuple[Item, ...]:
    stations = {name: load["s"] for name, load in q.get("loads", Inputs({})).items()}
    unknown = row.get("unknown")
    if unknown is not None and unknown not in q.get("unknown_loads", {}):
        raise InputError("unknown", unknown, "there is no unknown load of that name")
    named = [*row.get("loads", []), *([f"{unknown}:front", f"{unknown}:rear"] if unknown else [])]
    places = stations | {f"{unknown}:front": 0.0, f"{unknown}:rear": q["wheelbase"]}
    return tuple(Item(name=n, mass=loads[n].mass, station=places[n]) for n in named)


def _laws(kits: dict[str, tuple[AxleName, Element]], raw: Inputs, settings: dict[str, Any]) -> dict[str, Any]:
    found = {}
    for name, setting in settings.items():
        if name not in kits:
            raise InputError("settings", name, "there is no kit of that name")
        kit = bare(raw[name])
        _, bare_element = _kit(name, Inputs(kit | {"reference": AT_REFERENCE[kit["law"]]}))
        law = _as_set(bare_element.left, setting, name)
        found[name] = (law, law)
    return found


def _place(row: Inputs) -> Place:
    if isinstance(row["at"], (int, float)):
        if row["datum"] != "ground":
            raise InputError("datum", row["datum"], "a station is read on the ground datum")
        return Place("point", "ground", float(row["at"]))
    return Place(row["at"], row["datum"])


def _rated(q: Inputs, axle: str) -> float:
    reference = _references(q).get(axle)
    return prior_sigma(q.get("ratings", Inputs({})).get(axle), reference["m"] if reference else None)


def _read(q: Inputs, more: Sequence[tuple[str, str, dict[str, Any], tuple[Item, ...]]]) -> Job:
    """Return a case estimated. more: further states to predict for: name, the state whose load it has, settings, items beside."""
    raw = q.get("kits", Inputs({}))
    kits = {name: _kit(name, kit) for name, kit in raw.items()}
    loads = {
        n: UncertainLoad(mass=float(one["m"]), sigma=one.get("sigma", 0.0))
        for n, one in q.get("loads", Inputs({})).items()
    }
    for name, _ in q.get("unknown_loads", Inputs({})).items():
        loads[f"{name}:front"], loads[f"{name}:rear"] = unknown_load(_rated(q, "front"), _rated(q, "rear"))
    states, settings = {}, {}
    for name, row in q["states"].items():
        settings[name] = bare(row.get("settings", Inputs({})))
        states[name] = LoadState(name=name, items=_items(q, row, loads), laws=_laws(kits, raw, settings[name]))
    for name, like, changed, items in more:
        beside = tuple(Item(name=f"{name} {n}", mass=i.mass, station=i.station) for n, i in enumerate(items))
        laws = _laws(kits, raw, settings[like] | changed)
        states[name] = LoadState(name=name, items=(*states[like].items, *beside), laws=laws)
    vehicle = _vehicle(q, kits)
    used = {item.name for state in states.values() for item in state.items}
    problem = EstimationProblem(
        vehicle=vehicle,
        states=list(states.values()),
        loads={n: one for n, one in loads.items() if n in used},
        readings=[
            HeightReading(state=r["state"], place=_place(r), value=r["value"], sigma=r["sigma"]) for r in q["readings"]
        ],
        sigma_ln={a: q["prior"][a].get("sigma_ln", 0.25) for a in AXLES},
        strengths={
            n: k.get("sigma_ln", CALLS_OWN if k.get("maker_data", True) else UNKNOWN_MAKE) for n, k in raw.items()
        },
    )
    return Job(q, vehicle, states, loads, estimate(problem))


def _levers(job: Job, state: str, axle: str) -> dict[str, float]:
    """Return the share of each uncertain load of a state on an axle."""
    shares = {i.name: item_lever(1.0, i.station, job.vehicle.wheelbase) for i in job.states[state].items}
    return {name: float(getattr(share, axle)) for name, share in shares.items()}


def _references(q: Inputs) -> dict[str, Any]:
    """Return what each axle carried in the reference state, as far as it is told."""
    told: dict[str, Any] = bare(q.get("reference_axle", Inputs({})))
    return told


def _margin(job: Job, row: Inputs) -> tuple[Any, FloatArray]:
    gain, sigma, slope = axle_gain(job.found, _levers(job, row["state"], row["axle"]))
    reference = _references(job.q)[row["axle"]]
    return margin_off(reference["m"], reference.get("sigma", 0.0), gain, sigma, row["limit"]), slope


def case_estimate(q: Inputs) -> Outputs:
    """Return the results of an “estimate” case."""
    more = [
        (f"{p['state']}, wanted {n}", p["state"], bare(p.get("settings", Inputs({}))), ())
        for n, p in enumerate(q.get("predict", []))
    ]
    job = _read(q, more)
    _references(q)
    found, uncertain = job.found, [n for n, one in job.loads.items() if one.sigma > 0.0 and ":" not in n]
    return {
        "k_front": found.k["front"],
        "k_rear": found.k["rear"],
        "sigma_ln_front": found.sigma_ln["front"],
        "sigma_ln_rear": found.sigma_ln["rear"],
        "chi2": found.chi2,
        "loads": {n: {"m": found.loads[n], "sigma": found.loads_sigma[n]} for n in uncertain},
        "strength": {n: {"a": a, "sigma_ln": found.strength_sigma[n]} for n, a in found.strength.items()},
        "unknown": {n: _read_off(job, n) for n, _ in q.get("unknown_loads", Inputs({})).items()},
        "predictions": [
            _predicted(found, name, _place(p)) for (name, *_), p in zip(more, q.get("predict", []), strict=True)
        ],
        "margins": [_told(_margin(job, row)[0]) for row in q.get("margins", [])],
    }


def _read_off(job: Job, name: str) -> Outputs:
    one = read_off(job.found, f"{name}:front", f"{name}:rear", job.vehicle.wheelbase)
    return {
        "front": one.front,
        "rear": one.rear,
        "sigma_front": one.sigma_front,
        "sigma_rear": one.sigma_rear,
        "mass": one.mass,
        "sigma_mass": one.sigma_mass,
        "centre": one.centre,
        "sigma_centre": one.sigma_centre,
    }


def _predicted(found: Estimate, state: str, place: Place) -> Outputs:
    drop = found.drop(state, place)
    told = {"drop": drop.value, "sigma_drop": drop.sigma}
    if place not in found.heights:
        return told
    height = found.height(state, place)
    return told | {"height": height.value, "sigma": height.sigma}


def _told(one: Any) -> Outputs:
    return {"load": one.load, "sigma": one.sigma, "margin": one.margin, "band": list(one.band), "verdict": one.verdict}


DRAWS, SEED = 4000, 20_261


def case_choice_odds(q: Inputs) -> Outputs:
    """Return the results of a “choice odds” case."""
    options, targets = q["options"], q["targets"]
    more = []
    for n, option in enumerate(options):
        by_state = bare(option.get("settings_by_state", Inputs({})))
        alike = bare(option.get("settings", Inputs({})))
        more += [
            (f"{n} for {t}", row["state"], alike | by_state.get(row["state"], {}), ()) for t, row in enumerate(targets)
        ]
    job = _read(q, more)
    rows, found = job.found.draws(DRAWS, SEED), []
    heights = np.empty((DRAWS, len(options), len(targets)))
    wanted = [float(row["drop"] if "drop" in row else row["height"]) for row in targets]
    tolerances = [float(row.get("tol", TOLERANCE)) for row in targets]
    for n, option in enumerate(options):
        told = []
        for t, row in enumerate(targets):
            value, heights[:, n, t] = _option(job, f"{n} for {t}", row, rows)
            odds = odds_within(value.value, value.sigma, wanted[t], tolerances[t])
            share = float(np.mean(np.abs(heights[:, n, t] - wanted[t]) <= tolerances[t]))
            told.append({"value": value.value, "sigma": value.sigma, "odds": odds, "share": share})
        found.append({"name": option["name"], "targets": told, "least_odds": min(one["odds"] for one in told)})
    # One tolerance serves all targets once each is measured in its own.
    scaled = (heights - np.array(wanted)) / np.array(tolerances)
    right = right_choice(scaled, [0.0] * len(targets), [o["price"] for o in options], 1.0)
    for one, share in zip(found, right.right, strict=True):
        one["right"] = share
    return {"k_front": job.found.k["front"], "k_rear": job.found.k["rear"], "options": found, "none": right.none}


def _option(job: Job, state: str, row: Inputs, rows: FloatArray) -> tuple[Figure, FloatArray]:
    """Return a target's quantity with an option, drop or height, and its draws (m)."""
    place, found = _place(row), job.found
    drops = found.problem.at(rows, state, place)
    if "drop" in row:
        return found.drop(state, place), drops
    return found.height(state, place), rows[:, 2 + found.problem.places.index(place)] - drops


def case_next_measurement(q: Inputs) -> Outputs:
    """Return the results of a “next measurement” case."""
    asked = [q["question"], *q["candidates"]]
    more = [
        (
            f"asked {n}",
            row["state"],
            bare(row.get("settings", Inputs({}))),
            (Item(mass=row["m"], station=row["s"]),) if "m" in row else (),
        )
        for n, row in enumerate(asked)
        if row["type"] in ("height", "drop", "pair", "known_load")
    ]
    job = _read(q, more)
    references = _references(q)
    size = len(job.found.best)
    covariance = np.zeros((size + 2, size + 2))
    covariance[:size, :size] = job.found.covariance
    for n, axle in enumerate(AXLES):
        covariance[size + n, size + n] = references.get(axle, {}).get("sigma", 0.0) ** 2
    slopes = [_slope(job, f"asked {n}", row) for n, row in enumerate(asked)]
    candidates = [
        Candidate(name=row["name"], slope=slope, sigma=row["sigma"], minutes=row["minutes"])
        for row, slope in zip(asked[1:], slopes[1:], strict=True)
    ]
    found = next_measurement(covariance, slopes[0], candidates, q.get("least_share", LEAST_SHARE))
    rows = [
        {
            "name": w.candidate.name,
            "minutes": w.candidate.minutes,
            "sigma_left": w.sigma_left,
            "band_saved": w.band_saved,
            "per_minute": w.per_minute,
        }
        for w in found.worths
    ]
    return {
        "value": _value(job, asked[0]),
        "sigma": found.sigma,
        "band": found.band,
        "candidates": rows,
        "order": [w.candidate.name for w in found.order],
        "enough": found.enough,
    }


def _value(job: Job, row: Inputs) -> float:
    if row["type"] == "margin":
        return float(_margin(job, row)[0].margin)
    call = job.found.height if row["type"] == "height" else job.found.drop
    return call("asked 0", _place(row)).value


def _slope(job: Job, state: str, row: Inputs) -> FloatArray:
    """Return a question's or measurement's slope in the unknowns and the two reference axle loads."""
    found, size = job.found, len(job.found.best)
    slope, kind = np.zeros(size + 2), row["type"]
    if kind in ("margin", "axle_scale"):
        _, _, gained = axle_gain(found, _levers(job, row["state"], row["axle"]))
        slope[:size] = gained
        slope[size + AXLES.index(row["axle"])] = 1.0
        return -slope if kind == "margin" else slope
    if kind == "load_scale":
        slope[2 + len(found.problem.places) : found.problem.first_kit] = shares_of(
            [row["load"]], found.problem.directions
        )[0]
    elif kind == "push_test":
        axle: AxleName = row["axle"]
        k_t = float(job.vehicle.axle(axle).tyre_rate)
        slope[AXLES.index(axle)] = k_t / (found.k[axle] + k_t)
    elif kind == "drop":
        slope[:size] = found.drop_slope(state, _place(row))
    elif _place(row) in found.heights:
        slope[:size] = found.height_slope(state, _place(row))
    return slope
