"""The fitting card: a step at a time, by side, with its gates; what was by feel, cannot be undone, was skipped or overruled."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from datetime import datetime, time
from functools import cached_property
from typing import Any

from django.http import HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.utils import timezone

from vantok.desk.load import Desk
from vantok.desk.parts import setting_of, written_of
from vantok.desk.stage import StageView
from vantok.drawing.at_step import at_step_svg
from vantok.drawing.orient import orient_svg
from vantok.fields.ids import identity
from vantok.people.acts import act
from vantok.people.models import Shop
from vantok.records.instruments.models import BY_EYE, run_out
from vantok.records.jobs.models import Job
from vantok.records.measure.models import Photo
from vantok.records.shelf.models import minutes_of
from vantok.stages.fit.actions import learn, leave_step, order, overrule_fit, take_back
from vantok.stages.fit.marks import fought_of, hold_to, hold_to_proof, learnt_of, mark_of, ordered_of, stamp_of
from vantok_core.base.errors import InputError
from vantok_core.facts.kit import ANSWERS, FACTS
from vantok_core.kits.fit import standing_unfit
from vantok_core.procedure.card import Step, may_follow
from vantok_core.procedure.needs import needs
from vantok_core.procedure.picture import picture
from vantok_core.procedure.progress import Progress
from vantok_core.procedure.stuck import START, at


class Fit(StageView):
    """The card of the kit that goes on, whole or with gloves on."""

    stage = "fit"
    opens_offline = True

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the card that is worked on, or the one asked for."""
        place, gloves = self._place, bool(self.request.GET.get("gloves") or self.request.POST.get("gloves"))
        if place is not None:
            kwargs |= self._of_card(place, self.desk.cards[place], gloves=gloves)
        return super().get_context_data(
            part=place,
            cards=list(enumerate(self.desk.cards)),
            gloves=gloves,
            notes=self.desk.job.proving.benches,
            **kwargs,
        )

    def _of_card(self, place: int, found: Progress, *, gloves: bool) -> dict[str, Any]:
        """Return what the page shows of a card."""
        return _of_the_day(found) | {
            "card": found,
            "misfits": standing_unfit(self.desk.job, place),
            "written": written_of(found),
            "now": self._now(found, place, gloves=gloves),
            "rows": _rows(found),
            "last": list(found.marks)[-1] if found.marks else "",
            "last_card": self._last(found, place),
            "pictures": _pictures(self.desk.record, place),
            "took": minutes_of(found.card.kit.code),
            "ordered": self.desk.job.parts[place].ordered,
            "wrenches": run_out(BY_EYE) if any(one.fasteners for one in found.open) else (),
        }

    @cached_property
    def _place(self) -> int | None:
        """Return which kit's card: the one asked for, else the first with a step left."""
        if not self.desk.cards:
            return None
        asked = self.request.GET.get("part") or self.request.POST.get("part")
        if asked is not None and identity(asked) < len(self.desk.cards):
            return identity(asked)
        return next((n for n, one in enumerate(self.desk.cards) if not one.done), len(self.desk.cards) - 1)

    def _fitting(self, place: int) -> int:
        """Return the id of the kit whose card it is."""
        return int(list(self.desk.record.fittings.all())[place].pk)

    def _last(self, found: Progress, place: int) -> str:
        """Return what taking the last step back is for."""
        step = found.card.step(list(found.marks)[-1]) if found.marks else None
        return stamp_of(self._fitting(place), step) if step else ""

    def _now(self, found: Progress, place: int, *, gloves: bool) -> list[dict[str, Any]]:
        """Return the steps that can be worked on now, as the page has them; with gloves on all that are open, of which one is shown."""
        part, fitting = self.desk.job.parts[place], self._fitting(place)
        spring = getattr(self.desk.job.vehicle, f"{part.kit.axle}_spring")
        if gloves and found.stopped is None:
            steps = [(step, "") for step in found.open]  # all of them: the page goes on without a connection
        else:
            steps = [(step, found.held(step)) for step in _free(found)]
        return [
            _shown(found, step, part.setting)
            | {
                "card": stamp_of(fitting, step),
                "held": held,
                "picture": at_step_svg(picture(found.card, step, stop_out=found.stop_out), spring, part),
            }
            for step, held in steps
        ]

    def do(self, doing: Callable[[], None]) -> HttpResponse:
        """Go on with the card, or say at it what was not taken."""
        if self._place is not None:
            try:
                doing()
            except InputError as error:
                self.anew()
                return self.again(422, refused=error.args[0])
        return self.back()

    def back(self) -> HttpResponse:
        """Go to the card that was worked on, with gloves on where they were."""
        gloves = "&gloves=1" if self.request.POST.get("gloves") == "1" else ""
        asked = f"?part={self._place}{gloves}" if gloves or len(self.desk.cards) > 1 else ""
        return HttpResponseRedirect(reverse("fit", args=[self.kwargs["pk"]]) + asked)

    @contextmanager
    def _card(self) -> Iterator[tuple[Job, int, Progress]]:
        """Change the card inside the block: the job, which kit's card, and the card as it stands under the lock. Raises InputError for another kit's."""
        place = self._place
        assert place is not None
        with self.change() as record:
            found = Desk.look(record.pk).cards[place]
            hold_to(list(record.fittings.all())[place].pk, found, self.request.POST)
            yield record, place, found

    @act("set", "tick", "skip", "stop")
    @act("overrule", "overrule")
    def _leave(self) -> None:
        with self._card() as (record, place, found):
            leave_step(record, place, found, mark_of(self.person, self.units, found, self.request.POST))

    @act("set", "back")
    def _take_back(self) -> None:
        with self._card() as (record, place, _):
            take_back(record, place, self.request.POST.get("key", ""))

    @act("set", "learn")
    def _learn(self) -> None:
        with self._card() as (record, place, found):
            taught = learnt_of(self.person, found, self.request.POST)
            hold_to_proof(Desk.look(record.pk).job, place, taught)
            learn(record, place, taught, keep=bool(self.request.POST.get("keep")))

    @act("set", "ordered")
    def _ordered(self) -> None:
        with self.change() as record:
            order(list(record.fittings.all())[self._place or 0], ordered_of(self.person, self.request.POST))

    @act("overrule", "overrule-fit")
    def _overrule_fit(self) -> None:
        told, place = self.request.POST, self._place or 0
        with self.change() as record:
            unfit = standing_unfit(Desk.look(record.pk).job, place)
            fitting = list(record.fittings.all())[place]
            overrule_fit(self.person, fitting, unfit, told.get("check", ""), told.get("reason", ""))


