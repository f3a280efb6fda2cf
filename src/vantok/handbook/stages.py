"""What each stage is for, what is done first there, what is told, and what to mind: in few words."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True, kw_only=True)
class StageHelp:
    """A stage's page: what it is for, what to do first, what is told there, what to mind."""

    lead: str
    first: tuple[str, ...]
    told: str
    mind: str


STAGES: dict[str, StageHelp] = {
    "listen": StageHelp(
        lead="What it came for: the complaint as touched, and in the customer’s own words.",
        first=(
            "Touch what it does; write the words as they fall.",
            "Ask when it is felt: speed, road, load. Leave open what nobody knows.",
            "Walk round with the inspection sheet: worn parts are cured before anything is bolted on.",
        ),
        told="What the job is for: its aims. Every later stage is judged by them, and asks nothing they do not need.",
        mind="A complaint is no finding. Nothing is ruled out by not being asked.",
    ),
    "vehicle": StageHelp(
        lead="Its dimensions, springs, tyres and ratings, entered on the drawing.",
        first=(
            "Read the ratings off the plate, never off a brochure.",
            "Touch each estimate (dashed) once it is read on this vehicle.",
            "Wheelbase and springs first: without them there are no loads and no rates.",
        ),
        told="What is still unknown, and what it blocks.",
        mind="A limit that nobody read is not held by anybody: it is said to be unknown, never to be kept.",
    ),
    "weigh": StageHelp(
        lead="What stands on each axle, empty and as it is used; the tongue with it.",
        first=(
            "Scales before guesses: each axle, then the tongue.",
            "List what is carried where; drag it on the plan.",
            "Keep the ticket’s date and time: a load changed since is another load.",
        ),
        told="Every known limit with what is to spare, within the scale’s own error; the nearest first.",
        mind="No part raises a rating. What is over a limit is moved or left behind before a spring is chosen.",
    ),
    "measure": StageHelp(
        lead="Heights at four corners, empty and loaded, with the same tape, floor and fuel.",
        first=(
            "Level floor, pressures as the plate says, rolled a metre and bounced.",
            "One point at each corner, the same one every time; read twice where it matters.",
            "Empty first. After work has begun the baseline is closed.",
        ),
        told="What is odd on the sheet, at once, while the tape is still in the hand.",
        mind="Nobody under the body or between bumper and wall while it is rolled and bounced.",
    ),
    "diagnose": StageHelp(
        lead="What the figures say, worst first, each marked where it is on the drawing.",
        first=(
            "Limits first, then what stands low, then what it does to lamps, steering and travel.",
            "Make the test named beside a complaint: it tells most for its minutes.",
        ),
        told="Likely causes in tenths, with what speaks for and against each; they are estimates until a test is made.",
        mind="A difference inside its band is no finding.",
    ),
    "choose": StageHelp(
        lead="Every option on one scale, doing nothing among them, with its odds, its price and its hours.",
        first=(
            "Open a row: what it does, what it does not do, what is to look at first.",
            "Compare two side by side; plot one aim against another.",
            "Move load before parts where that is enough.",
        ),
        told="Which one is recommended, and why; what is out, each with its reason.",
        mind="A label’s claim counts for nothing here: the curve does. Data of a like kit give a wide band.",
    ),
    "fit": StageHelp(
        lead="The card: one step at a time, by side, with what is laid out before.",
        first=(
            "Check the box against its list; read the maker’s sheet where it differs.",
            "With gloves on: one step fills the screen, the space bar ticks it.",
            "When it fights: the tree of questions, and what was tried goes on the card.",
        ),
        told="Where it stands, what is by feel, what cannot be undone, how long it still takes.",
        mind="A raised vehicle stands on stands. Springs and bags are relieved before anything that holds them is undone.",
    ),
    "set": StageHelp(
        lead="The setting for the load it is used with: pressure, spacer, hole or click.",
        first=(
            "Begin at the setting the model gives; drag it to see what moves.",
            "Set it on the vehicle, and say so.",
            "Print the driver’s card: a pressure for each load.",
        ),
        told="Height, load and travel at this setting, and what happens if it fails.",
        mind="Never over the highest pressure of the bag, nor under its lowest with weight on it.",
    ),
    "prove": StageHelp(
        lead="What was predicted beside what was read; the drive before beside the drive after.",
        first=(
            "Read the same points with the same tape, empty and loaded.",
            "Drive the same course, at the same speed, with the same load.",
            "One change at a time: kept, or put back.",
        ),
        told="Whether the prediction held within its band, and what to change if it did not.",
        mind="Only with a clear view both ways; slower is always safer.",
    ),
    "report": StageHelp(
        lead="The customer’s page: what was wrong, what was done, what to look at again and when.",
        first=(
            "Say what became of each complaint.",
            "What was skipped or overruled stands in it with who and why.",
            "Hand over the pressure card and the care sheet with it.",
        ),
        told="What is still open; the lead hands over all the same only with a reason.",
        mind="Nothing is claimed beyond the readings: what nobody read is said to be unread.",
    ),
}
