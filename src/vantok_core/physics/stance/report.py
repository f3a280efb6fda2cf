"""What a solved state says: heights, loads, rates, frequencies, shares, each element's own figures.

Source: method sections 3 and 4.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from vantok_core.base.num import G, Real
from vantok_core.physics.elements.air import BUMP, ISOTHERMAL, AirSpring
from vantok_core.physics.elements.laws import Stop
from vantok_core.physics.stance.assembly import AxleLines, Line
from vantok_core.physics.stance.newton import AxleStance
from vantok_core.physics.stance.states import SolvedState, line_pressures, sealed_here, solve_states, tyre_loads
from vantok_core.physics.vehicle import AXLE_CORNERS, AXLES, AxleName, LoadState, Vehicle


@dataclass(frozen=True, slots=True, kw_only=True)
class ElementReport:
    """One side of one element: force N, compression m from the reference; gap_left m (stops), pressure Pa and height m
    (air); beyond_data says that it was computed past the maker's figures."""

    force: Real
    compression: Real
    gap_left: Real | None = None
    pressure: Real | None = None
    height: Real | None = None
    beyond_data: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class StateReport:
    """A state's results by corner (FL, FR, RL, RR) and by axle.

    ground_drop, hub_drop: m; load: tyre load N; tangent_rate: N/m at the wheel (air sealed at n = 1, bars out);
    bump_rate: N/m, the same with air at its bump value; ride_frequency: Hz, of that rate; d_f, d_r: mean ground drops m; theta, phi: rad; helper_share: part of
    the axle's suspension force that kit elements carry; front_share_lost: part of the reference front load lost.
    """

    name: str
    theta: Real
    phi: Real
    d_f: Real
    d_r: Real
    ground_drop: dict[str, Real]
    hub_drop: dict[str, Real]
    load: dict[str, Real]
    tangent_rate: dict[str, Real]
    bump_rate: dict[str, Real]
    ride_frequency: dict[str, Real]
    helper_share: dict[AxleName, Real]
    front_share_lost: Real
    elements: dict[str, dict[str, ElementReport]]
    flags: tuple[str, ...] = ()

    def drop_at(self, wheelbase: float, station: float, lateral: float = 0.0) -> Real:
        """Return the ground drop (m) of any body point."""
        return self.d_f + (self.d_r - self.d_f) * station / wheelbase - self.phi * lateral

    @property
    def gaps(self) -> list[float]:
        """The gap left at every stop and insert (m); none where there are none."""
        return [float(s.gap_left) for e in self.elements.values() for s in e.values() if s.gap_left is not None]

    def axle_load(self, axle: AxleName) -> Real:
        """Return an axle's load (N)."""
        left, right = AXLE_CORNERS[axle]
        return self.load[left] + self.load[right]


def report(vehicle: Vehicle, solved: SolvedState) -> StateReport:
    """Return a solved state's figures (method section 4)."""
    ground: dict[str, Real] = {}
    hub: dict[str, Real] = {}
    load: dict[str, Real] = {}
    rate: dict[str, Real] = {}
    bump: dict[str, Real] = {}
    frequency: dict[str, Real] = {}
    share: dict[AxleName, Real] = {}
    elements: dict[str, dict[str, ElementReport]] = {}
    flags: list[str] = []
    for name in AXLES:
        axle, stance = solved.axle(name)
        loads = tyre_loads(solved, name)
        slow = _rates(sealed_here(axle, stance, ISOTHERMAL), stance)
        quick = _rates(sealed_here(axle, stance, BUMP), stance)
        for side, corner in enumerate(AXLE_CORNERS[name]):
            ground[corner], hub[corner], load[corner] = stance.d[side], stance.z[side], loads[side]
            rate[corner], bump[corner] = slow[side], quick[side]
            frequency[corner] = ride_frequency(quick[side], loads[side] / G - axle.unsprung)
        share[name] = _helper_share(axle, stance)
        for line in axle.lines:
            elements[line.name] = _element(line, stance, flags)
    at = solved.at
    reference_front = vehicle.front.ref_load[0] + vehicle.front.ref_load[1]
    return StateReport(
        name=solved.state.name,
        theta=at.theta,
        phi=at.phi,
        d_f=at.u,
        d_r=at.u + vehicle.wheelbase * at.theta,
        ground_drop=ground,
        hub_drop=hub,
        load=load,
        tangent_rate=rate,
        bump_rate=bump,
        ride_frequency=frequency,
        helper_share=share,
        front_share_lost=1.0 - (load["FL"] + load["FR"]) / reference_front,
        elements=elements,
        flags=tuple(flags),
    )


