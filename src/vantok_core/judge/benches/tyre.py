"""The tyre and brake bench: the pressure a load needs, how far the tyre squashes, which axle locks first, how far the lamps' beam moves.

Source: method sections 4 and 13.
"""

from __future__ import annotations

from typing import Any

from vantok_core.base.errors import InputError
from vantok_core.base.num import G
from vantok_core.base.say import Quantity, length
from vantok_core.base.units import both
from vantok_core.benches.tyre import FRONT_BRAKES, brake_balance, tyre_pressure
from vantok_core.facts import Job
from vantok_core.facts.classes import LOAD_INDEX
from vantok_core.judge.benches.bench import (
    Answer,
    Ask,
    Bench,
    Chart,
    Draft,
    Known,
    Question,
    Values,
    chosen,
    maybe,
    number,
)
from vantok_core.judge.benches.thresholds import BEAM_MOVED, DRY_GRIP, LOWEST_BY_INDEX, WALL_OFF
from vantok_core.kits.target import target_state
from vantok_core.model import JobModel

PATTERNS = (
    ("centre", "in the middle"),
    ("shoulders", "on both shoulders"),
    ("inner", "on the inner edge"),
    ("outer", "on the outer edge"),
    ("feathered", "in a saw's teeth across"),
    ("cupped", "in dips round the tyre"),
    ("flat", "flat in one place"),
    ("one_axle", "on one axle sooner"),
)
WEAR: dict[str, tuple[tuple[str, str], ...]] = {
    "centre": (
        ("too much pressure for the load", "weigh the axle and set the pressure for it"),
        ("hard driving of that axle", "ask how it is driven"),
    ),
    "shoulders": (
        ("too little pressure, or overload", "weigh the axle and set the pressure for it"),
        ("much fast cornering", "ask how it is driven"),
    ),
    "inner": (
        ("camber from a low rear or front", "read heights loaded and have camber measured at them"),
        ("toe out", "have toe measured as it is driven"),
        ("worn bushes or bearings", "lift it and look for play"),
    ),
    "outer": (
        ("toe in", "have toe measured at the height it is driven at"),
        ("camber the other way, or fast bends", "have camber measured at ride height"),
    ),
    "feathered": (
        ("toe", "stroke across the tread both ways, then have toe measured"),
        ("loose joints", "lift it and look for play"),
    ),
    "cupped": (
        ("a damper that no longer damps", "push test, then each damper by hand on its bench"),
        ("a wheel out of balance", "balance it"),
        ("play", "lift it and look for play"),
    ),
    "flat": (
        ("a wheel that locked", "look at that brake"),
        ("long standing under load", "drive it warm and look again"),
    ),
    "one_axle": (
        ("that axle carries more, or drives", "weigh both axles"),
        ("pressures that differ", "read them cold"),
    ),
}
"""Patterns of wear: what is behind them, the likeliest first, each with the test that tells."""


def _answer(values: Values) -> Answer:
    draft, load = Draft(), number(values, "load")
    if load <= 0.0:
        raise InputError("load", load, "an axle carries something")
    each, index = load * G / max(number(values, "tyres"), 1.0), round(number(values, "index"))
    most = LOAD_INDEX.get(index, 0) * G
    least, rate = maybe(values, "least") or 0.0, maybe(values, "rate")
    found = tyre_pressure(each, most_load=most, most_pressure=number(values, "most"), least=least, rate=rate)
    draft.row("Each tyre carries", Quantity(each / G, "mass"))
    draft.row(f"Index {index} allows", Quantity(most / G, "mass"))
    floor = " That is the maker's least." if found.at_minimum else ""
    if found.pressure < LOWEST_BY_INDEX * number(values, "most"):
        draft.say("So light a load asks for less pressure than any tyre is run at: its maker's least holds.", "act")
    else:
        draft.say(
            "It takes {p}, estimated from the load index: the maker's table comes before it.{floor}",
            p=Quantity(found.pressure, "pressure"),
            floor=floor,
        )
    if found.squash is not None:
        draft.row("Squash", length(found.squash))
    _sides(draft, values, most, least)
    _worn(draft, values)
    _brakes(draft, values)
    rise = _lamps(draft, values)
    return draft.done(
        load=load,
        squash=found.squash or 0.0,
        rise=rise,
        wall=maybe(values, "wall") or WALL_OFF,
        wheelbase=maybe(values, "wheelbase") or 3.0,
    )


