"""All load states of a vehicle solved together: air springs are set in one state and carried, sealed, to the others.

Source: method section 4.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import cast

import numpy as np

from vantok_core.base.errors import InputError, NoEquilibriumError, PressureLimitError, StateError, WheelOffGroundError
from vantok_core.base.num import G, Real, highest, lowest
from vantok_core.physics.elements.air import ISOTHERMAL, AirSpring, Seal, teed_pressure
from vantok_core.physics.levers import Resultant, resultant
from vantok_core.physics.stance.assembly import Assembly, AxleLines, Line, assemble
from vantok_core.physics.stance.newton import AxleStance, Equilibrium, Unknowns, equilibrium
from vantok_core.physics.vehicle import AXLE_CORNERS, AXLES, AxleName, LoadState, Vehicle

MANY_VALUES = 500
"""Values from which a batch takes longer for being larger."""
MOST_ROUNDS = 30
"""Rounds in which seals that depend on one another must settle."""

Seals = dict[tuple[str, str], Real]
Starts = dict[str, Unknowns]


def seal_line(line: Line, constants: tuple[Real, Real], n: float) -> Line:
    """Return a line with both bags shut at the given constants (Pa m3 at n = 1; for a tee, the same constant of
    the joint volume)."""
    left, right = (
        replace(bag, seal=Seal(constant=constant, n=n)) if isinstance(bag, AirSpring) else bag
        for bag, constant in zip((line.left, line.right), constants, strict=True)
    )
    return replace(line, left=left, right=right)


def sealing_constants(line: Line, z_l: Real, z_r: Real, n: float) -> tuple[Real, Real]:
    """Return `(p + p_atm) V^n` left and right at the wheels' hub drops; a tee's is of the joint volume."""
    c_l, c_r = line.compressions(z_l, z_r)
    pressures = line_pressures(line, z_l, z_r)
    if line.teed and isinstance(line.left, AirSpring) and isinstance(line.right, AirSpring):
        total = line.left.volume_at(c_l)[0] + line.right.volume_at(c_r)[0]
        both = (pressures[0] + line.left.p_atm) * total**n
        return both, both
    found: list[Real] = []
    for bag, c in ((line.left, c_l), (line.right, c_r)):
        found.append(bag.sealing_constant(c, n) if isinstance(bag, AirSpring) else 0.0)
    return found[0], found[1]


def line_pressures(line: Line, z_l: Real, z_r: Real) -> tuple[Real, Real]:
    """Return the gauge pressures (Pa) of a line's bags at the wheels' hub drops; zero where there is no bag."""
    c_l, c_r = line.compressions(z_l, z_r)
    if line.teed and isinstance(line.left, AirSpring) and isinstance(line.right, AirSpring):
        both = teed_pressure(line.left, line.right, c_l, c_r)
        return both, both
    return (
        line.left.pressure(c_l) if isinstance(line.left, AirSpring) else 0.0,
        line.right.pressure(c_r) if isinstance(line.right, AirSpring) else 0.0,
    )


def air_lines(axle: AxleLines) -> list[Line]:
    """Return the lines of an axle that hold air."""
    return [line for line in axle.lines if isinstance(line.left, AirSpring) or isinstance(line.right, AirSpring)]


def sealed_here(axle: AxleLines, stance: AxleStance, n: float) -> AxleLines:
    """Return the axle with every bag shut at its present pressure: what a wheel feels from here, at exponent n."""

    def shut(line: Line) -> Line:
        if not (isinstance(line.left, AirSpring) or isinstance(line.right, AirSpring)):
            return line
        return seal_line(line, sealing_constants(line, *stance.z, n), n)

    return replace(axle, lines=tuple(shut(line) for line in axle.lines))


class SolvedState:
    """A load state in equilibrium with the assembly that holds it (bags held or sealed as the state has them)."""

    __slots__ = ("assembly", "at", "state")

    def __init__(self, state: LoadState, assembly: Assembly, at: Equilibrium) -> None:
        self.state = state
        self.assembly = assembly
        self.at = at

    def axle(self, name: AxleName) -> tuple[AxleLines, AxleStance]:
        """Return an axle's lines and its stance."""
        return self.assembly.axle(name), self.at.front if name == "front" else self.at.rear


