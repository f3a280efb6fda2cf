"""Fit checks before ordering: a check not yet measured is "to measure", never "pass" (method section 5)."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from vantok_core.catalogue import Kit
from vantok_core.classes import SPRINGS
from vantok_core.job import Job
from vantok_core.num import G
from vantok_core.say import Say, length, mass
from vantok_core.vehicle import AXLE_CORNERS, AxleName, Element, Vehicle

Status = Literal["pass", "fail", "measure"]
KIT_ELEMENT = "kit"


@dataclass(frozen=True, slots=True, kw_only=True)
class FitCheck:
    """One check: what, how it stands, and why."""

    key: str
    words: str
    status: Status
    why: Say


def empty_reading(job: Job, axle: AxleName, datum: str) -> tuple[float, float] | None:
    """Return an axle's left and right reading (m) in the empty state on a datum, None unless both exist."""
    if job.empty is None:
        return None
    pair = [job.read(job.empty.key, corner, datum) for corner in AXLE_CORNERS[axle]]
    return (pair[0].value_m, pair[1].value_m) if pair[0] and pair[1] else None


def fit_checks(job: Job, kit: Kit) -> list[FitCheck]:
    """Return the checks of a kit on this vehicle, in the order one makes them."""
    found = [_spring_check(job, kit), _gross_check(job, kit)]
    found.append(_pad_check(job, kit) if kit.family == "air_spring" else _gap_check(job, kit))
    found.append(_space_check(job, kit))
    return found


def _space_check(job: Job, kit: Kit) -> FitCheck:
    words, values = "space to tyre, brake and exhaust", {"space": length(kit.side_space_m)}
    sides = {"left": job.space_left_m, "right": job.space_right_m}
    known = {side: length(value) for side, value in sides.items() if value is not None}
    if job.lines == "close":
        why = Say("A line or the exhaust stands in its way: reroute it within the maker's rules first.")
        return FitCheck(key="space", words=words, status="fail", why=why)
    if any(v is not None and v < kit.side_space_m for v in sides.values()):
        said = ", ".join(f"{{{side}}} {side}" for side in known)
        return FitCheck(
            key="space", words=words, status="fail", why=Say(f"Read {said}; {{space}} is needed.", values | known)
        )
    if len(known) < 2 or not job.lines:
        why = Say(
            "Measure frame to tyre sidewall with the tyre's bulge; {space} is needed. Look at exhaust and lines.",
            values,
        )
        return FitCheck(key="space", words=words, status="measure", why=why)
    why = Say("Read {left} left and {right} right; {space} is needed. Lines and exhaust stand clear.", values | known)
    return FitCheck(key="space", words=words, status="pass", why=why)


def _spring_check(job: Job, kit: Kit) -> FitCheck:
    own = job.vehicle.front_spring if kit.axle == "front" else job.vehicle.rear_spring
    if own is None:
        return FitCheck(
            key="spring", words="spring type", status="measure", why=Say(f"The {kit.axle} suspension is not recorded.")
        )
    fits = own in kit.springs
    listed = "; ".join(SPRINGS[s].words for s in kit.springs if s in SPRINGS)
    why = Say(f"{SPRINGS[own].words.capitalize()}; the kit is made for: {listed}.")
    return FitCheck(key="spring", words="spring type", status="pass" if fits else "fail", why=why)


def _gross_check(job: Job, kit: Kit) -> FitCheck:
    gross = job.vehicle.gross_kg
    values = {"low": mass(kit.gross_min_kg), "high": mass(kit.gross_max_kg)}
    if gross is None:
        why = Say("The gross rating is not recorded; this variant is for {low} to {high}.", values)
        return FitCheck(key="variant", words="variant by gross mass", status="measure", why=why)
    fits = kit.gross_min_kg <= gross <= kit.gross_max_kg
    why = Say("This variant is for {low} to {high}; the plate says {gross}.", values | {"gross": mass(gross)})
    return FitCheck(key="variant", words="variant by gross mass", status="pass" if fits else "fail", why=why)


def _pad_check(job: Job, kit: Kit) -> FitCheck:
    values = {"low": length(kit.pad_min_m or 0.0), "high": length(kit.pad_max_m or 0.0)}
    read = empty_reading(job, kit.axle, "pad_to_pad")
    if read is None:
        other = _read_elsewhere(job, kit, "pad_to_pad")
        why = Say(
            f"{other}Mock it up at ride height, not lifted, and read pad to pad; the window is {{low}} to {{high}}.",
            values,
        )
        return FitCheck(key="pads", words="pad-to-pad window", status="measure", why=why)
    fits = all((kit.pad_min_m or 0.0) <= h <= (kit.pad_max_m or 1.0) for h in read)
    values |= {"left": length(read[0]), "right": length(read[1])}
    why = Say("Read {left} left and {right} right; the window is {low} to {high}.", values)
    return FitCheck(key="pads", words="pad-to-pad window", status="pass" if fits else "fail", why=why)


