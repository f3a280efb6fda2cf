"""How likely each option brings the height wanted, and how often it is the right one: the same draws of all that is not known, for every option.

Source: method section 9.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from vantok_core.base.errors import StateError
from vantok_core.base.num import FloatArray, Real
from vantok_core.kits.choice import Choice, Shortlist
from vantok_core.kits.cost import YearsCost, years_cost
from vantok_core.kits.hours import hours_of
from vantok_core.kits.odds import right_choice
from vantok_core.model import JobModel
from vantok_core.rates.places import Place
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


def cost_of(choice: Choice) -> YearsCost:
    """Return what an option costs over five years, hours at the shop's rate; nothing where it puts nothing on.

    Of several kits each is renewed in its own time, and what must come off comes off once.
    """
    each = [years_cost(k.price, k.hours, choice.hour_price, k.upkeep_per_year, k.life_years) for k in choice.kits]
    saved = choice.hour_price * hours_of(choice.kits).saved if len(choice.kits) > 1 else 0.0
    return YearsCost(
        renewals=sum(y.renewals for y in each),
        fitted=sum(y.fitted for y in each) - saved,
        cost=sum(y.cost for y in each) - saved,
    )


def chances(model: JobModel, found: Shortlist) -> Chances:
    """Return the chances of every option that could be solved and is not out, nothing and moving the load among them.

    A kit's own strength is drawn too. The target stands as it is told. Source: method section 9; draws that the static solve cannot
    follow (a wheel lifts) are taken about the prediction with its sigma.
    """
    options = [c for c in found.choices if c.miss is not None and not c.out and c.drop is not None]
    if not options:
        return Chances(by={}, none=1.0)
    rows = model.estimate.draws(DRAWS, SEED)
    strength = np.random.default_rng(SEED + 1).standard_normal((DRAWS, len(options)))
    plain = model.estimate.problem.at(rows, found.state.key, REAR, model.on)
    drops = np.stack([_drops(model, found, c, rows, plain, strength[:, n]) for n, c in enumerate(options)], axis=1)
    costs = [cost_of(c).cost for c in options]
    each = np.stack([drops, *_later(options, drops)], axis=2)
    right = right_choice(each, [found.target.drop] * each.shape[2], costs)
    return Chances(
        by={c.key: Chance(within=right.within[n], right=right.right[n], cost=costs[n]) for n, c in enumerate(options)},
        none=right.none,
    )


def _later(options: Sequence[Choice], drops: FloatArray) -> list[FloatArray]:
    """Return every option's rear drop (m) at every draw once each planned change is on: what is not known of its mass is felt alike by all."""
    found = []
    for n, _ in enumerate(options[0].later):
        spread = np.random.default_rng(SEED + 4 + n).standard_normal(DRAWS)
        sunk = [one.later[n].sunk for one in options]
        found.append(drops + np.stack([s.value + s.sigma * spread for s in sunk], axis=1))
    return found


def _drops(
    model: JobModel, found: Shortlist, choice: Choice, rows: FloatArray, plain: FloatArray, strength: FloatArray
) -> FloatArray:
    """Return an option's rear drop (m) at every draw."""
    assert choice.drop is not None
    if choice.key == "nothing":
        return plain
    if choice.loads is not None:
        return plain - float(np.mean(plain)) + choice.drop.value  # less load, felt alike in every draw
    try:
        vehicle = choice.vehicle
        assert vehicle is not None
        vehicle = with_strength(vehicle, _strengths(choice, strength))
        return model.estimate.problem.at(rows, found.state.key, REAR, vehicle)
    except StateError:
        spread = np.random.default_rng(SEED + 2).standard_normal(len(rows))
        return np.asarray(choice.drop.value + choice.drop.sigma * spread)


def _strengths(choice: Choice, draw: FloatArray) -> dict[str, Real]:
    """Return the strength of each kit of an option at every draw; of one kit by the option's own draws, of further ones by draws of theirs."""
    more = np.random.default_rng(SEED + 3).standard_normal((len(choice.elements), len(draw)))
    return {
        name: np.exp(sigma * (draw if n == 0 else more[n])) for n, (name, sigma) in enumerate(choice.strengths.items())
    }
