"""From a vehicle to its equations: each spring and helper as a line between body and wheels of an axle.

Source: method section 4.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from vantok_core.base.errors import InputError
from vantok_core.base.num import G, Real
from vantok_core.physics.elements.air import AirSpring, teed_pair
from vantok_core.physics.elements.laws import Blocked, Law, Shackled, Shifted, Spring, coil_block_rate
from vantok_core.physics.vehicle import (
    Axle,
    AxleName,
    CoilBlock,
    MainSpring,
    Replacement,
    Shackle,
    TorsionBarAdjuster,
    Vehicle,
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Line:
    """One element on one axle. `near` and `far` are the parts of each wheel's travel it sees (ratio included).

    Compression left = near z_L + far z_R; what it pushes goes to the wheels in the same parts.
    """

    name: str
    left: Law | None
    right: Law | None
    near: Real
    far: Real
    kit: bool
    teed: bool = False
    main: bool = False
    set_state: str | None = None
    p_min: float | None = None
    p_max: float | None = None

    def compressions(self, z_l: Real, z_r: Real) -> tuple[Real, Real]:
        """Return the element's own compression left and right (m)."""
        return self.near * z_l + self.far * z_r, self.far * z_l + self.near * z_r

    def own(self, z_l: Real, z_r: Real) -> tuple[Real, Real, Real, Real, Real, Real]:
        """Return F_L, F_R and the rates LL, LR, RL, RR of the element itself (N, N/m)."""
        c_l, c_r = self.compressions(z_l, z_r)
        if self.teed and isinstance(self.left, AirSpring) and isinstance(self.right, AirSpring):
            return teed_pair(self.left, self.right, c_l, c_r)
        f_l, g_l = self.left.at(c_l) if self.left else (0.0, 0.0)
        f_r, g_r = self.right.at(c_r) if self.right else (0.0, 0.0)
        return f_l, f_r, g_l, 0.0, 0.0, g_r

    def press(self, z_l: Real, z_r: Real) -> tuple[Real, Real, Real, Real, Real, Real]:
        """Return what it presses on the left and right wheel (N) and the four rates at the wheels (N/m)."""
        f_l, f_r, g_ll, g_lr, g_rl, g_rr = self.own(z_l, z_r)
        a, b = self.near, self.far
        if isinstance(b, float) and b == 0.0:
            aa = a * a
            return a * f_l, a * f_r, aa * g_ll, aa * g_lr, aa * g_rl, aa * g_rr
        p_ll, p_lr = g_ll * a + g_lr * b, g_ll * b + g_lr * a
        p_rl, p_rr = g_rl * a + g_rr * b, g_rl * b + g_rr * a
        return (
            a * f_l + b * f_r,
            b * f_l + a * f_r,
            a * p_ll + b * p_rl,
            a * p_lr + b * p_rr,
            b * p_ll + a * p_rl,
            b * p_lr + a * p_rr,
        )


@dataclass(frozen=True, slots=True, kw_only=True)
class AxleLines:
    """An axle ready to solve: its lines, bar, tyres and what its springs carry in the reference state (N a side)."""

    station: Real
    half_track: Real
    tyre_rate: Real
    held_left: Real
    held_right: Real
    unsprung: Real
    bar: Real
    lines: tuple[Line, ...]

    def press(self, z_l: Real, z_r: Real, *, bars: bool = True) -> tuple[Real, Real, Real, Real, Real, Real]:
        """Return suspension force left, right (N) and the rates LL, LR, RL, RR (N/m)."""
        t = 2.0 * self.half_track
        k_bar = self.bar / (t * t) if bars else 0.0
        twist = k_bar * (z_l - z_r)
        s_l, s_r, k_ll, k_lr, k_rl, k_rr = twist, -twist, k_bar, -k_bar, -k_bar, k_bar
        for line in self.lines:
            f_l, f_r, g_ll, g_lr, g_rl, g_rr = line.press(z_l, z_r)
            s_l, s_r = s_l + f_l, s_r + f_r
            k_ll, k_lr, k_rl, k_rr = k_ll + g_ll, k_lr + g_lr, k_rl + g_rl, k_rr + g_rr
        return s_l, s_r, k_ll, k_lr, k_rl, k_rr


@dataclass(frozen=True, slots=True, kw_only=True)
class Assembly:
    """The whole vehicle ready to solve."""

    front: AxleLines
    rear: AxleLines
    weight: Real

    def axle(self, name: AxleName) -> AxleLines:
        """Return the axle by name."""
        return self.front if name == "front" else self.rear

    def with_lines(self, change: Callable[[Line], Line]) -> Assembly:
        """Return the same vehicle with every line passed through `change`."""
        front = replace(self.front, lines=tuple(change(line) for line in self.front.lines))
        rear = replace(self.rear, lines=tuple(change(line) for line in self.rear.lines))
        return replace(self, front=front, rear=rear)