def _read_elsewhere(job: Job, kit: Kit, datum: str) -> str:
    """Return that a height was read in another state than the empty one, or on one side only, and so does not answer the check."""
    corners = AXLE_CORNERS[kit.axle]
    names = [s.name for s in job.states if any(job.read(s.key, c, datum) for c in corners)]
    return f"Read in {', '.join(names)}, which does not answer it on both sides of the empty vehicle. " if names else ""


def _gap_check(job: Job, kit: Kit) -> FitCheck:
    read = empty_reading(job, kit.axle, "stop_gap")
    values = {"low": length(kit.gap_min_m), "high": length(kit.gap_max_m), "longer": length(kit.longer_m)}
    if read is None:
        other = _read_elsewhere(job, kit, "stop_gap")
        why = Say(
            f"{other}Read the stop gap empty on both sides; the insert reaches {{longer}} further than the stop.",
            values,
        )
        return FitCheck(key="gap", words="stop gap", status="measure", why=why)
    gaps = [r - kit.longer_m for r in read]
    fits = min(gaps) >= kit.gap_min_m
    values |= {"left": length(gaps[0]), "right": length(gaps[1])}
    why = Say("Without spacers the gap would be {left} left, {right} right; the kit allows {low} to {high}.", values)
    return FitCheck(key="gap", words="stop gap", status="pass" if fits else "fail", why=why)


def with_kit(
    job: Job, vehicle: Vehicle, kit: Kit, *, pressure: tuple[float, float] | None = None,
    gap: tuple[float, float] | None = None, state: str | None = None,
) -> Vehicle:  # fmt: skip
    """Return the vehicle with a kit on it.

    Arguments: pressure: Pa gauge left, right (air); gap: m in the empty state left, right (insert); state: where the
    air valves are shut. Reference heights come from the readings, else from the middle of the kit's window.
    """
    axle = vehicle.axle(kit.axle)
    kept = tuple(e for e in axle.elements if not (kit.replaces_stop and e.name.endswith("bump stops")))
    place = None if not axle.solid else kit.place * axle.track / 2
    if kit.family == "air_spring":
        heights = empty_reading(job, kit.axle, "pad_to_pad") or (kit.pad_middle, kit.pad_middle)
        p_left, p_right = pressure or (kit.p_min_pa or 0.0,) * 2
        left, right = kit.air(heights[0], p_left), kit.air(heights[1], p_right)
        element = Element(name=KIT_ELEMENT, left=left, right=right, ratio=kit.ratio, y=place, set_state=state,
                          p_min=kit.p_min_pa, p_max=kit.p_max_pa)  # fmt: skip
    else:
        g_left, g_right = gap or unspaced_gap(job, kit)
        element = Element(
            name=KIT_ELEMENT, left=kit.insert(g_left), right=kit.insert(g_right), ratio=kit.ratio, y=place
        )
    axle = replace(axle, elements=(*kept, element))
    return replace(vehicle, front=axle) if kit.axle == "front" else replace(vehicle, rear=axle)


ASSUMED_STOP_GAP = 0.065
"""Empty stop gap taken until it is read, m."""


def unspaced_gap(job: Job, kit: Kit) -> tuple[float, float]:
    """Return an insert's gap (m) without spacers, left and right, from the stop gaps read (else an assumed one)."""
    read = empty_reading(job, kit.axle, "stop_gap") or (ASSUMED_STOP_GAP, ASSUMED_STOP_GAP)
    return read[0] - kit.longer_m, read[1] - kit.longer_m


def spacer_stack(kit: Kit, wanted: float) -> tuple[float, ...]:
    """Return the stack of the kit's spacers (m) nearest to a wanted thickness, at most two of each size."""
    stacks: list[tuple[float, ...]] = [()]
    for size in kit.spacers_m:
        stacks = [stack + (size,) * n for stack in stacks for n in range(3)]
    return min(stacks, key=lambda stack: (abs(sum(stack) - wanted), len(stack)))


def kit_load_kg(kit: Kit) -> float:
    """Return the load (kg) that the pair's published data reaches; never a rating of the vehicle."""
    return 2.0 * kit.highest_force / G
