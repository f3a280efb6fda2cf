"""The diagnosis of a job: what each state shows, how it compares, what to do first, and the sentence it ends in."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from math import exp

from vantok_core.classes import BODIES, FREQUENCY
from vantok_core.job import Job, JobState
from vantok_core.judge.inspect import inspection_findings
from vantok_core.judge.working import Working, explain
from vantok_core.loads.limits import Margin
from vantok_core.model import JobModel, missing, unsprung_mass
from vantok_core.num import G
from vantok_core.plan import scale_loads, state_load, state_margins
from vantok_core.rates.estimate import SIGMA_LN_K
from vantok_core.rates.simple import rate_for_frequency
from vantok_core.readings.tape import NINE_IN_TEN, drop_between
from vantok_core.say import Finding, Quantity, Say, Verdict, length, mass
from vantok_core.stance.report import StateReport
from vantok_core.vehicle import AXLE_CORNERS, AXLES, CORNERS, AxleName

ROUNDING = 1e-9
SMALL = 0.010
"""A height difference that is not worth a word, m."""
LEAN_WORTH = 0.012
NEAR_STOP = 0.015
SAG_WORTH = 0.020
CONTRADICTS = 3.0
"""Standard deviations from which a reading is said to contradict the others."""
URGENCY = (
    "contradicts", "stop-rear", "stop-front", "nose-up", "front-light", "soft-springs", "lean", "pitching", "front-contradicts", "lamps",
)  # fmt: skip
"""Findings to act on, the most urgent first: the verdict speaks of the first one there is."""
LAMP_WORTH = 0.05
GRIP_WORTH = 0.10
LAMP_DISTANCE = 10.0


@dataclass(frozen=True, slots=True, kw_only=True)
class RateBand:
    """An axle's spring rate per wheel with its 90 % band (N/m), the class's usual rate, whether a reading taught it."""

    axle: AxleName
    rate: float
    low: float
    high: float
    usual: float
    learned: bool

    def frequency_band(self, frequency: float) -> tuple[float, float]:
        """Return the 90 % band (Hz) of a ride frequency at this rate: it goes with the root of the rate."""
        return frequency * (self.low / self.rate) ** 0.5, frequency * (self.high / self.rate) ** 0.5

    @property
    def percent(self) -> float:
        """Half width of the band as a share of the rate."""
        return (self.high - self.low) / (2.0 * self.rate)


@dataclass(frozen=True, slots=True, kw_only=True)
class StateView:
    """What one state shows.

    read: heights read by corner (m) on the job's main datum; sag: read sag by corner; predicted sag comes from `report`;
    rake, rake_change, front_rise: m; lean: m of left-right difference; stop_gap: least gap left (m) by axle.
    """

    state: JobState
    report: StateReport
    read: Mapping[str, float]
    sag: Mapping[str, float]
    rake: float | None
    rake_change: float | None
    front_rise: float | None
    lean: float | None
    stop_gap: Mapping[str, float]
    margins: tuple[Margin, ...]
    frequency: Mapping[str, float]
    beam: float
    front_lost: float | None
    workings: tuple[Working, ...]


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


def main_datum(job: Job) -> str:
    """Return the arch datum with most readings (ground to arch when there are none)."""
    counts = {d: sum(r.datum == d for r in job.readings) for d in ("ground_arch", "hub_arch")}
    return "hub_arch" if counts["hub_arch"] > counts["ground_arch"] else "ground_arch"


def diagnose(model: JobModel) -> Diagnosis:
    """Return the diagnosis of a calibrated job."""
    datum = main_datum(model.job)
    reports = model.solve()
    views = tuple(_view(model, state, reports[state.key], datum) for state in model.job.states if state.key in reports)
    rates = tuple(_rate(model, axle) for axle in AXLES)
    main = max((v for v in views if not v.state.empty), key=lambda v: float(v.report.d_r), default=None)
    findings = _findings(model, views, main)
    restore = _restore(main, empty_rear_load(model)) if main else ()
    restore += tuple(_class_rate(model, axle) for axle in AXLES)
    return Diagnosis(
        datum=datum, views=views, rates=rates, findings=tuple(findings), verdict=_verdict(model, main, findings),
        restore=restore, assumed=model.assumed,
    )  # fmt: skip


def _rate(model: JobModel, axle: AxleName) -> RateBand:
    found = model.estimate
    spread = exp(NINE_IN_TEN * found.sigma_ln[axle])
    rate = found.k[axle] + float(model.vehicle.axle(axle).spring.k2)
    usual = float(model.prior.axle(axle).spring.k + model.prior.axle(axle).spring.k2)
    return RateBand(
        axle=axle, rate=rate, low=rate / spread, high=rate * spread, usual=usual,
        learned=found.sigma_ln[axle] < 0.9 * model.estimate.problem.sigma_ln[axle],
    )  # fmt: skip


def _view(model: JobModel, state: JobState, report: StateReport, datum: str) -> StateView:
    job = model.job
    assert job.empty is not None
    read_at = {c: r for c in CORNERS if (r := job.read(state.key, c, datum))}
    empty_at = {c: r for c in CORNERS if (r := job.read(job.empty.key, c, datum))}
    read = {c: r.value_m for c, r in read_at.items()}
    empty = {c: r.value_m for c, r in empty_at.items()}
    sag = {
        c: drop_between(empty_at[c].value_m, r.value_m, empty_at[c].datum, r.datum)
        for c, r in read_at.items()
        if c in empty_at
    }
    means = {axle: _mean(read, AXLE_CORNERS[axle]) for axle in AXLES}
    before = {axle: _mean(empty, AXLE_CORNERS[axle]) for axle in AXLES}
    rake = _minus(means["rear"], means["front"])
    gaps: dict[str, float] = {
        axle: min(float(side.gap_left) for side in sides.values() if side.gap_left is not None)
        for axle in AXLES
        if (sides := report.elements.get(f"{axle} bump stops"))
    }
    lamp = BODIES[job.vehicle.body].lamp
    pair = [read.get(c) for c in ("RL", "RR")]
    return StateView(
        state=state, report=report, read=read, sag=sag, rake=rake, rake_change=_minus(rake, _minus(before["rear"], before["front"])),
        front_rise=_minus(means["front"], before["front"]), lean=_minus(pair[0], pair[1]), stop_gap=gaps,
        margins=tuple(state_margins(job, state)),
        frequency={axle: _axle_frequency(report, axle) for axle in AXLES},
        beam=float(_beam(report, model.vehicle.wheelbase, lamp)), front_lost=_front_lost(job, state, report),
        workings=tuple(_workings(model, state, report, read, empty, means)),
    )  # fmt: skip


def _mean(values: Mapping[str, float], corners: tuple[str, str]) -> float | None:
    both = [values[c] for c in corners if c in values]
    return sum(both) / 2 if len(both) == 2 else None


def _minus(a: float | None, b: float | None) -> float | None:
    return None if a is None or b is None else a - b


def _axle_frequency(report: StateReport, axle: AxleName) -> float:
    left, right = AXLE_CORNERS[axle]
    return 0.5 * float(report.ride_frequency[left] + report.ride_frequency[right])


def _beam(report: StateReport, wheelbase: float, lamp: float) -> float:
    return float(LAMP_DISTANCE * report.theta - report.drop_at(wheelbase, lamp))


def _front_lost(job: Job, state: JobState, report: StateReport) -> float | None:
    known = job.empty is not None and scale_loads(job.empty) is not None
    return float(report.front_share_lost) if known and not state.empty else None


def _workings(
    model: JobModel, state: JobState, report: StateReport, read: Mapping[str, float], empty: Mapping[str, float],
    means: Mapping[AxleName, float | None],
) -> list[Working]:  # fmt: skip
    job, found = model.job, []
    length_m = model.vehicle.wheelbase
    if means["front"] is not None and means["rear"] is not None:
        found.append(explain("rake", front_height=means["front"], rear_height=means["rear"]))
    if "RL" in read and "RR" in read:
        width = model.vehicle.rear.track
        found.append(explain("lean", left_height=read["RL"], right_height=read["RR"], width=width))
    if state.empty:
        return found
    for axle in AXLES:
        before, now = _mean(empty, AXLE_CORNERS[axle]), means[axle]
        if before is not None and now is not None:
            found.append(explain("sag", before=before, now=now))
    if state.tongue and job.vehicle.hitch_overhang_m is not None:
        lever = {"tongue_mass": state.tongue, "overhang": job.vehicle.hitch_overhang_m, "wheelbase": length_m}
        found += [explain("tongue_rear", **lever), explain("tongue_front", **lever)]
    d_f, d_r = float(report.d_f), float(report.d_r)
    found.append(explain("pitch", d_f=d_f, d_r=d_r, wheelbase=length_m))
    lamp = BODIES[job.vehicle.body].lamp
    found.append(explain("headlamp", d_f=d_f, d_r=d_r, wheelbase=length_m, lamp_station=lamp, distance=LAMP_DISTANCE))
    for axle in AXLES:
        corner = AXLE_CORNERS[axle][0]
        sprung = float(report.load[corner]) / G - unsprung_mass(job, axle)
        found.append(explain("frequency", rate=float(report.tangent_rate[corner]), sprung_mass=max(sprung, 1.0)))
    found.append(explain("caster", theta=(d_r - d_f) / length_m))
    if _front_lost(job, state, report) is not None:
        left, right = model.vehicle.front.ref_load
        found.append(
            explain("front_lost", front_now=float(report.axle_load("front")) / G, front_empty=float(left + right) / G)
        )
    gained = 0.5 * (float(report.axle_load("rear")) - empty_rear_load(model))
    hub = 0.5 * float(report.hub_drop["RL"] + report.hub_drop["RR"])
    if gained > 0.0 and hub > 0.0:
        found.append(explain("wheel_rate", force_side=gained, sag=hub))
        rate = gained / hub
        found.append(explain("series_rate", k_w=rate, k_t=float(model.vehicle.rear.tyre_rate)))
    total = sum(float(report.load[c]) for c in CORNERS) / G
    height = BODIES[job.vehicle.body].centre_height
    pitch = (d_r - d_f) / length_m
    found.append(explain("levelling", mass=total, centre_height=height, pitch=pitch, wheelbase=length_m))
    return found


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


def empty_rear_load(model: JobModel) -> float:
    """Return the rear axle's load in the reference state (N)."""
    left, right = model.vehicle.rear.ref_load
    return float(left + right)


