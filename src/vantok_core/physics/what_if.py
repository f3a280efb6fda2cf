"""What if it fails: a burst bag, both bags empty, leaves broken; states solved like any other (method section 12)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from vantok_core.base.errors import InputError
from vantok_core.base.num import Real
from vantok_core.physics.elements.air import ISOTHERMAL, AirSpring
from vantok_core.physics.elements.curve import force_curve
from vantok_core.physics.elements.laws import Law, Scaled, Stop
from vantok_core.physics.settings import element_named
from vantok_core.physics.stance.assembly import Assembly, Line
from vantok_core.physics.stance.states import SolvedState, sealed_here, solve_ready, solve_states, tyre_loads
from vantok_core.physics.vehicle import AXLE_CORNERS, AXLES, AxleName, Element, LoadState, Vehicle

Side = Literal["left", "right"]
SIDES: tuple[Side, Side] = ("left", "right")
METAL_RATE = 1e7
"""Metal on metal, N/m (10 kN/mm)."""
METAL = "metal"
RestsOn = Literal["own stop", "vehicle stop", "metal", "none"]


@dataclass(frozen=True, slots=True, kw_only=True)
class DeadBag:
    """A bag (or both) that holds no air: sides that fail; its own stop left and right where it has one, else its closed height (m)."""

    element: str
    sides: tuple[Side, ...]
    own_stop: tuple[Stop, Stop] | None = None
    closed_height: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class BrokenLeaf:
    """So many of an axle side's leaves gone. Raises InputError unless some are gone and some are left."""

    axle: AxleName
    side: Side
    gone: int
    leaves: int

    def __post_init__(self) -> None:
        if not 0 < self.gone < self.leaves:
            raise InputError("leaves gone", self.gone, "some must be gone, and some left")


@dataclass(frozen=True, slots=True, kw_only=True)
class Failed:
    """A state with the failure beside the same one intact."""

    state: SolvedState
    intact: SolvedState
    axle: AxleName
    rests_on: Mapping[str, RestsOn]

    @property
    def leans(self) -> float:
        """Ground drop left less right at that axle (m): positive stands the left side lower."""
        left, right = self.state.axle(self.axle)[1].d
        return float(left - right)

    @property
    def further_drop(self) -> dict[str, float]:
        """How much further each corner's body comes down (m)."""
        return {
            corner: float(self.state.axle(axle)[1].d[n] - self.intact.axle(axle)[1].d[n])
            for axle in AXLES
            for n, corner in enumerate(AXLE_CORNERS[axle])
        }

    @property
    def least_tyre_load(self) -> float:
        """The least tyre load (N)."""
        return min(float(load) for axle in AXLES for load in tyre_loads(self.state, axle))

    def tyre_space(self, space: Mapping[str, float]) -> dict[str, float]:
        """Return what is left of each corner's space to the tyre (m, as in the reference, hub datum)."""
        hub = {
            c: float(z) for axle in AXLES for c, z in zip(AXLE_CORNERS[axle], self.state.axle(axle)[1].z, strict=True)
        }
        return {corner: value - hub[corner] for corner, value in space.items()}


def what_if(vehicle: Vehicle, states: Sequence[LoadState], failure: DeadBag | BrokenLeaf) -> dict[str, Failed]:
    """Return every state with a failure, by name; bags were set and shut in the intact vehicle.

    Raises InputError for a bag that is none, or one that would go to metal without its closed height; else as `solve_states`.
    Source: method section 12.
    """
    intact = solve_states(vehicle, states)
    axle = failure.axle if isinstance(failure, BrokenLeaf) else _axle_of(vehicle, failure.element)
    found = {}
    for name, one in intact.items():
        front, rear = (sealed_here(*one.axle(a), ISOTHERMAL) for a in AXLES)
        shut = replace(one.assembly, front=front, rear=rear)
        if isinstance(failure, BrokenLeaf):
            assembly = _with_broken(shut, failure)
        else:
            assembly = _with_dead(vehicle, shut, failure, axle)
        failed = solve_ready(vehicle, one.state, assembly)
        found[name] = Failed(state=failed, intact=one, axle=axle, rests_on=_rests_on(failed, axle, failure))
    return found


