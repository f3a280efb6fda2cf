"""The diagnosis on the page."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace
from typing import Any

from vantok.jobs.models import COMPLAINTS
from vantok.jobs.stage import StageView
from vantok_core.judge.causes import Cause, likely_causes

MOST_CAUSES = 3


class Diagnose(StageView):
    """Sag, rake, lean, rates, what a helper can and cannot do; each number opens to its working."""

    stage = "diagnose"

    def _causes(self) -> list[Cause]:
        """Return the causes with at least something for them, or untested, three a complaint, in the complaint's words."""
        found = self.desk.diagnosis
        if found is None:
            return []
        said, counted, kept = dict(COMPLAINTS), Counter[str](), []
        for cause in likely_causes(self.desk.job, found.findings):
            counted[cause.complaint] += 1
            if counted[cause.complaint] <= MOST_CAUSES:
                kept.append(replace(cause, complaint=said.get(cause.complaint, cause.complaint)))
        return kept

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the diagnosis."""
        found = self.desk.diagnosis
        corners = ("FL", "FR", "RL", "RR")
        rows = []
        for view in found.views if found else ():
            cells = [{"read": view.read.get(c), "sag": None if view.state.empty else view.sag.get(c)} for c in corners]
            rows.append({"view": view, "cells": cells})
        return super().get_context_data(
            diagnosis=found, rows=rows, causes=self._causes(), main=found.main if found else None, **kwargs
        )
