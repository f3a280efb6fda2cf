"""Scales and pads over a line: what they say, and putting it into a job."""
