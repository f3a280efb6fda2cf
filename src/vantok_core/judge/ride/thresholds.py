"""Over the road: each figure from which something is said, SI, with its kind, its source and why it is this one."""

from __future__ import annotations

from vantok_core.base.threshold import Threshold

COARSE = Threshold(
    0.004,
    "s",
    "ours",
    "step of the integration of a draw: its figures move by less than a hundredth of what the draws do",
)
FINE = Threshold(0.0001, "m", "ours", "step of the table of forces of a draw")
BUMP_SHARE = Threshold(
    0.6,
    "ratio",
    "ours",
    "bump rate of a usual damper as a share of its mean; its rebound has the rest of twice the mean",
)
ROOF_LEAST = Threshold(
    0.5, "length", "ours", "of the roof’s height, what a side wind does not press on: the ground clearance"
)
ARM_LEAST = Threshold(0.1, "length", "ours", "the shortest arm a side wind has on the body")
ALIKE = Threshold(
    0.08, "percent", "ours", "a ratio this near to one is told as no difference while its band is not worked out"
)
SURE_COUNT = Threshold(0.80, "percent", "ours", "of the draws, from which a count that differs is told without a doubt")
LAUNCH = Threshold(3.0, "acceleration", "ours", "forward acceleration of a hard start")
HIGH_SIGMA = Threshold(0.10, "percent", "ours", "what is not known of the height of the mass")
TOO_SOFT = Threshold(0.8, "ratio", "ours", "of the usual damping, under which the damping wanted is told")
DAMPER_SIGMA = Threshold(0.3, "ln", "ours", "what is not known of a damper that nobody tested")
TESTED_SIGMA = Threshold(0.12, "ln", "ours", "what is not known of a damper that was tested")
ARM_SIGMA = Threshold(0.15, "ln", "ours", "what is not known of the body’s arm over the roll axis")
INERTIA_SIGMA = Threshold(0.15, "ln", "ours", "what is not known of the inertias")
SEAT_BEHIND = Threshold(0.55, "ratio", "ours", "of the cab, how far behind the front axle the driver sits")
SEAT_SIDE = Threshold(0.4, "length", "ours", "how far to the left the driver sits")
LEAST_JOLT = Threshold(0.5, "acceleration", "ours", "a blow under which nobody speaks of one")
LEAST_ROLL = Threshold(0.005, "angle", "ours", "a lean under which nobody speaks of one")
LEAST_MOVED = Threshold(0.01, "length", "ours", "a movement of the body under which nobody speaks of one")
DAMPER_SPEED = Threshold(0.3, "damper_speed", "ours", "speed of a damper that its rate is taken at")
GUST_SPEED = Threshold(25.0, "speed", "ours", "of the vehicle in a gust")
