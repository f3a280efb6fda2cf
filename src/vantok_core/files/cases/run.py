"""Worked cases: a file of named calls with expected results, run against the core.

One adapter a kind turns a case's inputs into core calls and their results into plain numbers; `compare` holds them
against the expected ones within the case's tolerance.
"""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from vantok_core.base.errors import FileFormatError, VantokError
from vantok_core.files.cases.asked import Asked, unasked
from vantok_core.files.cases.benches import (
    case_anti_roll_bar,
    case_damping,
    case_roll,
    case_shock,
    case_stabilizer,
    case_thread,
    case_torque,
    case_washers,
)
from vantok_core.files.cases.choosing import (
    case_bundle,
    case_datum_conversion,
    case_five_year_cost,
    case_kit_effect,
    case_odds,
    case_pareto,
    case_quote,
    case_rear_group,
    case_right_choice,
    case_target,
    case_variance_left,
)
from vantok_core.files.cases.estimating import case_choice_odds, case_estimate, case_next_measurement
from vantok_core.files.cases.failing import case_pressure_card, case_what_if
from vantok_core.files.cases.floor import (
    case_altitude,
    case_bars,
    case_brakes,
    case_damper,
    case_end_link,
    case_eye_bush,
    case_fade,
    case_kick,
    case_leaf,
    case_leak,
    case_mount_finder,
    case_recamber,
    case_settling,
    case_tee,
    case_trend,
    case_tyre_pressure,
)
from vantok_core.files.cases.loads import (
    case_com,
    case_item_levers,
    case_plane,
    case_plane_fit,
    case_reading,
    case_tongue,
    case_trailer,
    case_wd_hitch,
)
from vantok_core.files.cases.plain import Inputs, Outputs
from vantok_core.files.cases.rates import case_map_rates, case_rates
from vantok_core.files.cases.road import (
    case_gust_plane,
    case_ride,
    case_road,
    case_squat,
    case_tip_margin,
    case_trailer_yaw,
    case_wk,
)
from vantok_core.files.cases.stance import (
    case_air_closed,
    case_coil_block,
    case_equilibrium,
    case_equilibrium_settings,
    case_headlamp,
    case_never_empty,
    case_pressure_range,
    case_set_gap,
    case_set_preload,
    case_set_pressure,
    case_set_spring,
    case_stiffness_budget,
)
from vantok_core.files.cases.taught import case_cause_shares, case_learn_class, case_learn_hours, case_learn_strength
from vantok_core.files.cases.third import (
    case_class_rate,
    case_leak_verdict,
    case_limit_words,
    case_odds_words,
    case_plane_residual,
    case_roll_ratio,
    case_side_couple,
    case_strength,
    case_trailer_beam,
)
from vantok_core.files.cases.traces import (
    case_counts,
    case_frequency_datum,
    case_peaks,
    case_push_test,
    case_road_log,
)

KINDS: dict[str, Callable[[Inputs], Outputs]] = {
    "plane": case_plane,
    "plane_fit": case_plane_fit,
    "item_levers": case_item_levers,
    "tongue_lever": case_tongue,
    "trailer_tongue": case_trailer,
    "wd_hitch": case_wd_hitch,
    "com_from_pads": case_com,
    "rates": case_rates,
    "reading": case_reading,
    "map_rates": case_map_rates,
    "equilibrium": case_equilibrium,
    "coil_block": case_coil_block,
    "headlamp": case_headlamp,
    "set_pressure": case_set_pressure,
    "set_gap": case_set_gap,
    "air_closed": case_air_closed,
    "anti_roll_bar": case_anti_roll_bar,
    "roll": case_roll,
    "stabilizer": case_stabilizer,
    "shock": case_shock,
    "damping": case_damping,
    "ride": case_ride,
    "road": case_road,
    "wk": case_wk,
    "datum_conversion": case_datum_conversion,
    "rear_group": case_rear_group,
    "kit_effect": case_kit_effect,
    "target": case_target,
    "odds": case_odds,
    "right_choice": case_right_choice,
    "five_year_cost": case_five_year_cost,
    "bundle": case_bundle,
    "quote": case_quote,
    "torque": case_torque,
    "washers": case_washers,
    "thread": case_thread,
    "pareto": case_pareto,
    "variance_left": case_variance_left,
    "never_empty": case_never_empty,
    "stiffness_budget": case_stiffness_budget,
    "equilibrium_settings": case_equilibrium_settings,
    "what_if": case_what_if,
    "pressure_card": case_pressure_card,
    "estimate": case_estimate,
    "choice_odds": case_choice_odds,
    "next_measurement": case_next_measurement,
    "set_preload": case_set_preload,
    "set_spring": case_set_spring,
    "pressure_range": case_pressure_range,
    "leak": case_leak,
    "altitude": case_altitude,
    "tee": case_tee,
    "leaf": case_leaf,
    "eye_bush": case_eye_bush,
    "recamber": case_recamber,
    "tyre_pressure": case_tyre_pressure,
    "brakes": case_brakes,
    "damper": case_damper,
    "fade": case_fade,
    "mount_finder": case_mount_finder,
    "end_link": case_end_link,
    "bars": case_bars,
    "kick": case_kick,
    "settling": case_settling,
    "trend": case_trend,
    "plane_residual": case_plane_residual,
    "side_couple": case_side_couple,
    "class_rate": case_class_rate,
    "limit_words": case_limit_words,
    "odds_words": case_odds_words,
    "leak_verdict": case_leak_verdict,
    "strength": case_strength,
    "trailer_beam": case_trailer_beam,
    "roll_ratio": case_roll_ratio,
    "learn_class": case_learn_class,
    "learn_strength": case_learn_strength,
    "learn_hours": case_learn_hours,
    "cause_shares": case_cause_shares,
    "counts": case_counts,
    "gust_plane": case_gust_plane,
    "tip_margin": case_tip_margin,
    "squat": case_squat,
    "trailer_yaw": case_trailer_yaw,
    "push_test": case_push_test,
    "peaks": case_peaks,
    "road_log": case_road_log,
    "frequency_datum": case_frequency_datum,
}


