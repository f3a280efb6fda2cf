"""Worked cases of the method's third part: sides, classes, limits, odds, leaks, proof, trailers by themselves."""

from __future__ import annotations

from typing import Any

from vantok_core.base.errors import InputError
from vantok_core.base.num import P_ATM
from vantok_core.benches.bar import BarGeometry, bar_rate
from vantok_core.benches.roll_rate import (
    AIM,
    TALL,
    RollAxle,
    RollRatio,
    RollSpring,
    air_roll_rate,
    insert_roll_rate,
    roll_rate,
)
from vantok_core.benches.tight import ALLOWED, USUAL, tight
from vantok_core.files.cases.asked import bare
from vantok_core.files.cases.plain import Inputs, Outputs
from vantok_core.kits.found_strength import Spring, aimed, found_strength, ln_sigma
from vantok_core.kits.odds import TOLERANCE, as_good, may_recommend, odds_in_words
from vantok_core.loads.couple import Axle, loaded, on_pads, weighed_whole
from vantok_core.loads.holding import SCALE, AllHeld, Held, planned
from vantok_core.loads.trailer_beam import LIMITS, WINDOWS, Beam, Standing, Thing, may_offer, moved, standing
from vantok_core.rates.class_rate import class_rate
from vantok_core.readings.corners import CORNERS, Corners, residual


def case_plane_residual(q: Inputs) -> Outputs:
    """Return the results of a “plane residual” case. Raises InputError for heights that are not of the ground."""
    states = []
    for one in q["states"]:
        if one.get("datum", "ground") != "ground":
            raise InputError("datum", one["datum"], "heights at the ground are needed: a hub rides on its own tyre")
        sigma = one["sigma"]
        by = dict(sigma.items()) if isinstance(sigma, dict) else dict.fromkeys(CORNERS, sigma)
        states.append(Corners(heights=dict(one["heights"].items()), sigma=by))
    found = residual(states, q["width_front"], q["width_rear"])
    return {
        "r": found.r,
        "sigma": found.sigma,
        "limit": found.limit,
        "told": found.told,
        "correction": dict(found.correction),
    }


def _axle(one: Axle) -> dict[str, Any]:
    return {
        "load": one.load,
        "couple": one.couple,
        "sigma_load": one.sigma_load,
        "sigma_couple": one.sigma_couple,
        "left": one.left,
        "right": one.right,
        "sigma_corner": one.sigma_corner,
        "band": one.band,
        "read": one.read,
    }


def case_side_couple(q: Inputs) -> Outputs:
    """Return the results of a “side couple” case."""

    def read(one: Inputs) -> Axle:
        if "left" in one:
            return on_pads(one["left"], one["right"], one["sigma"], q["track"])
        return weighed_whole(one["load"], one["sigma"], q["track"])

    empty = read(q["empty"])
    found: Outputs = {"empty": _axle(empty)}
    if "loaded" in q:
        on = q["loaded"]
        placed = [(one["m"], one["y"]) for one in on.get("placed", [])]
        now = read(on) if "left" in on else loaded(empty, on.get("gain", 0.0), on.get("sigma_gain", 0.0), placed)
        found["loaded"] = _axle(now) | {"gain_couple": now.couple - empty.couple}
    return found


def case_class_rate(q: Inputs) -> Outputs:
    """Return the results of a “class rate” case."""
    found = class_rate(q["place"], q.get("kind", ""), q["rating"], q["unsprung"], q.get("maker_k"))
    more = {"ratio": q["k"] / found.k} if "k" in q else {}
    return {"m_s": found.m_s, "f": found.f, "k": found.k, "sigma_ln": found.sigma_ln, "band": list(found.band), **more}


def case_limit_words(q: Inputs) -> Outputs:
    """Return the results of a “limit words” case."""

    def held(one: Inputs) -> Held:
        load, sigma = one.get("load"), one.get("sigma", SCALE)
        if load is None:
            base = one.get("base", Inputs({"m": 0.0, "sigma": 0.0}))
            load, sigma = planned(
                base["m"], base["sigma"], [(i["m"], i.get("lever", 1.0)) for i in one.get("items", [])]
            )
        return Held(
            name=one["name"], limit=one["limit"], load=load, sigma=sigma, off_springs=one.get("off_springs", False)
        )

    every = AllHeld(
        limits=tuple(held(one) for one in q["limits"]),
        unknown=tuple(q.get("unknown", [])),
        belongs=q.get("belongs", ""),
    )
    return {
        "limits": [
            {"name": h.name, "load": h.load, "sigma": h.sigma, "margin": h.margin, "p": h.p, "word": h.word}
            for h in every.limits
        ],
        "p_all": every.p,
        "every_known_holds": every.every_known,
        "known": len(every.limits),
        "of": len(every.limits) + len(every.unknown),
        "headline": every.headline,
    }


