"""Questions that the trade argues about, with the reason of either school in a sentence; a family says which of them it takes a side on.

Vantok shows both where an option looked at takes a side, and its own reading where the physics of the model settles the matter.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from vantok_core.facts import Kit
from vantok_core.kits.registry import family_of


@dataclass(frozen=True, slots=True, kw_only=True)
class Debate:
    """A question; what either school answers, each its words and its reason; what the model has to say to it (empty: it depends)."""

    question: str
    one: tuple[str, str]
    other: tuple[str, str]
    ours: str = ""


DEBATES: Mapping[str, Debate] = {
    "air_or_solid": Debate(
        question="Air or solid?",
        one=("Air", "one fitting serves every load, side by side, and the empty ride stays soft at low pressure"),
        other=(
            "Solid",
            "no lines, no leaks, nobody has to remember a pressure; a fitted rate cannot be set wrong on the road",
        ),
        ours="Loads that vary by more than a solid helper's range speak for air; one load, always the same, speaks for solid.",
    ),
    "air_or_hitch": Debate(
        question="Lift the tail, or give the load back?",
        one=("Lift the tail", "quick to set for each load, and no trailer is needed for it to work"),
        other=(
            "Give the load back",
            "only that puts weight on the front wheels again: lifting the tail moves a few kilograms",
        ),
        ours="Where the front has lost load to a tongue, a helper cures height and lamps, not the front's load.",
    ),
    "damped_or_loaded": Debate(
        question="Damp the coupling, or load it right?",
        one=("Damp it", "it is on in an hour, and takes the edge off gusts and of being passed"),
        other=("Load it right", "the cause goes, at no cost; pads only cover a tongue that is too light"),
        ours="First tongue and load by the scale; a damper after that, as a reserve and never as the cure.",
    ),
    "one_line_or_two": Debate(
        question="One line with a tee, or two lines?",
        one=("A tee", "one gauge, one valve, one pressure, and half the joints that can leak"),
        other=("Two lines", "a lean can be trimmed out, and the bags resist roll instead of passing their air across"),
        ours="On a tee the bags' pressure gives no roll stiffness and no side trim: the model takes both away.",
    ),
    "empty_or_minimum": Debate(
        question="Let the air out when empty, or keep the minimum?",
        one=("Let it out", "the empty vehicle rides as the factory meant it"),
        other=("Keep the minimum", "an empty bag folds, is pinched and rattles; the minimum costs millimetres"),
        ours="The maker's minimum is a limit here: a setting under it is refused.",
    ),
    "gap_or_contact": Debate(
        question="Insert with a gap, or in contact?",
        one=("A gap", "the empty ride is left alone, and the insert works only when load or road brings it in"),
        other=("Contact", "it shares the load from the first millimetre, holds height and resists roll at once"),
        ours="In contact it raises the rate of the empty vehicle too: see its ride frequency.",
    ),
    "helper_or_new": Debate(
        question="A helper, or a new spring?",
        one=("A helper", "less work and money, comes off again, and the spring that is sound stays"),
        other=(
            "A new spring",
            "a pack that has taken a set goes on settling whatever stands beside it; rate and arch are then made to measure",
        ),
        ours="It depends on the spring: a rate well under its class, or a set that grows, speaks for a new one.",
    ),
    "block_or_camber": Debate(
        question="Height by a block or adjuster, or by camber and rate?",
        one=("A block", "quick, cheap, and the ride stays as it is"),
        other=(
            "Camber and rate",
            "a block gives height and carries nothing: the sag under load stays, and the spring's droop goes",
        ),
        ours="Under load we side with camber and rate: the budget shows which part carries.",
    ),
    "bar_stiff_or_soft": Debate(
        question="A stiffer bar, or a softer one?",
        one=("Stiffer", "less lean, and a tall body needs it"),
        other=("Softer", "what lifts one wheel is passed to the other: a stiff bar throws heads on uneven ground"),
        ours="A stiffer bar at the rear turns in sharper, towards oversteer; a soft one is wrong under a tall permanent body.",
    ),
    "stabilizer_first_or_last": Debate(
        question="A steering stabilizer: comfort, or last resort?",
        one=("Comfort", "it takes ruts, kick and bump steer off the driver's hands, and tires nobody on a long day"),
        other=("Last resort", "it must never hide loose joints, imbalance, geometry or toe: those come first"),
        ours="Faults come first here: a fault in the steering stands before any kit.",
    ),
    "stabilizer_by_road": Debate(
        question="A stabilizer with clicks: hard on the motorway, or soft there?",
        one=("Hard on the motorway", "ruts and gusts are held at speed, where a correction is small and late"),
        other=("Soft on the motorway", "the wheel should speak at speed; hard is for tracks, where it would kick"),
    ),
    "centring_or_neutral": Debate(
        question="A stabilizer that centres, or a neutral one?",
        one=("Centring", "it brings the wheel back on a long straight, and eases a crosswind"),
        other=("Neutral", "it pulls to no side by itself, and hides neither a pull nor missing caster"),
        ours="Where the steering does not come back, caster and tight joints come first: a centring one would hide them.",
    ),
    "bar_front_or_rear": Debate(
        question="More bar at the front, or at the rear?",
        one=("Front", "the rear keeps its grip in a bend, and the vehicle runs wide before it turns round"),
        other=("Rear", "that is where the load is high, and where the lean is felt"),
        ours="The ratio beside each bar says which end then loses grip first.",
    ),
    "dampers_or_springs": Debate(
        question="Dampers first, or springs first?",
        one=("Dampers first", "worn ones swim whatever the spring, and are cheaper than a guess"),
        other=("Springs first", "a stiffer spring asks for other dampers: bought first, they are bought twice"),
        ours="What remains of the damping ratio stands at each choice.",
    ),
    "all_back_or_part": Debate(
        question="Bring the rear all the way back, or part of it?",
        one=("All of it", "lamps, brakes and steering stand as the maker set them"),
        other=("Part of it", "less spring is kinder empty, and two thirds of the sag are most of what is felt"),
    ),
    "coil_out_or_through": Debate(
        question="A bag in a coil: the coil out, or through the winding?",
        one=("Coil out", "the seat is seen, the bag sits straight, nothing is scraped on the way in"),
        other=("Through the winding", "no spring is compressed and no link undone, where the gap lets it through"),
    ),
    "over_a_standing_stop": Debate(
        question="An insert over a stop that touches already?",
        one=("Yes", "a firmer, longer stop is just what it needs there"),
        other=("No", "raised by another part first, it works from a gap and not from the start"),
        ours="The gap told is that of the state and with the parts that are on by then.",
    ),
    "one_setting_or_many": Debate(
        question="One damper setting, or many?",
        one=("One", "found once on a drive, left alone, and both sides stay alike"),
        other=("Many", "loaded and empty want different damping, and a click changes it in a minute"),
    ),
}


def debates_of(kits: Sequence[Kit]) -> tuple[Debate, ...]:
    """Return the questions that these kits take a side on, each once, in the order of the kits."""
    keys = dict.fromkeys(key for kit in kits for key in family_of(kit).debates)
    return tuple(DEBATES[key] for key in keys)
