"""Worked cases over the road."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

import numpy as np

from vantok_core.base.errors import InputError
from vantok_core.files.cases.asked import bare
from vantok_core.files.cases.plain import Inputs, Outputs, plain
from vantok_core.files.cases.stance import case_model
from vantok_core.physics.stance.states import solve_states
from vantok_core.physics.vehicle import AXLES
from vantok_core.road.comfort import w_k_gain
from vantok_core.road.figures import ride
from vantok_core.road.profile import AIR_DENSITY, Manoeuvre, Road, gust_force, rms_height
from vantok_core.road.simulate import Damper, ForceCurve, RidePoint, RideSet, Valve

NAMES = {"class": "roughness", "ramp": "length"}
ROAD_KEYS = {
    "flat": (),
    "bump": ("height", "length"),
    "pothole": ("height", "length"),
    "step": ("height", "ramp"),
    "washboard": ("amplitude", "wavelength", "length"),
    "cosines": ("terms", "terms_right", "fade"),
    "iso8608": ("class", "seed", "waves", "n_lo", "n_hi", "fade", "separation"),
}
ANY_ROAD = ("sides", "stagger", "at")
TURNS = {"steady_turn": "ramp", "roundabout": "ramp", "lane_change": "period", "slalom": "period"}


def _road(q: Inputs) -> Road:
    kind = q.get("kind", "flat")
    if kind not in ROAD_KEYS:
        raise InputError("road", kind, f"known are {', '.join(ROAD_KEYS)}")
    told: dict[str, Any] = {NAMES.get(key, key): bare(q[key]) for key in (*ROAD_KEYS[kind], *ANY_ROAD) if key in q}
    for key in ("terms", "terms_right"):
        if key in told:
            told[key] = tuple(tuple(term) for term in told[key])
    if "at" in told:
        told["at"] = tuple(told["at"])
    return Road(kind=kind, **told)


def _manoeuvre(q: Inputs | None) -> Manoeuvre:
    if q is None:
        return Manoeuvre()
    kind, start = q["kind"], q.get("start", 0.0)
    if kind in TURNS:
        name: Any = "steady_turn" if kind == "roundabout" else kind
        return Manoeuvre(kind=name, a_y=q["a_y"], period=q[TURNS[kind]], start=start)
    if kind != "gust":
        raise InputError("manoeuvre", kind, f"known are gust, {', '.join(TURNS)}")
    push = q["Q"] if "Q" in q else q.get("sign", 1.0) * gust_force(q["area"], q["wind"], q.get("rho", AIR_DENSITY))
    return Manoeuvre(kind="gust", push=push, push_height=q["h_q"], period=q.get("duration", 1.0), start=start)


def _valve(value: Any) -> Valve:
    return ForceCurve(tuple((float(v), float(f)) for v, f in value)) if isinstance(value, list) else float(value)


def case_ride(q: Inputs) -> Outputs:
    """Return the results of a “ride” case."""
    vehicle, states = case_model(q)
    body, centres = q.get("body", Inputs({})), q.get("roll_centre", [0.0, 0.0])
    run = RideSet(
        speed=q["speed"],
        duration=q["duration"],
        road=_road(q.get("road", Inputs({}))),
        manoeuvre=_manoeuvre(q.get("manoeuvre")),
        dampers={
            name: Damper(bump=_valve(d["bump"]), rebound=_valve(d["rebound"]), ratio=d.get("i", 1.0), y=d.get("y"))
            for name, d in q["dampers"].items()
        },
        points=[RidePoint(name=p["name"], station=p["s"], lateral=p.get("y", 0.0)) for p in q.get("points", [])],
        sample_rate=q.get("fs", 1000.0),
        pitch_inertia=body.get("pitch_inertia"),
        roll_inertia=body.get("roll_inertia"),
        arm=q.get("roll_arm", 0.0),
        roll_centre=dict(zip(AXLES, centres, strict=True)),
    )
    found = asdict(ride(vehicle, solve_states(vehicle, states)[q["state"]], run))
    del found["time"], found["rear_body"]
    told: Outputs = plain(found)
    return told


def case_road(q: Inputs) -> Outputs:
    """Return the results of a “road” case."""
    return {"rms": rms_height(q["cls"], q["n_lo"], q["n_hi"])}


def case_wk(q: Inputs) -> Outputs:
    """Return the results of a “wk” case."""
    return {"gain": w_k_gain(np.array(q["f"], dtype=float)).tolist()}
