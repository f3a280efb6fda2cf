"""Handing over: each figure from which something is said, SI, with its kind, its source and why it is this one."""

from __future__ import annotations

from vantok_core.base.threshold import Threshold

RECOVERED = Threshold(
    3.0, "bands", "ours", "a sag has to be so many bands for what was recovered of it to be told as a share"
)
