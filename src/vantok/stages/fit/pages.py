"""The fitting card: a step at a time, by side, with its gates; what was by feel, cannot be undone, was skipped or overruled."""

from __future__ import annotations

from typing import Any, ClassVar

from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.utils import timezone

from vantok.desk.load import Desk
from vantok.desk.stage import StageView
from vantok.fields.ids import identity
from vantok.stages.fit.actions import leave_step, take_back
from vantok_core.base.errors import InputError, UnitError
from vantok_core.base.units import parse
from vantok_core.facts import CardMark
from vantok_core.procedure.card import Step
from vantok_core.procedure.progress import Progress, torque_odd
from vantok_core.procedure.stuck import START, at


class Fit(StageView):
    """The card of the kit that goes on, whole or with gloves on."""

    stage = "fit"
    rights: ClassVar[dict[str, str]] = {"tick": "set", "skip": "set", "back": "set", "overrule": "overrule"}

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the card that is worked on, or the one asked for."""
        place, gloves = self._place, bool(self.request.GET.get("gloves") or self.request.POST.get("gloves"))
        found = self.desk.cards[place] if place is not None else None
        return super().get_context_data(
            card=found, part=place, cards=list(enumerate(self.desk.cards)), gloves=gloves,
            now=_now(found, gloves=gloves) if found else [],
            last=list(found.marks)[-1] if found and found.marks else "", rows=_rows(found) if found else [], **kwargs,
        )  # fmt: skip

    @property
    def _place(self) -> int | None:
        """Return which kit's card: the one asked for, else the first with a step left."""
        if not self.desk.cards:
            return None
        asked = self.request.GET.get("part") or self.request.POST.get("part")
        if asked is not None and identity(asked) < len(self.desk.cards):
            return identity(asked)
        return next((n for n, one in enumerate(self.desk.cards) if not one.done), len(self.desk.cards) - 1)

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Leave a step as done, skipped or overruled, or take it back."""
        place, action = self._place, request.POST.get("action", "")
        if place is None:
            return self.back()
        try:
            with self.change("overrule" if action == "overrule" else "set") as record:
                if action == "back":
                    take_back(record, place, request.POST.get("key", ""))
                else:
                    found = Desk.open(pk).cards[place]
                    leave_step(record, place, found, self._mark(found, action))
        except InputError as error:
            self.anew()
            return self.again(422, refused=error.args[0])
        query = "&".join(f"{name}={request.POST[name]}" for name in ("gloves",) if request.POST.get(name) == "1")
        address = reverse("fit", args=[pk])
        return HttpResponseRedirect(
            f"{address}?part={place}{'&' + query if query else ''}" if query or len(self.desk.cards) > 1 else address
        )

    def _mark(self, found: Progress, action: str) -> CardMark:
        """Return the mark that a form makes. Raises InputError where it cannot be."""
        told, step = self.request.POST, found.card.step(self.request.POST.get("key", ""))
        if step is None:
            raise InputError(
                "step", told.get("key", ""), "the card has no such step: its kit was changed, and the card with it"
            )
        note = told.get("note", "").strip()[:200]
        if action in ("skip", "overrule") and not note:
            raise SaidError("Say why: the report keeps the reason. Nothing was changed.")
        if action == "tick" and step.gate and len(told.getlist("so")) < len(step.asks) and told.get("all") != "1":
            raise SaidError(f"A gate holds until each of its points is so: {step.words} Nothing was changed.")
        if action == "skip" and step.gate:
            raise SaidError("A gate is not skipped: the lead may overrule it, with the reason.")
        return CardMark(
            key=step.key, state={"skip": "skipped", "overrule": "overruled"}.get(action, "done"),  # type: ignore[arg-type]
            **self._reached(step) if action == "tick" else {}, note=note, by=str(self.person)[:120], at=timezone.now().isoformat(timespec="seconds"),
        )  # fmt: skip

    def _reached(self, step: Step) -> dict[str, Any]:
        """Return how a step's fasteners were tightened. Raises InputError for a torque that does not read, or is far from its table's."""
        if not step.fasteners:
            return {}
        told = self.request.POST
        if told.get("reached") == "feel":
            return {"reached": "feel"}
        text = told.get("torque", "").strip()
        if not text:
            return {"reached": "torque"}
        try:
            read = parse("torque", text, self.units).value
        except UnitError as error:
            raise SaidError(f"{error} Nothing was changed.") from error
        odd = torque_odd(step, read)
        if odd is not None and told.get("sure") != "1":
            raise SaidError(f"{odd.in_units(self.units)} Nothing was changed.")
        return {"reached": "torque", "torque_nm": read}


class Stuck(StageView):
    """When it fights: the tree of questions, a place a page."""

    stage = "fit"

    def get_template_names(self) -> list[str]:
        """Return the page of the tree."""
        return ["fit/stuck.html"]

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the place asked for."""
        return super().get_context_data(node=at(self.request.GET.get("at", START)), start=START, **kwargs)


class SaidError(InputError):
    """A refusal that is a whole sentence."""

    def __init__(self, sentence: str) -> None:
        super().__init__("step", "this", sentence)
        self.args = (sentence,)


def _now(found: Progress, *, gloves: bool) -> list[dict[str, Any]]:
    """Return the steps that can be worked on now: the next, and the next of the other side where that is free; with gloves on all that are open, of
    which one is shown."""
    if gloves:
        return [{"step": step, "held": ""} for step in found.open]  # all of them: the page goes on without a connection
    free = [step for step in found.open if not found.held(step)]
    first = free[:1] or list(found.open[:1])
    other = next(
        (s for s in free if first and s.side != first[0].side and s.side != "once" and first[0].side != "once"), None
    )
    return [{"step": s, "held": found.held(s)} for s in (*first, *((other,) if other else ()))]


def _rows(found: Progress) -> list[dict[str, Any]]:
    """Return the whole card, a row a step."""
    return [{"step": step, "mark": found.marks.get(step.key)} for step in found.card.steps]
