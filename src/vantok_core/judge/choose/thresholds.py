"""Choosing: each figure from which something is said, SI, with its kind, its source and why it is this one."""

from __future__ import annotations

from vantok_core.base.threshold import Threshold

LEAST_MOVED = Threshold(1.0, "ratio", "ours", "a ratio whose band reaches this is not told apart from doing nothing")
SURE = Threshold(
    0.85, "percent", "ours", "from this share of the draws on, an option is as sure as odds are told: nine in ten"
)
RIVAL = Threshold(0.10, "percent", "ours", "an option that is the right one in fewer draws than this is no rival")
HEAVIEST_USE = Threshold(60e3, "mass", "ours", "a gross mass over this is told as no bound of a kit")
