"""Worked cases of the static model and of settings solved on it."""

from __future__ import annotations

from dataclasses import asdict, replace
from typing import Any

from vantok_core.base.num import P_ATM, G
from vantok_core.benches.damper import damping_ratio
from vantok_core.files.cases.plain import Inputs, Outputs, plain
from vantok_core.files.vehicle_file import read_states, read_vehicle
from vantok_core.kits.setting import (
    mean_drop,
    pressure_range,
    set_gaps,
    set_preload,
    set_pressures,
    set_spring,
    turns_for,
    with_preload,
)
from vantok_core.loads.unweighed import gap_when_touching, plate_axle_load
from vantok_core.physics.effects import caster_change, headlamp_rise
from vantok_core.physics.elements.air import (
    BUMP,
    air_spring_rate,
    pressure_at_temperature,
    pressure_at_volume,
    pressure_when_joined,
)
from vantok_core.physics.elements.laws import coil_block_rate
from vantok_core.physics.plane import pitch_change
from vantok_core.physics.settings import at_setting, element_named, sealed_at_reference
from vantok_core.physics.stance.budget import sprung_side, stiffness_budget
from vantok_core.physics.stance.report import solve_reports
from vantok_core.physics.stance.states import SolvedState, sealed_here, solve_states, tyre_loads
from vantok_core.physics.vehicle import AXLES, AxleName, LoadState, Replacement, TorsionBarAdjuster, Vehicle


def _reports(q: Inputs, vehicle: Vehicle, states: list[LoadState]) -> Outputs:
    found: Outputs = {}
    points = q.whole("vehicle").get("points", [])
    for name, one in solve_reports(vehicle, states).items():
        found[name] = plain(one)
        tongue = next(s.tongue for s in states if s.name == name)
        hitch = q["vehicle"].get("hitch", {})
        overhang = tongue.overhang if tongue else hitch.get("o")
        if overhang is not None:
            found[name]["hitch_drop"] = one.drop_at(vehicle.wheelbase, vehicle.wheelbase + overhang)
        if vehicle.lamp:
            found[name]["headlamp_rise"] = headlamp_rise(
                one.d_f, one.d_r, vehicle.wheelbase, vehicle.lamp.station, vehicle.lamp.distance
            )
        if points:
            found[name]["point_drop"] = {
                p["name"]: one.drop_at(vehicle.wheelbase, p["s"], p.get("y", 0.0)) for p in points
            }
        if "point" in q:
            found[name]["point_drop"] = one.drop_at(vehicle.wheelbase, q["point"]["s"], q["point"].get("y", 0.0))
    return found


def case_model(q: Inputs) -> tuple[Vehicle, list[LoadState]]:
    """Return the vehicle and load states of a case."""
    vehicle = read_vehicle(q.whole("vehicle"))
    return vehicle, read_states(q.whole("states"), vehicle.wheelbase)


def case_equilibrium_settings(q: Inputs) -> Outputs:
    """Return the results of an “equilibrium settings” case."""
    vehicle = sealed_at_reference(read_vehicle(q.whole("vehicle")))
    rows = q.whole("states")
    plain_rows = [{k: v for k, v in row.items() if k != "settings"} for row in rows]
    states = [
        _set(vehicle, state, row.get("settings", {}))
        for state, row in zip(read_states(plain_rows, vehicle.wheelbase), rows, strict=True)
    ]
    return {"states": _reports(q, vehicle, states)}


def _set(vehicle: Vehicle, state: LoadState, settings: dict[str, Any]) -> LoadState:
    """Return a state with its elements as set; a bar can only be off."""
    bars = {bar.name for axle in AXLES for bar in vehicle.axle(axle).bars}
    laws = {}
    for name, setting in settings.items():
        if name not in bars:
            element = element_named(vehicle, name)
            sides = [setting if setting == "off" else {k: pair_of(v)[n] for k, v in setting.items()} for n in (0, 1)]
            laws[name] = (at_setting(element.left, sides[0], name), at_setting(element.right, sides[1], name))
    return replace(state, laws=laws, off_bars=tuple(name for name in settings if name in bars))


