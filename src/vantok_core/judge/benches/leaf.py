"""The leaf bench: what rate, stress and curve a pack has, what one more leaf does, how far the eyes' bushes are wound up.

Source: method section 13.
"""

from __future__ import annotations

from collections.abc import Mapping
from math import degrees

from vantok_core.base.num import G
from vantok_core.base.say import Quantity, length
from vantok_core.benches.leaf import SHAPE, LeafPack, eye_bush, stress_word
from vantok_core.facts import Job
from vantok_core.judge.benches.bench import Answer, Ask, Bench, Draft, Tone, Values, maybe, number
from vantok_core.model import JobModel

MPA = 1e6
STRESS_TONE: dict[str, Tone] = {"easy": "level", "watch": "act", "poor": "limit"}


def _answer(values: Values) -> Answer:
    leaves, draft = values.get("leaves"), Draft()
    pack = LeafPack(
        front=number(values, "front"), rear=number(values, "rear"), width=number(values, "width"), thicknesses=leaves if isinstance(leaves, tuple) else (),
        shape=maybe(values, "shape") or SHAPE,
    )  # fmt: skip
    load, arch = number(values, "load") * G, maybe(values, "arch")
    stress = max(pack.stresses(load))
    word = stress_word(stress)
    draft.row("Rate at the axle, one spring", Quantity(pack.rate, "rate"))
    draft.row("Greatest stress, N/mm²", f"{stress / MPA:.0f}, {word}")
    draft.row("Deflection under the load", length(load / pack.rate))
    draft.say(
        f"{{rate}} a spring; the most loaded leaf is at {stress / MPA:.0f} N/mm²: {word}.",
        STRESS_TONE[word],
        rate=Quantity(pack.rate, "rate"),
    )
    left = _curve(draft, pack, load, arch)
    if (more := maybe(values, "added")) is not None:
        with_one = pack.with_leaf(more)
        gain, lift = Quantity(with_one.rate - pack.rate, "rate"), length(load / pack.rate - load / with_one.rate)
        draft.say(
            "One leaf more adds {gain}; under this load that alone is {lift} higher, empty it rides that much harder.",
            gain=gain,
            lift=lift,
        )
    if (travel := maybe(values, "travel")) is not None:
        twist = degrees(eye_bush(travel, pack.front, maybe(values, "bush") or 0.0, pack.shape).twist)
        draft.row("Fixed eye's bush twists by", f"{twist:.1f}°")
        text = f"Tightened {{travel}} from where it stands, the fixed eye's bush is wound up by {twist:.0f}°: tighten at ride height."
        draft.say(text, travel=length(travel))
    shape = "assumed" if maybe(values, "shape") is None else "as entered"
    draft.note(
        f"Shape factor {pack.shape:.2f}: {shape}. An estimate from the tape; a rate read off the vehicle comes before it."
    )
    return draft.done(
        front=pack.front, rear=pack.rear, arch=arch or 0.1, loaded=left, leaves=float(len(pack.thicknesses))
    )


def _curve(draft: Draft, pack: LeafPack, load: float, arch: float | None) -> float:
    """Say what the load (N) leaves of a free arch (m), and return it; half of a usual one where nobody measured it."""
    if arch is None:
        return 0.05
    left = pack.arch(arch, load)
    draft.row("Arch under the load", length(left))
    if left < 0.0:
        text = "The main leaf is reversed by {back} under the load: the next stage works higher up, and breaks there."
        draft.say(text, "limit", back=length(-left))
    return left


def _of_job(job: Job, model: JobModel | None) -> Mapping[str, tuple[float | str, str]]:
    found: dict[str, tuple[float | str, str]] = {}
    if (width := job.vehicle.sizes.get("rear_leaf_width_m")) is not None:
        found["width"] = (width, "the vehicle's sizes")
    if model is not None:
        found["load"] = (
            float(sum(model.vehicle.rear.ref_load)) / G / 2.0 - model.vehicle.rear.unsprung,
            "the rear axle as it stands in the reference",
        )
    return found


BENCH = Bench(
    key="leaf", words="Leaf springs", question="What does this pack carry, how hard, and what would one more leaf do?",
    asks=(
        Ask(name="front", words="Clamp to front eye", kind="length", first=0.62), Ask(name="rear", words="Clamp to rear eye", kind="length", first=0.74),
        Ask(name="width", words="Leaf width", kind="length", first=0.07), Ask(name="leaves", words="Thickness of each leaf, commas between", kind="list",
        first=(0.008, 0.008, 0.007, 0.007, 0.007)),
        Ask(name="load", words="Load of this one spring, unsprung weight taken off", kind="mass", first=570.0), Ask(name="arch",
        words="Free arch, eyes' line to main leaf", kind="length", needed=False),
        Ask(name="added", words="One more leaf, thickness", kind="length", needed=False), Ask(name="travel", words="Bush tightened so far off ride height",
        kind="length", needed=False),
        Ask(name="bush", words="Bush rate, N·m a radian", kind="count", needed=False), Ask(name="shape",
        words="Shape factor, 1.0 to a point, 1.5 all full length", kind="count", needed=False),
    ),
    answer=_answer, of_job=_of_job,
)  # fmt: skip
