"""The benches: each figure from which something is said, SI, with its kind, its source and why it is this one."""

from __future__ import annotations

from vantok_core.base.threshold import Threshold

BAGS_APART = Threshold(
    30e3, "pressure", "method 11", "a difference between two bags of an axle in a bend: what a tee must not let through"
)
SWAY_TIME = Threshold(0.5, "s", "ours", "a sway takes about so long: a tee that evens out quicker holds no roll")
TYRE_TO_BAR = Threshold(0.010, "length", "ours", "what must be left between tyre and bar at lock")
ROLL_MOVED = Threshold(
    0.15, "percent", "ours", "a move of the front’s share of the roll stiffness, from which it is something to look at"
)
STROKE_LEFT = Threshold(
    0.010,
    "length",
    "ours",
    "what is to be left at either end of a damper’s stroke, a stabilizer’s too: rubber and frame flex",
)
BESIDE = Threshold(
    0.010, "length", "ours", "what a reservoir, an adjuster or a hose is to keep from anything beside it"
)
TOUCHING = Threshold(0.003, "length", "ours", "a gap smaller than this is as good as touching")
CLAMP_REACH = Threshold(0.08, "length", "ours", "how far a clamp can be moved along its link")
BUMP_STEERS = Threshold(0.3, "degrees", "ours", "steering by travel alone, from which it is something to look at")
TOO_WIDE = Threshold(0.10, "percent", "ours", "an error of the tongue that is too wide to plan by")
LOWEST_BY_INDEX = Threshold(
    0.35, "percent", "ours", "share of the index’s own pressure under which an estimate from the index says nothing"
)
BEAM_MOVED = Threshold(0.010, "length", "ours", "a move of the cut-off on the wall, from which it is something to do")
FRONT_SHARE = Threshold(0.5, "percent", "ours", "of the car’s mass on its front axle, where nobody weighed it")
LEAST_FRONT = Threshold(0.2, "percent", "ours", "a smaller share of a car on its front axle is taken for a slip")
MOST_FRONT = Threshold(0.8, "percent", "ours", "a larger share of a car on its front axle is taken for a slip")
