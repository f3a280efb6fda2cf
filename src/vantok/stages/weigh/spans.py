"""The envelope of a load, and what a job rests on: pages that tell how far figures may lie."""

from __future__ import annotations

from typing import Any

from vantok.desk.stage import StageView
from vantok.drawing.spans import spans_svg
from vantok.stages.weigh.frame import WeighView
from vantok_core.base.errors import VantokError
from vantok_core.judge.assumptions import assumptions
from vantok_core.judge.envelope import envelope


class EnvelopePage(WeighView):
    """Every height and limit over full and empty tanks, with and without people."""

    topic = "envelope"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the envelope of the state looked at."""
        model, found, problem = self.desk.model, None, ""
        if model is not None:
            try:
                found = envelope(model, self.record.key)
            except VantokError as error:
                problem = str(error)
        return super().get_context_data(
            found=found,
            problem=problem,
            spans=spans_svg(found.spans, self.units) if found else "",
            no_model=model is None,
            **kwargs,
        )


class Assumptions(StageView):
    """What the job rests on that nobody measured."""

    stage = "diagnose"

    def get_template_names(self) -> list[str]:
        """Return its page."""
        return ["weigh/assumptions.html"]

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add each, worked out once for a desk."""
        kept: dict[object, Any] = self.desk.drawings
        if "assumptions" not in kept and self.desk.model is not None:
            try:
                kept["assumptions"] = assumptions(self.desk.model)
            except VantokError:
                kept["assumptions"] = ()  # the stage's own sentence says why nothing can be solved
        return super().get_context_data(
            rows=kept.get("assumptions", ()),
            also=self.desk.model.assumed if self.desk.model else (),
            complete=self.desk.model is not None,
            **kwargs,
        )
