"""A drill's answer as it is kept: the first counts, and stands."""

from __future__ import annotations

from typing import Any

from django.db import IntegrityError, transaction

from vantok.people.models import User
from vantok.records.practice.models import Drilled


def keep(person: User, key: str, seed: int, share: float, answer: dict[str, Any]) -> None:
    """Keep an answer and how much of it was right (share: 0 to 1); one that was answered before stays as it was."""
    try:
        with transaction.atomic():
            Drilled.objects.create(person=person, key=key, seed=seed, share=share, answer=answer)
    except IntegrityError:
        return


def kept(person: User, key: str, seed: int) -> dict[str, Any] | None:
    """Return what somebody answered a question with; None where they have not."""
    found = Drilled.objects.filter(person=person, key=key, seed=seed).first()
    return None if found is None else dict(found.answer)
