"""For the lead: which kits' cards cannot be followed, and where; each kit's by itself, and as the shop changed it on a kind of vehicle."""

from __future__ import annotations

from typing import Any, ClassVar

from django.views.generic import TemplateView

from vantok.records.shelf.models import KitRecord, LearntRecord, learnt_of
from vantok_core.facts import Job, Kit
from vantok_core.facts.fitting import Learnt
from vantok_core.kits.registry import family_of
from vantok_core.procedure.card import card
from vantok_core.procedure.prover import declares, faults


class Cards(TemplateView):
    """Every kit's card, proved."""

    template_name = "shelf/cards.html"
    rights: ClassVar[str] = "shelf"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Return the cards that cannot be, each fault at its step, and how many can."""
        kits = [record.to_core() for record in KitRecord.objects.filter(offered=True)]
        made = [(kit, kind, _told(kit, learnt)) for kit in kits for kind, learnt in (("", ()), *_changed(kit))]
        return super().get_context_data(
            cannot=[{"kit": kit, "kind": kind, "told": told} for kit, kind, told in made if told],
            can_be=sum(not told for _, _, told in made),
            silent=[kit for kit in kits if kit.steps and not any(declares(step) for step in kit.steps)],
            by=[(kit, family_of(kit).construction(kit).replace("_", " ")) for kit in kits],
            **kwargs,
        )


def _told(kit: Kit, learnt: tuple[Learnt, ...]) -> list[tuple[str, str]]:
    """Return each fault of a kit's card with the words of the step it shows at."""
    made = card(Job(number="1"), kit, learnt)
    found = [(step.words if (step := made.step(one.key)) else "", one.words) for one in faults(made)]
    return list(dict.fromkeys(found))


def _changed(kit: Kit) -> list[tuple[str, tuple[Learnt, ...]]]:
    """Return what the shop learnt of a kit's card, by the kind of vehicle."""
    kinds = LearntRecord.objects.filter(code=kit.code, what__in=("step", "moved")).order_by("kind")
    return [
        (kind, tuple(map(Learnt.model_validate, learnt_of(kit.code, kind))))
        for kind in kinds.values_list("kind", flat=True).distinct()
    ]
