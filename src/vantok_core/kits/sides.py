"""Whether the two sides of an axle are set apart: only where the lean they would cure is outside its own band, else both alike.

Source: method section 26.
"""

from __future__ import annotations

from collections.abc import Callable
from math import hypot

from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.names import ARCHES
from vantok_core.base.say import Quantity, Say, length
from vantok_core.facts import Kit
from vantok_core.kits.family import Setting, Solved
from vantok_core.kits.registry import family_of
from vantok_core.model import JobModel, corner_sigma
from vantok_core.physics.vehicle import AXLE_CORNERS, AxleName, Vehicle


def lean_read(model: JobModel, state: str, axle: AxleName) -> tuple[float, float] | None:
    """Return an axle's left less right height as it stood in a state before the kit in hand, and its 90 % band (m); None unless both were read."""
    for datum in ARCHES:
        read = [r for c in AXLE_CORNERS[axle] if (r := model.job.stood(state, c, datum))]
        if len(read) == 2:
            return read[0].value_m - read[1].value_m, NINE_IN_TEN * hypot(*(corner_sigma(model.job, r) for r in read))
    return None


def worth_setting_apart(model: JobModel, state: str, axle: AxleName) -> bool:
    """Tell whether an axle's lean in a state, as it was read, is outside its own band."""
    read = lean_read(model, state, axle)
    return read is not None and abs(read[0]) > read[1]


def alike(kit: Kit, setting: Setting) -> dict[str, tuple[float, float]]:
    """Return a setting (SI) with both sides at their mean, to the kit's own step."""
    found = {}
    for name, (left, right) in setting.items():
        span, middle = family_of(kit).spans(kit).get(name), 0.5 * (left + right)
        if left != right and span is not None and span.step > 0.0:
            middle = min(max(span.step * round(middle / span.step), span.low), span.high)
        found[name] = (middle, middle)
    return found


def evened(
    model: JobModel, kit: Kit, state: str, setting: Setting, wanted: tuple[float, float]
) -> tuple[Setting, tuple[Say, ...]]:
    """Return a solved setting with its sides alike, and why, unless the wish (drops left and right, m) sets them apart or the lean is outside its band."""
    apart = {name: left - right for name, (left, right) in setting.items() if left != right}
    if not apart or wanted[0] != wanted[1] or worth_setting_apart(model, state, kit.axle):
        return setting, ()
    name, difference = max(apart.items(), key=lambda one: abs(one[1]))
    kind = next((field.kind for field in family_of(kit).settings if field.name == name), "")
    read = lean_read(model, state, kit.axle)
    by = Say(", as no lean was read") if read is None else Say(" (± {band} of lean)", {"band": length(read[1])})
    why = Say(
        "Both sides alike: the {d} between them that the heights would ask for is from the tape’s scatter{by}.",
        {"d": Quantity(abs(difference), kind), "by": by},
    )
    return alike(kit, setting), (why,)


def solve_for(
    model: JobModel, kit: Kit, at: Callable[[Setting], Vehicle], state: str, wanted: tuple[float, float]
) -> Solved:
    """Return the setting of a kit for drops left and right (m) in a state, its sides alike unless there is a lean to cure. Raises as the family's solve."""
    solved = family_of(kit).solve(model, kit, at, state, wanted)
    setting, said = evened(model, kit, state, solved.setting, wanted)
    return Solved(setting=setting, notes=(*solved.notes, *said))
