"""The diagnosis of a job: what each state shows, how it compares, what to do first, and the sentence it ends in."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from vantok_core.classes import FREQUENCY
from vantok_core.judge.inspect import inspection_findings, marked_baseline
from vantok_core.judge.lead import led_by_limits
from vantok_core.judge.springs import RateBand, rate_of, spring_findings
from vantok_core.judge.views import WALL, StateView, TapeView, empty_rear_load, main_datum, mean_of, tape_view, view_of
from vantok_core.judge.working import Working, explain
from vantok_core.model import JobModel, missing, unsprung_mass
from vantok_core.plan import state_load
from vantok_core.rates.simple import rate_for_frequency
from vantok_core.say import Finding, Quantity, Say, Verdict, length, mass
from vantok_core.vehicle import AXLES, AxleName

ROUNDING = 1e-9
SMALL = 0.010
"""A height difference that is not worth a word, m."""
LEAN_WORTH = 0.012
NEAR_STOP = 0.015
SAG_WORTH = 0.020
CONTRADICTS = 3.0
"""Standard deviations from which a reading is said to contradict the others."""
URGENCY = (
    "contradicts", "stop-rear", "stop-front", "load-unknown", "unsolved", "nose-up", "front-light", "soft-springs", "tired-rear",
    "tired-front", "lean", "pitching", "front-contradicts", "rear-camber", "front-camber", "rear-toe", "front-toe", "lamps",
)  # fmt: skip
"""Findings to act on, the most urgent first: the verdict speaks of the first one there is."""
LAMP_WORTH = 0.05
GRIP_WORTH = 0.10


@dataclass(frozen=True, slots=True, kw_only=True)
class Diagnosis:
    """The whole diagnosis.

    views: by state in order; tapes: states that only the tape speaks of (their load unknown); rates; findings, ranked; stance:
    how the rear stands; verdict; datum: the one it is read on.
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

    def view(self, key: str) -> StateView | None:
        """Return a state's view."""
        return next((v for v in self.views if v.state.key == key), None)

    @property
    def main(self) -> StateView | None:
        """The state the diagnosis speaks of: the one with the lowest rear."""
        loaded = [v for v in self.views if not v.state.empty and not v.state.past]
        return max(loaded, key=lambda v: float(v.report.d_r)) if loaded else None


def diagnose(model: JobModel) -> Diagnosis:
    """Return the diagnosis of a calibrated job."""
    datum = main_datum(model.job)
    reports = model.solve()
    views = tuple(
        view_of(model, state, reports[state.key], datum) for state in model.job.states if state.key in reports
    )
    tapes = tuple(tape_view(model, s, datum) for s in model.job.states if s.key not in reports)
    rates = tuple(rate_of(model, axle) for axle in AXLES)
    main = max(
        (v for v in views if not v.state.empty and not v.state.past), key=lambda v: float(v.report.d_r), default=None
    )
    findings = _findings(model, views, tapes, main)
    restore = _restore(main, empty_rear_load(model)) if main else ()
    restore += tuple(_class_rate(model, axle) for axle in AXLES)
    return Diagnosis(
        datum=datum, views=views, tapes=tapes, rates=rates, findings=tuple(findings), stance=_stance(main, tapes),
        verdict=led_by_limits(model.job, _verdict(model, main, tapes, findings)),
        restore=restore, assumed=model.assumed,
    )  # fmt: skip


def _class_rate(model: JobModel, axle: AxleName) -> Working:
    """Return how the class's usual rate comes about."""
    v = model.job.vehicle
    rating = v.front_axle_kg if axle == "front" else v.rear_axle_kg
    own = model.prior.axle(axle).spring
    rate = float(own.k + own.k2)
    sprung = (rating or 0.0) / 2 - unsprung_mass(model.job, axle)
    if sprung > 0.0 and abs(rate_for_frequency(sprung, FREQUENCY[axle]) / rate - 1.0) < ROUNDING:
        return explain("class_rate", sprung_mass=sprung, frequency=FREQUENCY[axle])
    return explain("class_rate", sprung_mass=rate / rate_for_frequency(1.0, FREQUENCY[axle]), frequency=FREQUENCY[axle])


def _restore(main: StateView, empty_rear: float) -> tuple[Working, ...]:
    """Return the force per side that brings the rear back to its empty hub height, the mean rate over
    that height being the load gained (empty_rear: N, the reference axle load) over it."""
    hub = 0.5 * float(main.report.hub_drop["RL"] + main.report.hub_drop["RR"])
    if hub <= 0.0:
        return ()
    gained = 0.5 * (float(main.report.axle_load("rear")) - empty_rear)
    if gained <= 0.0:
        return ()
    return (explain("restore_wheel", k_w=gained / hub, height=hub),)


