"""Worked cases: a file of named calls with expected results, run against the core.

One adapter a kind turns a case's inputs into core calls and their results into plain numbers; `compare` holds them
against the expected ones within the case's tolerance.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict, dataclass, is_dataclass
from typing import Any

from vantok_core.dampers import DamperMount, damper_fit, damping_ratio, decay_of_peaks, wheel_damping
from vantok_core.effects import caster_change, headlamp_rise
from vantok_core.elements.air import (
    air_spring_rate,
    pressure_at_temperature,
    pressure_at_volume,
    pressure_when_joined,
)
from vantok_core.elements.laws import coil_block_rate
from vantok_core.errors import FileFormatError, VantokError
from vantok_core.forms import read_states, read_vehicle
from vantok_core.loads.levers import (
    centre_of_mass,
    hitch_effect,
    hitch_moment,
    items_lever,
    tongue_lever,
    trailer_tongue,
)
from vantok_core.num import P_ATM
from vantok_core.rates.estimate import EstimationProblem, HeightReading, Place, UncertainLoad, estimate
from vantok_core.rates.simple import restore_force_helper, restore_force_wheel, series_rate, wheel_rate
from vantok_core.readings.plane import PlanePoint, drop_at, fit_plane, lean, pitch_change, rake
from vantok_core.readings.plane import hitch_drop as plane_hitch_drop
from vantok_core.readings.tape import friction_reading, reading_sigma
from vantok_core.road.profile import Manoeuvre, Road
from vantok_core.road.simulate import Damper, RidePoint, RideSet, ride
from vantok_core.roll import BarGeometry, axle_roll, bar_rate, roll_gradient
from vantok_core.setting import set_gaps, set_pressures
from vantok_core.stance.report import ride_frequency, solve_reports
from vantok_core.stance.states import solve_states
from vantok_core.steering import StabilizerMount, best_clamp, damping_factor, stabilizer_fit
from vantok_core.vehicle import AXLES, Axle, Item, LoadState, MainSpring, Tongue, Vehicle

Inputs = dict[str, Any]


def _plane(q: Inputs) -> Inputs:
    length, d_f, d_r = q["wheelbase"], q["d_f"], q["d_r"]
    found: Inputs = {"theta": pitch_change(d_f, d_r, length)}
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


def _plane_fit(q: Inputs) -> Inputs:
    points = [PlanePoint(station=p["s"], drop=p["d"], sigma=p["sigma"], lateral=p.get("y", 0.0)) for p in q["points"]]
    return asdict(fit_plane(points))


def _items(rows: list[Inputs]) -> list[Item]:
    return [Item(mass=r["m"], station=r["s"], lateral=r.get("y", 0.0)) for r in rows]


def _item_levers(q: Inputs) -> Inputs:
    return asdict(items_lever(_items(q["items"]), q["wheelbase"]))


def _tongue_lever(q: Inputs) -> Inputs:
    return asdict(tongue_lever(q["T"], q["o"], q["wheelbase"]))


def _trailer_tongue(q: Inputs) -> Inputs:
    return asdict(trailer_tongue(q["d"], [(i["m"], i["x"]) for i in q["items"]]))


def _wd_hitch(q: Inputs) -> Inputs:
    moment = q["M"] if "M" in q else hitch_moment(q["T"], q["o"], q["d"], q["r"])
    tongue = Tongue(mass=q["T"], overhang=q["o"], bar_moment=moment, axle_distance=q["d"])
    effect = hitch_effect(tongue, q["wheelbase"])
    return {**asdict(effect), "M": effect.moment}


def _com(q: Inputs) -> Inputs:
    return asdict(centre_of_mass(q["corner_loads"], q["wheelbase"], q["t_f"], q["t_r"]))


def _rates(q: Inputs) -> Inputs:
    k_w = wheel_rate(q["dF_side"], q["sag"])
    return {
        "k_w": k_w, "k_eff": series_rate(k_w, q["k_t"]), "f": ride_frequency(k_w, q["m_s"]),
        "force_wheel": restore_force_wheel(k_w, q["h"]), "force_helper": restore_force_helper(k_w, q["h"], q["i"]),
    }  # fmt: skip


def _reading(q: Inputs) -> Inputs:
    friction = friction_reading(q["pressed"], q["lifted"])
    return {"sigma": reading_sigma(q["resolution"], q["settle"]), "height": friction.height, "band": friction.band}


def _axle_means(q: Inputs) -> Vehicle:
    """Return a vehicle for axle means: independent, linear, heavy enough that no wheel lifts."""

    def axle(name: str) -> Axle:
        prior = q["prior"][name]
        spring = MainSpring(
            name=name, kind="coil", k=float(prior["k"]), k2=float(prior.get("k2", 0.0)), z2=prior.get("z2", 0.0),
            width=prior.get("w", 0.003),
        )  # fmt: skip
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
    return Place(row["at"], row["datum"])


def _load_item(name: str, load: Inputs, wheelbase: float) -> Item:
    station = load["s"] if "s" in load else wheelbase + load["o"]
    return Item(mass=float(load["m"]), station=station, lateral=load.get("y", 0.0), name=name)


def _map_rates(q: Inputs) -> Inputs:
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
        vehicle=vehicle, states=states, readings=readings,
        loads={n: UncertainLoad(mass=load["m"], sigma=load.get("sigma", 0.0)) for n, load in loads.items()},
        sigma_ln={a: q["prior"][a].get("sigma_ln", 0.25) for a in AXLES},
    )  # fmt: skip
    found = estimate(problem)
    wanted = [(p["state"], _place(p, q)) for p in q.get("predict", [])]
    heights = [found.height(s, p) if p in found.heights else None for s, p in wanted]
    return {
        "k_front": found.k["front"], "k_rear": found.k["rear"],
        "sigma_ln_front": found.sigma_ln["front"], "sigma_ln_rear": found.sigma_ln["rear"],
        "correlation": found.correlation, "chi2": found.chi2, "loads": found.loads,
        "predictions": [{"height": h.value, "sigma": h.sigma} if h else {} for h in heights],
        "drops": [{"drop": d.value, "sigma": d.sigma} for d in (found.drop(s, p) for s, p in wanted)],
    }  # fmt: skip


def _reports(q: Inputs, vehicle: Vehicle, states: list[LoadState]) -> Inputs:
    found: Inputs = {}
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
        if "point" in q:
            found[name]["point_drop"] = one.drop_at(vehicle.wheelbase, q["point"]["s"], q["point"].get("y", 0.0))
    return found


def _model(q: Inputs) -> tuple[Vehicle, list[LoadState]]:
    vehicle = read_vehicle(q["vehicle"])
    return vehicle, read_states(q["states"], vehicle.wheelbase)


def _equilibrium(q: Inputs) -> Inputs:
    return {"states": _reports(q, *_model(q))}


def _coil_block(q: Inputs) -> Inputs:
    return {"k": coil_block_rate(q["k"], q["N"], q["n"], q.get("k_i"))}


def _headlamp(q: Inputs) -> Inputs:
    rise = headlamp_rise(q["d_f"], q["d_r"], q["wheelbase"], q["s_lamp"], q.get("D", 10.0))
    return {"rise": rise, "caster_deg": caster_change(float(pitch_change(q["d_f"], q["d_r"], q["wheelbase"])))}


def _pair(value: Any) -> tuple[float, float]:
    return (float(value[0]), float(value[1])) if isinstance(value, list) else (float(value), float(value))


def _set_pressure(q: Inputs) -> Inputs:
    vehicle, states = _model(q)
    step = q.get("gauge_step", 0.0)
    found = set_pressures(
        vehicle, states, element=q["element"], state=q["set_state"], target=_pair(q["target"]),
        datum=q.get("datum", "ground"), gauge_step=step,
    )  # fmt: skip
    return {
        "pressure": list(found.exact), "pressure_rounded": list(found.rounded),
        "states": _reports(q, found.vehicle, states),
    }  # fmt: skip


def _set_gap(q: Inputs) -> Inputs:
    vehicle, states = _model(q)
    found = set_gaps(
        vehicle, states, element=q["element"], state=q["set_state"], target=_pair(q["target"]),
        datum=q.get("datum", "ground"),
    )  # fmt: skip
    fitted = _pair(q["fitted_gap"]) if "fitted_gap" in q else None
    return {
        "gap": list(found.exact), "states": _reports(q, found.vehicle, states),
        "spacer": [f - g for f, g in zip(fitted, found.exact, strict=True)] if fitted else None,
    }  # fmt: skip


def _air_closed(q: Inputs) -> Inputs:
    p_atm = q.get("p_atm", P_ATM)
    n = q.get("n", 1.0)
    return {
        "p_temperature": pressure_at_temperature(q["p"], q["T1"], q["T2"], p_atm),
        "p_sealed": pressure_at_volume(q["p"], q["V1"], q["V2"], n, p_atm),
        "p_teed": pressure_when_joined(q["p_left"], q["p_right"], q["V_left"], q["V_right"], p_atm),
        "rate": air_spring_rate(q["p"], q["A"], q["dA_dh"], q["V"], n, p_atm),
    }


def _anti_roll_bar(q: Inputs) -> Inputs:
    bar = BarGeometry(centre=q["B"], arm=q["A"], arm_metal=q["C"], diameter=q["D"], bore=q.get("D_i", 0.0))
    found = bar_rate(bar, q["i_b"], q["t"])
    return {"k_end": found.k_end, "k_one_end": found.k_one_end, "K_roll": found.roll}


def _roll(q: Inputs) -> Inputs:
    axles = {
        name: axle_roll(
            [tuple(s) for s in q[name]["springs"]], q[name].get("bar", 0.0), q[name]["k_t"], q[name]["track"]
        )
        for name in AXLES
    }
    gradient = roll_gradient(q["m_s"], q["h_a"], axles["front"].axle, axles["rear"].axle)
    return {**{name: asdict(a) for name, a in axles.items()}, **asdict(gradient)}


def _stabilizer(q: Inputs) -> Inputs:
    mount = StabilizerMount(
        link=tuple(q["P0"]), frame=tuple(q["Q"]), y_range=tuple(q["y_range"]), z_range=tuple(q["z_range"]),
        closed=q["closed"], open_=q["open"],
    )  # fmt: skip
    fit = stabilizer_fit(mount)
    found = {
        "length_min": fit.shortest, "length_max": fit.longest, "reserve_closed": fit.reserve_closed,
        "reserve_open": fit.reserve_open, "damping_factor": damping_factor(mount),
    }  # fmt: skip
    if "clamp_range" in q:
        clamp = best_clamp(mount, tuple(q["clamp_range"]))
        best = stabilizer_fit(mount, clamp)
        found |= {
            "best_clamp": clamp, "best_reserve": best.reserve, "best_length_min": best.shortest,
            "best_length_max": best.longest,
        }  # fmt: skip
    return found


def _shock(q: Inputs) -> Inputs:
    mount = DamperMount(
        axle=tuple(q["axle_mount"]), frame=tuple(q["frame_mount"]), bump=q["bump"], droop=q["droop"],
        closed=q["closed"], open_=q["open_"], margin_closed=q.get("margin_closed", 0.0),
        margin_open=q.get("margin_open", 0.0),
    )  # fmt: skip
    fit = damper_fit(mount)
    rise = abs(mount.frame[2] - mount.axle[2])
    return {**asdict(fit), "wheel_damping": wheel_damping(q["damper_c"], rise / fit.ride, q.get("i", 1.0))}


def _damping(q: Inputs) -> Inputs:
    found: Inputs = {"zeta": damping_ratio(q["c_w"], q["k_w"], q["m_s"])}
    if "k_w_after" in q:
        found["zeta_after"] = damping_ratio(q["c_w"], q["k_w_after"], q["m_s"])
    if "peaks" in q:
        found["from_trace"] = asdict(decay_of_peaks(q["peaks"]))
    return found


def _road(q: Inputs) -> Road:
    names: dict[str, Any] = {"potholes": "pothole", "iso8608": "random", "staggered_bumps": "staggered"}
    said: Any = q.get("kind", "flat")
    kind = names.get(said, said)
    return Road(
        kind=kind, height=float(q["height"] if "height" in q else q.get("depth", 0.0)), length=q.get("length", 1.0), offset=q.get("offset", 0.0),
        side=q.get("side", "both"), roughness=q.get("class", "B"), seed=q.get("seed", 1),
    )  # fmt: skip


def _ride(q: Inputs) -> Inputs:
    vehicle, states = _model(q)
    body = q.get("body", {})
    dampers = {
        name: Damper(bump=d["bump"], rebound=d["rebound"], ratio=d.get("i", 1.0), y=d.get("y"))
        for name, d in q["dampers"].items()
    }
    turn = q.get("lateral")
    manoeuvre = Manoeuvre(
        kind=turn.get("kind", "steady"), peak=turn.get("a_y", 0.0), period=turn.get("period", turn.get("ramp", 1.0)),
        start=turn.get("start", 0.0),
    ) if turn else Manoeuvre()  # fmt: skip
    run = RideSet(
        speed=q["speed"], duration=q["duration"], road=_road(q.get("road", {})), manoeuvre=manoeuvre, dampers=dampers,
        points=[RidePoint(name=p["name"], station=p["s"], lateral=p.get("y", 0.0)) for p in q.get("points", [])],
        sample_rate=q.get("fs", 1000.0), pitch_inertia=body.get("pitch_inertia"), roll_inertia=body.get("roll_inertia"),
        arm=body.get("h_a", 0.0),
        roll_centre={a: body[f"h_rc_{a}"] for a in AXLES} if "h_rc_front" in body else None,
    )  # fmt: skip
    solved = solve_states(vehicle, states)[q["state"]]
    found = asdict(ride(vehicle, solved, run))
    del found["time"], found["rear_body"]
    return found


KINDS: dict[str, Callable[[Inputs], Inputs]] = {
    "plane": _plane, "plane_fit": _plane_fit, "item_levers": _item_levers, "tongue_lever": _tongue_lever,
    "trailer_tongue": _trailer_tongue, "wd_hitch": _wd_hitch, "com_from_pads": _com, "rates": _rates,
    "reading": _reading, "map_rates": _map_rates, "equilibrium": _equilibrium, "coil_block": _coil_block,
    "headlamp": _headlamp, "set_pressure": _set_pressure, "set_gap": _set_gap, "air_closed": _air_closed,
    "anti_roll_bar": _anti_roll_bar, "roll": _roll, "stabilizer": _stabilizer, "shock": _shock, "damping": _damping,
    "ride": _ride,
}  # fmt: skip


def plain(value: Any) -> Any:
    """Return a result as plain dictionaries, lists and numbers, None left out."""
    if is_dataclass(value) and not isinstance(value, type):
        return {k: plain(v) for k, v in asdict(value).items() if v is not None}
    if isinstance(value, dict):
        return {k: plain(v) for k, v in value.items() if v is not None}
    if isinstance(value, (list, tuple)):
        return [plain(v) for v in value]
    return value


@dataclass(frozen=True, slots=True, kw_only=True)
class Outcome:
    """A case's outcome: worst deviation as a share of what is allowed (above 1 fails), and where it was."""

    name: str
    passed: bool
    worst: float
    place: str
    message: str = ""


