"""Judgement: one module a stage, sentences with the figures they rest on; limits lead every one of them.

>>> from vantok_core.facts import Job
>>> from vantok_core.judge.verdicts import start_verdict
>>> from vantok_core.model import missing
>>> start_verdict(Job(), missing(Job())).tone
'act'
"""
