"""From visit to visit: each figure from which something is said, SI, with its kind, its source and why it is this one."""

from __future__ import annotations

from vantok_core.base.threshold import Threshold

VISIT_SIGMA = Threshold(0.003, "length", "ours", "sigma of an axle’s mean height as read at a visit, settled as usual")
LOAD_WORTH = Threshold(5.0, "mass", "ours", "axle loads nearer than this are called alike")
SETTLING = Threshold(
    0.008,
    "length",
    "ours",
    "a fall of the empty height between two visits that is more than reading and settling explain",
)
