"""What every bench answers, and all that is said of the planted jobs, as somebody last read it (`tests/told`)."""

from __future__ import annotations

import unittest
from collections.abc import Iterator
from dataclasses import fields, is_dataclass
from datetime import date, timedelta
from typing import Any

from tests.core.test_prover import SHELF, of
from tests.told import held_against, once
from vantok_core.base.errors import VantokError
from vantok_core.base.names import DATUMS
from vantok_core.base.say import Quantity, Say
from vantok_core.facts import JobReading
from vantok_core.judge.benches.all import BENCHES
from vantok_core.judge.benches.bench import Answer
from vantok_core.judge.diagnose.diagnosis import diagnose
from vantok_core.judge.grounds.next_step import next_step
from vantok_core.judge.measure.checks import check_reading
from vantok_core.judge.visits.over_visits import Line, going, since_fitting
from vantok_core.model import build_model
from vantok_core.practice.planted import said_of
from vantok_core.practice.planted_jobs import planted
from vantok_core.procedure.card import may_follow

LESS, MORE = 0.8, 1.2
NOUGHT = 1e-7
HANDED = date(2026, 3, 2)
READ = (0.02, 0.06, 0.085, 0.12, 0.3, 0.5, 0.84, 0.9, 1.6)
FILLED: dict[str, dict[str, Any]] = {
    "leaf": {
        "arch": 0.1,
        "second_gap": 0.03,
        "second_rate": 40e3,
        "shackle": 90e3,
        "block": 0.05,
        "force": 9000.0,
        "radius": 0.36,
        "front_gain": 0.03,
        "rake_now": -0.02,
        "rake_wished": 0.02,
        "new_rate": 45e3,
    },
    "air": {
        "across": 0.13,
        "height": 0.17,
        "pressed": 0.03,
        "later": 1.9e5,
        "hours": 24.0,
        "warm": 298.15,
        "cold": 278.15,
        "high": 1500.0,
        "bore": 0.004,
        "line": 3.0,
        "litres": 2.0,
        "route": 2.4,
        "travel": 0.2,
        "hot": 0.3,
    },
    "insert": {"slices": 2.0, "slice": 0.01, "curve": ((0.01, 450.0), (0.03, 2400.0), (0.06, 10500.0))},
    "damper": {
        "places": (0.1, 0.06, 0.42, 0.02, 0.02, 0.43),
        "reservoir": 0.03,
        "adjuster": 0.03,
        "hose": 0.05,
        "even": "yes",
        "leaks": "no",
    },
    "valves": {
        "bump_hard": ((0.1, 400.0), (0.3, 900.0)),
        "rebound_hard": ((0.1, 800.0), (0.3, 1700.0)),
        "clicks": 8.0,
        "click": 3.0,
        "ratio": 0.8,
        "count": 2.0,
        "spring": 40e3,
        "spring_before": 32e3,
        "mass": 500.0,
        "speed": 12.0,
        "wave": 1.5,
        "high": 0.02,
    },
    "bar": {
        "bore": 0.012,
        "ratio": 0.6,
        "lift": 0.05,
        "clear": 0.03,
        "front_roll": 60e3,
        "rear_roll": 40e3,
        "tyre_rate": 260e3,
        "diameter_2": 0.032,
        "arm_2": 0.28,
    },
    "stabilizer": {"toe_gain": 5.0, "travel": 0.08, "damping": 900.0, "lever": 0.2, "by_hand": "clear"},
    "tyre": {
        "least": 250e3,
        "rate": 260e3,
        "wheelbase": 3.2,
        "left": 700.0,
        "right": 800.0,
        "rear_share": 0.4,
        "empty_share": 0.55,
        "empty_height": 0.6,
        "height": 0.75,
        "grip": 0.8,
        "front_brakes": 0.65,
        "rise": 0.03,
    },
    "tongue": {
        "held": 0.5,
        "axle": 4.0,
        "trailer": 1800.0,
        "least": 0.04,
        "most": 0.1,
        "wheelbase": 3.2,
        "overhang": 1.1,
        "limit": 180.0,
    },
    "yaw": {"damper": 3000.0},
    "thread": {
        "over": 0.00984,
        "pitch": 0.0015,
        "bracket": 0.0523,
        "bush": 0.0451,
        "stock": ((0.001, 4.0), (0.0015, 4.0), (0.002, 2.0), (0.003, 2.0)),
        "torque": 60.0,
        "diameter": 0.01,
    },
}
"""What a bench asks for besides its first figures, as somebody would know it."""


