"""Loads, limits and tyres: each figure from which something is said, SI, with its kind, its source and why it is this one."""

from __future__ import annotations

from vantok_core.base.threshold import Threshold

NARROW = Threshold(0.02, "length", "ours", "a move across shorter than this is not worth a word")
PLAN_APART = Threshold(
    20.0,
    "mass",
    "ours",
    "by which the plan is off a scale or a tongue read before it is worth a word: two of a scale’s steps",
)
LEVEL_AGAIN = Threshold(0.05, "percent", "ours", "of a lean left over, which is none")
TARGET_FRONT = Threshold(0.30, "percent", "ours", "front axle’s share of a coach that is aimed for")
MOVE_WORTH = Threshold(2.0, "mass", "ours", "what a move must bring to be offered")
LIGHT_FRONT = Threshold(
    0.25, "percent", "ours", "front axle’s share of the whole below which a coach’s steering is light"
)
SIDE_WORTH = Threshold(
    0.02, "percent", "ours", "by which one side may outweigh the other before it is worth moving something"
)
TAG_MOST = Threshold(
    0.5, "percent", "ours", "of the rear on the tag axle, above which the drive tyres are robbed of grip"
)
NEAR = Threshold(0.05, "percent", "ours", "of a limit left, under which nothing is green")
SIDES_ALIKE = Threshold(
    0.02, "percent", "ours", "of an axle’s load between its sides, under which both tyres get one pressure"
)
SET_UNDER = Threshold(10e3, "pressure", "ours", "how far a tyre may stand under what its load takes before it is told")
UNEVEN = Threshold(
    0.001, "depth", "ours", "more wear in one place, from which a pattern is spoken of: a tread gauge tells half of it"
)
LEAST_TREAD = Threshold(
    0.0016, "depth", "the local rule holds", "depth at or under which many countries’ rules end a tyre"
)
BASE_STEADY = Threshold(
    0.54, "ratio", "ours", "wheelbase over the whole length from which a long vehicle runs steadily"
)
BASE_WATCH = Threshold(0.5, "ratio", "ours", "wheelbase over the whole length under which a long vehicle is restless")
PADS_SHARE = Threshold(0.03, "percent", "ours", "of an axle’s own reading, by which its two pads may miss it")
PADS_LEAST = Threshold(20.0, "mass", "ours", "by which two pads may miss their axle’s own reading, however light it is")
