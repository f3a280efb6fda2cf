"""Worked cases of what is measured and figured on the floor: air, leaves, tyres and brakes, dampers by their curves, links, kicks, and upkeep."""

from __future__ import annotations

from dataclasses import asdict

from vantok_core.base.num import P_ATM
from vantok_core.benches.air import air_at, leak, pressure_at, tee
from vantok_core.benches.bar import AxleBar, bar_choice
from vantok_core.benches.damper import DamperMount, damping_ratio
from vantok_core.benches.kick import KICK, PULSE, kick
from vantok_core.benches.leaf import SHAPE, YOUNGS, LeafPack, axle_torque, eye_bush, recamber, stress_word
from vantok_core.benches.links import end_link
from vantok_core.benches.tyre import FRONT_BRAKES, brake_balance, tyre_pressure
from vantok_core.benches.valves import (
    FADES,
    HEAT,
    PUSH_SPEED,
    ROOM,
    SHED,
    USUAL_SPEED,
    Mixed,
    Valves,
    at_click,
    damping_word,
    fade,
    find_mount,
    lean,
    needed_rate,
)
from vantok_core.files.cases.plain import Inputs, Outputs, plain
from vantok_core.upkeep.settling import EXPECTED, READ_TO, Visit, settled, trend


def case_leak(q: Inputs) -> Outputs:
    """Return the results of a “leak” case."""
    p_atm = q["p_atm"] if "p_atm" in q else air_at(q.get("H", 0.0))
    found = leak(
        q["p1"],
        q["T1"],
        q["p2"],
        q["T2"],
        q["t"],
        gauge_error=q.get("gauge_error", 5000.0),
        p_atm=p_atm,
        fine=q.get("fine", 0.02),
        watch=q.get("watch", 0.05),
    )
    return asdict(found)


def case_altitude(q: Inputs) -> Outputs:
    """Return the results of an “altitude” case."""
    found: Outputs = {"p_atm": air_at(q["H"])}
    if "p" in q:
        found["p"] = pressure_at(q["H"], q["p"], q.get("H0", 0.0))
    return found


def case_tee(q: Inputs) -> Outputs:
    """Return the results of a “tee” case."""
    names = {"n": "n", "mu": "viscosity", "f": "friction", "K": "ends", "T": "kelvin", "dp": "difference"}
    told = {name: q[key] for key, name in names.items() if key in q}
    return dict(plain(tee(q["V"], q["d"], q["l"], q["P"], **told)))


def case_leaf(q: Inputs) -> Outputs:
    """Return the results of a “leaf” case."""
    pack = LeafPack(
        front=q["a"],
        rear=q["c"],
        width=q["b"],
        thicknesses=tuple(q["t"]),
        shape=q.get("SF", SHAPE),
        youngs=q.get("E", YOUNGS),
    )
    k_a, k_c = pack.halves
    found: Outputs = {
        "S": pack.cubes,
        "k_a": k_a,
        "k_c": k_c,
        "k": pack.rate,
        "wind_up_rate": pack.wind_up_rate,
        "wind_up_rate_held": pack.wind_up_rate_held,
    }
    if "F" in q:
        stresses = pack.stresses(q["F"])
        found |= {"moment": pack.moment(q["F"]), "stress": list(stresses), "stress_word": stress_word(max(stresses))}
        if "arch" in q:
            arch = pack.arch(q["arch"], q["F"])
            found |= {"arch_loaded": arch, "reversed": arch < 0.0}
    if "torque" in q or "force" in q:
        torque = (
            q["torque"]
            if "torque" in q
            else axle_torque(q["force"], q["radius"], q.get("seat_height", 0.0), q.get("block", 0.0))
        )
        found |= {"torque": torque, "wind_up": pack.wind_up(torque)}
    return found


def case_eye_bush(q: Inputs) -> Outputs:
    """Return the results of an “eye bush” case."""
    return asdict(eye_bush(q["d"], q["a"], q["rate"], q.get("SF", SHAPE)))


def case_recamber(q: Inputs) -> Outputs:
    """Return the results of a “recamber” case."""
    found = recamber(
        q["g_f"],
        q["rake_wished"],
        q["rake_now"],
        arch=q["arch"],
        load=q["F"],
        rate=q["k"],
        new_rate=q["k_new"],
        ratio=q.get("i", 1.0),
    )
    return {"g_r": found.gain, "arch_new": found.arch}


def case_tyre_pressure(q: Inputs) -> Outputs:
    """Return the results of a “tyre pressure” case."""
    table = [(float(p), float(w)) for p, w in q.get("table", [])]
    found = tyre_pressure(
        q["W"],
        table=table,
        most_load=q.get("W_max", 0.0),
        most_pressure=q.get("p_max", 0.0),
        least=q.get("p_min", 0.0),
        rate=q.get("k_t"),
    )
    return dict(
        plain(
            {"p": found.pressure, "at_minimum": found.at_minimum, "estimated": found.estimated, "squash": found.squash}
        )
    )


def case_brakes(q: Inputs) -> Outputs:
    """Return the results of a “brakes” case."""
    found = brake_balance(
        q["mu"], q["psi"], q["h"], q["L"], front_brakes=q.get("beta", FRONT_BRAKES), weight=q.get("W")
    )
    told = asdict(found)
    return dict(plain(told | {name: "never" for name in ("z_front", "z_rear") if told[name] is None}))


