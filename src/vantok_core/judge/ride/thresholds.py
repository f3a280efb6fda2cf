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
