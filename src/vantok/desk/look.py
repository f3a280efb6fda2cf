"""How a reader wants the drawing, and the drawing."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import partial

from django.utils.safestring import SafeString

from vantok.desk.close_up import seen_closely
from vantok.desk.load import FITTED_STAGES, Desk
from vantok.drawing.axle import Handle, axle_svg
from vantok.drawing.marks import finding_marks, from_behind, from_side
from vantok.drawing.rear import rear_svg
from vantok.drawing.side import stance_svg, strip_svg
from vantok.drawing.stance import TIMES
from vantok_core.base.units import System
from vantok_core.facts import Fitting


@dataclass(frozen=True, slots=True, kw_only=True)
class Look:
    """How a reader wants the drawing: units, how many times height changes are enlarged, which state (empty: the stage's),
    which other as its ghost (empty: the empty vehicle), seen from the side, from behind, one axle close up,
    or all states in a strip; handles: what can be set on the close-up, by side."""

    units: System
    times: float = TIMES[1]
    state: str = ""
    other: str = ""
    view: str = "side"
    handles: Mapping[str, Handle] | None = None


VIEWS = (("side", "from the side"), ("rear", "from behind"), ("axle", "axle, close up"), ("all", "all states"))


def drawing(desk: Desk, stage: str, look: Look) -> SafeString:
    """Return the drawing wanted, made once for each way it is asked for."""
    asked = (stage in FITTED_STAGES, stage == "set", replace(look, handles=None))
    return desk.kept(asked, lambda: drawn(desk, stage, look))


def drawn(desk: Desk, stage: str, look: Look, fitting: Fitting | None = None) -> SafeString:
    """Return the drawing wanted, with a kit tried at another setting where one is given."""
    if look.view == "all":
        return strip_svg(desk.strip(), look.units, look.times)
    if look.view == "axle" and (close := seen_closely(desk, stage, look.state, look.other, fitting)):
        return axle_svg(close, look.units, look.handles)
    stance = desk.stance(stage, fitting, state=look.state, other=look.other)
    found = desk.diagnosis.findings if stage == "diagnose" and desk.diagnosis and not look.state else ()
    if look.view == "rear":
        return rear_svg(stance, look.units, look.times, more=finding_marks(from_behind, found))
    return stance_svg(stance, look.units, look.times, more=lambda side: finding_marks(partial(from_side, side), found))


def drawable(desk: Desk) -> list[tuple[str, str]]:
    """Return what can be drawn, key and words: each state, and each with the kit when one is on the job."""
    if desk.diagnosis is None:
        return []
    plain = [(s.key, s.name) for s in desk.job.states]
    fitted = [(f"{s.key}+kit", f"{s.name}, with the kit") for s in desk.job.states] if desk.job.fitting else []
    return plain + fitted