def ride_frequency(rate: Real, sprung_mass: Real) -> Real:
    """Return the undamped ride frequency of a corner.

    Formula: `sqrt(k_w / m_s) / (2 pi)`. Arguments: rate k_w: N/m; sprung_mass m_s: kg. Result: Hz; zero where the corner
    carries no sprung mass. Source: method section 3.
    """
    if isinstance(rate, np.ndarray) or isinstance(sprung_mass, np.ndarray):
        with np.errstate(all="ignore"):
            ratio = np.where(np.asarray(sprung_mass) > 0.0, rate / sprung_mass, 0.0)
        return np.asarray(np.sqrt(np.maximum(ratio, 0.0)) / (2.0 * np.pi))
    if sprung_mass <= 0.0 or rate <= 0.0:
        return 0.0
    return float((rate / sprung_mass) ** 0.5 / (2.0 * np.pi))


def _rates(axle: AxleLines, stance: AxleStance) -> tuple[Real, Real]:
    """Return each corner's force per metre with both wheels of the axle moved together, bars left out."""
    _, _, k_ll, k_lr, k_rl, k_rr = axle.press(*stance.z, bars=False)
    return k_ll + k_lr, k_rl + k_rr


def _helper_share(axle: AxleLines, stance: AxleStance) -> Real:
    helpers: Real = 0.0
    for line in axle.lines:
        own_stop = not line.kit and isinstance(line.left or line.right, Stop)
        if not line.main and not own_stop:
            f_l, f_r, *_ = line.press(*stance.z)
            helpers = helpers + f_l + f_r
    return helpers / (stance.force[0] + stance.force[1])


def _element(line: Line, stance: AxleStance, flags: list[str]) -> dict[str, ElementReport]:
    f_l, f_r, *_ = line.own(*stance.z)
    compressions = line.compressions(*stance.z)
    pressures = line_pressures(line, *stance.z)
    sides: dict[str, ElementReport] = {}
    for side, law, force, c, pressure in zip(
        ("left", "right"), (line.left, line.right), (f_l, f_r), compressions, pressures, strict=True
    ):
        if law is None:
            continue
        if isinstance(law, Stop):
            beyond = bool(np.any(law.beyond_data(c)))
            sides[side] = ElementReport(force=force, compression=c, gap_left=law.gap - c, beyond_data=beyond)
        elif isinstance(law, AirSpring):
            if law.volume.assumed:
                flags.append(
                    f"{line.name} {side}: its volume is not published; area times height is taken, so its rate is rough"
                )
            beyond = bool(np.any(law.beyond_data(c, pressure) * (pressure > 0.0)))  # a dead bag has no data to leave
            sides[side] = ElementReport(
                force=force, compression=c, pressure=pressure, height=law.height(c), beyond_data=beyond
            )
        else:
            sides[side] = ElementReport(force=force, compression=c)
        if sides[side].beyond_data:
            flags.append(f"{line.name} {side}: beyond published data")
    return sides


def solve_reports(
    vehicle: Vehicle, states: Sequence[LoadState], *, check_limits: bool = True
) -> dict[str, StateReport]:
    """Return the report of every state; see `solve_states` for arguments and errors."""
    solved = solve_states(vehicle, states, check_limits=check_limits)
    return {name: report(vehicle, one) for name, one in solved.items()}
