"""Pages of Prove beside the tape: leak tests, clearances, the drive before and after with one change at a time."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import timedelta
from typing import Any, ClassVar

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse
from django.utils import timezone

from vantok.desk.proving import add, change_entry, put_setting
from vantok.desk.stage import StageView
from vantok.fields.temperature import shown
from vantok.records.jobs.models import COMPLAINTS, Job
from vantok.stages.prove.forms import DriveForm, LeakForm, ReadAgainForm
from vantok_core.base.errors import InputError, UnitError
from vantok_core.base.say import Quantity
from vantok_core.base.units import parse
from vantok_core.facts.proving import Drive
from vantok_core.judge.driving import (
    BRIEFING,
    CATEGORIES,
    COURSES,
    FELT,
    GRADES,
    agreement,
    answers,
    changes,
    first_by_lot,
    middle_found,
    next_change,
    not_compared,
)
from vantok_core.judge.leaking import clearances_asked, leak_said

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
    rights: ClassVar[dict[str, str]] = {"begin": "measure", "read": "measure"}

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the tests with what each says now."""
        kwargs.setdefault("form", LeakForm(units=self.units, auto_id="begin-%s"))
        again, again_key = kwargs.pop("again_form", None), kwargs.get("again_key", "")
        now = timezone.now()
        tests = [
            {
                "said": (said := leak_said(test, now)), "test": test,
                "form": again if again is not None and again_key == test.key else ReadAgainForm(units=self.units, auto_id=f"{test.key}-%s"),
                "p1": Quantity(test.p1_pa, "pressure"), "warm": shown(test.kelvin_1, self.units),
                "p2": Quantity(test.p2_pa, "pressure") if test.p2_pa is not None else None,
                "warm_2": shown(test.kelvin_2, self.units) if test.kelvin_2 else "", "ready": timezone.now() + timedelta(seconds=said.wait or 0.0),
            }
            for test in reversed(self.desk.job.proving.leaks)
        ]  # fmt: skip
        return super().get_context_data(
            tests=tests, again_faults=again.non_field_errors() if again is not None else (), **kwargs
        )

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Begin a test, or read one again."""
        if request.POST.get("action") == "read":
            form = self.take(
                "measure",
                lambda r: ReadAgainForm(
                    request.POST, units=self.units, auto_id=f"{request.POST.get('key', '')[:12]}-%s"
                ),
                self._read,
            )
            return self.taken(form, again_form=form, again_key=request.POST.get("key", "")) or self.here()
        begun = self.take(
            "measure", lambda r: LeakForm(request.POST, units=self.units, auto_id="begin-%s"), self._begin
        )
        return self.taken(begun, form=begun) or self.here()

    def _begin(self, record: Job, form: LeakForm) -> None:
        told = form.cleaned_data
        entry = {"key": "new", "side": told["side"], "p1_pa": told["pressure"], "kelvin_1": told["temperature"], "soaped": told["soaped"],
                 "bubbles": told["bubbles"], "began": self.signed["at"], "by": self.signed["by"]}  # fmt: skip
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
    rights: ClassVar[str] = "measure"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add what is asked for."""
        rows = [{"asked": one, "name": f"{one.what}-{one.where}"} for one in clearances_asked(self.desk.job)]
        before = [c for c in self.desk.job.proving.clearances if c.moment == "before"]
        return super().get_context_data(
            rows=rows, before=before, founds=FOUND, hows=HOW, typed=kwargs.pop("typed", {}), **kwargs
        )

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Take in what was found, row by row; what is left empty stays as it was."""
        try:
            with self.change("measure") as record:
                for one in clearances_asked(self.desk.job):
                    if entry := self._entry(f"{one.what}-{one.where}", one.what, one.where):
                        add(record, "clearances", entry)
        except (InputError, UnitError) as error:
            self.anew()
            return self.again(422, refused=str(error), typed=request.POST)
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
            "what": what, "where": where, "moment": "before" if told.get("moment") == "before" else "after", "found": found,
            "how": how if how in dict(HOW) else "", "left_m": parse("length", left, self.units).value if left else None,
            "note": told.get(f"note-{name}", "").strip()[:200], "mark": self.mark, **self.signed,
        }  # fmt: skip


class DriveSheet(ProvePage):
    """The drive before and after, graded by owner and technician; one change at a time, kept or put back."""

    page = "drive"
    rights: ClassVar[dict[str, str]] = {"drive": "measure", "ended": "set", "remember": "set", "recall": "set"}

    @property
    def _tape_first(self) -> bool:
        """Whether the heights as read ask for something else first: no change is told to make before that."""
        proof = self.desk.proof
        return proof is not None and proof.inside is False and proof.next is None

    def _form(self, record: Job, data: Any = None) -> DriveForm:
        states = [(s.key, s.name) for s in self.desk.job.states]
        return DriveForm(data, units=self.units, states=states, began=record.began is not None)

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the sheet, what changed, what became of the complaints, and what to change next."""
        job, record = self.desk.job, self.desk.record
        kwargs.setdefault("form", self._form(record))
        drives, said, form = job.proving.drives, dict(COMPLAINTS), kwargs["form"]
        return super().get_context_data(
            drives=_drive_rows(drives), changes=_change_rows(drives), lonely=not_compared(drives), agreement=agreement(drives),
            answers=[{"words": said.get(a.code, a.code), "a": a} for a in answers(job)], next_change=None if self._tape_first else next_change(job),
            middle=middle_found(job.proving.loops), loops=list(reversed(job.proving.loops)), lot=first_by_lot(record.number, len(drives)),
            courses=COURSES.items(), briefing=BRIEFING, roads=job.proving.roads, mark=self.mark,
            graded=[form[f"g-{key}"] for key in CATEGORIES], plain=[form[name] for name in PLAIN], **kwargs,
        )  # fmt: skip

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Take a drive, how a change went, a setting remembered or put back."""
        action = request.POST.get("action", "drive")
        if action == "drive":
            form = self.take("measure", lambda r: self._form(r, request.POST), self._drive)
            return self.taken(form, form=form) or self.here()
        try:
            with self.change("set") as record:
                getattr(self, f"_{action}")(record) if action in ("ended", "remember", "recall") else None
        except InputError as error:
            messages.error(request, f"{error} Nothing was changed.")
        return self.here()

    def _drive(self, record: Job, form: DriveForm) -> None:
        told = form.cleaned_data
        add(record, "drives", {
            "key": "new", "moment": told["moment"], "rater": told["rater"], "course": told["course"], "speed_kmh": round(told["speed"] * 3.6, 3),
            "state": told["state"], "grades": form.grades, "felt": told["felt"], "words": told["words"], "expected": told["expected"], "told": told["told"],
            "mark": self.mark if told["moment"] == "after" else "", **self.signed,
        })  # fmt: skip

    def _ended(self, record: Job) -> None:
        """Note how a change went; one that is put back puts the setting back with it."""
        told = self.request.POST
        key = told.get("key", "")
        entry = next((one for one in self.desk.job.proving.loops if one.key == key), None)
        if entry is None:
            raise InputError("change", key, "it is not there any more")
        stays = told.get("stays", "")
        if stays == "put_back":
            if self.mark != entry.mark_after:
                raise InputError("change", entry.what, "another setting is on by now: put the last change back first")
            put_setting(record, entry.mark_before)
        change_entry(
            record,
            "loops",
            key,
            {"outcome": told.get("outcome", ""), "basis": told.get("basis", ""), "stays": stays, **self.signed},
        )

    def _remember(self, record: Job) -> None:
        told = self.request.POST
        if not self.mark:
            raise InputError("setting", "nothing", "there is no kit on the job")
        add(
            record,
            "roads",
            {
                "road": told.get("road", ""),
                "mark": self.mark,
                "words": told.get("words", "").strip()[:200],
                **self.signed,
            },
        )

    def _recall(self, record: Job) -> None:
        name = put_setting(record, self.request.POST.get("mark", ""))
        messages.success(
            self.request, f"{name} stands at that setting on the sheet; set it so on the vehicle, and say so on Set."
        )


def _drive_rows(drives: Sequence[Drive]) -> list[dict[str, Any]]:
    """Return the drives as they are listed, the last first."""
    return [
        {
            "drive": d, "course": _course(d.course), "grades": _words(d.grades), "felt": [FELT[f] for f in d.felt if f in FELT],
            "speed": Quantity(d.speed_kmh / 3.6, "speed") if d.speed_kmh else None,
        }
        for d in reversed(drives)
    ]  # fmt: skip


def _change_rows(drives: Sequence[Drive]) -> list[dict[str, Any]]:
    """Return what changed, in words."""
    return [
        {"c": c, "words": CATEGORIES[c.category][1] if c.category in CATEGORIES else c.category, "course": _course(c.course),
         "before": GRADES[c.before], "after": GRADES[c.after]}
        for c in changes(drives)
    ]  # fmt: skip


def _course(key: str) -> str:
    return COURSES[key].words if key in COURSES else key


def _words(grades: dict[str, Any]) -> list[str]:
    return [f"{CATEGORIES[key][1]}: {GRADES[grade]}" for key, grade in grades.items() if key in CATEGORIES]


class Films(StageView):
    """Two films or pictures side by side, on the device alone."""

    stage = "prove"

    def get_template_names(self) -> list[str]:
        """Return the page."""
        return ["prove/films.html"]

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the two sides."""
        return super().get_context_data(sides=(("before", "Before"), ("after", "After")), **kwargs)
