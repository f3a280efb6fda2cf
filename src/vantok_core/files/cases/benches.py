"""Worked cases of bars, stabilizers and dampers."""

from __future__ import annotations

from dataclasses import asdict

from vantok_core.benches.bar import AxleRoll, BarGeometry, axle_roll, bar_rate, roll_gradient
from vantok_core.benches.damper import DamperMount, damper_fit, damping_ratio, decay_of_peaks, wheel_damping
from vantok_core.benches.stabilizer import StabilizerMount, best_clamp, damping_factor, stabilizer_fit
from vantok_core.benches.thread import INCH, NUT_FACTORS, PLAY, find_thread, torque_in_state, washers
from vantok_core.files.cases.asked import Asked
from vantok_core.files.cases.plain import Inputs, Outputs
from vantok_core.physics.vehicle import AXLES


def case_anti_roll_bar(q: Inputs) -> Outputs:
    """Return the results of a “anti roll bar” case."""
    bar = BarGeometry(centre=q["B"], arm=q["A"], arm_metal=q["C"], diameter=q["D"], bore=q.get("D_i", 0.0))
    found = bar_rate(bar, q["i_b"], q["t"])
    return {"k_end": found.k_end, "k_one_end": found.k_one_end, "K_roll": found.roll}


def case_roll(q: Inputs) -> Outputs:
    """Return the results of a “roll” case."""
    axles = {name: _axle_roll(q[name]) for name in AXLES}
    gradient = roll_gradient(q["m_s"], q["h_a"], axles["front"].axle, axles["rear"].axle)
    return {**{name: asdict(a) for name, a in axles.items()}, **asdict(gradient)}


def _axle_roll(q: Inputs) -> AxleRoll:
    """Return an axle's roll stiffness; on an independent one a spring presses at the wheel, half the track out."""
    springs = [tuple(s) for s in q["springs"]]
    if q.get("type", "solid") == "independent":
        springs = [(k, i, q["track"] / 2) for k, i, _ in springs]
    return axle_roll(springs, q.get("bar", 0.0), q["k_t"], q["track"])


def case_stabilizer(q: Inputs) -> Outputs:
    """Return the results of a “stabilizer” case."""
    mount = StabilizerMount(
        link=tuple(q["P0"]),
        frame=tuple(q["Q"]),
        y_range=tuple(q["y_range"]),
        z_range=tuple(q["z_range"]),
        closed=q["closed"],
        open_=q["open"],
    )
    fit = stabilizer_fit(mount)
    found = {
        "length_min": fit.shortest,
        "length_max": fit.longest,
        "reserve_closed": fit.reserve_closed,
        "reserve_open": fit.reserve_open,
        "damping_factor": damping_factor(mount),
    }
    if "clamp_range" in q:
        clamp = best_clamp(mount, tuple(q["clamp_range"]))
        best = stabilizer_fit(mount, clamp)
        found |= {
            "best_clamp": clamp,
            "best_reserve": best.reserve,
            "best_length_min": best.shortest,
            "best_length_max": best.longest,
        }
    return found


def case_shock(q: Inputs) -> Outputs:
    """Return the results of a “shock” case."""
    mount = DamperMount(
        axle=tuple(q["axle_mount"]),
        frame=tuple(q["frame_mount"]),
        bump=q["bump"],
        droop=q["droop"],
        closed=q["closed"],
        open_=q["open_"],
        margin_closed=q.get("margin_closed", 0.0),
        margin_open=q.get("margin_open", 0.0),
    )
    fit = damper_fit(mount)
    rise = abs(mount.frame[2] - mount.axle[2])
    return {**asdict(fit), "wheel_damping": wheel_damping(q["damper_c"], rise / fit.ride, q.get("i", 1.0))}


def case_damping(q: Inputs) -> Outputs:
    """Return the results of a “damping” case."""
    found: Outputs = {"zeta": damping_ratio(q["c_w"], q["k_w"], q["m_s"])}
    if "k_w_after" in q:
        found["zeta_after"] = damping_ratio(q["c_w"], q["k_w_after"], q["m_s"])
    if "peaks" in q:
        found["from_trace"] = asdict(decay_of_peaks(q["peaks"]))
    return found


def case_torque(q: Inputs) -> Outputs:
    """Return the results of a “torque” case."""
    factors = {**NUT_FACTORS, **dict(q.get("K", Asked({})).items())}
    return asdict(torque_in_state(q["T"], q["d"], q["table_state"], q["state"], factors))


def case_washers(q: Inputs) -> Outputs:
    """Return the results of a “washers” case."""
    return asdict(washers(q["bracket"], q["bush"], [(t, int(n)) for t, n in q["stock"]], q.get("play_max", PLAY)))


def case_thread(q: Inputs) -> Outputs:
    """Return the results of a “thread” case: by its pitch, or by turns per inch."""
    pitch = q["pitch"] if "pitch" in q else INCH / q["tpi"]
    return asdict(find_thread(q["d"], pitch, q.get("d_error", 0.00015), q.get("pitch_error", 0.00003)))