def _sides(draft: Draft, values: Values, most: float, least: float) -> None:
    """Say what left and right take where their loads differ; most: load of one tyre by its index (N)."""
    left, right = maybe(values, "left"), maybe(values, "right")
    if left is None or right is None:
        return
    of_side = max(number(values, "tyres") / 2.0, 1.0)
    each = [
        tyre_pressure(kg * G / of_side, most_load=most, most_pressure=number(values, "most"), least=least)
        for kg in (left, right)
    ]
    draft.row("Left and right take", f"{both('pressure', each[0].pressure)} and {both('pressure', each[1].pressure)}")
    draft.say(
        "Both sides of an axle get the higher one, {p}: a lean is cured by the load or the springs, not by the tyres.",
        p=Quantity(max(one.pressure for one in each), "pressure"),
    )


def _worn(draft: Draft, values: Values) -> None:
    """Say what a pattern of wear may come from, and the test that tells."""
    if pattern := chosen(values, "wear"):
        for n, (cause, test) in enumerate(WEAR[pattern]):
            draft.row("Wear: likeliest" if n == 0 else "Wear: else", f"{cause}; {test}")
        draft.say(
            "Worn {pattern}: most likely {cause}. {test} before a part is bought.",
            "act",
            pattern=dict(PATTERNS)[pattern],
            cause=WEAR[pattern][0][0],
            test=WEAR[pattern][0][1].capitalize(),
        )


def _lamps(draft: Draft, values: Values) -> float:
    """Say where the cut-off stands on the wall before and after, by the rake or as marked; return the rise taken (m)."""
    rise, base, wall = maybe(values, "rise"), maybe(values, "wheelbase"), maybe(values, "wall") or WALL_OFF
    before, after = maybe(values, "cut_before"), maybe(values, "cut_after")
    if before is not None and after is not None:
        moved = Quantity(after - before, "length", signed=True)
        draft.row("Cut-off on the wall, before and after", f"{both('length', before)}, {both('length', after)}")
        draft.say(
            "Marked on the wall at {wall} the cut-off moved by {moved}: aim the lamps again at the height it is driven at.",
            "act" if abs(after - before) > BEAM_MOVED else "level",
            wall=Quantity(wall, "distance"),
            moved=moved,
        )
    if rise is None or not base:
        return 0.0
    would = Quantity(rise / base * wall, "length", signed=True)
    draft.row("Lamps' cut-off on the wall moves by", would)
    draft.say(
        "Nose up by that, the cut-off moves {moved} on the wall at {wall}: aim the lamps again at the height it is driven at.",
        moved=would,
        wall=Quantity(wall, "distance"),
    )
    return rise


def _brakes(draft: Draft, values: Values) -> None:
    """Say which axle locks first, where the weight's place is known."""
    share, height, base = (maybe(values, name) for name in ("rear_share", "height", "wheelbase"))
    if share is None or height is None or base is None:
        return
    grip, front_brakes = maybe(values, "grip") or DRY_GRIP, maybe(values, "front_brakes") or FRONT_BRAKES
    found = brake_balance(grip, share, height, base, front_brakes=front_brakes)
    if (unladen := maybe(values, "empty_share")) is not None:
        before = brake_balance(grip, unladen, maybe(values, "empty_height") or height, base, front_brakes=front_brakes)
        rows = tuple(
            (words, one.first, f"{one.z:.2f} g", Quantity(one.transfer_share, "percent"))
            for words, one in (("empty", before), ("loaded", found))
        )
        draft.charts.append(
            Chart(
                words="Brake balance, empty and loaded",
                heads=("", "Locks first", "At", "Weight moved forward"),
                rows=rows,
            )
        )
    draft.row("Locks first", f"{found.first}, at {found.z:.2f} g")
    draft.say(
        "On that grip the {first} locks first, at {z} g; {transfer_share} of the weight has moved forward by then.",
        first=found.first,
        z=f"{found.z:.2f}",
        transfer_share=f"{found.transfer_share:.0%}",
    )
    draft.note("An estimate of balance, not of stopping distance.")
    if found.first == "rear":
        draft.say(
            "A rear axle that locks first swings the tail round: have the brakes' load valve looked at before it tows.",
            "act",
        )


