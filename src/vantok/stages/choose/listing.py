"""The choices of a job as they are listed: on one height ruler, as cards, and those that are out."""

from __future__ import annotations

from collections import Counter
from typing import Any

from django.utils.functional import SimpleLazyObject

from vantok.desk.load import Desk
from vantok.drawing.ratio import ends_of, ratio_svg
from vantok.drawing.ruler import Marks, head_svg, row_svg, scale_of
from vantok_core.aims.aim import Aim
from vantok_core.aims.of_job import job_aims, needs_heights
from vantok_core.base.figure import Figure
from vantok_core.base.say import Quantity, length
from vantok_core.base.units import System
from vantok_core.facts import Kit
from vantok_core.judge.aimed import apart_said, stops_choice
from vantok_core.judge.choose.answered import answered_said, setting_told
from vantok_core.judge.choose.by_aims import Scored, ruled_by, ruled_roll, rulers, scored
from vantok_core.judge.listen.inspect import standing_faults
from vantok_core.judge.measure.checks import baseline_missing
from vantok_core.kits.chances import Chance, Chances
from vantok_core.kits.choice import WEIGHT_WORDS, Choice, Shortlist
from vantok_core.kits.family import Setting
from vantok_core.kits.fit import fit_checks
from vantok_core.kits.odds import odds_in_words
from vantok_core.kits.ranking import by_weights
from vantok_core.kits.registry import family_of
from vantok_core.kits.schools import debates_of
from vantok_core.rates.places import Place


def listed(desk: Desk, weights: dict[str, float], units: System, by: str = "") -> dict[str, Any]:
    """Return the choices by these weights: those that lift, as cards; those that fit and lift nothing; those that are out.

    The odds stand with them once they were worked out; till then the page asks for them when it stands. by: the aim whose ruler is shown, the height's
    unless it is one of the job's.
    """
    odds = "chances" in desk.__dict__
    usual, chosen = desk.shortlist, desk.job.fitting.kit.code if desk.job.fitting else ""
    answered = _answered(desk, units)
    if usual is None:
        return {"shortlist": None, "wanted_gain": None, "kept_weights": "", **answered}
    found = by_weights(usual, weights)
    return {
        "shortlist": found,
        **answered,
        "wanted_gain": -found.target.drop,
        "kept_weights": f"{weights} {odds} {by}",
        "odds_later": not odds,
        "chances": desk.chances if odds else None,
        "deciding": desk.deciding if odds else None,
        **_sorted_out(desk, found, chosen, desk.chances if odds else None),
        "ruler": SimpleLazyObject(lambda: _by_aim(desk, found, units, by) or ruler(desk, found, units)),
        "rulers": _rulers(desk),
        "planned": any(one.later for one in found.choices),
    }


def _answered(desk: Desk, units: System) -> dict[str, Any]:
    """Return the parts that answer what asks for no height, each with what it does to the roll where that is told, and what is said of them."""
    rows = _answering_rows(desk, units)
    by_heights = needs_heights(desk.job)  # else they stand in the stage's own sentence
    return {
        "answering": rows,
        "answered": answered_said(desk.job, desk.answering) if rows and by_heights else (),
        "by_heights": by_heights,
        "apart": apart_said(desk.job),
        "rolling": any(row["roll"] for row in rows),
        "roll_aimed": any(aim.key == "roll" for aim in job_aims(desk.job)),
        "several": len({aim.key for one in desk.answering for aim in one.aims}) > 1,
        "debates": debates_of([one.kit for one in desk.answering if not one.out] or _offered(desk)),
        "outs": [one for one in desk.answering if one.out],
    }


def _answering_rows(desk: Desk, units: System) -> list[dict[str, Any]]:
    rolls = {one.kit.code: ruled_roll(one.rolled) for one in desk.answering if one.rolled}
    ends = ends_of(rolls.values(), 1.0) if rolls else None
    return [
        {
            "one": one,
            "set": setting_told(one),
            "roll": one.rolled,
            "gives_back": family_of(one.kit).gives_back,
            "ratio": ratio_svg(rolls[one.kit.code], ends, units) if ends and one.kit.code in rolls else "",
        }
        for one in desk.answering
    ]


def _offered(desk: Desk) -> list[Kit]:
    """Return the kits that are not out, the recommended one first: of these the trade's questions are asked."""
    found = desk.shortlist
    choices = [c for c in found.choices if not c.out] if found is not None else []
    best = found.recommended if found is not None else ""
    return [kit for c in sorted(choices, key=lambda c: c.key != best) for kit in c.kits][:ARGUED]