def solve_states(
    vehicle: Vehicle,
    states: Sequence[LoadState],
    *,
    check_limits: bool = True,
    near: Mapping[str, SolvedState] | None = None,
) -> dict[str, SolvedState]:
    """Return every state's equilibrium.

    Arguments: vehicle, states: in SI, floats, or arrays with one value per variant; check_limits: refuse a pressure past an element's hard
    limits; near: the states of a vehicle that differs little, to begin from. Raises InputError (two states of one name, an unknown set state),
    NoEquilibriumError, UnstableBodyError, WheelOffGroundError, PressureLimitError, each naming the state.
    Source: method section 4.
    """
    by_name = {state.name: state for state in states}
    if len(by_name) != len(states):
        raise InputError("states", [s.name for s in states], "each state needs a name of its own")
    assembly = assemble(vehicle)
    setting = _set_states(assembly, by_name)
    starts = {name: one.at.unknowns for name, one in (near or {}).items()}
    seals, solved = _settled_seals(vehicle, assembly, by_name, setting, starts) if setting else ({}, {})
    left = [state for name, state in by_name.items() if name not in solved]
    solved = {**solved, **_solved_beside(vehicle, left, assembly, seals, starts)}
    solved = {name: solved[name] for name in by_name}
    for one in solved.values():
        check_wheels(one)
        if check_limits:
            _check_pressures(one)
    return solved


def _set_states(assembly: Assembly, states: dict[str, LoadState]) -> dict[str, str]:
    """Return element name -> the state in which its valve is shut."""
    found: dict[str, str] = {}
    for name in AXLES:
        for line in air_lines(assembly.axle(name)):
            if line.set_state is None:
                continue
            if line.set_state not in states:
                raise InputError(f"{line.name} set state", line.set_state, f"it must be one of {', '.join(states)}")
            found[line.name] = line.set_state
    return found


def _settled_seals(
    vehicle: Vehicle, assembly: Assembly, states: dict[str, LoadState], setting: dict[str, str], starts: Starts
) -> tuple[Seals, dict[str, SolvedState]]:
    """Return the seals, and the solved setting states, once they agree with one another."""
    seals: Seals = {}
    for _ in range(MOST_ROUNDS):
        solved = {name: _solve(vehicle, states[name], assembly, seals, starts) for name in set(setting.values())}
        if len(solved) == len(states) == 1:
            return {}, solved  # no other state is asked for that would feel the seals
        found: Seals = {}
        for axle_name in AXLES:
            for line in air_lines(assembly.axle(axle_name)):
                if line.name in setting:
                    where = solved[setting[line.name]].axle(axle_name)[1]
                    left, right = sealing_constants(line, *where.z, ISOTHERMAL)
                    found[line.name, "left"], found[line.name, "right"] = left, right
        if len(set(setting.values())) == 1:
            return found, solved
        if seals and all(highest(np.abs(found[k] / seals[k] - 1.0)) < 1e-12 for k in found if highest(found[k]) > 0.0):
            return found, solved
        seals = found
    raise NoEquilibriumError(next(iter(setting.values())), "air springs set in different states do not settle.")


def _solved_beside(
    vehicle: Vehicle, states: Sequence[LoadState], assembly: Assembly, seals: Seals, starts: Starts
) -> dict[str, SolvedState]:
    """Return states that no longer wait for one another; of a batch of few variants, those with the same elements at once, a row of values each."""
    found: dict[str, SolvedState] = {}
    alike = [state for state in states if not (state.laws or state.off_bars)]
    for state in [state for state in states if state.laws or state.off_bars] + alike[:1]:
        found[state.name] = _solve(vehicle, state, assembly, seals, starts)
    rest = alike[1:]
    count = np.size(found[alike[0].name].at.u) if alike else 1
    if len(rest) > 1 and 1 < count <= MANY_VALUES / len(rest):
        try:
            return found | _solve_rows(vehicle, rest, assembly, seals, starts, count)
        except StateError:
            pass  # one of them has no rest: each is solved for itself below, to be named
    return found | {state.name: _solve(vehicle, state, assembly, seals, starts) for state in rest}


