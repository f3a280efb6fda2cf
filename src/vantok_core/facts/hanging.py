"""What else hangs on the axle or minds its height: asked once, told on the card at the gate where it matters, looked at after.

Source: procedures of the trade (what else hangs on it).
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from vantok_core.base.say import Say

HangingKind = Literal["brake_valve", "lamp_sensor", "levelling", "stability", "camera", "tyre_monitor", "battery"]
"""What else may hang on the axle, or mind its height."""
THERE = ("factory", "later", "perished")
"""Answers of the census by which it is there."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Hanging:
    """A thing that hangs on it: its words; what is minded before it is lifted and at the end; what is looked at after."""

    words: str
    lift: str = ""
    end: str = ""
    after: str = ""


HANGINGS: Mapping[HangingKind, Hanging] = {
    "brake_valve": Hanging(
        words="load-sensing brake valve on the axle",
        lift="Its brake valve is linked to the axle: note where its rod stands before the wheels hang, and take the rod off rather than bend it.",
        end="The brake valve's rod follows the axle: set it by the vehicle maker's table, or leave it as it was, and write down which.",
        after="load-sensing brake valve set by its maker's table",
    ),
    "lamp_sensor": Hanging(
        words="headlamp or height sensor on the axle",
        lift="A height sensor is linked to the axle: take its rod off before the wheels hang, or it breaks.",
        end="Height sensor: its rod is back on and its nought learnt again as the vehicle maker says.",
        after="height sensor's nought learnt again",
    ),
    "levelling": Hanging(
        words="factory air or self-levelling",
        lift="It levels itself: jacking mode first, or the system switched off as its maker says. It may drop or rise with nobody near.",
        end="It levels itself: jacking mode off again, and heights read only once it has settled.",
    ),
    "stability": Hanging(
        words="stability or damper control",
        lift="Leads of its damper or wheel sensors: none may hang taut while the wheels hang.",
        end="Stability and damper control: read its fault store, and let it learn again where its maker asks for that.",
    ),
    "camera": Hanging(
        words="camera or radar that looks ahead",
        end="A camera or radar looks ahead: a changed height or rake asks for calibration by the vehicle maker's way before it is trusted.",
        after="camera or radar calibrated at the new height",
    ),
    "tyre_monitor": Hanging(
        words="tyre-pressure monitor",
        end="Tyre-pressure monitor: set it for the pressures it is driven with now.",
    ),
    "battery": Hanging(
        words="drive battery beneath",
        lift="A drive battery lies beneath: lift at its maker's points alone, nothing under the battery, and stay off orange leads.",
    ),
}
HANGS: Mapping[str, str] = {kind: one.words for kind, one in HANGINGS.items()}
"""What is asked for, in words."""


def hanging(fitted: Mapping[str, str]) -> dict[str, Hanging]:
    """Return what hangs on a vehicle by its census (answer by thing); what nobody looked at is not told of."""
    return {kind: one for kind, one in HANGINGS.items() if fitted.get(kind) in THERE}


def told_at(fitted: Mapping[str, str], gate: str) -> tuple[Say, ...]:
    """Return what is to be minded at a gate of the card for what hangs on a vehicle."""
    told = {one: {"lift": one.lift, "end": one.end}.get(gate, "") for one in hanging(fitted).values()}
    return tuple(Say(words) for words in told.values() if words)