def case_odds_words(q: Inputs) -> Outputs:
    """Return the results of an “odds words” case."""
    found: Outputs = {}
    if "odds" in q:
        found["words"] = [odds_in_words(p) for p in q["odds"]]
    if "options" in q:
        odds = {one["name"]: one["odds"] for one in q["options"]}
        found |= {
            "options": {name: odds_in_words(p) for name, p in odds.items()},
            "may_recommend": may_recommend(odds),
            "as_good": as_good(odds),
        }
    return found


def case_leak_verdict(q: Inputs) -> Outputs:
    """Return the results of a “leak verdict” case."""
    found = tight(
        q["p1"],
        q["p2"],
        q["t"],
        q["step"],
        q.get("temperature", "none"),
        (q.get("T1", USUAL), q.get("T2", USUAL)),
        allowed=q.get("allowed", ALLOWED),
        least=q.get("p_min"),
        most=q.get("p_max"),
        p_atm=q.get("p_atm", P_ATM),
    )
    return {
        "dP": found.lost,
        "s_d": found.sigma,
        "loss_per_day": found.loss_per_day,
        "band": list(found.band),
        "day_told": found.day_told,
        "verdict": found.verdict,
        "again": found.again,
        "at_most": found.at_most,
    }


def case_strength(q: Inputs) -> Outputs:
    """Return the results of a “strength” case. Raises InputError for two datums."""
    before, after = q["before"], q["after"]
    if before["datum"] != after["datum"]:
        raise InputError("datum", after["datum"], "before and after are read on one datum")
    sigma_q = q["sigma_ln_q"] if "sigma_ln_q" in q else ln_sigma(q.get("data", "maker"))
    spring = Spring(
        k=q["k"], sigma_ln_k=q.get("sigma_ln_k", 0.0), force=q["F"], kit_rate=q.get("kit_rate", 0.0), sigma_ln_q=sigma_q
    )
    found = found_strength(spring, (before["value"], before["sigma"]), (after["value"], after["sigma"]))
    told: Outputs = {
        "lift": found.lift,
        "sigma_lift": found.sigma_lift,
        "predicted_lift": found.predicted,
        "sigma_predicted": found.sigma_predicted,
        "prediction_held": found.held,
        "misfit": found.misfit,
        "q": found.q,
        "sigma_ln_q": found.sigma_ln_q,
        "band": list(found.band),
        "k": found.k,
        "sigma_ln_k": found.sigma_ln_k,
        "q_alone": found.q_alone,
        "sigma_alone": found.sigma_alone,
    }
    hold = q.get("limits_hold", False)
    if "target" in q:
        aim = aimed(spring, found, before["value"], after["value"], q["target"], q.get("tol", TOLERANCE))
        told |= {
            "miss": aim.miss,
            "met": aim.met,
            "proved": aim.met and hold,
            "force_needed": aim.force_needed,
        }
    return told


def case_trailer_beam(q: Inputs) -> Outputs:
    """Return the results of a “trailer beam” case. Raises InputError for a kind of trailer or limit that is not known."""
    window = tuple(q["window"]) if "window" in q else WINDOWS.get(q["type"])
    limits = bare(q.get("limits", Inputs({})))
    if window is None or len(window) != 2 or not set(limits) <= set(LIMITS):
        raise InputError("type", q.get("type"), f"one of {', '.join(WINDOWS)}, with limits among {', '.join(LIMITS)}")
    beam = Beam(
        lever=q["d"],
        rate=q["rate"],
        tyre_rate=q["tyre_rate"],
        coupling=q["coupling_height"],
        level=q["coupling_level"],
        window=(window[0], window[1]),
        limits=limits,
    )
    things = [
        Thing(name=one["name"], mass=one["m"], behind=one["x"], reference=one.get("reference", False))
        for one in q["items"]
    ]
    points = [(one["name"], one["x"]) for one in q.get("points", [])]

    def told(one: Standing) -> dict[str, Any]:
        return {
            "mass": one.mass,
            "tongue": one.tongue,
            "axle": one.axle,
            "share": one.share,
            "verdict": one.verdict,
            "drop": one.drop,
            "pitch": one.pitch,
            "points": {name: one.rise_at(beam, x) for name, x in points},
            "margins": dict(one.margins),
        }

    found: Outputs = {"now": told(standing(beam, things))}
    if "move" in q:
        then = standing(beam, moved(things, q["move"]["name"], q["move"]["x"]))
        found |= {"moved": told(then), "move_offered": may_offer(then)}
    return found


