"""Worked cases of what a shop learns from its closed jobs."""

from __future__ import annotations

from vantok_core.files.cases.plain import Inputs, Outputs
from vantok_core.upkeep.learning import (
    RateTold,
    Taught,
    cause_shares,
    learn_class,
    learn_hours,
    learn_strength,
)


def _told(found: Taught, centre: float) -> Outputs:
    low, high = found.two_in_three(centre)
    return {"n": found.n, "mu": found.mu, "tau": found.tau, "sigma_ln": found.sigma_ln, "two_in_three": [low, high]}


def case_learn_class(q: Inputs) -> Outputs:
    """Return the results of a “learn class” case."""
    jobs = [
        RateTold(vehicle=j["vehicle"], k=j["k"], sigma_ln=j["sigma_ln"], weighed=j.get("weighed", True))
        for j in q["jobs"]
    ]
    found, used = learn_class(q["k_class"], jobs)
    centre = q["k_class"] * found.factor
    return _told(found, centre) | {"centre": centre, "used": list(used)}


def case_learn_strength(q: Inputs) -> Outputs:
    """Return the results of a “learn strength” case: of each vehicle its last visit."""
    last: dict[str, tuple[float, float]] = {}
    for one in q["jobs"]:
        last.pop(one["vehicle"], None)
        last[one["vehicle"]] = (one["q"], one["sigma_ln"])
    found = learn_strength(q["data"], list(last.values()))
    return _told(found, found.factor) | {"strength": found.factor}


def case_learn_hours(q: Inputs) -> Outputs:
    """Return the results of a “learn hours” case."""
    found = learn_hours(q["sheet"], q["hours"])
    hours = q["sheet"] * found.factor
    return _told(found, hours) | {"hours": hours}


def case_cause_shares(q: Inputs) -> Outputs:
    """Return the results of a “cause shares” case."""
    weights, cases = dict(q["weights"].items()), dict(q["cases"].items())
    found = cause_shares(weights, cases)
    return {
        "n": sum(cases.values()),
        "share": {cause: share for cause, (share, _) in found.items()},
        "sigma": {cause: sigma for cause, (_, sigma) in found.items()},
    }
