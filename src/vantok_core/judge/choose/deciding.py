"""Whether anything that could be measured now would still change the choice, and if so the one measurement that would (method section 18)."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt

from vantok_core.base.errors import VantokError
from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.say import Quantity, Say, Worded, length
from vantok_core.judge.choose.thresholds import RIVAL, SURE
from vantok_core.judge.grounds.next_step import candidates, covariance_of, with_reference
from vantok_core.kits.chances import Chances
from vantok_core.kits.choice import Choice, Shortlist
from vantok_core.kits.odds import TOLERANCE, odds_in_words
from vantok_core.model import JobModel
from vantok_core.rates.next_measurement import LEAST_SHARE, next_measurement
from vantok_core.rates.places import Place


@dataclass(frozen=True, slots=True, kw_only=True)
class Deciding:
    """Whether enough has been measured for the choice, said with its reason; key and state of the measurement that would decide it (empty: none)."""

    enough: bool
    say: Say
    key: str = ""
    state: str = ""


def deciding(model: JobModel, found: Shortlist, known: Chances) -> Deciding | None:
    """Return whether enough has been measured for the choice; None where no option is recommended whose height rests on readings."""
    best = found.choice(found.recommended)
    if best is None or best.vehicle is None or best.drop is None or best.key not in known.by or found.over:
        return None
    unsure = _unsure(found, known, best)
    if unsure is None:
        return Deciding(enough=True, say=_sure(found, known, best))
    return _worth_measuring(model, found, best, unsure)


def _unsure(found: Shortlist, known: Chances, best: Choice) -> Choice | None:
    """Return the option that it is least sure of whether it gets there, among the best one and those that may be the right one."""
    asked = [key for key, one in known.by.items() if key == best.key or one.right >= RIVAL]
    open_ = [
        key
        for key in asked
        if RIVAL <= known.by[key].within < SURE or (key == best.key and known.by[key].within < SURE)
    ]
    options = [
        c for key in open_ if (c := found.choice(key)) is not None and c.vehicle is not None and c.drop is not None
    ]
    return min(options, key=lambda c: abs(known.by[c.key].within - 0.5)) if options else None


def _sure(found: Shortlist, known: Chances, best: Choice) -> Say:
    """Return that enough has been measured, since nothing is left open."""
    told = odds_in_words(known.by[best.key].within)
    asked = [check.words for check in best.checks if check.open]
    begins = Say("Enough has been measured for this choice: ")
    if asked:
        begins = Say(
            "The heights are known well enough; before ordering, measure {asked}. ",
            {"asked": asked[0]},
        )
    cheaper = next((found.choice(key) for key, one in known.by.items() if key != best.key and one.right >= SURE), None)
    end = Say(".")
    if cheaper is not None:
        end = Say(", and so does {cheaper}, for less: what counts decides between them.", {"cheaper": cheaper.name})
    return Say(
        "{begins}{best} comes within {t}, {told} by draws of all that is not known{end}",
        {"begins": begins, "best": best.name, "t": length(TOLERANCE), "told": told, "end": end},
    )


def _worth_measuring(model: JobModel, found: Shortlist, best: Choice, unsure: Choice) -> Deciding | None:
    """Return the measurement that narrows an option's height most a minute, or that none does."""
    assert unsure.drop is not None
    try:
        question = with_reference(model.estimate.drop_slope(found.state.key, Place("rear", "ground"), unsure.vehicle))
    except VantokError:
        return None  # the option's own line says why it cannot be solved
    able = list(candidates(model, found.state.key))
    told = next_measurement(covariance_of(model), question, [one for _, one, _ in able])
    now = unsure.drop.sigma
    # What the kit itself may be stronger or weaker by is in the band, and no measurement before it is on takes it away.
    left = [sqrt(max(now**2 - told.sigma**2 + w.sigma_left**2, 0.0)) for w in told.worths]
    band: dict[str, Worded] = {"b": length(NINE_IN_TEN * now), "unsure": unsure.name}
    if not left or now - min(left) < LEAST_SHARE * now:
        after = " What remains is how strong the kit itself is: set it, and read." if unsure.kits else ""
        text = "Enough has been measured for this choice: nothing that could be read now narrows how {unsure} comes out, ± {b}, by a twentieth.{after}"
        return Deciding(enough=True, say=Say(text, {**band, "after": after}))
    at = max(range(len(able)), key=lambda n: (now - left[n]) / able[n][1].minutes)
    key, one, state = able[at]
    between = "between {best} and {unsure}" if unsure is not best else "whether {best} gets there"
    text = "Would decide {between}: {read} (about {minutes} min). How {unsure} comes out is told within ± {b} now; that would take {p} off it."
    values = {
        **band,
        "between": Say(between, {"best": best.name, "unsure": unsure.name}),
        "read": f"{one.name[0].lower()}{one.name[1:]}",
        "minutes": round(one.minutes),
        "p": Quantity(1.0 - left[at] / now, "percent"),
    }
    return Deciding(
        enough=False,
        say=Say(text, values),
        key=key,
        state=state.key if state else "",
    )
