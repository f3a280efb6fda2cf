"""The diagnosis of a job: what each state shows, how it compares, what to do first, and the sentence it ends in."""

from __future__ import annotations

from dataclasses import dataclass, replace

from vantok_core.classes import FREQUENCY
from vantok_core.judge.inspect import inspection_findings
from vantok_core.judge.springs import RateBand, rate_of, spring_findings
from vantok_core.judge.views import LAMP_DISTANCE, StateView, empty_rear_load, main_datum, mean_of, view_of
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
    "contradicts", "stop-rear", "stop-front", "nose-up", "front-light", "soft-springs", "tired-rear", "tired-front", "lean", "pitching",
    "front-contradicts", "rear-camber", "front-camber", "rear-toe", "front-toe", "lamps",
)  # fmt: skip
"""Findings to act on, the most urgent first: the verdict speaks of the first one there is."""
LAMP_WORTH = 0.05
GRIP_WORTH = 0.10


@dataclass(frozen=True, slots=True, kw_only=True)
class Diagnosis:
    """The whole diagnosis: views by state in order, rates, findings ranked, the verdict, the datum it is read on."""

    datum: str
    views: tuple[StateView, ...]
    rates: tuple[RateBand, ...]
    findings: tuple[Finding, ...]
    verdict: Verdict
    restore: tuple[Working, ...]
    assumed: tuple[str, ...]

    def view(self, key: str) -> StateView | None:
        """Return a state's view."""
        return next((v for v in self.views if v.state.key == key), None)

    @property
    def main(self) -> StateView | None:
        """The state the diagnosis speaks of: the one with the lowest rear."""
        loaded = [v for v in self.views if not v.state.empty]
        return max(loaded, key=lambda v: float(v.report.d_r)) if loaded else None


def diagnose(model: JobModel) -> Diagnosis:
    """Return the diagnosis of a calibrated job."""
    datum = main_datum(model.job)
    reports = model.solve()
    views = tuple(
        view_of(model, state, reports[state.key], datum) for state in model.job.states if state.key in reports
    )
    rates = tuple(rate_of(model, axle) for axle in AXLES)
    main = max((v for v in views if not v.state.empty), key=lambda v: float(v.report.d_r), default=None)
    findings = _findings(model, views, main)
    restore = _restore(main, empty_rear_load(model)) if main else ()
    restore += tuple(_class_rate(model, axle) for axle in AXLES)
    return Diagnosis(
        datum=datum, views=views, rates=rates, findings=tuple(findings), verdict=_verdict(model, main, findings),
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


def _findings(model: JobModel, views: tuple[StateView, ...], main: StateView | None) -> list[Finding]:
    """Return all findings: limits first, the worst of them first, then what is to be done, then the rest."""
    found = [finding for _, finding in sorted((pair for v in views for pair in _limit_findings(v)), key=lambda p: p[0])]
    if main is not None:
        others = _stance_findings(main) + _grip_findings(model, main) + spring_findings(model, main)
        found += [replace(f, where=main.state.name) for f in others]
    found += contradictions(model) + inspection_findings(model.job)
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


def _stance_findings(view: StateView) -> list[Finding]:
    found = []
    for axle, gap in view.stop_gap.items():
        if gap < NEAR_STOP:
            touching = gap <= 0.0
            what = (
                Say(f"The {axle} bump stop is touching.")
                if touching
                else Say(f"The {axle} bump stop is {{gap}} from touching.", {"gap": length(gap)})
            )
            found.append(Finding(key=f"stop-{axle}", tone="act", what=what,
                                 do=Say("It will strike over bumps; height or load has to change.")))  # fmt: skip
    if view.rake is not None and view.rake < -0.005:
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
    if abs(view.beam) > LAMP_WORTH:
        way = "up" if view.beam > 0 else "down"
        found.append(
            Finding(
                key="lamps", tone="act", topic="headlamp",
                what=Say(
                    f"The headlamp beam moves {way} by {{beam}} at {{distance}}.",
                    {"beam": length(abs(view.beam)), "distance": Quantity(LAMP_DISTANCE, "distance")},
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
    found = []
    for suspect in model.estimate.suspects():
        if abs(suspect.standardised) < CONTRADICTS:
            break
        reading = suspect.reading
        place = "hitch" if reading.place.at == "point" else f"{reading.place.at} axle"
        found.append(
            Finding(
                key="contradicts", tone="act", where=names[reading.state],
                what=Say(f"The {place} reading does not agree with the others and the loads ({{close}} would close it).", {
                    "close": length(suspect.closing, signed=True)}),
                do=Say("Settle it, read that place again, and check the load."),
            )
        )  # fmt: skip
    return found


def _verdict(model: JobModel, main: StateView | None, findings: list[Finding]) -> Verdict:
    limits = [f for f in findings if f.tone == "limit"]
    open_ends = [m for m in missing(model.job) if m.stage == "weigh"]
    if main is None:
        return Verdict(
            tone="act",
            sentences=(Say("Only the empty vehicle is known. Load it as it is used, weigh it and measure again."),),
        )
    sag = mean_of(main.sag, ("RL", "RR"))
    measured = sag is not None
    sag = sag if sag is not None else float(main.report.d_r)
    sentences = [_stance_sentence(main, sag, measured)]
    if limits:
        sentences.append(limits[0].what)
        sentences.append(Say("Move or remove load before buying springs: no helper raises a rating."))
        return Verdict(tone="limit", sentences=tuple(sentences))
    acts = sorted((f for f in findings if f.tone == "act"), key=urgency)
    if abs(sag) <= SAG_WORTH and not acts:
        sentences.append(Say("That is within what the springs are for: nothing is needed."))
        return Verdict(tone="level", sentences=tuple(sentences))
    if acts:
        sentences += [acts[0].what, acts[0].do]
    force = _restore(main, empty_rear_load(model))
    if force and sag > SAG_WORTH:
        sentences.append(Say("Bringing the rear right back takes {f} a side at the wheel.", {"f": force[0].result}))
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


def _stance_sentence(main: StateView, sag: float, measured: bool) -> Say:
    name = main.state.name
    how = "sits" if measured else "is predicted to sit"
    if abs(sag) < 0.003:
        return Say(f"{name}: the rear {how} where it does empty.")
    word = "low" if sag > 0 else "high"
    return Say(f"{name}: the rear {how} {{sag}} {word}.", {"sag": length(abs(sag))})