def _findings(
    model: JobModel, views: tuple[StateView, ...], tapes: tuple[TapeView, ...], main: StateView | None
) -> list[Finding]:
    """Return all findings: limits first, the worst of them first, then what is to be done, then the rest."""
    found = [finding for _, finding in sorted((pair for v in views for pair in _limit_findings(v)), key=lambda p: p[0])]
    if main is not None:
        others = _stance_findings(main) + _grip_findings(model, main) + spring_findings(model, main)
        found += [replace(f, where=main.state.name) for f in others]
    for tape in tapes:
        found += [replace(f, where=tape.state.name) for f in (*_unknown(tape), *_stops(tape.stop_gap))]
    found += contradictions(model) + inspection_findings(model.job) + marked_baseline(model.job)
    order = {"limit": 0, "act": 1, "plain": 2, "level": 3}
    return sorted(found, key=lambda f: (order[f.tone], not f.key.startswith("fix-")))


def _limit_findings(view: StateView) -> list[tuple[float, Finding]]:
    """Return each limit that is passed with its margin as a share, for sorting."""
    found = []
    for m in view.margins:
        if m.margin is None or not m.over:
            continue
        values = {"over": mass(-m.margin), "limit": mass(m.limit or 0.0)}
        finding = Finding(
            key=f"over-{m.key}", tone="limit", topic="weigh", where=view.state.name,
            what=Say(f"{m.name.capitalize()} {{over}} over its limit of {{limit}}.", values),
            do=Say("Move or remove load before anything is fitted. No helper raises a rating."),
        )  # fmt: skip
        found.append((m.share or 0.0, finding))
    return found


def _unknown(tape: TapeView) -> list[Finding]:
    """Say that a state is judged by the tape alone, and what would change that."""
    if not tape.load:
        return [Finding(key="unsolved", tone="act", what=Say(tape.why), do=Say("Until then this state is left out."))]
    if not tape.read and not tape.stop_gap:
        return []
    why = Say(f"To find out: {tape.why}. Without it no rate, force or kit is worked out for this state.")
    return [Finding(key="load-unknown", tone="act", topic="weigh", what=why, do=Say(tape.cure))]


def _stops(stop_gap: Mapping[str, float]) -> list[Finding]:
    found = []
    for axle, gap in stop_gap.items():
        if gap < NEAR_STOP:
            touching = gap <= 0.0
            what = (
                Say(f"The {axle} bump stop is touching.")
                if touching
                else Say(f"The {axle} bump stop is {{gap}} from touching.", {"gap": length(gap)})
            )
            found.append(Finding(key=f"stop-{axle}", tone="act", what=what,
                                 do=Say("It will strike over bumps; height or load has to change.")))  # fmt: skip
    return found


def _stance_findings(view: StateView) -> list[Finding]:
    found = _stops(view.stop_gap)
    if view.rake is not None and view.rake < -max(0.005, view.band):
        found.append(
            Finding(
                key="nose-up", tone="act", topic="rake",
                what=Say("The nose points up, rake {rake}.", {"rake": length(view.rake, signed=True)}),
                do=Say("Lamps, brakes and steering are worse until it is cured."),
            )
        )  # fmt: skip
    if view.lean is not None and abs(view.lean) > LEAN_WORTH:
        low = "right" if view.lean > 0 else "left"
        found.append(
            Finding(
                key="lean", tone="act", topic="lean",
                what=Say(f"The rear leans {low} by {{lean}}.", {"lean": length(abs(view.lean))}),
                do=Say("Balance the load from side to side, or set the two sides apart; an equal gain keeps the lean."),
            )
        )  # fmt: skip
    if view.beam is not None and abs(view.beam.value) > LAMP_WORTH:
        way = "up" if view.beam.value > 0 else "down"
        beam = replace(view.beam, value=abs(view.beam.value), us=abs(view.beam.us or 0.0), signed=False)
        found.append(
            Finding(
                key="lamps", tone="act", topic="headlamp",
                what=Say(
                    f"The headlamp beam moves {way} by {{beam}} at {{distance}}.",
                    {"beam": beam, "distance": WALL},
                ),
                do=Say("Aim again when the height is settled."),
            )
        )  # fmt: skip
    return found


