"""The tyre and brake bench: the pressure a load needs, how far the tyre squashes, which axle locks first, how far the lamps' beam moves.

Source: method sections 4 and 13.
"""

from __future__ import annotations

from collections.abc import Mapping

from vantok_core.base.num import G
from vantok_core.base.say import Quantity, length
from vantok_core.benches.tyre import FRONT_BRAKES, brake_balance, tyre_pressure
from vantok_core.facts import Job
from vantok_core.facts.classes import LOAD_INDEX
from vantok_core.judge.benches.bench import Answer, Ask, Bench, Draft, Values, maybe, number
from vantok_core.model import JobModel

GRIP, WALL = 0.8, 10.0
"""A dry road's grip, and how far off the wall is (m), where nobody says."""


def _answer(values: Values) -> Answer:
    draft, load = Draft(), number(values, "load")
    each, index = load * G / max(number(values, "tyres"), 1.0), round(number(values, "index"))
    most = LOAD_INDEX.get(index, 0) * G
    least, rate = maybe(values, "least") or 0.0, maybe(values, "rate")
    found = tyre_pressure(each, most_load=most, most_pressure=number(values, "most"), least=least, rate=rate)
    draft.row("Each tyre carries", Quantity(each / G, "mass"))
    draft.row(f"Index {index} allows", Quantity(most / G, "mass"))
    floor = " That is the maker's least." if found.at_minimum else ""
    text = f"It takes {{p}}, estimated from the load index: the maker's table comes before it.{floor}"
    draft.say(text, p=Quantity(found.pressure, "pressure"))
    if found.squash is not None:
        draft.row("Squash", length(found.squash))
    _brakes(draft, values)
    rise, base = maybe(values, "rise"), maybe(values, "wheelbase")
    if rise is not None and base:
        moved = length(rise / base * (maybe(values, "wall") or WALL))
        draft.row("Lamps' cut-off on the wall moves by", moved)
        draft.say(
            "Nose up by that, the cut-off stands {moved} higher on the wall: aim the lamps again at the height it is driven at.",
            moved=moved,
        )
    return draft.done(load=load, squash=found.squash or 0.02)


def _brakes(draft: Draft, values: Values) -> None:
    """Say which axle locks first, where the weight's place is known."""
    share, height, base = (maybe(values, name) for name in ("rear_share", "height", "wheelbase"))
    if share is None or height is None or base is None:
        return
    found = brake_balance(
        maybe(values, "grip") or GRIP, share, height, base, front_brakes=maybe(values, "front_brakes") or FRONT_BRAKES
    )
    draft.row("Locks first", f"{found.first}, at {found.z:.2f} g")
    draft.say(
        f"On that grip the {found.first} locks first, at {found.z:.2f} g; {found.transfer_share:.0%} of the weight has moved forward by then."
    )
    draft.note("An estimate of balance, not of stopping distance.")
    if found.first == "rear":
        draft.say(
            "A rear axle that locks first swings the tail round: have the brakes' load valve looked at before it tows.",
            "act",
        )


def _of_job(job: Job, model: JobModel | None) -> Mapping[str, tuple[float | str, str]]:
    found: dict[str, tuple[float | str, str]] = {}
    v = job.vehicle
    if v.rear_tyre_index is not None:
        found["index"] = (float(v.rear_tyre_index), "the rear tyres")
    if v.dual_rear:
        found["tyres"] = (4.0, "dual wheels")
    if v.base_m is not None:
        found["wheelbase"] = (v.base_m, "the vehicle's wheelbase")
    if model is not None:
        rear, front = (float(sum(a.ref_load)) / G for a in (model.vehicle.rear, model.vehicle.front))
        found |= {
            "load": (rear, "the rear axle in the reference"),
            "rear_share": (rear / (rear + front), "the axles in the reference"),
            "rate": (float(model.vehicle.rear.tyre_rate), "the class of tyre"),
        }
    return found


BENCH = Bench(
    key="tyre", words="Tyres and brakes", question="What pressure does this load need, and what does it do to brakes and lamps?",
    asks=(
        Ask(name="load", words="Axle load", kind="mass", first=1500.0), Ask(name="tyres", words="Tyres on the axle", kind="count", first=2.0),
        Ask(name="index", words="Load index on the wall", kind="count", first=112.0),
        Ask(name="most", words="Pressure that index holds at", kind="pressure", first=450_000.0), Ask(name="least", words="Maker's least pressure",
        kind="pressure", needed=False),
        Ask(name="rate", words="Tyre's rate", kind="rate", needed=False), Ask(name="wheelbase", words="Wheelbase", kind="length", needed=False),
        Ask(name="rear_share", words="Rear share of the weight, 0 to 1", kind="count", needed=False),
        Ask(name="height", words="Centre of mass, height", kind="length", needed=False), Ask(name="grip", words="Grip, 0.8 on dry road", kind="count",
        needed=False),
        Ask(name="front_brakes", words="Front brakes' share, 0.65 if nobody knows", kind="count", needed=False), Ask(name="rise",
        words="Nose up, front against rear", kind="length", needed=False),
        Ask(name="wall", words="Wall at", kind="length", needed=False),
    ),
    answer=_answer, of_job=_of_job,
)  # fmt: skip