class Needed(StageView):
    """What is laid out before the card is begun, on one page to print."""

    stage = "fit"

    def get_template_names(self) -> list[str]:
        """Return the page."""
        return ["fit/needs.html"]

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add what each kit's card needs, those not begun first."""
        cards = sorted(self.desk.cards, key=lambda one: bool(one.marks))
        return super().get_context_data(needed=[(one.card.kit, needs(one.card)) for one in cards], **kwargs)


class Stuck(StageView):
    """When it fights: the tree of questions, a place a page; where it ends, what was tried goes on the card."""

    stage = "fit"

    def get_template_names(self) -> list[str]:
        """Return the page of the tree."""
        return ["fit/stuck.html"]

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the place asked for."""
        cards = self.desk.cards
        names = dict.fromkeys(f.name for one in cards for step in one.card.steps for f in step.fasteners)
        return super().get_context_data(
            node=at(self.request.GET.get("at", START)), start=START, fasteners=list(names), **kwargs
        )

    @act("set", "fought")
    def _fought(self) -> HttpResponse:
        """Put what fought, what was tried and the minutes it took on the card that is worked on."""
        place = next((n for n, one in enumerate(self.desk.cards) if not one.done), None)
        if place is None:
            return self.back()
        try:
            with self.change() as record:
                found = Desk.look(record.pk).cards[place]
                learn(record, place, fought_of(self.person, found, self.request.POST), keep=False)
        except InputError as error:
            self.anew()
            return self.again(422, refused=error.args[0])
        return self.back()


def _of_the_day(found: Progress) -> dict[str, Any]:
    """Return how long the card still takes, and what is left of the day, in minutes."""
    now, shop = timezone.localtime(), Shop.objects.first()
    ends = datetime.combine(now.date(), shop.day_ends if shop else time(17), now.tzinfo)
    return {
        "minutes_left": found.minutes_left,
        "day_left": max((ends - now).total_seconds() / 60.0, 0.0),
        "day_ends": ends,
    }


def _pictures(record: Job, place: int) -> dict[str, list[Photo]]:
    """Return the photographs of a card by the key of their step."""
    found: dict[str, list[Photo]] = {}
    for photo in record.photos.filter(gone=False, step__startswith=f"{place}:"):
        found.setdefault(photo.step.partition(":")[2], []).append(photo)
    return found


def _shown(found: Progress, step: Step, setting: Mapping[str, tuple[float, float]]) -> dict[str, Any]:
    """Return a step as its page has it: the drawing of its way round, and what is written down at it, as the kit is to be set."""
    field, fact = setting_of(found, step), None
    if step.fact:
        pair = setting.get(step.fact)
        value = pair[1 if step.side == "right" else 0] if pair and field else None
        words = field.words.capitalize() if field else FACTS.get(step.fact, step.fact.replace("_", " ").capitalize())
        fact = {
            "words": words,
            "kind": field.kind if field else "",
            "value": value,
            "answers": ANSWERS.get(step.fact, ()),
        }
    plain = [one for one in found.card.steps if not one.gate]
    later = [one for one in plain if step in plain and may_follow(plain, step, one)]
    return {
        "step": step,
        "svg": orient_svg(step.drawing),
        "fact": fact,
        "there": (*found.card.contents, *found.card.tools) if step.key == "unpack" else (),
        "later": later,
    }


def _free(found: Progress) -> tuple[Step, ...]:
    """Return the step that comes next, and the next of the other side where that is free."""
    free = [step for step in found.open if not found.held(step)]
    first = free[:1] or list(found.open[:1])
    other = next(
        (s for s in free if first and s.side != first[0].side and s.side != "once" and first[0].side != "once"), None
    )
    return (*first, *((other,) if other else ()))


def _rows(found: Progress) -> list[dict[str, Any]]:
    """Return the whole card, a row a step."""
    return [{"step": step, "mark": found.marks.get(step.key)} for step in found.card.steps]
