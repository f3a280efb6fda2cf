"""Worked cases of aims, odds, costs and what to measure next."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict
from typing import Any

import numpy as np

from vantok_core.base.errors import FileFormatError, InputError
from vantok_core.facts.sums import group_centre
from vantok_core.files.cases.asked import Asked
from vantok_core.files.cases.plain import Inputs, Outputs
from vantok_core.kits.aim import (
    Stands,
    beam_kept,
    gap_kept,
    raised_by,
    share_taken_out,
    stated_height,
    to_empty,
    to_rake,
)
from vantok_core.kits.cost import Work, beaten_by, bundle, years_cost
from vantok_core.kits.odds import TOLERANCE, in_ten, odds_within, right_choice
from vantok_core.kits.quote import RESERVE, SECOND_SIDE, Labour, Part, quote
from vantok_core.physics.levers import items_lever
from vantok_core.physics.plane import hitch_drop, pitch_change
from vantok_core.physics.vehicle import Item
from vantok_core.rates.next_measurement import LEAST_SHARE, Candidate, next_measurement
from vantok_core.rates.simple import restore_force_wheel
from vantok_core.readings.conversions import ground_drop
from vantok_core.readings.on_off import Lift, Read, force_of, further, lift_of


def each(call: Callable[[Inputs], Outputs], q: Inputs) -> Outputs:
    """Return a call's results, or those of every item with what all share."""
    if "items" not in q:
        return call(q)
    shared = {key: value for key, value in q.items() if key != "items"}
    found = []
    for item in q["items"]:
        one = Asked({**shared, **dict(dict.items(item))})
        found.append(call(one))
        item.seen |= one.seen
    return {"items": found}


def case_datum_conversion(q: Inputs) -> Outputs:
    """Return the results of a “datum conversion” case."""
    d_f, d_r = (
        ground_drop(
            a["reference"]["value"],
            a["loaded"]["value"],
            (a["reference"]["datum"], a["loaded"]["datum"]),
            a["load_gain_per_side"],
            a["k_t"],
        )
        for a in (q["front"], q["rear"])
    )
    length = q["wheelbase"]
    return {
        "d_f": d_f,
        "d_r": d_r,
        "theta": pitch_change(d_f, d_r, length),
        "hitch_drop": hitch_drop(d_f, d_r, length, q["o"]),
    }


def case_rear_group(q: Inputs) -> Outputs:
    """Return the results of a “rear group” case."""
    length = group_centre(q["stations"], q["loads"])
    items = [Item(mass=i["m"], station=i["s"]) for i in q.get("items", [])]
    found: Outputs = {"L": length}
    if "tongue" in q:
        items.append(Item(mass=q["tongue"]["m"], station=q["tongue"]["station"]))
        found["o"] = q["tongue"]["station"] - length
    return found | asdict(items_lever(items, length))


def case_kit_effect(q: Inputs) -> Outputs:
    """Return the results of a “kit effect” case."""
    lifts = [
        lift_of(
            *(Read(value=p[side]["value"], sigma=p[side]["sigma"], datum=p[side]["datum"]) for side in ("off", "on"))
        )
        for p in q["pairs"]
    ]
    found: Outputs = {"pairs": [_lift(one) for one in lifts]}
    k_w, sigma = q.get("k_w"), q.get("sigma_ln_k", 0.0)
    if k_w is not None:
        for row, one in zip(found["pairs"], lifts, strict=True):
            row["force_wheel"], row["sigma_force"] = force_of(one, k_w, sigma)
    if len(lifts) == 2:
        found["difference"] = _lift(further(*lifts))
    return found


def _lift(one: Lift) -> Outputs:
    return {"lift": one.lift, "sigma": one.sigma, "band": one.band, "told": one.told}


def case_target(q: Inputs) -> Outputs:
    """Return the results of a “target” case."""
    return each(_target, q)


def _target(q: Inputs) -> Outputs:
    now = Stands(
        wheelbase=q["wheelbase"],
        d_f=q["d_f"],
        d_r=q["d_r"],
        front_height=q.get("front_height"),
        rear_height=q.get("rear_height"),
    )
    drop = _aimed(now, q)
    found: Outputs = {"target_drop": drop, "lift": now.d_r - drop}
    return found | ({"force_wheel": restore_force_wheel(q["k_w"], now.d_r - drop)} if "k_w" in q else {})


