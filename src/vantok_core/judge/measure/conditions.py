"""How the vehicle stood as its states were read, and what a difference between two states that are compared is worth.

Source: method section 1 (the tyre's own squash); a tyre's rate goes about as its pressure.
"""

from __future__ import annotations

from vantok_core.base.names import PLACES
from vantok_core.base.say import Finding, Quantity, Say, length
from vantok_core.facts import Job
from vantok_core.facts.load import Condition
from vantok_core.judge.measure.thresholds import FILL_TOLD, HEIGHT_TOLD, PRESSURE_TOLD
from vantok_core.model import JobModel
from vantok_core.physics.vehicle import AXLE_CORNERS, AXLES


def condition_findings(job: Job, model: JobModel | None) -> list[Finding]:
    """Return what differs between the reference and each loaded state in how the vehicle stood, with what it is worth where that can be said."""
    base = job.empty.condition if job.empty is not None else None
    if base is None or job.empty is None:
        return []
    found: list[Finding] = []
    for state in job.judged:
        if state.condition is None or state.key == job.empty.key:
            continue
        names = (job.empty.name, state.name)
        found += _tyres(model, base, state.condition, names, state.key) + _rest(base, state.condition, names)
    return found


def _tyres(model: JobModel | None, base: Condition, now: Condition, names: tuple[str, str], key: str) -> list[Finding]:
    """Return the tyres whose pressure differs, and by how much that makes the corner stand lower or higher."""
    found = []
    for axle in AXLES:
        for corner in AXLE_CORNERS[axle]:
            before, after = base.tyres_pa.get(corner), now.tyres_pa.get(corner)  # type: ignore[call-overload]  # a corner's name
            if before is None or after is None or not min(before, after) > 0.0 or abs(after - before) < PRESSURE_TOLD:
                continue
            way = "lower" if after < before else "higher"
            values = {"by": Quantity(abs(after - before), "pressure")}
            worth = Say("")
            if model is not None and key in model.states:
                load = float(model.solve()[key].load[corner])
                squash = load / float(model.vehicle.axle(axle).tyre_rate)
                moved = squash * (before / after - 1.0)
                if abs(moved) >= HEIGHT_TOLD:
                    worth = Say(": worth about {mm} of height there, which is no sag", {"mm": length(abs(moved))})
            what = Say(
                "The {place} tyre had {by} {way} in “{name}” than in “{other}”{worth}.",
                {**values, "place": PLACES[corner], "way": way, "name": names[1], "other": names[0], "worth": worth},
            )
            found.append(
                Finding(
                    key=f"tyre-{corner}",
                    tone="act",
                    what=what,
                    do=Say("Set both alike and read again, or read hub to arch."),
                )
            )
    return found


def _rest(base: Condition, now: Condition, names: tuple[str, str]) -> list[Finding]:
    """Return what else differs: fuel, water, people who are not in the plan, the ground."""
    found = []
    for key, words in (("fuel", "fuel"), ("water", "water")):
        before, after = getattr(base, key), getattr(now, key)
        if before is not None and after is not None and abs(after - before) >= FILL_TOLD:
            values = {"a": Quantity(before, "percent"), "b": Quantity(after, "percent")}
            what = Say(
                "The {words} stood at {a} in “{name}” and at {b} in “{other}”.",
                {**values, "words": words, "name": names[0], "other": names[1]},
            )
            found.append(
                Finding(
                    key=f"differs-{key}",
                    tone="act",
                    what=what,
                    do=Say("Put the difference into the plan as a tank, or read again at one fill."),
                )
            )
    if base.ground and now.ground and base.ground.casefold() != now.ground.casefold():
        what = Say(
            "“{state}” was read on {ground}, “{other}” on {other_ground}.",
            {"state": names[0], "ground": base.ground, "other": names[1], "other_ground": now.ground},
        )
        found.append(
            Finding(
                key="differs-ground",
                tone="act",
                what=what,
                do=Say("Another floor leans otherwise: read both in one place."),
            )
        )
    return found
