"""The leaf bench: what rate, stress and curve a pack has, what one more leaf does, how far the eyes' bushes are wound up.

Source: method section 13.
"""

from __future__ import annotations

from math import degrees
from typing import Any

from vantok_core.base.errors import InputError
from vantok_core.base.num import G
from vantok_core.base.say import Quantity, length
from vantok_core.benches.leaf import SHAPE, LeafPack, axle_torque, eye_bush, recamber, stress_word
from vantok_core.facts import Fitting, Job
from vantok_core.judge.benches.bench import (
    Answer,
    Ask,
    Bench,
    Cell,
    Chart,
    Draft,
    Known,
    Question,
    Tone,
    Values,
    lengths,
    maybe,
    number,
)
from vantok_core.judge.benches.thresholds import MPA, WOUND_UP
from vantok_core.kits.family import KIT_ELEMENT, SettingField
from vantok_core.kits.fit import fitted_vehicle
from vantok_core.kits.registry import family_of
from vantok_core.model import JobModel
from vantok_core.physics.stance.budget import side_loads

MOST_ROWS = 11
STRESS_TONE: dict[str, Tone] = {"easy": "level", "watch": "act", "poor": "limit"}


def _answer(values: Values) -> Answer:
    draft = Draft()
    pack = LeafPack(
        front=number(values, "front"),
        rear=number(values, "rear"),
        width=number(values, "width"),
        thicknesses=lengths(values, "leaves"),
        shape=maybe(values, "shape") or SHAPE,
    )
    load, arch = number(values, "load") * G, maybe(values, "arch")
    if load < 0.0:
        raise InputError("load", load, "the load of a spring is not below nought")
    stress = max(pack.stresses(load))
    word = stress_word(stress)
    draft.row("Rate at the axle, one spring", Quantity(pack.rate, "rate"))
    draft.row("Greatest stress, N/mm²", f"{stress / MPA:.0f}, {word}")
    draft.row("Deflection under the load", length(load / pack.rate))
    draft.say(
        "{rate} a spring; the most loaded leaf is at {stress} N/mm²: {word}.",
        STRESS_TONE[word],
        rate=Quantity(pack.rate, "rate"),
        stress=f"{stress / MPA:.0f}",
        word=word,
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
        draft.say(
            "Tightened {travel} from where it stands, the fixed eye's bush is wound up by {twist}°: tighten at ride height.",
            travel=length(travel),
            twist=f"{twist:.0f}",
        )
    _helpers_and_blocks(draft, values, pack)
    _wound_up(draft, values, pack)
    _recambered(draft, values, pack, load, arch)
    shape = "assumed" if maybe(values, "shape") is None else "as entered"
    draft.note(
        f"Shape factor {pack.shape:.2f}: {shape}. An estimate from the tape; a rate read off the vehicle comes before it."
    )
    return draft.done(
        front=pack.front,
        rear=pack.rear,
        arch=arch or 0.1,
        known=float(arch is not None),
        loaded=left,
        leaves=float(len(pack.thicknesses)),
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


def _helpers_and_blocks(draft: Draft, values: Values, pack: LeafPack) -> None:
    """Say what a second stage, a shackle in series, a packer and a block do, each told apart."""
    gap, second, load = maybe(values, "second_gap"), maybe(values, "second_rate"), number(values, "load") * G
    if gap is not None:
        at = pack.rate * gap
        draft.say(
            "The second stage is met {gap} further down, at {at} on this spring.",
            gap=length(gap),
            at=Quantity((at + load) / G, "mass"),
        )
        if second:
            draft.say("From there it is {both} a spring.", both=Quantity(pack.rate + second, "rate"))
    if (shackle := maybe(values, "shackle")) is not None:
        if shackle <= 0.0:
            raise InputError("shackle", shackle, "a shackle's rate is above nought")
        series = pack.rate * shackle / (pack.rate + shackle)
        draft.row("With the rubber shackle in series", Quantity(series, "rate"))
        draft.say(
            "With the shackle in series the wheel feels {k} a spring: softer, and lower by {down} under this load.",
            k=Quantity(series, "rate"),
            down=length(load / series - load / pack.rate),
        )
    if (packer := maybe(values, "packer")) is not None:
        draft.say(
            "A packer between the leaves of {t} adds no rate and no height worth the name: it fills, no more.",
            t=length(packer),
        )
    if (block := maybe(values, "block")) is not None:
        draft.say(
            "A block of {t} raises by {t}, adds no rate, and lengthens the lever that winds the pack up.",
            "act",
            t=length(block),
        )


def _wound_up(draft: Draft, values: Values, pack: LeafPack) -> None:
    """Say how far braking or driving turns the seat, the block's lever counted."""
    force, radius = maybe(values, "force"), maybe(values, "radius")
    if force is None or radius is None:
        return
    seat, block = maybe(values, "seat") or 0.0, maybe(values, "block") or 0.0
    now = degrees(pack.wind_up(axle_torque(force, radius, seat, block)))
    draft.row("Seat turns by", f"{now:.1f}°")
    without = degrees(pack.wind_up(axle_torque(force, radius, seat)))
    more = f", {now - without:.1f}° of it the block's" if block else ""
    draft.say(
        "That force at the ground turns the seat by {now}°{more}: look at the driveshaft's angle and the brake lines.",
        "act" if now > WOUND_UP else "level",
        now=f"{now:.1f}",
        more=more,
    )


def _recambered(draft: Draft, values: Values, pack: LeafPack, load: float, arch: float | None) -> None:
    """Say what free arch the rear needs, the front done first."""
    told = {name: maybe(values, name) for name in ("front_gain", "rake_now", "rake_wished")}
    if arch is None or None in told.values():
        return
    front, now, wished = (told[name] or 0.0 for name in ("front_gain", "rake_now", "rake_wished"))
    found = recamber(
        front, wished, now, arch=arch, load=load, rate=pack.rate, new_rate=maybe(values, "new_rate") or pack.rate
    )
    draft.row("Rear to gain", length(found.gain))
    draft.row("New free arch", length(found.arch))
    draft.say(
        "Front first, read it; then the rear gains {gain}: bend it to a free arch of {arch}.",
        gain=length(found.gain),
        arch=length(found.arch),
    )


def _helper_chart(job: Job, model: JobModel) -> tuple[Chart, ...]:
    """Return what each hole, disc or turn of the job's helper presses with in each state, and its share of what the axle's springs carry."""
    fitting = job.fitting
    if fitting is None:
        return ()
    family = family_of(fitting.kit)
    field = next(iter(family.set_by(fitting.kit)), None)
    if field is None or not family.lifts or family.sealed:
        return ()
    span = family.spans(fitting.kit)[field.name]
    count = min(round((span.high - span.low) / span.step), MOST_ROWS)
    steps = [span.low + (span.high - span.low) * n / max(count, 1) for n in range(count + 1)]
    states = [s for s in job.states if s.key in model.states]
    rows = [_helper_row(model, fitting, field, step, [s.key for s in states]) for step in steps]
    heads = (field.words.capitalize(), *(head for s in states for head in (s.name, "share")))
    return (
        Chart(
            words=f"{fitting.kit.name}: force a side, and its share of what the springs carry",
            heads=heads,
            rows=tuple(rows),
        ),
    )


def _helper_row(
    model: JobModel, fitting: Fitting, field: SettingField, step: float, states: list[str]
) -> tuple[Cell, ...]:
    """Return what a helper presses with at one step of its setting, and its share, in each state."""
    tried = fitting.model_copy(update={"setting": {**fitting.setting, field.name: (step, step)}})
    solved = model.solved(fitted_vehicle(model, tried))
    row: list[Cell] = [Quantity(step, field.kind)]
    for key in states:
        loads = side_loads(solved[key], "front" if fitting.kit.axle == "front" else "rear")
        mine = 0.5 * sum(loads.get(KIT_ELEMENT, (0.0, 0.0)))
        whole = 0.5 * sum(sum(pair) for pair in loads.values())
        row += [Quantity(mine, "force"), Quantity(mine / whole, "percent")]
    return tuple(row)


def _of_job(job: Job, model: JobModel | None) -> Known:
    found: dict[str, Any] = {}
    if (width := job.vehicle.sizes.get("rear_leaf_width_m")) is not None:
        found["width"] = (width, "the vehicle's sizes")
    if model is not None:
        found["load"] = (
            float(sum(model.vehicle.rear.ref_load)) / G / 2.0 - model.vehicle.rear.unsprung,
            "the rear axle as it stands in the reference",
        )
    return found


BENCH = Bench(
    key="leaf",
    words="Leaf springs",
    questions=(
        Question(
            key="carries",
            words="What does this pack carry, and how hard?",
            asks=(
                "front",
                "rear",
                "width",
                "leaves",
                "load",
                "arch",
            ),
        ),
        Question(
            key="added",
            words="What would one more leaf do?",
            asks=(
                "added",
                "load",
                "arch",
                "leaves",
            ),
        ),
        Question(
            key="stage",
            words="When does the second stage come in?",
            asks=(
                "second_gap",
                "second_rate",
                "travel",
            ),
        ),
        Question(
            key="blocks",
            words="What do shackle, packer and block do?",
            asks=(
                "shackle",
                "packer",
                "block",
            ),
        ),
        Question(
            key="force",
            words="What bends it to this radius?",
            asks=(
                "force",
                "radius",
                "seat",
            ),
        ),
        Question(
            key="rake",
            words="What rake comes of it?",
            asks=(
                "front_gain",
                "rake_now",
                "rake_wished",
                "new_rate",
            ),
        ),
        Question(
            key="bush",
            words="Which bush?",
            asks=(
                "bush",
                "shape",
            ),
        ),
    ),
    asks=(
        Ask(name="front", words="Clamp to front eye", kind="length", first=0.62),
        Ask(name="rear", words="Clamp to rear eye", kind="length", first=0.74),
        Ask(name="width", words="Leaf width", kind="length", first=0.07),
        Ask(
            name="leaves",
            words="Thickness of each leaf, commas between",
            kind="list",
            first=(0.008, 0.008, 0.007, 0.007, 0.007),
        ),
        Ask(name="load", words="Load of this one spring, unsprung weight taken off", kind="mass", first=570.0),
        Ask(name="arch", words="Free arch, eyes' line to main leaf", kind="length", needed=False),
        Ask(name="added", words="One more leaf, thickness", kind="length", needed=False),
        Ask(name="travel", words="Bush tightened so far off ride height", kind="length", needed=False),
        Ask(name="second_gap", words="Second stage, gap to it", kind="length", needed=False),
        Ask(name="second_rate", words="Second stage, its rate", kind="rate", needed=False),
        Ask(name="shackle", words="Rubber shackle, its rate", kind="rate", needed=False),
        Ask(name="packer", words="Packer between the leaves", kind="length", needed=False),
        Ask(name="block", words="Block between spring and axle", kind="length", needed=False),
        Ask(name="force", words="Braking or driving force of the axle at the ground", kind="force", needed=False),
        Ask(name="radius", words="Tyre's radius", kind="length", needed=False),
        Ask(name="seat", words="Spring seat above the axle's centre", kind="length", needed=False),
        Ask(name="front_gain", words="Recamber: the front gains", kind="length", needed=False),
        Ask(name="rake_now", words="rake now", kind="length", needed=False, signed=True),
        Ask(name="rake_wished", words="rake wished", kind="length", needed=False, signed=True),
        Ask(name="new_rate", words="new rate, if other", kind="rate", needed=False),
        Ask(name="bush", words="Bush rate, N·m a radian", kind="count", most=1e6, needed=False),
        Ask(name="shape", words="Shape factor, 1.0 to a point, 1.5 all full length", kind="count", needed=False),
    ),
    works=_answer,
    of_job=_of_job,
    of_kit=_helper_chart,
    places={
        "thickness": "leaves",
        "lengths": "front",
        "load": "load",
        "bush": "front",
        "radius": "radius",
        "rate": "new_rate",
    },
)
