"""Where an axle's stiffness comes from, and who carries the load: main spring, second stage, helpers, tyre (method section 9)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from vantok_core.base.num import G
from vantok_core.physics.elements.air import BUMP, ISOTHERMAL
from vantok_core.physics.elements.laws import Spring
from vantok_core.physics.stance.assembly import AxleLines, Line
from vantok_core.physics.stance.states import SolvedState, sealed_here
from vantok_core.physics.vehicle import AxleName


@dataclass(frozen=True, slots=True, kw_only=True)
class Stage:
    """One stage's part: rate per side (N/m) and load at the wheels of the axle (N), each with its share."""

    rate: float
    load: float
    rate_share: float
    load_share: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Budget:
    """An axle's tangent wheel rate per side (N/m), with its tyre in series, the tyre's share of the give, and each stage's part."""

    rate: float
    with_tyre: float
    tyre_give: float
    stages: Mapping[str, Stage]


def stiffness_budget(solved: SolvedState, name: AxleName) -> Budget:
    """Return an axle's budget in a solved state.

    Both wheels moved together, bars left out, air shut where it stands (n = 1); loads summed over the axle, rates the mean per side.
    Source: method section 9.
    """
    axle, stance = solved.axle(name)
    shut = sealed_here(axle, stance, ISOTHERMAL)
    z = (float(stance.z[0]), float(stance.z[1]))
    found: dict[str, tuple[float, float]] = {}
    for line in shut.lines:
        stages = _main_stages(line) if line.main else {line.name: line}
        found |= {key: _part(one, z) for key, one in stages.items()}
    rate = sum(r for r, _ in found.values())
    load = float(stance.force[0] + stance.force[1])
    k_t = float(axle.tyre_rate)
    parts = {key: Stage(rate=r, load=f, rate_share=r / rate, load_share=f / load) for key, (r, f) in found.items()}
    return Budget(rate=rate, with_tyre=rate * k_t / (rate + k_t), tyre_give=rate / (rate + k_t), stages=parts)


def side_loads(solved: SolvedState, name: AxleName) -> dict[str, tuple[float, float]]:
    """Return what each stage of an axle carries at its left and right wheel (N) in a solved state, by the stage's name.

    Source: method section 9, a side by itself.
    """
    axle, stance = solved.axle(name)
    shut = sealed_here(axle, stance, ISOTHERMAL)
    found: dict[str, tuple[float, float]] = {}
    for line in shut.lines:
        for key, one in (_main_stages(line) if line.main else {line.name: line}).items():
            f_l, f_r, *_ = one.press(*stance.z)
            found[key] = (float(f_l), float(f_r))
    return found


@dataclass(frozen=True, slots=True, kw_only=True)
class RollParts:
    """What holds an axle against roll, bars left out (N m/rad): its main springs, the other parts that were on it, what a kit adds; its tyres in series."""

    main: float
    others: float
    kit: float
    tyres: float


def roll_parts(solved: SolvedState, name: AxleName, n: float) -> RollParts:
    """Return what each part of an axle adds to its roll stiffness in a solved state, air shut at exponent n; a part that does not touch adds nothing.

    Formula: `t^2 / 4` times what one wheel up and the other down by the same is pressed back with, per unit; tyres `k_t t^2 / 2`. Source: method
    sections 4 and 20.
    """
    axle, stance = solved.axle(name)
    half = float(axle.half_track)
    found = {"main": 0.0, "others": 0.0, "kit": 0.0}
    for line in sealed_here(axle, stance, n).lines:
        _, _, k_ll, k_lr, k_rl, k_rr = line.press(*stance.z)
        found["main" if line.main else "kit" if line.kit else "others"] += float(half**2 * (k_ll + k_rr - k_lr - k_rl))
    return RollParts(**found, tyres=2.0 * float(axle.tyre_rate) * half**2)


def roll_stiffness(solved: SolvedState, name: AxleName) -> float:
    """Return an axle's roll stiffness (N m/rad) in a solved state, its bars and helpers with it, air shut where it stands, tyres left out.

    Formula: `t^2 / 4` times what one wheel up and the other down by the same is pressed back with, per unit; air at its bump value.
    Source: method section 6.
    """
    axle, stance = solved.axle(name)
    _, _, k_ll, k_lr, k_rl, k_rr = sealed_here(axle, stance, BUMP).press(*stance.z)
    return float(float(axle.half_track) ** 2 * (k_ll + k_rr - k_lr - k_rl))


def _main_stages(line: Line) -> dict[str, Line]:
    """Return the main spring's stages: a two-stage one that nothing was done to is told apart, any other is one."""
    laws = (line.left, line.right)
    if not all(isinstance(law, Spring) and float(law.k2) > 0.0 for law in laws):
        return {"main": line}
    first = [Spring(k=s.k, preload=s.preload) for s in laws if isinstance(s, Spring)]
    second = [Spring(k=0.0, preload=0.0, k2=s.k2, z2=s.z2, width=s.width) for s in laws if isinstance(s, Spring)]
    return {
        "main": replace(line, left=first[0], right=first[1]),
        "second stage": replace(line, left=second[0], right=second[1]),
    }


def _part(line: Line, z: tuple[float, float]) -> tuple[float, float]:
    """Return a line's rate per side (N/m) with both wheels moved together, and its load at the axle's wheels (N)."""
    f_l, f_r, k_ll, k_lr, k_rl, k_rr = line.press(*z)
    return float(0.5 * (k_ll + k_lr + k_rl + k_rr)), float(f_l + f_r)


def sprung_side(axle: AxleLines, loads: tuple[float, float]) -> float:
    """Return the sprung mass a side (kg) of an axle's tyre loads (N)."""
    return 0.5 * sum(loads) / G - float(axle.unsprung)