def _grip_findings(model: JobModel, view: StateView) -> list[Finding]:
    found = []
    lost = view.front_lost
    if lost is not None and lost > GRIP_WORTH:
        found.append(
            Finding(
                key="front-light", tone="act", topic="front_lost",
                what=Say("The front axle has lost {lost} of its load, and as much braking and steering grip.", {"lost": Quantity(lost, "percent")}),
                do=Say(
                    "A rear helper does not give it back. Cargo forward, less tongue load, a weight-distributing hitch or "
                    "less overhang does."
                ),
            )
        )  # fmt: skip
    rise, lost_now = view.front_rise, lost or 0.0
    if rise is not None and rise < -SMALL and lost_now > 0.03:
        found.append(
            Finding(
                key="front-contradicts", tone="act",
                what=Say("The front reads {d} lower although its axle is lighter.", {"d": length(-rise)}),
                do=Say("Settle and read again; look for load put forward."),
            )
        )  # fmt: skip
    load = state_load(model.job, view.state)
    if load.short_rear is not None and abs(load.short_rear) > 15.0:
        side = "light" if load.short_rear > 0 else "heavy"
        found.append(
            Finding(key="plan", tone="plain", topic="weigh",
                    what=Say(f"The plan is {{d}} {side} at the rear against the scale; the scale rules.", {"d": mass(abs(load.short_rear))}))
        )  # fmt: skip
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
                key="contradicts", tone="act", where=names[reading.state],
                what=Say(f"The {place} reading does not agree with the others and the loads ({{close}} would close it).", {
                    "close": length(suspect.closing, signed=True)}),
                do=Say("Settle it, read that place again, and check the load."),
            )
        )  # fmt: skip
    return found


def _verdict(model: JobModel, main: StateView | None, tapes: tuple[TapeView, ...], findings: list[Finding]) -> Verdict:
    open_ends = [m for m in missing(model.job) if m.stage == "weigh"]
    acts = sorted((f for f in findings if f.tone == "act"), key=urgency)
    sentences = [_stance(main, tapes)]
    if main is None:
        for act in acts[:1]:
            sentences += [act.what, act.do]
        return Verdict(tone="act", sentences=tuple(sentences))
    sag = _sag(main)
    if abs(sag) <= SAG_WORTH and not acts:
        sentences.append(Say("That is within what the springs are for: nothing is needed."))
        return Verdict(tone="level", sentences=tuple(sentences))
    if acts:
        sentences += [acts[0].what, acts[0].do]
    force = _restore(main, empty_rear_load(model))
    if force and sag > SAG_WORTH:
        sentences.append(
            Say("To bring the rear all the way back takes {f} a side at the wheel.", {"f": force[0].result})
        )
    if model.job.notes:
        sentences.insert(0, Say("Cure first what was found worn or faulty (see Listen)."))
    if open_ends:
        sentences.append(Say(f"Still to find out: {open_ends[0].what}."))
    return Verdict(tone="act", sentences=tuple(sentences))


def urgency(finding: Finding) -> int:
    """Return the place of a finding among those to act on: faults found on inspection first, then as listed."""
    if finding.key.startswith("fix-"):
        return -1
    return URGENCY.index(finding.key)


def _sag(main: StateView) -> float:
    """Return the rear's sag (m): as read, else as predicted."""
    sag = mean_of(main.sag, ("RL", "RR"))
    return sag if sag is not None else float(main.report.d_r)


def _stance(main: StateView | None, tapes: tuple[TapeView, ...]) -> Say:
    """Return how the rear stands, in the state spoken of: the lowest of known load, else the lowest that the tape shows."""
    if main is not None:
        measured = mean_of(main.sag, ("RL", "RR")) is not None
        return _stands(
            main.state.name, "sits" if measured else "is predicted to sit", _sag(main), main.band if measured else 0.003
        )
    read = [t for t in tapes if t.rear_sag is not None]
    if read:
        low = max(read, key=lambda t: t.rear_sag or 0.0)
        return _stands(low.state.name, "sits", low.rear_sag or 0.0, low.band)
    return Say("Only the empty vehicle is known. Load it as it is used, weigh it and measure again.")


def _stands(name: str, how: str, sag: float, band: float) -> Say:
    if abs(sag) <= band:
        return Say(f"{name}: the rear {how} where it does empty, within {{band}}.", {"band": length(band)})
    word = "low" if sag > 0 else "high"
    return Say(f"{name}: the rear {how} {{sag}} {word}.", {"sag": length(abs(sag))})