def _axle_of(vehicle: Vehicle, name: str) -> AxleName:
    element = element_named(vehicle, name)
    if not isinstance(element.left or element.right, AirSpring):
        raise InputError("element", name, "it holds no air that could be lost")
    return next(a for a in AXLES if any(e.name == name for e in vehicle.axle(a).elements))


def _with_broken(assembly: Assembly, failure: BrokenLeaf) -> Assembly:
    left_over = (failure.leaves - failure.gone) / failure.leaves

    def weaker(line: Line) -> Line:
        if not line.main or line not in assembly.axle(failure.axle).lines:
            return line
        if failure.side == "left":
            return replace(line, left=line.left and Scaled(law=line.left, factor=left_over))
        return replace(line, right=line.right and Scaled(law=line.right, factor=left_over))

    return assembly.with_lines(weaker)


def _with_dead(vehicle: Vehicle, assembly: Assembly, failure: DeadBag, axle: AxleName) -> Assembly:
    element = element_named(vehicle, failure.element)
    sides = SIDES if element.teed else failure.sides

    def emptied(line: Line) -> Line:
        if line.name != failure.element:
            return line
        left = _dead(line.left) if "left" in sides else line.left
        right = _dead(line.right) if "right" in sides else line.right
        return replace(line, left=left, right=right, teed=False)

    ready = assembly.with_lines(emptied)
    stop = _lands_on(vehicle, element, failure, axle)
    if stop is None:
        return ready
    like = next(line for line in ready.axle(axle).lines if line.name == failure.element)
    added = replace(
        like,
        name=stop.name,
        left=stop.left,
        right=stop.right,
        set_state=None,
        teed=False,
        kit=True,
        p_min=None,
        p_max=None,
    )
    lines = replace(ready.axle(axle), lines=(*ready.axle(axle).lines, added))
    return replace(ready, front=lines) if axle == "front" else replace(ready, rear=lines)


def _dead(law: Law | None) -> Law | None:
    return replace(law, p_set=0.0, seal=None) if isinstance(law, AirSpring) else law


def _lands_on(vehicle: Vehicle, element: Element, failure: DeadBag, axle: AxleName) -> Element | None:
    """Return what a dead bag's axle lands on beside the vehicle's own stops: its own stop, else metal where there is no stop."""
    if failure.own_stop is not None:
        return replace(
            element,
            name=f"{element.name} own stop",
            left=failure.own_stop[0],
            right=failure.own_stop[1],
            teed=False,
            set_state=None,
        )
    if any(isinstance(e.left or e.right, Stop) for e in vehicle.axle(axle).elements):
        return None
    if failure.closed_height is None:
        raise InputError("closed height", None, "without a stop it goes metal to metal: its closed height is needed")
    laws = [Stop(gap=_height(law) - failure.closed_height, curve=METAL_CURVE) for law in (element.left, element.right)]
    return replace(element, name=METAL, left=laws[0], right=laws[1], teed=False, set_state=None)


METAL_CURVE = force_curve(((0.001, METAL_RATE * 0.001), (0.002, METAL_RATE * 0.002)))


def _height(law: Law | None) -> Real:
    assert isinstance(law, AirSpring)
    return law.h_ref


def _rests_on(solved: SolvedState, axle: AxleName, failure: DeadBag | BrokenLeaf) -> dict[str, RestsOn]:
    """Return what each side of the axle stands on; both touching, the kit's own stop is named first."""
    lines, stance = solved.axle(axle)
    own = f"{failure.element} own stop" if isinstance(failure, DeadBag) else ""
    found: dict[str, RestsOn] = {}
    for n, side in enumerate(SIDES):
        pressing = [
            line.name
            for line in lines.lines
            if isinstance(line.left or line.right, Stop) and float(line.own(*stance.z)[n]) > 0.0
        ]
        if own in pressing:
            found[side] = "own stop"
        elif METAL in pressing:
            found[side] = "metal"
        else:
            found[side] = "vehicle stop" if pressing else "none"
    return found
