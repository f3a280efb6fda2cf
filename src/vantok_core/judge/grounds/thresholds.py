"""What all judgement rests on: each figure from which something is said, SI, with its kind, its source and why it is this one."""

from __future__ import annotations

from math import radians

from vantok_core.base.threshold import Threshold

CONTRADICTS = Threshold(3.0, "standard deviations", "ours", "from which a reading is said to contradict the others")
GAUGE_STEP = Threshold(5e3, "pressure", "method 11", "what a shop’s gauge is read to")
KNOWN_KG = Threshold(100.0, "mass", "ours", "the known load that is put over the rear axle")
TONGUE_SIGMA = Threshold(3.0, "mass", "ours", "sigma of a tongue on its own scale")
LEAST_LIFT = Threshold(0.005, "length", "ours", "the least lift that a kit not yet chosen is taken to give")
LEVEL_WORTH = Threshold(
    radians(0.5),
    "angle",
    "ours",
    "from which pitch, surely passed, a trailer is said not to stand level: the height of a hand over its length",
)
RIDES_FLAT = Threshold(1.1, "ratio", "method 3", "rear over front ride frequency from which it rides flat")
RIDE_PITCHES = Threshold(1.0, "ratio", "method 3", "rear over front ride frequency below which it pitches")
