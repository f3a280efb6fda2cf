"""The diagnosis of a job: what each state shows, how it compares, what to do first, and the sentence it ends in."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.say import Finding, Quantity, Say, Verdict, length, mass
from vantok_core.judge.diagnose.springs import spring_findings
from vantok_core.judge.diagnose.stance import stance_findings, stop_findings
from vantok_core.judge.diagnose.tail import tail_findings, tails
from vantok_core.judge.diagnose.thresholds import FRONT_LOST, GRIP_WORTH, PLAN_OFF, SAG_WORTH, SMALL
from vantok_core.judge.grounds.lead import led_by_limits
from vantok_core.judge.grounds.shown import StateView, TapeView, main_datum, mean_of, tape_view, view_of
from vantok_core.judge.grounds.thresholds import CONTRADICTS
from vantok_core.judge.grounds.towed import towed_findings
from vantok_core.judge.grounds.unweighed import Unweighed, gain_told, unweighed, unweighed_findings
from vantok_core.judge.grounds.working import Working, explain
from vantok_core.judge.listen.census import census_findings
from vantok_core.judge.listen.inspect import inspection_findings, marked_baseline
from vantok_core.loads.nose import noses
from vantok_core.loads.plan import state_load
from vantok_core.model import JobModel, load_gap, missing, rear_class
from vantok_core.model.rate_band import RateBand, rate_of
from vantok_core.physics.vehicle import AXLES, AxleName
from vantok_core.rates.class_rate import FRONT_HZ, REAR_HZ
from vantok_core.rates.simple import rate_for_frequency

URGENCY = (
    "contradicts",
    "stop-rear",
    "stop-front",
    "load-unknown",
    "unsolved",
    "probably-over",
    "unweighed",
    "nose-up",
    "front-light",
    "floor",
    "tired-rear",
    "tired-front",
    "stops-unread",
    "front-low",
    "lean",
    "tail-low",
    "trailer-nose-up",
    "trailer-nose-down",
    "pitching",
    "front-contradicts",
    "rear-camber",
    "front-camber",
    "rear-toe",
    "front-toe",
    "lamps",
)
"""Findings to act on, the most urgent first: the verdict speaks of the first one there is."""
WANTED = Say("How it would stand empty nobody will see: say what height is wanted.")
SAID_BY_LEAD = ("unweighed", "probably-over")
WEIGH_IT = "Weigh it"


@dataclass(frozen=True, slots=True, kw_only=True)
class Diagnosis:
    """The whole diagnosis.

    views: by state in order; tapes: states that only the tape speaks of (their load unknown); rates; findings, ranked; stance:
    how the rear stands; verdict; datum: the one it is read on; unweighed: loads that the springs alone tell.
    """

    datum: str
    views: tuple[StateView, ...]
    tapes: tuple[TapeView, ...]
    rates: tuple[RateBand, ...]
    findings: tuple[Finding, ...]
    stance: Say
    verdict: Verdict
    restore: tuple[Working, ...]
    assumed: tuple[str, ...]
    unweighed: tuple[Unweighed, ...] = ()
    never_empty: bool = False

    def off_springs(self, key: str) -> Unweighed | None:
        """Return what the springs tell of a state's load; None where it is known, or they tell nothing."""
        return next((one for one in self.unweighed if one.state.key == key), None)

    def view(self, key: str) -> StateView | None:
        """Return a state's view."""
        return next((v for v in self.views if v.state.key == key), None)

    @property
    def main(self) -> StateView | None:
        """The state the diagnosis speaks of: the one with the lowest rear."""
        return _main(self.views, never_empty=self.never_empty)


def diagnose(model: JobModel) -> Diagnosis:
    """Return the diagnosis of a calibrated job."""
    datum = main_datum(model.job)
    reports = model.solve()
    views = tuple(
        view_of(model, state, reports[state.key], datum) for state in model.job.states if state.key in reports
    )
    tapes = tuple(tape_view(model, s, datum) for s in model.job.states if s.key not in reports)
    rates = tuple(rate_of(model, axle) for axle in AXLES)
    main = _main(views, never_empty=model.job.never_empty)
    told = unweighed(model)
    findings = _findings(model, views, tapes, main, told)
    restore = _restore(model, main) if main else ()
    restore += tuple(_class_rate(model, axle) for axle in AXLES)
    return Diagnosis(
        datum=datum,
        views=views,
        tapes=tapes,
        rates=rates,
        findings=tuple(findings),
        stance=_stance(main, tapes, never_empty=model.job.never_empty),
        verdict=led_by_limits(model.job, _verdict(model, main, tapes, findings), told),
        restore=restore,
        assumed=model.assumed,
        unweighed=told,
        never_empty=model.job.never_empty,
    )