def changed_spring(spring: MainSpring, preload: Real) -> Law:
    """Return a main spring's law with what was done to it, its preload (N) being what the reference leaves over.

    Raises InputError for a block that does not leave active coils. Source: method section 4, element table.
    """
    law: Law = Spring(k=spring.k, preload=preload, k2=spring.k2, z2=spring.z2, width=spring.width)
    for change in spring.changes:
        if isinstance(change, CoilBlock):
            rate = coil_block_rate(law.at(change.z_fit)[1], change.active, change.blocked, change.insert_rate)
            law = Blocked(coil=law, k=rate, z_fit=change.z_fit)
        elif isinstance(change, Shackle):
            law = Shackled(leaf=law, k_s=change.k_s)
        elif isinstance(change, TorsionBarAdjuster):
            law = Shifted(spring=law, shift=change.shift)
        elif isinstance(change, Replacement):
            law = Spring(k=change.k, preload=change.k * change.c_ref, k2=change.k2, z2=change.z2, width=change.width)
    return law


def _parts(axle: Axle, ratio: float, y: float | None) -> tuple[float, float]:
    """Return the near and far part of an element at lateral place y: `i (1/2 +- y / t)`, or `i` and nothing."""
    if not axle.solid:
        return ratio, 0.0
    place = 0.5 if y is None else y / axle.track
    return ratio * (0.5 + place), ratio * (0.5 - place)


def _kit_lines(axle: Axle) -> list[Line]:
    lines = []
    for element in axle.elements:
        near, far = _parts(axle, element.ratio, element.y)
        lines.append(
            Line(
                name=element.name,
                left=element.left,
                right=element.right,
                near=near,
                far=far,
                kit=element.fitted == "kit",
                teed=element.teed,
                set_state=element.set_state,
                p_min=element.p_min,
                p_max=element.p_max,
            )
        )
    return lines


def _main_line(axle: Axle, held: tuple[Real, Real], others: list[Line]) -> Line:
    """Return the main spring's line, its preloads from what the reference state leaves (method section 4)."""
    near, far = _parts(axle, axle.spring.ratio, axle.spring.y)
    if not near - far > 0.0:
        raise InputError(f"{axle.spring.name} y", axle.spring.y, "a main spring must sit off the centre line")
    left, right = held
    for line in others:
        f_l, f_r, *_ = line.press(0.0, 0.0)
        left, right = left - f_l, right - f_r
    total, difference = (left + right) / (near + far), (left - right) / (near - far)
    at_rest = changed_spring(replace(axle.spring, changes=()), 0.0).at(0.0)[0]
    right_spring = axle.spring
    if axle.spring.changes_right is not None:
        right_spring = replace(axle.spring, changes=axle.spring.changes_right)
    laws = [
        changed_spring(axle.spring, (total + difference) / 2 - at_rest),
        changed_spring(right_spring, (total - difference) / 2 - at_rest),
    ]
    return Line(name=axle.spring.name, left=laws[0], right=laws[1], near=near, far=far, kit=False, main=True)


def _axle_lines(axle: Axle, station: float, name: str) -> AxleLines:
    held = tuple(load - axle.unsprung * G for load in axle.ref_load)
    for side, value in zip(("left", "right"), held, strict=True):
        if not _positive(value):
            raise InputError(
                f"{name} {side} reference load", axle.ref_load, "each corner must carry more than its unsprung weight"
            )
    lines = _kit_lines(axle)
    main = _main_line(axle, (held[0], held[1]), [line for line in lines if not line.kit])
    return AxleLines(
        station=station,
        half_track=axle.track / 2,
        tyre_rate=axle.tyre_rate,
        held_left=held[0],
        held_right=held[1],
        unsprung=axle.unsprung,
        bar=sum(bar.stiffness for bar in axle.bars),
        lines=(main, *lines),
    )


def _positive(value: Real) -> bool:
    return bool(value.min() > 0.0) if not isinstance(value, float) else value > 0.0


def assemble(vehicle: Vehicle) -> Assembly:
    """Return the vehicle ready to solve.

    Arguments: vehicle, in SI. Raises InputError naming the corner that would carry less than its unsprung weight.
    """
    return Assembly(
        front=_axle_lines(vehicle.front, 0.0, "front"),
        rear=_axle_lines(vehicle.rear, vehicle.wheelbase, "rear"),
        weight=vehicle.weight,
    )
