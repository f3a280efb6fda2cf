"""What a vehicle's visits say: where its heights are going, how far a kit has settled against what was expected; told only where the band allows.

Source: method section 17.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from math import hypot

from vantok_core.base.say import Quantity, Say, Verdict, Worded, length
from vantok_core.facts.proving import LeakTest
from vantok_core.judge.grounds.leaking import figures_of
from vantok_core.judge.visits.thresholds import VISIT_SIGMA
from vantok_core.upkeep.care import YEAR
from vantok_core.upkeep.settling import Trend, Visit, settled, trend


@dataclass(frozen=True, slots=True, kw_only=True)
class Line:
    """A height over the visits: its name, and each visit's day and height (m); gap: the stop gap read at the last one (m, None: nobody read it)."""

    name: str
    visits: tuple[tuple[date, float], ...]
    gap: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Going:
    """Where a height is going: its line, the trend (None: fewer than two days), and the sentence."""

    line: Line
    trend: Trend | None
    said: Verdict


def going(line: Line) -> Going:
    """Return where a height is going. A stop gap of nought is the floor, where the gap was read at the last visit. Source: method section 17."""
    days = [day.toordinal() for day, _ in line.visits]
    if len(set(days)) < 2:
        return Going(line=line, trend=None, said=_plain("One visit alone shows no trend."))
    last = max(line.visits)[1]
    floor = last - line.gap if line.gap is not None else None
    found = trend(
        [Visit(day=float(day), value=h) for day, (_, h) in zip(days, line.visits, strict=True)],
        sigma=VISIT_SIGMA,
        limit=floor,
    )
    return Going(line=line, trend=found, said=_said(found, max(days), floor))


def _said(found: Trend, last: int, floor: float | None) -> Verdict:
    a_year, band = Quantity(abs(found.slope) * YEAR, "length"), Quantity(found.band * YEAR, "length")
    if not found.told:
        return _plain("It goes neither up nor down beyond what reading explains (± {band} a year).", band=band)
    way = "down" if found.slope < 0.0 else "up"
    gap = Say("")
    if found.day_reached == "passed" or (isinstance(found.day_reached, float) and round(found.day_reached) <= last):
        gap = Say(" Its stop gap is gone already.")
    elif isinstance(found.day_reached, float) and floor is not None:
        soonest = last + (found.value_last - floor) / (abs(found.slope) + found.band)
        days = {"month": found.day_reached, "soonest": soonest}
        gap = Say(
            " At that pace its stop gap is gone about {month}, {soonest} at the soonest.",
            {name: date.fromordinal(round(day)).strftime("%B %Y") for name, day in days.items()},
        )
    values: dict[str, Worded] = {"way": way, "a_year": a_year, "band": band, "gap": gap}
    return Verdict(tone="act", sentences=(Say("It goes {way} by {a_year} a year (± {band}).{gap}", values),))


def _plain(text: str, **values: Worded) -> Verdict:
    return Verdict(tone="level", sentences=(Say(text, values),))


def since_fitting(name: str, fitted: float, now: float, expected: float) -> Verdict:
    """Return how far a kit has let the vehicle down since it was fitted, against what it was expected to.

    Arguments: name: of the height; fitted, now, expected: m. Source: method section 17.
    """
    found = settled(fitted=fitted, now=now, expected=expected, sigma_fitted=VISIT_SIGMA, sigma_now=VISIT_SIGMA)
    values: dict[str, Worded] = {
        "further": length(abs(found.further)),
        "way": "up" if found.further < 0.0 else "down",
        "expected": length(expected),
        "band": length(found.band),
    }
    if found.word == "as expected":
        text = "{name}: {further} {way} since it was fitted, as expected ({expected}, ± {band})."
        return _plain(text, **values, name=name)
    cure = (
        "Look at its bolts, pressures and springs." if found.word == "more than expected" else "Read it again, settled."
    )
    return Verdict(
        tone="act",
        sentences=(
            Say(
                "{name}: {further} {way} since it was fitted, {word} ({expected}, ± {band}). {cure}",
                {**values, "name": name, "word": found.word, "cure": cure},
            ),
        ),
    )


def losing(tests: Sequence[LeakTest]) -> list[Verdict]:
    """Return, side by side of the vehicle, whether its bag loses more a day than it did at its first test that ended; nothing of one tested once.

    A difference within what both tests could tell is none. Source: method sections 11 and 17.
    """
    found = []
    for side in ("left", "right", "both"):
        known = [f for test in tests if test.side == side and (f := figures_of(test)) is not None]
        if len(known) < 2:
            continue
        first, last = known[0], known[-1]
        band = hypot(*((one.band[1] - one.band[0]) / 2.0 for one in (first, last)))
        more = last.loss_per_day - first.loss_per_day
        values = {
            "now": Quantity(last.loss_per_day, "pressure"),
            "then": Quantity(first.loss_per_day, "pressure"),
            "band": Quantity(band, "pressure"),
        }
        words = "Both bags together" if side == "both" else f"The {side} bag"
        if abs(more) <= band:
            found.append(
                _plain(
                    "{words}: loses as it did at its first test, as far as both can tell (± {band} a day).",
                    words=words,
                    band=values["band"],
                )
            )
        elif more > 0.0:
            found.append(
                Verdict(
                    tone="act",
                    sentences=(
                        Say(
                            "{words}: loses {now} a day, {then} at its first test (± {band}): soap it whole, fittings and line too.",
                            {**values, "words": words},
                        ),
                    ),
                )
            )
        else:
            found.append(
                _plain(
                    "{words}: loses {now} a day, less than the {then} of its first test (± {band}).",
                    **values,
                    words=words,
                )
            )
    return found