def shown(one: object) -> str:
    """Return a figure or a sentence in words; of a number three digits."""
    if isinstance(one, Quantity | Say):
        return one.in_units("metric")
    return digits(one) if isinstance(one, float) else str(one)


def digits(value: float) -> str:
    """Return three digits of a number; what is left of nought by rounding is nought."""
    return f"{value:.3g}" if abs(value) > NOUGHT else "0"


def tried(key: str) -> Iterator[tuple[str, dict[str, Any]]]:
    """Yield a bench's first figures; all it asks for; and of those each in turn less, more, left out or chosen otherwise."""
    asks = BENCHES[key].asks
    first = {one.name: one.first for one in asks if one.first is not None}
    full = first | FILLED[key]
    yield "as it stands", first
    yield "all of it", full
    for one in asks:
        value = full.get(one.name)
        if one.name in FILLED[key]:
            yield f"without {one.name}", {name: other for name, other in full.items() if name != one.name}
        if isinstance(value, float | tuple):
            yield f"{one.name} less", full | {one.name: _times(value, LESS)}
            yield f"{one.name} more", full | {one.name: _times(value, MORE)}
        for choice, _ in one.choices:
            yield f"{one.name} {choice}", full | {one.name: choice}


def _times(value: float | tuple[Any, ...], factor: float) -> Any:
    """Return a figure, a list's or the second of each pair of points, times a factor."""
    if isinstance(value, float):
        return value * factor
    return tuple((x[0], x[1] * factor) if isinstance(x, tuple) else x * factor for x in value)


