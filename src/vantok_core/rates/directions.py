"""In which directions the loads of the states are uncertain, as far as the static solve feels them.

It feels of a state's loads only their sum and two moments. So however many loads a state carries, at most three directions of
them can be told, and only those are searched; what lies across them stays at its prior. Source: method section 3, own derivation.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from vantok_core.base.num import FloatArray, G, Real
from vantok_core.physics.levers import resultant
from vantok_core.physics.vehicle import LoadState, Vehicle
from vantok_core.rates.trial import TONGUE


@dataclass(frozen=True, slots=True, kw_only=True)
class Direction:
    """A direction in which the loads of some states are uncertain: kg of each load, by name, for one unit of it."""

    states: tuple[str, ...]
    share: Mapping[str, float]


def directions(vehicle: Vehicle, states: Sequence[LoadState], sigma: Mapping[str, float]) -> tuple[Direction, ...]:
    """Return the unknown directions of the loads; sigma: of each by name, kg. Loads that several states share are unknowns each."""
    carriers: dict[str, list[str]] = {}
    for state in states:
        for name in dict.fromkeys((*(item.name for item in state.items), f"{state.name}:{TONGUE}")):
            if name in sigma:
                carriers.setdefault(name, []).append(state.name)
    by_states: dict[tuple[str, ...], list[str]] = {}
    for name, carried in carriers.items():
        if sigma[name] > 0.0:
            by_states.setdefault(tuple(carried), []).append(name)
    found: list[Direction] = []
    for shared, names in by_states.items():
        if len(shared) == 1:
            plain = next(s for s in states if s.name == shared[0])
            found += _felt(vehicle, plain, names, sigma)
        else:
            found += [Direction(states=shared, share={name: sigma[name]}) for name in names]
    return tuple(found)


def shares_of(names: Sequence[str], found: Sequence[Direction]) -> FloatArray:
    """Return each named load's kg for one unit of each direction, a row a load."""
    shares, row = np.zeros((len(names), len(found))), {name: n for n, name in enumerate(names)}
    for column, direction in enumerate(found):
        for name in direction.share.keys() & row.keys():
            shares[row[name], column] = direction.share[name]
    return shares


def _felt(vehicle: Vehicle, state: LoadState, names: Sequence[str], sigma: Mapping[str, float]) -> list[Direction]:
    """Return the directions of one state's loads that the static solve feels."""
    length = vehicle.wheelbase
    lever: dict[str, tuple[Real, Real, Real]] = {
        item.name: (1.0, item.station / length, item.lateral / length) for item in state.items
    }
    if state.tongue is not None:
        more = replace(state, items=(), tongue=replace(state.tongue, mass=state.tongue.mass + 1.0))
        one, base = resultant(vehicle, more), resultant(vehicle, replace(state, items=()))
        lever[f"{state.name}:{TONGUE}"] = ((one.force - base.force) / G, (one.pitch - base.pitch) / (G * length), 0.0)
    felt = [[float(part) * sigma[n] for part in lever[n]] for n in names]
    _, size, across = np.linalg.svd(np.array(felt).T, full_matrices=False)
    told = across[size > 1e-9 * max(float(size[0]), 1.0)]
    return [
        Direction(states=(state.name,), share={n: float(row[i]) * sigma[n] for i, n in enumerate(names)})
        for row in told
    ]