def case_damper(q: Inputs) -> Outputs:
    """Return the results of a “damper” case."""
    unit: Valves | Mixed
    if "clicks" in q:
        unit = at_click([(c["click"], Valves.from_points(c["bump"], c["rebound"])) for c in q["clicks"]], q["click"])
    else:
        unit = Valves.from_points(q["bump"], q["rebound"])
    ratio, found = q.get("i", 1.0), Outputs()
    if "axle_mount" in q:
        at = lean(tuple(q["axle_mount"]), tuple(q["frame_mount"]))
        ratio *= at.cosine
        found |= {"length": at.length, "cos": at.cosine, "lean_side": at.side, "lean_end": at.end}
    v0, count = q.get("v0", USUAL_SPEED), q.get("n", 1)
    c_wheel = ratio**2 * unit.equivalent(ratio * v0)
    speeds = q.get("v", [])
    found |= {
        "r": ratio,
        "force": [unit.force(v) for v in speeds],
        "wheel_force": [ratio * unit.force(ratio * v) for v in speeds],
        "c_eq": unit.equivalent(v0),
        "c_wheel": c_wheel,
        "push": [unit.force(PUSH_SPEED), -unit.force(-PUSH_SPEED)],
    }
    if "k_w" in q:
        zeta = damping_ratio(count * c_wheel, q["k_w"], q["m_s"])
        found |= {"zeta": zeta, "word": damping_word(zeta)}
        if "zeta_wanted" in q:
            found["needed"] = needed_rate(q["zeta_wanted"], q["k_w"], q["m_s"], ratio, count)
    return found


def case_fade(q: Inputs) -> Outputs:
    """Return the results of a “fade” case."""
    power = q["P"] if "P" in q else q["c_eq"] * q["v_rms"] ** 2
    found = fade(
        power,
        air=q.get("T_air", ROOM),
        start=q.get("T_start"),
        seconds=q.get("t"),
        heat=q.get("C", HEAT),
        shed=q.get("hA", SHED),
        fades=q.get("gamma", FADES),
    )
    never = "never" if found.minutes_to_half is None else found.minutes_to_half
    told = {
        "P": power,
        "T_end": found.end,
        "factor_end": found.factor_end,
        "T": found.at,
        "factor": found.factor,
        "minutes_to_half": never,
    }
    return dict(plain(told))


def case_mount_finder(q: Inputs) -> Outputs:
    """Return the results of a “mount finder” case."""
    mount = DamperMount(
        axle=tuple(q["axle_mount"]),
        frame=tuple(q["places"][0]),
        bump=q["bump"],
        droop=q["droop"],
        closed=q["closed"],
        open_=q["open"],
        margin_closed=q.get("margin_closed", 0.0),
        margin_open=q.get("margin_open", 0.0),
    )
    found = find_mount(mount, [tuple(p) for p in q["places"]])
    told = asdict(found)
    return {"cos": told.pop("cosine"), **told}


def case_end_link(q: Inputs) -> Outputs:
    """Return the results of an “end link” case."""
    return asdict(
        end_link(tuple(q["pivot"]), q["arm"], tuple(q["axle_mount"]), q["bump"], q["droop"], q.get("towards", "rear"))
    )


def case_bars(q: Inputs) -> Outputs:
    """Return the results of a “bars” case."""
    axles = {name: _axle_bar(q[name]) for name in ("front", "rear")}
    found = asdict(bar_choice(axles["front"], axles["rear"]))
    return found | {name: found[name] | {"bar_K": axle.bar} for name, axle in axles.items()}


def _axle_bar(q: Inputs) -> AxleBar:
    bar = q["bar_K"] if "bar_K" in q else q["k_end"] * (q["i_b"] * q["t"]) ** 2 / 2.0 if "k_end" in q else 0.0
    return AxleBar(springs=q["springs_K"], track=q["t"], tyre_rate=q["k_t"], bar=bar)


def case_kick(q: Inputs) -> Outputs:
    """Return the results of a “kick” case."""
    names = {"J": "inertia", "c_0": "friction", "k_0": "stiffness", "span": "span"}
    told = {name: q[key] for key, name in names.items() if key in q} | {
        "moment": q.get("M", KICK),
        "pulse": q.get("pulse", q.get("s", PULSE)),
    }
    without, with_ = kick(**told), kick(q["c_d"], q["r_d"], **told)
    shown = {
        key: {"peak": one.peak, "time_to_tenth": one.time_to_tenth, "zeta": one.zeta}
        for key, one in (("without", without), ("with", with_))
    }
    return {**shown, "peak_ratio": with_.peak / without.peak}


def case_settling(q: Inputs) -> Outputs:
    """Return the results of a “settling” case."""
    expected = q["expected"] if "expected" in q else EXPECTED[q["family"]]
    return asdict(settled(q["fitted"], q["now"], expected, q.get("sigma_fitted", READ_TO), q.get("sigma_now", READ_TO)))


def case_trend(q: Inputs) -> Outputs:
    """Return the results of a “trend” case."""
    visits = [Visit(day=v["day"], value=v["value"], sigma=v.get("sigma"), kelvin=v.get("T")) for v in q["visits"]]
    return dict(plain(trend(visits, sigma=q.get("sigma"), limit=q.get("limit"), p_atm=q.get("p_atm", P_ATM))))
