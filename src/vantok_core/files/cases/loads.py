"""Worked cases of planes, levers and readings."""

from __future__ import annotations

from dataclasses import asdict

from vantok_core.facts.sums import trailer_tongue
from vantok_core.files.cases.plain import Inputs, Outputs
from vantok_core.physics.levers import centre_of_mass, hitch_effect, hitch_moment, items_lever, tongue_lever
from vantok_core.physics.plane import drop_at, pitch_change
from vantok_core.physics.plane import hitch_drop as plane_hitch_drop
from vantok_core.physics.vehicle import Item, Tongue
from vantok_core.readings.plane import PlanePoint, fit_plane, lean, rake
from vantok_core.readings.tape import friction_reading, reading_sigma


def case_plane(q: Inputs) -> Outputs:
    """Return the results of a “plane” case."""
    length, d_f, d_r = q["wheelbase"], q["d_f"], q["d_r"]
    found: Outputs = {"theta": pitch_change(d_f, d_r, length)}
    if "o" in q:
        found["hitch_drop"] = plane_hitch_drop(d_f, d_r, length, q["o"])
    if "front_height" in q:
        found["rake_before"] = rake(q["front_height"], q["rear_height"])
        found["rake_after"] = rake(q["front_height"] - d_f, q["rear_height"] - d_r)
    if "point" in q:
        found["point_drop"] = drop_at(d_f, d_r, length, q["point"]["s"], q.get("phi", 0.0), q["point"].get("y", 0.0))
    if "left_height" in q:
        found["lean"] = lean(q["left_height"], q["right_height"], q["width"])
    return found


def case_plane_fit(q: Inputs) -> Outputs:
    """Return the results of a “plane fit” case."""
    points = [PlanePoint(station=p["s"], drop=p["d"], sigma=p["sigma"], lateral=p.get("y", 0.0)) for p in q["points"]]
    return asdict(fit_plane(points))


def _items(rows: list[Inputs]) -> list[Item]:
    return [Item(mass=r["m"], station=r["s"], lateral=r.get("y", 0.0)) for r in rows]


def case_item_levers(q: Inputs) -> Outputs:
    """Return the results of a “item levers” case."""
    return asdict(items_lever(_items(q["items"]), q["wheelbase"]))


def case_tongue(q: Inputs) -> Outputs:
    """Return the results of a “tongue” case."""
    return asdict(tongue_lever(q["T"], q["o"], q["wheelbase"]))


def case_trailer(q: Inputs) -> Outputs:
    """Return the results of a “trailer” case."""
    return asdict(trailer_tongue(q["d"], [(i["m"], i["x"]) for i in q["items"]]))


def case_wd_hitch(q: Inputs) -> Outputs:
    """Return the results of a “wd hitch” case."""
    moment = q["M"] if "M" in q else hitch_moment(q["T"], q["o"], q["d"], q["r"])
    tongue = Tongue(mass=q["T"], overhang=q["o"], bar_moment=moment, axle_distance=q["d"])
    effect = hitch_effect(tongue, q["wheelbase"])
    return {**asdict(effect), "M": effect.moment}


def case_com(q: Inputs) -> Outputs:
    """Return the results of a “com” case."""
    return asdict(centre_of_mass(q["corner_loads"], q["wheelbase"], q["t_f"], q["t_r"]))


def case_reading(q: Inputs) -> Outputs:
    """Return the results of a “reading” case."""
    friction = friction_reading(q["pressed"], q["lifted"])
    return {"sigma": reading_sigma(q["resolution"], q["settle"]), "height": friction.height, "band": friction.band}
