"""How a reader wants the drawing, and the drawing."""

from __future__ import annotations

from dataclasses import dataclass

from django.utils.safestring import SafeString

from vantok.desk.load import FITTED_STAGES, Desk
from vantok.drawing.rear import rear_svg
from vantok.drawing.side import stance_svg, strip_svg
from vantok.drawing.stance import TIMES
from vantok_core.base.units import System


@dataclass(frozen=True, slots=True, kw_only=True)
class Look:
    """How a reader wants the drawing: units, how many times height changes are enlarged, which state (empty: the stage's),
    which other as its ghost (empty: the empty vehicle), seen from the side, from behind, or all states in a strip."""

    units: System
    times: float = TIMES[1]
    state: str = ""
    other: str = ""
    view: str = "side"


VIEWS = (("side", "from the side"), ("rear", "from behind"), ("all", "all states"))


def drawing(desk: Desk, stage: str, look: Look) -> SafeString:
    """Return the drawing wanted, made once for each way it is asked for."""
    asked = (stage in FITTED_STAGES, stage == "set", look)
    if asked not in desk.drawings:
        desk.drawings[asked] = _drawn(desk, stage, look)
    found: SafeString = desk.drawings[asked]
    return found


def _drawn(desk: Desk, stage: str, look: Look) -> SafeString:
    if look.view == "all":
        return strip_svg(desk.strip(), look.units, look.times)
    stance = desk.stance(stage, state=look.state, other=look.other)
    return (rear_svg if look.view == "rear" else stance_svg)(stance, look.units, look.times)


def drawable(desk: Desk) -> list[tuple[str, str]]:
    """Return what can be drawn, key and words: each state, and each with the kit when one is on the job."""
    if desk.diagnosis is None:
        return []
    plain = [(s.key, s.name) for s in desk.job.states]
    fitted = [(f"{s.key}+kit", f"{s.name}, with the kit") for s in desk.job.states] if desk.job.fitting else []
    return plain + fitted
