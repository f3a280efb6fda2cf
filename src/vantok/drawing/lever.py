"""A load state as a lever: the wheelbase, each thing and the tongue at its arm, what they put on either axle; arms to scale, arrows by mass."""

from __future__ import annotations

from dataclasses import dataclass

from django.utils.safestring import SafeString

from vantok.drawing.svg import INK, LINE, MUTED, drawing, tag, text
from vantok_core.base.units import System, show
from vantok_core.facts import Job, JobState
from vantok_core.loads.plan import planned_gain

WIDE, TALL, BEAM = 760.0, 280.0, 150.0
MOST = 8
"""Things drawn at most, the heaviest."""
TONGUE = "tongue"


@dataclass(frozen=True, slots=True)
class _Thing:
    """Something on the lever: its name, mass (kg) and station (m)."""

    name: str
    mass: float
    station: float


def lever_svg(job: Job, state: JobState, units: System) -> SafeString:
    """Return the drawing; nothing without a wheelbase or anything on it."""
    base, things = job.vehicle.base_m, _things(job, state)
    if base is None or not things:
        return SafeString("")
    stations = [0.0, base, *(thing.station for thing in things)]
    low, scale = min(stations), (WIDE - 150.0) / (max(stations) - min(stations))
    at = [75.0 + (station - low) * scale for station in stations]
    heaviest = max(thing.mass for thing in things)
    shapes = [
        tag("line", x1=min(at), y1=BEAM, x2=max(at), y2=BEAM, stroke=INK, stroke_width=7, stroke_linecap="round"),
        *(
            _load(x, thing, thing.mass / heaviest, n % 2, units)
            for n, (x, thing) in enumerate(zip(at[2:], things, strict=True))
        ),
        *(
            tag(
                "polygon",
                points=f"{x:.0f},{BEAM + 4:.0f} {x - 16:.0f},{BEAM + 34:.0f} {x + 16:.0f},{BEAM + 34:.0f}",
                fill=INK,
            )
            for x in at[:2]
        ),
        *_arm(at[0], at[1], show("length", base, units)),
    ]
    if things[-1].name == TONGUE:
        shapes += _arm(at[1], at[-1], show("length", things[-1].station - base, units))
    gain = planned_gain(job, state)
    for x, words, kg in zip(at, ("front", "rear"), gain or (), strict=False):
        shapes.append(text(x, TALL - 38, f"{words} {show('mass', kg, units, signed=True)}", size=19, font_weight=600))
    return drawing(
        f"The load of {state.name} as a lever",
        *shapes,
        figures=[
            *(
                (t.name, show("mass", t.mass, units), f"{show('length', t.station, units)} behind the front axle")
                for t in things
            ),
            *(
                (f"{axle} axle", show("mass", kg, units, signed=True))
                for axle, kg in zip(("front", "rear"), gain or (), strict=False)
            ),
        ],
        viewBox=f"0 0 {WIDE:.0f} {TALL:.0f}",
        class_="lever",
    )


def _things(job: Job, state: JobState) -> list[_Thing]:
    """Return the heaviest things from front to back, and the tongue at its ball last."""
    v = job.vehicle
    heavy = sorted((i for i in state.contents if i.mass_kg > 0.0), key=lambda i: -i.mass_kg)[:MOST]
    found = [_Thing(i.name, i.mass_kg, i.station_m) for i in sorted(heavy, key=lambda i: i.station_m)]
    if state.tongue and v.base_m is not None and v.hitch_overhang_m is not None:
        found.append(_Thing(TONGUE, state.tongue, v.base_m + v.hitch_overhang_m))
    return found


def _load(x: float, thing: _Thing, share: float, row: int, units: System) -> SafeString:
    """Return an arrow down onto the beam, as long as its share of the heaviest, with its name and figure."""
    top = BEAM - 26.0 - 70.0 * share
    return tag(
        "g",
        tag("line", x1=x, y1=top, x2=x, y2=BEAM - 16, stroke=MUTED, stroke_width=5),
        tag(
            "polygon",
            points=f"{x:.0f},{BEAM - 5:.0f} {x - 9:.0f},{BEAM - 20:.0f} {x + 9:.0f},{BEAM - 20:.0f}",
            fill=MUTED,
        ),
        text(x, top - 8, show("mass", thing.mass, units), size=18, font_weight=600),
        text(x, BEAM + 54 + 18 * row, thing.name[:18], size=15, fill=MUTED),
    )


def _arm(left: float, right: float, figure: str) -> list[SafeString]:
    y = TALL - 24
    return [
        tag("line", x1=left, y1=y, x2=right, y2=y, stroke=LINE, stroke_width=2),
        tag("line", x1=left, y1=y - 6, x2=left, y2=y + 6, stroke=LINE, stroke_width=2),
        tag("line", x1=right, y1=y - 6, x2=right, y2=y + 6, stroke=LINE, stroke_width=2),
        text((left + right) / 2, y + 16, figure, size=15, fill=MUTED),
    ]
