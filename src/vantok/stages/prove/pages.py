"""Pages of Prove beside the tape: leak tests, clearances, the drive before and after with one change at a time."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta
from typing import Any

from django.http import HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.utils import timezone

from vantok.desk.proving import add, change_entry, ways
from vantok.desk.stage import StageView
from vantok.fields.temperature import shown
from vantok.people.acts import act
from vantok.records.jobs.models import Job
from vantok.stages.prove.forms import LeakForm, ReadAgainForm
from vantok_core.base.errors import InputError, UnitError
from vantok_core.base.say import Quantity
from vantok_core.base.units import parse
from vantok_core.judge.grounds.leaking import clearances_asked, leak_said

FOUND = (("", "—"), ("clear", "clear"), ("touches", "touches"), ("witnessed", "witnessed by chalk or clay"))
PLAIN = ("moment", "rater", "course", "speed", "state", "words", "expected")
HOW = (("", "—"), ("hand", "by hand"), ("wheels_off", "wheels off"), ("engine", "engine running"))


class ProvePage(StageView):
    """What the pages of Prove share."""

    stage = "prove"
    page = ""

    def get_template_names(self) -> list[str]:
        """Each has its own template."""
        return [f"prove/{self.page}.html"]

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the pages that prove this job."""
        return super().get_context_data(ways=ways(self.desk.job, self.page), **kwargs)

    @property
    def signed(self) -> dict[str, str]:
        """Who, and when."""
        return {"by": str(self.person)[:120], "at": timezone.now().isoformat(timespec="seconds")}

    @property
    def mark(self) -> str:
        """The kit in hand and its setting."""
        fitting = self.desk.job.fitting
        return fitting.mark if fitting else ""

    def here(self) -> HttpResponse:
        """Go to this page anew."""
        return HttpResponseRedirect(reverse(self.page, args=[self.desk.record.pk]))


class Leak(ProvePage):
    """A bag pressed up, soaped, read again: what it loses at the same temperature."""

    page = "leak"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the tests with what each says now."""
        kwargs.setdefault("form", LeakForm(units=self.units, auto_id="begin-%s"))
        again, again_key = kwargs.pop("again_form", None), kwargs.get("again_key", "")
        now = timezone.now()
        tests = [
            {
                "said": (said := leak_said(test, now)),
                "test": test,
                "form": again
                if again is not None and again_key == test.key
                else ReadAgainForm(units=self.units, auto_id=f"{test.key}-%s"),
                "p1": Quantity(test.p1_pa, "pressure"),
                "warm": shown(test.kelvin_1, self.units),
                "p2": Quantity(test.p2_pa, "pressure") if test.p2_pa is not None else None,
                "warm_2": shown(test.kelvin_2, self.units) if test.kelvin_2 else "",
                "ready": timezone.now() + timedelta(seconds=said.wait or 0.0),
            }
            for test in reversed(self.desk.job.proving.leaks)
        ]
        return super().get_context_data(
            tests=tests, again_faults=again.non_field_errors() if again is not None else (), **kwargs
        )

    @act("measure", "read")
    def _read_again(self) -> HttpResponse:
        told = self.request.POST
        key = told.get("key", "")
        form = self.take(lambda r: ReadAgainForm(told, units=self.units, auto_id=f"{key[:12]}-%s"), self._read)
        return self.taken(form, again_form=form, again_key=key) or self.here()

    @act("measure", "begin")
    def _begun(self) -> HttpResponse:
        form = self.take(lambda r: LeakForm(self.request.POST, units=self.units, auto_id="begin-%s"), self._begin)
        return self.taken(form, form=form) or self.here()

    def _begin(self, record: Job, form: LeakForm) -> None:
        told = form.cleaned_data
        entry = {
            "key": "new",
            "side": told["side"],
            "p1_pa": told["pressure"],
            "kelvin_1": told["temperature"],
            "soaped": told["soaped"],
            "bubbles": told["bubbles"],
            "began": self.signed["at"],
            "by": self.signed["by"],
        }
        add(record, "leaks", entry)

    def _read(self, record: Job, form: ReadAgainForm) -> None:
        told = form.cleaned_data
        read = {
            "p2_pa": told["pressure"],
            "kelvin_2": told["temperature"],
            "ended": self.signed["at"],
            "ended_by": self.signed["by"],
        }
        more = {"soaped": True} if told["soaped"] else {}
        change_entry(
            record,
            "leaks",
            self.request.POST.get("key", ""),
            read | more | ({"bubbles": told["bubbles"]} if told["bubbles"] else {}),
        )


class Clear(ProvePage):
    """Where parts might meet, looked at with the kit as it is set now; another setting asks for it again."""

    page = "clear"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add what is asked for."""
        rows = [{"asked": one, "name": f"{one.what}-{one.where}"} for one in clearances_asked(self.desk.job)]
        before = [c for c in self.desk.job.proving.clearances if c.moment == "before"]
        return super().get_context_data(
            rows=rows, before=before, founds=FOUND, hows=HOW, typed=kwargs.pop("typed", {}), **kwargs
        )

    def do(self, doing: Callable[[], HttpResponse]) -> HttpResponse:
        """Show what is not taken as it was typed."""
        try:
            return doing()
        except (InputError, UnitError) as error:
            self.anew()
            return self.again(422, refused=str(error), typed=self.request.POST)

    @act("measure", "")
    def _found(self) -> HttpResponse:
        """Take in what was found, row by row; what is left empty stays as it was."""
        with self.change() as record:
            for one in clearances_asked(self.desk.job):
                if entry := self._entry(f"{one.what}-{one.where}", one.what, one.where):
                    add(record, "clearances", entry)
        return self.here()

    @act("overrule", "overrule")
    def _overrule(self) -> HttpResponse:
        """Let it go on although a place touches, with the reason the report keeps. Raises InputError for one nobody overrules, or without a reason."""
        told = self.request.POST
        with self.change() as record:
            one = next((a for a in clearances_asked(self.desk.job) if f"{a.what}-{a.where}" == told.get("place")), None)
            if one is None or one.stands is None or not one.stops:
                raise InputError("place", told.get("place", ""), "it stops nothing any more")
            if one.final:
                raise InputError("place", one.words, "nobody overrules a tyre, a line or a lock that touches")
            if not (reason := told.get("reason", "").strip()):
                raise InputError("reason", "nothing", "say why: the report keeps it")
            why = f"{reason[:150]} ({self.person})"[:200]
            add(record, "clearances", one.stands.model_dump(mode="json") | {"overruled": why, **self.signed})
        return self.here()

    def _entry(self, name: str, what: str, where: str) -> dict[str, Any] | None:
        told = self.request.POST
        found = told.get(f"found-{name}", "")
        if found not in dict(FOUND) or not found:
            return None
        left = told.get(f"left-{name}", "").strip()
        if found == "witnessed" and not left:
            raise InputError(what, found, "say how much is left: what chalk or clay was squeezed to")
        how = told.get(f"how-{name}", "")
        return {
            "what": what,
            "where": where,
            "moment": "before" if told.get("moment") == "before" else "after",
            "found": found,
            "how": how if how in dict(HOW) else "",
            "left_m": parse("length", left, self.units).value if left else None,
            "note": told.get(f"note-{name}", "").strip()[:200],
            "mark": self.mark,
            **self.signed,
        }


class Films(ProvePage):
    """Two films or pictures side by side, on the device alone."""

    page = "films"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the two sides."""
        return super().get_context_data(sides=(("before", "Before"), ("after", "After")), **kwargs)