def _of_job(job: Job, model: JobModel | None) -> Known:
    found: dict[str, Any] = {}
    v = job.vehicle
    if v.rear_tyre_index is not None:
        found["index"] = (float(v.rear_tyre_index), "the rear tyres")
    if v.dual_rear:
        found["tyres"] = (4.0, "dual wheels")
    if v.base_m is not None:
        found["wheelbase"] = (v.base_m, "the vehicle's wheelbase")
    if model is not None:
        empty = [float(sum(a.ref_load)) for a in (model.vehicle.front, model.vehicle.rear)]
        state = target_state(model)
        loads = model.solve()[state].load
        front, rear = (float(loads[a] + loads[b]) for a, b in (("FL", "FR"), ("RL", "RR")))
        where = f"the rear axle in “{next(one.name for one in job.states if one.key == state)}”"
        found |= {
            "load": (rear / G, where),
            "left": (float(loads["RL"]) / G, where),
            "right": (float(loads["RR"]) / G, where),
            "rear_share": (rear / (rear + front), where),
            "empty_share": (empty[1] / sum(empty), "the axles in the reference"),
            "rate": (float(model.vehicle.rear.tyre_rate), "the class of tyre"),
        }
    return found


BENCH = Bench(
    key="tyre",
    words="Tyres and brakes",
    questions=(
        Question(
            key="pressure",
            words="What pressure does this load need?",
            asks=(
                "load",
                "tyres",
                "index",
                "most",
                "least",
                "rate",
            ),
        ),
        Question(
            key="wear",
            words="What does its wear say?",
            asks=(
                "wear",
                "left",
                "right",
            ),
        ),
        Question(
            key="brakes",
            words="What does it do to the brakes?",
            asks=(
                "rear_share",
                "empty_share",
                "empty_height",
                "height",
                "grip",
                "front_brakes",
            ),
        ),
        Question(
            key="lamps",
            words="What does it do to the lamps?",
            asks=(
                "wheelbase",
                "rise",
                "wall",
                "cut_before",
                "cut_after",
            ),
        ),
    ),
    asks=(
        Ask(name="load", words="Axle load", kind="mass", first=1500.0),
        Ask(name="tyres", words="Tyres on the axle", kind="count", first=2.0),
        Ask(name="index", words="Load index on the wall", kind="count", most=200.0, first=112.0),
        Ask(name="most", words="Pressure that index holds at", kind="pressure", first=450_000.0),
        Ask(name="least", words="Maker's least pressure", kind="pressure", needed=False),
        Ask(name="rate", words="Tyre's rate", kind="rate", needed=False),
        Ask(name="wheelbase", words="Wheelbase", kind="length", needed=False),
        Ask(name="left", words="Left wheel or pair carries", kind="mass", needed=False),
        Ask(name="right", words="right", kind="mass", needed=False),
        Ask(name="wear", words="Tread worn", kind="choice", first="", choices=(("", "not looked at"), *PATTERNS)),
        Ask(name="rear_share", words="Rear share of the weight, 0 to 1", kind="count", needed=False),
        Ask(name="empty_share", words="and empty", kind="count", needed=False),
        Ask(name="empty_height", words="Centre of mass empty, height", kind="length", needed=False),
        Ask(name="height", words="Centre of mass, height", kind="length", needed=False),
        Ask(name="grip", words="Grip, 0.8 on dry road", kind="count", needed=False),
        Ask(name="front_brakes", words="Front brakes' share, 0.65 if nobody knows", kind="count", needed=False),
        Ask(name="rise", words="Nose up, front against rear", kind="length", needed=False),
        Ask(name="wall", words="Wall at", kind="distance", needed=False),
        Ask(name="cut_before", words="Cut-off on the wall, before", kind="length", needed=False),
        Ask(name="cut_after", words="and after", kind="length", needed=False),
    ),
    works=_answer,
    of_job=_of_job,
    places={
        "load": "load",
        "grip": "grip",
        "brakes": "front_brakes",
        "sizes": "height",
        "share": "rear_share",
        "size": "height",
        "tyre": "index",
        "table": "most",
    },
)
