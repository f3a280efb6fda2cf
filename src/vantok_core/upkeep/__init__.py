"""What is kept after the job: settling against what was expected, heights and pressures over the visits.

>>> from vantok_core.upkeep.settling import settled
>>> settled(fitted=0.912, now=0.905, expected=0.003).word
'as expected'
"""
