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
MPA = Threshold(1000000.0, "Pa", "units", "one N/mm²")
WOUND_UP = Threshold(5.0, "degrees", "ours", "wind-up of a leaf pack from which it is worth looking")
DRY_GRIP = Threshold(0.8, "ratio", "ours", "a dry road’s grip, where nobody says")
WALL_OFF = Threshold(10.0, "distance", "ours", "how far off the wall is, where nobody says")
WANTED_RATIO = Threshold(0.3, "ratio", "ours", "damping ratio that is wanted")
USUAL_SPEED = Threshold(0.3, "damper_speed", "ours", "speed a damper’s ratio is told at")
HAND_SPEED = Threshold(0.1, "damper_speed", "ours", "speed that a hand pushes a damper at")
VALVED_SOFT = Threshold(0.2, "ratio", "ours", "damping ratio under which a damper is under-valved")
VALVED_FIRM = Threshold(0.6, "ratio", "ours", "damping ratio over which a damper is over-valved")
SWING_WATCHED = Threshold(0.1, "ratio", "ours", "damping under which a swing is watched")
SWING_STAYS = Threshold(0.0, "ratio", "method", "damping at which a swing no longer dies away")
TYRES_SOFT = Threshold(0.7, "ratio", "ours", "share of the usual that tyres which hold less are shown at")
THINGS_SPREAD = Threshold(1.5, "ratio", "ours", "share of the usual yaw inertia that things at both ends are shown at")
SLOWEST = Threshold(5.0, "speed", "ours", "slowest speed of the curve")
FASTEST = Threshold(40.0, "speed", "ours", "fastest speed of the curve")
