"""Prediction against tape and drive: bands, verdict, causes of a miss."""
