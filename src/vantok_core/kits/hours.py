"""What kits of the shelf take together in hours (method section 9)."""

from __future__ import annotations

from collections.abc import Sequence

from vantok_core.facts import Kit
from vantok_core.kits.cost import Bundle, Work, bundle
from vantok_core.kits.registry import family_of


def hours_of(kits: Sequence[Kit]) -> Bundle:
    """Return the hours of several kits, staged and at once. Raises InputError where they cannot go together."""
    return bundle(
        [Work(name=k.name, axle=k.axle, family=family_of(k).work, hours=k.hours, access=k.access) for k in kits]
    )
