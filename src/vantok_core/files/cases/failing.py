"""Worked cases of failures and of the pressure card."""

from __future__ import annotations

from typing import Any

from vantok_core.base.errors import InputError
from vantok_core.files.cases.asked import bare
from vantok_core.files.cases.plain import Inputs, Outputs, plain
from vantok_core.files.cases.stance import case_model, pair_of
from vantok_core.files.vehicle_file import read_states, read_vehicle
from vantok_core.kits.pressure_card import CardAsked, Cell, cargo_station, pressure_card
from vantok_core.physics.elements.curve import force_curve
from vantok_core.physics.elements.laws import Stop
from vantok_core.physics.stance.report import report
from vantok_core.physics.what_if import SIDES, BrokenLeaf, DeadBag, what_if


def case_what_if(q: Inputs) -> Outputs:
    """Return the results of a “what if” case."""
    vehicle, states = case_model(q)
    found = what_if(vehicle, states, _failure(q["failure"]))
    told: Outputs = {}
    for name in q.get("report", list(found)):
        one = found[name]
        told[name] = plain(report(vehicle, one.state)) | {
            "rests_on": dict(one.rests_on),
            "leans": one.leans,
            "further_drop": one.further_drop,
            "least_tyre_load": one.least_tyre_load,
        }
        if "tyre_space" in q:
            told[name]["tyre_space_left"] = one.tyre_space(bare(q["tyre_space"]))
    return {"states": told}


def _failure(row: Inputs) -> DeadBag | BrokenLeaf:
    if row["kind"] == "broken_leaf":
        return BrokenLeaf(axle=row["axle"], side=row["side"], gone=row["gone"], leaves=row["leaves"])
    if row["kind"] not in ("burst_bag", "both_empty"):
        raise InputError("failure", row["kind"], "known are burst_bag, both_empty and broken_leaf")
    own = None
    if "own_stop" in row:
        curve = force_curve(row["own_stop"]["points"])
        left, right = pair_of(row["own_stop"]["gap"])
        own = (Stop(gap=left, curve=curve), Stop(gap=right, curve=curve))
    sides = SIDES if row["kind"] == "both_empty" else (row["side"],)
    return DeadBag(element=row["element"], sides=sides, own_stop=own, closed_height=row.get("closed_height"))


def case_pressure_card(q: Inputs) -> Outputs:
    """Return the results of a “pressure card” case."""
    vehicle = read_vehicle(q.whole("vehicle"))
    station = q.get("payload_station")
    if station is None:
        rows = [{"name": f"cargo {n}"} | row for n, row in enumerate(q.whole("cargo_states"))]
        states = read_states(rows, vehicle.wheelbase)
        station = cargo_station([(float(one.mass), float(one.station)) for state in states for one in state.items])
    asked = CardAsked(
        element=q["element"],
        target=q["target"],
        gauge_step=q["gauge_step"],
        payload_station=station,
        overhang=q["o"],
        payload_lateral=q.get("payload_y", 0.0),
        datum=q.get("datum", "ground"),
        limits=bare(q.get("limits", Inputs({}))),
    )
    rows = pressure_card(vehicle, asked, q["payloads"], q["tongues"])
    return {"payload_station": station, "cells": [[_cell(cell) for cell in row] for row in rows]}


def _cell(cell: Cell) -> dict[str, Any]:
    if cell.over:
        return {"cell": "over", "over": list(cell.over)}
    if cell.needed is None or cell.pressure is None or cell.drop is None:
        return {"cell": "max"}
    return {
        "cell": "pressure",
        "needed": list(cell.needed),
        "floor": list(cell.floor),
        "pressure": list(cell.pressure),
        "drop": list(cell.drop),
    }
