"""Loads: plan, scales, trailer, limits, coach."""
