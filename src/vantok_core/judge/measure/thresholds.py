"""Readings taken: each figure from which something is said, SI, with its kind, its source and why it is this one."""

from __future__ import annotations

from vantok_core.base.threshold import Threshold

PHONE_OFF = Threshold(0.15, "degrees", "ours", "a phone’s own error once it was turned round, sigma")
STANDS_AT = Threshold(30.0, "degrees", "ours", "a steeper stand is taken for a slip")
FREQUENCY_KNOWN = Threshold(0.08, "percent", "ours", "how well the model knows a frequency, sigma")
SWAP_WORTH = Threshold(0.010, "length", "ours", "a lean from which it is worth asking whether the sides were swapped")
LEAST_RADIUS = Threshold(0.22, "length", "ours", "a smaller radius of a loaded tyre is taken for a slip")
MOST_RADIUS = Threshold(0.62, "length", "ours", "a larger radius of a loaded tyre is taken for a slip")
HEAD_STEP = Threshold(0.001, "length", "ours", "what a head rounds by")
ABOARD = Threshold(0.75, "percent", "ours", "a water tank this full or fuller is load")
NEAR_GROSS = Threshold(0.92, "percent", "ours", "of the allowed whole weight, at which no vehicle stands empty")
WIDEST_SIDE = Threshold(0.035, "length", "ours", "between left and right, above which a reading is asked for again")
ROSE = Threshold(0.003, "length", "ours", "a height over the empty one, from which a rear is said to rise")
ODD = Threshold(1.5, "bands", "ours", "from which a reading is far from what the others foretell")
CORNER_APART = Threshold(
    0.020, "length", "ours", "further than any other corner one must have moved over ground against hub, to be named"
)
HARDLY_DAMPED = Threshold(0.15, "ratio", "ours", "share of critical damping under which a body is hardly damped")
FIRMLY_DAMPED = Threshold(0.45, "ratio", "ours", "share of critical damping above which a body is firm")
PRESSURE_TOLD = Threshold(15000.0, "pressure", "ours", "a difference of a tyre’s pressure from which it is told")
HEIGHT_TOLD = Threshold(0.0015, "length", "ours", "what that is worth in height, from which it is told")
FILL_TOLD = Threshold(0.1, "percent", "ours", "a difference of a tank’s fill from which it is told")
