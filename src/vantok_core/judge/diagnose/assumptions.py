"""What a job rests on that nobody measured: each assumption, where to replace it, and how far the main figures move at its edges.

Source: method sections 2 and 3; the spreads are this program's own estimates.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from math import exp

from vantok_core.base.errors import VantokError
from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.say import Quantity
from vantok_core.facts.classes import SPRINGS
from vantok_core.facts.vehicle import OWN
from vantok_core.judge.diagnose.thresholds import LOADS_OFF, OWN_OFF, PLACE_OFF, TRACK_OFF, TYRE_OFF, UNSPRUNG_OFF
from vantok_core.kits.target import target_state
from vantok_core.loads.plan import scale_loads
from vantok_core.model import JobModel
from vantok_core.physics.stance.states import solve_states
from vantok_core.physics.vehicle import Axle, AxleName, Vehicle
from vantok_core.rates.places import Place, place_drop


@dataclass(frozen=True, slots=True, kw_only=True)
class Assumed:
    """One thing taken: its words and value, the stage and words of what would replace it, and by how much the judged state's rear sinks less or
    more when it is at its edges (m; None: it cannot be solved there). own: whether the job has its own figure in place of the class's; may_be_own: whether it
    may; source: where it was had from, in a person's words."""

    key: str
    words: str
    value: Quantity
    off: float
    stage: str
    replace_by: str
    moves: tuple[float, float] | None
    own: bool = False
    may_be_own: bool = False
    source: str = ""

    @property
    def worth(self) -> float:
        """The greater of both moves (m), nought where they are not known."""
        return max(map(abs, self.moves), default=0.0) if self.moves else 0.0


def assumptions(model: JobModel) -> tuple[Assumed, ...]:
    """Return what a job rests on that nobody measured, what moves the judged state's rear most first. Raises VantokError without a judged state."""
    key = target_state(model)
    found = [*_of_rates(model, key), *_of_axles(model, key)]
    told = model.job.sources
    return tuple(replace(one, source=told.get(one.key, "")) for one in sorted(found, key=lambda one: -one.worth))


def _of_rates(model: JobModel, key: str) -> list[Assumed]:
    """Return the spring rates that no reading has sharpened beyond their class's spread yet, and those that have."""
    found = []
    for axle in ("front", "rear"):
        sigma = model.estimate.sigma_ln.get(axle)
        if sigma is None:
            continue
        share = exp(NINE_IN_TEN * sigma) - 1.0
        spring = model.vehicle.axle(axle).spring
        found.append(
            Assumed(
                key=f"rate-{axle}",
                words=f"{axle} spring rate, as far as readings have sharpened it",
                value=Quantity(float(spring.k), "rate"),
                off=share,
                stage="measure",
                replace_by="read heights at two known loads, settled",
                moves=_moves(model, key, _scaled_spring(axle, share)),
            )
        )
    return found


def _of_axles(model: JobModel, key: str) -> list[Assumed]:
    """Return what the class gave of each axle."""
    v, found = model.job.vehicle, []
    weighed = model.job.empty is not None and scale_loads(model.job.empty) is not None
    told: list[tuple[AxleName, str | None, float | None]] = [
        ("front", v.front_spring, v.track_front_m),
        ("rear", v.rear_spring, v.track_rear_m),
    ]
    for axle, kind, track in told:
        own = model.vehicle.axle(axle)

        def taken(
            name: str,
            words: str,
            value: Quantity,
            off: float,
            how: tuple[str, str],
            make: Callable[[Axle, float], Axle],
            axle: AxleName = axle,
        ) -> None:
            own = f"{name}-{axle}" in v.own
            words, off = (f"{words.split(',', maxsplit=1)[0]}, as entered", OWN_OFF) if own else (words, off)
            moves = _moves(
                model, key, lambda vehicle, share: _with(vehicle, axle, make(vehicle.axle(axle), 1.0 + share)), off
            )
            found.append(
                Assumed(
                    key=f"{name}-{axle}",
                    words=f"{axle} {words}",
                    value=value,
                    off=off,
                    stage=how[0],
                    replace_by=how[1],
                    moves=moves,
                    own=own,
                    may_be_own=f"{name}-{axle}" in OWN,
                )
            )

        taken(
            "tyre",
            "tyre rate, by its class",
            Quantity(float(own.tyre_rate), "rate"),
            TYRE_OFF,
            ("measure", "read ground and hub to arch at two loads"),
            lambda a, f: replace(a, tyre_rate=float(a.tyre_rate) * f),
        )
        taken(
            "unsprung",
            "unsprung mass of a corner, by its class",
            Quantity(own.unsprung, "mass"),
            UNSPRUNG_OFF,
            ("vehicle", "weigh a wheel that is off"),
            lambda a, f: replace(a, unsprung=a.unsprung * f),
        )
        if kind in SPRINGS and SPRINGS[kind].solid and own.spring.y is not None:
            taken(
                "place",
                "springs' place from the middle, by its class",
                Quantity(own.spring.y, "length"),
                PLACE_OFF,
                ("vehicle", "measure between the springs"),
                lambda a, f: replace(a, spring=replace(a.spring, y=(a.spring.y or 0.0) * f)),
            )
        if track is None:
            taken(
                "track",
                "track, a usual one",
                Quantity(own.track, "length"),
                TRACK_OFF,
                ("vehicle", "measure it, tyre middle to tyre middle"),
                lambda a, f: replace(a, track=a.track * f),
            )
        if not weighed:
            taken(
                "load",
                "axle load empty, by its class or plate",
                Quantity(float(sum(own.ref_load)) / 9.80665, "mass"),
                LOADS_OFF,
                ("weigh", "weigh it empty"),
                lambda a, f: replace(a, ref_load=(float(a.ref_load[0]) * f, float(a.ref_load[1]) * f)),
            )
    return found


def _with(vehicle: Vehicle, axle: str, changed: Axle) -> Vehicle:
    return replace(vehicle, front=changed) if axle == "front" else replace(vehicle, rear=changed)


def _scaled_spring(axle: AxleName, off: float) -> Callable[[Vehicle, float], Vehicle]:
    def made(vehicle: Vehicle, share: float) -> Vehicle:
        own = vehicle.axle(axle)
        factor = 1.0 + off if share > 0.0 else 1.0 / (1.0 + off)
        return _with(
            vehicle,
            axle,
            replace(own, spring=replace(own.spring, k=float(own.spring.k) * factor, k2=float(own.spring.k2) * factor)),
        )

    return made


def _moves(
    model: JobModel, key: str, make: Callable[[Vehicle, float], Vehicle], off: float = 1.0
) -> tuple[float, float] | None:
    """Return by how much the rear's drop in a state changes with something less and more (share: off); None where it cannot be solved there."""

    def rear(vehicle: Vehicle) -> float:
        solved = solve_states(vehicle, list(model.states.values()), check_limits=False)[key]
        return float(place_drop(solved, Place("rear", "ground")))

    try:
        now = rear(model.vehicle)
        return rear(make(model.vehicle, -off)) - now, rear(make(model.vehicle, off)) - now
    except VantokError:
        return None
