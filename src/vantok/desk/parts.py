"""The kits of a job in the order they went on: how each is set, what it was read to do by itself, and how that was proved."""

from __future__ import annotations

from functools import partial
from typing import Any

from django.utils.functional import SimpleLazyObject

from vantok.desk.load import Desk
from vantok.desk.proof_tables import effect_rows, proof_tables
from vantok_core.base.say import Quantity
from vantok_core.judge.prove.proof import Proof
from vantok_core.kits.already import fitted_effects, told
from vantok_core.kits.family import SettingField
from vantok_core.kits.registry import family_of
from vantok_core.procedure.card import Step
from vantok_core.procedure.progress import Progress


def lazy_parts(desk: Desk) -> Any:
    """Return the rows once they are asked for."""
    return SimpleLazyObject(lambda: part_rows(desk))


def part_rows(desk: Desk) -> list[dict[str, Any]]:
    """Return each kit on the job, the one in hand last, with its setting, its own effect and its proof."""
    job, found = desk.job, []
    for n, part in enumerate(job.parts, 1):
        proof = SimpleLazyObject(partial(_proof, desk, n))
        family, then = family_of(part.kit), job.as_of(n)
        spans, state = family.spans(part.kit), job.state(part.state)
        effects = fitted_effects(then)
        found.append(
            {
                "number": n,
                "kit": part.kit,
                "card": desk.cards[n - 1],
                "done": part.done,
                "as_set": part.as_set,
                "in_hand": n == len(job.parts),
                "overruled": tuple(part.overruled.values()),
                "proof": proof,
                "set_in": state.name if state else "the judged load",
                "effects": effect_rows(effects),
                "told": [told(e) for e in effects if e.axle == part.kit.axle],
                "tables": SimpleLazyObject(partial(_tables, desk, n)),
                "set_to": [
                    {
                        "words": f.words,
                        "sides": [Quantity(v, f.kind) for v in part.setting[f.name]],
                        "limits": [Quantity(v, f.kind) for v in (spans[f.name].low, spans[f.name].high)]
                        if family.sealed
                        else None,
                    }
                    for f in family.settings
                    if f.name in part.setting
                ],
            }
        )
    return found


def _proof(desk: Desk, number: int) -> Proof | None:
    """Return the proof of a kit, by which went on first (1)."""
    if number == len(desk.job.parts):
        return desk.proof
    proofs = desk.worked.proofs
    return proofs[number - 1] if proofs else None


def _tables(desk: Desk, number: int) -> list[dict[str, Any]]:
    return proof_tables(desk.job, _proof(desk, number))


def setting_of(found: Progress, step: Step) -> SettingField | None:
    """Return what the kit is set by that a step writes down; None where it writes down something else."""
    return next((f for f in family_of(found.card.kit).settings if f.name == step.fact), None)


def written_of(found: Progress) -> list[dict[str, Any]]:
    """Return what was written down at the steps of a card, figures as the kit is set by them."""
    rows = []
    for step, mark in found.written:
        field = setting_of(found, step)
        made = Quantity(mark.figure, field.kind) if field and mark.figure is not None else None
        rows.append({"step": step, "said": mark.said, "value": made})
    return rows