def run_case(case: Inputs) -> Outcome:
    """Run one case; whatever the core refuses, and inputs no adapter can read, come back as an outcome with its message."""
    name = str(case.get("name", "?"))
    expected = case.get("expected")
    refused = expected == {"error": True}
    try:
        got = _call(case)
    except VantokError as error:
        return Outcome(name=name, passed=refused, worst=0.0 if refused else float("inf"), place="", message=str(error))
    if refused:
        return Outcome(name=name, passed=False, worst=float("inf"), place="", message="should have been refused")
    worst, place = compare(expected, got, case["tolerance"])
    return Outcome(name=name, passed=worst <= 1.0, worst=worst, place=place)


def _call(case: Inputs) -> Inputs:
    """Return what the core makes of a case. Raises VantokError; FileFormatError for a kind or inputs it cannot read."""
    kind, place = case.get("kind"), str(case.get("name", "?"))
    if kind not in KINDS:
        raise FileFormatError(place, f"no such kind of case: {kind!r}; known are {', '.join(KINDS)}")
    try:
        return KINDS[kind](case["inputs"])
    except KeyError as error:
        raise FileFormatError(place, f"the inputs lack {error}") from error
    except (TypeError, IndexError, AttributeError) as error:
        raise FileFormatError(place, f"the inputs are not of the expected shape: {error}") from error


