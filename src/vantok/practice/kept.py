"""A drill's answer as it is kept: the first counts."""

from __future__ import annotations

from django.db import IntegrityError, transaction

from vantok.people.models import User
from vantok.records.practice.models import Drilled


def keep(person: User, key: str, seed: int, share: float) -> bool:
    """Keep how much of an answer was right (share: 0 to 1). Return whether it was the first to this question: only that one counts."""
    try:
        with transaction.atomic():
            Drilled.objects.create(person=person, key=key, seed=seed, share=share)
    except IntegrityError:
        return False
    return True