def _main(views: tuple[StateView, ...], *, never_empty: bool) -> StateView | None:
    """Return the state the diagnosis speaks of: the one with the lowest rear; the empty one only of a vehicle that is never empty."""
    spoken = [v for v in views if not v.state.past and (never_empty or not v.state.empty)]
    return max(spoken, key=lambda v: float(v.report.d_r), default=None)


def _class_rate(model: JobModel, axle: AxleName) -> Working:
    """Return how the class's usual rate comes about."""
    own = model.prior.axle(axle).spring
    frequency = FRONT_HZ if axle == "front" else REAR_HZ[rear_class(model.job)]
    sprung = float(own.k + own.k2) / rate_for_frequency(1.0, frequency)
    return explain("class_rate", sprung_mass=sprung, frequency=frequency)


def _restore(model: JobModel, main: StateView) -> tuple[Working, ...]:
    """Return the force per side that brings the rear arches back to where they stood, by the springs' mean rate over that height."""
    height = float(main.report.d_r)
    force = model.lifting_force(main.state.key, "rear", height) if height > 0.0 else 0.0
    return (explain("restore_wheel", k_w=force / height, height=height),) if force > 0.0 else ()


def _findings(
    model: JobModel,
    views: tuple[StateView, ...],
    tapes: tuple[TapeView, ...],
    main: StateView | None,
    told: tuple[Unweighed, ...],
) -> list[Finding]:
    """Return all findings: limits first, the worst of them first, then what is to be done, then the rest."""
    found = [finding for _, finding in sorted((pair for v in views for pair in _limit_findings(v)), key=lambda p: p[0])]
    if main is not None:
        others = stance_findings(model.job, main) + _grip_findings(model, main, told) + spring_findings(model, main)
        found += [replace(f, where=main.state.name) for f in others]
    found += [*unweighed_findings(told), *tail_findings(model.job, tails(model)), *towed_findings(model)]
    for tape in tapes:
        found += [replace(f, where=tape.state.name) for f in (*_unknown(tape), *stop_findings(tape.stop_gap))]
    found += (
        contradictions(model) + inspection_findings(model.job) + marked_baseline(model.job) + census_findings(model.job)
    )
    order = {"limit": 0, "act": 1, "plain": 2, "level": 3}
    return sorted(found, key=lambda f: (order[f.tone], not f.key.startswith("fix-")))


def _limit_findings(view: StateView) -> list[tuple[float, Finding]]:
    """Return each limit that is passed with its margin as a share, for sorting."""
    found = []
    for m in view.margins:
        if not m.over:
            continue
        values = {"over": mass(-(m.margin or 0.0)), "limit": mass(m.limit or 0.0)}
        finding = Finding(
            key=f"over-{m.key}",
            tone="limit",
            at="front"
            if m.key.startswith("front")
            else "rear"
            if m.key.startswith("rear")
            else "tail"
            if m.key == "hitch"
            else "",
            topic="weigh",
            where=view.state.name,
            what=Say("{name} {over} over its limit of {limit}.", {**values, "name": m.name.capitalize()}),
            do=Say("Move or remove load before anything is fitted. No helper raises a rating."),
        )
        found.append((m.share or 0.0, finding))
    return found


def _unknown(tape: TapeView) -> list[Finding]:
    """Say that a state is judged by the tape alone, and what would change that."""
    if not tape.load:
        return [Finding(key="unsolved", tone="act", what=Say(tape.why), do=Say("Until then this state is not used."))]
    if not tape.read and not tape.stop_gap:
        return []
    why = Say("To find out: {why}. Without it no rate, force or kit is worked out for this state.", {"why": tape.why})
    return [Finding(key="load-unknown", tone="act", topic="weigh", what=why, do=Say(tape.cure))]


