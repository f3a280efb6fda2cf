"""From side to side: what the pads know that the plan does not, and what would take a lean out."""

from __future__ import annotations

from typing import Any

from vantok.stages.weigh.frame import WeighView
from vantok_core.base.errors import VantokError
from vantok_core.judge.weigh.across import levelling, unlisted_said
from vantok_core.model.pads import unlisted


class AcrossPage(WeighView):
    """What lies to one side of a state."""

    topic = "across"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add both answers, worked out once for a desk."""
        worked = self.desk.kept(("across", self.record.key), self._worked)
        return super().get_context_data(**worked, **kwargs)

    def _worked(self) -> dict[str, Any]:
        model, found = self.desk.worked.in_hand, dict[str, Any](problem="")
        try:
            told = unlisted(self.desk.job, self.state)
            found |= {"unlisted": told, "unlisted_said": unlisted_said(told) if told else None}
            found["level"] = levelling(model, self.state) if model is not None else None
        except VantokError as error:
            found["problem"] = str(error)
        return found
