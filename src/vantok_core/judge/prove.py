"""After fitting: predicted against read, corner by corner, what explains a miss, and the next setting (method section 5)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from math import hypot

from vantok_core.errors import VantokError
from vantok_core.job import Fitting, Job
from vantok_core.judge.views import main_datum
from vantok_core.kits.choose import GAUGE_STEP
from vantok_core.kits.fit import KIT_ELEMENT, spacer_stack, unspaced_gap, with_kit
from vantok_core.kits.target import target_drop, target_state
from vantok_core.model import JobModel, build_model, reading_own_sigma
from vantok_core.rates.estimate import Prediction
from vantok_core.readings.tape import NINE_IN_TEN
from vantok_core.say import Quantity, Say, Verdict, length
from vantok_core.setting import set_gaps, set_pressures
from vantok_core.vehicle import CORNERS, Vehicle

KIT_SIGMA = 0.05
"""Sigma of a kit's force about its published data (share); a pair off the shelf."""
CAUSES = (
    "the reading: read it again",
    "not settled: roll it, bounce it, read again",
    "the load changed between prediction and reading",
    "a leak: check the pressure, soap the whole bag",
    "the setting is not what was entered",
    "the kit's data: ask the maker",
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Compared:
    """One corner: empty, before and after height (m), predicted height with sigma, miss and the joint band (m)."""

    corner: str
    empty: float | None
    before: float | None
    predicted: Prediction
    read: float | None
    band: float

    @property
    def miss(self) -> float | None:
        """Read less predicted, m."""
        return None if self.read is None else self.read - self.predicted.value

    @property
    def inside(self) -> bool | None:
        """Whether the reading lies in the joint 90 % band."""
        return None if self.miss is None else abs(self.miss) <= self.band


@dataclass(frozen=True, slots=True, kw_only=True)
class NextSetting:
    """A changed setting from the refitted model: pressures (Pa) or spacers (m), and the mean rear height change (m)."""

    pressure: tuple[float, float] | None
    spacers: tuple[tuple[float, ...], tuple[float, ...]] | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Proof:
    """The proof of a job by state: comparisons, whether all read ones are inside, causes, the next setting, verdict."""

    rows: Mapping[str, tuple[Compared, ...]]
    inside: bool | None
    next: NextSetting | None
    causes: tuple[str, ...]
    verdict: Verdict


def fitted_vehicle(model: JobModel, fitting: Fitting, vehicle: Vehicle | None = None) -> Vehicle:
    """Return the vehicle with the job's kit at its entered setting."""
    state = fitting.state if fitting.state in model.states else target_state(model)
    return with_kit(
        model.job, vehicle or model.vehicle, fitting.kit, pressure=fitting.pressure_pa, gap=fitting.gap_m, state=state
    )


def prove(model: JobModel) -> Proof | None:
    """Return predicted against read for every state read after fitting; None without a kit chosen."""
    job = model.job
    if job.fitting is None:
        return None
    vehicle = fitted_vehicle(model, job.fitting)
    datum = main_datum(job)
    softer = _kit_scaled(model, vehicle)
    rows: dict[str, tuple[Compared, ...]] = {}
    for key in model.states:
        predicted, other = model.heights(key, datum, vehicle), model.heights(key, datum, softer)
        rows[key] = tuple(_compared(job, key, datum, c, predicted[c], other[c]) for c in CORNERS if c in predicted)
    judged = [row.inside for found in rows.values() for row in found if row.inside is not None]
    inside = all(judged) if judged else None
    following = _next_setting(model, job.fitting) if inside is False else None
    return Proof(
        rows=rows, inside=inside, next=following, causes=CAUSES if inside is False else (),
        verdict=_verdict(job, model, rows, inside, following),
    )  # fmt: skip


def _compared(job: Job, key: str, datum: str, corner: str, predicted: Prediction, other: Prediction) -> Compared:
    after, before = job.read(key, corner, datum, "after"), job.read(key, corner, datum)
    empty = job.read(job.empty.key, corner, datum) if job.empty else None
    sigma = hypot(predicted.sigma, predicted.value - other.value)

    own = reading_own_sigma(job, after) if after else 0.003
    return Compared(
        corner=corner, empty=empty.value_m if empty else None, before=before.value_m if before else None,
        predicted=Prediction(value=predicted.value, sigma=sigma), read=after.value_m if after else None,
        band=NINE_IN_TEN * hypot(sigma, own),
    )  # fmt: skip


def _kit_scaled(model: JobModel, vehicle: Vehicle) -> Vehicle:
    """Return the vehicle with the kit a sigma weaker: what its data's spread does to the heights."""
    fitting = model.job.fitting
    assert fitting is not None
    weaker = 1.0 - KIT_SIGMA
    kit = fitting.kit
    loads = tuple(tuple(f * weaker for f in row) for row in kit.loads_n)
    points = tuple((c, f * weaker) for c, f in kit.points)
    return fitted_vehicle(
        model, fitting.model_copy(update={"kit": kit.model_copy(update={"loads_n": loads, "points": points})})
    )


def _next_setting(model: JobModel, fitting: Fitting) -> NextSetting | None:
    """Return the setting that meets the target on the model refitted with the readings taken with the kit."""
    key = target_state(model)
    try:
        refitted = build_model(model.job, fitted_vehicle(model, fitting, model.prior))
        drop = target_drop(refitted, refitted.solve()[key]).drop + _offset(refitted, fitting, key)
        states = list(refitted.states.values())
        start = fitted_vehicle(refitted, fitting)
        if fitting.kit.family == "air_spring":
            found = set_pressures(
                start, states, element=KIT_ELEMENT, state=key, target=(drop, drop), gauge_step=GAUGE_STEP
            )
            low, high = fitting.kit.p_min_pa or 0.0, fitting.kit.p_max_pa or 1e6
            left, right = (min(max(p, low), high) for p in found.rounded)
            return NextSetting(pressure=(left, right), spacers=None)
        gaps = set_gaps(start, states, element=KIT_ELEMENT, state=key, target=(drop, drop)).exact
        bare = unspaced_gap(model.job, fitting.kit)
        held = [min(max(g, fitting.kit.gap_min_m), fitting.kit.gap_max_m) for g in gaps]
        stacks = [spacer_stack(fitting.kit, max(b - g, 0.0)) for b, g in zip(bare, held, strict=True)]
        return NextSetting(pressure=None, spacers=(stacks[0], stacks[1]))
    except VantokError:
        return None  # no setting of this kit gets there; the verdict then names the causes alone


def _offset(refitted: JobModel, fitting: Fitting, key: str) -> float:
    """Return what the refitted model still misses of the mean rear height (m, positive: it stands higher than modelled)."""
    datum = main_datum(refitted.job)
    predicted = refitted.heights(key, datum, fitted_vehicle(refitted, fitting))
    misses = [
        r.value_m - predicted[c].value
        for c in ("RL", "RR")
        if c in predicted and (r := refitted.job.read(key, c, datum, "after"))
    ]
    return sum(misses) / len(misses) if misses else 0.0


def _verdict(
    job: Job,
    model: JobModel,
    rows: Mapping[str, tuple[Compared, ...]],
    inside: bool | None,
    following: NextSetting | None,
) -> Verdict:
    unread = [s.name for s in job.states if s.key in rows and not any(r.read is not None for r in rows[s.key])]
    if inside is None:
        return Verdict(
            tone="act",
            sentences=(
                Say("Nothing has been read since the kit was fitted. Settle it and walk round again, empty as well."),
            ),
        )
    worst = max(
        (row for found in rows.values() for row in found if row.miss is not None), key=lambda r: abs(r.miss or 0.0)
    )
    values = {"miss": length(abs(worst.miss or 0.0)), "band": length(worst.band)}
    if inside:
        sentences = [Say("Every height lies within what was predicted (largest miss {miss}, band ± {band}).", values)]
        if unread:
            sentences.append(Say(f"Still to read with the kit on: {', '.join(unread)}."))
            return Verdict(tone="act", sentences=tuple(sentences))
        sentences.append(Say("Done: label it, give the care dates, and hand over."))
        return Verdict(tone="level", sentences=tuple(sentences))
    side = "high" if (worst.miss or 0.0) > 0 else "low"
    sentences = [Say(f"{_corner(worst.corner)} stands {{miss}} {side} against the prediction (band ± {{band}}).", values),
                 Say("First read it again, settled, with the same load.")]  # fmt: skip
    if following is not None and following.pressure is not None:
        left, right = following.pressure
        sentences.append(
            Say(
                "If it stays, set {l} left and {r} right.",
                {"l": Quantity(left, "pressure"), "r": Quantity(right, "pressure")},
            )
        )
    elif following is not None and following.spacers is not None:
        left, right = (sum(s) for s in following.spacers)
        sentences.append(
            Say("If it stays, fit {l} of spacer left and {r} right.", {"l": length(left), "r": length(right)})
        )
    return Verdict(tone="act", sentences=tuple(sentences))


def _corner(corner: str) -> str:
    return {"FL": "Front left", "FR": "Front right", "RL": "Rear left", "RR": "Rear right"}[corner]