def _sorted_out(desk: Desk, found: Shortlist, chosen: str, known: Chances | None) -> dict[str, Any]:
    """Return the choices as cards, those that fit and lift nothing (but those that answer an aim, which are listed there), and those that are out; the one
    chosen is always a card."""
    cards = [c for c in found.choices if c.key == chosen or not (c.out or _still(c))]
    shown_keys = {c.key for c in cards}
    others = [c for c in found.choices if c.key not in shown_keys]
    near = _near([c.key for c in cards], (chosen, found.recommended))
    out, answering = [c for c in others if c.out], {one.kit.code for one in desk.answering}

    def rows() -> list[dict[str, Any]]:
        rows = [_row(c, chosen, found.recommended, known) | {"near": c.key in near} for c in cards]
        for row in rows:
            row["compared"] = row["near"] or row["choice"].key == "nothing"
            row["aims"] = aims_of(desk, row["choice"]) if row["compared"] else ()
        return rows

    return {
        "rows": SimpleLazyObject(rows),
        "still": [c for c in others if not c.out and c.key not in answering],
        **_out(out),
        "further": found.further[:SHOWN],
        "further_count": len(found.further),
    }


def _out(choices: list[Choice]) -> dict[str, Any]:
    """Return the choices that are out: the first of them, how many there are, and by what the rest are."""
    more = Counter(c.checks[n].words for c in choices[SHOWN:] for n in _first_failed(c)).most_common()
    return {"out_choices": choices[:SHOWN], "out_count": len(choices), "out_more": more}


ARGUED = 3
"""Kits that reach furthest, whose questions are shown."""
SHOWN = 60
"""Rows of those that are out, or not worked out, that are shown one by one."""


def _first_failed(choice: Choice) -> list[int]:
    """Return the place of the first check that a choice fails, none where it is out by something else."""
    return [n for n, check in enumerate(choice.checks) if check.status == "fail"][:1]


def closer(desk: Desk, key: str) -> dict[str, Any] | None:
    """Return what the card of one choice shows, its odds with it; None where there is no such choice."""
    found, chosen = desk.shortlist, desk.job.fitting.kit.code if desk.job.fitting else ""
    choice = desk.choice(key) if found else None
    if found is None or choice is None:
        return None
    return _row(choice, chosen, found.recommended, desk.chances)


def aims_of(desk: Desk, choice: Choice) -> list[Scored | None]:
    """Return how a choice stands on each of the job's aims that has a ruler; None where nothing is told of it."""

    def told() -> list[Scored | None]:
        model, found = desk.worked.staged, desk.shortlist
        told = {one.aim.key: one for one in scored(model, choice, found.state.key)} if model and found else {}
        return [told.get(aim.key) for aim in _rulers(desk)]

    return desk.kept(("aims", choice.key), told)


def _near(cards: list[str], asked: tuple[str, str]) -> list[str]:
    """Return the choices looked at closely: the one chosen and the one recommended, else the first."""
    return [key for key in cards if key in asked] or cards[:1]


def _still(choice: Choice) -> bool:
    """Tell whether a choice is a kit that changes no height."""
    return choice.kit is not None and not family_of(choice.kit).lifts


def _row(choice: Choice, chosen: str, recommended: str, found: Chances | None) -> dict[str, Any]:
    share = {"pass": 0, "marginal": 0, "fail": 0, "measure": 0}
    for check in choice.checks:
        share[check.status] += 1
    stiffer = None
    if choice.empty is not None:
        stiffer = float(choice.empty.ride_frequency["RL"])
    gaps = [] if choice.loaded is None else choice.loaded.gaps
    return {
        "gives_back": choice.kit is not None and family_of(choice.kit).gives_back,
        "choice": choice,
        "chosen": choice.key == chosen,
        "recommended": choice.key == recommended,
        "loaded_drop": None if choice.loaded is None else float(choice.loaded.d_r),
        "gained": None if choice.loaded is None else -float(choice.loaded.d_r),
        "empty_rise": None if choice.empty is None else -float(choice.empty.d_r),
        "frequency": stiffer,
        "gap": min(gaps) if gaps else None,
        "pressed": -min(gaps) if gaps else None,
        "counts": share,
        "scores": [(WEIGHT_WORDS[name], value) for name, value in choice.scores.items()],
        "setting": setting_words(choice.kit, choice.setting),
        **odds_of(found.by.get(choice.key) if found else None),
    }


