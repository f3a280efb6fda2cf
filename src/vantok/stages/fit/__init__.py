"""Fitting: the job card."""
