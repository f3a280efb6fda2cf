"""The diagnosis on the page."""

from __future__ import annotations

from typing import Any

from vantok.jobs.stage import StageView


class Diagnose(StageView):
    """Sag, rake, lean, rates, what a helper can and cannot do; each number opens to its working."""

    stage = "diagnose"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the diagnosis."""
        found = self.desk.diagnosis
        corners = ("FL", "FR", "RL", "RR")
        rows = []
        for view in found.views if found else ():
            cells = [{"read": view.read.get(c), "sag": None if view.state.empty else view.sag.get(c)} for c in corners]
            rows.append({"view": view, "cells": cells})
        return super().get_context_data(diagnosis=found, rows=rows, main=found.main if found else None, **kwargs)
