"""Drills: a question each, made from a seed, with its answer kept here until something is answered.

What is asked: fractions on a tape, sag with its sign, a lever by head, a thread by its look, the state a torque is meant in, the next inspection.
Source: method sections 1, 2, 13 and 19; the trade's practice.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from fractions import Fraction

import numpy as np

from vantok_core.aims.complaints import COMPLAINTS
from vantok_core.base.errors import InputError, UnitError
from vantok_core.base.say import Quantity, Say, Worded, length, mass
from vantok_core.base.units import System, parse
from vantok_core.benches.thread import torque_in_state
from vantok_core.facts import Complaint, Inspected, Job, JobVehicle
from vantok_core.judge.diagnose.causes import likely_causes

INCH = 0.0254
SIXTEENTHS = 16


@dataclass(frozen=True, slots=True, kw_only=True)
class Asked:
    """A drill's question. picture: of a tape, where its edge stands (m) and in which unit; options: by key, where one is chosen; answer: a figure (SI) or a
    key; kind: of figure, empty where one is chosen; near: how near counts, SI; why: told once answered; worth: what each option is worth, 0 to 1."""

    words: Say
    answer: float | str
    why: Say
    kind: str = ""
    near: float = 0.0
    options: Mapping[str, str] = field(default_factory=dict)
    worth: Mapping[str, float] = field(default_factory=dict)
    tape_m: float | None = None
    tape_in: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Drill:
    """A kind of drill: its words, the skill it is of, and what makes a question."""

    words: str
    skill: str
    make: Callable[[np.random.Generator], Asked]


@dataclass(frozen=True, slots=True, kw_only=True)
class Answered:
    """How an answer was: 0 to 1, what is right in words, and why."""

    share: float
    right: Say
    why: Say


def _fraction(rng: np.random.Generator) -> Asked:
    sixteenths = int(rng.integers(28 * SIXTEENTHS, 38 * SIXTEENTHS))
    value = sixteenths * INCH / SIXTEENTHS
    return Asked(
        words=Say("What does the tape read at the mark? In inches, to the sixteenth."),
        answer=value,
        kind="length",
        near=INCH / SIXTEENTHS / 4,
        why=Say(
            "The longest lines between two inches are the halves, then quarters, eighths, sixteenths: count from the last whole inch."
        ),
        tape_m=value,
        tape_in=True,
    )


def _millimetres(rng: np.random.Generator) -> Asked:
    value = float(rng.integers(720, 960)) / 1000.0
    return Asked(
        words=Say("What does the tape read at the mark? In millimetres."),
        answer=value,
        kind="length",
        near=0.0004,
        why=Say("Read the last ten below the mark, then count the short lines."),
        tape_m=value,
    )


def _sign(rng: np.random.Generator) -> Asked:
    empty, sag = float(rng.integers(840, 930)) / 1000.0, float(rng.integers(12, 70)) / 1000.0
    hub = bool(rng.integers(2))
    down = {"a": empty, "b": empty - sag} if not hub else {"a": empty - 0.36, "b": empty - 0.36 - 0.8 * sag}
    told = {"a": length(round(down["a"], 3)), "b": length(round(down["b"], 3))}
    where = "Hub to arch" if hub else "Ground to arch"
    taken = round(down["a"], 3) - round(down["b"], 3)
    why = (
        "Hub to arch sees springs alone: what the tyre gives is not in it, so it goes down by less than ground to arch."
        if hub
        else "Ground to arch sees springs and tyre together: sag is empty less loaded, positive downwards."
    )
    return Asked(
        words=Say(
            "{where} read {a} empty and {b} loaded. What is the sag there, with its sign?", {**told, "where": where}
        ),
        answer=taken,
        kind="length",
        near=0.0006,
        why=Say(why),
    )


def _lever(rng: np.random.Generator) -> Asked:
    base, back = float(rng.integers(28, 40)) / 10.0, float(rng.integers(9, 16)) / 10.0
    tongue = float(rng.integers(6, 22) * 10)
    lost = tongue * back / base
    values = {"base": length(base), "back": length(back), "m": mass(tongue)}
    return Asked(
        words=Say(
            "Wheelbase {base}, ball {back} behind the rear axle, {m} on it. How much does the front axle lose?", values
        ),
        answer=lost,
        kind="mass",
        near=max(0.08 * lost, 2.0),
        why=Say(
            "Tongue times overhang over wheelbase: {lost}. The rear gains the tongue and that on top.",
            {"lost": mass(lost)},
        ),
    )


THREADS = {
    "M8": (8.0, 1.25),
    "M10": (10.0, 1.5),
    "M10 fine": (10.0, 1.25),
    "M12": (12.0, 1.75),
    "M12 fine": (12.0, 1.5),
    "M14": (14.0, 2.0),
}


def _thread(rng: np.random.Generator) -> Asked:
    name = str(rng.choice(list(THREADS)))
    across, pitch = THREADS[name]
    values = {"d": Quantity((across - 0.15) / 1000.0, "depth"), "ten": Quantity(10 * pitch / 1000.0, "depth")}
    return Asked(
        words=Say("A bolt measures {d} over its thread, ten crests stand {ten} long. Which thread?", values),
        answer=name,
        options={one: f"{one}, pitch {THREADS[one][1]:g} mm" for one in THREADS},
        why=Say(
            "A bolt measures a little under its name; ten crests over ten are the pitch. The pitch tells coarse from fine."
        ),
    )


STATES = {"dry": "dry", "oiled": "oiled", "locker": "with thread locker"}


def _torque(rng: np.random.Generator) -> Asked:
    meant, is_now = "dry", str(rng.choice(["oiled", "locker"]))
    torque, across = float(rng.integers(5, 14) * 10), 0.012
    found = torque_in_state(torque, across, meant, is_now)
    values = {"t": Quantity(torque, "torque"), "same": Quantity(found.torque, "torque")}
    return Asked(
        words=Say(
            "The table says {t} for a dry thread; it goes in {state}. What do you do?",
            {**values, "state": STATES[is_now]},
        ),
        answer="ask",
        options={
            "same": "Tighten to the table’s figure",
            "ask": "Clean it dry as the table means it, or ask its maker for a figure for this state",
            "more": "A little more, since it slips",
            "feel": "By feel: it will hold",
        },
        why=Say(
            "Slippery, the same torque clamps harder and can stretch the bolt: about {same} would clamp alike, "
            "but that is no maker's figure. A torque belongs to its state.",
            values,
        ),
    )


def _next_test(rng: np.random.Generator) -> Asked:
    code = str(rng.choice([c for c, one in COMPLAINTS.items() if len(one.causes) > 2]))
    sound = bool(rng.integers(2))
    looked = (Inspected(area="dampers", grade="fine"),) if sound else ()
    job = Job(vehicle=JobVehicle(rear_spring="leaf_solid"), complaints=(Complaint(code=code),), inspection=looked)
    (likely,) = likely_causes(job, None)
    tests = list(likely.tests)
    best = tests[0].rate
    shown = [tests[i] for i in sorted(rng.permutation(len(tests))[:4])] if len(tests) > 4 else tests
    if tests[0] not in shown:
        shown[int(rng.integers(len(shown)))] = tests[0]
    order = [shown[i] for i in rng.permutation(len(shown))]
    return Asked(
        words=Say(
            "“{complaint}.” {which}. What next?",
            {
                "complaint": COMPLAINTS[code].words,
                "which": "The dampers were found sound" if sound else "Nothing has been looked at yet",
            },
        ),
        answer=tests[0].key,
        options={one.key: f"{one.words} About {one.minutes:.0f} minutes." for one in order},
        worth={one.key: min(one.rate / best, 1.0) for one in order},
        why=Say("By what usually lies behind it, this tells most for its minutes: {test}", {"test": tests[0].words}),
    )


DRILLS: Mapping[str, Drill] = {
    "fraction": Drill(words="Fractions on a tape", skill="measure", make=_fraction),
    "millimetres": Drill(words="Millimetres on a tape", skill="measure", make=_millimetres),
    "sign": Drill(words="Datum and sign", skill="measure", make=_sign),
    "lever": Drill(words="A lever by head", skill="weigh", make=_lever),
    "thread": Drill(words="Which thread?", skill="set", make=_thread),
    "torque": Drill(words="Torque and its state", skill="set", make=_torque),
    "next": Drill(words="What to look at next", skill="inspect", make=_next_test),
}
"""Every drill."""


def asked(key: str, seed: int) -> Asked:
    """Return a drill's question by its seed. Raises InputError for a drill that is not there."""
    if key not in DRILLS:
        raise InputError("drill", key, f"there are {', '.join(DRILLS)}")
    return DRILLS[key].make(np.random.default_rng([seed, len(key), *key.encode()]))