def case_stiffness_budget(q: Inputs) -> Outputs:
    """Return the results of a “stiffness budget” case."""
    vehicle, states = case_model(q)
    damping = q.get("damping", Inputs({}))
    c_w = {axle: damping.get(axle) for axle in AXLES}
    bare_axles = [
        replace(vehicle.axle(a), elements=tuple(e for e in vehicle.axle(a).elements if e.fitted == "reference"))
        for a in AXLES
    ]
    without = replace(vehicle, front=bare_axles[0], rear=bare_axles[1])
    solved, before = solve_states(vehicle, states), solve_states(without, states)
    found: Outputs = {}
    for state in states:
        found[state.name] = {}
        for axle in AXLES:
            told = plain(stiffness_budget(solved[state.name], axle))
            if c_w[axle] is not None:
                told["zeta_before"] = _zeta(before[state.name], axle, c_w[axle])
                told["zeta_after"] = _zeta(solved[state.name], axle, c_w[axle])
            found[state.name][axle] = told
    return {"states": found}


def _zeta(solved: SolvedState, name: AxleName, damping: float) -> float:
    """Return an axle's damping ratio with sealed air at its bump exponent."""
    axle, stance = solved.axle(name)
    _, _, k_ll, k_lr, k_rl, k_rr = sealed_here(axle, stance, BUMP).press(*stance.z, bars=False)
    left, right = tyre_loads(solved, name)
    return damping_ratio(
        damping, float(0.5 * (k_ll + k_lr + k_rl + k_rr)), sprung_side(axle, (float(left), float(right)))
    )


def case_never_empty(q: Inputs) -> Outputs:
    """Return the results of a “never empty” case."""
    source, vehicle_data = q.get("axle_source", "scale"), q.whole("vehicle")
    told = {}
    for axle in AXLES:
        vehicle_data[axle]["elements"] = [_touching(e) for e in vehicle_data[axle]["elements"]]
        if source == "plate":
            load, sigma = plate_axle_load(q["ratings"][axle])
            vehicle_data[axle]["ref_load"] = [0.5 * load * G] * 2
        else:
            load, sigma = sum(vehicle_data[axle]["ref_load"]) / G, q.get("scale_sigma", 0.0)
        told[axle] = {"load": load, "sigma": sigma, "flagged": source == "plate"}
    vehicle = read_vehicle(vehicle_data)
    states = read_states(q.whole("states"), vehicle.wheelbase)
    return {"reference": told, "states": _reports(q, vehicle, states)}


def _touching(element: dict[str, Any]) -> dict[str, Any]:
    """Return a stop told by its lengths as one touching in the reference state; any other element as it is."""
    if "free_length" not in element:
        return element
    free, present = (pair_of(element[name]) for name in ("free_length", "present_length"))
    gaps = [gap_when_touching(f, p) for f, p in zip(free, present, strict=True)]
    kept = {k: v for k, v in element.items() if k not in ("free_length", "present_length")}
    return kept | {"gap": gaps, "fitted": "reference"}


def case_set_preload(q: Inputs) -> Outputs:
    """Return the results of a “set preload” case."""
    vehicle, states = case_model(q)
    element, state, target, datum = q["element"], q["set_state"], q["target"], q.get("datum", "ground")
    found = set_preload(vehicle, states, element=element, state=state, target=target, datum=datum)
    told: Outputs = {"preload": found.value}
    put = found.value
    if "settings" in q:
        rows = [(s["name"], s["preload"]) for s in q["settings"]]
        drops = {
            name: mean_drop(with_preload(vehicle, element, preload), states, element, state, datum)
            for name, preload in rows
        }
        told["chosen"] = min(drops, key=lambda name: abs(drops[name] - target))
        put = dict(rows)[told["chosen"]]
    elif "per_turn" in q:
        told |= turns_for(found.value, q["per_turn"], q["turn_step"], q["turns_max"])
        put = told["turns_set"] * q["per_turn"]
    as_put = with_preload(vehicle, element, put)
    told["miss"] = mean_drop(as_put, states, element, state, datum) - target
    return told | {"states": _reports(q, as_put, states)}


