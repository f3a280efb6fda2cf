"""Options side by side, two criteria plotted, and several kits taken together."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, ClassVar

from django.contrib import messages
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.urls import reverse

from vantok.desk.stage import StageView
from vantok.drawing.against import Dot, against_svg
from vantok.drawing.ruler import carries_svg, head_svg, row_svg, scale_of
from vantok.records.shelf.models import KitRecord
from vantok.stages.choose.actions import OnTheJobError, take_together
from vantok.stages.choose.listing import marks, not_yet, odds_of, setting_words
from vantok_core.base.errors import InputError, VantokError
from vantok_core.judge.choose.beside import Beside, InState, beside
from vantok_core.kits.chances import Chances
from vantok_core.kits.choice import Choice, Shortlist
from vantok_core.kits.odds import TOLERANCE
from vantok_core.kits.registry import family_of
from vantok_core.kits.schools import debates_of
from vantok_core.kits.together import Together, said_of, together
from vantok_core.kits.tradeoff import CRITERIA, undominated
from vantok_core.model import JobModel
from vantok_core.rates.places import Place

MOST_BESIDE = 6
CALLED = {"main": "main spring", "second stage": "second stage", "rear bump stops": "bump stops"}


class SideBySide(StageView):
    """Up to six options with all they are compared by, and the kits among them taken together."""

    stage = "choose"
    rights: ClassVar[str] = "choose"

    def get_template_names(self) -> list[str]:
        """Return the page of the comparison."""
        return ["choose/beside.html"]

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the options asked for, side by side."""
        found, model = self.desk.shortlist, self.desk.worked.staged
        if found is None or model is None:
            return super().get_context_data(columns=[], **kwargs)
        asked = list(dict.fromkeys(self.request.GET.getlist("with")))
        able = [c for key in asked if (c := found.choice(key)) is not None and c.vehicle is not None and not c.out]
        taken = able[:MOST_BESIDE]
        both, why = self._together(model, found, taken)
        columns, problems = self._columns(model, found, taken, both)
        return super().get_context_data(
            columns=columns,
            problems=problems,
            left_off=[c.name for c in able[MOST_BESIDE:]],
            unknown=len(asked) - len(able),
            together=both,
            together_said=said_of(both) if both else (),
            why_not_together=why,
            most=MOST_BESIDE,
            debates=debates_of([kit for c in taken for kit in c.kits]),
            shortlist=found,
            states=[s for s in self.desk.job.states if s.key in model.states],
            axles=("rear", "front"),
            planned=self.desk.job.planned,
            tolerance=TOLERANCE,
            **self._ruler(model, found, columns),
            **kwargs,
        )

    def _together(self, model: JobModel, found: Shortlist, taken: list[Choice]) -> tuple[Together | None, str]:
        """Return the kits among the options as one option, or why they are none."""
        kits = [c.kit for c in taken if c.kit is not None and not family_of(c.kit).gives_back]
        if len(kits) < 2:
            return None, ""
        try:
            return together(model, found, kits), ""
        except VantokError as error:
            return None, str(error)

    def _columns(
        self, model: JobModel, found: Shortlist, taken: list[Choice], both: Together | None
    ) -> tuple[list[dict[str, Any]], list[str]]:
        """Return a column for each option, and what could not be solved."""
        columns, problems = [], []
        options = [*taken, both.choice] if both else taken
        known = self.desk.worked.chances(replace(found, choices=tuple(options))) or Chances(by={}, none=1.0)
        for choice in options:
            try:
                columns.append(_column(beside(model, found, choice), known, both))
            except VantokError as error:
                problems.append(f"{choice.name}: {error}")
        return columns, problems

    def _ruler(self, model: JobModel, found: Shortlist, columns: list[dict[str, Any]]) -> dict[str, Any]:
        """Return the options on one scale, each drawing in its column's row."""
        stands = model.estimate.heights.get(Place("rear", "ground"))
        target = (stands or 0.0) - found.target.drop
        drawn = {c["choice"].key: marks(c["choice"], stands) for c in columns if c["choice"].drop is not None}
        if not drawn:
            return {"ruler": None}
        scale = scale_of(drawn.values(), target, self.units, signed=stands is None)
        rows = {key: row_svg(one, scale, target, self.units) for key, one in drawn.items()}
        return {"ruler": {"head": head_svg(scale, target, self.units), "rows": rows}}

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        """Take several kits together: one after the other, or all at once."""
        codes = request.POST.getlist("kit")
        found, model = self.desk.shortlist, self.desk.worked.staged
        kits = {k.code: k for k in KitRecord.objects.filter(code__in=codes, offered=True)}
        if problem := next(
            (p for code in codes if code in kits and (p := not_yet(self.desk, kits[code].to_core(), self.units))), ""
        ):
            messages.error(request, problem)
            return self.back()
        try:
            if found is None or model is None or len(kits) < len(codes):
                raise InputError("kits", ", ".join(codes), "one of them is not on the shelf any more")
            both = together(model, found, [kits[code].to_core() for code in codes])
            with self.change() as record:
                take_together(
                    record,
                    both,
                    found.state.key,
                    {k: v.data for k, v in kits.items()},
                    at_once=request.POST.get("how") == "at-once",
                )
        except OnTheJobError as error:
            messages.error(
                request,
                f"{error.fitting} is on the job already: take kits together before any is on, or each on top of it.",
            )
            return self.back()
        except VantokError as error:
            messages.error(request, f"{error} Nothing was taken.")
            return self.back()
        return HttpResponseRedirect(reverse("fit", args=[pk]))


