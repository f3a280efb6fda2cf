"""The diagnosis on the page."""

from __future__ import annotations

from collections import Counter
from typing import Any

from django.http import HttpResponse
from django.utils.functional import SimpleLazyObject

from vantok.desk.lessons import causes_proved, learnt_since
from vantok.desk.load import Desk
from vantok.desk.stage import StageView
from vantok.people.acts import act
from vantok.people.models import Shop
from vantok.stages.diagnose.planned import PlannedForm, add_planned, drop_planned
from vantok_core.aims.complaints import COMPLAINT_WORDS
from vantok_core.base.say import BEAM_WALL
from vantok_core.judge.diagnose.causes import likely_causes, with_own
from vantok_core.judge.grounds.shown import StateView
from vantok_core.judge.grounds.working import Working


def anchored(view: StateView) -> list[tuple[str, Working]]:
    """Return a state's workings with the names by which its figures lead to them; a second of a kind is numbered."""
    seen: Counter[str] = Counter()
    found = []
    for working in view.workings:
        seen[working.key] += 1
        again = f"-{seen[working.key]}" if seen[working.key] > 1 else ""
        found.append((f"w-{view.state.key}-{working.key}{again}", working))
    return found


class Diagnose(StageView):
    """Sag, rake, lean, rates, what a helper can and cannot do; each number opens to its working."""

    stage = "diagnose"

    def _springs(self) -> list[dict[str, Any]]:
        """Return each axle's rate with the ride frequency of the state spoken of, both with their bands."""
        found = self.desk.diagnosis
        if found is None:
            return []
        view = found.main or found.views[0]
        return [
            {"rate": r, "frequency": view.frequency[r.axle], "band": r.frequency_band(view.frequency[r.axle])}
            for r in found.rates
            if r.axle in view.frequency
        ]

    def _causes(self) -> list[dict[str, Any]]:
        """Return what may be behind each complaint, in its own words, by the shop's own weights where it has them."""
        said, own = COMPLAINT_WORDS, Shop.objects.values_list("odds", flat=True).first()
        proved = causes_proved()
        found = likely_causes(self.desk.job, self.desk.diagnosis, with_own(own) if own else None, proved)
        return [
            {
                "likely": one,
                "words": said.get(one.complaint.code, one.complaint.code),
                "proved": sum(proved.get(one.complaint.code, {}).values()),
            }
            for one in found
        ]

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the diagnosis."""
        found = self.desk.diagnosis
        corners = ("FL", "FR", "RL", "RR")
        rows = []
        for view in found.views if found else ():
            cells = [{"read": view.read.get(c), "sag": None if view.state.empty else view.sag.get(c)} for c in corners]
            rows.append(
                {
                    "view": view,
                    "cells": cells,
                    "workings": anchored(view),
                    "off": found and found.off_springs(view.state.key),
                }
            )
        tapes = [
            {"tape": t, "cells": [{"read": t.read.get(c), "sag": t.sag.get(c)} for c in corners]}
            for t in (found.tapes if found else ())
        ]
        kwargs.setdefault("since", _since(self.desk))
        told = self.desk.worked.planned
        kwargs.setdefault("planned_form", PlannedForm(record=self.desk.record, units=self.units))
        return super().get_context_data(
            planned=told,
            unplanned=[one for one in self.desk.job.planned if one.key not in {p.change.key for p in told}],
            diagnosis=found,
            already=self.desk.worked.already,
            tails=self.desk.worked.tails,
            tapes=tapes,
            rows=rows,
            causes=SimpleLazyObject(self._causes),
            springs=self._springs(),
            main=found.main if found else None,
            wall=BEAM_WALL,
            **kwargs,
        )

    @act("measure", "drop-planned")
    def _drop_planned(self) -> HttpResponse:
        with self.change() as record:
            drop_planned(record, self.request.POST.get("planned", ""))
        return self.back()

    @act("measure", "add-planned")
    def _add_planned(self) -> HttpResponse:
        return self.entered(
            "planned_form", lambda r: PlannedForm(self.request.POST, record=r, units=self.units), add_planned
        )


def _since(desk: Desk) -> list[dict[str, Any]]:
    """Return what the shop has learnt of the class since the job was decided on, an axle a line: it is told, and changes nothing here."""
    if not (desk.record.done or desk.job.fitting):
        return []
    return [
        {
            "axle": now.axle,
            "then": then.n if then else 0,
            "now": now.n,
            "factor": now.factor / (then.factor if then else 1.0),
        }
        for then, now in learnt_since(desk.facts.job)
    ]
