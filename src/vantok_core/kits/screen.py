"""A large shelf looked through: what the data rule out is not figured, and of the rest the nearest by their own data are worked out.

Own derivation: a kit helps with the force it can bear down with; that is held against the force that the height wanted takes from the rear springs.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import chain, zip_longest
from math import log

from vantok_core.facts import Job, Kit
from vantok_core.kits.checks import FitCheck
from vantok_core.kits.fit import all_checks
from vantok_core.kits.registry import family_of

MOST = 60
"""Kits that are worked out at once (setting)."""
OVER = 0.25
"""What a kit that could do more than is wanted counts beside one that can do less: most are set lower (setting)."""

Checked = tuple[Kit, tuple[FitCheck, ...]]


def screened(
    job: Job, kits: Sequence[Kit], force: float, *, always: frozenset[str] = frozenset()
) -> tuple[list[Checked], list[Checked], list[Kit]]:
    """Return the kits to work out, those that their data rule out, and those that fit and are left for now, nearest first.

    Arguments: force: N a side that the height wanted takes, at the axle; always: codes that are worked out whatever else. A shelf of up to 60
    is worked out whole.
    """
    checked = [(kit, tuple(all_checks(job, kit))) for kit in kits]
    if len(checked) <= MOST:
        return checked, [], []
    out = [one for one in checked if one[0].code not in always and any(c.status == "fail" for c in one[1])]
    ruled = {kit.code for kit, _ in out}
    fit = sorted(
        (one for one in checked if one[0].code not in ruled),
        key=lambda one: (one[0].code not in always, _apart(one[0], force), one[0].price),
    )
    taken = list(_in_turn(fit))
    return taken[:MOST], out, [kit for kit, _ in taken[MOST:]]


def _apart(kit: Kit, force: float) -> float:
    """Return how far a kit's greatest force lies from the one wanted, as a ratio's logarithm; nought where it lifts nothing or none is wanted."""
    family = family_of(kit)
    most = kit.ratio * family.highest_force(kit) if family.lifts else 0.0
    if most <= 0.0 or force <= 0.0:
        return 0.0
    apart = log(most / force)
    return OVER * apart if apart > 0.0 else -apart


def _in_turn(fit: Sequence[Checked]) -> Iterator[Checked]:
    """Yield kits a family in turn, so that no kind crowds another one out; each family in its order."""
    by: dict[str, list[Checked]] = {}
    for one in fit:
        by.setdefault(one[0].family, []).append(one)
    yield from (one for one in chain.from_iterable(zip_longest(*by.values())) if one is not None)