def _solve_rows(
    vehicle: Vehicle, states: Sequence[LoadState], assembly: Assembly, seals: Seals, starts: Starts, count: int
) -> dict[str, SolvedState]:
    """Return states of one assembly solved as rows of one batch: loads and bags' temperatures are a row each, all else is the same in every row."""
    loads = [resultant(vehicle, state) for state in states]

    def rows(values: Sequence[Real]) -> Real:
        return np.array([np.broadcast_to(value, (count,)) for value in values])

    load = Resultant(
        force=rows([q.force for q in loads]),
        pitch=rows([q.pitch for q in loads]),
        lateral=rows([q.lateral for q in loads]),
        topple=rows([q.topple for q in loads]),
    )
    known = [starts[state.name] for state in states if state.name in starts]
    start = tuple(rows(one) for one in zip(*known, strict=True)) if len(known) == len(states) else None
    shut = _shut(assembly, seals, states, np.array([[state.temperature_ratio] for state in states]))
    at = equilibrium(shut, load, states[0].name, cast("Unknowns | None", start))
    return {
        state.name: SolvedState(state, _shut(assembly, seals, [state], state.temperature_ratio), at.row(n))
        for n, state in enumerate(states)
    }


def _shut(assembly: Assembly, seals: Seals, states: Sequence[LoadState], ratio: Real) -> Assembly:
    """Return the assembly with the bags shut that were set in another state than these, the air at a ratio of that state's temperature."""
    names = {state.name for state in states}

    def shut(line: Line) -> Line:
        if line.set_state is None or line.set_state in names or (line.name, "left") not in seals:
            return line
        return seal_line(line, (seals[line.name, "left"] * ratio, seals[line.name, "right"] * ratio), ISOTHERMAL)

    return assembly.with_lines(shut) if seals else assembly


def _solve(vehicle: Vehicle, state: LoadState, assembly: Assembly, seals: Seals, starts: Starts) -> SolvedState:
    ready = _shut(assembly, seals, [state], state.temperature_ratio)
    ready = _as_set(vehicle, ready, state) if state.laws or state.off_bars else ready
    return SolvedState(state, ready, equilibrium(ready, resultant(vehicle, state), state.name, starts.get(state.name)))


def _as_set(vehicle: Vehicle, assembly: Assembly, state: LoadState) -> Assembly:
    """Return the assembly with the elements as a state has them set: pressures held, holes, gaps, parts and bars off."""

    def put(line: Line) -> Line:
        if line.name not in state.laws:
            return line
        left, right = state.laws[line.name]
        return replace(line, left=left, right=right, set_state=None, teed=False)

    ready = assembly.with_lines(put)
    if not state.off_bars:
        return ready
    off = {axle: sum(b.stiffness for b in vehicle.axle(axle).bars if b.name in state.off_bars) for axle in AXLES}
    front, rear = (replace(ready.axle(axle), bar=ready.axle(axle).bar - off[axle]) for axle in AXLES)
    return replace(ready, front=front, rear=rear)


def solve_ready(vehicle: Vehicle, state: LoadState, assembly: Assembly) -> SolvedState:
    """Return a state's equilibrium on an assembly that is ready for it, bags shut or dead as it has them.

    Raises as `solve_states`. Source: method section 4.
    """
    solved = SolvedState(state, assembly, equilibrium(assembly, resultant(vehicle, state), state.name))
    check_wheels(solved)
    return solved


def tyre_loads(solved: SolvedState, name: AxleName) -> tuple[Real, Real]:
    """Return an axle's tyre loads left and right (N): unsprung weight and what the springs press."""
    axle, stance = solved.axle(name)
    return axle.unsprung * G + stance.force[0], axle.unsprung * G + stance.force[1]


def check_wheels(solved: SolvedState) -> None:
    """Raise WheelOffGroundError, naming state and wheel, where a tyre would have to pull."""
    for name in AXLES:
        for corner, load in zip(AXLE_CORNERS[name], tyre_loads(solved, name), strict=True):
            if lowest(load) < 0.0:
                raise WheelOffGroundError(solved.state.name, corner, lowest(load))


def _check_pressures(solved: SolvedState) -> None:
    for name in AXLES:
        axle, stance = solved.axle(name)
        for line in air_lines(axle):
            if line.name in solved.state.laws:
                continue  # as it was read, or off: limits are for what is yet to be set
            for law, pressure in zip((line.left, line.right), line_pressures(line, *stance.z), strict=True):
                if not isinstance(law, AirSpring):
                    continue  # no bag on this side, and no pressure to judge
                if line.p_max is not None and highest(pressure) > line.p_max * (1.0 + 1e-9):
                    raise PressureLimitError(solved.state.name, line.name, highest(pressure), line.p_max)
                if line.p_min is not None and lowest(pressure) < line.p_min * (1.0 - 1e-9):
                    raise PressureLimitError(solved.state.name, line.name, lowest(pressure), line.p_min)
