"""What is found: each figure from which something is said, SI, with its kind, its source and why it is this one."""

from __future__ import annotations

from vantok_core.base.threshold import Threshold

BENCH_OFF = Threshold(
    0.1,
    "degrees",
    "ours",
    "how far an alignment bench may be off, nine times in ten: a change or difference within it is none",
)
PULLS = Threshold(
    0.5, "degrees", "ours", "by which the front’s sides may differ in caster or camber before it is said to pull"
)
STRENGTH_APART = Threshold(
    1.3,
    "ratio",
    "ours",
    "so many times as strong as its data say, or as weak: something is wrong with kit, setting or load",
)
OWN_OFF = Threshold(0.05, "percent", "ours", "how far off a figure of the job’s own may be")
FRONT_LOST = Threshold(
    0.03, "percent", "ours", "of the front axle’s load lost, from which load behind the axle is evident"
)
LITTLE_TRAVEL = Threshold(
    0.40, "percent", "ours", "of the bump travel left at rest, under which a stop is likely struck on the road"
)
UNLIKE_PRESSURES = Threshold(30e3, "pressure", "ours", "pressures further apart are set unlike, or one has lost air")
GRIP_WORTH = Threshold(0.10, "percent", "ours", "of the front axle’s load lost, from which it is something to do")
PLAN_OFF = Threshold(15.0, "mass", "ours", "what scale and plan may differ by at an axle before it is told")
TIRED_SIDE = Threshold(
    0.010, "length", "ours", "between the sides of the empty vehicle, from which the lower side’s spring is suspected"
)
BOTH_LEAN = Threshold(
    0.006,
    "length",
    "ours",
    "between the sides at both axles, alike, from which the floor is asked about first: two tapes’ band",
)
EVEN_PADS = Threshold(
    0.04, "percent", "ours", "by which empty corner pads may differ while the load still counts as even"
)
CONTACT_MOST = Threshold(
    1200.0, "mass", "ours", "the most load over an axle that is tried in looking for the stop’s contact"
)
ANGLE_WORTH = Threshold(0.5, "degrees", "ours", "camber or toe worth a word")
SMALL = Threshold(0.010, "length", "ours", "a height difference that is not worth a word")
SAG_WORTH = Threshold(0.020, "length", "ours", "a sag from which something is to be done")
NEAR_STOP = Threshold(0.015, "length", "ours", "a stop gap under which it will strike")
STOP_CARRIES = Threshold(0.005, "percent", "ours", "of the axle’s load on a stop, from which its share is told")
NOSE_UP = Threshold(0.005, "length", "ours", "from which a nose is said to point up")
LEAN_WORTH = Threshold(0.012, "length", "ours", "between left and right, from which a lean is spoken of")
LAMP_WORTH = Threshold(0.05, "length", "ours", "a beam’s move on the wall, from which it is spoken of")
STEEP = Threshold(
    8.0,
    "degrees",
    "ours",
    "a kerb, a ramp or a ferry’s linkspan is up to so steep: a tail under this angle drags on it",
)
MOST_WEIGHT = Threshold(100.0, "ratio", "ours", "the most that a shop may put its own odds of a cause at")
TYRE_OFF = Threshold(0.15, "percent", "ours", "how far off a class’s tyre rate may be, nine times in ten")
UNSPRUNG_OFF = Threshold(0.2, "percent", "ours", "how far off a class’s unsprung mass may be, nine times in ten")
PLACE_OFF = Threshold(0.1, "percent", "ours", "how far off a class’s place of the springs may be, nine times in ten")
TRACK_OFF = Threshold(0.03, "percent", "ours", "how far off a class’s track may be, nine times in ten")
LOADS_OFF = Threshold(0.15, "percent", "ours", "how far off axle loads taken off the plate may be, nine times in ten")
