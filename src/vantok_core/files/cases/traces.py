"""Worked cases of traces: push test, peaks by hand, a road log, a frequency as a datum, what is counted in a trace."""

from __future__ import annotations

from typing import Any

import numpy as np

from vantok_core.base.num import FloatArray
from vantok_core.files.cases.plain import Inputs, Outputs
from vantok_core.readings.trace import Swing, before_after, frequency_datum, of_cycles, peaks, push_test
from vantok_core.road.comfort import comfort_word
from vantok_core.road.figures import JOLT, jolts, rebounds, settling_time


def _swing(found: Swing) -> Outputs:
    return {"delta": found.delta, "zeta": found.zeta, "f_damped": found.f_damped, "f": found.f}


def case_push_test(q: Inputs) -> Outputs:
    """Return the results of a “push test” case."""
    x = np.array(q["x"], dtype=float)
    t = np.array(q["t"], dtype=float) if "t" in q else np.arange(len(x)) / q["fs"]
    found = push_test(x, t, q.get("t_release"))
    return _swing(found) | {"noise": found.noise}


def case_peaks(q: Inputs) -> Outputs:
    """Return the results of a “peaks” case."""
    found = peaks(q["peaks"], q["times"], q.get("noise", 0.0))
    sigma = {} if found.sigma_zeta is None else {"sigma_zeta": found.sigma_zeta}
    return {"used": found.used, **_swing(found.swing), **sigma}


def case_road_log(q: Inputs) -> Outputs:
    """Return the results of a “road log” case."""
    found = before_after(q["before"], q["after"])
    return {"ratio": found.ratio, "band": list(found.band), "told": found.told}


def case_frequency_datum(q: Inputs) -> Outputs:
    """Return the results of a “frequency datum” case."""
    damped, sigma = of_cycles(q["cycles"]) if "cycles" in q else (q["f_damped"], q["sigma_f"])
    found = frequency_datum(damped, sigma, q["m_s"], q["k_t"] * q.get("tyres", 1), q.get("zeta", 0.0))
    return {
        "f": found.f,
        "sigma_f": found.sigma_f,
        "k_eff": found.k_eff,
        "k_w": found.k_w,
        "sigma_ln_k": found.sigma_ln_k,
    }


def _trace(q: Inputs) -> FloatArray:
    """Return a trace made of falling waves."""
    t = np.arange(round(q["duration"] * q["fs"]) + 1) / q["fs"]
    waves = [size * np.exp(-s * t) * np.cos(2.0 * np.pi * f * t + p) for size, s, f, p in q["terms"]]
    return np.asarray(np.sum(waves, axis=0))


def case_counts(q: Inputs) -> Outputs:
    """Return the results of a “counts” case."""
    found: dict[str, Any] = {}
    final, flat = q.get("final", 0.0), q.get("t_flat", 0.0)
    if "body" in q:
        body = _trace(q["body"])
        found["rebounds"] = rebounds(body, q["body"]["fs"], flat, final)
        found["settling_time"] = settling_time(body, q["body"]["fs"], final)
    limit = q.get("jolt", JOLT)
    if "acceleration" in q:
        told = _trace(q["acceleration"])
        found |= {"jolts": jolts(told, limit), "peak": float(np.max(np.abs(told)))}
    if "weighted_rms" in q:
        found["comfort"] = [comfort_word(one) for one in q["weighted_rms"]]
    return found