WORKED = Path(__file__).parent / "worked"
"""The worked cases that ship with the program: what its core must reproduce on any machine."""
SHORT = ("plane", "equilibrium", "rates", "estimate", "set_pressure", "wd_hitch", "target", "quote")
"""Kinds of which the first case is solved at every start: the figures everything else rests on."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Outcome:
    """A case's outcome: worst deviation as a share of what is allowed (above 1 fails), and where it was."""

    name: str
    passed: bool
    worst: float
    place: str
    message: str = ""


def run_case(case: dict[str, Any]) -> Outcome:
    """Run one case; whatever the core refuses, and inputs no adapter can read, come back as an outcome with its message."""
    name, kind = str(case.get("name", "?")), case.get("kind")
    if kind not in KINDS:
        unknown = f"{name}: no such kind of case: {kind!r}; known are {', '.join(KINDS)}"
        return Outcome(name=name, passed=False, worst=float("inf"), place="", message=unknown)
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


def _call(case: dict[str, Any]) -> Outputs:
    """Return what the core makes of a case. Raises VantokError; FileFormatError for a kind or inputs it cannot read."""
    kind, place = case["kind"], str(case.get("name", "?"))
    inputs = Asked(case["inputs"])
    try:
        found = KINDS[kind](inputs)
    except KeyError as error:
        raise FileFormatError(place, f"the inputs lack {error}") from error
    except (TypeError, IndexError, AttributeError) as error:
        raise FileFormatError(place, f"the inputs are not of the expected shape: {error}") from error
    unknown = list(unasked(inputs))
    if unknown:
        raise FileFormatError(place, f"nothing is known of {', '.join(unknown)} in a case of this kind")
    return found


def compare(
    expected: Any, got: Any, tolerance: dict[str, Any], key: str = "default", path: str = ""
) -> tuple[float, str]:
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


def _compare_leaf(expected: Any, got: Any, tolerance: dict[str, Any], key: str) -> float:
    if isinstance(expected, (bool, int, str)) or expected is None:
        return 0.0 if expected == got else float("inf")
    try:
        distance = abs(float(got) - expected)
    except (TypeError, ValueError):
        return float("inf")
    allowed = tolerance["abs"].get(key, tolerance["abs"]["default"]) + tolerance["rel"] * abs(expected)
    return float(distance / allowed) if allowed else (float("inf") if distance else 0.0)


def shipped(*, short: bool = False) -> list[dict[str, Any]]:
    """Return the worked cases that ship with the program; short: the first of each kind of `SHORT`. Raises OSError, ValueError where they cannot be read."""
    every = [case for path in sorted(WORKED.glob("*.json")) for case in json.loads(path.read_text("utf-8"))["cases"]]
    return [next(case for case in every if case["kind"] == kind) for kind in SHORT] if short else every


def run_cases(data: Any) -> list[Outcome]:
    """Run every case of a file's content. Raises FileFormatError when it is not a file of cases."""
    if not isinstance(data, dict) or not isinstance(data.get("cases"), list):
        raise FileFormatError("cases", "the file has no list of cases")
    return [run_case(case) for case in data["cases"]]