def answer_told(answer: Answer) -> Iterator[str]:
    """Yield all that an answer says, with its figures, tables and what it gives a kit."""
    yield answer.tone
    yield from (shown(one) for one in answer.said)
    yield from answer.notes
    yield from (f"{row.words} {shown(row.value)}" for row in answer.rows)
    for chart in answer.charts:
        yield f"{chart.words} ({chart.chosen})"
        yield from (", ".join(shown(cell) for cell in row) for row in chart.rows)
    yield from (f"{name} = {digits(value)}" for name, value in answer.gives.items())
    yield from (f"drawn {name} {digits(value)}" for name, value in answer.drawn.items())
    yield from (
        f"curve {name} " + " ".join(f"{digits(x)}/{digits(y)}" for x, y in points[:: max(1, len(points) // 4)])
        for name, points in answer.curves.items()
    )


BESIDE = ("report", "state", "margins")
"""Of a state's view: told elsewhere, by its states and limits."""


def figures(one: object, name: str = "") -> Iterator[str]:
    """Yield every figure in a result, with where it stands."""
    if isinstance(one, float | int | str) or one is None:
        yield f"{name} {shown(one)}"
    elif isinstance(one, dict):
        for key, value in one.items():
            yield from figures(value, f"{name} {key}")
    elif isinstance(one, tuple | list):
        for value in one:
            yield from figures(value, name)
    elif isinstance(one, Quantity | Say):
        yield f"{name} {shown(one)}"
    elif is_dataclass(one):
        for field in (field for field in fields(one) if field.name not in BESIDE):
            yield from figures(getattr(one, field.name), f"{name} {field.name}")


class Told(unittest.TestCase):
    def bench(self, key: str) -> None:
        """Hold a bench's answers against its file."""
        seen: set[str] = set()
        lines = []
        for what, values in tried(key):
            try:
                said = list(answer_told(BENCHES[key].answer(values)))
            except VantokError as error:
                said = [f"refused: {error}"]
            lines.append(once(what, said, seen))
        held_against(self, f"bench-{key}", lines)

    def test_all_that_is_said_of_planted_jobs(self) -> None:
        """Stage by stage, each finding with what to do and the figures of each state."""
        lines = []
        for one in planted():
            said = said_of(one.job)
            lines.append(one.key)
            lines += [f"  {stage}: {v.tone}: {v.in_units('metric')}" for stage, v in said.verdicts.items()]
            lines += [
                f"  {f.key} {f.tone} {f.where}: {shown(f.what)} {shown(f.do)}" for f in (*said.sheet, *said.findings)
            ]
            lines += [f"  open: {shown(say)}" for say in said.open]
            if said.diagnosis is not None:
                for part in (*said.diagnosis.views, *said.diagnosis.rates, *said.diagnosis.restore):
                    lines.append(f"  {type(part).__name__}: {' | '.join(one.strip() for one in figures(part))}")
        held_against(self, "planted", lines)

    def test_what_planted_jobs_hand_to_the_benches_and_ask_next(self) -> None:
        """What each bench takes from a job and where from; what to measure next, and what that would settle."""
        lines, seen = [], set[str]()
        for one in planted():
            try:
                model = build_model(one.job)
            except VantokError:
                continue
            for key, bench in BENCHES.items():
                try:
                    known = bench.of_job(one.job, model)
                except VantokError:
                    known = bench.of_job(one.job, None)
                lines.append(
                    once(f"{one.key} {key}", (f"{n} {shown(v)} from {w}" for n, (v, w) in known.items()), seen)
                )
            step = next_step(model, diagnose(model).unweighed)
            lines.append(f"{one.key} next: {' | '.join(figures(step)) if step else 'nothing'}")
        held_against(self, "next", lines)

    def test_readings_of_any_size(self) -> None:
        """What is odd about a reading of each datum from a hand's breadth to a man's height, by itself and beside the others."""
        lines, seen = [], set[str]()
        base = next(one.job for one in planted() if one.key == "half-ton-tongue")
        for datum in DATUMS:
            for value in READ:
                odd = check_reading(base, JobReading(state="loaded", place="RL", datum=datum, value_m=value))
                lines.append(once(f"{datum} {value} m", (f"{f.key}: {shown(f.what)} {shown(f.do)}" for f in odd), seen))
        held_against(self, "readings", lines)

    def test_visits_and_the_order_of_a_card(self) -> None:
        """How far a kit has let a vehicle down since it was fitted; which steps of each construction's card may be done after which."""
        lines = [
            f"now {now} m, {expected} m expected: {said.tone}: {said.in_units('metric')}"
            for now in (0.9, 0.895, 0.88, 0.85, 0.91)
            for expected in (0.0, 0.01, 0.04)
            for said in (since_fitting("Rear", 0.9, now, expected),)
        ]
        for slope in (-0.012, -0.003, 0.0, 0.004):
            for gap in (None, 0.02, 0.0):
                read = tuple((HANDED + timedelta(days=200 * n), 0.95 + slope * n) for n in range(4))
                said = going(Line(name="rear", visits=read, gap=gap)).said
                lines.append(f"{slope} m a visit, gap {gap}: {said.tone}: {said.in_units('metric')}")
        for code, kit in SHELF.items():
            steps = of(kit).steps
            after = [(a.key, b.key) for a in steps for b in steps if may_follow(steps, a, b)]
            lines.append(f"{code}: {len(after)} " + " ".join(f"{a}<{b}" for a, b in after[:: max(1, len(after) // 12)]))
        held_against(self, "visits", lines)


def _of(key: str) -> Any:
    def test(self: Told) -> None:
        self.bench(key)

    test.__doc__ = f"The {key} bench, with each of its figures less and more."
    return test


for _key in BENCHES:
    setattr(Told, f"test_the_{_key}_bench", _of(_key))
