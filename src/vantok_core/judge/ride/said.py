"""The sentence of a piece: what the second configuration does against the first, blow by blow.

Source: method section 15. A difference inside its band is none; before the bands are worked out, one inside a usual share of it is none either.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from vantok_core.base.say import Quantity, Say, Tone, Verdict, in_turn
from vantok_core.judge.ride.figured import FIGURES, Figured
from vantok_core.judge.ride.odds import Banded
from vantok_core.judge.ride.ready import SEAT_NAME, Over
from vantok_core.judge.ride.thresholds import ALIKE, LEAST_JOLT, LEAST_MOVED, LEAST_ROLL, SURE_COUNT
from vantok_core.judge.ride.told import Driven
from vantok_core.road.course import PIECES
from vantok_core.road.figures import RideResult

TIMES = ("not at all", "once", "twice", "three times", "four times")
BY_KEY: Mapping[str, Figured] = {one.key: one for one in FIGURES}
NOTHING = Say("nothing to speak of moves at the seat or over the rear axle")


def ride_verdict(driven: Sequence[Driven], over: Over, known: Mapping[str, Banded] | None = None) -> Verdict:
    """Return the sentence of a piece; of one configuration alone, what it does.

    Arguments: known: how sure each figure is of the first two, once that is worked out.
    """
    told = [d for d in driven if d.result is not None]
    problems = tuple(
        Say("{configuration}: {problem}", {"configuration": d.configuration.words, "problem": d.problem})
        for d in driven
        if d.problem
    )
    if not told:
        return Verdict(tone="limit", sentences=problems or (Say("Nothing is driven yet."),))
    telling = _Telling(
        over=over, known=known or {}, results=tuple(d.result for d in told if d.result)[:2], named=_named(told)
    )
    kept = telling.parts or [NOTHING]
    head = Say("{piece}, {v}:", {"v": Quantity(over.speed, "speed"), "piece": PIECES[over.piece].words.capitalize()})
    said = Say("{head} {parts}.", {"head": head, "parts": in_turn(kept, "; ")})
    return Verdict(tone=telling.tone, sentences=(said, *problems))


def _named(told: Sequence[Driven]) -> str:
    return told[1].configuration.words if len(told) > 1 else ""


@dataclass(frozen=True, slots=True, kw_only=True)
class _Telling:
    """What is told of: one result, or a second against the first; what the second is called; how sure each figure is."""

    over: Over
    known: Mapping[str, Banded]
    results: tuple[RideResult, ...]
    named: str

    @property
    def parts(self) -> list[Say]:
        """What is said, a part each."""
        piece = PIECES[self.over.piece]
        felt = self._roll() if piece.leans else self._on_the_road() if piece.endless else self._blow()
        swings = None if piece.leans or piece.endless else self._swings()
        return [one for one in (*self._stops(), felt, swings) if one is not None]

    @property
    def tone(self) -> Tone:
        """Something to act on where the stops are struck, or anything surely got worse."""
        struck = any(self._values(f"{axle}_stops")[-1] for axle in ("rear", "front"))
        worse = [f.key for f in FIGURES if f.worse and f.share and f.on(PIECES[self.over.piece])]
        longer = (self._more_swings() or 0) > 0
        return "act" if struck or longer or any((self._ratio(key) or 1.0) > 1.0 for key in worse) else "level"

    def _values(self, key: str) -> tuple[float | None, ...]:
        """Return a figure of each result."""
        return tuple(BY_KEY[key].of(one) for one in self.results)

    def _ratio(self, key: str) -> float | None:
        """Return a figure's ratio where it differs; None where there is nothing to compare, or no difference to speak of."""
        values = self._values(key)
        if len(values) < 2 or values[0] is None or values[1] is None or values[0] <= 0.0:
            return None
        ratio, band = values[1] / values[0], self.known.get(key)
        if band is not None and band.low is not None and band.high is not None:
            return None if band.low <= 1.0 <= band.high else ratio
        return None if abs(ratio - 1.0) < ALIKE else ratio

    def _sure(self, key: str) -> bool:
        """Tell whether a count surely differs, as far as that is worked out."""
        band = self.known.get(key)
        return band is None or max(band.less, band.more) >= SURE_COUNT

    def _stops(self) -> list[Say]:
        """Return how often either end comes onto its stops, before and after."""
        found, does = [], "comes onto" if PIECES[self.over.piece].leans else "strikes"
        for axle, who in (("rear", "the tail"), ("front", "the nose")):
            counts = [value or 0.0 for value in self._values(f"{axle}_stops")]
            if any(counts):
                doubt = "" if counts[0] == counts[-1] or self._sure(f"{axle}_stops") else ", which is not sure"
                after = f", {self.named}, {_times(counts[1])}{doubt}" if len(counts) > 1 else ""
                found.append(
                    Say(
                        "{who} {does} its stops {times}{after}",
                        {"who": who, "does": does, "times": _times(counts[0]), "after": after},
                    )
                )
        return found

    def _blow(self) -> Say | None:
        """Return what becomes of an event's blow at the seat."""
        values = self._values("blow")
        told = [v for v in values if v is not None]
        if not told or max(told) < LEAST_JOLT:
            return None
        figures = {name: Quantity(v, "acceleration") for name, v in zip("ab", told, strict=False)}
        ratio = self._ratio("blow")
        if ratio is None:
            words = "the seat’s blow is about as before, {a}" if len(told) > 1 else "the seat’s blow is {a}"
            return Say(words, {"a": figures["a"]})
        return Say("the seat’s blow {how} from {a} to {b}", {**figures, "how": "rises" if ratio > 1.0 else "falls"})

    def _on_the_road(self) -> Say | None:
        """Return what becomes of a road without end at the seat, in the standard's words."""
        words = [one.comfort[SEAT_NAME] for one in self.results if SEAT_NAME in one.comfort]
        ratio = self._ratio("felt")
        if not words:
            return None
        if ratio is None:
            return Say(
                "at the seat {how}{word}", {"how": "about as before, " if len(words) > 1 else "", "word": words[0]}
            )
        then = f"still {words[0]}" if words[0] == words[-1] else f"{words[-1]} instead of {words[0]}"
        values = {"p": Quantity(abs(ratio - 1.0), "percent")}
        return Say(
            "{how} at the seat by {p}, {then}",
            {**values, "how": "harsher" if ratio > 1.0 else "softer", "then": then},
        )

    def _roll(self) -> Say | None:
        """Return what becomes of the body's lean."""
        told = [v for v in self._values("roll") if v is not None]
        if not told or told[0] < LEAST_ROLL:
            return None
        values = {name: Quantity(v, "angle") for name, v in zip("rs", told, strict=False)}
        if len(told) < 2:
            return Say("it leans {r} at most", values)
        if self._ratio("roll") is None:
            return Say("it leans about as before, {r} at most", {"r": values["r"]})
        return Say("it leans {r} at most, then {s}", values)

    def _more_swings(self) -> int | None:
        """Return how many more rebounds there are than before; None where that is nothing to speak of."""
        counts = [one.rebounds or 0 for one in self.results]
        moved = max(one.peak_drop_rear for one in self.results)
        if len(counts) < 2 or counts[0] == counts[1] or moved < LEAST_MOVED or not self._sure("rebounds"):
            return None
        return counts[1] - counts[0]

    def _swings(self) -> Say | None:
        """Return whether it swings on longer or less long than before."""
        more = self._more_swings()
        if more is None:
            return None
        return Say("it swings on longer afterwards" if more > 0 else "it swings on less long afterwards")


def _times(count: float) -> str:
    return TIMES[round(count)] if count < len(TIMES) else f"again and again ({count:.0f} times)"
