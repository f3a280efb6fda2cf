"""Prove: the drives, as they are graded; one change at a time, and the setting each road wants."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from typing import Any

from django.contrib import messages
from django.http import HttpResponse

from vantok.desk.proving import add, change_entry, put_setting
from vantok.desk.rides import FITTED, NOW, standing
from vantok.people.acts import act
from vantok.records.jobs.models import Job
from vantok.stages.prove.forms import DriveForm
from vantok.stages.prove.pages import ProvePage
from vantok_core.aims.complaints import COMPLAINT_WORDS
from vantok_core.base.errors import InputError, UnitError, VantokError
from vantok_core.base.say import Quantity
from vantok_core.base.units import parse
from vantok_core.facts.proving import Drive
from vantok_core.judge.grounds.leaking import stopping
from vantok_core.judge.prove.driving import (
    BRIEFING,
    CATEGORIES,
    COURSES,
    FELT,
    GRADES,
    agreement,
    answers,
    asked,
    changes,
    first_by_lot,
    middle_found,
    next_change,
    not_compared,
)
from vantok_core.judge.ride.foreseen import foreseen
from vantok_core.judge.ride.ready import Over
from vantok_core.kits.target import target_state
from vantok_core.road.course import PIECES

PLAIN = ("moment", "rater", "course", "speed", "state")
FIRST = 3
"""Grades asked for at once where nothing it came for asks for one."""


def _earlier(drives: Sequence[Drive], category: str) -> str:
    """Return how a category was last graded before the work, to stand beside the grade now; empty where it never was."""
    told = [GRADES[grade] for one in drives if one.moment == "before" and (grade := one.grades.get(category))]
    return f"before: {told[-1]}" if told else ""


class DriveSheet(ProvePage):
    """The drive before and after, graded by owner and technician; one change at a time, kept or put back."""

    page = "drive"
    opens_offline = True

    @property
    def _tape_first(self) -> bool:
        """Whether the heights as read ask for something else first: no change is told to make before that."""
        proof = self.desk.proof
        return proof is not None and proof.inside is False and proof.next is None

    def _form(self, record: Job, data: Any = None) -> DriveForm:
        job = self.desk.job
        states = [(s.key, s.name) for s in job.states]
        began = record.began is not None
        return DriveForm(data, units=self.units, states=states, began=began, stops=stopping(job))

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the sheet, what changed, what became of the complaints, and what to change next."""
        job, record = self.desk.job, self.desk.record
        kwargs.setdefault("form", self._form(record))
        drives, said, form = job.proving.drives, COMPLAINT_WORDS, kwargs["form"]
        first = asked(job) or tuple(CATEGORIES)[:FIRST]
        return super().get_context_data(
            drives=_drive_rows(drives),
            changes=_change_rows(drives),
            lonely=not_compared(drives),
            agreement=agreement(drives),
            answers=[{"words": said.get(a.code, a.code), "a": a} for a in answers(job)],
            next_change=None if self._tape_first else next_change(job),
            middle=middle_found(job.proving.loops),
            loops=list(reversed(job.proving.loops)),
            lot=first_by_lot(record.number, len(drives)),
            courses=COURSES.items(),
            briefing=BRIEFING,
            roads=job.proving.roads,
            mark=self.mark,
            graded=[(form[f"g-{key}"], _earlier(drives, key)) for key in first],
            others=[form[f"g-{key}"] for key in CATEGORIES if key not in first],
            plain=[form[name] for name in PLAIN],
            **kwargs,
        )

    @act("measure", "drive", "")
    def _driven(self) -> HttpResponse:
        expected = self._foreseen()  # worked out before the lock
        form = self.take(lambda r: self._form(r, self.request.POST), partial(self._drive, expected=expected))
        return self.taken(form, form=form) or self.here()

    @act("set", "ended", "remember", "recall")
    def _changed(self) -> HttpResponse:
        """Note how a change went, or keep a setting for a road; or put one back."""
        try:
            with self.change() as record:
                {"ended": self._ended, "remember": self._remember, "recall": self._recall}[self.asked](record)
        except InputError as error:
            messages.error(self.request, f"{error} Nothing was changed.")
        return self.here()

    def _drive(self, record: Job, form: DriveForm, expected: dict[str, str]) -> None:
        told = form.cleaned_data
        add(
            record,
            "drives",
            {
                "key": "new",
                "moment": told["moment"],
                "rater": told["rater"],
                "course": told["course"],
                "speed_kmh": round(told["speed"] * 3.6, 3),
                "state": told["state"],
                "grades": form.grades,
                "felt": told["felt"],
                "words": told["words"],
                "expected": told["expected"],
                "foreseen": expected,
                "told": told["told"],
                "mark": self.mark if told["moment"] == "after" else "",
                **self.signed,
            },
        )

    def _foreseen(self) -> dict[str, str]:
        """Return what the model expects of the drive with the kit that is sent, to be kept beside what was felt; nothing where it cannot tell."""
        told, model = self.request.POST, self.desk.worked.staged
        piece, known = PIECES.get(told.get("course", "")), {one.key: one for one in standing(self.desk)}
        if told.get("moment") != "after" or model is None or piece is None or FITTED not in known:
            return {}
        try:
            speed = parse("speed", told.get("speed", ""), self.units).value
            over = Over(piece=piece.key, speed=speed, side=piece.side, state=told.get("state") or target_state(model))
            return {**foreseen(model, known[NOW], known[FITTED], over)}
        except (VantokError, UnitError):
            return {}  # a speed or a state that the model cannot drive: the sheet stands without it

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
            "drive": d,
            "course": _course(d.course),
            "grades": _words(d.grades),
            "felt": [FELT[f] for f in d.felt if f in FELT],
            "speed": Quantity(d.speed_kmh / 3.6, "speed") if d.speed_kmh else None,
        }
        for d in reversed(drives)
    ]


def _change_rows(drives: Sequence[Drive]) -> list[dict[str, Any]]:
    """Return what changed, in words."""
    return [
        {
            "c": c,
            "words": CATEGORIES[c.category][1] if c.category in CATEGORIES else c.category,
            "course": _course(c.course),
            "before": GRADES[c.before],
            "after": GRADES[c.after],
        }
        for c in changes(drives)
    ]


def _course(key: str) -> str:
    return COURSES[key].words if key in COURSES else key


def _words(grades: dict[str, Any]) -> list[str]:
    return [f"{CATEGORIES[key][1]}: {GRADES[grade]}" for key, grade in grades.items() if key in CATEGORIES]
