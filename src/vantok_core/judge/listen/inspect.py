"""The inspection sheet: areas, what a fault in each means, and which faults stop a choice until they are answered.

Worn parts are cured before anything is bolted on. Grades: fine, watch, fault, wish.
"""

from __future__ import annotations

from dataclasses import dataclass

from vantok_core.base.say import Finding, Say
from vantok_core.facts import Inspected, Job
from vantok_core.facts.classes import SPRINGS
from vantok_core.facts.inspection import ZONES, Zone
from vantok_core.physics.vehicle import AxleName

WHEELS: tuple[Zone, ...] = ("FL", "FR", "RL", "RR")
FRONT: tuple[Zone, ...] = ("FL", "FR")


@dataclass(frozen=True, slots=True, kw_only=True)
class Area:
    """An area: its group and words, what a fault means, what to do first, whether it stops a choice, where on the underside it can be, and which springs
    it tells of, by their law (none: of any)."""

    group: str
    words: str
    means: str
    do: str
    stops: bool = False
    zones: tuple[Zone, ...] = WHEELS
    springs: tuple[str, ...] = ()


LEAVES = ("leaf", "parabolic")


AREAS: dict[str, Area] = {
    "leaf_cracks": Area(
        group="Springs",
        words="leaves: cracks, shifted centre bolt",
        means="a cracked pack sags, and can let go",
        do="Replace the pack; no helper goes onto a cracked one.",
        stops=True,
        springs=LEAVES,
    ),
    "leaf_shape": Area(
        group="Springs",
        words="leaves: flat or reversed, packers",
        means="the spring is tired or overloaded; a second stage takes it harder",
        do="Think of a new pack before a helper.",
        springs=LEAVES,
    ),
    "coils": Area(
        group="Springs",
        words="coils: seat, pitch, breaks",
        means="the coil is broken, tired or off its seat",
        do="Replace in pairs.",
        stops=True,
        springs=("coil",),
    ),
    "bushes": Area(
        group="Springs",
        words="bushes and shackles: width, play",
        means="play wanders and knocks, and spoils the readings",
        do="Renew bushes, then measure again.",
    ),
    "stops": Area(
        group="Springs",
        words="bump stops: present, perished, flat",
        means="with the stop gone it lands metal on metal",
        do="Fit new stops; a baseline on a missing stop is marked so.",
        stops=True,
    ),
    "air": Area(
        group="Air",
        words="air springs: cracks, rub, lines, valves",
        means="cracks start low and show only under pressure",
        do="Soap the whole bag; renew what leaks or is cracked.",
        stops=True,
    ),
    "air_soaped": Area(
        group="Air",
        words="air springs pressed up, soaped whole: bubbles, lines, fittings",
        means="a slow leak sinks overnight, and the drive home is not what was set",
        do="Find the bubbles under full pressure; renew the fitting or the bag, then soap again.",
        stops=True,
    ),
    "dampers": Area(
        group="Dampers",
        words="dampers: wet, even along the stroke, fade",
        means="a dead damper bounces, and more spring makes it worse",
        do="Renew in pairs before or with the helper.",
    ),
    "steering": Area(
        group="Steering",
        words="steering: play, joints, box",
        means="loose joints wander; a stabilizer would only mask it",
        do="Cure joints and play first, then toe and caster.",
        stops=True,
        zones=FRONT,
    ),
    "bearings": Area(
        group="Steering", words="wheel bearings and balance", means="shake and wander", do="Cure first.", stops=True
    ),
    "tyres": Area(
        group="Tyres",
        words="tyres: wear pattern, pressure, age",
        means="the pattern tells of camber, toe or pressure",
        do="Set pressures; align at the height it is driven at.",
    ),
    "frame": Area(
        group="Frame",
        words="frame and mounts: rust, holes, captive nuts",
        means="a corroded mount does not hold a bracket",
        do="Repair the mount before anything is hung on it.",
        stops=True,
        zones=tuple(ZONES),
    ),
    "lines": Area(
        group="Frame",
        words="brake, sensor and fuel lines, exhaust: clearance",
        means="a bracket or bag would rub or bake them",
        do="Reroute within the maker's rules before fitting.",
        stops=True,
        zones=tuple(ZONES),
    ),
    "contact": Area(
        group="Frame",
        words="marks of contact: stop, tyre, bar, lines, frame",
        means="something moves further than its room",
        do="Find what touches it: chalk or clay at the place, then over its travel and to both locks.",
        zones=tuple(ZONES),
    ),
}
GRADES = ("fine", "watch", "fault", "wish")