def compare(expected: Any, got: Any, tolerance: Inputs, key: str = "default", path: str = "") -> tuple[float, str]:
    """Return the worst deviation as a share of the tolerance, and its path; infinite for something missing."""
    if isinstance(expected, dict):
        if not isinstance(got, dict) or expected.keys() - got.keys():
            return float("inf"), f"{path} (missing)"
        return max(
            (
                compare(v, got[k], tolerance, k if k in tolerance["abs"] else key, f"{path}/{k}")
                for k, v in expected.items()
            ),
            default=(0.0, path),
        )
    if isinstance(expected, list):
        if not isinstance(got, (list, tuple)) or len(got) != len(expected):
            return float("inf"), f"{path} (length)"
        pairs = enumerate(zip(expected, got, strict=True))
        return max((compare(e, g, tolerance, key, f"{path}[{i}]") for i, (e, g) in pairs), default=(0.0, path))
    return _compare_leaf(expected, got, tolerance, key), path


def _compare_leaf(expected: Any, got: Any, tolerance: Inputs, key: str) -> float:
    if isinstance(expected, (bool, int, str)) or expected is None:
        return 0.0 if expected == got else float("inf")
    try:
        distance = abs(float(got) - expected)
    except (TypeError, ValueError):
        return float("inf")
    allowed = tolerance["abs"].get(key, tolerance["abs"]["default"]) + tolerance["rel"] * abs(expected)
    return float(distance / allowed) if allowed else (float("inf") if distance else 0.0)


def run_cases(data: Any) -> list[Outcome]:
    """Run every case of a file's content. Raises FileFormatError when it is not a file of cases."""
    if not isinstance(data, dict) or not isinstance(data.get("cases"), list):
        raise FileFormatError("cases", "the file has no list of cases")
    return [run_case(case) for case in data["cases"]]
