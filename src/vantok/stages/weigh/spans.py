"""The envelope of a load: a page that tells how far figures may lie."""

from __future__ import annotations

from typing import Any

from vantok.drawing.spans import spans_svg
from vantok.stages.weigh.frame import WeighView
from vantok_core.base.errors import VantokError
from vantok_core.judge.weigh.envelope import envelope


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