def marked_baseline(job: Job) -> list[Finding]:
    """Return that the baseline was read on bump stops or dampers at fault, where it was."""
    if job.empty is None or not any(r.state == job.empty.key and r.phase == "before" for r in job.readings):
        return []
    found = []
    if stops_gone(job):
        what = Say(
            "The baseline was read on a missing or perished bump stop: its heights stand, its stop gaps and travel do not."
        )
        do = Say("Read the stop gaps again once the stops are renewed.")
        found.append(Finding(key="baseline-stop", tone="plain", topic="springs", what=what, do=do))
    if _at_fault(job, "dampers"):
        what = Say(
            "The baseline was read on a damper at fault: one charged with gas holds some height, a blown one none."
        )
        do = Say("Read the empty vehicle again once the dampers are renewed, before anything else goes on.")
        found.append(Finding(key="baseline-damper", tone="plain", topic="springs", what=what, do=do))
    return found


def tells_of(area: str, job: Job, axle: AxleName) -> bool:
    """Tell whether an area of the inspection says something of an axle's springs: leaves say nothing of coils, nor coils of leaves."""
    kind = job.vehicle.front_spring if axle == "front" else job.vehicle.rear_spring
    return not AREAS[area].springs or kind not in SPRINGS or SPRINGS[kind].law in AREAS[area].springs


def stops_gone(job: Job) -> bool:
    """Tell whether bump stops were found missing or perished, on inspection or in the census: their gaps tell nothing."""
    return _at_fault(job, "stops")


def _at_fault(job: Job, part: str) -> bool:
    """Tell whether a part was found at fault as it came: on inspection, or perished or missing in the census."""
    graded = any(one.area == part and one.grade == "fault" for one in job.inspection)
    return graded or any(one.kind == part and one.fitted in ("perished", "missing") for one in job.vehicle.equipment)


def inspection_findings(job: Job) -> list[Finding]:
    """Return faults (to act on, first) and things to watch, in the order of the sheet."""
    found = []
    graded = {one.area: one for one in job.inspection}
    for key, area in AREAS.items():
        one = graded.get(key)
        if one is not None and one.grade == "fault" and one.after and one.after != "fault":
            found.append(
                Finding(
                    key=f"cured-{key}",
                    tone="plain",
                    what=Say(
                        "{area}: at fault as it came, {after} after the work.",
                        {"area": area.words.split(":")[0].capitalize(), "after": one.after},
                    ),
                )
            )
            continue
        if one is None or one.now not in ("fault", "watch"):
            continue
        note = _noted(one)
        name = area.words.split(":")[0].capitalize()
        if one.now == "watch":
            found.append(
                Finding(
                    key=f"watch-{key}",
                    tone="plain",
                    what=Say("Watch: {name}{note}.", {"name": name.lower(), "note": note}),
                )
            )
            continue
        told = f" Overruled: {_plain(one.overruled)}." if one.overruled else ""
        found.append(
            Finding(
                key=f"fix-{key}",
                tone="act",
                what=Say("Fix first: {name}{note}.", {"name": name.lower(), "note": note}),
                do=Say("{means}. {do}{told}", {"means": area.means.capitalize(), "do": area.do, "told": told}),
            )
        )
    return found


def standing_faults(job: Job) -> list[tuple[Area, Inspected]]:
    """Return the faults that stop a choice: neither cured nor overruled with a reason."""
    return [
        (AREAS[one.area], one)
        for one in job.inspection
        if one.now == "fault" and one.area in AREAS and AREAS[one.area].stops and not one.overruled
    ]


def _noted(one: Inspected) -> str:
    """Return where a fault is and what was noted of it, as it stands behind its name."""
    where = ", ".join(ZONES[zone] for zone in one.where)
    told = [part for part in (where, _plain(one.after_note or one.note)) if part]
    return f" ({'; '.join(told)})" if told else ""


def _plain(text: str) -> str:
    """Return a person's words as part of a sentence that ends by itself."""
    return text.rstrip(". ")