def case_set_spring(q: Inputs) -> Outputs:
    """Return the results of a “set spring” case."""
    vehicle, states = case_model(q)
    mod, axle = q["mod"], q["axle"]
    replaced = mod["law"] == "replacement"
    change: Replacement | TorsionBarAdjuster = TorsionBarAdjuster(shift=0.0)
    if replaced:
        change = Replacement(
            k=mod["k"], c_ref=0.0, k2=mod.get("k2", 0.0), z2=mod.get("z2", 0.0), width=mod.get("w", 0.003)
        )
    bounds = pair_of(q.get("range", [0.0, 0.5] if replaced else [-0.1, 0.1]))
    found = set_spring(
        vehicle,
        states,
        axle=axle,
        change=change,
        state=q["set_state"],
        target=q["target"],
        bounds=bounds,
        datum=q.get("datum", "ground"),
    )
    told: Outputs = {"states": _reports(q, found.vehicle, states)}
    if not replaced:
        return told | {"shift": found.value, "lift_wheel": found.value / vehicle.axle(axle).spring.ratio}
    return told | {"c_ref": found.value, "free_height": found.value + q.get("seat_length", 0.0)}


def case_pressure_range(q: Inputs) -> Outputs:
    """Return the results of a “pressure range” case."""
    vehicle, states = case_model(q)
    found = pressure_range(
        vehicle,
        states,
        element=q["element"],
        state=q["set_state"],
        target=q["target"],
        tolerance=q.get("tol", 0.010),
        datum=q.get("datum", "ground"),
    )
    step = q.get("gauge_step", 0.0)
    rounded = found.rounded(step) if step else (found.low, found.high)
    return {**asdict(found), "low_rounded": rounded[0], "high_rounded": rounded[1]}


def case_equilibrium(q: Inputs) -> Outputs:
    """Return the results of a “equilibrium” case."""
    return {"states": _reports(q, *case_model(q))}


def case_coil_block(q: Inputs) -> Outputs:
    """Return the results of a “coil block” case."""
    return {"k": coil_block_rate(q["k"], q["N"], q["n"], q.get("k_i"))}


def case_headlamp(q: Inputs) -> Outputs:
    """Return the results of a “headlamp” case."""
    rise = headlamp_rise(q["d_f"], q["d_r"], q["wheelbase"], q["s_lamp"], q.get("D", 10.0))
    return {"rise": rise, "caster_deg": caster_change(float(pitch_change(q["d_f"], q["d_r"], q["wheelbase"])))}


def pair_of(value: Any) -> tuple[float, float]:
    """Return a number for both sides, or one for each, as two."""
    return (float(value[0]), float(value[1])) if isinstance(value, list) else (float(value), float(value))


def case_set_pressure(q: Inputs) -> Outputs:
    """Return the results of a “set pressure” case."""
    vehicle, states = case_model(q)
    step = q.get("gauge_step", 0.0)
    found = set_pressures(
        vehicle,
        states,
        element=q["element"],
        state=q["set_state"],
        target=pair_of(q["target"]),
        datum=q.get("datum", "ground"),
        gauge_step=step,
    )
    return {
        "pressure": list(found.exact),
        "pressure_rounded": list(found.rounded),
        "states": _reports(q, found.vehicle, states),
    }


def case_set_gap(q: Inputs) -> Outputs:
    """Return the results of a “set gap” case."""
    vehicle, states = case_model(q)
    found = set_gaps(
        vehicle,
        states,
        element=q["element"],
        state=q["set_state"],
        target=pair_of(q["target"]),
        datum=q.get("datum", "ground"),
    )
    fitted = pair_of(q["fitted_gap"]) if "fitted_gap" in q else None
    return {
        "gap": list(found.exact),
        "states": _reports(q, found.vehicle, states),
        "spacer": [f - g for f, g in zip(fitted, found.exact, strict=True)] if fitted else None,
    }


def case_air_closed(q: Inputs) -> Outputs:
    """Return the results of a “air closed” case."""
    p_atm = q.get("p_atm", P_ATM)
    n = q.get("n", 1.0)
    return {
        "p_temperature": pressure_at_temperature(q["p"], q["T1"], q["T2"], p_atm),
        "p_sealed": pressure_at_volume(q["p"], q["V1"], q["V2"], n, p_atm),
        "p_teed": pressure_when_joined(q["p_left"], q["p_right"], q["V_left"], q["V_right"], p_atm),
        "rate": air_spring_rate(q["p"], q["A"], q["dA_dh"], q["V"], n, p_atm),
    }
