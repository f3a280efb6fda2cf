"""What a vehicle's stance says in a state: stops near or touching, a front that came down, a nose that points up, a lean, a beam that moved.

Source: method sections 1 and 4.
"""

from __future__ import annotations

from collections.abc import Mapping

from vantok_core.base.say import BEAM_WALL, Finding, Quantity, Say, Tone, length
from vantok_core.facts import Job
from vantok_core.judge.diagnose.thresholds import (
    LAMP_WORTH,
    LEAN_WORTH,
    NEAR_STOP,
    NOSE_UP,
    SAG_WORTH,
    SMALL,
    STOP_CARRIES,
)
from vantok_core.judge.grounds.shown import StateView
from vantok_core.judge.listen.inspect import stops_gone
from vantok_core.physics.stance.report import StateReport
from vantok_core.physics.vehicle import AXLES, AxleName


def _stop_shares(report: StateReport) -> dict[AxleName, float]:
    """Return what share of an axle's load its bump stops carry, where they carry some."""
    found: dict[AxleName, float] = {}
    for axle in AXLES:
        pressed = sum(float(side.force) for side in report.elements.get(f"{axle} bump stops", {}).values())
        if pressed > 0.0:
            found[axle] = pressed / float(report.axle_load(axle))
    return found


def stop_findings(stop_gap: Mapping[str, float], shares: Mapping[AxleName, float] | None = None) -> list[Finding]:
    """Return what stops are near or touching; stop_gap: m, by axle; shares: of the axle's load, by axle, where the model tells them."""
    found = []
    for axle in AXLES:
        gap = stop_gap.get(axle)
        if gap is not None and gap < NEAR_STOP:
            share = (shares or {}).get(axle, 0.0)
            touching = gap <= 0.0
            carries = Say(" and carries about {share} of the axle’s load", {"share": Quantity(share, "percent")})
            told = carries if share > STOP_CARRIES else Say("")
            what = (
                Say(
                    "The {axle} bump stop is touching{told}.",
                    {"axle": axle, "told": told},
                )
                if touching
                else Say("The {axle} bump stop is {gap} from touching.", {"gap": length(gap), "axle": axle})
            )
            found.append(
                Finding(
                    key=f"stop-{axle}",
                    at=axle,
                    tone="act",
                    what=what,
                    do=Say("It will strike over bumps; height or load has to change."),
                )
            )
    return found


def _front(view: StateView) -> list[Finding]:
    """Say how far the front has come down, where that is outside its band: the rear is not all that sags."""
    if view.front_rise is None or view.front_rise >= -max(SMALL, view.band):
        return []
    tone: Tone = "act" if view.front_rise < -SAG_WORTH else "plain"
    what = Say("The front stands {d} lower than empty.", {"d": length(-view.front_rise)})
    do = Say("Look at what stands ahead of the rear axle, and at the front springs.")
    return [Finding(key="front-low", at="front", tone=tone, topic="front", what=what, do=do)]


def stance_findings(job: Job, view: StateView) -> list[Finding]:
    """Return what a state's stance says: stops near or touching, the front, the rake, the lean, the beam."""
    # A stop that is gone has no gap that tells anything.
    found = [] if stops_gone(job) else stop_findings(view.stop_gap, _stop_shares(view.report))
    found += _front(view)
    if view.rake is not None and view.rake < -max(NOSE_UP, view.band):
        found.append(
            Finding(
                key="nose-up",
                at="nose",
                tone="act",
                topic="rake",
                what=Say(
                    "The nose points up, rake {rake} (± {band}).",
                    {"rake": length(view.rake), "band": length(view.band)},
                ),
                do=Say("Lamps, brakes and steering are worse until it is cured."),
            )
        )
    if view.lean is not None and abs(view.lean) > max(LEAN_WORTH, view.lean_band):
        low = "right" if view.lean > 0 else "left"
        found.append(
            Finding(
                key="lean",
                at="rear",
                tone="act",
                topic="lean",
                what=Say(
                    "The rear leans {low} by {lean} (± {band}).",
                    {"lean": length(abs(view.lean)), "band": length(view.lean_band), "low": low},
                ),
                do=Say("Balance the load from side to side, or set the two sides apart; an equal gain keeps the lean."),
            )
        )
    if view.beam is not None and abs(view.beam.value) > max(LAMP_WORTH, view.beam.band or 0.0):
        way = "up" if view.beam.value > 0 else "down"
        found.append(
            Finding(
                key="lamps",
                at="lamps",
                tone="act",
                topic="headlamp",
                what=Say(
                    "The headlamp beam moves {way} by {beam} at {distance}.",
                    {"beam": view.beam.size, "distance": BEAM_WALL, "way": way},
                ),
                do=Say("Aim again when the height is settled."),
            )
        )
    return found
