"""Proving: each figure from which something is said, SI, with its kind, its source and why it is this one."""

from __future__ import annotations

from vantok_core.base.threshold import Threshold

MISS_WORTH = Threshold(0.0005, "length", "ours", "a miss smaller than this is none on any tape")
SAME_SPEED = Threshold(0.10, "percent", "method 16", "speeds within this share of one another are one speed")
STRENGTH_TOLD = Threshold(
    0.9, "ratio", "ours", "of what was known of a kit’s strength before: what heights leave above it tells nothing new"
)
LEAST_ROAD = Threshold(0.05, "travel", "ours", "a log shorter than this counts no jolts a kilometre")