def lost_surely(view: StateView, told: tuple[Unweighed, ...]) -> float | None:
    """Return the front's loss as a share, less its band where the springs alone tell the load."""
    one = next((u for u in told if u.state.key == view.state.key), None)
    if view.front_lost is None or one is None or one.gain["front"][0] >= 0.0:
        return view.front_lost
    gain, sigma = one.gain["front"]
    return view.front_lost * max(1.0 + NINE_IN_TEN * sigma / gain, 0.0)


def _grip_findings(model: JobModel, view: StateView, told: tuple[Unweighed, ...]) -> list[Finding]:
    found = []
    lost = lost_surely(view, told)
    if lost is not None and lost > GRIP_WORTH:
        found.append(
            Finding(
                key="front-light",
                at="front",
                tone="act",
                topic="front_lost",
                what=Say(
                    "The front axle has lost {lost} of its load, and as much braking and steering grip.",
                    {"lost": Quantity(lost, "percent")},
                ),
                do=Say(
                    "A rear helper does not give it back. Cargo forward, less tongue load, a weight-distributing hitch or "
                    "less overhang does."
                ),
            )
        )
    rise, lost_now = view.front_rise, lost or 0.0
    if rise is not None and rise < -SMALL and lost_now > FRONT_LOST:
        found.append(
            Finding(
                key="front-contradicts",
                at="front",
                tone="act",
                what=Say("The front reads {d} lower although its axle is lighter.", {"d": length(-rise)}),
                do=Say("Settle and read again; look for load put forward."),
            )
        )
    load = state_load(model.job, view.state)
    if load.short_rear is not None and abs(load.short_rear) > PLAN_OFF:
        side = "light" if load.short_rear > 0 else "heavy"
        found.append(
            Finding(
                key="plan",
                at="rear",
                tone="plain",
                topic="weigh",
                what=Say(
                    "The plan is {d} {side} at the rear against the scale; the scale rules.",
                    {"d": mass(abs(load.short_rear)), "side": side},
                ),
            )
        )
    return found


def contradictions(model: JobModel) -> list[Finding]:
    """Return the readings that the others, the loads and the class speak against, most suspect first."""
    names = {s.key: s.name for s in model.job.states}
    points = {p.key: p.name for p in model.job.vehicle.points}
    found = []
    for suspect in model.estimate.suspects():
        if abs(suspect.standardised) < CONTRADICTS:
            break
        reading = suspect.reading
        at, datum = reading.place.at, reading.place.datum
        place = points.get(datum, datum) if at == "point" else f"{at} axle"
        found.append(
            Finding(
                key="contradicts",
                tone="act",
                where=names[reading.state],
                what=Say(
                    "The {place} reading does not agree with the others and the loads ({close} would close it).",
                    {"close": length(suspect.closing, signed=True), "place": place},
                ),
                do=Say("Settle it, read that place again, and check the load."),
            )
        )
    return found


def _verdict(model: JobModel, main: StateView | None, tapes: tuple[TapeView, ...], findings: list[Finding]) -> Verdict:
    # What the springs tell of a load is said by `led_by_limits`, at every stage.
    spoken = [f for f in findings if f.tone == "act" and f.key not in SAID_BY_LEAD]
    acts = sorted(spoken, key=urgency)
    first = [said for act in acts[:1] for said in (act.what, act.do)]
    sentences = [_stance(main, tapes, never_empty=model.job.never_empty), *first]
    if main is None:
        return Verdict(tone="act", sentences=tuple(sentences))
    if model.job.never_empty:
        return Verdict(tone="act", sentences=(*sentences, WANTED))
    sag = _sag(main)
    if abs(sag) <= SAG_WORTH and not acts and not noses(model.job):
        sentences.append(Say("That is within what the springs are for: nothing is needed."))
        return Verdict(tone="level", sentences=tuple(sentences))
    force = _restore(model, main)
    if force and sag > SAG_WORTH:
        sentences.append(_force_said(force[0], gain_told(model, main.state.key)))
    if model.job.notes:
        sentences.insert(0, Say("Cure first what was found worn or faulty (see Listen)."))
    return Verdict(tone="act", sentences=(*sentences, *_open_ends(model)))


