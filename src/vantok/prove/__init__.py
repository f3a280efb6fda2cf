"""Predicted beside read."""
