"""How likely each option brings the height wanted, and how often it is the right one: the same draws of all that is not known, for every option.

Source: method section 9.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from vantok_core.base.errors import StateError
from vantok_core.base.num import FloatArray
from vantok_core.facts import Kit
from vantok_core.kits.choose import Choice, Shortlist
from vantok_core.kits.cost import YearsCost, years_cost
from vantok_core.kits.family import KIT_ELEMENT
from vantok_core.kits.odds import right_choice
from vantok_core.kits.wishes import HOUR
from vantok_core.model import JobModel
from vantok_core.rates.places import Place
from vantok_core.rates.problem import MADE_KNOWN
from vantok_core.rates.strength import with_strength

DRAWS, SEED = 2000, 20_261
REAR = Place("rear", "ground")


@dataclass(frozen=True, slots=True, kw_only=True)
class Chance:
    """Shares of the draws in which an option is within tolerance of the target, and in which it is besides the cheapest that is; what it costs
    over five years (the shop's currency)."""

    within: float
    right: float
    cost: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Chances:
    """Chances by option, and the share of the draws in which none is within."""

    by: Mapping[str, Chance]
    none: float


def cost_of(kit: Kit) -> YearsCost:
    """Return what a kit costs over five years, hours at the usual rate."""
    return years_cost(kit.price, kit.hours, HOUR, kit.upkeep_per_year, kit.life_years)


def chances(model: JobModel, found: Shortlist) -> Chances:
    """Return the chances of every option that could be solved and is not out, nothing and moving the load among them.

    A kit's own strength is drawn too. The target stands as it is told. Source: method section 9; draws that the static solve cannot
    follow (a wheel lifts) are taken about the prediction with its sigma.
    """
    options = [c for c in found.choices if c.miss is not None and not c.out and c.drop is not None]
    if not options:
        return Chances(by={}, none=1.0)
    rows = model.estimate.draws(DRAWS, SEED)
    strength = np.exp(MADE_KNOWN * np.random.default_rng(SEED + 1).standard_normal((DRAWS, len(options))))
    plain = model.estimate.problem.at(rows, found.state.key, REAR, model.on)
    drops = np.stack([_drops(model, found, c, rows, plain, strength[:, n]) for n, c in enumerate(options)], axis=1)
    costs = [cost_of(c.kit).cost if c.kit is not None else 0.0 for c in options]
    right = right_choice(drops[:, :, None], [found.target.drop], costs)
    return Chances(
        by={c.key: Chance(within=right.within[n], right=right.right[n], cost=costs[n]) for n, c in enumerate(options)},
        none=right.none,
    )


def _drops(
    model: JobModel, found: Shortlist, choice: Choice, rows: FloatArray, plain: FloatArray, strength: FloatArray
) -> FloatArray:
    """Return an option's rear drop (m) at every draw."""
    assert choice.drop is not None
    if choice.key == "nothing":
        return plain
    if choice.key == "move":
        return plain - float(np.mean(plain)) + choice.drop.value  # less load, felt alike in every draw
    try:
        vehicle = choice.vehicle
        assert vehicle is not None
        vehicle = with_strength(vehicle, {KIT_ELEMENT: strength})
        return model.estimate.problem.at(rows, found.state.key, REAR, vehicle)
    except StateError:
        spread = np.random.default_rng(SEED + 2).standard_normal(len(rows))
        return np.asarray(choice.drop.value + choice.drop.sigma * spread)