def _findings(model: JobModel, views: tuple[StateView, ...], main: StateView | None) -> list[Finding]:
    """Return all findings: limits first, the worst of them first, then what is to be done, then the rest."""
    found = [finding for _, finding in sorted((pair for v in views for pair in _limit_findings(v)), key=lambda p: p[0])]
    if main is not None:
        others = _stance_findings(main) + _grip_findings(model, main) + _spring_findings(model, main)
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
                what=Say("The nose points up, rake {{rake}}.", {"rake": length(view.rake, signed=True)}),
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


def _spring_findings(model: JobModel, view: StateView) -> list[Finding]:
    found = []
    front, rear = view.frequency["front"], view.frequency["rear"]
    if front > 0.0 and rear / front < 1.0:
        found.append(
            Finding(
                key="pitching", tone="act", topic="frequency",
                what=Say("Rear rides slower than the front ({r} against {f}): it will pitch and porpoise.", {
                    "r": Quantity(rear, "frequency"), "f": Quantity(front, "frequency")}),
                do=Say("More rear rate with damping to match, or less load behind the axle."),
            )
        )  # fmt: skip
    rate = _rate(model, "rear")
    if rate.learned and rate.high < rate.usual * exp(-NINE_IN_TEN * SIGMA_LN_K):
        found.append(
            Finding(
                key="soft-springs", tone="act", topic="rates",
                what=Say("The rear springs are softer than the class: {k} a side against {u} usual.", {
                    "k": Quantity(rate.rate, "rate"), "u": Quantity(rate.usual, "rate")}),
                do=Say("Look for cracked or tired leaves before adding a helper."),
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
    sag = _mean(main.sag, ("RL", "RR"))
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
