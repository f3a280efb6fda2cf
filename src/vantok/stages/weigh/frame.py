"""What the pages of the weighing share: the topics, the load state looked at, and what every one of them says of its loads."""

from __future__ import annotations

from dataclasses import replace
from functools import cached_property
from typing import Any
from urllib.parse import urlencode

from django.http import Http404, HttpResponse, HttpResponseRedirect
from django.urls import reverse

from vantok.desk.load import Desk
from vantok.desk.look import Look
from vantok.desk.stage import StageView
from vantok.records.weigh.models import LoadState
from vantok_core.base.num import G
from vantok_core.base.say import Say, mass
from vantok_core.facts import JobState
from vantok_core.judge.grounds.unweighed import weigh_it
from vantok_core.judge.weigh.loads import check_loads
from vantok_core.loads.limits import smallest
from vantok_core.loads.moves import side_moment
from vantok_core.loads.plan import hitch_of, state_load, state_margins

TOPICS: tuple[tuple[tuple[str, str], ...], ...] = (
    (("weigh", "Load plan"), ("zones", "Zones"), ("coach", "Coach sheet")),
    (("scales", "Scales"), ("across", "Side to side"), ("tyres", "Tyres and angles")),
    (("trailer", "Hitch and trailer"),),
    (("limits", "Limits"), ("envelope", "Full and empty")),
)
"""The four tabs, each with the pages inside it, its own first."""
BASIS = {
    "scale": "off the scale",
    "moved": "off the scale, with what was moved since",
    "plan": "from the plan",
    "": "not weighed",
}

OFF_SPRINGS = "read off the springs"


class WeighView(StageView):
    """A page of the weighing; `topic` is its name in the list of topics and in the URL."""

    stage = "weigh"
    topic = "weigh"

    def get_template_names(self) -> list[str]:
        """Each topic has its page."""
        return [f"weigh/{'plan' if self.topic == 'weigh' else self.topic}.html"]

    @cached_property
    def record(self) -> LoadState:
        """The state looked at: the one asked for, else the first loaded one, else the empty one."""
        states = list(self.desk.record.states.all())
        asked = self.request.GET.get("state") or self.request.POST.get("state") or ""
        found = next((s for s in states if asked in (s.key, str(s.pk))), None)
        if found is None and asked:
            raise Http404
        found = found or next((s for s in states if not s.empty), states[0] if states else None)
        if found is None:
            raise Http404
        return found

    @property
    def state(self) -> JobState:
        """The core's state."""
        found = self.desk.job.state(self.record.key)
        assert found is not None
        return found

    @property
    def look(self) -> Look:
        """Draw the state looked at."""
        return replace(super().look, state=self.record.key if self.desk.diagnosis else "", other="", view="side")

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add topics, states, and what the state's loads are."""
        pk, said = self.kwargs["pk"], self.desk.verdict(self.stage).sentences
        at = f"?state={self.record.key}"
        tabs = [[(name, words, reverse(name, args=[pk]) + at) for name, words in tab] for tab in TOPICS]
        inside = next(tab for tab in tabs if self.topic in [name for name, _, _ in tab])
        return super().get_context_data(
            topic=self.topic,
            tab=inside[0][0],
            topics=[tab[0] for tab in tabs],
            inside=inside[1:],
            states=list(self.desk.record.states.all()),
            current=self.record,
            odd=[f for f in check_loads(self.desk.job, self.state) if f.what not in said],
            **live(self.desk, self.state),
            **kwargs,
        )

    def back(self, **more: Any) -> HttpResponse:
        """Go to this page anew, at the same state."""
        query = urlencode({"state": self.record.key} | more)
        return HttpResponseRedirect(f"{reverse(self.topic, args=[self.kwargs['pk']])}?{query}")


def live(desk: Desk, state: JobState) -> dict[str, Any]:
    """Return what follows an item while it moves: axle loads with margins, side balance, the tongue's effect, the nearest limit."""
    load, margins = state_load(desk.job, state), state_margins(desk.job, state)
    by_key = {m.key: m for m in margins}
    effect = hitch_of(desk.job, state)
    off = desk.diagnosis.off_springs(state.key) if desk.diagnosis else None
    view = desk.diagnosis.view(state.key) if desk.diagnosis else None
    corners = {c: float(n) / G for c, n in view.report.load.items()} if view else {}
    return {
        "off": off,
        "weigh_it": weigh_it(off) if off else None,
        "load": load,
        "basis": OFF_SPRINGS if off else BASIS[load.basis],
        "margins": margins,
        "nearest": smallest(margins),
        "corners": corners,
        "axles": [
            (words, kg, by_key[key], off.margins.get(key) if off else None)
            for words, kg, key in (
                ("Front axle", load.front, "front_axle"),
                ("Coupling", load.front, "coupling"),
                ("Rear axle", load.rear, "rear_axle"),
            )
            if key in by_key
        ],
        "sides": (sides := _sides(desk, state, corners) if load.front is not None else None),
        "side_to_side": _side_to_side(sides),
        "moment": side_moment(state),
        "tongue": state.tongue,
        "tongue_front": float(effect.front) / G if effect else None,
        "tongue_rear": float(effect.rear) / G if effect else None,
    }


EVEN = 2.0
"""Kilograms from side to side that are even."""


def _side_to_side(sides: float | None) -> tuple[Say, str]:
    """Return how much more stands on one side, and on which, in words."""
    if sides is None:
        return Say("–"), "to weigh"
    if abs(sides) <= EVEN:
        return Say("even"), ""
    return Say("{kg}", {"kg": mass(abs(sides))}), f"more on the {'left' if sides > 0.0 else 'right'}"


def _sides(desk: Desk, state: JobState, corners: dict[str, float]) -> float | None:
    """Return how much more stands on the left than on the right (kg); without pads at all its own split is unknown."""
    if state.corners_kg is not None:
        front_left, front_right, rear_left, rear_right = state.corners_kg
        return front_left + rear_left - front_right - rear_right
    empty = desk.job.empty
    if not corners or empty is None or empty.corners_kg is None:
        return None
    return corners["FL"] + corners["RL"] - corners["FR"] - corners["RR"]