def _column(told: Beside, known: Chances, both: Together | None) -> dict[str, Any]:
    """Return what a column shows of an option."""
    choice = told.choice
    bundled = both is not None and choice.key == both.choice.key
    settings = (
        [(kit, setting_words(kit, both.settings[kit.code])) for kit in both.kits]
        if both is not None and bundled
        else [(choice.kit, setting_words(choice.kit, choice.setting))]
        if choice.kit
        else []
    )
    return {
        "choice": choice,
        "told": told,
        "bundled": bundled,
        "settings": settings,
        "hours": both.hours.at_once if both and bundled else told.hours,
        "gives_back": any(family_of(kit).gives_back for kit in choice.kits),
        "damps": any(family_of(kit).work == "damper" for kit in choice.kits),
        "states": {s.state.key: _in_state(s) for s in told.states},
        **odds_of(known.by.get(choice.key)),
    }


def _in_state(told: InState) -> dict[str, Any]:
    """Return what a cell shows of an option in a state."""
    stages = [
        (CALLED.get(name, "kit" if name.startswith("kit") else name), stage)
        for name, stage in told.budget.stages.items()
        if stage.load_share > 0.0005
    ]
    words = ", ".join(f"{name} {100 * stage.load_share:.0f} %" for name, stage in stages)
    bar = carries_svg(
        [("main" if name == "main spring" else name, stage.load_share) for name, stage in stages],
        f"Who carries: {words}",
    )
    return {
        "told": told,
        "carried": words,
        "bar": bar,
        "pressed": None if told.gap is None or told.gap >= 0.0 else -told.gap,
    }


class Tradeoff(StageView):
    """Two criteria against each other, with the options that no other beats in both."""

    stage = "choose"

    def get_template_names(self) -> list[str]:
        """Return the page of the plot."""
        return ["choose/tradeoff.html"]

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the plot and its figures."""
        found = self.desk.shortlist
        across, up = self._asked("x", "cost"), self._asked("y", "miss")
        able = [c for c in found.choices if not c.out and c.miss is not None] if found else []
        best = undominated(able, (across, up))
        one, other = CRITERIA[across], CRITERIA[up]
        told = [(c, one.of(c), other.of(c)) for c in able]
        rows = [{"choice": c, "x": x, "y": y, "unbeaten": c.key in best} for c, x, y in told]
        dots = [
            Dot(name=c.name, x=x, y=y, unbeaten=c.key in best, best=found is not None and c.key == found.recommended)
            for c, x, y in told
            if x is not None and y is not None
        ]
        return super().get_context_data(
            plot=against_svg(dots, one, other, self.units) if dots else "",
            plotted=rows,
            axes=(("x", "Across", across), ("y", "Up", up)),
            criteria=CRITERIA.items(),
            one=one,
            other=other,
            shortlist=found,
            **kwargs,
        )

    def _asked(self, name: str, usual: str) -> str:
        told = self.request.GET.get(name, "")
        return told if told in CRITERIA else usual
