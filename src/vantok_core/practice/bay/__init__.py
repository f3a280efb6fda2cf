"""The practice bay: cases whose vehicle answers to tape, scale, jack, soap and drive, and the marks of a run by named rules.

What is hidden of a case never leaves here but through `answers.py`, and through `debrief.py` once a run is handed in.
"""
