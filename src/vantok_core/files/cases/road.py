"""Worked cases over the road."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

import numpy as np

from vantok_core.base.errors import InputError
from vantok_core.benches.roll_rate import tip_margin
from vantok_core.files.cases.asked import bare
from vantok_core.files.cases.plain import Inputs, Outputs, plain
from vantok_core.files.cases.stance import case_model
from vantok_core.physics.stance.states import solve_states
from vantok_core.physics.vehicle import AXLES
from vantok_core.road.comfort import w_k_gain
from vantok_core.road.figures import ride
from vantok_core.road.plane import FASTEST, Car, Towed, Train, gust_plane
from vantok_core.road.profile import AIR_DENSITY, Manoeuvre, Road, gust_force, rms_height
from vantok_core.road.ride_set import Damper, ForceCurve, RidePoint, RideSet, Valve
from vantok_core.road.squat import squat

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


def case_gust_plane(q: Inputs) -> Outputs:
    """Return the results of a “gust plane” case."""
    car = _car(q)
    push = q["Q"] if "Q" in q else q.get("sign", 1.0) * gust_force(q["area"], q["wind"], q.get("rho", AIR_DENSITY))
    at = q.get("at", 1.0)
    found = gust_plane(car, q["u"], push, q.get("x_q", 0.0), q.get("duration", 1.0), at)
    c_f, c_r = car.stiff()
    return {
        "Q": push,
        "I": car.yaw_inertia,
        "C_f": c_f,
        "C_r": c_r,
        "yaw_rate": found.yaw_rate,
        "heading": found.heading,
        "side_offset": found.side_offset,
        "side_speed": found.side_speed,
        "offset_at": at,
    }


def _car(q: Inputs) -> Car:
    return Car(m=q["m"], a=q["a"], b=q["b"], inertia=q.get("I"), c_f=q.get("C_f"), c_r=q.get("C_r"))


def case_tip_margin(q: Inputs) -> Outputs:
    """Return the results of a “tip margin” case."""
    a_y, rigid = tip_margin(q["t"], q["h"], q["R"], q["h_r"])
    return {"a_y": a_y, "rigid": rigid}


def case_squat(q: Inputs) -> Outputs:
    """Return the results of a “squat” case."""
    vehicle, states = case_model(q)
    found = squat(vehicle, states, q["state"], q["m"], q["a_x"], q["h"])
    then, now = found.before, found.squatting
    return {
        "load_moved": found.load_moved,
        "d_f": float(now.d_f - then.d_f),
        "d_r": float(now.d_r - then.d_r),
        "theta": float(now.theta - then.theta),
        "states": {
            "squat": {
                "d_f": float(now.d_f),
                "d_r": float(now.d_r),
                "theta": float(now.theta),
                "phi": float(now.phi),
                "load": {corner: float(load) for corner, load in now.load.items()},
            }
        },
    }


def case_trailer_yaw(q: Inputs) -> Outputs:
    """Return the results of a “trailer yaw” case."""
    car, mass, lever = _car(q), q["m_t"], q["l"]
    nose = q["nose_mass"] if "nose_mass" in q else mass * (1.0 - q["e"] / lever)
    inertia = q["I_t"] if "I_t" in q else mass * q["body_length"] ** 2 / 12.0
    trailer = Towed(m=mass, lever=lever, nose=nose, inertia=inertia, c_t=q.get("C_t"))
    train = Train(car=car, trailer=trailer, hitch=q["c"], damper=q.get("k_h", 0.0))
    fastest, (c_f, c_r) = q.get("u_max", FASTEST), car.stiff(nose, q["c"])
    at = [train.at(speed) for speed in q.get("u", [])]
    return {
        "e": trailer.centre,
        "nose_mass": nose,
        "nose_share": nose / mass,
        "I": car.yaw_inertia,
        "I_t": inertia,
        "C_f": c_f,
        "C_r": c_r,
        "C_t": trailer.stiff,
        "speeds": [
            {
                "u": one.speed,
                "frequency": "none" if one.frequency is None else one.frequency,
                "damping": "none" if one.damping is None else one.damping,
            }
            for one in at
        ],
        "speed_010": _or_never(train.falls_to(0.10, fastest)),
        "speed_zero": _or_never(train.falls_to(0.0, fastest)),
        "speed_divergence": _or_never(train.diverges(fastest)),
    }


def _or_never(speed: float | None) -> float | str:
    return "never" if speed is None else speed
