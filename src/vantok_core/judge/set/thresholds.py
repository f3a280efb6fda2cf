"""Setting: each figure from which something is said, SI, with its kind, its source and why it is this one."""

from __future__ import annotations

from vantok_core.base.threshold import Threshold

LEAST_FORCE = Threshold(1.0, "force", "ours", "a force under which nothing is said to be carried")
DRY = Threshold(0.8, "ratio", "ours", "grip of a dry road")
SAG_TOLD = Threshold(0.005, "length", "ours", "a sag under which no share of it is told")
LEANS = Threshold(0.005, "length", "ours", "a lean smaller than this is not told")
AIR_USUAL = Threshold(293.15, "temperature", "ours", "of the air in the bag, where nobody says")
AIR_COLD = Threshold(273.15, "temperature", "ours", "that the card tells a pressure for besides")
AIR_HOT = Threshold(313.15, "temperature", "ours", "that the card tells a pressure for besides")
PASS_HEIGHT = Threshold(2000.0, "distance", "ours", "above the sea, of the pass that the card tells a pressure for")