def _open_ends(model: JobModel) -> list[Say]:
    """Return what of the loads is still to find out first; that a load the springs tell should be weighed is said elsewhere."""
    gaps = {gap.what: (gap.cure, s.key in model.states) for s in model.job.loaded if (gap := load_gap(model.job, s))}
    for lack in missing(model.job):
        cure, springs = gaps.get(lack.what, ("", False))
        if lack.stage == "weigh" and not (springs and cure.startswith(WEIGH_IT)):
            return [Say("Still to find out: {lack}.", {"lack": lack.what}), *([Say(cure)] if cure else [])]
    return []


def _force_said(restore: Working, gain: Mapping[str, tuple[float, float]] | None) -> Say:
    """Return the force that brings the rear back: the load it stands for, with its band where the springs alone tell that."""
    values = {"f": restore.result}
    if gain is None:
        return Say("To bring the rear all the way back takes {f} a side at the wheel.", values)
    value, sigma = gain["rear"]
    share = NINE_IN_TEN * sigma / abs(value) if value else 1.0
    band = replace(restore.result, value=restore.result.value * share)
    return Say(
        "To bring the rear all the way back takes about {f} a side at the wheel (± {band}).", values | {"band": band}
    )


def urgency(finding: Finding) -> int:
    """Return the place of a finding among those to act on: faults found on inspection first, then as listed."""
    if finding.key.startswith("fix-"):
        return -1
    return URGENCY.index(finding.key)


def _sag(main: StateView) -> float:
    """Return the rear's sag (m): as read, else as predicted."""
    sag = mean_of(main.sag, ("RL", "RR"))
    return sag if sag is not None else float(main.report.d_r)


def _stance(main: StateView | None, tapes: tuple[TapeView, ...], *, never_empty: bool) -> Say:
    """Return how the rear stands, in the state spoken of: the lowest of known load, else the lowest that the tape shows."""
    if main is not None and never_empty:
        return _as_it_stands(main)
    if main is not None:
        measured = mean_of(main.sag, ("RL", "RR")) is not None
        how = "sits" if measured else "is predicted to sit"
        return _stands(main.state.name, how, _sag(main), main.band if measured else 0.003, main.front_rise)
    read = [t for t in tapes if t.rear_sag is not None]
    if read:
        low = max(read, key=lambda t: t.rear_sag or 0.0)
        return _stands(low.state.name, "sits", low.rear_sag or 0.0, low.band)
    return Say("Only the empty vehicle is known. Load it as it is used, weigh it and measure again.")


def _as_it_stands(main: StateView) -> Say:
    """Return how a vehicle that is never empty stands: its rear against its front, and in another state against how it came."""
    name, sag = main.state.name, mean_of(main.sag, ("RL", "RR"))
    if not main.state.empty and sag is not None and sag > main.band:
        return Say("{name}: the rear stands {sag} lower than as it came.", {"sag": length(sag), "name": name})
    if main.rake is None:
        return Say("{name}: read the front and rear arches on one datum, and it is told how it stands.", {"name": name})
    if abs(main.rake) <= main.band:
        return Say(
            "{name}: rear and front arches stand level, within {band}.", {"band": length(main.band), "name": name}
        )
    word = "higher" if main.rake > 0 else "lower"
    return Say(
        "{name}: the rear arches stand {rake} {word} than the front ones.",
        {"rake": length(abs(main.rake)), "name": name, "word": word},
    )


def _stands(name: str, how: str, sag: float, band: float, front: float | None = None) -> Say:
    """Return how the rear stands; front: how far the front has come up (m), told beside it where it has come down as well."""
    low = front is not None and front < -max(SMALL, band)
    too = Say(", the front {front} low", {"front": length(-(front or 0.0))}) if low else ""
    if abs(sag) <= band:
        return Say(
            "{name}: the rear {how} where it does empty, within {band}{too}.",
            {"band": length(band), "name": name, "how": how, "too": too},
        )
    word = "low" if sag > 0 else "high"
    return Say(
        "{name}: the rear {how} {sag} {word}{too}.",
        {"sag": length(abs(sag)), "name": name, "how": how, "word": word, "too": too},
    )
