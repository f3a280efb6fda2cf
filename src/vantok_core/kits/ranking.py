"""How choices are scored and ranked, and which one is recommended (method section 5)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from vantok_core.base.figure import NINE_IN_TEN
from vantok_core.base.say import Say, length
from vantok_core.facts import Job, Kit
from vantok_core.kits.choice import MET, WEIGHT_WORDS, WEIGHTS, Choice, Shortlist
from vantok_core.kits.odds import may_recommend, odds_in_words
from vantok_core.kits.registry import family_of
from vantok_core.kits.target import TargetDrop
from vantok_core.model import JobModel
from vantok_core.physics.stance.budget import roll_stiffness
from vantok_core.physics.stance.report import StateReport
from vantok_core.physics.vehicle import Vehicle

EVEN = 0.5


def weights_of(job: Job) -> dict[str, float]:
    """Return what each criterion counts on a job: as set there, else as usual."""
    return WEIGHTS | {str(name): weight for name, weight in job.weights.items()}


def by_weights(found: Shortlist, weights: Mapping[str, float]) -> Shortlist:
    """Return the choices ranked anew by other weights of the criteria (any share of their sum); nothing is solved again."""
    fitted = [replace(c, weights=weights) for c in found.choices if c.kind == "kit"]
    ranked = sorted(fitted, key=lambda c: _rank(c, found.target))
    first = tuple(c for c in found.choices if c.kind != "kit")
    nothing, moved = found.choice("nothing"), found.choice("move")
    assert nothing is not None
    assert moved is not None
    sided = [c for c in ranked if c.meets and not c.out and _each_side(c, found.target)]
    recommended, reason = _recommend(list(found.over), nothing, moved, sided or ranked, found.against)
    return replace(found, choices=(*first, *ranked), recommended=recommended, reason=reason)


def _rank(choice: Choice, target: TargetDrop) -> tuple[bool, bool, bool, float]:
    """Return how choices are ranked: those that fit, of them those that reach the target (each side its own, where they are wanted apart) by their
    score, the rest by their miss."""
    reaches = choice.meets
    return (
        bool(choice.out),
        not reaches,
        not _each_side(choice, target),
        -choice.score if reaches else abs(choice.furthest if choice.furthest is not None else 1.0),
    )


def _each_side(choice: Choice, target: TargetDrop) -> bool:
    """Tell whether both sides come to their own target, and to what is wanted between them; of sides wanted alike the mean tells it."""
    if target.apart == 0.0 or choice.loaded is None:
        return True
    left, right = (
        float(choice.loaded.ground_drop[corner]) - drop for corner, drop in zip(("RL", "RR"), target.sides, strict=True)
    )
    return max(abs(left), abs(right), abs(left - right)) <= MET


def _recommend(
    over: list[Say], nothing: Choice, moved: Choice, ranked: list[Choice], against: Say | None
) -> tuple[str, Say]:
    if over:
        return "move", Say(
            "Over a limit: move or remove load first. No kit raises a rating, whatever its label claims."
        )
    able = [c for c in ranked if not c.out and c.miss is not None]
    there = _there(nothing if against is None else None, moved, able)
    if there:
        return there[0].key, _why(there[0], against, [c for c in there[1:] if c.kind == "kit"])
    if able:
        return "", against or _nearest(nothing, able[0])
    return "", Say("Nothing on the shelf fits; see why each is out, or measure what is still to measure.")


def _there(nothing: Choice | None, moved: Choice, able: Sequence[Choice]) -> list[Choice]:
    """Return what reaches the target and may be recommended by its odds: doing nothing before a move, a move before a kit."""
    asked = [c for c in (nothing, moved, *able) if c is not None and c.odds is not None]
    likely = set(may_recommend({c.key: c.odds for c in asked if c.odds is not None}))
    return [c for c in asked if c.meets and c.key in likely]


def _why(first: Choice, against: Say | None, rivals: Sequence[Choice]) -> Say:
    """Return why a choice is recommended; rivals: those that reach the target too, best first."""
    if first.key == "nothing":
        return Say("The height is already where it is wanted; a helper would only add stiffness.")
    return Say("Moving the load does it without a part.") if first.key == "move" else against or _best(first, rivals)


def _best(best: Choice, rivals: Sequence[Choice]) -> Say:
    """Return why a kit is recommended, and by what it is best."""
    text = Say("It alone of what fits reaches the target.")
    if rivals:
        ahead = {name: best.weights[name] * (best.scores[name] - rivals[0].scores[name]) for name in best.scores}
        by = WEIGHT_WORDS[max(ahead, key=lambda name: ahead[name])]
        text = Say(
            "It reaches the target and has the best sum of all criteria, ahead of {rival} most by {by}.",
            {"rival": rivals[0].name, "by": by},
        )
    if best.odds is not None and best.odds < EVEN:
        return Say(
            "{best} It is likelier to miss than to be there, as all are ({odds}).",
            {"best": text, "odds": odds_in_words(best.odds)},
        )
    return text


def _nearest(nothing: Choice, nearest: Choice) -> Say:
    """Return that nothing reaches the target, what comes nearest, and whether that is nearer than doing nothing by more than its band."""
    miss = nearest.furthest or 0.0
    worth = NINE_IN_TEN * nearest.drop.sigma if nearest.drop is not None else 0.0
    if nothing.furthest is not None and abs(miss) > abs(nothing.furthest) - worth:
        text = "Nothing on the shelf brings the rear nearer to the target than doing nothing does, by more than its band (± {band})."
        return Say(text, {"band": length(worth)})
    way = "low" if miss > 0 else "high"
    text = "Nothing on the shelf reaches the target: {nearest} comes nearest and leaves the rear {miss} {way} of it."
    if miss != nearest.miss:
        text = (
            "Set for now, nothing on the shelf is at the target still once what is planned is on: {nearest} comes nearest and leaves the rear "
            "{miss} {way} of it then. What can be set is set anew then."
        )
    return Say(text, {"nearest": nearest.name, "miss": length(abs(miss)), "way": way})


def scores(
    model: JobModel, kit: Kit, key: str, miss: float, vehicle: Vehicle, loaded: StateReport, empty: StateReport
) -> dict[str, float]:
    """Return each criterion of a kit on a vehicle from 0 (poor) to 1 (good).

    Arguments: key: of the state judged; miss: from the target, m; loaded, empty: its reports there and unladen. A vehicle that is never
    empty is raised on purpose: that counts against nothing.
    """
    job, before = model.job, model.solve(model.bare)
    assert job.empty is not None
    rise = 0.0 if job.never_empty else abs(float(empty.d_r))
    stiffer = float(empty.ride_frequency["RL"]) / max(float(before[job.empty.key].ride_frequency["RL"]), 0.1) - 1.0
    gaps = loaded.gaps
    roll, plain = (roll_stiffness(model.solved(one)[key], "rear") for one in (vehicle, model.bare))
    family = family_of(kit)
    return {
        "target": _falling(abs(miss), 0.040),
        "empty_ride": 0.5 * _falling(rise, 0.050) + 0.5 * _falling(max(stiffer, 0.0), 0.5),
        "stop_gap": family.gap_score(gaps),
        "range": family.range_served,
        "cost": _falling(kit.price + job.hour_price * kit.hours, 1500.0),
        "upkeep": _falling(kit.upkeep_per_year, 60.0),
        "roll": 1.0 - _falling(max(roll / plain - 1.0, 0.0), 0.5),
    }


def _falling(value: float, worst: float) -> float:
    return max(1.0 - value / worst, 0.0)