def _aimed(now: Stands, q: Inputs) -> float:
    schools: dict[str, Callable[[], float]] = {
        "empty": lambda: to_empty(q.get("d_r_empty", 0.0), known=q.get("empty_known", True)),
        "raise_by": lambda: raised_by(now, q["h"]),
        "stated_height": lambda: stated_height(now, q["height"], q.get("source", "")),
        "level": lambda: to_rake(now, 0.0),
        "rake": lambda: to_rake(now, q["rake"]),
        "share": lambda: share_taken_out(now, q["share"]),
        "stop_gap": lambda: gap_kept(now, q["z"], q["gap"], q["gap_min"], q.get("i", 1.0)),
        "headlamp": lambda: beam_kept(now, q["s_lamp"], q["band"], q["D"]),
    }
    if q["school"] not in schools:
        raise InputError("school", q["school"], f"known are {', '.join(schools)}")
    return schools[q["school"]]()


def case_odds(q: Inputs) -> Outputs:
    """Return the results of an “odds” case."""

    def one(q: Inputs) -> Outputs:
        odds = odds_within(q["H"], q["s"], q["T"], q.get("tol", TOLERANCE))
        return {"odds": odds, "in_ten": in_ten(odds)}

    return each(one, q)


def case_right_choice(q: Inputs) -> Outputs:
    """Return the results of a “right choice” case."""
    found = right_choice(np.asarray(q["heights"], dtype=float), q["targets"], q["prices"], q["tol"])
    return {"within": list(found.within), "right": list(found.right), "none": found.none}


def case_five_year_cost(q: Inputs) -> Outputs:
    """Return the results of a “five-year cost” case."""

    def one(q: Inputs) -> Outputs:
        told = {"life": q["life"]} if "life" in q else {}
        return asdict(
            years_cost(q["price"], q["hours"], q["rate"], q.get("upkeep", 0.0), years=q.get("years", 5.0), **told)
        )

    return each(one, q)


def case_quote(q: Inputs) -> Outputs:
    """Return the results of a “quote” case."""
    labour = [
        Labour(
            name=w["name"],
            hours=w["hours"],
            sides=w.get("sides", 1),
            access={a["name"]: a["hours"] for a in w.get("access", [])},
        )
        for w in q["labour"]
    ]
    share = q["reserve_share"] if "reserve_share" in q else RESERVE[q.get("corrosion", "none")]
    found = quote(
        [Part(price=p["price"], count=p.get("qty", 1)) for p in q["parts"]],
        labour,
        rate=q["rate"],
        reserve_share=share,
        consumables=q.get("consumables", 0.0),
        tax=q.get("tax", 0.0),
        second_side=q.get("second_side", SECOND_SIDE),
    )
    return asdict(found) | {"is_range": found.is_range}


def case_bundle(q: Inputs) -> Outputs:
    """Return the results of a “bundle” case."""
    works = [
        Work(
            name=k["name"],
            axle=k["axle"],
            family=k["family"],
            hours=k["hours"],
            access=dict(k.get("access", Asked({})).items()),
        )
        for k in q["kits"]
    ]
    found = bundle(works)
    return {
        "staged": found.staged,
        "saved": found.saved,
        "at_once": found.at_once,
        "order": [w.name for w in found.order],
        "drives_staged": len(works),
        "drives_at_once": 1,
    }


def case_pareto(q: Inputs) -> Outputs:
    """Return the results of a “pareto” case. Raises FileFormatError for a criterion of which neither low nor high is better."""
    ways = [c["better"] for c in q["criteria"]]
    if set(ways) - {"low", "high"} or not all(c["name"] for c in q["criteria"]):
        raise FileFormatError("criteria", "each has a name, and low or high is better")
    names = [o["name"] for o in q["options"]]
    found = beaten_by([o["values"] for o in q["options"]], [way == "low" for way in ways])
    return {"marked": [not row for row in found], "beaten_by": [[names[n] for n in row] for row in found]}


def case_variance_left(q: Inputs) -> Outputs:
    """Return the results of a “variance left” case."""
    candidates = [
        Candidate(name=c["name"], slope=np.asarray(c["J"], float), sigma=c["sigma"], minutes=c["minutes"])
        for c in q["candidates"]
    ]
    found = next_measurement(
        np.asarray(q["C"], float), np.asarray(q["J_q"], float), candidates, q.get("least_share", LEAST_SHARE)
    )
    rows: list[dict[str, Any]] = [
        {
            "name": w.candidate.name,
            "minutes": w.candidate.minutes,
            "sigma_left": w.sigma_left,
            "band_saved": w.band_saved,
            "per_minute": w.per_minute,
        }
        for w in found.worths
    ]
    order = [w.candidate.name for w in found.order]
    return {"sigma": found.sigma, "band": found.band, "candidates": rows, "order": order, "enough": found.enough}
