"""Judgement: checks on readings, findings, verdicts, and the working behind each number."""