def answer(key: str, seed: int, text: str, system: System) -> Answered:
    """Return how an answer was, as typed or chosen. Raises UnitError for a text that is no figure, InputError for an option that was not offered."""
    one = asked(key, seed)
    if isinstance(one.answer, str):
        if text not in one.options:
            raise InputError("answer", text or "nothing", "choose one of those offered")
        share = one.worth.get(text, 1.0 if text == one.answer else 0.0)
        return Answered(share=share, right=Say(one.options[one.answer]), why=one.why)
    if not text.strip():
        raise UnitError("Type a figure first.")
    read = parse(one.kind, text, "us" if one.tape_in else system).value
    near = abs(read - one.answer) <= one.near + 1e-9
    return Answered(share=1.0 if near else 0.0, right=_figure(one), why=one.why)


def _figure(one: Asked) -> Say:
    """Return the right figure in words: on an inch tape as it is read there."""
    value = float(one.answer)
    if one.tape_in:
        inches = Fraction(round(value / INCH * SIXTEENTHS), SIXTEENTHS)
        whole = int(inches)
        part: dict[str, Worded] = {"whole": whole, "part": str(inches - whole)}
        return Say("{whole} {part} in" if inches > whole else "{whole} in", part)
    return Say("{v}", {"v": Quantity(value, one.kind)})
