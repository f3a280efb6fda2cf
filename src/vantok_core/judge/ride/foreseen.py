"""What the model expects of a drive, category by category, to stand beside what was then felt.

Source: method section 15 (felt words and their axes). It is kept as it was foreseen, so that nobody is right afterwards.
"""

from __future__ import annotations

from collections.abc import Mapping

from vantok_core.judge.prove.driving import Went
from vantok_core.judge.ride.figured import FIGURES
from vantok_core.judge.ride.ready import Configuration, Over
from vantok_core.judge.ride.thresholds import ALIKE
from vantok_core.judge.ride.told import drive_over
from vantok_core.model import JobModel
from vantok_core.road.course import PIECES

AXES: Mapping[str, tuple[str, ...]] = {
    "harsh": ("blow", "felt"),
    "bounces": ("rebounds",),
    "rolls": ("roll",),
    "tossed": ("roll",),
    "bottoms": ("rear_stops",),
}
"""Categories of the drive sheet that a figure of the ride answers: the first of them that the piece has."""
BY_KEY = {one.key: one for one in FIGURES}


def foreseen(model: JobModel, before: Configuration, after: Configuration, over: Over) -> dict[str, Went]:
    """Return how the model expects each category to go over a piece; nothing for a piece it does not have, or one that cannot be driven."""
    if over.piece not in PIECES:
        return {}
    results = [one.result for one in drive_over(model, [before, after], over)]
    if results[0] is None or results[1] is None:
        return {}
    found: dict[str, Went] = {}
    for category, keys in AXES.items():
        figured = next((BY_KEY[key] for key in keys if BY_KEY[key].on(PIECES[over.piece])), None)
        values = (figured.of(results[0]), figured.of(results[1])) if figured is not None else (None, None)
        if figured is not None and values[0] is not None and values[1] is not None:
            found[category] = _went(values[0], values[1], share=figured.share)
    return found


def _went(then: float, now: float, *, share: bool) -> Went:
    """Return how a figure of which less is better went; then, now: in one unit, SI."""
    alike = abs(now - then) <= ALIKE * abs(then) if share else now == then
    return "same" if alike else "better" if now < then else "worse"
