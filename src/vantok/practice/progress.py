"""How somebody comes on, skill by skill: from the runs handed in and the drills answered. A lead sees the shop's; nobody is ranked."""

from __future__ import annotations

from typing import Any

from django.views.generic import TemplateView

from vantok.people.models import User
from vantok.people.rights import may
from vantok.records.practice.models import Drilled, Run
from vantok_core.practice.bay.case import SKILLS
from vantok_core.practice.bay.drills import DRILLS

OF_RULE = {
    "baseline": "measure",
    "settled": "measure",
    "weighed": "weigh",
    "limits": "weigh",
    "inspected": "inspect",
    "guessed": "diagnose",
    "cause": "diagnose",
    "deed": "choose",
    "height": "set",
    "order": "set",
    "proved": "prove",
}
"""The skill each rule of the marks is of; what a case turns on is of the skill the case teaches."""
LATEST, FEW = 60, 3
"""Of how many of the latest runs and drills a skill is told, and from how few on it is no figure yet."""
WEAK = 0.7


def skills_of(person: User) -> list[dict[str, Any]]:
    """Return each skill's share of its points, 0 to 1, and from how many it is told; nothing where it was hardly practised."""
    points: dict[str, list[tuple[float, float]]] = {key: [] for key in SKILLS}
    for run in Run.objects.filter(person=person).exclude(handed_in=None)[:LATEST]:
        for one in run.marks:
            skill = OF_RULE.get(one["rule"])
            if skill is not None:
                points[skill].append((one["got"], one["of"]))
    for key, share in Drilled.objects.filter(person=person).values_list("key", "share")[:LATEST]:
        points[DRILLS[key].skill if key in DRILLS else OTHER.get(key, "measure")].append((5.0 * share, 5.0))
    return [_told(key, told) for key, told in points.items()]


OTHER = {"puzzle": "set", "wrong": "inspect", "ground": "weigh"}
"""The skill of what is no drill of the core's."""


def _told(key: str, told: list[tuple[float, float]]) -> dict[str, Any]:
    most = sum(of for _, of in told)
    share = sum(got for got, _ in told) / most if most and len(told) >= FEW else None
    return {"key": key, "words": SKILLS[key], "share": share, "count": len(told)}  # type: ignore[index] # a key of the table


def weakest(skills: list[dict[str, Any]]) -> set[str]:
    """Return the skills to practise first: those practised and weak, else those never practised."""
    weak = {one["key"] for one in skills if one["share"] is not None and one["share"] < WEAK}
    return weak or {one["key"] for one in skills if one["share"] is None}


class Progress(TemplateView):
    """One's own progress; for the lead each person's beside it, by name and in no order of merit."""

    template_name = "practice/progress.html"

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Return it."""
        person = self.request.user
        assert isinstance(person, User)
        people = User.objects.filter(is_active=True) if may(person, "teach") else User.objects.none()
        shop: list[dict[str, Any]] = [
            {
                "person": one,
                "skills": skills_of(one),
                "runs": Run.objects.filter(person=one).exclude(handed_in=None).count(),
            }
            for one in people
        ]
        return super().get_context_data(
            skills=skills_of(person),
            runs=Run.objects.filter(person=person).exclude(handed_in=None).select_related("job")[:20],
            shop=[one for one in shop if one["runs"] or any(s["count"] for s in one["skills"])],
            headings=list(SKILLS.values()),
            **kwargs,
        )
