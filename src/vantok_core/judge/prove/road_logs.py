"""What the logger says of the drive: after against before over the same course at the same speed, with its band; never of two unlike runs.

Source: method section 16.
"""

from __future__ import annotations

from dataclasses import dataclass

from vantok_core.base.errors import VantokError
from vantok_core.base.say import Quantity, Say, Tone, Verdict
from vantok_core.facts import Job
from vantok_core.facts.proving import RoadLog
from vantok_core.judge.prove.driving import COURSES
from vantok_core.judge.prove.thresholds import LEAST_ROAD, SAME_SPEED
from vantok_core.readings.trace import before_after
from vantok_core.road.comfort import comfort_word
from vantok_core.road.trace_file import RoadTrace, TraceFile


@dataclass(frozen=True, slots=True, kw_only=True)
class LogTold:
    """A logged road as told: what was logged, and its sentence."""

    log: RoadLog
    said: Verdict


def road_logs_told(job: Job) -> tuple[LogTold, ...]:
    """Return each logged road with what it says; one with the kit against the last before it that is alike."""
    return tuple(LogTold(log=one, said=_said(job, one)) for one in job.proving.logs)


def weighted(log: RoadLog) -> float:
    """Return the weighted r.m.s. of a logged road (m/s2), of all its pieces."""
    return float((sum(p * p for p in log.pieces) / len(log.pieces)) ** 0.5)


def alike(one: RoadLog, other: RoadLog) -> bool:
    """Tell whether two logged roads can be held against each other: one course, one load, speeds within a tenth."""
    slower, faster = sorted((one.speed_kmh, other.speed_kmh))
    return one.course == other.course and one.state == other.state and faster <= slower * (1.0 + SAME_SPEED)


def _said(job: Job, one: RoadLog) -> Verdict:
    rms = weighted(one)
    values = {"v": Quantity(one.speed_kmh / 3.6, "speed"), "rms": Quantity(rms, "acceleration")}
    values |= {"peak": Quantity(one.peak, "acceleration")}
    course = COURSES[one.course].words if one.course in COURSES else one.course
    words = {"course": course.capitalize(), "comfort": comfort_word(rms), "jolts": _jolts(one)}
    told = [Say("{course}, {v}: {rms} weighted ({comfort}), {peak} at most{jolts}.", {**values, **words})]
    tone = "level"
    if one.flat:
        told.append(
            Say(
                "It reached the end of what the logger reads {flat} times: its blows were harder than it says.",
                {"flat": one.flat},
            )
        )
        tone = "act"
    if one.moment == "after":
        compared, tone = _compared(job, one, tone)
        told.append(compared)
    return Verdict(tone="act" if tone == "act" else "level", sentences=tuple(told))


def _jolts(one: RoadLog) -> str:
    km = one.seconds * one.speed_kmh / 3600.0
    return f", {one.jolts / km:.0f} jolts a kilometre" if one.jolts and km >= LEAST_ROAD else ""


def _compared(job: Job, one: RoadLog, tone: Tone | str) -> tuple[Say, str]:
    """Return what a run with the kit says against the one before it."""
    before = [log for log in job.proving.logs if log.moment == "before" and alike(log, one)]
    if not before:
        return Say(
            "Nothing was logged before on this course at this speed with this load: it is compared with nothing."
        ), str(tone)
    try:
        found = before_after(before[-1].pieces, one.pieces)
    except VantokError as error:
        return Say("It is compared with nothing: {error}", {"error": error.args[0]}), str(tone)
    few = " Few pieces: drive it longer." if found.few else ""
    band = {"low": Quantity(found.band[0], "percent"), "high": Quantity(found.band[1], "percent")}
    if not found.told:
        return Say("Against before no difference can be told: {low} to {high} of it.{few}", {**band, "few": few}), str(
            tone
        )
    way = "softer" if found.ratio < 1.0 else "harsher"
    values = band | {"r": Quantity(found.ratio, "percent")}
    return Say(
        "{way} than before: {r} of it ({low} to {high}).{few}", {**values, "way": way.capitalize(), "few": few}
    ), "act" if way == "harsher" else str(tone)


def file_said(found: TraceFile) -> tuple[str, ...]:
    """Return what a file was found to hold, and what of it is to be doubted, a sentence each."""
    gaps = f"{several(len(found.gaps), 'gap')} (the first at {found.gaps[0][0]:.1f} s)" if found.gaps else "no gaps"
    marks = f", {several(len(found.marks), 'mark')}" if found.marks else ""
    told = [f"{found.rate:.0f} samples a second, {gaps}{marks}."]
    if found.flat:
        told.append(f"{several(found.flat, 'flat top')}: the logger reached its end.")
    if found.left_out:
        told.append(
            f"{several(found.left_out, 'row')} held no figures and {'is' if found.left_out == 1 else 'are'} not used."
        )
    if not found.gravity:
        told.append("Gravity is not in it: its unit is a guess, look at it.")
    return tuple(told)


def several(count: int, word: str) -> str:
    """Return a count with its word. count: of things."""
    return f"{count} {word}{'' if count == 1 else 's'}"


def log_of(trace: RoadTrace) -> dict[str, object]:
    """Return what of a trace is kept."""
    return {
        "rate": trace.rate,
        "seconds": trace.seconds,
        "pieces": [round(piece, 5) for piece in trace.pieces],
        "peak": trace.peak,
        "jolts": trace.jolts,
    }