def case_roll_ratio(q: Inputs) -> Outputs:
    """Return the results of a “roll ratio” case."""
    tall = TALL if q.get("tall", False) else 1.0
    changed = q.get("after", Inputs({}))
    rates = {}
    for when, own in (("before", Inputs({})), ("after", changed)):
        front, rear = (_rolled(q[name], when) for name in ("front", "rear"))
        rates[when] = roll_rate(own.get("m_s", q["m_s"]), tall * own.get("h_a", q["h_a"]), front, rear)
    found = RollRatio(before=rates["before"], after=rates["after"], aim=q.get("aim", AIM))
    told = {
        when: {"K_front": one.front, "K_rear": one.rear, "R": one.rate, "front_share": one.front_share}
        for when, one in rates.items()
    }
    return {**told, "ratio": found.ratio, "meets_aim": found.meets_aim, "tail_looser": found.tail_looser}


def _rolled(q: Inputs, when: str) -> RollAxle:
    """Return an axle with what is on it then."""
    kind = q["type"]
    if kind not in ("solid", "independent"):
        raise InputError("type", kind, "solid or independent")
    elements = [_pressing(one) for one in q["elements"] if one.get("when", "both") in ("both", when) or _looked(one)]
    bars = [
        _bar(one, q["track"]) for one in q.get("bars", []) if one.get("when", "both") in ("both", when) or _looked(one)
    ]
    return RollAxle(
        solid=kind == "solid",
        track=q["track"],
        tyre_rate=q["tyre_rate"],
        springs=tuple(elements),
        bars=tuple(bar for bar in bars if bar is not None),
        unknown_bars=sum(bar is None for bar in bars),
    )


def _looked(one: Inputs) -> bool:
    """Count what is not on now as asked for; never on."""
    bare(one)
    return False


def _pressing(one: Inputs) -> RollSpring:
    return RollSpring(rate=_rate(one), ratio=one.get("i", 1.0), place=one.get("y"), main=one.get("main", False))


def _rate(one: Inputs) -> float:
    """Return the rate of an element as it stands; one that is free adds none."""
    law = one["law"]
    if law in ("spring", "helper"):
        rate: float = one["k"]
        if not rate > 0.0:
            raise InputError("k", rate, "a rate is above nought")
        return rate if one.get("contact", True) else 0.0
    if law == "insert":
        return insert_roll_rate([tuple(p) for p in one["points"]], one["c"])
    if law != "air":
        raise InputError("law", law, "spring, helper, insert or air")
    return air_roll_rate(
        one["p"],
        one["A"],
        one.get("dA_dh", 0.0),
        one["V"],
        n=one.get("n", 1.0),
        p_atm=one.get("p_atm", P_ATM),
        teed=one.get("teed", False),
    )


def _bar(one: Inputs, track: float) -> float | None:
    """Return a bar's roll stiffness at the axle (N m/rad); None for one nobody knows."""
    if one.get("unknown", False):
        return None
    if "K" in one:
        stiff: float = one["K"]
        return stiff
    if "k_end" in one or "k_one_held" in one:
        end = one["k_end"] if "k_end" in one else 2.0 * one["k_one_held"]
        rolled: float = end * (one["i_b"] * track) ** 2 / 2.0
        return rolled
    made = BarGeometry(centre=one["B"], arm=one["A"], arm_metal=one["C"], diameter=one["D"], bore=one.get("D_i", 0.0))
    return bar_rate(made, one["i_b"], track).roll
