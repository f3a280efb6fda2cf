"""Worked cases of rates."""

from __future__ import annotations

from vantok_core.base.errors import InputError
from vantok_core.files.cases.plain import Inputs, Outputs
from vantok_core.physics.stance.report import ride_frequency
from vantok_core.physics.vehicle import AXLES, Axle, Item, LoadState, MainSpring, Vehicle
from vantok_core.rates.calibrate import estimate
from vantok_core.rates.places import Place
from vantok_core.rates.problem import EstimationProblem, HeightReading, UncertainLoad
from vantok_core.rates.simple import (
    restore_force_helper,
    restore_force_wheel,
    series_rate,
    wheel_rate,
    wheel_rate_on_ground,
)


def case_rates(q: Inputs) -> Outputs:
    """Return the results of a “rates” case. Raises InputError for a datum other than hub or ground."""
    k_t = (2.0 if q.get("dual") else 1.0) * q["k_t"]
    datum = q.get("sag_datum", "hub")
    if datum not in ("hub", "ground"):
        raise InputError("sag_datum", datum, "it is hub or ground")
    if "k_w" in q:
        k_w = q["k_w"]
    else:
        k_w = (
            wheel_rate_on_ground(q["dF_side"], q["sag"], k_t)
            if datum == "ground"
            else wheel_rate(q["dF_side"], q["sag"])
        )
    return {
        "k_w": k_w,
        "k_eff": series_rate(k_w, k_t),
        "f": ride_frequency(k_w, q["m_s"]),
        "force_wheel": restore_force_wheel(k_w, q["h"]),
        "force_helper": restore_force_helper(k_w, q["h"], q.get("i", 1.0)),
    }


def _axle_means(q: Inputs) -> Vehicle:
    """Return a vehicle for axle means: independent, linear, heavy enough that no wheel lifts."""

    def axle(name: str) -> Axle:
        prior = q["prior"][name]
        spring = MainSpring(
            name=name,
            kind="coil",
            k=float(prior["k"]),
            k2=float(prior.get("k2", 0.0)),
            z2=prior.get("z2", 0.0),
            width=prior.get("w", 0.003),
        )
        return Axle(
            solid=False, track=1.6, unsprung=0.0, tyre_rate=q["tyre_rate"][name], ref_load=(2e4, 2e4), spring=spring
        )

    return Vehicle(wheelbase=q["wheelbase"], front=axle("front"), rear=axle("rear"))


def _place(row: Inputs, q: Inputs) -> Place:
    wheelbase = q["wheelbase"]
    if row.get("at") == "hitch" and "s" not in row and "o" not in row:
        return Place("point", row.get("datum", "ground"), wheelbase + q["o"])
    if "s" in row or "o" in row:
        station = row["s"] if "s" in row else wheelbase + row["o"]
        return Place("point", row.get("datum", "ground"), station, row.get("y", 0.0))
    if isinstance(row["at"], (int, float)):
        if row["datum"] != "ground":
            raise InputError("datum", row["datum"], "a station is read on the ground datum")
        return Place("point", "ground", float(row["at"]))
    return Place(row["at"], row["datum"])


def _load_item(name: str, load: Inputs, wheelbase: float) -> Item:
    station = load["s"] if "s" in load else wheelbase + load["o"]
    return Item(mass=float(load["m"]), station=station, lateral=load.get("y", 0.0), name=name)


def case_map_rates(q: Inputs) -> Outputs:
    """Return the results of a “map rates” case."""
    vehicle = _axle_means(q)
    loads = q["loads"]
    states = []
    for name, used in q["states"].items():
        items = [_load_item(n, loads[n], q["wheelbase"]) for n in used]
        states.append(LoadState(name=name, items=tuple(items)))
    readings = [
        HeightReading(state=r["state"], place=_place(r, q), value=r["value"], sigma=r["sigma"]) for r in q["readings"]
    ]
    problem = EstimationProblem(
        vehicle=vehicle,
        states=states,
        readings=readings,
        loads={n: UncertainLoad(mass=load["m"], sigma=load.get("sigma", 0.0)) for n, load in loads.items()},
        sigma_ln={a: q["prior"][a].get("sigma_ln", 0.25) for a in AXLES},
    )
    found = estimate(problem)
    wanted = [(p["state"], _place(p, q)) for p in q.get("predict", [])]
    heights = [found.height(s, p) if p in found.heights else None for s, p in wanted]
    return {
        "k_front": found.k["front"],
        "k_rear": found.k["rear"],
        "sigma_ln_front": found.sigma_ln["front"],
        "sigma_ln_rear": found.sigma_ln["rear"],
        "correlation": found.correlation,
        "chi2": found.chi2,
        "loads": found.loads,
        "predictions": [{"height": h.value, "sigma": h.sigma} for h in heights if h],
        "drops": [{"drop": d.value, "sigma": d.sigma} for d in (found.drop(s, p) for s, p in wanted)],
    }
