"""The stance: what the drawings need of a state, and which drawing of it is wanted."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from vantok_core.base.names import PLACES
from vantok_core.base.say import Quantity
from vantok_core.base.units import System, show
from vantok_core.facts import JobVehicle
from vantok_core.facts.classes import BODIES
from vantok_core.judge.diagnose.diagnosis import Diagnosis
from vantok_core.judge.grounds.shown import StateView
from vantok_core.physics.vehicle import AXLE_CORNERS, CORNERS

TIMES = (1.0, 3.0, 10.0)
"""How many times as large as they are changes of height can be drawn; the middle one unless asked."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Corner:
    """What stands over one axle: height now and change from empty (m), load (kg), None where unknown; how much of it is over
    the axle's limit (kg); the stop gap left (m)."""

    height: float | None = None
    change: float | None = None
    load: float | None = None
    over: float = 0.0
    stop: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Stance:
    """Everything the drawings need: drops in m from empty, the ghost's drops and name, heights by corner, angles, labels."""

    vehicle: JobVehicle
    name: str
    d_f: float = 0.0
    d_r: float = 0.0
    ghost: tuple[float, float] = (0.0, 0.0)
    ghost_name: str = "empty"
    known: bool = False
    front: Corner = field(default_factory=Corner)
    rear: Corner = field(default_factory=Corner)
    heights: Mapping[str, float] = field(default_factory=dict)
    empty: Mapping[str, float] = field(default_factory=dict)
    rake: float | None = None
    lean: float | None = None
    tongue: float = 0.0
    beam: Quantity | None = None
    estimated: bool = False

    @property
    def lamp(self) -> float | None:
        """Where the headlamp is (station, m); a trailer has none."""
        body = BODIES[self.vehicle.body]
        return None if body.trailer else body.lamp


def stance_figures(stance: Stance, units: System) -> list[tuple[str, ...]]:
    """Return what the drawings of a stance tell in figures: each axle with what stands over it, each corner, rake, lean and tongue."""
    rows: list[tuple[str, ...]] = []
    for axle, corner in (("front axle", stance.front), ("rear axle", stance.rear)):
        told = (
            "not read" if corner.height is None else show("length", corner.height, units),
            ""
            if corner.change is None
            else f"{show('length', corner.change, units, signed=True)} from {stance.ghost_name}",
            "" if corner.load is None else f"carries {show('mass', corner.load, units)}",
            f"{show('mass', corner.over, units)} over its limit" if corner.over else "",
            "" if corner.stop is None else f"stop gap {show('length', corner.stop, units)}",
        )
        rows.append((axle, *filter(None, told)))
    rows += [(PLACES.get(place, place), show("length", value, units)) for place, value in stance.heights.items()]
    for name, value in (("rake", stance.rake), ("lean, left above right", stance.lean)):
        rows += [] if value is None else [(name, show("length", value, units, signed=True))]
    return rows + ([("tongue", show("mass", stance.tongue, units))] if stance.tongue else [])


def stance_of(vehicle: JobVehicle, diagnosis: Diagnosis | None, key: str | None = None) -> Stance:
    """Return the stance to draw: the asked state, else the lowest loaded one, else the empty one, else the bare outline."""
    view: StateView | None = None
    if diagnosis is not None:
        view = (
            (diagnosis.view(key) if key else None)
            or diagnosis.main
            or (diagnosis.views[0] if diagnosis.views else None)
        )
    if diagnosis is None or view is None:
        return Stance(vehicle=vehicle, name="nothing measured yet")
    report, sags = view.report, view.sag
    d_f = (sags["FL"] + sags["FR"]) / 2 if {"FL", "FR"} <= sags.keys() else float(report.d_f)
    d_r = (sags["RL"] + sags["RR"]) / 2 if {"RL", "RR"} <= sags.keys() else float(report.d_r)
    empty = next((v.read for v in diagnosis.views if v.state.empty), {})
    beside = _beside(view)
    return Stance(
        vehicle=vehicle,
        name=f"{view.state.name}{beside}",
        estimated=bool(beside),
        d_f=d_f,
        d_r=d_r,
        known=True,
        front=_corner(view, "front"),
        rear=_corner(view, "rear"),
        heights=view.read,
        empty=empty,
        rake=view.rake,
        lean=view.lean,
        tongue=view.state.tongue,
        beam=view.beam,
        ghost_name="as it came" if diagnosis.never_empty else "empty",
    )


def _beside(view: StateView) -> str:
    """Return what is said beside a state's name: nothing where tape tells its change at every corner."""
    if view.state.empty or len(view.sag) == len(CORNERS):
        return ""
    return ", change estimated" if len(view.read) == len(CORNERS) else ", estimated"


def _corner(view: StateView, axle: str) -> Corner:
    corners = AXLE_CORNERS["front" if axle == "front" else "rear"]
    read = [view.read[c] for c in corners if c in view.read]
    sag = [view.sag[c] for c in corners if c in view.sag]
    margin = next((m for m in view.margins if m.key == f"{axle}_axle"), None)
    return Corner(
        height=sum(read) / len(read) if read else None,
        change=-sum(sag) / len(sag) if sag and not view.state.empty else None,
        load=margin.load if margin else None,
        over=max(-(margin.margin or 0.0), 0.0) if margin else 0.0,
        stop=view.stop_gap.get(axle),
    )


def fitted_stance(plain: Stance, name: str, empty: dict[str, float], now: dict[str, float], beside: str) -> Stance:
    """Return the stance with a kit on: heights by corner (m), read or predicted, against the empty vehicle without it."""
    drops = {c: empty[c] - now[c] for c in now if c in empty}
    if len(drops) < len(CORNERS):
        return plain
    d_f, d_r = (drops["FL"] + drops["FR"]) / 2, (drops["RL"] + drops["RR"]) / 2
    front, rear = (now["FL"] + now["FR"]) / 2, (now["RL"] + now["RR"]) / 2
    return replace(
        plain,
        name=f"{name}, {beside}",
        estimated=False,
        d_f=d_f,
        d_r=d_r,
        known=True,
        rake=rear - front,
        lean=now["RL"] - now["RR"],
        heights=now,
        empty=empty,
        beam=None,
        front=replace(plain.front, height=front, change=-d_f, stop=None),
        rear=replace(plain.rear, height=rear, change=-d_r, stop=None),
    )


def against(stance: Stance, other: Stance) -> Stance:
    """Return a stance with another one as its ghost; changes are told against that one."""
    if not (stance.known and other.known):
        return stance

    def changed(mine: Corner, theirs: Corner) -> Corner:
        both = mine.height is not None and theirs.height is not None
        return replace(mine, change=mine.height - theirs.height if both else None)  # type: ignore[operator]

    return replace(
        stance,
        ghost=(other.d_f, other.d_r),
        ghost_name=other.name,
        empty=other.heights,
        front=changed(stance.front, other.front),
        rear=changed(stance.rear, other.rear),
    )