def odds_of(chance: Chance | None) -> dict[str, Any]:
    """Return the odds of a choice as they are told, in words."""
    if chance is None:
        return {"chance": None, "odds": None, "right": None}
    return {"chance": chance, "odds": odds_in_words(chance.within), "right": odds_in_words(chance.right)}


def setting_words(kit: Kit | None, setting: Setting) -> list[tuple[str, Quantity, Quantity]]:
    """Return what a kit is set to: words, left, right."""
    fields = family_of(kit).settings if kit else ()
    told = [(f, setting[f.name]) for f in fields if f.name in setting]
    return [(f.words.capitalize(), Quantity(left, f.kind), Quantity(right, f.kind)) for f, (left, right) in told]


def not_yet(desk: Desk, kit: Kit, units: System, *, because: str = "") -> str:
    """Return why a kit cannot be taken; empty when it can. because: why a lead takes it although a check of its fit fails, none of them final."""
    if first := _before_any(desk, units):
        return f"{first} The kit was not taken."
    failed = [
        c for c in fit_checks(desk.job, kit) if c.status == "fail" and c.key != "beside" and (c.final or not because)
    ]
    choice = desk.choice(kit.code)
    outs = [c.why for c in failed] + [*(choice.out if choice is not None and not because else ())]
    if outs:
        return f"{kit.name} does not fit: {outs[0].in_units(units)} It was not taken."
    if family_of(kit).gives_back:
        return f"{kit.name} moves load: enter on Weigh, Trailer what it gives back, and every figure has it in. It is set there, not here."
    return ""


def _before_any(desk: Desk, units: System) -> str:
    """Return what comes before any kit is taken; empty where nothing does."""
    if faults := standing_faults(desk.job):
        return f"First cure or overrule: {faults[0][0].words}."
    if (stops := stops_choice(desk.job)) is not None:
        return stops.in_units(units)
    return "Read the empty vehicle first, or say why it cannot be read." if baseline_missing(desk.job) else ""


def _rulers(desk: Desk) -> tuple[Aim, ...]:
    model = desk.worked.staged
    return rulers(model) if model is not None else ()


def _by_aim(desk: Desk, found: Shortlist, units: System, by: str) -> dict[str, Any] | None:
    """Return the options on the ruler of one of the job's aims, as `ruler` does; None where it is not one of them, or has no figure to draw."""
    model, aim = desk.worked.staged, next((one for one in _rulers(desk) if one.key == by), None)
    if model is None or aim is None:
        return None
    told = ruled_by(found, model, aim.key)
    each = {key: one.ruled for key, one in told.items() if one.ruled is not None}
    if not each:
        return {"by": aim, "rows": {}}
    ends = ends_of(each.values(), each["nothing"].value if "nothing" in each else None)
    rows = {key: (ratio_svg(one, ends, units), told[key]) for key, one in each.items()}
    return {"by": aim, "rows": rows}


def ruler(desk: Desk, found: Shortlist, units: System) -> dict[str, Any] | None:
    """Return the options on one height scale: its head, and a drawing for each by key; None where there is none to draw."""
    model = desk.worked.staged
    assert model is not None
    stands = model.estimate.heights.get(Place("rear", "ground"))
    target = (stands or 0.0) - found.target.drop
    drawn = {c.key: marks(c, stands) for c in found.choices if not c.out and c.miss is not None and c.drop is not None}
    if not drawn:
        return None
    scale = scale_of(drawn.values(), target, units, signed=stands is None)
    return {
        "scale": scale,
        "target": target,
        "aim": length(target, signed=scale.signed),
        "head": head_svg(scale, target, units),
        "rows": {key: row_svg(one, scale, target, units) for key, one in drawn.items()},
    }


def marks(choice: Choice, stands: float | None) -> Marks:
    """Return an option's marks; stands: rear height in the reference (m), None: heights are told from there."""
    assert choice.drop is not None
    return Marks(loaded=_height(choice.drop, stands), unladen=_height(choice.empty_drop, stands), met=choice.meets)


def _height(drop: Figure | None, stands: float | None) -> Figure:
    return Figure(value=(stands or 0.0) - (drop.value if drop else 0.0), sigma=drop.sigma if drop else 0.0)
